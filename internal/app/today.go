package app

import (
	"context"
	"fmt"
	"slices"
	"sort"
	"time"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// InHand is a run somebody is at.
type InHand struct {
	RunID     string             `json:"runId"`
	Tag       string             `json:"tag"`
	Name      string             `json:"name"`
	Area      string             `json:"area"`
	Family    string             `json:"family"`
	Bolts     int                `json:"bolts"`
	Glyph     string             `json:"glyph"`
	StartedBy string             `json:"startedBy"`
	Headline  string             `json:"headline"` // what to do now
	Text      string             `json:"text"`     // the same with its place in the work
	State     *run.State         `json:"state"`
	Group     plan.FastenerGroup `json:"group"` // the one in hand
	Chalk     []int              `json:"chalk"`
}

// TodayJoint is a joint as a mark on the plant.
type TodayJoint struct {
	Tag     string `json:"tag"`
	Name    string `json:"name"`
	Family  string `json:"family"`
	Bolts   int    `json:"bolts"`
	Glyph   string `json:"glyph"`
	Summary string `json:"summary"`
	Package string `json:"package"`
}

// TodayArea is a column of the plant.
type TodayArea struct {
	Name     string       `json:"name"`
	Drawing  string       `json:"drawing"` // one of Drawings, "" for none
	Total    int          `json:"total"`
	Accepted int          `json:"accepted"`
	Joints   []TodayJoint `json:"joints"` // those that most want attention
}

// DueTool is a tool whose certificate ends soon or has ended.
type DueTool struct {
	Tag       string `json:"tag"`
	On        string `json:"on"`
	DaysLeft  int    `json:"daysLeft"`
	Condition string `json:"condition"`
}

// StoppedJoint says why a joint does not go on and who can clear it.
type StoppedJoint struct {
	Tag    string    `json:"tag"`
	Name   string    `json:"name"`
	Family string    `json:"family"`
	Bolts  int       `json:"bolts"`
	Glyph  string    `json:"glyph"`
	Why    string    `json:"why"`
	Who    string    `json:"who"`
	Since  time.Time `json:"since"`
}

// Today is what waits on whom.
type Today struct {
	Now     time.Time      `json:"now"`
	Site    string         `json:"site"`
	InHand  []InHand       `json:"inHand"` // the one to carry on with, none when there is no work in hand
	Next    []JointRow     `json:"next"`   // what comes then: other work in hand first
	Line    string         `json:"line"`   // how the plant line reads
	Areas   []TodayArea    `json:"areas"`  // in the site's own order
	Sealed  int            `json:"sealed"` // records there are, up to a thousand
	Stopped []StoppedJoint `json:"stopped"`
	Due     []DueTool      `json:"due"`
	Asks    []AskForMe     `json:"asks"`
	// what comes next for this person by the plans in force, five parts of the work at most
	Shift []ShiftActivity `json:"shift"`
	Hands []HandList      `json:"hands"` // what waits because of what this person answers for
	Again []StoppedJoint  `json:"again"` // finished joints that are to be looked at again, the longest due first
}

const (
	todayPerArea = 10
	todayList    = 6
	todayAreas   = 100 // those with most left to do
	todayJoints  = 300 // in all areas together, about; never fewer than one an area
)

// Today gathers the work of the day for a person: what they have in hand first.
func (a *App) Today(ctx context.Context, who Actor) (Today, error) {
	t := Today{Now: a.now(), InHand: []InHand{}, Next: []JointRow{}, Areas: []TodayArea{}, Stopped: []StoppedJoint{},
		Due: []DueTool{}, Again: []StoppedJoint{}, Asks: []AskForMe{}, Shift: []ShiftActivity{},
		Hands: []HandList{}}
	var err error
	if t.Site, err = a.Setting(ctx, SettingSite, "Site not named"); err != nil {
		return t, err
	}
	if err := a.todayRuns(ctx, who, &t); err != nil {
		return t, err
	}
	for _, glyph := range []string{"turned_down", "to_prove", "ready"} {
		rows, err := a.q.JointsByGlyph(ctx, store.JointsByGlyphParams{Glyph: glyph, N: todayList})
		if err != nil {
			return t, err
		}
		for _, r := range rows {
			t.Next = append(t.Next, JointRow{Tag: r.Tag, Name: r.Name, Area: r.Area, Family: r.Family,
				Bolts: int(r.Bolts), Glyph: r.Glyph, Station: r.Station, Summary: r.Summary, UpdatedAt: r.UpdatedAt})
		}
	}
	for glyph, who := range map[string]string{"stopped": "you, or an engineer", "waiting": "planner"} {
		rows, err := a.q.JointsByGlyph(ctx, store.JointsByGlyphParams{Glyph: glyph, N: todayList})
		if err != nil {
			return t, err
		}
		for _, r := range rows {
			t.Stopped = append(t.Stopped, StoppedJoint{r.Tag, r.Name, r.Family, int(r.Bolts), r.Glyph, r.Summary, who,
				r.UpdatedAt})
		}
	}
	sort.SliceStable(t.Stopped,
		func(i, j int) bool { return t.Stopped[i].Glyph == "stopped" && t.Stopped[j].Glyph != "stopped" })
	if err := a.todayAreas(ctx, &t); err != nil {
		return t, err
	}
	tools, err := a.tools(ctx)
	if err != nil {
		return t, err
	}
	for _, v := range tools {
		if v.Condition != "fit" {
			t.Due = append(t.Due, DueTool{v.Tool.Tag, string(v.Tool.CalibrationEnds), v.DaysLeft, v.Condition})
		}
	}
	sort.Slice(t.Due, func(i, j int) bool { return t.Due[i].DaysLeft < t.Due[j].DaysLeft })
	if err := a.todayAsks(ctx, who, &t); err != nil {
		return t, err
	}
	if err := a.todayShift(ctx, who, &t); err != nil {
		return t, err
	}
	if err := a.todayHands(ctx, who, &t); err != nil {
		return t, err
	}
	return t, a.todayAgain(ctx, &t)
}

func (a *App) todayRuns(ctx context.Context, who Actor, t *Today) error {
	runs, err := a.q.OpenRuns(ctx)
	if err != nil {
		return err
	}
	list := []InHand{}
	begun := map[string]string{} // by run: who began it
	mine := func(h InHand) bool {
		if h.State == nil {
			return false
		}
		return slices.ContainsFunc(h.State.Workers, func(p run.Person) bool { return p.ID == who.ID }) ||
			begun[h.RunID] == who.ID
	}
	for _, r := range runs {
		p, err := a.plan(ctx, a.q, r.PlanID)
		if err != nil {
			return err
		}
		known, err := a.chain(ctx, a.q, r.ID, int(r.LastSeq), r.LastHash)
		if err != nil {
			return err
		}
		s := known.state(p, a.now())
		if len(known.entries) > 0 {
			begun[r.ID.String()] = known.entries[0].Event.Person.ID
		}
		headline, text := doNow(s)
		list = append(list, InHand{r.ID.String(), r.Tag, r.Name, r.Area, r.Family, int(r.Bolts), r.Glyph, r.StartedBy,
			headline, text, s, *groupInHand(p, s), p.Chalk})
	}
	rank := func(h InHand) int {
		n := 0
		if !mine(h) {
			n += 4
		}
		if h.Glyph == string(run.GlyphStopped) {
			n += 2
		}
		if h.State.Pass == 0 || string(h.State.Station) != "tighten" {
			n++
		}
		return n
	}
	slices.SortStableFunc(list, func(a, b InHand) int { return rank(a) - rank(b) })
	for i, h := range list[:min(len(list), 1+todayList)] {
		if i == 0 {
			t.InHand = append(t.InHand, h)
			continue
		}
		t.Next = append(t.Next, JointRow{Tag: h.Tag, Name: h.Name, Area: h.Area, Family: h.Family, Bolts: h.Bolts,
			Glyph: h.Glyph, Station: string(h.State.Station), Summary: h.Text, UpdatedAt: t.Now})
	}
	return nil
}

// doNow says what to do with work in hand: as a headline, and in a line with why or where.
func doNow(s *run.State) (headline, text string) {
	if len(s.Blocked) > 0 {
		return "Clear what stopped it", s.Blocked[0]
	}
	again := s.Verdict.Code == run.GoRoundAgain
	switch {
	case s.Station == procedure.Tighten && s.Next != nil:
		headline = fmt.Sprintf("Carry on at bolt %d", s.Next.Number)
		text = fmt.Sprintf("%s, pass %d of %d", headline, s.Pass, len(s.Passes))
		if again {
			headline = fmt.Sprintf("Go round again at bolt %d", s.Next.Number)
		}
	case s.Station == procedure.Read, s.Station == procedure.Ready:
		headline, text = "Make it ready", "Checks to clear"
		open := func(r run.RowState) bool { return r.Station == procedure.Ready && r.Status != run.CheckCleared }
		if i := slices.IndexFunc(s.Rows, open); i >= 0 {
			text = s.Rows[i].Text
		}
	case s.Station == procedure.Prove:
		headline, text = "Prove it", "To prove"
	default:
		headline, text = "Hand it over", "To hand over"
	}
	if again {
		text = "Go round again: nuts turned in the check round"
	}
	return headline, text
}

// groupInHand is the group of the next fastener, or of the last pass when all are done.
func groupInHand(p *plan.Plan, s *run.State) *plan.FastenerGroup {
	if s.Next != nil {
		return p.GroupAt(s.Next.Fastener)
	}
	if n := len(s.Passes); n > 0 {
		if s.Pass > 0 {
			n = s.Pass
		}
		return p.GroupOf(s.Passes[n-1].Group)
	}
	return p.First()
}

func (a *App) todayAreas(ctx context.Context, t *Today) error {
	rows, err := a.q.AreaJoints(ctx, store.AreaJointsParams{PerArea: todayPerArea, Areas: todayAreas,
		Joints: todayJoints})
	if err != nil {
		return err
	}
	site, err := a.Site(ctx)
	if err != nil {
		return err
	}
	t.Line, t.Sealed = site.Line, site.Records
	place, drawing := map[string]int{}, map[string]string{}
	for i, r := range site.Areas {
		place[r.Name], drawing[r.Name] = i, r.Drawing
	}
	defer func() {
		sort.SliceStable(t.Areas, func(i, j int) bool { return place[t.Areas[i].Name] < place[t.Areas[j].Name] })
	}()
	for _, r := range rows {
		if n := len(t.Areas); n == 0 || t.Areas[n-1].Name != r.Area {
			t.Areas = append(
				t.Areas,
				TodayArea{Name: r.Area, Drawing: drawing[r.Area], Total: int(r.Total), Accepted: int(r.Accepted),
					Joints: []TodayJoint{}},
			)
		}
		area := &t.Areas[len(t.Areas)-1]
		area.Joints = append(area.Joints, TodayJoint{r.Tag, r.Name, r.Family, int(r.Bolts), r.Glyph, r.Summary,
			r.Package})
	}
	return nil
}
