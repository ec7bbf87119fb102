package shutdown

import (
	"math"

	"dynacor/core/plan"
	"dynacor/core/schedule"
)

// Method is a way of working whose time the site's own history corrects by itself.
type Method string

// The methods.
const (
	Checks Method = "checks" // what is looked at, measured and answered
	Pulls  Method = "pulls"  // of the passes
	Rounds Method = "rounds" // pulls that go round what is tight, to prove it
)

// Methods are all of them, in the order of the work.
var Methods = []Method{Checks, Pulls, Rounds}

// Word is what a method is called on a page.
func (m Method) Word() string {
	return map[Method]string{Checks: "checks", Pulls: "pulls", Rounds: "check rounds"}[m]
}

// Paces are the corrections of a site's own history, by family and method.
type Paces map[string]map[Method]schedule.Correction

// Of is what the estimated time of a method is multiplied by; 1 without a history.
func (p Paces) Of(family string, m Method) float64 {
	if c, ok := p[family][m]; ok && c.C > 0 {
		return c.C
	}
	return 1
}

// MethodOf is what a part of the work mostly is; false: its time has no history.
func MethodOf(k Kind) (m Method, ok bool) {
	m, ok = map[Kind]Method{Prepare: Checks, Lubricate: Checks, Tighten: Pulls, Prove: Rounds}[k]
	return m, ok
}

// SecondsOf is what a method is estimated at for each check or pull of a plan; 0: nothing of it is in the plan.
func SecondsOf(p *plan.Plan, m Method) float64 {
	if m != Checks {
		return p.HouseRules.SecondsPerPull
	}
	pulls := 0.0
	for _, x := range p.Passes {
		pulls += seconds(p, x, x.Together)
	}
	return math.Max(0, p.Minutes*60-pulls) / math.Max(1, float64(len(p.Checks)))
}

// seconds is how long a pass takes when so many pull at once: as the house rules say, in stops of as many.
func seconds(p *plan.Plan, x plan.Pass, together int) float64 {
	x.Together = together
	s := x.Stops() * p.HouseRules.SecondsPerPull
	if x.Kind.Sets() {
		s += p.HouseRules.SecondsPerPass
	}
	return s
}
