package tool_test

import (
	"fmt"
	"maps"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"dynacor/core/coretest"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// What the crib offers for a torque is what it offered before: which set-ups in which order, what each is set to, what
// is wrong with it, and how the way from the nut to its scale is worked out. An offer that comes out otherwise is
// named; when that is meant, DYNACOR_WRITE=1 writes it.
func TestCribOffersWhatItDid(t *testing.T) {
	hose, pump := coretest.Hose(), coretest.Pump()
	hose.Tag, pump.Tag = "H-150", "P-150"
	hose.MaxMPa, pump.RatedMax, pump.Unit, pump.Graduation, pump.MainStep = 150, 150, quantity.Megapascal, 1, 10
	foot := tool.Tool{Tag: "A-24", Kind: tool.Adapter, DriveIn: "1/2 in", LengthMM: 45, AcrossFlatsMM: 24}
	preset := coretest.SmallWrench()
	preset.Tag, preset.Kind = "W-0", tool.Preset
	crib := []tool.Tool{coretest.Wrench(), coretest.SmallWrench(), preset, coretest.Multiplier(), foot,
		coretest.HydraulicWrench(), coretest.Pump(), coretest.Hose(), pump, hose, coretest.Tensioner(),
		coretest.Electronic(), coretest.Socket("S-24", 24, "1/2 in", 400), coretest.Socket("S-30", 30, "1 in", 2000),
		coretest.Socket("S-55", 55, "1 in", 6000)}
	bolt := &tool.Bolt{LoadKN: 83.3, DiameterMM: 20, StressAreaMM2: 245, ClampMM: 100, YieldMPa: 640}
	needs := map[string]func(n *tool.Need){
		"":             func(*tool.Need) {},
		" in stages":   func(n *tool.Need) { n.Scheme = "20_60_100" },
		" on 24":       func(n *tool.Need) { n.AcrossFlats = 24 },
		" on 30":       func(n *tool.Need) { n.AcrossFlats, n.Scheme = 30, "50_80_100" },
		" on 55":       func(n *tool.Need) { n.AcrossFlats, n.Scheme = 55, "30_70_100" },
		" aside":       func(n *tool.Need) { n.AcrossFlats, n.Offset = 24, true },
		" aside at 45": func(n *tool.Need) { n.AcrossFlats, n.Offset, n.AdapterDeg = 24, true, 45 },
		" pulled":      func(n *tool.Need) { n.Bolt, n.Scheme = bolt, "single" },
		" pulled hard": func(n *tool.Need) {
			weak := *bolt
			weak.YieldMPa, n.Bolt = 300, &weak
		},
		" when one is out": func(n *tool.Need) { n.Busy = map[string]string{coretest.Wrench().Tag: "out with I. Quaye"} },
		" a year later":    func(n *tool.Need) { n.On = coretest.Day.Add(365 * 24 * time.Hour) },
		" exactly":         func(n *tool.Need) { n.LowNm, n.HighNm = 0, 0 },
		" high in range":   func(n *tool.Need) { n.PreferredFrac = 0.9 },
	}
	var lines []string
	for _, name := range []string{"", " in stages", " on 24", " on 30", " on 55", " aside", " aside at 45", " pulled",
		" pulled hard", " when one is out", " a year later", " exactly", " high in range"} {
		for _, nm := range []float64{20, 60, 130, 300, 600, 1200, 3000, 7000} {
			n := need(nm)
			needs[name](&n)
			for _, o := range tool.Find(n, crib) {
				s := tool.SetUp{AdapterDeg: n.AdapterDeg, NmPerMPa: 4}
				for _, tag := range strings.Split(o.Tags, "+") {
					if i := slices.IndexFunc(
						crib,
						func(w tool.Tool) bool { return w.Tag == tag },
					); i >= 0 { // else it is lacking
						s.String = append(s.String, crib[i])
					}
				}
				lines = append(
					lines,
					fmt.Sprintf("%g N·m%s | %s | usable %t, at %v | %d wrong | %s | %s | %.4g %%", nm, name,
						o.Tags, o.Usable, o.Settings, len(o.Problems), coretest.Mark(t, o),
						coretest.Mark(t, s.Working(n.Nm)), s.AccuracyPct()),
				)
			}
		}
	}
	coretest.AsBefore(t, filepath.Join("testdata", "found.txt"), " | ", lines)
}

// The bars of the crib are what they were: of every wrench, of a multiplier with the wrench that suits it best, and of
// a hydraulic wrench with the first pump, each with the worst condition and the first end of its tools.
func TestCribCoversWhatItDid(t *testing.T) {
	accurate, larger, worn := coretest.SmallWrench(), coretest.SmallWrench(), coretest.SmallWrench()
	accurate.Tag, accurate.AccuracyPct = "W-31A", 2
	larger.Tag, larger.RatedMax = "W-31L", coretest.SmallWrench().RatedMax*1.2
	worn.Tag, worn.State = "W-31Q", tool.Quarantined
	preset := coretest.SmallWrench()
	preset.Tag, preset.Kind = "W-0", tool.Preset
	low := coretest.Pump()
	low.Tag, low.RatedMax = "P-low", low.RatedMax/2
	cribs := map[string][]tool.Tool{
		"none": nil,
		"one of each": {
			coretest.Wrench(),
			coretest.SmallWrench(),
			coretest.Multiplier(),
			coretest.HydraulicWrench(),
			coretest.Pump(),
		},
		"a preset one":     {preset, coretest.Multiplier()},
		"an accurate one":  {coretest.SmallWrench(), accurate, coretest.Multiplier()},
		"a larger one":     {accurate, larger, coretest.Multiplier()},
		"one put aside":    {worn, accurate, coretest.Multiplier()},
		"all put aside":    {worn, coretest.Multiplier()},
		"no pump":          {coretest.HydraulicWrench()},
		"a small pump":     {low, coretest.Pump(), coretest.HydraulicWrench()},
		"another drive":    {coretest.Wrench(), coretest.Multiplier()},
		"only a tensioner": {coretest.Tensioner(), coretest.Pump()},
	}
	var lines []string
	for _, name := range slices.Sorted(maps.Keys(cribs)) {
		for _, days := range []int{-400, 0, 100, 200, 340, 400} {
			on := coretest.Day.AddDate(0, 0, days)
			for _, frac := range []float64{0.2, 0.9} {
				for _, s := range tool.Spans(cribs[name], frac, 30, on) {
					lines = append(
						lines,
						fmt.Sprintf("%s, %d days on, from %g | %s | %s | %.5g to %.5g N·m | %s | ends %s | %s",
							name, days, frac, s.Tags, s.Word, s.MinNm, s.MaxNm, s.Condition, s.Ends, s.Name),
					)
				}
			}
		}
	}
	coretest.AsBefore(t, filepath.Join("testdata", "covered.txt"), " | ", lines)
}
