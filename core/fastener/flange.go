package fastener

import (
	"regexp"
	"strconv"
	"strings"
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
	RaisedFaceMM float64 `json:"raisedFaceMm"` // outside diameter
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
	metricFlange = regexp.MustCompile(`(?i)^\s*DN\s*(\d+)\s*[,/ ]*\s*PN\s*(\d+)\s*$`)
	inchFlange   = regexp.MustCompile(`(?i)^\s*(?:NPS\s*)?(\d+(?:[ -]\d/\d)?|\d/\d)\s*(?:in(?:ch)?|")?\s*,?\s*` +
		`(?:class|cl\.?|#)\s*(\d+)\s*$`)
)

// ReadFlangeSize reads a size as people write it, "DN 150 PN 16" or "6 in class 300". ok is false for what the tables
// do not hold: PN 10 to 40 up to DN 600, class 150 and 300 up to 24 in.
func ReadFlangeSize(text string) (s FlangeSize, ok bool) {
	if m := metricFlange.FindStringSubmatch(text); m != nil {
		dn, _ := strconv.Atoi(m[1])
		pn, _ := strconv.Atoi(m[2])
		table, known := byPN[pn]
		d, drilled := table[dn]
		if !drilled {
			d, drilled = small[dn]
		}
		return d.size("DN "+m[1]+" PN "+m[2], "EN 1092-1"), known && drilled
	}
	if m := inchFlange.FindStringSubmatch(text); m != nil {
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
