package demo

import (
	"context"
	"fmt"

	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/internal/app"
)

// tables of torques that the invented site has entered from its makers' documents.
func tables() []fastener.Table {
	nm := quantity.NewtonMetre
	return []fastener.Table{
		{Code: "SDX", Name: "Shrink discs, series SDX", Document: "Ostrey SDX sheet", Revision: "4", Page: "page 2",
			KeyNames: []string{"Type", "Size"}, Unit: nm, TolerancePct: 5, Rows: []fastener.TableRow{
				{Keys: []string{"SDX", "50"}, Thread: "M8", Nominal: 28}, {Keys: []string{"SDX", "65"}, Thread: "M10",
					Nominal: 58}, {Keys: []string{"SDX", "80"}, Thread: "M10", Nominal: 58},
				{Keys: []string{"SDX", "100"}, Thread: "M12", Nominal: 98},
				{Keys: []string{"SDX-H", "65"}, Thread: "M12", Nominal: 105},
				{Keys: []string{"SDX-H", "80"}, Thread: "M12",
					Nominal: 105},
			}},
		{Code: "STEEL", Name: "Bolt assemblies of the steelwork", Document: "TS-ST-100", Revision: "B", Page: "table 3",
			KeyNames: []string{"Thread", "Class"}, Unit: nm, TolerancePct: 5, Rows: []fastener.TableRow{
				{Keys: []string{"M16", "10.9"}, Thread: "M16", Nominal: 190},
				{Keys: []string{"M20", "10.9"}, Thread: "M20",
					Nominal: 370}, {Keys: []string{"M24", "10.9"}, Thread: "M24", Nominal: 620},
			}},
		{Code: "COLOUR", Name: "Profile bolts by colour", Document: "TS-TR-014", Revision: "A",
			KeyNames: []string{"Colour"}, Unit: nm, TolerancePct: 8, Rows: []fastener.TableRow{
				{Keys: []string{"blue"}, Thread: "M12", Nominal: 65},
				{Keys: []string{"yellow"}, Thread: "M16", Nominal: 150},
				{Keys: []string{"red"}, Thread: "M20", Nominal: 290},
			}},
	}
}

func torque(v, tol float64) plan.Target {
	return plan.Target{Form: plan.TorqueNominal, Nominal: v, MinusPct: tol, PlusPct: tol, Unit: quantity.NewtonMetre}
}

// bolts are n fasteners of a group at a torque.
func bolts(group string, n int, thread, material, lubricant string, nm, tol float64) plan.Fasteners {
	return plan.Fasteners{Group: group, Bolts: n, Thread: thread, Material: material, Lubricant: lubricant,
		Target: torque(nm, tol)}
}

func between(f plan.Fasteners, lo, hi float64, u quantity.Unit) plan.Fasteners {
	f.Target = plan.Target{Form: plan.TorqueRange, Min: lo, Max: hi, Unit: u}
	return f
}

func fromTable(f plan.Fasteners, table string, keys ...string) plan.Fasteners {
	f.Thread, f.Target = "", plan.Target{Form: plan.LookUp, Table: table, Keys: keys}
	return f
}

func stated(group string) plan.Fasteners {
	return plan.Fasteners{Group: group, Target: plan.Target{Form: plan.Stated}}
}

type sample struct {
	tag, name, area, equipment, service, family, document, size string
	variant                                                     map[string]string
	figures                                                     map[string]float64
	first                                                       plan.Fasteners
	others                                                      []plan.Fasteners
}

