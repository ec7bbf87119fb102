// Package lab compares ways of tightening a joint by what each bolt does while its neighbours are tightened. It turns
// dimensions that people know into the stiffnesses of the model, schools into sequences, and histories into figures to
// decide by. Lengths in mm, forces in kN, stresses in MPa.
package lab

import (
	"fmt"
	"math"
	"regexp"
	"strconv"

	"dynacor/core/fastener"
	"dynacor/core/interaction"
	"dynacor/core/quantity"
)

// Setup is a joint as the one sentence of the page sets it. What is 0 is estimated from the rest, and said so.
type Setup struct {
	Tag          string  `json:"tag"` // of the register, "" for one made up on the spot
	Name         string  `json:"name"`
	Bolts        int     `json:"bolts"`
	Thread       string  `json:"thread"`
	Flange       string  `json:"flange,omitempty"` // size by a table, as written; "": by its dimensions
	Gasket       string  `json:"gasket"`           // code of a law: sheet, spiral, ring, face, taper
	GasketMM     float64 `json:"gasketMm"`
	TargetKN     float64 `json:"targetKn"`
	YieldKN      float64 `json:"yieldKn"` // at which a bolt yields; 0: not known
	NeedMPa      float64 `json:"needMpa"` // that the gasket needs everywhere; 0: not known
	BoltCircleMM float64 `json:"boltCircleMm"`
	BoreMM       float64 `json:"boreMm"`
	OutsideMM    float64 `json:"outsideMm"`
	ThicknessMM  float64 `json:"thicknessMm"`
	HubMM        float64 `json:"hubMm"` // wall of the pipe
	// outside diameter of the raised face; 0: the gasket reaches to the bolts
	FaceMM float64 `json:"faceMm,omitempty"`
	Taper  *Taper  `json:"taper,omitempty"` // of two clamping rings on a taper
	// so many times the gasket is as stiff as its typical curve, by what the site measured; 0: not known
	CurveBy     float64 `json:"curveBy,omitempty"`
	FrictionPct float64 `json:"frictionPct"`
	ToolPct     float64 `json:"toolPct"`
	CurvePct    float64 `json:"curvePct"` // spread of the gasket's curve
	PullSeconds float64 `json:"pullSeconds"`
	PassSeconds float64 `json:"passSeconds"`
}

// Law is a gasket that the lab knows by its curve.
type Law struct {
	Code string  `json:"code"`
	Name string  `json:"name"`
	MM   float64 `json:"mm"` // usual thickness
}

// Laws are the gaskets that can be chosen. Their curves are typical ones, not of any maker.
var Laws = []Law{{"sheet", "compressed-fibre sheet", 2}, {"spiral", "spiral-wound gasket", 4.5},
	{"ring", "metal ring", 8}, {faces, "no gasket, face to face", 0}, {taperCode, "two clamping rings on a taper", 0}}

// Figure is a stiffness or a dimension that the model was given, with where it comes from.
type Figure struct {
	Name   string  `json:"name"`
	Value  float64 `json:"value"`
	Unit   string  `json:"unit"`
	Source string  `json:"source"`
}

// Joint is what the model computes with, and the figures that led there.
type Joint struct {
	Model     interaction.Joint `json:"-"`
	Setup     Setup             `json:"setup"` // with what was estimated
	Estimated []string          `json:"estimated"`
	Figures   []Figure          `json:"figures"`
}

