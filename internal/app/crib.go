package app

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"time"

	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/internal/store"
)

// ToolView is a tool as the Crib shows it.
type ToolView struct {
	Tool      tool.Tool `json:"tool"`
	Name      string    `json:"name"`
	Group     string    `json:"group"`
	Condition string    `json:"condition"` // fit, due_soon, overdue, quarantined
	DaysLeft  int       `json:"daysLeft"`
	UsableMin float64   `json:"usableMin"`
	UsableMax float64   `json:"usableMax"`
	Holder    string    `json:"holder"`           // who has it out, "" when it is in the crib
	OutAt     string    `json:"outAt"`            // where
	Wanted    string    `json:"wanted,omitempty"` // which work in hand counts on it, in words
	Linked    bool      `json:"linked,omitempty"` // sends what it measures, and did within the last minutes
	Device    bool      `json:"device,omitempty"` // has a token to send with
}

// linkedFor is how long a device counts as linked after it was last heard of; it says that it lives every ten seconds.
const linkedFor = 30 * time.Second

// CribJoint is a joint in hand whose torque stands on the crib's scale.
type CribJoint struct {
	Tag    string  `json:"tag"`
	Family string  `json:"family"`
	Bolts  int     `json:"bolts"`
	Glyph  string  `json:"glyph"`
	Nm     float64 `json:"nm"`
	With   string  `json:"with"` // the set-up of its plan, tags joined with a plus
}

// Crib is the whole place.
type Crib struct {
	Tools  []ToolView  `json:"tools"`
	Spans  []tool.Span `json:"spans"`
	Joints []CribJoint `json:"joints"` // from the lowest torque up
}

// UsedOn is a joint that a tool worked on.
type UsedOn struct {
	Tag      string    `json:"tag"`
	Name     string    `json:"name"`
	LastUsed time.Time `json:"lastUsed"`
}

// Serve says whether a joint in hand can be done with a tool.
type Serve struct {
	Tag    string  `json:"tag"`
	Nm     float64 `json:"nm"`
	Usable bool    `json:"usable"`
	How    string  `json:"how"` // through what, set at what; or why not
}

// ToolFile is a photo or certificate kept with a tool.
type ToolFile struct {
	ID        string    `json:"id"`
	Kind      string    `json:"kind"` // photo, certificate
	Name      string    `json:"name"`
	MediaType string    `json:"mediaType"`
	AddedBy   string    `json:"addedBy"`
	At        time.Time `json:"at"`
}

// ToolDetail is a tool with the joints it was used on since its last good evidence (calibration or a passed check), its
// checks, the joints in doubt for it, who had it, and what it can serve now.
type ToolDetail struct {
	Tool   ToolView    `json:"tool"`
	Since  string      `json:"since"`
	Used   []UsedOn    `json:"used"`
	Serves []Serve     `json:"serves"`
	Checks []ToolCheck `json:"checks"` // newest first
	Doubts []Doubt     `json:"doubts"` // open ones first
	Loans  []Loan      `json:"loans"`  // newest first
	Files  []ToolFile  `json:"files"`  // newest first

	Versions []ToolVersion `json:"versions"` // newest first
}

// ToolVersion is a tool as it stood from a time on.
type ToolVersion struct {
	Version int       `json:"version"`
	By      string    `json:"by"`
	At      time.Time `json:"at"`
	Reason  string    `json:"reason"`
	Tool    tool.Tool `json:"tool"`
}

// toolVersions gives every version of a tool, the newest first.
func (a *App) toolVersions(ctx context.Context, tag string) ([]ToolVersion, error) {
	rows, err := a.q.ToolVersions(ctx, tag)
	if err != nil {
		return nil, err
	}
	out := []ToolVersion{}
	for _, r := range rows {
		t, err := decode[tool.Tool](r.Data)
		if err != nil {
			return nil, err
		}
		out = append(out, ToolVersion{int(r.Version), r.MadeBy, r.MadeAt, r.Reason, t})
	}
	return out, nil
}

