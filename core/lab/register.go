package lab

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"dynacor/core/layout"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/sequence"
)

var (
	nominal = regexp.MustCompile(`(?i)\bDN\s*(\d+)`)
	inMM    = regexp.MustCompile(`(\d+(?:[.,]\d+)?)\s*mm`)
)

// Families of joints whose contact the lab knows without being told.
const (
	shaftLock = "shrink_disc"
	gasketed  = "gasketed_flange"
)

// turnRounds are the rounds in which a lock is taken to reach its target, a part of a turn at a time. A starting value.
const turnRounds = 7

// FromPlan makes a setup of a joint of the register: what its plan knows is taken, the rest stays to be estimated.
// Refused: fasteners that do not stand on one circle, which the model must not take for a circle, and a plan without a
// force to aim at.
func FromPlan(p *plan.Plan) (Setup, error) {
	g := p.First()
	locks := p.Family == shaftLock
	if len(p.AllGroups()) != 1 && !locks || g.Layout.Shape() != layout.Circle || g.Layout.Count < 3 {
		return Setup{}, quantity.Refuse("joint", "The lab knows bolts on one circle, between two flanges.",
			"%s is outside the model", p.Joint.Tag)
	}
	if !(g.PreloadKN > 0) {
		return Setup{}, quantity.Refuse("joint", "Complete its specification: thread, lubricant and target.",
			"%s has no bolt force to aim at yet", p.Joint.Tag)
	}
	s := Setup{Tag: p.Joint.Tag, Name: p.Joint.Name, Bolts: g.Layout.Count, Thread: g.Thread.Text, Gasket: "sheet",
		TargetKN: quantity.Significant(g.PreloadKN, 3), BoltCircleMM: g.Layout.DiameterMM, FrictionPct: 10, ToolPct: 3,
		PullSeconds: p.HouseRules.SecondsPerPull, PassSeconds: p.HouseRules.SecondsPerPass}
	yield := g.Strength.Proof
	if yield == 0 {
		yield = g.Strength.Yield
	}
	s.YieldKN = quantity.Significant(yield*g.StressAreaMM2/1e3, 3)
	text := p.Specification.Gasket
	switch low := strings.ToLower(text); {
	case locks:
		s.Gasket = taperCode
	case text == "" && p.Family != gasketed:
		s.Gasket = faces
	case strings.Contains(low, "spiral"):
		s.Gasket = "spiral"
	case strings.Contains(low, "ring"), strings.Contains(low, "metal"):
		s.Gasket = "ring"
	}
	if m := inMM.FindStringSubmatch(text); m != nil {
		s.GasketMM, _ = strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64) // it is figures
	}
	if m := nominal.FindStringSubmatch(p.Specification.FlangeSize); m != nil {
		s.BoreMM, _ = strconv.ParseFloat(m[1], 64)
	}
	if s.BoreMM >= s.BoltCircleMM-2*g.Thread.DiameterMM {
		s.BoreMM = 0
	}
	if c := p.Gasket; c != nil {
		s.NeedMPa = max(c.Seating, c.Operating)
	}
	if k := g.Lubricant.K; k.Typ > 0 {
		s.FrictionPct = quantity.Significant(100*(k.High-k.Low)/2/k.Typ/2, 2) // the band is two deviations to each side
	}
	if g.Wrench != nil && g.Wrench.AccuracyPct > 0 {
		s.ToolPct = quantity.Significant(g.Wrench.AccuracyPct/2, 2)
	}
	return s, nil
}

// Planned is the way of tightening that a plan lays out: its stages in its order, and a round for each of its check
// rounds. ok is false when its passes are not such.
func Planned(p *plan.Plan) (out Procedure, ok bool) {
	out = Procedure{School: own, Tools: 1, Stages: []float64{}}
	for _, x := range p.Passes {
		switch x.Kind {
		case plan.HandPass:
		case plan.CheckPass:
			out.Rounds++
		case plan.StagePass:
			percent := math.Round(x.Percent)
			if n := len(out.Stages); n > 0 && percent <= out.Stages[n-1] {
				out.Rounds++ // once more at the same
				continue
			}
			if len(out.Stages) == 0 {
				out.Own, out.Tools = slices.Clone(x.Order), max(1, x.Together)
			}
			out.Stages = append(out.Stages, percent)
			out.Targets = ownForces(p, x)
		case plan.TurnsPass:
			out.Own, out.Stages = slices.Clone(x.Order), append(out.Stages, 100)
			out.TurnDeg, out.Rounds = x.TurnDeg, out.Rounds+turnRounds
		default:
			return Procedure{}, false
		}
	}
	n := len(out.Own)
	if n == 0 || len(out.Stages) > mostStages || out.Rounds > mostRounds {
		return Procedure{}, false
	}
	for _, school := range []sequence.Pattern{sequence.Cross, sequence.Group, sequence.Clockwise} {
		if list, err := sequence.Once(
			school,
			n,
			sequence.GroupOptions{Groups: 4},
		); err == nil &&
			slices.Equal(list, out.Own) {
			out.School, out.Own = string(school), nil
			break
		}
	}
	return out, true
}

// ownForces are the forces that own targets of a pass stand for, kN by bolt; nil where it has none.
func ownForces(p *plan.Plan, x plan.Pass) map[string]float64 {
	if len(x.Own) == 0 {
		return nil
	}
	out := map[string]float64{}
	for _, o := range x.Own {
		out[number(o.Fastener)] = p.First().PreloadKN * o.Percent / 100
	}
	return out
}

// Bench is a joint of the register with the way in which it is planned to be tightened; nil: in another one than the lab
// knows. Its records bring what was measured on its bolts, the newest first.
type Bench struct {
	Setup    Setup      `json:"setup"`
	Planned  *Procedure `json:"planned,omitempty"`
	Measured []Measured `json:"measured"`
	Kept     *Kept      `json:"kept,omitempty"`
}

// Kept is what a site's own measurements say of the gasket of a joint, as an engineer kept it.
type Kept struct {
	Fitted Fitted    `json:"fitted"`
	Reason string    `json:"reason"`
	By     string    `json:"by"`
	At     time.Time `json:"at"`
}
