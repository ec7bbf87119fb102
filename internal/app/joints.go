package app

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// JointRow is a line of the register.
type JointRow struct {
	Tag       string    `json:"tag"`
	Name      string    `json:"name"`
	Area      string    `json:"area"`
	Equipment string    `json:"equipment"`
	Service   string    `json:"service"`
	Family    string    `json:"family"`
	Package   string    `json:"package"`
	Bolts     int       `json:"bolts"`
	Make      string    `json:"make"`
	Glyph     string    `json:"glyph"`
	Stop      string    `json:"stop"`
	Summary   string    `json:"summary"`
	UpdatedAt time.Time `json:"updatedAt"`
}

// JointPage is a part of the register.
type JointPage struct {
	Rows  []JointRow `json:"rows"`
	Total int        `json:"total"`
	Areas []string   `json:"areas"`
}

// JointQuery narrows the register.
type JointQuery struct {
	Text, Area, Glyph, Package, Sort string
	Limit, Offset                    int
}

// SpecificationVersion is one issue of a specification with who entered it.
type SpecificationVersion struct {
	Version       int                `json:"version"`
	MadeBy        string             `json:"madeBy"`
	MadeAt        time.Time          `json:"madeAt"`
	Reason        string             `json:"reason"`
	Specification plan.Specification `json:"specification"`
}

// SavedPlan is a plan that was decided on.
type SavedPlan struct {
	ID         string    `json:"id"`
	Version    int       `json:"version"`
	MadeBy     string    `json:"madeBy"`
	ApprovedBy string    `json:"approvedBy"`
	Reason     string    `json:"reason"`
	MadeAt     time.Time `json:"madeAt"`
	Stale      string    `json:"stale"` // why it no longer fits, "" when it does
}

// JointDetail is everything the Joint place shows before a run.
type JointDetail struct {
	Joint     JointRow               `json:"joint"`
	Nameplate string                 `json:"nameplate"`
	Versions  []SpecificationVersion `json:"versions"` // newest first
	Saved     *SavedPlan             `json:"saved,omitempty"`
	Plan      *plan.Plan             `json:"plan,omitempty"` // the saved one, else as it would be made now
	PlanError string                 `json:"planError"`
	RunID     string                 `json:"runId"`
	Records   []RecordRow            `json:"records"`
	Doubts    []Doubt                `json:"doubts"` // open: tightened with a tool that was found out later
}

// Joints gives a page of the register.
func (a *App) Joints(ctx context.Context, jq JointQuery) (JointPage, error) {
	rows, total, err := a.q.JointPage(ctx, store.JointFilter{Like: like(jq.Text), Area: jq.Area, Glyph: jq.Glyph, Package: jq.Package, Sort: jq.Sort, Limit: jq.Limit, Offset: jq.Offset})
	if err != nil {
		return JointPage{}, err
	}
	out := JointPage{Rows: []JointRow{}, Total: total}
	for _, r := range rows {
		out.Rows = append(out.Rows, jointRow(r))
	}
	if out.Areas, err = a.q.Areas(ctx); err != nil {
		return JointPage{}, err
	}
	return out, nil
}

// like makes text safe inside a LIKE pattern.
func like(text string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(strings.ToLower(strings.TrimSpace(text)))
}

