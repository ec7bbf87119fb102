package tool

import (
	"fmt"
	"math"
	"strings"

	"dynacor/core/quantity"
	"dynacor/core/sequence"
	"dynacor/core/working"
)

// Method is how a set-up brings load into a bolt.
type Method string

// The methods.
const (
	ByWrench     Method = "wrench"
	ByMultiplier Method = "multiplier"
	ByHydraulics Method = "hydraulic"
	ByTension    Method = "tensioner"
)

// SetUp is a string of tools from the hand, or the pump, to the nut. The first is the one that is set; settings are on
// its scale.
type SetUp struct {
	String     []Tool  `json:"string"`
	AdapterDeg float64 `json:"adapterDeg,omitempty"` // crowfoot against the wrench: 0 in line, 90 square
	NmPerMPa   float64 `json:"nmPerMPa,omitempty"`   // tensioner: the torque that a MPa stands for on this joint
}

// Alone is a wrench without anything between.
func Alone(t Tool) SetUp { return SetUp{String: []Tool{t}} }

// Driver is the tool that is set.
func (s SetUp) Driver() Tool { return s.String[0] }

// Of finds the first tool of a kind in the string.
func (s SetUp) Of(k Kind) (Tool, bool) {
	for _, t := range s.String {
		if t.Kind == k {
			return t, true
		}
	}
	return Tool{}, false
}

// Method tells how the set-up works.
func (s SetUp) Method() Method {
	for _, t := range s.String {
		switch t.Kind {
		case Tensioner:
			return ByTension
		case HydraulicWrench:
			return ByHydraulics
		case MultiplierKind:
			return ByMultiplier
		}
	}
	return ByWrench
}

// Tags joins the tags with a plus, in order.
func (s SetUp) Tags() string {
	tags := make([]string, len(s.String))
	for i, t := range s.String {
		tags[i] = t.Tag
	}
	return strings.Join(tags, "+")
}

// Name is what people call it: the tags of what decides the value, without sockets, hoses and extensions.
func (s SetUp) Name() string {
	var tags []string
	for _, t := range s.String {
		if t.Kind != Socket && t.Kind != Hose && t.Kind != Extension {
			tags = append(tags, t.Tag)
		}
	}
	return strings.Join(tags, " × ")
}

// gain is the torque at the nut over the torque on the wrench: ratio of the multiplier, lever of the adapter.
func (s SetUp) gain() (float64, error) {
	g := 1.0
	if m, ok := s.Of(MultiplierKind); ok && m.Gear != nil {
		g *= m.Gear.Measured
	}
	if a, ok := s.Of(Adapter); ok {
		if s.Driver().LengthMM == 0 {
			return 0, quantity.Refuse("lengthMm",
				"Measure the wrench from square to the middle of the grip and enter it in the Crib.",
				"of %s is not known; an adapter changes the lever", s.Driver().Tag)
		}
		r, err := AdapterActual(nil, AdapterActualInput{Setting: 1, Wrench: s.Driver().LengthMM / 1000,
			Adapter: a.LengthMM / 1000, AngleDeg: s.AdapterDeg})
		if err != nil {
			return 0, err
		}
		g *= r.Actual
	}
	return g, nil
}

func (s SetUp) mpa(setting float64) float64 {
	v, err := quantity.Convert(setting, s.Driver().Unit, quantity.Megapascal)
	if err != nil {
		return math.NaN()
	}
	return v
}

func (s SetUp) scale(mpa float64) float64 {
	v, err := quantity.Convert(mpa, quantity.Megapascal, s.Driver().Unit)
	if err != nil {
		return math.NaN()
	}
	return v
}

// notKnown stands for a torque that nobody can tell.
var notKnown = quantity.Torque(math.NaN())

// TorqueAt is the torque at the nut for a setting on the first tool's scale; for a tensioner the torque that would
// leave the same load. NaN when it cannot be told: a pressure outside the chart, a lever that is not known.
func (s SetUp) TorqueAt(setting float64) quantity.Torque {
	switch s.Method() {
	case ByTension:
		return quantity.Torque(s.mpa(setting) * s.NmPerMPa)
	case ByHydraulics:
		h, _ := s.Of(HydraulicWrench)
		p := s.mpa(setting)
		if len(h.Chart) < 2 || !quantity.AtMost(h.Chart[0].Pressure, p) || !quantity.AtMost(p,
			h.Chart[len(h.Chart)-1].Pressure) {
			return notKnown
		}
		return quantity.Torque(line{chart: h.Chart}.torque(p))
	}
	g, err := s.gain()
	if err != nil {
		return notKnown
	}
	return s.Driver().Torque(setting) * quantity.Torque(g)
}

