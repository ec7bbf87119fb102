package fastener

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"dynacor/core/quantity"
)

// FlangeSize is what a flange of a standard size is drilled for. It is typical: the flange itself and its document
// decide.
type FlangeSize struct {
	Text         string  `json:"text"`     // as it is usually written
	Standard     string  `json:"standard"` // whose figures they are
	Bolts        int     `json:"bolts"`
	Thread       string  `json:"thread"`
	HoleMM       float64 `json:"holeMm"`
	BoltCircleMM float64 `json:"boltCircleMm"`
	RaisedFaceMM float64 `json:"raisedFaceMm"`      // outside diameter
	Version      int     `json:"version,omitempty"` // of the site's own size; 0: typical
}

// Check refuses a size that cannot be right. What the site did not measure stays 0.
func (s FlangeSize) Check() error {
	if s.Bolts < 3 || s.Bolts > 200 {
		return quantity.Refuse("bolts", "Count the bolts: 3 to 200.", "is not a number of bolts")
	}
	t, err := ParseThread(s.Thread)
	if err != nil {
		return err
	}
	if !(s.BoltCircleMM > 0) || s.BoltCircleMM > 10000 {
		return quantity.Refuse(
			"boltCircleMm",
			"Measure from bolt to bolt across the flange, mm.",
			"is not a bolt circle",
		)
	}
	// bolts side by side leave no room for their nuts
	if s.BoltCircleMM*math.Sin(math.Pi/float64(s.Bolts)) < 1.5*t.DiameterMM {
		return quantity.Refuse(
			"boltCircleMm",
			"Check count, thread and circle.",
			"%d bolts %s do not fit on a circle of %s mm",
			s.Bolts,
			t.Text,
			quantity.Text(s.BoltCircleMM),
		)
	}
	if s.HoleMM != 0 && (s.HoleMM <= t.DiameterMM || s.HoleMM > 2*t.DiameterMM) {
		return quantity.Refuse("holeMm", "Measure again; leave it empty when it was not.", "%s mm does not go with %s",
			quantity.Text(s.HoleMM), t.Text)
	}
	if s.RaisedFaceMM < 0 || s.RaisedFaceMM >= s.BoltCircleMM {
		return quantity.Refuse("raisedFaceMm", "Measure again; leave it empty when there is none.",
			"does not lie inside the bolts")
	}
	return named("standard", s.Standard)
}

// FlangeSize reads a size as people write it: the site's own of that name, else a typical one.
func (o Own) FlangeSize(text string) (FlangeSize, bool) {
	typical, known := ReadFlangeSize(text)
	for _, s := range o.Flanges {
		if samePlate(s.Text, text) || known && samePlate(s.Text, typical.Text) {
			return s, true
		}
	}
	return typical, known
}

// samePlate reports whether two names of a size are the same but for case and spaces.
func samePlate(a, b string) bool {
	plain := func(s string) string { return strings.ToLower(strings.Join(strings.Fields(s), "")) }
	return plain(a) == plain(b)
}

// FlangeSizes lists the typical sizes, by standard, pressure and size.
func FlangeSizes() []FlangeSize {
	var out []FlangeSize
	for _, pn := range slices.Sorted(maps.Keys(byPN)) {
		sizes := maps.Clone(byPN[pn])
		for dn, d := range small {
			if _, own := sizes[dn]; !own {
				sizes[dn] = d
			}
		}
		for _, dn := range slices.Sorted(maps.Keys(sizes)) {
			out = append(out, sizes[dn].size(fmt.Sprintf("DN %d PN %d", dn, pn), "EN 1092-1"))
		}
	}
	for _, class := range slices.Sorted(maps.Keys(byClass)) {
		list := slices.Collect(maps.Keys(byClass[class]))
		slices.SortFunc(list, func(a, b string) int {
			return cmp.Compare(byClass[class][a].circle, byClass[class][b].circle)
		})
		for _, nps := range list {
			out = append(out, byClass[class][nps].size(fmt.Sprintf("%s in class %d", nps, class), "ASME B16.5"))
		}
	}
	return out
}

// drilling is one line of a table: bolts, thread, bolt circle and raised face in mm.
type drilling struct {
	bolts  int
	thread string
	circle float64
	face   float64
}

// holes by thread, mm.
var holes = map[string]float64{"M12": 14, "M16": 18, "M20": 22, "M24": 26, "M27": 30, "M30": 33, "M33": 36, "M36": 39,
	"M39": 42, "1/2-13": 15.9, "5/8-11": 19.1, "3/4-10": 22.2, "7/8-9": 25.4, "1-8": 28.6, "1 1/8-8": 31.8,
	"1 1/4-8": 34.9, "1 1/2-8": 41.3}

// small flanges are drilled alike up to DN 50 from PN 10 to PN 40, and up to DN 80 with eight bolts above.
var small = map[int]drilling{15: {4, "M12", 65, 45}, 20: {4, "M12", 75, 58}, 25: {4, "M12", 85, 68},
	32: {4, "M16", 100, 78}, 40: {4, "M16", 110, 88}, 50: {4, "M16", 125, 102}, 65: {8, "M16", 145, 122},
	80: {8, "M16", 160, 138}}

