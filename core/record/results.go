package record

import (
	"strings"
	"time"

	"dynacor/core/plan"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// Result is what was done to one fastener in one pass, as it was recorded.
type Result struct {
	Seq       int // of its entry
	Position  int
	Fastener  string // as it is called: bolt 7
	Group     string // when there are several
	Pass      int
	PassName  string
	Act       run.Kind // pulled, skipped, loosened
	Outcome   run.Outcome
	TargetNm  float64 // of the pass, or the fastener's own; 0: none
	Own       bool    // it had a target of its own
	Setting   float64 // on the tool's scale; 0: none
	Unit      string
	Reading   string  // as it was read, with its unit
	ReadingSI float64 // the same in N·m, mm or degrees; 0: none
	TurnedDeg float64
	Moved     *bool // in a check round: whether the nut turned
	Tool      string
	By        string
	At        time.Time
	Counts    bool // false: taken back
	Why       string
}

// Results are what was done to the fasteners, in the order in which it was recorded. What was taken back is there and
// does not count.
func (r Record) Results() []Result {
	back := map[string]bool{}
	for _, id := range r.State.TakenBack {
		back[id] = true
	}
	taken := takenTools{}
	var out []Result
	for _, entry := range r.Events {
		e := entry.Event
		switch e.Kind {
		case run.WrenchTaken:
			taken.take(entry.Seq, e)
		case run.Pulled, run.Skipped, run.Loosened:
			if e.Fastener < 1 || e.Fastener > r.Plan.Count() {
				continue
			}
			g := r.Plan.GroupAt(e.Fastener)
			x := Result{Seq: entry.Seq, Position: e.Fastener, Fastener: r.Plan.NameOf(e.Fastener), Pass: e.Pass,
				Act: e.Kind, Outcome: e.Outcome, Setting: e.Setting, TurnedDeg: e.TurnedDeg, Moved: e.Moved,
				By: e.Person.Name, At: e.When(), Counts: !back[e.ID], Why: e.Reason}
			if r.Plan.Several() {
				x.Group = g.GroupName
			}
			if i := e.Pass - 1; i >= 0 && i < len(r.State.Passes) {
				p := r.State.Passes[i]
				x.PassName, x.TargetNm, x.Unit = p.Name, float64(p.TorqueNm), p.Unit.Symbol()
				if o, ok := p.Own.Of(e.Fastener); ok {
					x.TargetNm, x.Own = float64(o.TorqueNm), true
				}
				if e.Kind == run.Pulled && p.Kind.Sets() {
					x.Tool = taken.of(e.Hand, g)
				}
			}
			if e.Reading != nil {
				x.Reading, x.ReadingSI = e.Reading.Words(), e.Reading.SI
			}
			out = append(out, x)
		}
	}
	return out
}

// Tags are the tools of a result, from hand or pump to the nut.
func (x Result) Tags() []string {
	if x.Tool == "" {
		return nil
	}
	return strings.Split(x.Tool, tagSign)
}

// LastPulled gives, by position, the last pull that counts with a tool in a pass that sets a torque.
func (r Record) LastPulled() map[int]Result {
	last := map[int]Result{}
	for _, x := range r.Results() {
		if x.Counts && x.Act == run.Pulled && x.TargetNm > 0 && x.Tool != "" {
			last[x.Position] = x
		}
	}
	return last
}

// takenTools are what each hand last took, for a group or for whatever is next.
type takenTools map[int]map[string]takenAt

type takenAt struct {
	seq  int
	tags string
}

func (t takenTools) take(seq int, e run.Event) {
	if e.Wrench == nil {
		return
	}
	s := e.SetUp
	if s == nil {
		alone := tool.Alone(*e.Wrench)
		s = &alone
	}
	if t[e.Hand] == nil {
		t[e.Hand] = map[string]takenAt{}
	}
	t[e.Hand][e.Group] = takenAt{seq, tagsOf(s)}
}

// of is what a hand had for a group: what it took last, for the group or with none named; else what was planned.
func (t takenTools) of(hand int, g *plan.FastenerGroup) string {
	named, open := t[hand][g.Code], t[hand][""]
	switch {
	case open.seq > named.seq:
		return open.tags
	case named.seq > 0:
		return named.tags
	}
	return tagsOf(g.InHand())
}

// tagSign stands between the tags of a set-up.
const tagSign = " + "

// tagsOf joins the tags of a set-up from hand or pump to the nut.
func tagsOf(s *tool.SetUp) string {
	if s == nil {
		return ""
	}
	tags := make([]string, len(s.String))
	for i, x := range s.String {
		tags[i] = x.Tag
	}
	return strings.Join(tags, tagSign)
}
