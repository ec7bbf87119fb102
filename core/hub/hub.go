// Package hub works out friction locks between shaft and hub. Lengths in mm, forces in N, pressures in MPa, torques in
// N·m. It must never replace the maker's catalogue, which states screw torque and transmitted torque.
package hub

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// LockInput is a taper-ring lock.
type LockInput struct {
	Screws        int     `in:"screws" sym:"n" label:"Screws" ok:">=1" eg:"8"`
	ScrewTorque   float64 `in:"screw_torque_Nm" sym:"Ts" label:"Torque of each screw" ok:">0" eg:"30"`
	NutFactor     float64 `in:"nut_factor" sym:"K" label:"Nut factor of the screws" ok:">0" eg:"0.16"`
	ScrewDiameter float64 `in:"screw_diameter_mm" sym:"ds" label:"Screw diameter" ok:">0" eg:"8"`
	HalfAngle     float64 `in:"taper_half_angle_deg" sym:"β" label:"Half angle of the taper" ok:">0,<45" eg:"5"`
	MuTaper       float64 `in:"mu_taper" sym:"μt" label:"Friction on the taper" ok:"0..1" eg:"0.1"`
	MuSecond      float64 `in:"mu_second" sym:"μ2" label:"Friction of the second sliding face" ok:"0..1" def:"0"`
	Shaft         float64 `in:"shaft_diameter_mm" sym:"d" label:"Shaft diameter" ok:">0" eg:"60"`
	ShaftLength   float64 `in:"shaft_length_mm" sym:"l" label:"Length on the shaft" ok:">0" eg:"30"`
	MuShaft       float64 `in:"mu_shaft" sym:"μ" label:"Friction on the shaft" ok:">0,<=1" eg:"0.12"`
	HubBore       float64 `in:"hub_bore_mm" sym:"D" label:"Hub bore" ok:">0" eg:"90"`
	HubLength     float64 `in:"hub_length_mm" sym:"L" label:"Length in the hub" ok:">0" eg:"30"`
	Axial         float64 `in:"axial_load_N" sym:"Fx" label:"Axial load to carry" ok:">=0" def:"0"`
	Required      float64 `in:"required_torque_Nm" sym:"Tn" label:"Torque to carry" ok:">0" eg:"1500"`
}

// LockResult is what the lock presses and carries.
type LockResult struct {
	Torque        float64 `out:"torque_with_axial_Nm" sym:"T" label:"Torque it carries"`
	Safety        float64 `out:"safety" sym:"S" label:"Over the torque to carry"`
	ScrewForce    float64 `out:"screw_force_N" sym:"F" label:"Load of each screw"`
	AxialForce    float64 `out:"axial_force_N" sym:"Fa" label:"Axial force of all screws"`
	Radial        float64 `out:"radial_force_N" sym:"Fr" label:"Radial force, sum around"`
	ShaftPressure float64 `out:"shaft_pressure_MPa" sym:"p" label:"Pressure on the shaft"`
	HubPressure   float64 `out:"hub_pressure_MPa" sym:"ph" label:"Pressure in the hub"`
	TorqueOnly    float64 `out:"torque_only_Nm" sym:"T0" label:"Torque without axial load"`
	AxialOnly     float64 `out:"axial_only_N" sym:"F0" label:"Axial load without torque"`
	SelfLocking   bool    `out:"self_locking" label:"Stays locked when the screws are out"`
}

