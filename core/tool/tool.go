package tool

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"dynacor/core/quantity"
)

// State of a tool in the crib.
type State string

// The states: in service, or put aside until somebody qualified has looked at it.
const (
	InService   State = "in_service"
	Quarantined State = "quarantined"
)

// Date is a calendar day, "2006-01-02".
type Date string

// Before reports whether the day of t (in its own zone) comes after d.
func (d Date) Before(t time.Time) bool { return string(d) < t.Format(time.DateOnly) }

// Tool is anything the crib keeps, with the certificate in force. The scale (Unit to AccuracyPct) is that of a tool
// which shows or is set to a value; the fields of other kinds are left empty. Scale values are in Unit, lengths mm,
// torques N·m, pressures MPa.
type Tool struct {
	Tag         string        `json:"tag"`
	Maker       string        `json:"maker"`
	Model       string        `json:"model,omitempty"`
	Serial      string        `json:"serial"`
	Kind        Kind          `json:"kind"`
	Unit        quantity.Unit `json:"unit"`
	SecondUnit  quantity.Unit `json:"secondUnit,omitempty"` // of the other scale of a two-scale wrench
	RatedMin    float64       `json:"ratedMin"`             // lower end the maker guarantees
	RatedMax    float64       `json:"ratedMax"`             // full scale; the limit of a pump
	PrintedMin  float64       `json:"printedMin"`           // lowest mark printed
	MainStep    float64       `json:"mainStep"`             // between lines of the main scale
	Graduation  float64       `json:"graduation"`           // one mark on the grip, the dial, the gauge
	AccuracyPct float64       `json:"accuracyPct"`
	Directions  string        `json:"directions,omitempty"` // "both" or "clockwise"; "": not said

	Drive   string  `json:"drive"`             // square towards the nut, for example 1/2 in
	DriveIn string  `json:"driveIn,omitempty"` // square towards the hand, of what goes between
	MaxNm   float64 `json:"maxNm,omitempty"`   // most it may carry or put out
	// wrench: square to middle of the grip; adapter: square to nut
	LengthMM      float64      `json:"lengthMm,omitempty"`
	DiameterMM    float64      `json:"diameterMm,omitempty"`    // shaft of an extension
	AcrossFlatsMM float64      `json:"acrossFlatsMm,omitempty"` // hexagon it takes
	Impact        bool         `json:"impact,omitempty"`        // a socket rated for impact and power tools
	Gear          *Gear        `json:"gear,omitempty"`          // of a multiplier
	Chart         []ChartPoint `json:"chart,omitempty"`         // pressure to torque, of a hydraulic wrench
	AreaMM2       float64      `json:"areaMm2,omitempty"`       // piston of a tensioner
	StrokeMM      float64      `json:"strokeMm,omitempty"`
	LossA         float64      `json:"lossA,omitempty"`  // transfer loss of a tensioner, constant part
	LossB         float64      `json:"lossB,omitempty"`  // and the part with diameter over clamp length
	MaxMPa        float64      `json:"maxMPa,omitempty"` // most pressure it may see
	MassKg        float64      `json:"massKg,omitempty"`

	Lock        string `json:"lock"`        // how the setting is locked
	StorageRule string `json:"storageRule"` // how it is put away
	MayLoosen   bool   `json:"mayLoosen"`
	Place       string `json:"place"`
	State       State  `json:"state"`
	StateReason string `json:"stateReason,omitempty"`

	Certificate     string       `json:"certificate"`
	CalibratedOn    Date         `json:"calibratedOn"`
	CalibrationEnds Date         `json:"calibrationEnds"`
	CycleLimit      int          `json:"cycleLimit,omitempty"` // pulls between calibrations; 0: by date alone
	Cycles          int          `json:"cycles,omitempty"`     // pulls since the calibration
	Points          []ErrorPoint `json:"points,omitempty"`     // of the certificate
}

// Gear is what a torque multiplier is.
type Gear struct {
	Nominal       float64 `json:"nominal"`         // ratio of its teeth
	Measured      float64 `json:"measured"`        // torque out over torque in, from its test
	TestPct       float64 `json:"testPct"`         // how sure the measured ratio is
	ArmMM         float64 `json:"armMm"`           // drive to where the reaction foot bears
	SameDirection bool    `json:"sameDirection"`   // input and output turn the same way
	Stops         bool    `json:"stops,omitempty"` // has an anti-wind-up ratchet
}

// ErrorPoint is one reading of a calibration certificate on the tool's scale.
type ErrorPoint struct {
	Set           float64 `json:"set"`    // shown by the tool
	True          float64 `json:"actual"` // measured by the laboratory
	Anticlockwise bool    `json:"anticlockwise,omitempty"`
}