// Of makes a joint of a setup. Refused, naming the field: a thread that is not known, a gasket that has no curve, a
// number of bolts or a target that cannot be, and dimensions that leave no flange.
func Of(s Setup) (*Joint, error) {
	t, err := fastener.ParseThread(s.Thread)
	if err != nil {
		return nil, quantity.Refuse("thread", "Give it as M27, or 1-8 UNC.", "%q is no thread", s.Thread)
	}
	if s.Bolts < 3 || s.Bolts > interaction.MostBolts {
		return nil, quantity.Refuse("bolts", "Count the bolts.", "must be 3 to %d", interaction.MostBolts)
	}
	if !(s.TargetKN > 0) || s.TargetKN > 1e5 {
		return nil, quantity.Refuse("targetKn", "Give the force that each bolt is to have.", "must be above 0")
	}
	d := t.DiameterMM
	j := &Joint{Estimated: []string{}}
	guess := func(v *float64, name string, usual float64) {
		if *v == 0 {
			*v = math.Round(usual*10) / 10
			j.Estimated = append(j.Estimated, name)
		}
	}
	hole := d + map[bool]float64{true: 2, false: 3}[d <= 24]
	law := -1
	for i, l := range Laws {
		if l.Code == s.Gasket {
			law = i
		}
	}
	if law < 0 {
		return nil, quantity.Refuse("gasket", "Choose sheet, spiral, ring, face or taper.", "%q has no curve", s.Gasket)
	}
	grip := s.estimate(d, Laws[law], guess)
	g := interaction.Geometry{E: 2e11, Nu: .3, RIn: s.BoreMM / 2e3, ROut: s.OutsideMM / 2e3, H: s.ThicknessMM / 1e3,
		Bolts: s.Bolts, RBolt: s.BoltCircleMM / 2e3, Hole: hole / 1e3, Bolt: d / 1e3, Pitch: t.PitchMM / 1e3,
		Grip: grip / 1e3, EBolt: 2.05e11, Hub: s.HubMM / 1e3, RHub: (s.BoreMM + s.HubMM) / 2e3}
	x, err := interaction.Derive(g)
	if err != nil {
		if r, ok := quantity.RefusalIn(err); ok {
			return nil, quantity.Refuse(fields[r.Field], r.Remedy, "%s", r.Why)
		}
		return nil, err
	}
	if s.Taper != nil {
		if err := s.Taper.check(s); err != nil {
			return nil, err
		}
	}
	if s.CurveBy != 0 && !(s.CurveBy >= .1 && s.CurveBy <= 10) {
		return nil, quantity.Refuse("curveBy", "1 is the typical curve; leave it empty when nothing was fitted.",
			"must be 0.1 to 10")
	}
	gasket := gasketOf(s, Laws[law], g)
	if s.CurveBy > 0 {
		gasket = stiff(gasket, s.CurveBy)
	}
	if gasket.ROut <= gasket.RIn {
		return nil, quantity.Refuse("boreMm", "Look at bore and bolt circle.", "leaves no room for a gasket")
	}
	j.Model = interaction.Joint{Bolts: s.Bolts, Sides: 2, RBolt: g.RBolt, ROut: g.ROut, Ring: x.Ring, KBolt: x.KBolt,
		Pitch: g.Pitch, Gasket: gasket, Yield: s.YieldKN * 1e3}
	if s.Taper != nil {
		j.Model.Float = &interaction.Float{Ke: sideways}
	}
	if s.YieldKN > 0 && s.TargetKN > s.YieldKN {
		return nil, quantity.Refuse(
			"targetKn",
			"Choose a lower target, or a stronger bolt.",
			"yields the bolt: %.0f of %.0f kN",
			s.TargetKN,
			s.YieldKN,
		)
	}
	j.Setup = s
	j.Figures = []Figure{
		{
			"bending stiffness of the ring",
			x.Ring.EI,
			"N·m²",
			"curved beam of effective width, holes taken off by their share",
		},
		{"torsional stiffness of the ring", x.Ring.GJ, "N·m²", "rectangle, the usual approximation"},
		{"hub against rotation", x.Ring.KPhi, "N/rad", "edge of a long cylinder, for each m of the circle"},
		{"hub against waviness", x.Ring.KW, "N/m²", "strip of the wall in its own plane"},
		{"bolt", x.KBolt / 1e6, "kN/mm", "stud with two nuts, after VDI 2230-1"},
		{"grip", grip, "mm", "of the bolt, between what holds it"},
	}
	j.Figures = append(j.Figures, j.contact()...)
	return j, nil
}

