package pressuretest

import (
	"dynacor/core/pressure"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

// Hold is a pressure that was held, or is being held.
type Hold struct {
	Step   int     `json:"step"` // from 1
	Bar    float64 `json:"bar"`
	Min    float64 `json:"min"`
	Judged bool    `json:"judged"`
	First  Point   `json:"first"` // its minutes count from here
	Last   Point   `json:"last"`
	Again  int     `json:"again"` // how often it was pumped up and began anew
	Over   bool    `json:"over"`  // its minutes are done
	Failed bool    `json:"failed"`
	Sum    Sum     `json:"sum"`
}

// Sum says what became of the pressure between two readings.
type Sum struct {
	Change    float64          `json:"changeBar"`    // read: below zero when it fell
	Explained float64          `json:"explainedBar"` // by the temperature
	Lost      float64          `json:"lostBar"`      // what is left over, above zero when it went the wrong way
	Rate      *float64         `json:"ratePaM3s,omitempty"`
	Warm      bool             `json:"warm"` // both temperatures are known
	Working   *working.Working `json:"working,omitempty"`
}

// sum takes the temperature off a change of pressure: of a liquid by the bar of a degree that the engineer states, of a
// gas by absolute temperature (ideal gas). Lost is what fell, or, of a vacuum, what rose.
func (s Spec) sum(a, b Point) Sum {
	w := working.New("What the pressure lost")
	for _, n := range []struct {
		sym, name string
		unit      quantity.Unit
		v         *float64
	}{{"p1", "pressure at the start", quantity.Bar, &a.Bar}, {"p2", "pressure at the end", quantity.Bar, &b.Bar},
		{"t1", "temperature at the start", quantity.Celsius, a.TempC},
		{"t2", "temperature at the end", quantity.Celsius, b.TempC}} {
		if n.v != nil {
			w.Supply(n.sym, n.name, *n.v, n.unit, "read at the gauge")
		}
	}
	out := Sum{Change: w.Calc("Δp", "change", "p2 - p1", b.Bar-a.Bar, quantity.Bar, ""), Working: w}
	if out.Warm = a.TempC != nil && b.TempC != nil; out.Warm {
		if s.Kind == Hydrostatic {
			w.Supply("k", "a degree makes", s.BarPerC, quantity.Bar, "stated for this test")
			out.Explained = w.Calc("Δt", "explained by temperature", "k · (t2 - t1)", s.BarPerC*(*b.TempC-*a.TempC),
				quantity.Bar, "")
		} else {
			pa := s.atmosphere()
			w.Supply("pa", "air pressure", pa, quantity.Bar, "ISO 2533; 0 where the gauge reads absolute pressure")
			out.Explained = w.Calc("Δt", "explained by temperature",
				"(p1 + pa) · ((t2 + 273.15) / (t1 + 273.15) - 1)",
				(a.Bar+pa)*((*b.TempC+kelvin)/(*a.TempC+kelvin)-1), quantity.Bar, "ideal gas, closed volume")
		}
	} else {
		w.Take("The temperature stayed the same: it was not read at both ends.")
	}
	if s.Kind == Vacuum {
		out.Lost = w.Calc("L", "gained", "Δp - Δt", out.Change-out.Explained, quantity.Bar, "")
	} else {
		out.Lost = w.Calc("L", "lost", "Δt - Δp", out.Explained-out.Change, quantity.Bar, "")
	}
	if secs := b.At.Sub(a.At).Seconds(); secs > 0 && s.VolumeM3 > 0 && s.Kind != Hydrostatic {
		w.Supply("V", "closed volume", s.VolumeM3, "m3", "stated for this test")
		w.Supply("t", "time between", secs, "s", "clock of this site")
		rate := w.Calc("Q", "leak rate", "L · 100000 · V / t", out.Lost*1e5*s.VolumeM3/secs, "Pa_m3_s", "")
		out.Rate = &rate
	}
	return out
}

func (s Spec) atmosphere() float64 {
	if s.Gauge.Absolute {
		return 0
	}
	return atmosphere
}

// coarse reports whether half a mark of the gauge, to which it can be read, is more than may be lost.
func (s Spec) coarse() bool { return !quantity.AtMost(s.Gauge.Mark/2, s.LossBar) }

// fill holds a reading of a pre-charge against its value at the temperature of the gas.
func (st *State) fill(p Point) {
	if p.TempC == nil {
		return
	}
	s := st.spec
	r, err := pressure.GasPressure(nil, pressure.GasInput{Pressure: s.TestBar / 10, From: s.RefC, To: *p.TempC,
		Atm: s.atmosphere() / 10, Purpose: "service"})
	if err != nil {
		return
	}
	aim := 10 * r.Pressure
	st.Aim = &aim
	st.low = !quantity.AtMost(aim*(1-s.TolPct/100), p.Bar)
	st.high = !quantity.AtMost(p.Bar, aim*(1+s.TolPct/100))
	if !st.low && !st.high {
		st.Phase = Signing
	}
}