// ErrorPct is 100·(set − true)/true. Source: ISO 6789-1.
func (p ErrorPoint) ErrorPct() float64 { return 100 * (p.Set - p.True) / p.True }

// Problem is a reason why a tool may not be used.
type Problem struct {
	Code   string // "quarantined", "calibration", "below_range", "above_range", …
	What   string
	Remedy string
}

// Dated reports whether a tool of this kind may not be used without a certificate in date.
func (t Tool) Dated() bool { return t.Kind.facts().dated }

// Standing gives the problems of the tool itself on a day: put aside, past its certificate or its count of pulls.
func (t Tool) Standing(on time.Time) []Problem {
	var out []Problem
	if t.State == Quarantined {
		out = append(out, Problem{"quarantined", fmt.Sprintf("%s is put aside: %s", t.Tag, t.StateReason),
			"Take another one, or have it checked and released."})
	}
	if t.Dated() && (t.CalibrationEnds == "" || t.CalibrationEnds.Before(on)) {
		out = append(out, Problem{"calibration", fmt.Sprintf("Calibration of %s ran out on %s", t.Tag,
			t.CalibrationEnds), "Take one in date, or ask the crib."})
	} else if t.CalibrationEnds != "" && t.CalibrationEnds.Before(on) {
		out = append(out, Problem{"calibration", fmt.Sprintf("The inspection of %s ran out on %s", t.Tag,
			t.CalibrationEnds), "Take one in date, or ask the crib."})
	}
	if t.CycleLimit > 0 && t.Cycles >= t.CycleLimit {
		out = append(out, Problem{"cycles", fmt.Sprintf("%s has made %d of %d pulls since its calibration", t.Tag,
			t.Cycles, t.CycleLimit), "Take another one; send this one to be calibrated."})
	}
	return out
}

// Turns gives the problem of a tool that works one way only on a thread that tightens the other way.
func (t Tool) Turns(leftHand bool) []Problem {
	if !leftHand || t.Directions != "clockwise" {
		return nil
	}
	return []Problem{{"direction", t.Tag + " works clockwise only, and this is a left-hand thread",
		"Take one that works both ways."}}
}

// Fit judges a tool with a scale for a set of settings (scale units) on a day. An empty answer means it may be used.
func (t Tool) Fit(settings []float64, minFrac float64, on time.Time) []Problem {
	out := t.Standing(on)
	lo, hi := t.Usable(minFrac)
	for _, s := range settings {
		if !quantity.AtMost(lo, s) {
			out = append(out, Problem{"below_range",
				fmt.Sprintf("%s %s is under the usable range of %s, which starts at %s", quantity.Text(s),
					t.Unit.Symbol(), t.Tag, quantity.Text(lo)),
				"Take a smaller wrench for this stage, or another stage scheme."})
			break
		}
	}
	for _, s := range settings {
		if !quantity.AtMost(s, hi) {
			out = append(out, Problem{"above_range", fmt.Sprintf("%s %s is past %s. It goes to %s", quantity.Text(s),
				t.Unit.Symbol(), t.Tag, quantity.Text(hi)), "Take a larger wrench, or a multiplier."})
			break
		}
	}
	return out
}

// Usable gives the range of settings allowed by the maker's guarantee and the house rule (minFrac of full scale), scale
// units. The house rule is about springs and levers of torque wrenches: a gauge is usable from its own lower end.
func (t Tool) Usable(minFrac float64) (lo, hi float64) {
	if t.Kind.Sets() == ByPressure || t.Kind == Preset {
		return t.RatedMin, t.RatedMax
	}
	return math.Max(t.RatedMin, minFrac*t.RatedMax), t.RatedMax
}

// Condition is how a tool stands on a day: fit, due_soon (within days, or nine tenths of its pulls), overdue or
// quarantined.
func (t Tool) Condition(on time.Time, days int) string {
	problems := t.Standing(on)
	switch {
	case t.State == Quarantined:
		return "quarantined"
	case len(problems) > 0:
		return "overdue"
	case t.CalibrationEnds != "" && t.CalibrationEnds.Before(on.AddDate(0, 0, days)),
		t.CycleLimit > 0 && t.Cycles*10 >= t.CycleLimit*9:
		return "due_soon"
	}
	return "fit"
}

// Torque is what a value of its scale stands for.
func (t Tool) Torque(v float64) quantity.Torque { return quantity.TorqueOf(v, t.Unit) }

