package procedure

import (
	"fmt"
	"slices"

	"dynacor/core/authority"
	"dynacor/core/measure"
	"dynacor/core/quantity"
)

// waiver refuses a check that carries the verdict and may be waived by whoever does the work.
func (v *validator) waiver(path string, c Check) {
	if c.Waive == "" {
		return
	}
	oneOf(v, path+".waive", c.Waive, []Waive{ByTechnician, ByEngineer, ByNobody})
	if c.Waive == ByTechnician && c.CarriesVerdict() {
		v.add(path+".waive", "Let an engineer say that it does not apply, or nobody.",
			"the verdict rests on this check: whoever does the work cannot waive it")
	}
	if c.Hold && c.Waive != ByNobody {
		v.add(path+".waive", "Leave it out.", "a hold is never waived")
	}
}

func (v *validator) checks() {
	seen := map[string]bool{}
	var in, out []string
	for i, c := range v.f.Checks {
		path := at("checks", c.Code, i)
		v.code(path, c.Code, seen)
		oneOf(v, path+".kind", c.Kind, CheckKinds())
		for _, t := range []struct{ field, text string }{{"title", c.Title}, {"ask", c.Ask}, {"why", c.Why}} {
			v.need(path+"."+t.field, t.text)
		}
		v.when(path, c.When)
		v.group(path+".fasteners", c.Fasteners)
		v.place(path, c)
		v.figure(path+".lifeFigure", c.LifeFigure)
		v.waiver(path, c)
		v.needs(path, c.Needs)
		for k, r := range c.Signers {
			oneOf(v, fmt.Sprintf("%s.signers[%d]", path, k), r, authority.Roles)
		}
		if len(c.Signers) > 0 && !c.Signed() {
			v.add(path+".signers", "Make it a hold or a witness point, or leave them out.", "nothing is to be signed")
		}
		if c.Sketch != "" {
			oneOf(v, path+".sketch", c.Sketch, Sketches())
		}
		if ask := kinds()[c.Kind]; ask != nil {
			ask(v, path, c)
		}
		if c.Kind == Temporary && c.Want == "in" {
			in = append(in, c.Item)
		} else if c.Kind == Temporary {
			out = append(out, c.Item)
		}
	}
	for _, item := range in {
		if !slices.Contains(out, item) {
			v.add("checks", "Add the check that takes it out.", "%s goes in and nothing asks for it to come out", item)
		}
	}
	for i, c := range v.f.Checks {
		for k, code := range c.Reopens {
			_, check := v.f.Check(code)
			if code != "check_pass" && !check && !slices.ContainsFunc(v.f.Work,
				func(s Step) bool { return s.Code == code }) {
				v.add(fmt.Sprintf("%s.reopens[%d]", at("checks", c.Code, i), k), "Name a check or a step.",
					"there is neither check nor step %q", code)
			}
		}
	}
}

// place refuses a check that is asked nowhere, or in a row of another stop.
func (v *validator) place(path string, c Check) {
	v.step(path+".before", c.Before)
	if c.Stage < 0 || c.Stage > 0 && (c.Before == "" || c.Each) {
		v.add(path+".stage", "Say before which step it is asked, or leave it out.", "is %d", c.Stage)
	}
	v.step(path+".after", c.After)
	r := slices.IndexFunc(v.f.Rows, func(g Row) bool { return g.Code == c.Row })
	gated := c.Before != "" || c.After != ""
	switch {
	case r < 0:
		v.add(path+".row", "Name a row of checks.", "there is no row %q", c.Row)
	case gated && v.f.Rows[r].Station != Tighten:
		v.add(path+".row", "Put it in a row of Tighten.", "is asked between steps and stands in a row of %s",
			v.f.Rows[r].Station)
	case !gated && c.Station != v.f.Rows[r].Station:
		v.add(path+".station", "Let them agree.", "is %q, its row belongs to %s", string(c.Station),
			v.f.Rows[r].Station)
	}
}