// ShaftLock works out a taper-ring lock. Refused: an axial load that alone makes it slip. Source: wedge statics (cone
// clutch theory), machine-element textbooks.
func ShaftLock(w *working.Working, in LockInput) (LockResult, error) {
	if err := quantity.Limits(in); err != nil {
		return LockResult{}, err
	}
	rho := w.Calc("ρ", "friction angle of the taper", "atan(μt)", quantity.Deg(math.Atan(in.MuTaper)), "deg", "")
	r := LockResult{ScrewForce: w.Step("F", "Ts · 1000 / (K · ds)",
		in.ScrewTorque*1000/(in.NutFactor*in.ScrewDiameter))}
	r.AxialForce = w.Step("Fa", "n · F", float64(in.Screws)*r.ScrewForce)
	r.Radial = w.Step("Fr", "Fa / (tan(β + ρ) + μ2)",
		r.AxialForce/(math.Tan(quantity.Rad(in.HalfAngle+rho))+in.MuSecond))
	if in.HalfAngle+rho >= 90 || r.Radial <= 0 {
		return LockResult{}, quantity.Refuse("mu_taper", "Check angle and friction.",
			"the taper would not press at all")
	}
	r.ShaftPressure = w.Step("p", "Fr / (π · d · l)", r.Radial/(math.Pi*in.Shaft*in.ShaftLength))
	r.HubPressure = w.Step("ph", "Fr / (π · D · L)", r.Radial/(math.Pi*in.HubBore*in.HubLength))
	r.TorqueOnly = w.Step("T0", "μ · Fr · d / 2000", in.MuShaft*r.Radial*in.Shaft/2000)
	r.AxialOnly = w.Step("F0", "μ · Fr", in.MuShaft*r.Radial)
	if in.Axial >= r.AxialOnly {
		return LockResult{}, quantity.Refuse("axial_load_N", "Use a larger lock.", "%s N alone makes the lock slip",
			quantity.Text(in.Axial))
	}
	r.Torque = w.Step("T", "d / 2000 · √((μ · Fr) ^ 2 - Fx ^ 2)",
		in.Shaft/2000*math.Sqrt(r.AxialOnly*r.AxialOnly-in.Axial*in.Axial))
	r.Safety = w.Step("S", "T / Tn", r.Torque/in.Required)
	r.SelfLocking = in.HalfAngle < rho
	if r.SelfLocking {
		w.Warn("Self-locking: it does not let go by itself. Use the push-off screws, and keep clear when it springs.")
	}
	return r, nil
}

// CheckInput is a hub under inner pressure.
type CheckInput struct {
	Pressure float64 `in:"pressure_MPa" sym:"p" label:"Pressure in the bore" ok:">0" eg:"110"`
	Bore     float64 `in:"bore_mm" sym:"d" label:"Bore" ok:">0" eg:"90"`
	Outer    float64 `in:"outer_mm" sym:"D" label:"Outside diameter" ok:">0" eg:"160"`
	Yield    float64 `in:"yield_MPa" sym:"Rp" label:"Yield of the hub" ok:">0" eg:"350"`
	Shape    float64 `in:"shape_factor" sym:"C" label:"Shape factor" help:"1 for a hub as long as the lock; less when it is longer, as the maker states." ok:">0,<=1" def:"1.0"`
}

// CheckResult is the stress and the least outside diameter.
type CheckResult struct {
	OK       bool    `out:"ok" label:"Strong enough"`
	MinOuter float64 `out:"min_outer_mm" sym:"Dn" label:"Least outside diameter"`
	Hoop     float64 `out:"hoop_MPa" sym:"σ" label:"Hoop stress at the bore"`
	Tresca   float64 `out:"tresca_MPa" sym:"σT" label:"Equivalent stress"`
}

// Check holds a hub against the pressure of a lock. Refused: a pressure the material cannot take at any thickness.
// Source: Lamé thick cylinder.
func Check(w *working.Working, in CheckInput) (CheckResult, error) {
	if err := quantity.Limits(in); err != nil {
		return CheckResult{}, err
	}
	if in.Outer <= in.Bore {
		return CheckResult{}, quantity.Refuse("outer_mm", "Check both diameters.", "is not above the bore")
	}
	if in.Shape*in.Pressure >= in.Yield {
		return CheckResult{}, quantity.Refuse("pressure_MPa", "Use a stronger hub or a longer lock.",
			"no thickness takes %s MPa", quantity.Text(in.Pressure))
	}
	q := w.Calc("q", "outside over bore", "D / d", in.Outer/in.Bore, "", "")
	r := CheckResult{Hoop: w.Step("σ", "p · (q ^ 2 + 1) / (q ^ 2 - 1)", in.Pressure*(q*q+1)/(q*q-1)),
		Tresca: w.Step("σT", "2 · p · q ^ 2 / (q ^ 2 - 1)", 2*in.Pressure*q*q/(q*q-1))}
	r.MinOuter = w.Step("Dn", "d · √((Rp + C · p) / (Rp - C · p))",
		in.Bore*math.Sqrt((in.Yield+in.Shape*in.Pressure)/(in.Yield-in.Shape*in.Pressure)))
	r.OK = quantity.AtMost(r.MinOuter, in.Outer)
	return r, nil
}