// Name says what it is in a few words, with its range or size.
func (t Tool) Name() string {
	f := t.Kind.facts()
	switch {
	case t.Gear != nil:
		return fmt.Sprintf("%s %s : 1", f.word, quantity.Text(quantity.Significant(t.Gear.Measured, 4)))
	case t.Kind == Socket:
		return fmt.Sprintf("socket %s mm, %s", quantity.Text(t.AcrossFlatsMM), t.DriveIn)
	case t.Kind == Adapter:
		return fmt.Sprintf("%s %s mm, %s mm to the nut", f.word, quantity.Text(t.AcrossFlatsMM),
			quantity.Text(t.LengthMM))
	case t.Kind == Extension || t.Kind == Hose:
		return fmt.Sprintf("%s, %s mm", f.word, quantity.Text(t.LengthMM))
	case len(t.Chart) > 0:
		return fmt.Sprintf("%s to %s N·m", f.word, quantity.Text(t.Chart[len(t.Chart)-1].Torque))
	case f.scale != "" && t.Kind == Preset:
		return fmt.Sprintf("%s, %s %s", f.word, quantity.Text(t.RatedMax), t.Unit.Symbol())
	case f.scale != "":
		return fmt.Sprintf("%s, %s to %s %s", f.word, quantity.Text(t.RatedMin), quantity.Text(t.RatedMax),
			t.Unit.Symbol())
	}
	return f.word
}

// Check refuses a tool whose data cannot be right, by the field.
func (t Tool) Check() error {
	if t.Tag == "" {
		return quantity.Refuse("tag", "Enter the tag on the tool.", "is empty")
	}
	if strings.Contains(t.Tag, "+") {
		return quantity.Refuse("tag", "Leave out the plus: it joins the tools of a set-up.", "%q holds a plus", t.Tag)
	}
	f, ok := kinds[t.Kind]
	if !ok {
		return quantity.Refuse("kind", "Choose one of the list.", "%q is not a kind of tool", string(t.Kind))
	}
	if f.scale != "" {
		if err := t.checkScale(f); err != nil {
			return err
		}
	}
	for _, v := range []struct {
		field string
		v     float64
	}{{"maxNm", t.MaxNm}, {"lengthMm", t.LengthMM}, {"diameterMm", t.DiameterMM}, {"acrossFlatsMm", t.AcrossFlatsMM},
		{"areaMm2", t.AreaMM2}, {"strokeMm", t.StrokeMM}, {"maxMPa", t.MaxMPa},
		{"massKg", t.MassKg}, {"lossA", t.LossA}, {"lossB", t.LossB}, {"cycles", float64(t.Cycles)},
		{"cycleLimit", float64(t.CycleLimit)}} {
		if v.v < 0 || !quantity.Finite(v.v) {
			return quantity.Refuse(v.field, "Enter zero or more.", "is %s", quantity.Text(v.v))
		}
	}
	for _, n := range f.needs {
		if t.missing(n) {
			return quantity.Refuse(n, needHelp[n], "is not given; a %s cannot be used without it", f.word)
		}
	}
	for _, d := range []struct{ field, v string }{{"drive", t.Drive}, {"driveIn", t.DriveIn}} {
		if _, err := DriveSize(d.v); d.v != "" && err != nil {
			return quantity.Refuse(d.field, "Write it as 1/2 in or 19 mm.", "%q is not the size of a drive", d.v)
		}
	}
	if t.Gear != nil {
		if err := t.Gear.check(); err != nil {
			return err
		}
	}
	if len(t.Chart) > 0 {
		if _, err := newLine(t.Chart, nil); err != nil {
			return err
		}
	}
	if t.MayLoosen && t.Directions == "clockwise" {
		return quantity.Refuse("mayLoosen", "Say that it works both ways, or that it never loosens.",
			"cannot be: it works clockwise only")
	}
	return t.checkCertificate(f)
}