// Crib gives every tool, what the set-ups they make span, and where the joints in hand stand on that scale.
func (a *App) Crib(ctx context.Context) (Crib, error) {
	out := Crib{Tools: []ToolView{}, Joints: []CribJoint{}}
	tools, err := a.tools(ctx)
	if err != nil {
		return out, err
	}
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return out, err
	}
	out.Tools = tools
	list := make([]tool.Tool, len(tools))
	for i, v := range tools {
		list[i] = v.Tool
	}
	out.Spans = tool.Spans(list, rules.MinFrac, rules.DueSoonDays, a.now())
	err = a.eachInHand(ctx, func(r store.OpenRunsRow, p *plan.Plan) {
		if p.First().FinalNm > 0 {
			out.Joints = append(
				out.Joints,
				CribJoint{r.Tag, r.Family, int(r.Bolts), r.Glyph, float64(p.First().FinalNm),
					p.ChoicesOf(p.First()).Wrench},
			)
		}
	})
	slices.SortStableFunc(out.Joints, func(x, y CribJoint) int { return cmp.Compare(x.Nm, y.Nm) })
	return out, err
}

func (a *App) eachInHand(ctx context.Context, f func(store.OpenRunsRow, *plan.Plan)) error {
	rows, err := a.q.OpenRuns(ctx)
	if err != nil {
		return err
	}
	for _, r := range rows {
		p, err := a.plan(ctx, a.q, r.PlanID)
		if err != nil {
			return err
		}
		f(r, p)
	}
	return nil
}

func (a *App) tools(ctx context.Context) ([]ToolView, error) {
	list, err := crib(ctx, a.q)
	if err != nil {
		return nil, err
	}
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return nil, err
	}
	loans, err := a.q.OpenLoans(ctx)
	if err != nil {
		return nil, err
	}
	_, wanted, err := toolsAway(ctx, a.q, "")
	if err != nil {
		return nil, err
	}
	devices, err := a.q.ListDevices(ctx)
	if err != nil {
		return nil, err
	}
	out := []ToolView{}
	for _, t := range list {
		v := a.toolView(t, rules)
		for _, l := range loans {
			if l.Tag == t.Tag {
				v.Holder, v.OutAt = l.Person, l.Place
			}
		}
		v.Wanted = wanted[t.Tag]
		for _, d := range devices {
			if d.Tag == t.Tag {
				v.Device, v.Linked = true, d.LinkedAt != nil && a.now().Sub(*d.LinkedAt) < linkedFor
			}
		}
		out = append(out, v)
	}
	return out, nil
}

func (a *App) toolView(t tool.Tool, rules plan.HouseRules) ToolView {
	v := ToolView{Tool: t, Name: t.Name(), Group: t.Kind.Group(), Condition: t.Condition(a.now(), rules.DueSoonDays)}
	if ends, err := time.Parse(time.DateOnly, string(t.CalibrationEnds)); err == nil {
		v.DaysLeft = int(ends.Sub(a.now().Truncate(24*time.Hour)).Hours() / 24)
	}
	v.UsableMin, v.UsableMax = t.Usable(rules.MinFrac)
	return v
}

// Tool gives one tool and where it was used since its last good evidence.
func (a *App) Tool(ctx context.Context, tag string) (ToolDetail, error) {
	all, err := a.tools(ctx)
	if err != nil {
		return ToolDetail{}, err
	}
	i := slices.IndexFunc(all, func(v ToolView) bool { return v.Tool.Tag == tag })
	if i < 0 {
		return ToolDetail{}, notFound("tool", tag)
	}
	d := ToolDetail{Tool: all[i], Used: []UsedOn{}, Serves: []Serve{}, Checks: []ToolCheck{}, Doubts: []Doubt{},
		Loans: []Loan{}, Files: []ToolFile{}}
	since, err := evidence(ctx, a.q, d.Tool.Tool)
	if err != nil {
		return d, err
	}
	used, err := a.q.JointsByTool(ctx, store.JointsByToolParams{Tag: tag, Since: since})
	if err != nil {
		return d, err
	}
	if !since.IsZero() {
		d.Since = since.Format(time.DateOnly)
	}
	for _, u := range used {
		d.Used = append(d.Used, UsedOn{u.Tag, u.Name, u.LastUsed})
	}
	files, err := a.q.FilesOfTool(ctx, tag)
	if err != nil {
		return d, err
	}
	for _, f := range files {
		d.Files = append(d.Files, ToolFile{f.ID.String(), f.Kind, f.Name, f.MediaType, f.AddedBy, f.At})
	}
	if d.Versions, err = a.toolVersions(ctx, tag); err != nil {
		return d, err
	}
	err = a.eachInHand(ctx, func(r store.OpenRunsRow, p *plan.Plan) {
		if s, ok := serve(p, tag); ok {
			s.Tag, s.Nm = r.Tag, float64(p.First().FinalNm)
			d.Serves = append(d.Serves, s)
		}
	})
	if err != nil {
		return d, err
	}
	return d, a.trust(ctx, &d, tag)
}

