package tool

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// ChartPoint is one line of a hydraulic tool's chart.
type ChartPoint struct {
	Pressure float64 `in:"pressure_MPa" label:"Pressure" ok:">0" json:"pressureMPa"`
	Torque   float64 `in:"torque_Nm" label:"Torque" ok:">0" json:"torqueNm"`
}

// line is a tool's relation of pressure and torque: a chart, linear between its points, or one factor in N·m per MPa.
type line struct {
	chart  []ChartPoint
	factor *float64
}

func newLine(chart []ChartPoint, factor *float64) (line, error) {
	if (len(chart) == 0) == (factor == nil) {
		return line{}, quantity.Refuse("chart", "Enter the chart of this tool, or its factor.",
			"one of chart and tool_factor_Nm_per_MPa is needed, not both")
	}
	if factor == nil && len(chart) < 2 {
		return line{}, quantity.Refuse("chart", "Enter at least two lines of the chart.", "has one point")
	}
	for i := 1; i < len(chart); i++ {
		if chart[i].Pressure <= chart[i-1].Pressure || chart[i].Torque <= chart[i-1].Torque {
			return line{}, quantity.Refuse("chart", "Enter the lines from the lowest pressure up.",
				"point %d does not rise above the one before", i+1)
		}
	}
	return line{chart, factor}, nil
}

// pressure gives the pressure of a torque; low and high tell on which side of the chart it lies.
func (l line) pressure(torque float64) (p float64, low, high bool) {
	if l.factor != nil {
		return torque / *l.factor, false, false
	}
	if !quantity.AtMost(l.chart[0].Torque, torque) {
		return 0, true, false
	}
	last := l.chart[len(l.chart)-1]
	if !quantity.AtMost(torque, last.Torque) {
		return 0, false, true
	}
	return between(torque, l.chart, func(c ChartPoint) (x, y float64) { return c.Torque, c.Pressure }), false, false
}

func (l line) torque(pressure float64) float64 {
	if l.factor != nil {
		return pressure * *l.factor
	}
	return between(pressure, l.chart, func(c ChartPoint) (x, y float64) { return c.Pressure, c.Torque })
}

// between interpolates on points with rising x; x lies within them.
func between[P any](x float64, list []P, of func(P) (x, y float64)) float64 {
	for i := 1; i < len(list); i++ {
		x0, y0 := of(list[i-1])
		x1, y1 := of(list[i])
		if x <= x1 || i == len(list)-1 {
			return y0 + (y1-y0)*(x-x0)/(x1-x0)
		}
	}
	return math.NaN()
}

// downTo rounds down to a graduation.
func downTo(v, graduation float64) float64 { return math.Floor(v/graduation+1e-9) * graduation }

// HydraulicInput asks for the pump pressure of a hydraulic torque wrench.
type HydraulicInput struct {
	Torque     float64      `in:"torque_Nm" sym:"T" label:"Torque wanted at the nut" ok:">0" eg:"3200"`
	Chart      []ChartPoint `in:"chart" label:"Chart of this tool" help:"From the plate or certificate of the very tool." opt:"true"`
	Factor     *float64     `in:"tool_factor_Nm_per_MPa" sym:"c" label:"Or its factor" ok:">0" eg:""`
	Graduation float64      `in:"graduation_MPa" sym:"g" label:"One mark on the gauge" ok:">0" eg:"1"`
	PumpLimit  float64      `in:"pump_limit_MPa" sym:"pmax" label:"Pump goes to" ok:">0" eg:"70"`
	ToolMax    float64      `in:"tool_max_Nm" sym:"Tmax" label:"Tool goes to" ok:">0" eg:"4500"`
	Tool       string       `in:"tool" label:"Tool, model and serial" help:"A chart holds for one tool." opt:"true" eg:"HT-45, no. 1107"`
}

// HydraulicResult is the pressure to set and what it gives.
type HydraulicResult struct {
	Set       float64 `out:"set_pressure_MPa" sym:"ps" label:"Set on the pump"`
	Exact     float64 `out:"pressure_MPa" sym:"p" label:"Exact pressure"`
	At        float64 `out:"torque_at_set_Nm" sym:"Ts" label:"Torque at that pressure"`
	Shortfall float64 `out:"shortfall_pct" sym:"e" label:"Short of the target by"`
}