func (t Tool) checkScale(f facts) error {
	if t.Unit.Kind() != f.scale {
		return quantity.Refuse("unit", "Choose a unit of "+string(f.scale)+".", "%q is not a unit of %s",
			string(t.Unit), f.scale)
	}
	if t.SecondUnit != "" && (t.SecondUnit.Kind() != f.scale || t.SecondUnit == t.Unit) {
		return quantity.Refuse("secondUnit", "Choose another unit of "+string(f.scale)+", or none.",
			"%q is not the unit of a second scale", string(t.SecondUnit))
	}
	if err := quantity.Positive("ratedMax", t.RatedMax, "graduation", t.Graduation); err != nil {
		return err
	}
	if t.RatedMin < 0 || t.Kind.Sets() == ByTorque && t.RatedMin == 0 || t.RatedMax < t.RatedMin ||
		t.RatedMax == t.RatedMin && t.Kind != Preset {
		return quantity.Refuse("ratedMax", "Check both ends of the range.", "%s is not above the lower end %s",
			quantity.Text(t.RatedMax), quantity.Text(t.RatedMin))
	}
	if t.PrintedMin < 0 || t.PrintedMin > t.RatedMin {
		return quantity.Refuse("printedMin", "Enter the lowest mark printed on the scale.",
			"%s is not between 0 and the rated minimum", quantity.Text(t.PrintedMin))
	}
	if t.AccuracyPct <= 0 || t.AccuracyPct > 20 {
		return quantity.Refuse("accuracyPct", "Enter the accuracy from the certificate, in percent.",
			"%s %% is not between 0 and 20", quantity.Text(t.AccuracyPct))
	}
	if t.Kind == Click {
		if err := quantity.Positive("mainStep", t.MainStep); err != nil {
			return err
		}
		d := t.MainStep / t.Graduation
		if d < 1 || math.Abs(d-math.Round(d)) > 1e-9 {
			return quantity.Refuse("graduation", "Count the marks between two main lines.",
				"the main step %s is not a whole number of marks of %s", quantity.Text(t.MainStep),
				quantity.Text(t.Graduation))
		}
	}
	if !slices.Contains([]string{"", "both", "clockwise"}, t.Directions) {
		return quantity.Refuse("directions", "Choose both or clockwise.", "%q is not a direction", t.Directions)
	}
	return nil
}

func (g Gear) check() error {
	if err := quantity.Positive("gear.nominal", g.Nominal, "gear.measured", g.Measured, "gear.armMm",
		g.ArmMM); err != nil {
		return err
	}
	if !quantity.AtMost(g.Measured, g.Nominal) {
		return quantity.Refuse("gear.measured",
			"Enter the torque ratio from its test; losses make it smaller than the gear ratio.",
			"%s is above the gear ratio %s", quantity.Text(g.Measured), quantity.Text(g.Nominal))
	}
	return quantity.Between("gear.testPct", g.TestPct, 0, 20)
}

func (t Tool) checkCertificate(f facts) error {
	for _, d := range []struct {
		n string
		d Date
	}{{"calibratedOn", t.CalibratedOn}, {"calibrationEnds", t.CalibrationEnds}} {
		if d.d == "" && !f.dated {
			continue
		}
		if _, err := time.Parse(time.DateOnly, string(d.d)); err != nil {
			return quantity.Refuse(d.n, "Enter the day as 2026-11-23.", "%q is not a day", string(d.d))
		}
	}
	if t.CalibratedOn != "" && t.CalibrationEnds != "" && t.CalibrationEnds < t.CalibratedOn {
		return quantity.Refuse("calibrationEnds", "Check both days.", "%s is before the calibration", t.CalibrationEnds)
	}
	for i, p := range t.Points {
		if err := quantity.Positive("points", p.Set, "points", p.True); err != nil {
			return err
		}
		if e := p.ErrorPct(); !quantity.AtMost(math.Abs(e), t.AccuracyPct) {
			return quantity.Refuse("points",
				"Check the figure. If the certificate says so, keep it as a check of the tool as found: that "+
					"puts it aside.", "point %d, %s for %s, is %.1f %% off; the class is ±%s %%", i+1,
				quantity.Text(p.Set), quantity.Text(p.True), e, quantity.Text(t.AccuracyPct))
		}
	}
	return nil
}

// CorrectionAt is what the certificate's points say of a reading: true less shown, straight between the means at each
// setting. ok is false when the points do not reach so far.
func (t Tool) CorrectionAt(shown float64) (correction float64, ok bool) {
	sum, count := map[float64]float64{}, map[float64]float64{}
	for _, p := range t.Points {
		if !p.Anticlockwise {
			sum[p.Set], count[p.Set] = sum[p.Set]+p.True, count[p.Set]+1
		}
	}
	var list []CertificatePoint
	for set := range sum {
		list = append(list, CertificatePoint{Indicated: set, True: sum[set] / count[set]})
	}
	slices.SortFunc(list, func(a, b CertificatePoint) int { return cmp.Compare(a.Indicated, b.Indicated) })
	if len(list) < 2 {
		return 0, false
	}
	r, err := CertificateCorrection(nil, CertificateInput{Points: list, Indicated: &shown})
	return r.Correction, err == nil
}

// DriveSize reads the size of a drive: 1/2 in, 1 1/2 in, 19 mm. Drives are named after the inch size; 19 and 25 mm are
// other names of 3/4 and 1 in.
func DriveSize(s string) (quantity.Length, error) {
	r, err := quantity.Parse(quantity.KindLength, s, "")
	if err != nil {
		return 0, err
	}
	for _, inch := range []float64{.25, .375, .5, .75, 1, 1.5, 2.5} {
		if math.Abs(r.Canonical-25.4*inch) < 0.6 {
			return quantity.Length(25.4 * inch), nil
		}
	}
	return quantity.Length(r.Canonical), nil
}
