package tool

import (
	"slices"

	"dynacor/core/quantity"
)

// Kind of a tool.
type Kind string

// The kinds. A hydraulic wrench turns by a square drive, or takes the hexagon itself when it has an across-flats size
// and no drive.
const (
	Click           Kind = "click"
	Preset          Kind = "preset"
	Dial            Kind = "dial"
	Electronic      Kind = "electronic"
	ElectronicAngle Kind = "electronic_angle"
	Screwdriver     Kind = "screwdriver"

	MultiplierKind Kind = "multiplier"
	Adapter        Kind = "adapter"
	Extension      Kind = "extension"
	Socket         Kind = "socket"

	HydraulicWrench Kind = "hydraulic_wrench"
	Pump            Kind = "pump"
	Hose            Kind = "hose"
	Tensioner       Kind = "tensioner"

	Spanner    Kind = "spanner"
	Ratchet    Kind = "ratchet"
	Impact     Kind = "impact"
	PipeWrench Kind = "pipe_wrench"

	Caliper       Kind = "caliper"
	Feelers       Kind = "feelers"
	DepthGauge    Kind = "depth_gauge"
	DialIndicator Kind = "dial_indicator"
	Level         Kind = "level"
	PressureGauge Kind = "pressure_gauge"
	TorqueMeter   Kind = "torque_meter"
	StretchGauge  Kind = "stretch_gauge"
)

// What a tool in the hand is set by.
const (
	ByTorque   = "torque"
	ByPressure = "pressure"
)

// facts are what holds for every tool of a kind.
type facts struct {
	word  string
	scale quantity.Kind // "" when it shows nothing
	dated bool          // not to be used without a certificate in date
	sets  string        // ByTorque, ByPressure, or "" when nothing is set on it
	needs []string      // fields it cannot be used without
	group string
}

var kinds = map[Kind]facts{
	Click:      {"click wrench", quantity.KindTorque, true, ByTorque, []string{"drive"}, "wrenches"},
	Preset:     {"preset click wrench", quantity.KindTorque, true, ByTorque, []string{"drive"}, "wrenches"},
	Dial:       {"dial wrench", quantity.KindTorque, true, ByTorque, []string{"drive"}, "wrenches"},
	Electronic: {"electronic torque wrench", quantity.KindTorque, true, ByTorque, []string{"drive"}, "wrenches"},
	ElectronicAngle: {"electronic torque and angle wrench", quantity.KindTorque, true, ByTorque, []string{"drive"},
		"wrenches"},
	Screwdriver:     {"torque screwdriver", quantity.KindTorque, true, ByTorque, []string{"drive"}, "wrenches"},
	MultiplierKind:  {"multiplier", "", true, "", []string{"gear", "drive", "driveIn", "maxNm"}, "between"},
	Adapter:         {"crowfoot adapter", "", false, "", []string{"driveIn", "lengthMm", "acrossFlatsMm"}, "between"},
	Extension:       {"straight extension", "", false, "", []string{"drive", "driveIn", "lengthMm"}, "between"},
	Socket:          {"socket", "", false, "", []string{"driveIn", "acrossFlatsMm"}, "between"},
	HydraulicWrench: {"hydraulic torque wrench", "", true, "", []string{"chart", "maxNm", "maxMPa"}, "hydraulic"},
	Pump:            {"hydraulic pump", quantity.KindPressure, true, ByPressure, nil, "hydraulic"},
	Hose:            {"hydraulic hose", "", false, "", []string{"maxMPa"}, "hydraulic"},
	Tensioner:       {"bolt tensioner", "", true, "", []string{"areaMm2", "strokeMm", "maxMPa", "lossA"}, "hydraulic"},
	Spanner:         {"spanner", "", false, "", nil, "running down"},
	Ratchet:         {"ratchet", "", false, "", []string{"drive"}, "running down"},
	Impact:          {"impact wrench", "", false, "", []string{"drive"}, "running down"},
	PipeWrench:      {"pipe wrench", "", false, "", nil, "running down"},
	Caliper:         {"caliper", quantity.KindLength, true, "", nil, "gauges"},
	Feelers:         {"feeler gauges", quantity.KindLength, true, "", nil, "gauges"},
	DepthGauge:      {"depth gauge", quantity.KindLength, true, "", nil, "gauges"},
	DialIndicator:   {"dial indicator", quantity.KindLength, true, "", nil, "gauges"},
	Level:           {"level", "", true, "", nil, "gauges"},
	PressureGauge:   {"pressure gauge", quantity.KindPressure, true, "", nil, "gauges"},
	TorqueMeter:     {"torque meter", quantity.KindTorque, true, "", nil, "gauges"},
	StretchGauge:    {"stretch gauge", quantity.KindLength, true, "", nil, "gauges"},
}

