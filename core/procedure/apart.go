package procedure

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// Apart is how a joint of a family is taken apart, along the same five stops as it is put together: made safe before
// the first fastener is let go, eased in rounds, parted, and what came out told from what stays.
type Apart struct {
	// answers by which it comes apart, whatever the joint's own are: a bush that is pushed off was fitted once
	Answers   map[string]string `json:"answers,omitempty"`
	Fasteners []Fasteners       `json:"fasteners,omitempty"` // beside those of the joint: push-off screws
	Work      []Step            `json:"work"`
	Rows      []Row             `json:"rows,omitempty"`
	Checks    []Check           `json:"checks"`
	Fates     []Fate            `json:"fates,omitempty"`
	Supplies  []Part            `json:"supplies,omitempty"`
	Tools     []string          `json:"tools,omitempty"`
	Cautions  []string          `json:"cautions,omitempty"` // beside those that the family tells when something is let go
	Minutes   float64           `json:"minutes,omitempty"`
}

// AcrossGroups takes the groups of a step one after another, each through all its stages.
const AcrossGroups = "group"

// Then is what becomes of a part that came out.
type Then string

// What becomes of parts.
const (
	ThenScrap   Then = "scrap"   // never goes in again
	ThenInspect Then = "inspect" // looked over, then kept or thrown away
	ThenMatch   Then = "match"   // kept and marked with those it belongs to
	ThenStays   Then = "stays"   // stays on the machine
)

// Thens lists them.
func Thens() []Then { return []Then{ThenScrap, ThenInspect, ThenMatch, ThenStays} }

// Fate says what becomes of a part of the list. A part without one is thrown away when it is used once, and looked over
// otherwise.
type Fate struct {
	Part string `json:"part"`
	Then Then   `json:"then"`
	Why  string `json:"why,omitempty"`
}

// Round is one time round while fasteners are eased: how far each is turned back, and about how much of its load is
// left in it then.
type Round struct {
	TurnDeg float64 `json:"turnDeg,omitempty"` // 0: until it runs by hand
	LeftPct float64 `json:"left"`              // per cent of what it held
}

// DefaultRounds ease a fastener when a procedure says no rounds: a little all round, again, then loose.
func DefaultRounds() []Round { return []Round{{90, 70}, {180, 35}, {0, 0}} }

// ApartOr is how the family comes apart: as it says, else worked out of its gates, its fasteners and its parts.
func (f Family) ApartOr() Apart {
	if f.Apart != nil {
		return *f.Apart
	}
	a := Apart{Rows: []Row{{Code: "safe", Title: "Made safe", Station: Ready},
		{Code: "sorting", Title: "What came out", Station: Prove}}}
	for i, gate := range f.LoosenGate {
		a.Checks = append(a.Checks, Check{Code: fmt.Sprintf("safe_%d", i+1), Station: Ready, Row: "safe", Kind: Confirm,
			Title: gate, Ask: gate + ": is that so?", Hold: true, TwoPerson: true,
			Why:    "What is under pressure or carries weight moves when the first fastener lets go.",
			Remedy: "Stop. Have it put right by the person in charge of it."})
	}
	a.Checks = append(a.Checks, Check{Code: "came_out", Station: Prove, Row: "sorting", Kind: Fates,
		Title: "What came out", Ask: "What becomes of each part?",
		Why:    "A part that is used once looks sound and does not hold a second time.",
		Remedy: "Take it away from the kept ones, and mark what is kept."})
	for _, g := range slices.Backward(f.Fasteners) {
		s := Step{Code: "ease_" + g.Code, Do: DoEase, Groups: []string{g.Code}}
		if g.Target != ByTorque && g.Target != ByTurns && g.Target != ByStretch {
			s.Rounds = []Round{{0, 0}}
		}
		if g.Target != NoTorque {
			a.Work = append(a.Work, s)
		}
	}
	return a
}

// asApart is the family turned round: its work, checks and rows are those of taking it apart.
func (f Family) asApart() Family {
	a := f.ApartOr()
	out := f
	out.Apart = nil
	out.Fasteners = slices.Concat(f.Fasteners, a.Fasteners)
	out.Work, out.Rows, out.Checks = a.Work, a.Rows, a.Checks
	out.Supplies, out.Tools, out.Minutes = a.Supplies, slices.Concat(f.Tools, a.Tools), a.Minutes
	out.Cautions = slices.Clone(a.Cautions)
	for _, text := range f.Cautions {
		says, at := Caution(text)
		if slices.Contains(at, Loosening) {
			out.Cautions = append(out.Cautions, says+boundBy+string(Tighten))
		}
	}
	return out
}

