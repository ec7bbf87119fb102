package lab

import (
	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/core/run"
)

// MeasuredIn gives what a record tells of the loads of its bolts: by how much each became longer, and by how much each nut
// turned in the first check round, which gives back what the neighbours took. None: where bolts do not stand on one
// circle, or nothing was measured.
func MeasuredIn(r record.Record) []Measured {
	way, ok := Planned(r.Plan)
	setup, err := FromPlan(r.Plan)
	if err != nil || !ok {
		return nil
	}
	var out []Measured
	stretch := Measured{Of: MeasuredStretch, Values: map[string]float64{}, From: r.Number, Way: way}
	for _, p := range r.LastPulls() {
		if p.Of == record.Stretch {
			stretch.Values[number(p.Position)] = p.Value
		}
	}
	for _, m := range []Measured{stretch, turnedIn(r, way)} {
		if m.check(r.Plan.Count()) == nil && turns(m) {
			m.Setup = &setup
			out = append(out, m)
		}
	}
	return out
}

// turns reports whether anything was above nothing.
func turns(m Measured) bool {
	for _, v := range m.Values {
		if v > 0 {
			return true
		}
	}
	return false
}

// turnedIn is by how much each nut turned in the first check round; what was told to stay did not turn.
func turnedIn(r record.Record, way Procedure) Measured {
	m := Measured{Of: MeasuredAngle, Values: map[string]float64{}, From: r.Number, Way: way}
	first := 0
	for i, p := range r.State.Passes {
		if p.Kind == plan.CheckPass {
			first = i + 1
			break
		}
	}
	for _, x := range r.Results() {
		if x.Counts && x.Act == run.Pulled && x.Pass == first && x.Moved != nil && (!*x.Moved || x.TurnedDeg > 0) {
			m.Values[number(x.Position)] = x.TurnedDeg
		}
	}
	return m
}