// HydraulicPressure reads the pump pressure for a torque, rounded down to the gauge. Refused: anything outside the
// chart, past the pump or past the tool. Source: linear interpolation on the tool's own chart.
func HydraulicPressure(w *working.Working, in HydraulicInput) (HydraulicResult, error) {
	if err := quantity.Limits(in); err != nil {
		return HydraulicResult{}, err
	}
	l, err := newLine(in.Chart, in.Factor)
	if err != nil {
		return HydraulicResult{}, err
	}
	if !quantity.AtMost(in.Torque, in.ToolMax) {
		return HydraulicResult{}, quantity.Refuse("torque_Nm", "Use a larger tool.",
			"%s N·m is past the tool, which goes to %s", quantity.Text(in.Torque), quantity.Text(in.ToolMax))
	}
	p, low, high := l.pressure(in.Torque)
	if low || high {
		return HydraulicResult{},
			quantity.Refuse("torque_Nm", "Use a tool whose chart covers it; a chart is never drawn on.",
				"%s N·m is outside the chart", quantity.Text(in.Torque))
	}
	w.Step("p", pressureFormula(in.Factor), p)
	if !quantity.AtMost(p, in.PumpLimit) {
		return HydraulicResult{}, quantity.Refuse("pump_limit_MPa", "Use a pump with more pressure, or a larger tool.",
			"%s MPa is past the pump, which goes to %s", quantity.Text(p), quantity.Text(in.PumpLimit))
	}
	set := downTo(p, in.Graduation)
	if set <= 0 || in.Factor == nil && !quantity.AtMost(in.Chart[0].Pressure, set) {
		return HydraulicResult{}, quantity.Refuse("graduation_MPa", "Use a finer gauge.",
			"rounding down leaves the chart")
	}
	r := HydraulicResult{Exact: p, Set: w.Step("ps", "floor( p / g ) · g", set)}
	r.At = w.Step("Ts", torqueFormula(in.Factor), l.torque(set))
	r.Shortfall = w.Step("e", "100 · (T - Ts) / T", 100*(in.Torque-r.At)/in.Torque)
	if in.Tool == "" {
		w.Warn("Name the tool: a chart holds for one model and serial.")
	} else {
		w.Take("The chart is that of " + in.Tool + ".")
	}
	w.Take("The nut has stopped turning at the set pressure. Set the pressure with the tool off the nut.")
	w.Warn("Oil under pressure goes through skin. Hoses flat, couplings home, hands clear of the reaction arm.")
	return r, nil
}

func pressureFormula(factor *float64) string {
	if factor != nil {
		return "T / c"
	}
	return "read off the chart, straight between its points"
}

func torqueFormula(factor *float64) string {
	if factor != nil {
		return "ps · c"
	}
	return "read off the chart at ps"
}

// HydraulicLooseningInput asks whether a tool can loosen what it tightened.
type HydraulicLooseningInput struct {
	Tightening float64      `in:"tightening_torque_Nm" sym:"T" label:"Tightened to" ok:">0" eg:"2500"`
	Factor     float64      `in:"loosening_factor" sym:"f" label:"Loosening takes so much more" help:"1.3 to 2 is usual; seized nuts take more." ok:">=1" eg:"1.5"`
	Chart      []ChartPoint `in:"chart" label:"Chart of this tool" opt:"true"`
	ToolFactor *float64     `in:"tool_factor_Nm_per_MPa" sym:"c" label:"Or its factor" ok:">0" eg:""`
	PumpLimit  float64      `in:"pump_limit_MPa" sym:"pmax" label:"Pump goes to" ok:">0" eg:"70"`
	ToolMax    float64      `in:"tool_max_Nm" sym:"Tmax" label:"Tool goes to" ok:">0" eg:"4500"`
}

// HydraulicLooseningResult says whether, and with which pressure.
type HydraulicLooseningResult struct {
	Pressure *float64 `out:"pressure_MPa" sym:"p" label:"Pressure"`
	Torque   float64  `out:"loosening_torque_Nm" sym:"Tl" label:"Torque to loosen"`
	Feasible bool     `out:"feasible" label:"Can be done"`
	Reason   string   `out:"reason" label:"Why"`
}

// HydraulicLoosening tests tool and pump against the torque needed to loosen, the tool first. Refused: a torque below
// the chart.
func HydraulicLoosening(w *working.Working, in HydraulicLooseningInput) (HydraulicLooseningResult, error) {
	if err := quantity.Limits(in); err != nil {
		return HydraulicLooseningResult{}, err
	}
	l, err := newLine(in.Chart, in.ToolFactor)
	if err != nil {
		return HydraulicLooseningResult{}, err
	}
	r := HydraulicLooseningResult{Torque: w.Step("Tl", "T · f", in.Tightening*in.Factor)}
	p, low, high := l.pressure(r.Torque)
	switch {
	case low:
		return HydraulicLooseningResult{}, quantity.Refuse("tightening_torque_Nm", "Use a smaller tool.",
			"the loosening torque %s N·m is below the chart", quantity.Text(r.Torque))
	case high || !quantity.AtMost(r.Torque, in.ToolMax):
		r.Reason = "tool_max"
	case !quantity.AtMost(p, in.PumpLimit):
		r.Reason = "pump_limit"
	default:
		r.Reason, r.Feasible, r.Pressure = "ok", true, &p
		w.Step("p", pressureFormula(in.ToolFactor), p)
	}
	w.Warn("A nut that lets go moves suddenly. Keep the reaction arm on the loosening side and hands clear.")
	return r, nil
}