// nominal pressures, by PN and DN. Source: EN 1092-1.
var byPN = map[int]map[int]drilling{
	10: {100: {8, "M16", 180, 158}, 125: {8, "M16", 210, 188}, 150: {8, "M20", 240, 212}, 200: {8, "M20", 295, 268},
		250: {12, "M20", 350, 320}, 300: {12, "M20", 400, 370}, 350: {16, "M20", 460, 430},
		400: {16, "M24", 515, 482}, 450: {20, "M24", 565, 532}, 500: {20, "M24", 620, 585},
		600: {20, "M27", 725, 685}},
	16: {100: {8, "M16", 180, 158}, 125: {8, "M16", 210, 188}, 150: {8, "M20", 240, 212}, 200: {12, "M20", 295, 268},
		250: {12, "M24", 355, 320}, 300: {12, "M24", 410, 378}, 350: {16, "M24", 470, 438},
		400: {16, "M27", 525, 490}, 450: {20, "M27", 585, 550}, 500: {20, "M30", 650, 610},
		600: {20, "M33", 770, 725}},
	25: {100: {8, "M20", 190, 162}, 125: {8, "M24", 220, 188}, 150: {8, "M24", 250, 218}, 200: {12, "M24", 310, 278},
		250: {12, "M27", 370, 335}, 300: {16, "M27", 430, 395}, 350: {16, "M30", 490, 450},
		400: {16, "M33", 550, 505}, 500: {20, "M33", 660, 615}, 600: {20, "M36", 770, 720}},
	40: {100: {8, "M20", 190, 162}, 125: {8, "M24", 220, 188}, 150: {8, "M24", 250, 218}, 200: {12, "M27", 320, 285},
		250: {12, "M30", 385, 345}, 300: {16, "M30", 450, 410}, 350: {16, "M33", 510, 465},
		400: {16, "M36", 585, 535}, 500: {20, "M39", 670, 615}},
}

// classes, by class and nominal size in inches. Source: ASME B16.5.
var byClass = map[int]map[string]drilling{
	150: {"1/2": {4, "1/2-13", 60.3, 34.9}, "3/4": {4, "1/2-13", 69.9, 42.9}, "1": {4, "1/2-13", 79.4, 50.8},
		"1 1/4": {4, "1/2-13", 88.9, 63.5}, "1 1/2": {4, "1/2-13", 98.4, 73}, "2": {4, "5/8-11", 120.7, 92.1},
		"2 1/2": {4, "5/8-11", 139.7, 104.8}, "3": {4, "5/8-11", 152.4, 127}, "4": {8, "5/8-11", 190.5, 157.2},
		"5": {8, "3/4-10", 215.9, 185.7}, "6": {8, "3/4-10", 241.3, 215.9}, "8": {8, "3/4-10", 298.5, 269.9},
		"10": {12, "7/8-9", 362, 323.8}, "12": {12, "7/8-9", 431.8, 381}, "14": {12, "1-8", 476.3, 412.8},
		"16": {16, "1-8", 539.8, 469.9}, "18": {16, "1 1/8-8", 577.9, 533.4}, "20": {20, "1 1/8-8", 635, 584.2},
		"24": {20, "1 1/4-8", 749.3, 692.2}},
	300: {"1/2": {4, "1/2-13", 66.7, 34.9}, "3/4": {4, "5/8-11", 82.6, 42.9}, "1": {4, "5/8-11", 88.9, 50.8},
		"1 1/4": {4, "5/8-11", 98.4, 63.5}, "1 1/2": {4, "3/4-10", 114.3, 73}, "2": {8, "5/8-11", 127, 92.1},
		"2 1/2": {8, "3/4-10", 149.2, 104.8}, "3": {8, "3/4-10", 168.3, 127}, "4": {8, "3/4-10", 200, 157.2},
		"5": {8, "3/4-10", 235, 185.7}, "6": {12, "3/4-10", 269.9, 215.9}, "8": {12, "7/8-9", 330.2, 269.9},
		"10": {16, "1-8", 387.4, 323.8}, "12": {16, "1 1/8-8", 450.8, 381}, "14": {20, "1 1/8-8", 514.4, 412.8},
		"16": {20, "1 1/4-8", 571.5, 469.9}, "18": {24, "1 1/4-8", 628.6, 533.4}, "20": {24, "1 1/4-8", 685.8, 584.2},
		"24": {24, "1 1/2-8", 812.8, 692.2}},
}

var (
	metricFlange = form{text: `(?i)^\s*DN\s*(\d+)\s*[,/ ]*\s*PN\s*(\d+)\s*$`}
	inchFlange   = form{text: `(?i)^\s*(?:NPS\s*)?(\d+(?:[ -]\d/\d)?|\d/\d)\s*(?:in(?:ch)?|")?\s*,?\s*` +
		`(?:class|cl\.?|#)\s*(\d+)\s*$`}
)

// ReadFlangeSize reads a size as people write it, "DN 150 PN 16" or "6 in class 300". ok is false for what the tables
// do not hold: PN 10 to 40 up to DN 600, class 150 and 300 up to 24 in.
func ReadFlangeSize(text string) (s FlangeSize, ok bool) {
	if m := metricFlange.parts(text); m != nil {
		dn, _ := strconv.Atoi(m[1])
		pn, _ := strconv.Atoi(m[2])
		table, known := byPN[pn]
		d, drilled := table[dn]
		if !drilled {
			d, drilled = small[dn]
		}
		return d.size("DN "+m[1]+" PN "+m[2], "EN 1092-1"), known && drilled
	}
	if m := inchFlange.parts(text); m != nil {
		class, _ := strconv.Atoi(m[2])
		nps := strings.ReplaceAll(m[1], "-", " ")
		d, drilled := byClass[class][nps]
		return d.size(nps+" in class "+m[2], "ASME B16.5"), drilled
	}
	return FlangeSize{}, false
}

func (d drilling) size(text, standard string) FlangeSize {
	return FlangeSize{Text: text, Standard: standard, Bolts: d.bolts, Thread: d.thread, HoleMM: holes[d.thread],
		BoltCircleMM: d.circle, RaisedFaceMM: d.face}
}