// estimate fills in what was not given, and gives the grip of the bolts, mm.
//
// Typical proportions of flanges stand in for dimensions: outside 2.1 d beyond the bolt circle, bore 4.2 d within it, 1.3 d
// thick, the wall of the pipe 0.27 of that. Clamping rings: outside 3.9 d beyond, bore 4 d within, 1.75 d thick.
func (s *Setup) estimate(d float64, law Law, guess func(v *float64, name string, usual float64)) float64 {
	guess(&s.PullSeconds, "seconds a pull", 45)
	guess(&s.PassSeconds, "seconds to set the tool", 120)
	if law.Code == taperCode {
		t := Taper{}
		if s.Taper != nil {
			t = *s.Taper
		}
		s.Taper = &t
		guess(&s.BoltCircleMM, "bolt circle", max(float64(s.Bolts)*5.6*d/math.Pi, 8*d))
		guess(&s.OutsideMM, "outside", s.BoltCircleMM+3.9*d)
		guess(&s.BoreMM, "bore", s.BoltCircleMM-4*d)
		guess(&s.ThicknessMM, "thickness", 1.75*d)
		s.Taper.estimate(*s, guess)
		s.GasketMM, s.HubMM, s.NeedMPa, s.FaceMM = 0, 0, 0, 0
		return 2*s.ThicknessMM - .75*d
	}
	s.Taper = nil
	guess(&s.BoltCircleMM, "bolt circle", max(float64(s.Bolts)*2.9*d/math.Pi, 5.5*d))
	guess(&s.OutsideMM, "outside", s.BoltCircleMM+2.1*d)
	guess(&s.BoreMM, "bore", max(.3*s.BoltCircleMM, s.BoltCircleMM-4.2*d))
	guess(&s.ThicknessMM, "thickness", 1.3*d)
	guess(&s.HubMM, "wall of the pipe", .27*s.ThicknessMM)
	if law.MM > 0 {
		guess(&s.GasketMM, "thickness of the gasket", law.MM)
	} else {
		s.GasketMM, s.NeedMPa = 0, 0
	}
	return 2*s.ThicknessMM + .4*d
}

// contact are the figures of what lies between the faces.
func (j *Joint) contact() []Figure {
	g, t := j.Model.Gasket, j.Setup.Taper
	if t == nil {
		out := []Figure{
			{"gasket, contact from", g.RIn * 2e3, "mm", "diameter"},
			{"gasket, contact to", g.ROut * 2e3, "mm", "diameter"},
		}
		if by := j.Setup.CurveBy; by > 0 {
			out = append(
				out,
				Figure{"gasket against its typical curve", by, "times", "fitted to what the site measured"},
			)
		}
		return out
	}
	stays := map[bool]string{
		true:  "friction is more than the slope: the rings stay when the screws are let go",
		false: "friction is less than the slope: the rings come back when the screws are let go, which is left out",
	}[t.holdsItself()]
	return []Figure{
		{"taper, slope", t.Deg, "°", stays},
		{"taper, axial stiffness of a metre", g.Points[0][1] / g.Points[0][0] * nominalWidth, "N/m²",
			"thick ring on a shaft after Lamé, slope and friction"},
		{"rings held sideways", sideways, "N/m", "typical, own assumption"},
	}
}

// fields of a geometry as the setup calls them.
var fields = map[string]string{"E": "thread", "n": "bolts", "r_i": "boreMm", "r_o": "outsideMm", "h": "thicknessMm",
	"r_b": "boltCircleMm", "d_hole": "boltCircleMm", "d_bolt": "thread", "pitch": "thread", "grip": "thicknessMm",
	"t_hub": "hubMm"}