func deref(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

func orNil(s string) *string {
	if s == "" {
		return nil
	}
	return &s
}

func jointRow(j store.Joint) JointRow {
	return JointRow{j.Tag, j.Name, j.Area, j.Equipment, j.Service, j.Family, deref(j.Package), int(j.Bolts), j.Make, j.Glyph, j.Stop, j.Summary, j.UpdatedAt}
}

func planJoint(j store.Joint) plan.Joint {
	return plan.Joint{Tag: j.Tag, Name: j.Name, Area: j.Area, Equipment: j.Equipment, Service: j.Service, Family: j.Family}
}

// Joint gives one joint with its specification, plan and run.
func (a *App) Joint(ctx context.Context, tag string) (JointDetail, error) {
	j, err := a.q.GetJoint(ctx, tag)
	if none(err) {
		return JointDetail{}, notFound("joint", tag)
	}
	if err != nil {
		return JointDetail{}, err
	}
	d := JointDetail{Joint: jointRow(j), Nameplate: j.Nameplate, Versions: []SpecificationVersion{}, Records: []RecordRow{}}
	if d.Doubts, err = a.jointDoubts(ctx, j.ID); err != nil {
		return d, err
	}
	if j.PresentRun != nil {
		d.RunID = j.PresentRun.String()
	}
	specs, err := a.q.ListSpecifications(ctx, j.ID)
	if err != nil {
		return d, err
	}
	for _, s := range specs {
		spec, err := decode[plan.Specification](s.Data)
		if err != nil {
			return d, err
		}
		d.Versions = append(d.Versions, SpecificationVersion{int(s.Version), s.MadeBy, s.MadeAt, s.Reason, spec})
	}
	recs, err := a.q.RecordsOfJoint(ctx, j.ID)
	if err != nil {
		return d, err
	}
	for _, r := range recs {
		d.Records = append(d.Records, RecordRow{r.Number, r.Tag, r.Name, r.Area, r.Target, r.TightenedBy, r.ProvedBy, r.SealedAt, r.Mark})
	}
	return d, a.jointPlan(ctx, j, &d)
}

// JointInput is what a person enters for a joint.
type JointInput struct {
	Tag           string             `json:"tag"`
	Name          string             `json:"name"`
	Area          string             `json:"area"`
	Equipment     string             `json:"equipment"`
	Service       string             `json:"service"`
	Family        string             `json:"family"`
	Package       string             `json:"package"`
	Nameplate     string             `json:"nameplate"`
	Specification plan.Specification `json:"specification"`
}

// CreateJoint makes a single joint, with or without a work package.
func (a *App) CreateJoint(ctx context.Context, who Actor, in JointInput) (JointDetail, error) {
	if err := checkTag(in.Tag); err != nil {
		return JointDetail{}, err
	}
	if strings.TrimSpace(in.Area) == "" {
		return JointDetail{}, &Problem{Status: http.StatusUnprocessableEntity, Title: "The area is empty.", Field: "area", Remedy: "Say where the joint is."}
	}
	if in.Name == "" {
		in.Name = in.Tag
	}
	if in.Family == "" {
		in.Family = "gasketed_flange"
	}
	if _, err := family(ctx, a.q, in.Family); err != nil {
		return JointDetail{}, err
	}
	err := a.tx(ctx, func(q *store.Queries) error {
		if _, err := q.LockJoint(ctx, in.Tag); err == nil {
			return &Problem{Status: http.StatusConflict, Title: "There is a joint " + in.Tag + " already.", Field: "tag", Remedy: "Open it, or choose another tag."}
		} else if !none(err) {
			return err
		}
		if err := putPackage(ctx, q, in.Package, ""); err != nil {
			return err
		}
		id := uuid.Must(uuid.NewV7())
		if err := q.InsertJoint(ctx, store.InsertJointParams{ID: id, Tag: in.Tag, Name: in.Name, Area: in.Area, Equipment: in.Equipment, Service: in.Service, Family: in.Family, Package: orNil(in.Package), Nameplate: in.Nameplate}); err != nil {
			return err
		}
		return a.putSpecification(ctx, q, who.Name, store.Joint{ID: id, Tag: in.Tag, Glyph: "waiting", Family: in.Family}, in.Specification, "first entry")
	})
	if err != nil {
		return JointDetail{}, err
	}
	return a.Joint(ctx, in.Tag)
}

func checkTag(tag string) error {
	if tag == "" || len(tag) > 40 || strings.ContainsAny(tag, "/?#\\ ") {
		return &Problem{Status: http.StatusUnprocessableEntity, Title: fmt.Sprintf("%q cannot be a tag.", tag), Field: "tag", Remedy: "Use letters, digits, hyphen and point, 40 at most."}
	}
	return nil
}

func putPackage(ctx context.Context, q *store.Queries, code, name string) error {
	if code == "" {
		return nil
	}
	if name == "" {
		list, err := q.ListPackages(ctx)
		if err != nil {
			return err
		}
		name = code
		for _, p := range list {
			if p.Code == code {
				name = p.Name
			}
		}
	}
	return q.PutPackage(ctx, store.PutPackageParams{Code: code, Name: name})
}

// EditJoint changes where a joint belongs; its specification has versions of its own.
func (a *App) EditJoint(ctx context.Context, tag string, in JointInput) (JointDetail, error) {
	err := a.tx(ctx, func(q *store.Queries) error {
		j, err := q.LockJoint(ctx, tag)
		if none(err) {
			return notFound("joint", tag)
		}
		if err != nil {
			return err
		}
		if strings.TrimSpace(in.Area) == "" {
			return &Problem{Status: http.StatusUnprocessableEntity, Title: "The area is empty.", Field: "area", Remedy: "Say where the joint is."}
		}
		if err := putPackage(ctx, q, in.Package, ""); err != nil {
			return err
		}
		return q.UpdateJoint(ctx, store.UpdateJointParams{ID: j.ID, Name: in.Name, Area: in.Area, Equipment: in.Equipment, Service: in.Service, Package: orNil(in.Package), Nameplate: in.Nameplate})
	})
	if err != nil {
		return JointDetail{}, err
	}
	return a.Joint(ctx, tag)
}

// CopyJoint makes a new joint from another: specification and place, no readings, serial numbers or signatures.
func (a *App) CopyJoint(ctx context.Context, who Actor, from, to string) (JointDetail, error) {
	d, err := a.Joint(ctx, from)
	if err != nil {
		return JointDetail{}, err
	}
	if len(d.Versions) == 0 {
		return JointDetail{}, refuse(http.StatusUnprocessableEntity, "%s has no specification to copy.", "Enter one first.", from)
	}
	return a.CreateJoint(ctx, who, JointInput{Tag: to, Name: d.Joint.Name, Area: d.Joint.Area, Equipment: d.Joint.Equipment, Service: d.Joint.Service, Family: d.Joint.Family,
		Package: d.Joint.Package, Specification: d.Versions[0].Specification})
}

// PutSpecification enters a new version; earlier ones stay. Allowing work without a document takes an engineer.
func (a *App) PutSpecification(ctx context.Context, who Actor, tag string, s plan.Specification, reason string) (JointDetail, error) {
	if s.NoSourceWhy != "" {
		if err := who.needs("allow a target without a document", run.Engineer); err != nil {
			return JointDetail{}, err
		}
		s.NoSourceBy = who.Name
	}
	err := a.tx(ctx, func(q *store.Queries) error {
		j, err := q.LockJoint(ctx, tag)
		if none(err) {
			return notFound("joint", tag)
		}
		if err != nil {
			return err
		}
		return a.putSpecification(ctx, q, who.Name, j, s, reason)
	})
	if err != nil {
		return JointDetail{}, err
	}
	return a.Joint(ctx, tag)
}

func (a *App) putSpecification(ctx context.Context, q *store.Queries, by string, j store.Joint, s plan.Specification, reason string) error {
	own, err := ownValues(ctx, q)
	if err != nil {
		return err
	}
	fam, err := family(ctx, q, j.Family)
	if err != nil {
		return err
	}
	if err := s.Check(fam, own); err != nil {
		return err
	}
	if j.SpecificationVersion > 0 && strings.TrimSpace(reason) == "" {
		return &Problem{Status: http.StatusUnprocessableEntity, Title: "A new version of the specification needs a reason.", Field: "reason", Remedy: "Say what changed and why."}
	}
	for i, f := range append([]plan.Fasteners{s.Fasteners}, s.Others...) {
		if f.Lubricant == "" || f.Lubricant == plan.NotNamed || hasCard(allLubricants(own), f.Lubricant) {
			continue
		}
		field := "lubricant"
		if i > 0 {
			field = f.Group + "." + field
		}
		return &Problem{Status: http.StatusUnprocessableEntity, Title: fmt.Sprintf("%q is not a lubricant card.", f.Lubricant), Field: field, Remedy: "Choose a card from the Library."}
	}
	s.Version = int(j.SpecificationVersion) + 1
	data, err := encode(s)
	if err != nil {
		return err
	}
	if err := q.InsertSpecification(ctx, store.InsertSpecificationParams{JointID: j.ID, Version: int32(s.Version), Data: data, MadeBy: by, Reason: reason}); err != nil {
		return err
	}
	rules, err := houseRules(ctx, q)
	if err != nil {
		return err
	}
	glyph, summary := specState(fam, s, rules)
	if j.PresentRun != nil {
		glyph, summary = j.Glyph, j.Summary
	}
	return q.SetJointSpecification(ctx, store.SetJointSpecificationParams{ID: j.ID, SpecificationVersion: int32(s.Version), Bolts: int32(count(fam, s)), Make: makeText(fam, s), Glyph: glyph, Summary: summary})
}

func hasCard(cards []fastener.Lubricant, code string) bool {
	for _, l := range cards {
		if l.Code == code {
			return true
		}
	}
	return false
}

// specState is the mark of a joint that nobody has begun.
func specState(fam procedure.Family, s plan.Specification, rules plan.HouseRules) (glyph, summary string) {
	if lacks := s.Lacks(answered(fam, s), rules); lacks != "" {
		return "waiting", lacks + " to be supplied"
	}
	return "ready", ""
}

// answered is a family for the answers of a specification.
func answered(fam procedure.Family, s plan.Specification) procedure.Family {
	answers, err := fam.Answer(s.Variant, s.Figures)
	if err != nil {
		return fam
	}
	return fam.For(answers)
}

// count is the number of fasteners of the largest group: what the small mark of the joint shows.
func count(fam procedure.Family, s plan.Specification) int {
	most := s.Bolts
	for i, g := range answered(fam, s).Fasteners {
		f, _ := s.Of(g.Code, i == 0)
		most = max(most, f.Bolts, g.Layout.Settle().Count)
		if i == 0 && f.Bolts > 0 {
			return f.Bolts
		}
	}
	return most
}

// makeText is how a joint is named by its make: "DN 400 PN 16 · 16 × M27 8.8".
func makeText(fam procedure.Family, s plan.Specification) string {
	var parts []string
	if s.FlangeSize != "" {
		parts = append(parts, s.FlangeSize)
	}
	for i, g := range answered(fam, s).Fasteners {
		f, given := s.Of(g.Code, i == 0)
		if !given || f.Thread == "" && f.Target.Form != plan.LookUp && len(parts) > 0 {
			continue
		}
		n := f.Bolts
		if n == 0 {
			n = g.Layout.Settle().Count
		}
		what := strings.TrimSpace(f.Thread + " " + f.Material)
		if what == "" {
			what = strings.ToLower(g.Name)
		}
		if parts = append(parts, fmt.Sprintf("%d × %s", n, what)); len(parts) > 2 {
			break
		}
	}
	if len(parts) == 0 {
		return fam.Name
	}
	return strings.Join(parts, " · ")
}

// targetText is the target as a person says it.
func targetText(t plan.Target) string {
	u := t.Unit.Symbol()
	switch t.Form {
	case plan.TorqueNominal:
		if t.MinusPct == t.PlusPct {
			return fmt.Sprintf("%s %s ±%s %%", quantity.Text(t.Nominal), u, quantity.Text(t.PlusPct))
		}
		return fmt.Sprintf("%s %s −%s +%s %%", quantity.Text(t.Nominal), u, quantity.Text(t.MinusPct), quantity.Text(t.PlusPct))
	case plan.TorqueRange:
		return fmt.Sprintf("%s to %s %s", quantity.Text(t.Min), quantity.Text(t.Max), u)
	case plan.BoltStress:
		return quantity.Text(t.Stress) + " MPa in the bolt"
	case plan.PercentYield:
		return quantity.Text(t.Percent) + " % of yield"
	case plan.LookUp:
		return "table " + t.Table + ", " + strings.Join(t.Keys, ", ")
	case plan.Turns:
		return quantity.Text(t.TurnDeg) + "° from its mark"
	case plan.Stretch:
		return quantity.Text(t.StretchMM) + " mm longer"
	case plan.Stated:
		return "as the procedure says"
	}
	return "to be supplied"
}