// Exact is the value on the first tool's scale for a torque at the nut, before it is rounded to a mark. Refused:
// outside the chart, past tool or pump, a lever that is not known.
func (s SetUp) Exact(at quantity.Torque) (scale float64, err error) {
	nm := float64(at)
	d := s.Driver()
	switch s.Method() {
	case ByTension:
		if s.NmPerMPa <= 0 {
			return 0, quantity.Refuse("clampMm", "Enter the clamp length in the specification.",
				"is not given: nobody can say what a tensioner leaves")
		}
		return s.scale(nm / s.NmPerMPa), nil
	case ByHydraulics:
		h, _ := s.Of(HydraulicWrench)
		l, err := newLine(h.Chart, nil)
		if err != nil {
			return 0, err
		}
		p, low, high := l.pressure(nm)
		switch {
		case low:
			return 0, quantity.Refuse("torque",
				"Take a smaller tool for this stage, or another stage scheme. A chart is never drawn on.",
				"%s N·m is under the chart of %s, which starts at %s", quantity.Text(quantity.Significant(nm, 4)),
				h.Tag, quantity.Text(h.Chart[0].Torque))
		case high || !quantity.AtMost(nm, h.MaxNm):
			return 0, quantity.Refuse("torque", "Take a larger tool. A chart is never drawn on.",
				"%s N·m is past %s, which goes to %s", quantity.Text(quantity.Significant(nm, 4)), h.Tag,
				quantity.Text(math.Min(h.MaxNm, h.Chart[len(h.Chart)-1].Torque)))
		}
		return s.scale(p), nil
	}
	g, err := s.gain()
	if err != nil {
		return 0, err
	}
	return quantity.Torque(nm / g).In(d.Unit), nil
}

// percents are the stages of a scheme; "" is one visit at the full value.
func percents(scheme string) ([]float64, error) {
	if scheme == "" {
		return []float64{100}, nil
	}
	s, err := sequence.SchemeByCode(scheme)
	return s.Percents, err
}

// Settings gives what to set for each stage of a scheme ("": the full value alone), on the first tool's marks, so that
// the last comes to target at the nut and not past high (0: no limit). A torque goes to the nearest mark, in the first of
// several stages to the one below, a pressure always to the one below. Refused: stages that fall on the same mark, one
// that the tools cannot give, a last mark under low.
func (s SetUp) Settings(scheme string, target, low, high quantity.Torque) ([]float64, error) {
	d := s.Driver()
	if d.Kind == Preset {
		return s.presetSettings(scheme, target, low, high)
	}
	var out []float64
	if d.Kind.Sets() == ByPressure {
		stages, err := percents(scheme)
		if err != nil {
			return nil, err
		}
		for i, pct := range stages {
			v, err := s.Exact(target * quantity.Torque(pct) / 100)
			if err != nil {
				return nil, err
			}
			v = downTo(v, d.Graduation)
			if v <= 0 || i > 0 && v <= out[i-1] {
				return nil, quantity.Refuse("graduation", "Use a finer gauge or another stage scheme.",
					"stage %s %% falls on no mark of its own on the gauge of %s", quantity.Text(pct), d.Tag)
			}
			out = append(out, v)
		}
	} else {
		full, err := s.Exact(target)
		if err != nil {
			return nil, err
		}
		limit := 0.0
		if high > 0 {
			if limit, err = s.Exact(high); err != nil {
				return nil, err
			}
		}
		if scheme == "" {
			r, err := quantity.RoundToGraduation(full, d.Graduation, limit)
			if err != nil {
				return nil, err
			}
			out = []float64{r.Rounded}
		} else {
			st, err := sequence.Staging(nil, scheme, full, d.Graduation, limit, 0)
			if err != nil {
				return nil, err
			}
			out = st.Nm
			if len(out) > 1 { // the first is never above what its part of the whole comes to
				out[0] = downTo(st.Scheme.Percents[0]/100*out[len(out)-1], d.Graduation)
			}
			if out[0] <= 0 {
				return nil, quantity.Refuse("graduation", "Use a tool with a finer scale or another stage scheme.",
					"the first stage lies below the first mark of %s", d.Tag)
			}
		}
	}
	if at := s.TorqueAt(out[len(out)-1]); low > 0 && !quantity.AtMost(low, at) {
		return nil, quantity.Refuse("wrench", "Use a tool with finer marks.",
			"no mark of %s lies inside %s to %s N·m at the nut", d.Tag, quantity.Text(quantity.Significant(low, 4)),
			quantity.Text(quantity.Significant(high, 4)))
	}
	return out, nil
}

// presetSettings allows a preset wrench only where one value is wanted, and that one is its own.
func (s SetUp) presetSettings(scheme string, target, low, high quantity.Torque) ([]float64, error) {
	d := s.Driver()
	stages, err := percents(scheme)
	if err != nil {
		return nil, err
	}
	if len(stages) > 1 {
		return nil, quantity.Refuse("scheme", "Take an adjustable wrench.",
			"there are %d stages; %s gives one value only", len(stages), d.Tag)
	}
	at := s.TorqueAt(d.RatedMax)
	if low > 0 && at < low || high > 0 && at > high ||
		low == 0 && math.Abs(float64(at-target)) > 0.01*float64(target) {
		return nil, quantity.Refuse("wrench", "Take one that is preset to the target.",
			"%s gives %s N·m, %s are wanted", d.Tag, quantity.Text(quantity.Significant(at, 4)),
			quantity.Text(quantity.Significant(target, 4)))
	}
	return []float64{d.RatedMax}, nil
}

