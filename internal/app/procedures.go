package app

import (
	"context"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/authority"
	"dynacor/core/fastener"
	"dynacor/core/layout"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/internal/exchange"
	"dynacor/internal/procedures"
	"dynacor/internal/store"
)

// FamilyRow is a joint family as it stands in a list: the version in force, and what to draw it by.
type FamilyRow struct {
	Code       string          `json:"code"`
	Name       string          `json:"name"`
	Version    int             `json:"version"`
	Looks      string          `json:"looks"`
	Words      []string        `json:"words"`
	Site       bool            `json:"site"` // a version of the site's own is in force
	Groups     int             `json:"groups"`
	Layouts    []layout.Layout `json:"layouts"`
	Silhouette string          `json:"silhouette"`
	Steps      int             `json:"steps"`
	Checks     int             `json:"checks"`
	Holds      int             `json:"holds"`
	Drafts     int             `json:"drafts"` // versions that wait for an engineer
	Variants   []string        `json:"variants"`
}

// ProcedureVersion is one version of a procedure.
type ProcedureVersion struct {
	Version    int        `json:"version"`
	Site       bool       `json:"site"`
	MadeBy     string     `json:"madeBy"`
	MadeAt     *time.Time `json:"madeAt,omitempty"`
	Reason     string     `json:"reason"`
	ApprovedBy string     `json:"approvedBy"`
	ApprovedAt *time.Time `json:"approvedAt,omitempty"`
	InForce    bool       `json:"inForce"`
}

// ProcedureDetail is one version of a procedure, whole, beside the list of all.
type ProcedureDetail struct {
	Family   procedure.Family   `json:"family"`
	YAML     string             `json:"yaml"`
	Versions []ProcedureVersion `json:"versions"` // newest first
	Changes  []procedure.Change `json:"changes"`  // against the version before it
	Joints   []JointRow         `json:"joints"`
}

// ProcedureTrial is what a procedure as typed comes to: its faults, or how a sample joint would be led by it.
type ProcedureTrial struct {
	Faults  []procedure.Fault  `json:"faults"`
	Family  *procedure.Family  `json:"family,omitempty"`
	YAML    string             `json:"yaml"` // as it would be kept; "" while there are faults
	Plan    *plan.Plan         `json:"plan,omitempty"`
	Changes []procedure.Change `json:"changes"` // against the version in force
}

// ProcedureInput is a procedure as typed.
type ProcedureInput struct {
	YAML    string            `json:"yaml"`
	Reason  string            `json:"reason"`
	Variant map[string]string `json:"variant,omitempty"` // of the sample joint
}

// family gives the procedure of a family that is in force: the site's newest approved version, else the built-in one.
func family(ctx context.Context, q *store.Queries, code string) (procedure.Family, error) {
	row, err := q.ProcedureInForce(ctx, code)
	if none(err) {
		return procedure.ByCode(code)
	}
	if err != nil {
		return procedure.Family{}, err
	}
	return readFamily(row.Data)
}

// familyFinder reads each family once: a register names the same one on every line.
func familyFinder(ctx context.Context, q *store.Queries) exchange.Families {
	type found struct {
		f   procedure.Family
		err error
	}
	known := map[string]found{}
	return func(code string) (procedure.Family, error) {
		if x, ok := known[code]; ok {
			return x.f, x.err
		}
		f, err := family(ctx, q, code)
		known[code] = found{f, err}
		return f, err
	}
}

// families lists every family with the version in force, the built-in ones first.
func (a *App) families(ctx context.Context) ([]FamilyRow, error) {
	rows, err := a.q.ListProcedures(ctx)
	if err != nil {
		return nil, err
	}
	drafts, site := map[string]int{}, map[string]bool{}
	var codes []string
	for _, f := range procedure.Builtin() {
		codes = append(codes, f.Code)
	}
	for _, r := range rows {
		if r.ApprovedAt == nil && !site[r.Code] {
			drafts[r.Code]++
		}
		if r.ApprovedAt != nil {
			site[r.Code] = true
		}
	}
	own := map[string]bool{}
	for _, r := range rows {
		if _, err := procedure.ByCode(r.Code); err != nil && site[r.Code] && !own[r.Code] {
			own[r.Code] = true
			codes = append(codes, r.Code)
		}
	}
	out := []FamilyRow{}
	for _, code := range codes {
		f, err := family(ctx, a.q, code)
		if err != nil {
			return nil, err
		}
		row := FamilyRow{Code: f.Code, Name: f.Name, Version: f.Version, Looks: f.Looks,
			Words: append([]string{}, f.Words...), Site: site[code], Groups: len(f.Fasteners),
			Layouts: []layout.Layout{}, Silhouette: f.Silhouette(),
			Steps: len(f.Work), Checks: len(f.Checks), Drafts: drafts[code], Variants: []string{}}
		for _, g := range f.Fasteners {
			row.Layouts = append(row.Layouts, g.Layout.Settle())
		}
		for _, c := range f.Checks {
			if c.Hold {
				row.Holds++
			}
		}
		for _, q := range f.Questions {
			row.Variants = append(row.Variants, q.Ask)
		}
		out = append(out, row)
	}
	return out, nil
}

