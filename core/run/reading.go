package run

import (
	"fmt"
	"math"

	"dynacor/core/plan"
	"dynacor/core/preload"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// doneBy is the outcome that ends a pull with a set-up.
func doneBy(s tool.SetUp) Outcome {
	switch {
	case s.Method() == tool.ByHydraulics:
		return Stalled
	case s.Method() == tool.ByTension:
		return RunDown
	case s.Driver().Kind.Reads():
		return Reached
	}
	return Clicked
}

// atNut is the torque that a pull left at the nut: what was read, through what lies between, else what was set.
func (f *folder) atNut(h *hand, e Event, i int) float64 {
	s := f.inHand(h, i)
	if s == nil {
		return float64(quantity.TorqueOf(e.Setting, quantity.NewtonMetre))
	}
	v := e.Setting
	if e.Reading != nil {
		if read, err := quantity.Convert(e.Reading.Value, e.Reading.Unit, s.Driver().Unit); err == nil {
			v = read
		}
	}
	if at := s.NmAt(v); !math.IsNaN(at) {
		return at
	}
	return 0
}

// reaction asks that the arm bears and hands are clear before every pull that something must hold against.
func (f *folder) reaction(e Event, h *hand, i int) {
	s := f.inHand(h, i)
	if s == nil || s.Method() == tool.ByWrench || e.Clear {
		return
	}
	f.find(working.Caution, "not_clear", fmt.Sprintf("Nobody said that hands were clear before %s.", f.name(e.Fastener)), "The arm bears with tons; a finger behind it is crushed, a loose arm kicks.", "Before each pull: arm against something solid, on the side of the drive, hands away.")
	f.deviate(e, "not_clear", fmt.Sprintf("%s pulled in pass %d without the clear", f.Name(e.Fastener), i+1), "", "", "noted")
}

// band is what a reading at the nut may be in a pass, N·m: what the document allows in the last one, else so many percent of the pass's own
// torque.
func (f *folder) band(i int, h *hand) (lo, hi float64) {
	t := f.inHand(h, i).NmAt(f.setting(h, i))
	if g := f.group(i); f.s.Passes[i].Percent > 99.9 && g.AllowedMax > 0 {
		return g.AllowedMin, g.AllowedMax
	}
	pct := f.p.HouseRules.ReadingBand() / 100
	return t * (1 - pct), t * (1 + pct)
}

// judgeReading holds what a tool showed against the pass, MarkNone when it is right or nothing was read. In a check round only too much is
// wrong: a nut that stays gives what it takes to try it.
func (f *folder) judgeReading(e Event, i int, h *hand) Mark {
	s := f.inHand(h, i)
	if e.Reading == nil || s == nil {
		return MarkNone
	}
	d, n, ps := s.Driver(), f.Name(e.Fastener), f.s.Passes[i]
	if d.Kind.Sets() == tool.ByPressure {
		off := e.Reading.In(d.Unit) - f.setting(h, i)
		if math.Abs(off) <= d.Graduation+1e-9 {
			return MarkNone
		}
		h.stopped = "The gauge moved. Relieve, set the pressure again with the tool off the nut, and read twice."
		f.find(working.Stop, "pressure_drift", fmt.Sprintf("The gauge showed %s, set were %s %s.", e.Reading.Words(), quantity.Text(f.setting(h, i)), d.Unit.Symbol()), "Another pressure is another torque.", "Set it again and confirm it before the next nut.")
		if off < 0 {
			return MarkShort
		}
		f.deviate(e, "over", fmt.Sprintf("%s pulled at %s instead of %s %s in pass %d", n, e.Reading.Words(), quantity.Text(f.setting(h, i)), d.Unit.Symbol(), i+1), "", "Loosen and repeat, replace, or have it accepted.", "open")
		return MarkOver
	}
	got := f.atNut(h, e, i)
	lo, hi := f.band(i, h)
	u := quantity.NewtonMetre.Symbol()
	switch {
	case !quantity.AtMost(got, hi):
		what := fmt.Sprintf("%s reads %s %s at the nut; %s is the most.", n, sig(got), u, sig(hi))
		if o := otherScale(e.Reading.Value, f.setting(h, i), d.Unit); o != "" {
			what += " It would be right on the " + o.Symbol() + " scale."
		}
		f.find(working.Stop, "over", what, "It may hold more than the plan, or be stretched.", "Loosen it and bring it up again, replace it, or have it accepted by an engineer.")
		f.deviate(e, "over", fmt.Sprintf("%s reads %s %s in pass %d, %s at most", n, sig(got), u, i+1, sig(hi)), "", "Loosen and repeat, replace, or have it accepted.", "open")
		return MarkOver
	case !quantity.AtMost(lo, got) && ps.Kind == string(plan.StagePass):
		what := fmt.Sprintf("%s reads %s %s at the nut; %s is the least.", n, sig(got), u, sig(lo))
		if o := otherScale(e.Reading.Value, f.setting(h, i), d.Unit); o != "" {
			what += " It would be right on the " + o.Symbol() + " scale."
		}
		f.find(working.Caution, "short", what, "It holds less than its neighbours.", "Pull it again before the pass ends.")
		return MarkShort
	}
	return MarkNone
}

func sig(v float64) string { return quantity.Text(quantity.Significant(v, 3)) }

// traceWords say what the shape of a pull means.
var traceWords = map[string][3]string{
	"cross_thread_suspect": {"ran down stiffly, as a cross-threaded nut does", "Torque went into the thread before the bolt was stretched.", "Loosen it, look at both threads, run the nut by hand, and pull it again."},
	"bottomed_out_suspect": {"rose in two slopes, as a nut that runs out of thread or a bolt that bottoms", "The torque is reached before the joint is clamped.", "Look at length and thread; change what is wrong and pull it again."},
	"yielded":              {"went soft before the end, as a bolt at yield does", "A bolt past yield holds less with every pull.", "Stop. Replace the bolt, look at lubricant and target, ask the engineer."},
	"already_tight":        {"was at its torque within a few degrees", "It may be seized, cross-threaded or already tight: the torque says only 'at or above'.", "Loosen it, run the nut by hand, and pull it again."},
	"no_elastic":           {"has no straight rise", "Something gives way, or the samples are too few.", "Look at the joint; pull it again."},
}

// judgeTrace reads the shape of a pull. Yield counts in every pass; a nut that is tight already and one that never ran free can be told in
// the first only, because later every nut begins snug.
func (f *folder) judgeTrace(e Event, i int) {
	if len(e.Trace) == 0 || f.s.Passes[i].Kind != string(plan.StagePass) {
		return
	}
	r, err := preload.TorqueAngleAnalysis(nil, preload.TraceInput{Points: e.Trace, Target: f.s.Passes[i].TorqueNm, YieldRatio: 0.5, Rehit: 8, CrossFrac: 0.25, BottomRise: 0.15, BottomSlope: 1.6})
	if err != nil {
		f.find(working.Info, "trace_unread", fmt.Sprintf("The curve of %s says nothing: %s.", f.name(e.Fastener), err), "", "")
		return
	}
	w, odd := traceWords[r.Diagnosis]
	if !odd || i > 0 && r.Diagnosis != "yielded" {
		return
	}
	n := f.Name(e.Fastener)
	f.suspect[e.Fastener-1] = true
	f.find(working.Caution, "trace_"+r.Diagnosis, fmt.Sprintf("%s %s.", n, w[0]), w[1], w[2])
	f.deviate(e, "trace_"+r.Diagnosis, fmt.Sprintf("%s %s, in pass %d", n, w[0], i+1), w[1], w[2], "open")
}