// kinds ask for what a check of its kind cannot be without.
func kinds() map[CheckKind]func(v *validator, path string, c Check) {
	return map[CheckKind]func(v *validator, path string, c Check){
		Measure: (*validator).measured,
		Match: func(v *validator, path string, c Check) {
			if len(c.Pairs) == 0 {
				v.add(path+".pairs", "Name the marks that must agree.", "is empty")
			}
		},
		Sequence: func(v *validator, path string, c Check) {
			if len(c.Items) < 2 {
				v.add(path+".items", "Name two parts at least.", "there is no order in it")
			}
		},
		Clock: func(v *validator, path string, c Check) {
			v.figure(path+".fromFigure", c.FromFigure)
			v.figure(path+".toFigure", c.ToFigure)
			if c.FromFigure != "" && c.ToFigure != "" {
				return
			}
			if !(c.FromHour > 0 && c.FromHour <= 12 && c.ToHour > 0 && c.ToHour <= 12) {
				v.add(path+".fromHour", "Give the sector as hours from 1 to 12.", "the sector is not given")
			}
		},
		Temporary: func(v *validator, path string, c Check) {
			v.need(path+".item", c.Item)
			oneOf(v, path+".want", c.Want, []string{"in", "out"})
		},
		Fates: func(v *validator, path string, _ Check) {
			if !v.loosens {
				v.add(path+".kind", "Put it under apart.", "parts come out only when the joint is taken apart")
			}
		},
		Responsible: func(v *validator, path string, c Check) {
			if len(c.Ways) == 0 {
				v.add(path+".ways", "Name what may be chosen.", "is empty")
			}
		},
		Orientation: func(v *validator, path string, c Check) {
			v.need(path+".expect", c.Expect)
			v.need(path+".sketch", c.Sketch)
		},
	}
}

// measured asks for what a measurement cannot be without: places, a unit, and something to hold the readings against.
func (v *validator) measured(path string, c Check) {
	oneOf(v, path+".criterion", c.Criterion, measure.Criteria())
	if c.Criterion != measure.Count {
		v.need(path+".unit", c.Unit)
	}
	if len(c.Stations) == 0 && len(c.Names) == 0 {
		v.add(path+".stations", "Say at how many places, or name them.", "is empty")
	}
	if c.LimitKey != "" {
		oneOf(v, path+".limitKey", c.LimitKey, LimitKeys())
	}
	v.figure(path+".highFigure", c.HighFigure)
	v.figure(path+".lowFigure", c.LowFigure)
	v.limits(path, c)
	if c.TimesCount != "" {
		v.group(path+".timesCount", c.TimesCount)
	}
	if c.Temperature == "" {
		return
	}
	if t, ok := v.f.Check(c.Temperature); !ok || t.Kind != Measure || t.Unit != string(quantity.Celsius) ||
		len(t.Names) != 1 {
		v.add(path+".temperature", "Name a check that measures one temperature in °C.",
			"%q reads no temperature", c.Temperature)
	}
	if quantity.Unit(c.Unit).Kind() != quantity.KindPressure {
		v.add(path+".temperature", "Leave it out: only the pressure of a gas is taken to another temperature.",
			"the unit %q is no pressure", c.Unit)
	}
}

func (v *validator) limits(path string, c Check) {
	high := c.LimitKey != "" || c.HighFigure != "" || c.Limit > 0
	low := c.LowFigure != "" || c.Low > 0 || c.TimesCount != ""
	switch c.Criterion {
	case measure.Spread, measure.Offset, measure.Maximum, measure.Equal, measure.Flush, measure.Roundness:
		if !high {
			v.add(path+".limit", "Give limit, limitKey or highFigure.", "nothing to hold the readings against")
		}
	case measure.Minimum, measure.Count:
		if !low {
			v.add(path+".low", "Give low, lowFigure or timesCount.", "nothing to hold the readings against")
		}
	case measure.Window:
		if !high || !low {
			v.add(path+".low", "Give both ends of the window.", "the window is open")
		}
	}
}