var needHelp = map[string]string{
	"drive":    "Enter the square towards the nut, for example 1/2 in.",
	"driveIn":  "Enter the square towards the hand, for example 1/2 in.",
	"gear":     "Enter the gear ratio, the measured ratio and the reaction arm.",
	"maxNm":    "Enter the most it may carry, from its plate.",
	"lengthMm": "Measure it, in mm.", "acrossFlatsMm": "Enter the hexagon it fits, in mm.",
	"chart":  "Enter the chart of this very tool: pressure and torque, line by line.",
	"maxMPa": "Enter the highest pressure on its plate.", "areaMm2": "Enter the piston area from its plate.",
	"strokeMm": "Enter the stroke of its piston.",
	"lossA":    "Enter the transfer loss from the maker's curve; 1.01 and 1.0 are a rule of thumb of the trade.",
}

func (k Kind) facts() facts { return kinds[k] }

// Word is the kind in words.
func (k Kind) Word() string { return kinds[k].word }

// Group is the shelf of the crib: wrenches, between, hydraulic, running down or gauges.
func (k Kind) Group() string { return kinds[k].group }

// Sets tells what a tool of the kind is set by: ByTorque, ByPressure, or "" when nothing is set on it.
func (k Kind) Sets() string { return kinds[k].sets }

// Reads reports whether the tool shows the torque while it is pulled, so that a reading belongs to each pull.
func (k Kind) Reads() bool { return k == Dial || k == Electronic || k == ElectronicAngle }

// KindView is a kind as a form needs it.
type KindView struct {
	Kind  Kind     `json:"kind"`
	Word  string   `json:"word"`
	Group string   `json:"group"`
	Scale string   `json:"scale"` // torque, pressure, length or ""
	Dated bool     `json:"dated"`
	Needs []string `json:"needs"`
}

// Kinds lists the kinds, in the order of the shelves.
func Kinds() []KindView {
	var out []KindView
	for _, k := range []Kind{Click, Preset, Dial, Electronic, ElectronicAngle, Screwdriver, MultiplierKind, Adapter,
		Extension, Socket, HydraulicWrench, Pump, Hose, Tensioner, Spanner, Ratchet, Impact, PipeWrench,
		Caliper, Feelers, DepthGauge, DialIndicator, Level, PressureGauge, TorqueMeter, StretchGauge} {
		f := kinds[k]
		out = append(out, KindView{k, f.word, f.group, string(f.scale), f.dated, append([]string{}, f.needs...)})
	}
	return out
}

// missing reports whether a field that the kind needs is empty.
func (t Tool) missing(field string) bool {
	v, ok := map[string]bool{"drive": t.Drive == "", "driveIn": t.DriveIn == "", "gear": t.Gear == nil,
		"maxNm": t.MaxNm == 0, "lengthMm": t.LengthMM == 0, "acrossFlatsMm": t.AcrossFlatsMM == 0,
		"chart": len(t.Chart) == 0, "maxMPa": t.MaxMPa == 0, "areaMm2": t.AreaMM2 == 0, "strokeMm": t.StrokeMM == 0,
		"lossA": t.LossA == 0}[field]
	return !ok || v
}

// Between reports whether a tool of the kind goes between wrench and nut.
func (k Kind) Between() bool {
	return slices.Contains([]Kind{MultiplierKind, Adapter, Extension, Socket}, k)
}

// RunsDown lists the kinds that turn a nut and tell no torque.
func RunsDown() []Kind { return []Kind{Spanner, Ratchet, Impact, PipeWrench} }

// Classes lists what a procedure can forbid: ways of tightening to a value, and kinds that run down.
func Classes() []string {
	out := []string{string(ByWrench), string(ByMultiplier), string(ByHydraulics), string(ByTension)}
	for _, k := range RunsDown() {
		out = append(out, string(k))
	}
	return out
}
