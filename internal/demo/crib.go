package demo

import (
	"fmt"
	"time"

	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// Tokens are what the stand-ins of the demo site send with. They are known to everybody and hold for the invented site
// alone.
var Tokens = map[string]string{"E-03": "demo-E-03", "W-40": "demo-W-40", "P-2": "demo-P-2", "M-1": "demo-M-1",
	"G-1": "demo-G-1", "G-2": "demo-G-2", "PG-11": "demo-PG-11"}

// crib is the tool store of the demo site; days are counted from now.
func crib(now time.Time) []tool.Tool {
	day := func(days int) tool.Date { return tool.Date(now.AddDate(0, 0, days).Format(time.DateOnly)) }
	certified := func(t tool.Tool, cert string, ends int) tool.Tool {
		t.Certificate, t.CalibratedOn, t.CalibrationEnds = cert, day(ends-365), day(ends)
		if t.Serial == "" {
			t.Serial = "S" + t.Tag[2:] + "07"
		}
		if t.Place == "" {
			t.Place = "crib, rack 2"
		}
		return t
	}
	wrench := func(tag, maker string, unit quantity.Unit, printed, lo, hi, main, step, acc float64, drive string,
		length float64, cert string, ends int) tool.Tool {
		return certified(tool.Tool{Tag: tag, Maker: maker, Kind: tool.Click, Unit: unit, PrintedMin: printed,
			RatedMin: lo, RatedMax: hi, MainStep: main, Graduation: step, AccuracyPct: acc,
			Drive: drive, LengthMM: length, Directions: "clockwise", Lock: "end knob",
			StorageRule: "Wind to the lowest mark, never below it, then lock."}, cert, ends)
	}
	between := func(tag string, k tool.Kind, in, out string, t tool.Tool) tool.Tool {
		t.Tag, t.Kind, t.DriveIn, t.Drive, t.Maker, t.Serial, t.Place = tag, k, in, out, "Keld Works", tag,
			"crib, drawer 4"
		return t
	}
	nm, ft := quantity.NewtonMetre, quantity.FootPound
	w31 := wrench("W-31", "Brae & Holm", nm, 30, 40, 200, 10, 1, 3, "1/2 in", 465, "C-2209", 81)
	w31.CycleLimit = 5000
	for _, set := range []float64{40, 120, 200} {
		for _, off := range []float64{1.9, 1.1, 1.4, .6, 1.2} {
			w31.Points = append(w31.Points,
				tool.ErrorPoint{Set: set, True: quantity.Significant(set*(1+(off-1.2*(set-40)/80)/100), 5)})
		}
	}
	out := []tool.Tool{
		wrench("W-12", "Brae & Holm", nm, 4, 5, 25, 1, 0.1, 4, "1/4 in", 270, "C-2180", 118),
		wrench("W-15", "Ostrey", nm, 8, 10, 60, 5, 0.5, 4, "3/8 in", 330, "C-2183", 133),
		wrench("W-18", "Brae & Holm", nm, 20, 20, 100, 5, 0.5, 4, "1/2 in", 380, "C-2188", 4),
		wrench("W-25", "Ostrey", nm, 20, 25, 125, 5, 0.5, 4, "1/2 in", 410, "C-2190", 140),
		wrench("W-22", "Ostrey", nm, 20, 30, 150, 5, 0.5, 4, "1/2 in", 480, "C-2193", 61), w31,
		certified(tool.Tool{Tag: "W-23", Maker: "Ostrey", Kind: tool.Dial, Unit: nm, RatedMin: 70, RatedMax: 350,
			MainStep: 50, Graduation: 5, AccuracyPct: 6, Drive: "1/2 in", LengthMM: 560, Directions: "both",
			StorageRule: "In its case, pointer free."}, "C-2194", 62),
		wrench("W-36", "Brae & Holm", nm, 40, 60, 300, 10, 1, 3, "1/2 in", 620, "C-2210", 96),
		wrench("W-40", "Brae & Holm", nm, 60, 100, 500, 20, 2, 3, "3/4 in", 1020, "C-2211", 100),
		wrench("W-44", "Ostrey", ft, 30, 50, 250, 10, 1, 4, "3/4 in", 900, "C-2214", 230),
		wrench("W-52", "Ostrey", nm, 100, 160, 800, 20, 2, 3, "3/4 in", 1610, "C-2216", 190),
		wrench("W-41", "Ostrey", nm, 60, 100, 500, 20, 2, 4, "3/4 in", 1020, "C-2222", 205),
		wrench("W-60", "Keld Works", nm, 200, 300, 1500, 50, 5, 3, "1 in", 1750, "C-2217", 320),
		wrench("W-61", "Keld Works", nm, 200, 300, 1500, 50, 10, 4, "1 in", 1750, "C-2101", -2),
		certified(tool.Tool{Tag: "E-03", Maker: "Brae & Holm", Model: "T-A 500", Kind: tool.ElectronicAngle, Unit: nm,
			SecondUnit: ft, RatedMin: 50, RatedMax: 500, PrintedMin: 50, Graduation: 0.5, AccuracyPct: 1,
			Drive: "3/4 in", LengthMM: 980,
			Directions: "both", MayLoosen: true, StorageRule: "Charged, in its case."}, "C-2230", 55),
		certified(tool.Tool{Tag: "D-01", Maker: "Ostrey", Kind: tool.Screwdriver, Unit: nm, RatedMin: 1, RatedMax: 6,
			PrintedMin: 1, MainStep: 1, Graduation: 0.1, AccuracyPct: 6, Drive: "1/4 in", Lock: "collar",
			StorageRule: "Wind to the lowest mark."}, "C-2160", 150),
		certified(between("X-04", tool.MultiplierKind, "1/2 in", "3/4 in",
			tool.Tool{MaxNm: 1000, MassKg: 2.6, Gear: &tool.Gear{Nominal: 4.2, Measured: 3.87, TestPct: 1, ArmMM: 240,
				SameDirection: true}}), "C-0441", 350),
		certified(between("X-02", tool.MultiplierKind, "1/2 in", "1 in",
			tool.Tool{MaxNm: 2700, MassKg: 5.9, Gear: &tool.Gear{Nominal: 15.4, Measured: 13.6, TestPct: 1.5,
				ArmMM: 330, SameDirection: true, Stops: true}}), "C-0402", 8),
		certified(tool.Tool{Tag: "H-2", Maker: "Keld Works", Model: "SQ-4", Kind: tool.HydraulicWrench, Drive: "1 in",
			MaxNm: 4450, MaxMPa: 70, LengthMM: 180, MassKg: 4.9, AccuracyPct: 1.5, MayLoosen: true,
			Chart: []tool.ChartPoint{{Pressure: 10, Torque: 645}, {Pressure: 20, Torque: 1285},
				{Pressure: 40, Torque: 2560}, {Pressure: 55, Torque: 3510}, {Pressure: 70, Torque: 4450}}}, "C-0510",
			105),
		certified(tool.Tool{Tag: "H-3", Maker: "Keld Works", Model: "SQ-11", Kind: tool.HydraulicWrench,
			Drive: "1 1/2 in", MaxNm: 11000, MaxMPa: 70, LengthMM: 230, MassKg: 9.6, AccuracyPct: 1.5, MayLoosen: true,
			Chart: []tool.ChartPoint{{Pressure: 10, Torque: 1600}, {Pressure: 40, Torque: 6300},
				{Pressure: 70, Torque: 11000}}}, "C-0511", 106),
		certified(tool.Tool{Tag: "P-2", Maker: "Ostrey", Model: "EP-700", Kind: tool.Pump, Unit: "bar", RatedMax: 700,
			MainStep: 50, Graduation: 10, AccuracyPct: 1.6, MassKg: 23}, "C-0610", 105),
		certified(tool.Tool{Tag: "P-3", Maker: "Ostrey", Model: "EP-700", Kind: tool.Pump, Unit: "bar", RatedMax: 700,
			MainStep: 50, Graduation: 10, AccuracyPct: 1.6, MassKg: 23}, "C-0598", -2),
		between("N-1", tool.Hose, "", "", tool.Tool{MaxMPa: 70, LengthMM: 6000}),
		certified(tool.Tool{Tag: "T-24", Maker: "Keld Works", Kind: tool.Tensioner, DiameterMM: 24, AreaMM2: 2100,
			StrokeMM: 10, MaxMPa: 70, LossA: 1.01, LossB: 0.9, AccuracyPct: 3}, "C-0702", 160),
		between("RT-5", tool.Ratchet, "", "1/2 in", tool.Tool{}),
		between("IW-2", tool.Impact, "", "3/4 in", tool.Tool{}),
		between("A-30", tool.Adapter, "1/2 in", "", tool.Tool{LengthMM: 48, AcrossFlatsMM: 30, MaxNm: 300}),
		between("A-36", tool.Adapter, "3/4 in", "", tool.Tool{LengthMM: 62, AcrossFlatsMM: 36, MaxNm: 600}),
		between("B-12", tool.Extension, "1/2 in", "1/2 in", tool.Tool{LengthMM: 250, DiameterMM: 16}),
		certified(tool.Tool{Tag: "M-1", Maker: "Brae & Holm", Kind: tool.TorqueMeter, Unit: nm, RatedMin: 10,
			RatedMax: 1000, Graduation: 0.1, AccuracyPct: 0.5, Place: "crib, bench"}, "C-0101", 210),
		certified(tool.Tool{Tag: "G-1", Maker: "Ostrey", Kind: tool.Caliper, Unit: "mm", RatedMax: 200,
			Graduation: 0.01, AccuracyPct: 0.5}, "C-0301", 170),
		certified(tool.Tool{Tag: "G-2", Maker: "Ostrey", Kind: tool.StretchGauge, Unit: "mm", RatedMax: 5,
			Graduation: 0.001, AccuracyPct: 1}, "C-0302", 171),
		certified(tool.Tool{Tag: "F-1", Maker: "Ostrey", Kind: tool.Feelers, Unit: "mm", RatedMin: 0.05, RatedMax: 1,
			PrintedMin: 0.05, Graduation: 0.05, AccuracyPct: 5}, "C-0310", 172),
		certified(tool.Tool{Tag: "PG-11", Maker: "Ostrey", Kind: tool.PressureGauge, Unit: "bar", RatedMax: 40,
			MainStep: 2, Graduation: 0.2, AccuracyPct: 1}, "C-0320", 174),
		certified(tool.Tool{Tag: "PG-4", Maker: "Ostrey", Kind: tool.PressureGauge, Unit: "bar", RatedMax: 16,
			MainStep: 1, Graduation: 0.1, AccuracyPct: 0.6}, "C-0321", 174),
		certified(tool.Tool{Tag: "L-1", Maker: "Ostrey", Kind: tool.Level}, "C-0315", 173),
	}
	for drive, sizes := range map[string][]float64{"1/4 in": {10, 13, 16}, "3/8 in": {13, 16, 17, 18, 19, 21},
		"1/2 in": {13, 16, 17, 18, 19, 21, 24, 27, 30, 31.75, 36}, "3/4 in": {24, 27, 30, 31.75, 36, 41, 46, 55},
		"1 in": {30, 36, 41, 46, 55, 60, 65}, "1 1/2 in": {46, 55, 60, 65, 75}} {
		for _, flats := range sizes {
			square := map[string]string{"1/4 in": "1", "3/8 in": "3", "1/2 in": "2", "3/4 in": "4", "1 in": "8",
				"1 1/2 in": "12"}[drive]
			most := map[string]float64{"1/4 in": 40, "3/8 in": 120, "1/2 in": 500, "3/4 in": 1500, "1 in": 4500,
				"1 1/2 in": 12000}[drive]
			out = append(out, between(fmt.Sprintf("S%s-%.0f", square, flats), tool.Socket, drive, "",
				tool.Tool{AcrossFlatsMM: flats, MaxNm: most, Impact: drive != "1/2 in"}))
		}
	}
	return out
}
