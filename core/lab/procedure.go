package lab

import (
	"fmt"
	"strings"

	"dynacor/core/interaction"
	"dynacor/core/quantity"
	"dynacor/core/sequence"
)

// Procedure is a way of tightening.
type Procedure struct {
	School  string             `json:"school"`            // cross, group, clockwise, pairs, together, own
	Own     []int              `json:"own,omitempty"`     // bolts in their order, when the school is own
	Stages  []float64          `json:"stages"`            // percent of the target, rising
	Tools   int                `json:"tools"`             // at once; 0: 1
	Rounds  int                `json:"rounds"`            // clockwise at the full target, after the stages
	TurnDeg float64            `json:"turnDeg,omitempty"` // by which a nut is turned at most in one pull; 0: up to the target
	Targets map[string]float64 `json:"targets,omitempty"`
	// Targets are kN by bolt number for the last stage, where they make up for what later pulls take.
}

// The schools, as they are called.
var schools = []struct{ code, word string }{{"cross", "Cross"}, {"group", "Quarters"}, {"clockwise", "Clockwise"},
	{"pairs", "Opposite pairs"}, {"together", "All at once"}, {"own", "Own order"}}

const (
	together   = "together"
	own        = "own"
	mostStages = 8
	mostRounds = 20
)

// Word names it: Cross, 30, 60, 100, then round.
func (p Procedure) Word() string {
	word := p.School
	for _, s := range schools {
		if s.code == p.School {
			word = s.word
		}
	}
	var out []string
	for _, s := range p.Stages {
		out = append(out, fmt.Sprintf("%g", s))
	}
	word += ", " + strings.Join(out, ", ")
	switch {
	case p.Rounds == 1:
		word += ", then round"
	case p.Rounds > 1:
		word += fmt.Sprintf(", then %d rounds", p.Rounds)
	}
	if len(p.Targets) > 0 {
		word += ", compensated"
	}
	if p.Tools > 1 && p.School != together {
		word += fmt.Sprintf(", %d tools", p.Tools)
	}
	if p.TurnDeg > 0 {
		word += fmt.Sprintf(", %g° a pull", p.TurnDeg)
	}
	return word
}

// order gives the bolts one after another. Tools that go together stand behind each other in it.
func (p Procedure) order(n int) (interaction.Order, error) {
	switch p.School {
	case own:
		seen := map[int]bool{}
		var o interaction.Order
		for _, b := range p.Own {
			if b < 1 || b > n || seen[b] {
				return o, quantity.Refuse("own", "Touch each bolt once.", "names bolt %d twice, or there is none", b)
			}
			seen[b] = true
			o.Groups = append(o.Groups, []int{b})
		}
		if len(seen) < n {
			return o, quantity.Refuse("own", "Touch each bolt once.", "has %d of %d bolts", len(seen), n)
		}
		return o, nil
	case together:
		all := make([]int, n)
		for i := range all {
			all[i] = i + 1
		}
		return interaction.Order{Groups: [][]int{all}}, nil
	}
	list, err := sequence.Once(sequence.Pattern(p.School), n, sequence.GroupOptions{Groups: 4})
	if err != nil {
		return interaction.Order{}, quantity.Refuse("school", "Choose another school.", "does not fit %d bolts", n)
	}
	var o interaction.Order
	for _, b := range list {
		o.Groups = append(o.Groups, []int{b})
	}
	return o, nil
}

// sequence is it as the model goes through it. Refused, naming the field.
func (p Procedure) sequence(s Setup) (interaction.Sequence, error) {
	out := interaction.Sequence{Target: s.TargetKN * 1e3}
	if len(p.Stages) == 0 || len(p.Stages) > mostStages {
		return out, quantity.Refuse(
			"stages",
			"Give percentages of the target, rising to 100.",
			"must be 1 to %d",
			mostStages,
		)
	}
	if p.Rounds < 0 || p.Rounds > mostRounds {
		return out, quantity.Refuse("rounds", "0 for none.", "must be 0 to %d", mostRounds)
	}
	if p.TurnDeg != 0 && !(p.TurnDeg >= 5 && p.TurnDeg <= 3600) {
		return out, quantity.Refuse("turnDeg", "90 for quarter turns, 0 for up to the target.", "must be 5 to 3600")
	}
	tools := max(1, p.Tools)
	if p.School == together {
		tools = 1
	} else if s.Bolts%tools != 0 {
		return out, quantity.Refuse(
			"tools",
			"Choose a number that divides the bolts.",
			"%d do not divide %d bolts",
			tools,
			s.Bolts,
		)
	}
	o, err := p.order(s.Bolts)
	if err != nil {
		return out, err
	}
	last := 0.0
	for i, stage := range p.Stages {
		if !(stage > last) || stage > 110 {
			return out, quantity.Refuse(
				"stages",
				"Give percentages of the target, rising to 100.",
				"must rise, and end by 110",
			)
		}
		last = stage
		pass := interaction.Pass{Fraction: stage / 100, Order: o, Tools: tools, Turn: p.TurnDeg}
		if i == len(p.Stages)-1 && len(p.Targets) > 0 {
			pass.Targets = map[string]float64{}
			for b, kn := range p.Targets {
				pass.Targets[b] = kn * 1e3
			}
		}
		out.Passes = append(out.Passes, pass)
	}
	round := interaction.Pass{Fraction: 1, Order: interaction.Order{Name: interaction.Circular}, Tools: tools,
		Turn: p.TurnDeg}
	if p.School == together {
		round.Order = o
	}
	for range p.Rounds {
		out.Passes = append(out.Passes, round)
	}
	return out, nil
}

func number(b int) string { return fmt.Sprint(b) }
