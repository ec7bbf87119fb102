package tool

import (
	"fmt"
	"math"

	"dynacor/core/quantity"
)

func describe(s SetUp) Offer {
	o := Offer{Tags: s.Tags(), Name: s.Name(), Method: s.Method(), Unit: s.Driver().Unit, Pieces: []Piece{},
		Problems: []string{}, Reasons: []string{}, Settings: []float64{}}
	for _, t := range s.String {
		o.Pieces = append(o.Pieces, Piece{t.Tag, t.Kind, t.Name()})
	}
	return o
}

// judge holds a set-up against a need.
func judge(need Need, s SetUp) Offer {
	o := describe(s)
	d := s.Driver()
	o.fullScale, o.accuracy = d.RatedMax, s.AccuracyPct()
	settings, err := s.Settings(need.Scheme, need.Nm, need.LowNm, need.HighNm)
	if err != nil {
		p := Problem{Code: "scale", What: err.Error()}
		if r, ok := quantity.RefusalIn(err); ok {
			p.What, p.Remedy = r.Why, r.Remedy
		}
		if v, err := s.Exact(need.Nm); err == nil && v > d.RatedMax {
			settings = []float64{quantity.Significant(v, 4)} // said as past the range below, with where the range ends
		} else {
			o.problems = append(o.problems, p)
		}
	}
	o.problems = append(o.problems, s.Problems(need.Nm, settings, need.MinFrac, need.On)...)
	for _, t := range s.String {
		switch {
		case t.Tag == "" && t.Kind == Socket:
			o.problems = append(o.problems,
				Problem{"missing", fmt.Sprintf("no socket %s mm with a square of %s in the crib",
					quantity.Text(t.AcrossFlatsMM), t.DriveIn), "Get one, or take a set-up with another drive."})
		case t.Tag == "":
			o.problems = append(o.problems,
				Problem{"missing", fmt.Sprintf("no hose in date for %s MPa in the crib", quantity.Text(t.MaxMPa)),
					"Get one."})
		}
		if why := need.Busy[t.Tag]; why != "" && o.Busy == "" {
			o.Busy = t.Tag + " " + why
		}
	}
	if s.Method() == ByTension && need.Bolt != nil {
		o.problems = append(o.problems, overPull(need, s)...)
	}
	if len(settings) > 0 {
		last := settings[len(settings)-1]
		o.Settings, o.Share = settings, last/d.RatedMax
		if at := s.TorqueAt(last); at.Known() {
			o.AtNutNm = at
			off := quantity.Torque(o.accuracy / 100)
			o.LowNm, o.HighNm = at*(1-off), at*(1+off)
			o.Reaction = s.ReactionAt(at)
		}
		if d.LengthMM > 0 && d.Kind.Sets() == ByTorque {
			o.PullN = float64(d.Torque(last)) / (d.LengthMM / 1000)
		}
	}
	o.off = math.Abs(o.Share - need.PreferredFrac)
	for _, p := range o.problems {
		o.Problems = append(o.Problems, p.What)
	}
	o.Usable = len(o.problems) == 0
	if o.Usable {
		o.Reasons = o.reasons(need, s)
	}
	return o
}

// overPull checks the bolt while it is pulled: 90 % of yield at most. Source: own rule, the usual limit of tensioner
// makers.
func overPull(need Need, s SetUp) []Problem {
	t, _ := s.Of(Tensioner)
	b := need.Bolt
	p, err := s.Exact(need.Nm)
	if err != nil || b.StressAreaMM2 == 0 {
		return nil
	}
	if stress := s.mpa(p) * t.AreaMM2 / b.StressAreaMM2; b.YieldMPa > 0 && stress > 0.9*b.YieldMPa {
		return []Problem{{"over_pull",
			fmt.Sprintf("pulling for this load the bolt would see %.0f MPa, past 90 %% of its yield of %.0f", stress,
				b.YieldMPa), "Ask the engineer for a lower load or a longer bolt."}}
	}
	return nil
}

func (o Offer) reasons(need Need, s SetUp) []string {
	d := s.Driver()
	var out []string
	where := "the good part of its scale"
	if o.Share > 0.9 {
		where = "near the end of its scale"
	} else if o.Share < 0.35 {
		where = "low on its scale"
	}
	if d.Kind != Preset {
		out = append(out, fmt.Sprintf("Set at %.0f %% of full scale: %s.", 100*o.Share, where))
	}
	band := fmt.Sprintf("True torque at the nut %s to %s N·m", quantity.Text(quantity.Significant(o.LowNm, 4)),
		quantity.Text(quantity.Significant(o.HighNm, 4)))
	if need.HighNm > 0 {
		if quantity.AtMost(need.LowNm, o.LowNm) && quantity.AtMost(o.HighNm, need.HighNm) {
			band += ", all inside what the document allows."
		} else {
			share := 100 * float64((min(o.HighNm, need.HighNm)-max(o.LowNm, need.LowNm))/(o.HighNm-o.LowNm))
			band += fmt.Sprintf(", %.0f %% of it inside what the document allows.", math.Max(0, share))
		}
	} else {
		band += fmt.Sprintf(" (±%s %%).", quantity.Text(quantity.Significant(o.accuracy, 3)))
	}
	out = append(out, band)
	if o.PullN > 0 {
		text := fmt.Sprintf("Pull at the grip about %.0f N.", o.PullN)
		if o.PullN > mostPull {
			text = fmt.Sprintf("Pull at the grip about %.0f N: more than one person should give.", o.PullN)
		}
		out = append(out, text)
	}
	if r := o.Reaction; r != nil {
		out = append(out, fmt.Sprintf("The arm of %s mm bears with %s kN: it needs something solid that cannot slip.",
			quantity.Text(math.Round(r.ArmMM)), quantity.Text(quantity.Significant(r.ForceN/1000, 3))))
	}
	if m, ok := s.Of(MultiplierKind); ok {
		out = append(out, fmt.Sprintf("%s turns of the wrench for a quarter turn of the nut.",
			quantity.Text(quantity.Significant(m.Gear.Nominal/4, 3))))
	}
	if o.Busy != "" {
		out = append(out, o.Busy+".")
	}
	return out
}

// ProblemsOf gives the problems of an offer with their codes and remedies.
func ProblemsOf(o Offer) []Problem { return o.problems }
