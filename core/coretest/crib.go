package coretest

import (
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// between is a piece that goes between wrench and nut, without certificate.
func between(tag string, k tool.Kind, in, out string, t tool.Tool) tool.Tool {
	t.Tag, t.Kind, t.DriveIn, t.Drive, t.Maker, t.Serial, t.Place, t.State = tag, k, in, out, "Keld Works", tag+"-1",
		"crib", tool.InService
	return t
}

// Multiplier is a made-up 5 : 1 multiplier with a measured ratio of 4.6, 1/2 in into 1 in, up to 1500 N·m.
func Multiplier() tool.Tool {
	t := between("X-04", tool.MultiplierKind, "1/2 in", "1 in",
		tool.Tool{MaxNm: 1500, Gear: &tool.Gear{Nominal: 5, Measured: 4.6, TestPct: 1.5, ArmMM: 300,
			SameDirection: true}})
	t.Certificate, t.CalibratedOn, t.CalibrationEnds = "C-0412", "2026-02-02", "2027-02-02"
	return t
}

// SmallWrench is a click wrench of 40 to 200 N·m with a 1/2 in square, 465 mm long.
func SmallWrench() tool.Tool {
	w := Wrench()
	w.Tag, w.RatedMin, w.RatedMax, w.PrintedMin, w.MainStep, w.Graduation, w.AccuracyPct, w.Drive, w.LengthMM = "W-31",
		40, 200, 30, 10, 1, 3, "1/2 in", 465
	return w
}

// Socket is a socket rated for power.
func Socket(tag string, flats float64, in string, maxNm float64) tool.Tool {
	return between(tag, tool.Socket, in, "", tool.Tool{AcrossFlatsMM: flats, MaxNm: maxNm, Impact: true})
}

// HydraulicWrench is a made-up tool of 4450 N·m at 70 MPa with a 1 in square.
func HydraulicWrench() tool.Tool {
	t := between("H-2", tool.HydraulicWrench, "", "1 in", tool.Tool{MaxNm: 4450, MaxMPa: 70, LengthMM: 180,
		AccuracyPct: 1.5,
		Chart: []tool.ChartPoint{{Pressure: 10, Torque: 645}, {Pressure: 40, Torque: 2560},
			{Pressure: 70, Torque: 4450}}})
	t.Certificate, t.CalibratedOn, t.CalibrationEnds = "C-0501", "2026-03-09", "2027-03-09"
	return t
}

// Pump is a pump of 700 bar with a gauge in steps of 10 bar.
func Pump() tool.Tool {
	return tool.Tool{Tag: "P-2", Maker: "Ostrey", Serial: "P2-77", Kind: tool.Pump, Unit: "bar", RatedMin: 0,
		RatedMax: 700, MainStep: 50, Graduation: 10, AccuracyPct: 1.6, Place: "crib",
		State: tool.InService, Certificate: "C-0611", CalibratedOn: "2026-03-09", CalibrationEnds: "2027-03-09"}
}

// Hose is a hose for 70 MPa.
func Hose() tool.Tool {
	return between("N-1", tool.Hose, "", "", tool.Tool{MaxMPa: 70, LengthMM: 6000})
}

// Tensioner pulls M20 bolts.
func Tensioner() tool.Tool {
	t := between("T-20", tool.Tensioner, "", "", tool.Tool{AreaMM2: 1500, StrokeMM: 10, MaxMPa: 150, LossA: 1.01,
		LossB: 1, DiameterMM: 20, AccuracyPct: 3})
	t.Certificate, t.CalibratedOn, t.CalibrationEnds = "C-0702", "2026-03-09", "2027-03-09"
	return t
}

// Electronic is a wrench of 60 to 400 N·m that shows torque and angle.
func Electronic() tool.Tool {
	w := Wrench()
	w.Tag, w.Kind, w.RatedMin, w.PrintedMin, w.MainStep, w.Graduation, w.AccuracyPct, w.Unit = "E-03",
		tool.ElectronicAngle, 60, 60, 0, 0.5, 1, quantity.NewtonMetre
	return w
}