// samples are one joint, or more, of every family beside the gasketed flanges of the register. All values are invented.
func samples() []sample {
	one := func(k, v string) map[string]string { return map[string]string{k: v} }
	fig := func(kv ...any) map[string]float64 {
		out := map[string]float64{}
		for i := 0; i < len(kv); i += 2 {
			switch v := kv[i+1].(type) {
			case int:
				out[kv[i].(string)] = float64(v)
			case float64:
				out[kv[i].(string)] = v
			}
		}
		return out
	}
	gate, turbine, cooling := "5 Gate 3", "2 Turbine 2", "4 Cooling house"
	return []sample{
		{"SD-21", "Hoist gearbox shaft lock", gate, "Hoist 3", "gear", "shrink_disc", "Ostrey SDX sheet", "SDX 65",
			one("shoulder", "without"), fig("ring_gap", 1, "halves_spread", 0.2),
			fromTable(bolts("", 10, "", "10.9", "light_oil", 0, 0), "SDX", "SDX", "65"),
			[]plan.Fasteners{bolts("stop_ring", 0, "M8", "10.9", "light_oil", 28, 5)}},
		{"SD-22", "Screen drive shaft lock", cooling, "Screen 1", "gear", "shrink_disc", "Ostrey SDX sheet", "SDX 80",
			one("shoulder", "with"), fig("halves_spread", 0.2),
			fromTable(bolts("", 12, "", "10.9", "light_oil", 0, 0), "SDX", "SDX", "80"), nil},
		{"TP-07", "Fan pulley", cooling, "Fan 2", "belt", "taper_bush", "Keld pulley book", "2517", one("way", "fit"),
			fig("runout", 0.2, "position", 145),
			bolts("", 3, "M10", "8.8", "dry_as_received", 32, 10), nil},
		{"BV-14", "Sampling diverter valve", turbine, "Sampling rack", "service water", "ball_valve_multi",
			"Keld BV3 sheet", "DN 25, three-way", one("ports", "three"), fig("break_torque", 40, "test_pressure", 16),
			bolts("", 4, "M12", "A4-70", "L-15", 45, 10), []plan.Fasteners{stated("gland")}},
		{"AC-03", "Gate accumulator 3A", gate, "Power pack 3", "oil", "accumulator", "Ostrey HB 32 manual", "32 l",
			one("gas", "service"), fig("transport", 2, "precharge", 90, "precharge_tol", 3),
			bolts("", 0, "M36", "8.8", "light_oil", 1100, 8),
			[]plan.Fasteners{between(bolts("gas_valve", 0, "M6", "5.8", "light_oil", 0, 0), 4, 5, quantity.NewtonMetre),
				bolts("stem_nut", 0, "M16", "8.8", "light_oil", 120, 10), stated("vent")}},
		{"HC-31", "Grout hose coupling", gate, "Grout pump", "grout", "hose_clamp", "Brae clamp card", "38 mm",
			one("end", "thread"), fig("hose_bore", 38, "wall_min", 6, "wall_max", 8, "test_pressure", 15),
			bolts("", 2, "M10", "8.8", "dry_zinc_plated", 38, 8), nil},
		{"SM-12", "Cooling water meter", cooling, "Main 1", "seawater", "saddle_meter", "Ostrey SM sheet", "DN 150",
			nil, fig("pipe_bore", 150, "up", 10, "down", 5, "depth", 42),
			between(bolts("", 2, "M8", "8.8", "light_oil", 0, 0), 110, 140, quantity.InchPound),
			[]plan.Fasteners{stated("nuts")}},
		{"FC-02", "Drain pump fluid coupling", cooling, "Drain pump 2", "oil", "fluid_coupling", "Keld FC book",
			"size 487", nil, fig("diameter", 487, "housing_temp", 80, "runout", 0.1),
			bolts("", 16, "M12", "8.8", "light_oil", 75, 8),
			[]plan.Fasteners{bolts("spigot", 8, "M10", "10.9", "threadlocker_wet", 55, 8),
				bolts("plugs", 4, "M16", "5.8", "light_oil", 90, 10)}},
		{"GX-05", "Gate actuator gearbox", gate, "Actuator 3", "grease", "gearbox", "Keld CG-5 book", "CG-5, ratio 43",
			map[string]string{"lubricated_as": "grease", "adhesive": "plain"}, fig("grease_grams", 450),
			stated(""), []plan.Fasteners{bolts("ring", 12, "M10", "8.8", "light_oil", 42, 8)}},
		{"BT-09", "Flushing branch", cooling, "Main 1", "service water", "branch_tee", "Brae tee card", "150 × 50", nil,
			fig("hole", 51, "clean_band", 16),
			bolts("", 2, "M12", "8.8", "light_oil", 65, 10), nil},
		{"PJ-44", "Raw water main, joint 44", cooling, "Raw water main", "seawater", "push_on_joint", "Brae RJ manual",
			"DN 300", nil, fig("flush", 1, "length", 6000, "deflection_deg", 1, "gasket_temp", 5),
			between(bolts("", 0, "M16", "A4-70", "L-15", 0, 0), 65, 85, quantity.NewtonMetre), nil},
		{"TF-61", "Governor sensing line", turbine, "Governor 2", "oil", "tube_fitting", "Keld TF sheet", "12 mm",
			one("make", "first"), fig("tube", 12, "first_turn", 360, "ovality", 1.5),
			plan.Fasteners{Target: plan.Target{Form: plan.Turns, TurnDeg: 360}}, nil},
		{"WH-08", "Rescue trailer wheel", gate, "Trailer 8", "road", "wheel_nuts", "Trailer book", "5 × 112", nil,
			fig("recheck", 50),
			between(bolts("", 5, "M14x1.5", "10.9", "dry_as_received", 0, 0), 125, 145, quantity.NewtonMetre), nil},
		{"CN-01", "Trash rake cutter nut", cooling, "Rake 1", "seawater", "large_nut", "TS1-RK-011", "M36", nil, nil,
			bolts("", 0, "M36", "8.8", "light_oil", 1800, 8), nil},
		{"HB-16", "Turbine half-casing bolts", turbine, "Turbine 2", "seawater", "heavy_bolts", "TS2-TB-060",
			"12 × M36", one("way", "out_in"), nil,
			bolts("", 12, "M36", "10.9", "L-07", 2400, 10), nil},
		{"SP-03", "Gantry access stair", gate, "Gantry 3", "access", "stair_platform", "Brae stair manual",
			"4 m, one flight", one("rails", "both"), fig("long_side", 4000, "square_limit", 5, "level_limit", 3,
				"hole_depth", 110),
			bolts("", 0, "M12", "8.8", "hdg_lubricated", 70, 10),
			[]plan.Fasteners{bolts("large", 0, "M16", "8.8", "hdg_lubricated", 170, 10),
				bolts("anchors", 0, "M16", "8.8", "light_oil", 130, 10)}},
		{"SF-11", "Penstock pipes, pack 11", gate, "Yard", "transport", "stacking_frame", "TS-TR-014",
			"six pipes of 12 m", one("layers", "two"), fig("end_limit", 20, "pack_length", 12000, "pins", 8),
			fromTable(bolts("", 0, "", "8.8", "light_oil", 0, 0), "COLOUR", "yellow"), nil},
		{"PC-02", "Surge tank closure", turbine, "Surge tank", "hydraulic", "pressure_closure", "Ostrey PC bulletin 12",
			"18 in", one("seals", "new"), fig("closing", 210, "test", 350, "bleed", 20),
			bolts("", 12, "M30", "10.9", "L-07", 1150, 8),
			[]plan.Fasteners{bolts("ring", 8, "M16", "10.9", "L-07", 180, 8), stated("studs")}},
		{"SC-41", "Gantry girder splice", gate, "Gantry 3", "steel", "structural", "TS-ST-100", "2 rows of 6",
			map[string]string{"connection": "splice", "method": "torque"}, fig("ply_gap", 1),
			fromTable(bolts("", 0, "", "10.9", "L-07", 0, 0), "STEEL", "M24", "10.9"), nil},
		{"SC-42", "Gantry end plate", gate, "Gantry 3", "steel", "structural", "TS-ST-100", "4 rows of 2",
			map[string]string{"connection": "end_plate", "method": "turn"}, fig("ply_gap", 1, "part_turn", 120),
			plan.Fasteners{Thread: "M24", Material: "10.9", Lubricant: "L-07",
				Target: plan.Target{Form: plan.Turns, TurnDeg: 120}}, nil},
		{"FA-18", "Drain pump holding-down bolts", cooling, "Drain pump 2", "foundation", "foundation_anchors",
			"TS4-CV-030", "6 × M24", nil, fig("level_limit", 0.2, "soft_foot", 0.05, "cure", 30),
			bolts("", 0, "M24", "8.8", "light_oil", 420, 8), nil},
	}
}

// families enters tables and joints of every family.
func families(ctx context.Context, a *app.App, engineer app.Actor) error {
	for _, t := range tables() {
		if _, err := a.PutLibraryValue(ctx, engineer, app.ShelfTables, t.Code,
			app.LibraryValue{Table: &t, Reason: "entered from " + t.Document}); err != nil {
			return fmt.Errorf("demo table %s: %w", t.Code, err)
		}
	}
	for _, x := range samples() {
		s := plan.Specification{Document: x.document, Revision: "2", FlangeSize: x.size, Variant: x.variant,
			Figures: x.figures, Groups: append([]plan.Fasteners{x.first}, x.others...)}
		if _, err := a.CreateJoint(ctx, engineer, app.JointInput{Tag: x.tag, Name: x.name, Area: x.area,
			Equipment: x.equipment, Service: x.service, Family: x.family, Package: "WP-51", Nameplate: x.size,
			Specification: s}); err != nil {
			return fmt.Errorf("demo joint %s: %w", x.tag, err)
		}
	}
	return nil
}
