package run

import (
	"math"

	"dynacor/core/pressure"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

// celsius is the temperature that a check reads, as it was last answered and not called into question since.
func (f *folder) celsius(code string) (t float64, ok bool) {
	i := f.checkIndex(code)
	if i < 0 {
		return 0, false
	}
	cs := f.s.Checks[i]
	if !cs.Status.Settled() || len(cs.Values) != 1 {
		return 0, false
	}
	return cs.Values[0], true
}

// gasAt takes the pressure of a closed gas, in the unit of a check, from one temperature to another, °C.
func gasAt(w *working.Working, c procedure.Check, v, from, to float64) (float64, error) {
	unit := quantity.Unit(c.Unit)
	mpa, err := quantity.Convert(v, unit, quantity.Megapascal)
	if err != nil {
		return 0, err
	}
	air, err := quantity.Convert(pressure.AtmosphereMPa, quantity.Megapascal, unit)
	if err != nil {
		return 0, err
	}
	r, err := pressure.GasPressure(nil, pressure.GasInput{Pressure: mpa, From: from, To: to, Purpose: "service",
		Atm: pressure.AtmosphereMPa})
	if err != nil {
		return 0, err
	}
	out, err := quantity.Convert(r.Pressure, quantity.Megapascal, unit)
	if err != nil {
		return 0, err
	}
	w.Supply("p1", "pressure read", v, unit, "reading")
	w.Supply("t1", "its temperature", from, quantity.Celsius, "reading")
	w.Supply("t2", "temperature at which it is stated", to, quantity.Celsius, "ISO 1")
	w.Supply("pa", "air pressure", air, unit, "standard atmosphere")
	return w.Calc("p2", "pressure then", "(p1 + pa) · (t2 + 273.15) / (t1 + 273.15) - pa", out, unit,
		"ideal gas, constant volume"), nil
}

// atReference takes readings of a gas to the temperature at which its limits hold. Refused: the temperature is not
// known.
func (f *folder) atReference(i int, c procedure.Check, values []float64) ([]float64, error) {
	t, ok := f.celsius(c.Temperature)
	if !ok {
		asked, _ := f.check(c.Temperature)
		return nil, quantity.Refuse("values", "Answer "+asked.Title+" first.",
			"without its temperature the pressure of a gas says nothing")
	}
	w := working.New(c.Title + " at 20 °C")
	out := make([]float64, len(values))
	for k, v := range values {
		var err error
		if out[k], err = gasAt(w, c, v, t, pressure.GasReferenceC); err != nil {
			return nil, err
		}
	}
	f.s.Checks[i].Working = w
	return out, nil
}

// temperatures tells the limits of gases at the temperature that was read, and asks for their pressure again when it
// was read anew.
func (f *folder) temperatures(read procedure.Check) {
	for _, c := range f.p.Checks {
		if c.Temperature != read.Code {
			continue
		}
		cs := &f.s.Checks[f.checkIndex(c.Code)]
		cs.AtTemperature = nil
		if t, ok := f.celsius(read.Code); ok {
			low, err := gasAt(nil, c, c.Low, pressure.GasReferenceC, t)
			high, also := gasAt(nil, c, c.Limit, pressure.GasReferenceC, t)
			if err == nil && also == nil {
				cs.AtTemperature = &AtTemperature{
					Celsius: t,
					Low:     math.Ceil(low*100) / 100,
					High:    math.Floor(high*100) / 100,
				}
			}
		}
		f.lookAgain([]string{c.Code}, read.Title+" was read anew: the temperature makes another pressure of it.")
	}
}