// TakenApart gives the family as it comes apart for the answers, with the answers it comes apart by. Only the fasteners
// that are let go, or that push it off, are left in it, and each part says what becomes of it.
func (f Family) TakenApart(answers map[string]string) (Family, map[string]string) {
	a := f.ApartOr()
	by := maps.Clone(answers)
	if by == nil {
		by = map[string]string{}
	}
	maps.Copy(by, a.Answers)
	out := f.asApart().For(by)
	out.Fasteners = pick(out.Fasteners, func(g Fasteners) bool {
		return slices.ContainsFunc(out.Work, func(s Step) bool { return slices.Contains(s.Groups, g.Code) })
	})
	out.Parts = slices.Clone(out.Parts)
	for i := range out.Parts {
		p := &out.Parts[i]
		p.Then = ThenInspect
		if p.Once {
			p.Then = ThenScrap
		}
		if k := slices.IndexFunc(a.Fates, func(x Fate) bool { return x.Part == p.Code }); k >= 0 {
			p.Then, p.ThenWhy = a.Fates[k].Then, a.Fates[k].Why
		}
	}
	return out, by
}

// apart holds the taking apart against the same rules as the putting together.
func (v *validator) apart() {
	if v.f.Apart == nil || len(v.faults) > 0 {
		return // what is wrong above would only be told twice
	}
	sub := &validator{f: v.f.asApart(), loosens: true}
	sub.fasteners()
	sub.work()
	sub.rows()
	sub.checks()
	if len(sub.f.Checks) == 0 {
		sub.add("checks", "Say what must be made safe before the first fastener is let go.", "is empty")
	}
	for q, answer := range v.f.Apart.Answers {
		sub.when("answers", Answers{q: {answer}})
	}
	for i, x := range v.f.Apart.Fates {
		path := fmt.Sprintf("fates[%d]", i)
		oneOf(sub, path+".then", x.Then, Thens())
		if !slices.ContainsFunc(v.f.Parts, func(p Part) bool {
			if p.Code == x.Part && p.Once && x.Then != ThenScrap {
				sub.add(path+".then", "Let it be thrown away.", "%s is used once", strings.ToLower(p.Name))
			}
			return p.Code == x.Part
		}) {
			sub.add(path+".part", "Name a part of the list.", "there is no part %q", x.Part)
		}
	}
	for _, fault := range sub.faults {
		fault.Path = "apart." + fault.Path
		v.faults = append(v.faults, fault)
	}
}

// eases refuses rounds that do not end loose, or that leave more load in a fastener than the round before.
func (v *validator) eases(path string, s Step) {
	if s.Do != DoEase {
		if len(s.Rounds) > 0 {
			v.add(path+".rounds", "Leave them out, or let the step ease.", "belong to easing only")
		}
		return
	}
	if !v.loosens {
		v.add(path+".do", "Put it under apart.", "fasteners are eased when the joint is taken apart")
	}
	last := 100.0
	for i, r := range s.Rounds {
		at := fmt.Sprintf("%s.rounds[%d]", path, i)
		end := i == len(s.Rounds)-1
		switch {
		case !(r.LeftPct >= 0 && r.LeftPct < last):
			v.add(at+".left", "Let less be left from round to round.", "is %v, after %v", r.LeftPct, last)
		case end && r.LeftPct != 0:
			v.add(at+".left", "End with 0: loose.", "the last round leaves %v %%", r.LeftPct)
		case !end && !(r.TurnDeg > 0 && r.TurnDeg <= 720):
			v.add(at+".turnDeg", "Say how far each is turned back, to 720°.", "is %v", r.TurnDeg)
		}
		last = r.LeftPct
	}
}

// LetsGo reports whether the step lets fasteners go.
func (s Step) LetsGo() bool { return s.Do == DoUndo || s.Do == DoEase }

// Easing gives the rounds of a step that eases.
func (s Step) Easing() []Round {
	if len(s.Rounds) == 0 {
		return DefaultRounds()
	}
	return s.Rounds
}

// Name is a round in words.
func (r Round) Name() string {
	if r.LeftPct == 0 && r.TurnDeg == 0 {
		return "until loose"
	}
	return cmp.Or(map[float64]string{60: "a flat back", 90: "a quarter turn back", 180: "half a turn back",
		360: "a turn back"}[r.TurnDeg], fmt.Sprintf("%v° back", r.TurnDeg))
}