// gasketOf is the typical curve of a gasket. Sheet: stress rises exponentially and lets go along a line that stiffens
// with what it had. Spiral-wound: three slopes. Ring and bare faces: linear and very stiff.
func gasketOf(s Setup, law Law, g interaction.Geometry) interaction.Gasket {
	t := s.GasketMM / 1e3
	in := g.RIn + .2*g.Bolt
	out := g.RBolt - g.Hole/2 - .003
	if s.FaceMM > 0 {
		out = min(out, s.FaceMM/2e3)
	}
	switch law.Code {
	case taperCode:
		return s.Taper.gasket(g.E, g.Nu, g.ROut)
	case faces:
		if s.FaceMM == 0 {
			out = g.ROut // whole faces touch, beyond the bolts too
		}
		return interaction.Gasket{Type: interaction.Metal, K: 1e13, RIn: g.RIn, ROut: out, Strips: 5}
	case "sheet":
		return interaction.Gasket{
			Type:   interaction.Exponential,
			Sigma0: 15e6,
			Delta0: t / 10,
			Ku0:    500e6 / t,
			Cu:     30 / t,
			RIn:    in,
			ROut:   out,
		}
	case "spiral":
		by := t / .0045
		return interaction.Gasket{Type: interaction.Table, Points: [][2]float64{{2e-4 * by, 1e7}, {9e-4 * by, 5.5e7},
			{1.2e-3 * by, 1e8}}, Ku0: 6e9 / t, RIn: (in+out)/2 - .008, ROut: (in+out)/2 + .008}
	}
	return interaction.Gasket{Type: interaction.Metal, K: 3e12, RIn: (in+out)/2 - t/2, ROut: (in+out)/2 + t/2}
}

// stiffer gives the joint with a gasket whose curve is so many times as stiff.
func (j *Joint) stiffer(by float64) interaction.Joint {
	m := j.Model
	m.Gasket = stiff(m.Gasket, by)
	return m
}

func stiff(g interaction.Gasket, by float64) interaction.Gasket {
	g.K, g.Sigma0, g.Ku0 = g.K*by, g.Sigma0*by, g.Ku0*by
	points := make([][2]float64, len(g.Points))
	for i, p := range g.Points {
		points[i] = [2]float64{p[0], p[1] * by}
	}
	g.Points = points
	return g
}

// Sentence is the joint in words.
func (j *Joint) Sentence() string {
	s := j.Setup
	name := ""
	for _, l := range Laws {
		if l.Code == s.Gasket {
			name = l.Name
		}
	}
	if s.GasketMM > 0 {
		name += fmt.Sprintf(", %g mm", s.GasketMM)
	}
	return fmt.Sprintf("%d bolts %s with %s, aiming at %g kN", s.Bolts, s.Thread, name, s.TargetKN)
}

var inches = regexp.MustCompile(`^(?:(\d+) )?(\d+)(?:/(\d+))? in `)

// Sized is the joint with a flange by a table instead of by its dimensions: bolts, their circle and the raised face are
// those of the size, the bore is its nominal one, and the rest is estimated.
func (s Setup) Sized(f fastener.FlangeSize) Setup {
	s.Tag, s.Name, s.Flange = "", "", f.Text
	s.Bolts, s.Thread, s.BoltCircleMM, s.FaceMM = f.Bolts, f.Thread, f.BoltCircleMM, f.RaisedFaceMM
	s.BoreMM, s.OutsideMM, s.ThicknessMM, s.HubMM, s.YieldKN = 0, 0, 0, 0, 0
	if m := nominal.FindStringSubmatch(f.Text); m != nil {
		s.BoreMM, _ = strconv.ParseFloat(m[1], 64) // it is figures
	} else if m := inches.FindStringSubmatch(f.Text); m != nil {
		s.BoreMM = math.Round(25.4 * inch(m))
	}
	if s.Gasket == taperCode {
		s.Gasket, s.Taper, s.GasketMM = Laws[0].Code, nil, 0
	}
	return s
}

// inch reads 1 1/2 out of what inches found.
func inch(m []string) float64 {
	whole, _ := strconv.ParseFloat(m[1], 64) // 0 when there is none
	over, _ := strconv.ParseFloat(m[2], 64)
	under, _ := strconv.ParseFloat(m[3], 64)
	if under == 0 {
		return over
	}
	return whole + over/under
}