// PlanInput is the tightening of a lock.
type PlanInput struct {
	Screws     int     `in:"screws" sym:"n" label:"Screws" ok:"2..120" eg:"8"`
	Target     float64 `in:"target_Nm" sym:"T" label:"Torque of each screw" ok:">0" eg:"30"`
	Increments int     `in:"increments" sym:"m" label:"Equal steps" ok:"1..100" eg:"3"`
	Start      int     `in:"start" sym:"s" label:"Start at screw" ok:">=1" def:"1"`
}

// PlanResult is the order and the rounds.
type PlanResult struct {
	Order  []int     `out:"order" label:"Order, always around the circle"`
	Rounds []float64 `out:"rounds_Nm" label:"Torque of each round, N·m"`
	From   int       `out:"check_rounds_from" label:"Then check rounds, until no screw turns, from round"`
	Pulls  int       `out:"planned_pulls" label:"Pulls planned"`
}

// Plan gives equal increments in circular order; a cross order would tilt the rings. Refused: a start that is not a
// screw.
func Plan(w *working.Working, in PlanInput) (PlanResult, error) {
	if err := quantity.Limits(in); err != nil {
		return PlanResult{}, err
	}
	if in.Start > in.Screws {
		return PlanResult{}, quantity.Refuse("start", "Choose a screw of the lock.", "%d is past the last screw",
			in.Start)
	}
	r := PlanResult{From: in.Increments + 1, Pulls: in.Screws * (in.Increments + 1)}
	for i := range in.Screws {
		r.Order = append(r.Order, (in.Start-1+i)%in.Screws+1)
	}
	for k := 1; k <= in.Increments; k++ {
		r.Rounds = append(r.Rounds, float64(k)/float64(in.Increments)*in.Target)
	}
	w.Calc("N", "pulls planned, one check round counted", "n · (m + 1)", float64(r.Pulls), "", "")
	w.Take("Around the circle, never across: the rings must come in parallel.")
	return r, nil
}

// DriftInput is a taper bush to be drawn in.
type DriftInput struct {
	Taper        float64  `in:"taper_x" sym:"x" label:"Taper 1 to" help:"On diameter, as on the drawing." ok:">0" eg:"12"`
	Clearance    float64  `in:"clearance_mm" sym:"c" label:"Play to close first, on diameter" ok:">=0" eg:"0.05"`
	Interference float64  `in:"interference_mm" sym:"i" label:"Interference wanted, on diameter" ok:">=0" eg:"0.08"`
	Pitch        *float64 `in:"pitch_mm" sym:"P" label:"Pitch of the nut" ok:">0" eg:"2"`
	Deform       float64  `in:"deform_factor" sym:"k" label:"More for hollow or soft parts" ok:">=1" def:"1.0"`
}

// DriftResult is how far the bush moves.
type DriftResult struct {
	Drift     float64  `out:"drift_mm" sym:"s" label:"Drive it on by"`
	HalfAngle float64  `out:"half_angle_deg" sym:"β" label:"Half angle"`
	Offset    float64  `out:"start_offset_mm" sym:"o" label:"Set the part back by"`
	Turns     *float64 `out:"nut_turns" sym:"n" label:"Turns of the nut"`
}

// TaperBushDrift gives the axial move that closes the play and makes the interference, so that the part can be set back
// by it.
func TaperBushDrift(w *working.Working, in DriftInput) (DriftResult, error) {
	if err := quantity.Limits(in); err != nil {
		return DriftResult{}, err
	}
	r := DriftResult{Drift: w.Step("s", "x · (c + i · k)", in.Taper*(in.Clearance+in.Interference*in.Deform))}
	r.HalfAngle = w.Step("β", "atan(1 / (2 · x))", quantity.Deg(math.Atan(1/(2*in.Taper))))
	r.Offset = w.Step("o", "s", r.Drift)
	if in.Pitch != nil {
		n := w.Step("n", "s / P", r.Drift / *in.Pitch)
		r.Turns = &n
	}
	return r, nil
}
