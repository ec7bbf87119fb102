package run

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// A joint that is taken apart is led like one that is put together: what is made sure of before, fastener by fastener
// in rounds, what came out. Only what it ends at is another.

// Force is what a fastener that will not move is got off with. Each takes leave.
type Force string

// The ways.
const (
	ForceOil  Force = "oil"  // soaked, waited, tried again
	ForceHeat Force = "heat" // the nut warmed
	ForceCut  Force = "cut"  // split or cut off: it is thrown away
)

// Forces lists them.
func Forces() []Force { return []Force{ForceOil, ForceHeat, ForceCut} }

var forceWords = map[Force]string{ForceOil: "penetrating oil and another try", ForceHeat: "heat on the nut",
	ForceCut: "cutting the nut off"}

// easeRules judge a fastener that is let go in rounds.
var easeRules = []Rule{
	{Code: Stuck, On: Pulled, Severity: working.Stop, Closing: ByLeave, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			if a.e.Outcome != StuckFast {
				return nil
			}
			return broken("force", forceWords[Force(a.e.Method)])
		}},
	{Code: OutFirst, On: Pulled, Severity: working.Stop, Closing: ByLeave, Mark: MarkDone, Last: true,
		applies: func(a *act) []working.Facts {
			whole := a.e.Pass > a.i+1 || a.e.Outcome == Over
			return when(whole && a.pass().Percent > 0)
		}},
	{Code: TooLittle, Case: "eased", On: Pulled, Severity: working.Caution, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			return when(a.e.Outcome == Short || a.e.Outcome == ClickedStill)
		}},
	{Code: NotForLoosening, Case: "eased", On: Pulled, Severity: working.Stop, Closing: ByNote,
		applies: func(a *act) []working.Facts { return a.notForLoosening() }},
	{Code: Forced, On: Pulled, Severity: working.Stop, Closing: ByLeave, applies: func(a *act) []working.Facts {
		word := forceWords[Force(a.e.Method)]
		if word == "" || a.leftTo(a.e.Fastener) {
			return nil
		}
		return broken("force", word)
	}},
	{Code: NoBreakOut, On: Pulled, Severity: working.Caution, Closing: ByNote, applies: func(a *act) []working.Facts {
		l := a.p.GroupAt(a.e.Fastener).Loosening
		return when(a.e.Reading == nil && a.firstRound() && l != nil && a.e.Method == string(tool.HydraulicWrench))
	}},
	{Code: BreakOutHigh, On: Pulled, Severity: working.Caution, Closing: ByNote, Suspect: true,
		applies: func(a *act) []working.Facts {
			return a.breakOut(func(got, _, most float64) bool { return !quantity.AtMost(got, most) })
		}},
	{Code: LooseBefore, On: Pulled, Severity: working.Caution, Closing: ByNote, applies: func(a *act) []working.Facts {
		return a.breakOut(func(got, held, _ float64) bool { return got < held*a.looseShare() })
	}},
}

// judgeEased asks the rules of a fastener that is let go and gives the mark it leaves.
func (a *act) judgeEased() Mark {
	if r := a.ask(easeRules); r != nil {
		return r.Mark
	}
	pos := a.e.Fastener - 1
	if a.e.Method == string(ForceCut) {
		a.cut[pos] = a.i + 1
	}
	if a.e.Reading != nil && a.firstRound() {
		a.letGoAt[pos] = a.e.Reading.Words()
	}
	return MarkDone
}

// firstRound reports whether it is the round in which fasteners break loose.
func (a *act) firstRound() bool { return a.p.Passes[a.planned[a.i]].Stage == 0 }

// looseShare is the share of what it went on at below which a fastener was loose already.
func (a *act) looseShare() float64 {
	if v := a.p.HouseRules.LooseShare; v > 0 {
		return v
	}
	return plan.LooseShare
}

// breakOut gives the facts of what it took to let a fastener go, held against what it went on at and what was to be
// reckoned with, all on the scale of the reading. Later rounds tell nothing.
func (a *act) breakOut(out func(got, held, most float64) bool) []working.Facts {
	l := a.p.GroupAt(a.e.Fastener).Loosening
	if l == nil || a.e.Reading == nil || !a.firstRound() {
		return nil
	}
	unit, held, most := quantity.NewtonMetre, float64(a.p.GroupAt(a.e.Fastener).FinalNm), float64(l.TorqueNm)
	if a.e.Reading.Unit.Kind() == quantity.KindPressure {
		unit, held, most = l.Unit, l.WentOn, l.Pressure
		if l.Unit == "" || l.WentOnUnit != l.Unit {
			return nil // no chart to hold it against
		}
	}
	got := a.e.Reading.In(unit)
	if held <= 0 || !out(got, held, most) {
		return nil
	}
	return broken("read", a.e.Reading.Words(), "held", sig(held), "most", sig(most), "unit", unit.Symbol())
}

