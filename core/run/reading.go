package run

import (
	"dynacor/core/quantity"
	"dynacor/core/tool"
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
func (f *folder) atNut(h *hand, e Event, i int) quantity.Torque {
	s := f.inHand(h, i)
	if s == nil {
		return quantity.TorqueOf(e.Setting, quantity.NewtonMetre)
	}
	v := e.Setting
	if e.Reading != nil {
		if read, err := quantity.Convert(e.Reading.Value, e.Reading.Unit, s.Driver().Unit); err == nil {
			v = read
		}
	}
	if at := s.TorqueAt(v); at.Known() {
		return at
	}
	return 0
}

// band is what a reading at the nut may be in a pass: what the document allows in the last one, else so many
// percent of the pass's own torque, or of the fastener's own target.
func (f *folder) band(i int, h *hand, position int) (lo, hi quantity.Torque) {
	t := f.inHand(h, i).TorqueAt(f.settingAt(h, i, position))
	if g := f.group(i); len(f.s.Passes[i].Own) == 0 && f.s.Passes[i].Percent > 99.9 && g.AllowedMax > 0 {
		return g.AllowedMin, g.AllowedMax
	}
	pct := quantity.Torque(f.p.HouseRules.ReadingBand() / 100)
	return t * (1 - pct), t * (1 + pct)
}
