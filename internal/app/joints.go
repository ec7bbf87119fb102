package app

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/plan"
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
	Station   string    `json:"station"`
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
	Retired   string                 `json:"retired"`  // why it is out of service, "" when it is in service
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
	rows, total, err := a.q.JointPage(ctx, store.JointFilter{Like: like(jq.Text), Area: jq.Area, Glyph: jq.Glyph,
		Package: jq.Package, Sort: jq.Sort, Limit: jq.Limit, Offset: jq.Offset})
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
	return JointRow{j.Tag, j.Name, j.Area, j.Equipment, j.Service, j.Family, deref(j.Package), int(j.Bolts), j.Make,
		j.Glyph, j.Station, j.Summary, j.UpdatedAt}
}

func planJoint(j store.Joint) plan.Joint {
	return plan.Joint{Tag: j.Tag, Name: j.Name, Area: j.Area, Equipment: j.Equipment, Service: j.Service,
		Family: j.Family}
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
	d := JointDetail{Joint: jointRow(j), Nameplate: j.Nameplate, Retired: j.RetiredWhy,
		Versions: []SpecificationVersion{}, Records: []RecordRow{}}
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
		d.Records = append(d.Records, rowOf(store.RecordLine(r)))
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

// JointPlace is what a joint is called and where it belongs.
type JointPlace struct {
	Name      string `json:"name"`
	Area      string `json:"area"`
	Equipment string `json:"equipment"`
	Service   string `json:"service"`
	Package   string `json:"package"`
	Nameplate string `json:"nameplate"`
}

// CreateJoint makes a single joint, with or without a work package.
func (a *App) CreateJoint(ctx context.Context, who Actor, in JointInput) (JointDetail, error) {
	if err := checkTag(in.Tag); err != nil {
		return JointDetail{}, err
	}
	if strings.TrimSpace(in.Area) == "" {
		return JointDetail{}, &Problem{Kind: Invalid, Title: "The area is empty.", Field: "area",
			Remedy: "Say where the joint is."}
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
		if j, err := q.LockJoint(ctx, in.Tag); err == nil {
			if err := inService(j); err != nil {
				return err
			}
			return &Problem{Kind: Conflict, Title: "There is a joint " + in.Tag + " already.", Field: "tag",
				Remedy: "Open it, or choose another tag."}
		} else if !none(err) {
			return err
		}
		if err := putPackage(ctx, q, in.Package, ""); err != nil {
			return err
		}
		id := uuid.Must(uuid.NewV7())
		if err := q.InsertJoint(ctx, store.InsertJointParams{ID: id, Tag: in.Tag, Name: in.Name, Area: in.Area,
			Equipment: in.Equipment, Service: in.Service, Family: in.Family, Package: orNil(in.Package),
			Nameplate: in.Nameplate}); err != nil {
			return err
		}
		return a.putSpecification(ctx, q, who, store.Joint{ID: id, Tag: in.Tag, Glyph: "waiting",
			Family: in.Family}, in.Specification, "first entry")
	})
	if err != nil {
		return JointDetail{}, err
	}
	return a.Joint(ctx, in.Tag)
}

func checkTag(tag string) error {
	if tag == "" || len(tag) > 40 || strings.ContainsAny(tag, "/?#\\ ") {
		return &Problem{Kind: Invalid, Title: fmt.Sprintf("%q cannot be a tag.", tag), Field: "tag",
			Remedy: "Use letters, digits, hyphen and point, 40 at most."}
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
func (a *App) EditJoint(ctx context.Context, tag string, in JointPlace) (JointDetail, error) {
	err := a.tx(ctx, func(q *store.Queries) error {
		j, err := lockInService(ctx, q, tag)
		if err != nil {
			return err
		}
		if strings.TrimSpace(in.Area) == "" {
			return &Problem{Kind: Invalid, Title: "The area is empty.", Field: "area",
				Remedy: "Say where the joint is."}
		}
		if err := putPackage(ctx, q, in.Package, ""); err != nil {
			return err
		}
		return q.UpdateJoint(ctx, store.UpdateJointParams{ID: j.ID, Name: in.Name, Area: in.Area,
			Equipment: in.Equipment, Service: in.Service, Package: orNil(in.Package), Nameplate: in.Nameplate})
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
		return JointDetail{}, newProblem(Invalid, "%s has no specification to copy.", "Enter one first.", from)
	}
	return a.CreateJoint(ctx, who, JointInput{Tag: to, Name: d.Joint.Name, Area: d.Joint.Area,
		Equipment: d.Joint.Equipment, Service: d.Joint.Service, Family: d.Joint.Family,
		Package: d.Joint.Package, Specification: d.Versions[0].Specification})
}