// notForLoosening gives the facts of a torque wrench whose entry in the register does not let it loosen.
func (a *act) notForLoosening() []working.Facts {
	for _, r := range a.p.GroupAt(a.e.Fastener).RunDown {
		if string(r.Kind) == a.e.Method && r.Kind.Sets() == tool.ByTorque && a.e.Tool != "" &&
			!slices.Contains(r.Tags, a.e.Tool) {
			return broken("tool", a.e.Tool)
		}
	}
	return nil
}

// leftTo reports whether somebody with authority has given leave to force a fastener that was stuck.
func (f *folder) leftTo(position int) bool {
	return slices.ContainsFunc(f.s.Deviations, func(d Deviation) bool {
		return d.Code == Stuck && d.Fastener == position && d.Status == DeviationAccepted
	})
}

// eased is how a fastener stands while the joint is taken apart: about which part of its load is left, and whether it
// has been let go in the present round. ok is false for one that is not eased.
func (f *folder) eased(pos, cur int) (left float64, standing Standing, ok bool) {
	left, standing = 1, StandingTight
	for i := range f.s.Passes {
		if f.s.Passes[i].Kind != plan.EasePass || !f.has(i, pos+1) || f.s.Passes[i].Void != "" {
			continue
		}
		ok = true
		m := f.marks[i][pos]
		if m.closed() {
			left = min(left, f.s.Passes[i].Percent/100)
		}
		switch {
		case i > cur:
		case m.closed():
			standing = StandingLetGo
		case m == MarkShort, m == MarkSkipped:
			standing = Standing(m)
		default:
			standing = StandingTight
		}
	}
	return left, standing, ok
}

// fates takes it what became of each part: what is used once must be thrown away, what belongs together is kept and
// marked.
func (f *folder) fates(i int, c procedure.Check, e Event) {
	found := map[string]PartFound{}
	for _, p := range e.Parts {
		found[p.Code] = p
	}
	var bad []string
	count := map[string]int{}
	for _, p := range f.p.Parts {
		x := found[p.Code]
		count[x.State]++
		if why := fateWrong(p, x); why != "" {
			bad = append(bad, p.Name+" "+why)
		}
	}
	f.s.CameOut = slices.Clone(e.Parts)
	if len(bad) > 0 {
		f.raiseCheck(&checkList, c, e, "list", strings.Join(bad, "; "))
		f.attempt(i, e, strings.Join(bad, "; "), false)
		return
	}
	var said []string
	for _, s := range []struct{ state, word string }{{FateKept, "kept"}, {FateRepair, "to be repaired"},
		{FateScrapped, "thrown away"}, {FateStays, "left on the machine"}} {
		if n := count[s.state]; n > 0 {
			said = append(said, fmt.Sprintf("%d %s", n, s.word))
		}
	}
	f.attempt(i, e, strings.Join(said, ", "), true)
}

// What became of a part.
const (
	FateKept     = "kept"
	FateScrapped = "scrapped"
	FateRepair   = "repair"
	FateStays    = "stays"
)

// fateWrong says what is wrong with the answer for a part, "" for nothing.
func fateWrong(p procedure.Part, x PartFound) string {
	switch {
	case !slices.Contains([]string{FateKept, FateScrapped, FateRepair, FateStays}, x.State):
		return "not answered"
	case p.Then == procedure.ThenScrap && x.State != FateScrapped:
		return "never goes in again: throw it away"
	case p.Then == procedure.ThenMatch && x.State == FateKept && strings.TrimSpace(x.Mark) == "":
		return "belongs to others: write down how it is marked"
	}
	return ""
}

// Replacement is what must be there anew before the joint is fitted again.
type Replacement struct {
	What     string `json:"what"`
	Why      string `json:"why"`
	Fastener int    `json:"fastener,omitempty"` // position; 0: not one of the fasteners
}

// replacements list what must be there anew: parts thrown away, and fasteners that were cut or came hard.
func (f *folder) replacements() {
	if !f.p.Apart() {
		return
	}
	for _, p := range f.p.Parts {
		i := slices.IndexFunc(f.s.CameOut, func(x PartFound) bool { return x.Code == p.Code })
		if i < 0 {
			continue
		}
		switch why := p.ThenWhy; f.s.CameOut[i].State {
		case FateScrapped:
			if why == "" {
				why = map[bool]string{true: "used once", false: "thrown away"}[p.Once]
			}
			f.s.Replace = append(f.s.Replace, Replacement{What: p.Name, Why: why})
		case FateRepair:
			f.s.Replace = append(f.s.Replace, Replacement{What: p.Name, Why: "to be repaired"})
		}
	}
	for i := range f.marks {
		for pos, m := range f.marks[i] {
			if m.closed() && f.cut[pos] == i+1 {
				f.s.Replace = append(f.s.Replace, Replacement{What: f.Name(pos + 1), Why: "cut off", Fastener: pos + 1})
			}
		}
	}
	for pos, s := range f.suspect {
		if s && f.cut[pos] == 0 {
			f.s.Replace = append(f.s.Replace, Replacement{What: f.Name(pos + 1),
				Why: "let go hard: look at thread and nut", Fastener: pos + 1})
		}
	}
}