// AccuracyPct is what the set-up may be off, as the sum of its parts: wrench and ratio, or gauge and chart. Worst case,
// not statistics.
func (s SetUp) AccuracyPct() float64 {
	a := 0.0
	for _, t := range s.String {
		a += t.AccuracyPct
		if t.Gear != nil {
			a += t.Gear.TestPct
		}
	}
	return a
}

// Reaction is what holds against the nut at a torque: nil for a wrench alone. Force N, arm mm.
type Reaction struct {
	TorqueNm float64 `json:"torqueNm"`
	ForceN   float64 `json:"forceN"`
	ArmMM    float64 `json:"armMm"`
}

// ReactionAt gives the reaction at a torque at the nut. Source: statics; see Multiplier.
func (s SetUp) ReactionAt(at quantity.Torque) *Reaction {
	nm := float64(at)
	if m, ok := s.Of(MultiplierKind); ok && m.Gear != nil {
		r, err := Multiplier(nil, MultiplierInput{Output: nm, Nominal: m.Gear.Nominal, Measured: &m.Gear.Measured,
			Arm: m.Gear.ArmMM / 1000, SameDirection: m.Gear.SameDirection})
		if err != nil {
			return nil
		}
		return &Reaction{r.Reaction, r.ReactionForce, m.Gear.ArmMM}
	}
	if h, ok := s.Of(HydraulicWrench); ok && h.LengthMM > 0 {
		return &Reaction{nm, nm / (h.LengthMM / 1000), h.LengthMM}
	}
	return nil
}

// Working shows how the setting comes from the torque at the nut.
func (s SetUp) Working(at quantity.Torque) *working.Working {
	nm := float64(at)
	d := s.Driver()
	w := working.New("From the nut to the scale of " + d.Tag)
	w.Supply("T", "torque at the nut", nm, quantity.NewtonMetre, "plan")
	switch s.Method() {
	case ByMultiplier:
		m, _ := s.Of(MultiplierKind)
		w.Supply("R", "measured torque ratio of "+m.Tag, m.Gear.Measured, "", "certificate "+m.Certificate)
		w.Calc("S", "on the wrench", "T / R", nm/m.Gear.Measured, quantity.NewtonMetre, "definition of the ratio")
		if r := s.ReactionAt(at); r != nil {
			w.Supply("a", "reaction arm", r.ArmMM/1000, "m", m.Tag)
			w.Supply("Tr", "torque that the arm holds", r.TorqueNm, quantity.NewtonMetre,
				"output less input, or with it")
			w.Calc("Fr", "force at the end of the arm", "Tr / a", r.ForceN, quantity.Newton, "statics of the housing")
		}
		w.Take(fmt.Sprintf("The ratio is the measured one; the teeth give %s, losses the rest.",
			quantity.Text(m.Gear.Nominal)))
		w.Warn("Fingers out of the gap between reaction arm and support. Expect the handle to spring back.")
	case ByHydraulics:
		h, _ := s.Of(HydraulicWrench)
		p, err := s.Exact(at)
		if err == nil {
			w.Put("p", "pressure", p, d.Unit, working.LookedUp,
				"chart of "+h.Tag+", serial "+h.Serial+", straight between its points")
		}
		w.Take("The nut has stopped turning at the set pressure. The pressure is set with the tool off the nut.")
		w.Warn("Oil under pressure goes through skin. Hoses flat, couplings home, hands clear of the reaction arm.")
	case ByTension:
		t, _ := s.Of(Tensioner)
		w.Supply("c", "torque that a MPa stands for", s.NmPerMPa, "", t.Tag+" on this bolt")
		if p, err := s.Exact(at); err == nil {
			w.Calc("p", "pressure", "T / c", quantity.Significant(s.mpa(p), 6), quantity.Megapascal,
				"piston area and transfer loss")
		}
		w.Warn("Nobody stands over a bolt being pulled.")
	default:
		if a, ok := s.Of(Adapter); ok {
			w.Supply("L", "wrench, square to middle of the grip", d.LengthMM, quantity.Millimetre, d.Tag)
			w.Supply("E", "adapter, square to nut", a.LengthMM, quantity.Millimetre, a.Tag)
			w.Supply("θ", "adapter against the wrench", s.AdapterDeg, "deg", "choice")
			if g, err := s.gain(); err == nil {
				w.Calc("S", "on the wrench", "T × L / ( L + E × cos θ )", nm/g, quantity.NewtonMetre, "statics")
			}
			w.Warn("Pull at the middle of the grip, square to the wrench. No pipe on the handle.")
		}
	}
	return w
}