// Families lists every family with the version in force.
func (a *App) Families(ctx context.Context) ([]FamilyRow, error) { return a.families(ctx) }

// Procedure gives a version of a procedure; 0: the one in force.
func (a *App) Procedure(ctx context.Context, code string, version int) (ProcedureDetail, error) {
	d := ProcedureDetail{Versions: []ProcedureVersion{}, Changes: []procedure.Change{}, Joints: []JointRow{}}
	inForce, err := family(ctx, a.q, code)
	built, builtErr := procedure.ByCode(code)
	rows, err2 := a.q.ListProcedures(ctx)
	if err2 != nil {
		return d, err2
	}
	for _, r := range rows {
		if r.Code == code {
			at := r.MadeAt
			d.Versions = append(d.Versions, ProcedureVersion{int(r.Version), true, r.MadeBy, &at, r.Reason,
				r.ApprovedBy, r.ApprovedAt, err == nil && int(r.Version) == inForce.Version})
		}
	}
	if builtErr == nil {
		d.Versions = append(d.Versions, ProcedureVersion{Version: built.Version, MadeBy: "as delivered",
			InForce: built.Version == inForce.Version})
	}
	if len(d.Versions) == 0 {
		return d, notFound("procedure", code)
	}
	if version == 0 {
		version = d.Versions[0].Version
		if err == nil {
			version = inForce.Version
		}
	}
	if d.Family, d.YAML, err = a.procedureVersion(ctx, code, version); err != nil {
		return d, err
	}
	for i, v := range d.Versions {
		if v.Version == version && i+1 < len(d.Versions) {
			before, _, err := a.procedureVersion(ctx, code, d.Versions[i+1].Version)
			if err != nil {
				return d, err
			}
			d.Changes = append(d.Changes, procedure.Diff(before, d.Family)...)
		}
	}
	joints, err := a.q.JointsOfFamily(ctx, code)
	if err != nil {
		return d, err
	}
	for _, j := range joints {
		d.Joints = append(d.Joints, JointRow{Tag: j.Tag, Name: j.Name, Glyph: j.Glyph, Bolts: int(j.Bolts),
			Family: code})
	}
	return d, nil
}

func (a *App) procedureVersion(ctx context.Context, code string, version int) (procedure.Family, string, error) {
	row, err := a.q.GetProcedure(ctx, store.GetProcedureParams{Code: code, Version: int32(version)})
	if err == nil {
		f, err := readFamily(row.Data)
		return f, row.Yaml, err
	}
	if !none(err) {
		return procedure.Family{}, "", err
	}
	f, err := procedure.ByCode(code)
	if err != nil || f.Version != version {
		return f, "", notFound("procedure", code)
	}
	text, err := procedures.Write(f)
	return f, string(text), err
}

// TryProcedure reads a procedure as typed and leads a sample joint by it, keeping nothing.
func (a *App) TryProcedure(ctx context.Context, code string, in ProcedureInput) (ProcedureTrial, error) {
	out := ProcedureTrial{Faults: []procedure.Fault{}, Changes: []procedure.Change{}}
	f, faults := procedures.Read([]byte(in.YAML))
	if len(faults) > 0 {
		out.Faults = faults
		return out, nil
	}
	out.Family = &f
	text, err := procedures.Write(f)
	if err != nil {
		return out, err
	}
	out.YAML = string(text)
	if was, err := family(ctx, a.q, code); err == nil {
		out.Changes = append(out.Changes, procedure.Diff(was, f)...)
	}
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return out, err
	}
	own, err := ownValues(ctx, a.q)
	if err != nil {
		return out, err
	}
	tools, err := crib(ctx, a.q)
	if err != nil {
		return out, err
	}
	s := plan.Sample(f, in.Variant)
	p, err := plan.Make(plan.Input{Joint: plan.Joint{Tag: "SAMPLE", Name: "A sample joint", Family: f.Code}, Family: f,
		Specification: s, HouseRules: rules, Lubricants: fastener.Lubricants(), Own: own, Tools: tools, On: a.now()})
	if err != nil {
		out.Faults = append(out.Faults,
			procedure.Fault{What: err.Error(), Remedy: "The sample joint could not be planned with it."})
		return out, nil
	}
	for _, g := range p.AllGroups() {
		g.Offers = nil // what the crib has is not what is looked at here
	}
	out.Plan = p
	return out, nil
}

