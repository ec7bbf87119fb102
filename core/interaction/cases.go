package interaction

import (
	"encoding/json"
	"errors"
	"slices"

	"dynacor/core/quantity"
)

// Case is one of a file of cases: a joint with a sequence, or with what is to be compensated. Expected, when it is there,
// says which outputs are asked for, and at which steps of the history.
type Case struct {
	ID         string                     `json:"id"`
	Geometry   *Geometry                  `json:"geometry"`
	Joint      *Joint                     `json:"joint"`
	Sequence   *Sequence                  `json:"sequence"`
	Compensate *Compensation              `json:"compensate"`
	Expected   map[string]json.RawMessage `json:"expected"`
}

// Outputs computes a case. Refused, naming the field, as its joint and its sequence are; a case with a geometry alone has
// its stiffness derived.
func (c Case) Outputs() (map[string]any, error) {
	if c.Joint == nil {
		return nil, quantity.Refuse("joint", "Give the joint with its stiffnesses.", "is missing")
	}
	m, err := New(*c.Joint)
	if err != nil {
		return nil, err
	}
	if c.Geometry != nil {
		if _, err := Derive(*c.Geometry); err != nil {
			if r, ok := quantity.RefusalIn(err); ok {
				return nil, quantity.Refuse("geometry."+r.Field, r.Remedy, "%s", r.Why)
			}
			return nil, err
		}
	}
	var all map[string]any
	switch {
	case c.Sequence != nil && c.Compensate != nil:
		return nil, quantity.Refuse("compensate", "Ask for one of them.", "and a sequence are both there")
	case c.Compensate != nil:
		all, err = c.compensated(m)
	case c.Sequence != nil:
		all, err = c.played(m)
	default:
		err = quantity.Refuse("sequence", "Say how the joint is tightened.", "is missing")
	}
	if err != nil || c.Expected == nil {
		return all, err
	}
	out := map[string]any{}
	for key := range c.Expected {
		v, ok := all[key]
		if !ok {
			return nil, errors.New("expected: " + key + " is no output of such a case")
		}
		out[key] = v
	}
	return out, nil
}

func (c Case) compensated(m *Model) (map[string]any, error) {
	x, err := m.Compensate(*c.Compensate)
	if err != nil {
		return nil, err
	}
	return map[string]any{"targets": x.Targets, "final_forces": x.Forces, "uncompensated_final_forces": x.Uncorrected,
		"uncompensated_scatter": x.Scatter, "max_target_ratio": x.Ratio}, nil
}

func (c Case) played(m *Model) (map[string]any, error) {
	r, err := m.Run(*c.Sequence)
	if err != nil {
		return nil, err
	}
	b, err := m.Matrix()
	if err != nil {
		return nil, err
	}
	var column []float64
	for i := range b {
		column = append(column, b[i][0]/b[0][0])
	}
	out := map[string]any{"n_steps": len(r.Steps), "final_forces": r.Forces, "stats": r.Stats, "passes": r.Passes,
		"n_check": r.Rounds, "check_converged": r.Quiet, "passes_to_goal": r.ToGoal, "history": c.asked(r.Steps),
		"gasket_stress": r.Stress, "shape": r.Shape, "B_first_row": b[0], "A_first_column": column}
	return out, nil
}

// asked are the steps of the history that are expected; all of them when nothing is.
func (c Case) asked(steps []Step) []Step {
	var want []struct {
		Step int `json:"step"`
	}
	if err := json.Unmarshal(c.Expected["history"], &want); err != nil || len(want) == 0 {
		return steps
	}
	out := []Step{}
	for _, s := range steps {
		if slices.ContainsFunc(want, func(w struct {
			Step int `json:"step"`
		}) bool {
			return w.Step == s.Step
		}) {
			out = append(out, s)
		}
	}
	return out
}
