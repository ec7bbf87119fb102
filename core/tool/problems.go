package tool

import (
	"fmt"
	"time"

	"dynacor/core/quantity"
)

// Problems are the reasons why the string may not be used for a torque at the nut with the settings for it on a day:
// each tool itself, what does not fit, what is not strong enough, what is never done.
func (s SetUp) Problems(at quantity.Torque, settings []float64, minFrac float64, on time.Time) []Problem {
	d := s.Driver()
	out := d.Fit(settings, minFrac, on)
	for _, t := range s.String[1:] {
		out = append(out, t.Standing(on)...)
	}
	return append(append(out, s.never()...), s.weak(at, settings)...)
}

// never are the strings that no crew may put together.
func (s SetUp) never() []Problem {
	var out []Problem
	count := map[Kind]int{}
	for i, t := range s.String {
		count[t.Kind]++
		if i > 0 && t.Kind.Sets() != "" {
			out = append(out, Problem{"two_set",
				t.Tag + " is set on its own scale and cannot work behind " + s.Driver().Tag,
				"One tool that is set, at the end of the hand or the pump."})
		}
	}
	if count[Adapter] > 1 {
		out = append(out, Problem{"stacked_adapters", "Two adapters are stacked on " + s.Driver().Tag,
			"Each one moves the lever; together nobody can tell the torque. Take one adapter, or another tool."})
	}
	if count[Adapter] > 0 && count[MultiplierKind] > 0 {
		out = append(out, Problem{"adapter_multiplier", "An adapter and a multiplier are in one string",
			"The reaction of the multiplier bends the adapter. Take one of the two."})
	}
	if count[MultiplierKind] > 1 {
		out = append(out, Problem{"stacked_multipliers", "Two multipliers are stacked",
			"The first would carry the reaction of the second. Take one with the ratio that is needed."})
	}
	return out
}

// weak finds drives that do not meet, ratings that are passed, sockets that are not for power, pressures past hose or
// tool.
func (s SetUp) weak(at quantity.Torque, settings []float64) []Problem {
	var out []Problem
	var links []ChainLink
	share := 1.0
	power := s.Method() != ByWrench
	// from the nut: what a piece carries is what the nut takes, until a multiplier divides it
	for i := len(s.String) - 1; i >= 0; i-- {
		t := s.String[i]
		if t.Kind == Hose || t.Kind == Pump || t.Kind == Tensioner {
			continue
		}
		l := ChainLink{Name: t.Tag, Rating: t.MaxNm, Percent: share}
		if t.Kind.Sets() == ByTorque {
			l.Rating = float64(t.Torque(t.RatedMax))
		}
		if l.Rating == 0 {
			l.Rating = 1e9 // not given: the weakest of the others decides
		}
		if v, err := DriveSize(t.DriveIn); err == nil {
			in := float64(v)
			l.In = &in
		}
		if v, err := DriveSize(t.Drive); err == nil {
			out := float64(v)
			l.Out = &out
		}
		if t.Gear != nil {
			share /= t.Gear.Measured
		}
		if t.Kind == Socket && power && !t.Impact && t.Tag != "" {
			out = append(out, Problem{"hand_socket", t.Tag + " is a hand socket",
				"Behind a multiplier or a hydraulic tool it can burst. Take one rated for power."})
		}
		links = append([]ChainLink{l}, links...)
	}
	if len(links) > 0 {
		r, err := DriveChain(nil, ChainInput{Torque: float64(at), Links: links})
		if err != nil {
			what := err.Error()
			if f, ok := quantity.RefusalIn(err); ok {
				what = f.Why
			}
			out = append(out, Problem{"drive", what, "Enter the drives of both tools in the Crib."})
		}
		for _, p := range r.Problems {
			out = append(out, Problem{"chain", p, "Take pieces that fit each other and bear the torque."})
		}
	}
	if len(settings) == 0 || s.Driver().Kind.Sets() != ByPressure {
		return out
	}
	p := s.mpa(settings[len(settings)-1])
	for _, t := range s.String[1:] {
		if t.MaxMPa > 0 && !quantity.AtMost(p, t.MaxMPa) {
			out = append(out, Problem{"pressure", fmt.Sprintf("%s MPa is past %s, which may see %s MPa",
				quantity.Text(quantity.Significant(p, 3)), t.Tag, quantity.Text(t.MaxMPa)),
				"Take a part rated for the pressure."})
		}
	}
	return out
}