// PutProcedure keeps a version of the site's own. It is a draft until an engineer approves it.
func (a *App) PutProcedure(ctx context.Context, who Actor, code string, in ProcedureInput) (ProcedureDetail, error) {
	if strings.TrimSpace(in.Reason) == "" {
		return ProcedureDetail{}, &Problem{Kind: Invalid, Title: "A new version of a procedure needs a reason.",
			Field: "reason", Remedy: "Say what changed and why; whoever approves it reads that."}
	}
	f, faults := procedures.Read([]byte(in.YAML))
	if len(faults) > 0 {
		x := faults[0]
		return ProcedureDetail{},
			&Problem{Kind: Invalid,
				Title: "The procedure cannot be used: " + strings.TrimSpace(x.Path+" "+x.What) + ".", Field: x.Path,
				Remedy: x.Remedy}
	}
	if f.Code != code {
		return ProcedureDetail{},
			&Problem{Kind: Invalid, Title: "The text is of " + f.Code + ", the version would be of " + code + ".",
				Field: "code", Remedy: "Keep the code, or begin a new family under the new one."}
	}
	by, err := uuid.Parse(who.ID)
	if err != nil {
		return ProcedureDetail{}, err
	}
	version := 0
	err = a.tx(ctx, func(q *store.Queries) error {
		last, err := q.LatestProcedure(ctx, code)
		if err != nil {
			return err
		}
		version = int(last)
		if built, err := procedure.ByCode(code); err == nil {
			version = max(version, built.Version)
			if f.From == "" {
				f.From = "built-in version " + text(float64(built.Version))
			}
		}
		version++
		f.Version = version
		data, err := encode(f)
		if err != nil {
			return err
		}
		yaml, err := procedures.Write(f)
		if err != nil {
			return err
		}
		n, err := q.InsertProcedure(ctx, store.InsertProcedureParams{Code: code, Version: int32(version), Name: f.Name,
			Yaml: string(yaml), Data: data, MadeBy: who.Name, MadeByID: &by, Reason: strings.TrimSpace(in.Reason)})
		if err == nil && n == 0 {
			return newProblem(Conflict, "Somebody has kept version %d at the same moment.",
				"Look at it, then keep yours.", version)
		}
		return err
	})
	if err != nil {
		return ProcedureDetail{}, err
	}
	return a.Procedure(ctx, code, version)
}

// ApproveProcedure puts a draft in force. Plans made by the version before are told to be stale; runs go on with what
// they began with.
func (a *App) ApproveProcedure(ctx context.Context, who Actor, code string, version int) (ProcedureDetail, error) {
	leave, leaveErr := who.leave("approve a procedure", authority.ApproveProcedure)
	if leaveErr != nil {
		return ProcedureDetail{}, leaveErr
	}
	draft, err := a.q.GetProcedure(ctx, store.GetProcedureParams{Code: code, Version: int32(version)})
	by, idErr := uuid.Parse(leave.ID)
	if idErr != nil {
		return ProcedureDetail{}, idErr
	}
	// without: written by somebody who is no longer known
	own := draft.MadeByID != nil && *draft.MadeByID == by || draft.MadeByID == nil && draft.MadeBy == leave.Name
	if err == nil && own {
		return ProcedureDetail{}, &Problem{Kind: Forbidden, Title: leave.Name + " wrote this version.",
			Remedy: "Let another engineer read and approve it."}
	}
	if err != nil && !none(err) {
		return ProcedureDetail{}, err
	}
	n, err := a.q.ApproveProcedure(ctx, store.ApproveProcedureParams{Code: code, Version: int32(version),
		ApprovedBy: leave.Name, ApprovedByID: &by})
	if err != nil {
		return ProcedureDetail{}, err
	}
	if n == 0 {
		return ProcedureDetail{}, newProblem(Conflict, "Version %d of %s is no draft.", "Look at the list of versions.",
			version, code)
	}
	return a.Procedure(ctx, code, version)
}

// readFamily reads a procedure as it is kept, one of an older text too.
func readFamily(data string) (procedure.Family, error) {
	return decode[procedure.Family](string(procedure.Upgraded([]byte(data))))
}