// TensionerInput asks for the pressure of a hydraulic bolt tensioner.
type TensionerInput struct {
	Residual   float64 `in:"residual_load_N" sym:"F" label:"Load that shall stay in the bolt" ok:">0" eg:"250000"`
	Area       float64 `in:"piston_area_mm2" sym:"A" label:"Piston area" ok:">0" eg:"3500"`
	Clamp      float64 `in:"clamp_length_mm" sym:"L" label:"Clamp length" ok:">0" eg:"180"`
	Diameter   float64 `in:"diameter_mm" sym:"d" label:"Bolt diameter" ok:">0" eg:"36"`
	StressArea float64 `in:"stress_area_mm2" sym:"As" label:"Stress area of the bolt" ok:">0" eg:"817"`
	Limit      float64 `in:"stress_limit_MPa" sym:"σmax" label:"Most stress while pulling" ok:">0" eg:"600"`
	Graduation float64 `in:"graduation_MPa" sym:"g" label:"One mark on the gauge" ok:">0" eg:"1"`
	Max        float64 `in:"max_pressure_MPa" sym:"pmax" label:"Tensioner goes to" ok:">0" eg:"150"`
	A          float64 `in:"loss_a" sym:"a" label:"Transfer loss, constant part" help:"The maker's curve governs; 1.01 is a rule of thumb of the trade." ok:">0" def:"1.01"`
	B          float64 `in:"loss_b" sym:"b" label:"Transfer loss, part with d/L" ok:">=0" def:"1.0"`
	Pass       float64 `in:"pass_factor" sym:"f" label:"More on the first half of two settings" ok:">=1" def:"1.0"`
}

// TensionerResult is the pressure and what it does to the bolt.
type TensionerResult struct {
	Set      float64 `out:"set_pressure_MPa" sym:"ps" label:"Set on the pump"`
	Transfer float64 `out:"transfer_factor" sym:"k" label:"Pull needed over load that stays"`
	Load     float64 `out:"tool_load_N" sym:"Ft" label:"Pull of the tensioner"`
	Pressure float64 `out:"pressure_MPa" sym:"p" label:"Exact pressure"`
	Stress   float64 `out:"bolt_stress_MPa" sym:"σ" label:"Stress in the bolt while pulling"`
}

// TensionerPressure gives the pressure that leaves a load in the bolt after the nut is run down and the tool let off.
// Refused: a clamp length under one diameter, pressure or stress over its limit. The default losses are a rule of thumb
// of the trade.
func TensionerPressure(w *working.Working, in TensionerInput) (TensionerResult, error) {
	if err := quantity.Limits(in); err != nil {
		return TensionerResult{}, err
	}
	if in.Clamp/in.Diameter < 1 {
		return TensionerResult{}, quantity.Refuse("clamp_length_mm", "Tighten by torque or angle instead.",
			"is shorter than one diameter: too little load would stay")
	}
	r := TensionerResult{Transfer: w.Step("k", "a + b · d / L", in.A+in.B*in.Diameter/in.Clamp)}
	if r.Transfer < 1 {
		return TensionerResult{}, quantity.Refuse("loss_a", "Take a and b from the maker's curve.",
			"the transfer comes to %s: a tensioner cannot leave more than it pulled", quantity.Text(r.Transfer))
	}
	r.Load = w.Step("Ft", "F · k · f", in.Residual*r.Transfer*in.Pass)
	r.Pressure = w.Step("p", "Ft / A", r.Load/in.Area)
	r.Stress = w.Step("σ", "Ft / As", r.Load/in.StressArea)
	if !quantity.AtMost(r.Pressure, in.Max) {
		return TensionerResult{}, quantity.Refuse("max_pressure_MPa", "Use a tensioner with a larger piston.",
			"%s MPa is needed", quantity.Text(r.Pressure))
	}
	if !quantity.AtMost(r.Stress, in.Limit) {
		return TensionerResult{},
			quantity.Refuse("stress_limit_MPa", "Ask the engineer for a lower load or a longer bolt.",
				"the bolt would see %s MPa while pulled", quantity.Text(r.Stress))
	}
	r.Set = w.Step("ps", "floor( p / g ) · g", downTo(r.Pressure, in.Graduation))
	w.Warn("Nobody stands over a bolt being pulled. Oil under pressure goes through skin.")
	return r, nil
}