// serve says how a tool serves the joint of a plan: by the best set-up it is part of, else by what the nearest one
// lacks.
func serve(p *plan.Plan, tag string) (Serve, bool) {
	why := ""
	for _, o := range p.First().Offers {
		if !slices.Contains(strings.Split(o.Tags, "+"), tag) {
			continue
		}
		if !o.Usable {
			if why == "" && len(o.Problems) > 0 {
				why = o.Problems[0]
			}
			continue
		}
		set := make([]string, len(o.Settings))
		for i, v := range o.Settings {
			set[i] = quantity.Text(v)
		}
		how := "as it is"
		if others := strings.ReplaceAll(o.Name, tag+" × ", ""); others != o.Name {
			how = "through " + others
		} else if o.Name != tag {
			how = "with " + strings.ReplaceAll(o.Name, " × "+tag, "")
		}
		return Serve{Usable: true, How: how + ", set at " + strings.Join(set, ", ") + " " + o.Unit.Symbol()}, true
	}
	return Serve{How: why}, why != ""
}

// FindInput asks for set-ups. Torques are written as people write them; a bare number is N·m.
type FindInput struct {
	Torque      string  `json:"torque"`
	Low         string  `json:"low,omitempty"`
	High        string  `json:"high,omitempty"`
	Thread      string  `json:"thread,omitempty"`      // gives the hexagon
	AcrossFlats float64 `json:"acrossFlats,omitempty"` // or the hexagon itself, mm
	Offset      bool    `json:"offset,omitempty"`      // no room straight above the nut
	AdapterDeg  float64 `json:"adapterDeg,omitempty"`
}

// Found are the set-ups for a need, the best first, then those that cannot with what each lacks; Never is what is
// refused always.
type Found struct {
	Nm          float64      `json:"nm"`
	AcrossFlats float64      `json:"acrossFlats"`
	Offers      []tool.Offer `json:"offers"`
	Never       []string     `json:"never"`
}

// FindSetUps finds what the crib can make for a torque.
func (a *App) FindSetUps(ctx context.Context, in FindInput) (Found, error) {
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return Found{}, err
	}
	n := tool.Need{AcrossFlats: in.AcrossFlats, Offset: in.Offset, AdapterDeg: in.AdapterDeg, MinFrac: rules.MinFrac,
		PreferredFrac: rules.PreferredFrac, On: a.now()}
	for _, f := range []struct {
		field, text string
		to          *quantity.Torque
	}{{"torque", in.Torque, &n.Nm}, {"low", in.Low, &n.LowNm}, {"high", in.High, &n.HighNm}} {
		if f.text == "" && f.field != "torque" {
			continue
		}
		r, err := quantity.Parse(quantity.KindTorque, f.text, quantity.NewtonMetre)
		if err != nil {
			if x, ok := quantity.RefusalIn(err); ok {
				x.Field = f.field
			}
			return Found{}, err
		}
		*f.to = quantity.Torque(r.Canonical)
	}
	if err := quantity.Positive("torque", n.Nm); err != nil {
		return Found{}, err
	}
	if n.HighNm > 0 && (n.LowNm > n.HighNm || n.Nm > n.HighNm) || n.LowNm > n.Nm {
		return Found{}, quantity.Refuse("high", "Enter the least and the most around the torque.",
			"the torque is not between least and most")
	}
	if in.AcrossFlats < 0 || in.AcrossFlats > 300 {
		return Found{}, quantity.Refuse("acrossFlats", "Enter the hexagon in mm.", "is %s",
			quantity.Text(in.AcrossFlats))
	}
	if in.Thread != "" {
		t, err := fastener.ParseThread(in.Thread)
		if err != nil {
			return Found{}, err
		}
		own, err := ownValues(ctx, a.q)
		if err != nil {
			return Found{}, err
		}
		n.AcrossFlats = float64(plan.Hexagon(t, own))
	}
	list, err := crib(ctx, a.q)
	if err != nil {
		return Found{}, err
	}
	if n.Busy, _, err = toolsAway(ctx, a.q, ""); err != nil {
		return Found{}, err
	}
	offers := tool.Find(n, list)
	if offers == nil {
		offers = []tool.Offer{}
	}
	return Found{float64(n.Nm), n.AcrossFlats, offers, tool.Never()}, nil
}
