// Package fastener knows threads, nut sizes, materials and lubricants: the parts of a bolted joint that come from
// standards and cards. It must never know what a joint is used for.
package fastener

import (
	"math"
	"regexp"
	"strconv"
	"strings"
	"sync"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// System is a family of threads with a 60° profile.
type System string

// The thread systems.
const (
	ISO System = "iso" // metric, ISO 261/724
	UN  System = "un"  // unified inch, ASME B1.1
)

// Thread is a size and pitch as named on a drawing.
type Thread struct {
	System     System  `json:"system"`
	Text       string  `json:"text"`       // designation in standard form, e.g. "M27" or "1 1/8-8 8UN"
	DiameterMM float64 `json:"diameterMm"` // nominal
	PitchMM    float64 `json:"pitchMm"`
	TPI        float64 `json:"tpi,omitempty"` // threads per inch, inch threads only
	Series     string  `json:"series"`        // coarse, fine, UNC, UNF, 8UN, UNS
	Listed     bool    `json:"listed"`        // in the table of usual pairs
	LeftHand   bool    `json:"leftHand,omitempty"`
}

// Geometry holds the measures of a thread that calculations use: diameters and pitch in mm, areas in mm².
type Geometry struct {
	D, Pitch, D2, D1, D3, Ds, H, As, A3 float64
	LeadAngleDeg                        float64
}

type metricRow struct {
	d, coarse float64 // coarse 0: the table has none
	fine      []float64
}

// ISO 261 selection: diameter, coarse pitch, usual fine pitches (mm).
var metric = []metricRow{
	{3, .5, nil}, {3.5, .6, nil}, {4, .7, nil}, {5, .8, nil}, {6, 1, nil}, {7, 1, nil}, {8, 1.25, []float64{1}},
	{10, 1.5, []float64{1, 1.25}},
	{12, 1.75, []float64{1.25, 1.5}}, {14, 2, []float64{1.5}}, {16, 2, []float64{1.5}}, {18, 2.5, []float64{1.5, 2}},
	{20, 2.5, []float64{1.5, 2}},
	{22, 2.5, []float64{1.5, 2}}, {24, 3, []float64{2}}, {27, 3, []float64{2}}, {30, 3.5, []float64{2}},
	{33, 3.5, []float64{2}}, {36, 4, []float64{3}},
	{39, 4, []float64{3}}, {42, 4.5, []float64{3}}, {45, 4.5, []float64{3}}, {48, 5, []float64{3}},
	{52, 5, []float64{4}}, {56, 5.5, []float64{4}},
	{60, 5.5, []float64{4}}, {64, 6, []float64{4}}, {68, 6, []float64{4}}, {72, 0, []float64{4, 6}},
	{76, 0, []float64{4, 6}}, {80, 0, []float64{4, 6}},
	{85, 0, []float64{4, 6}}, {90, 0, []float64{4, 6}}, {95, 0, []float64{4, 6}}, {100, 0, []float64{4, 6}},
}

// ASME B1.1: diameter in inches to threads per inch. Number sizes are 0.060 + 0.013·n.
var unc = map[float64]float64{.25: 20, .3125: 18, .375: 16, .4375: 14, .5: 13, .5625: 12, .625: 11, .75: 10, .875: 9,
	1: 8, 1.125: 7, 1.25: 7,
	1.375: 6, 1.5: 6, 1.75: 5, 2: 4.5, 2.25: 4.5, 2.5: 4, 2.75: 4, 3: 4, 3.25: 4, 3.5: 4, 3.75: 4, 4: 4}
var unf = map[float64]float64{.25: 28, .3125: 24, .375: 24, .4375: 20, .5: 20, .5625: 18, .625: 18, .75: 16, .875: 14,
	1: 12, 1.125: 12, 1.25: 12, 1.375: 12, 1.5: 12}
var numberUNC = map[int]float64{1: 64, 2: 56, 3: 48, 4: 40, 5: 40, 6: 32, 8: 32, 10: 24, 12: 24}
var numberUNF = map[int]float64{0: 80, 1: 72, 2: 64, 3: 56, 4: 48, 5: 44, 6: 40, 8: 36, 10: 32, 12: 28}

const mmPerInch = 25.4

// CoarsePitch gives the coarse pitch in mm of a metric diameter; ok is false where the table has none.
func CoarsePitch(d quantity.Length) (pitch quantity.Length, ok bool) {
	for _, r := range metric {
		if r.d == float64(d) && r.coarse > 0 {
			return quantity.Length(r.coarse), true
		}
	}
	return 0, false
}

// Threads lists the standard sizes, coarse series first, for tables and choosers.
func Threads() []Thread {
	var out []Thread
	for _, r := range metric {
		if r.coarse > 0 {
			out = append(out, Thread{System: ISO, Text: "M" + quantity.Text(r.d), DiameterMM: r.d, PitchMM: r.coarse,
				Series: "coarse", Listed: true})
		}
		for _, p := range r.fine {
			out = append(out, Thread{System: ISO, Text: "M" + quantity.Text(r.d) + "x" + quantity.Text(p),
				DiameterMM: r.d, PitchMM: p, Series: "fine", Listed: true})
		}
	}
	for e := 4.0; e <= 64; e++ { // sixteenths of an inch
		d := e / 16
		if tpi, ok := unc[d]; ok {
			out = append(out, inchThread(d, tpi, "UNC"))
		}
		if tpi, ok := unf[d]; ok {
			out = append(out, inchThread(d, tpi, "UNF"))
		}
		if d > 1 && math.Mod(d, .125) == 0 {
			out = append(out, inchThread(d, 8, "8UN"))
		}
	}
	return out
}

func inchThread(d, tpi float64, series string) Thread {
	return Thread{System: UN, Text: inchText(d) + "-" + quantity.Text(tpi) + " " + series, DiameterMM: d * mmPerInch,
		PitchMM: mmPerInch / tpi, TPI: tpi, Series: series, Listed: true}
}

func inchText(d float64) string {
	whole, f := math.Modf(d)
	if f == 0 {
		return quantity.Text(whole)
	}
	den := 64.0
	num := f * den
	if num != math.Trunc(num) {
		return quantity.Text(d)
	}
	for math.Mod(num, 2) == 0 {
		num, den = num/2, den/2
	}
	s := quantity.Text(num) + "/" + quantity.Text(den)
	if whole > 0 {
		s = quantity.Text(whole) + " " + s
	}
	return s
}

// form is a regular expression that is compiled when it is first asked for: a device that reads no designation does not
// carry what compiles them.
type form struct {
	text string
	once sync.Once
	re   *regexp.Regexp
}

// parts are those of a text that has the form; nil: it has not.
func (f *form) parts(text string) []string {
	f.once.Do(func() { f.re = regexp.MustCompile(f.text) })
	return f.re.FindStringSubmatch(text)
}

var (
	metricForm = form{text: `^M\s*(\d+(?:[.,]\d+)?)\s*(?:[X*]\s*(\d+(?:[.,]\d+)?))?` +
		`\s*(?:-\s*\d[A-Z0-9]*)?\s*(LH)?$`}
	inchForm = form{text: `^(#|NO\.?\s*)?((?:\d+[ -]+)?\d+/\d+|\d*\.\d+|\d+)\s*(?:"|IN)?` +
		`\s*(?:-?\s*(\d+(?:\.\d+)?)(?:\s*TPI)?)?\s*(8UN|UNC|UNF|UNS|UN)?(?:\s*-?\s*[123][AB])?\s*(LH)?$`}
)

// ParseThread reads a designation such as "M24", "M20x1.5", "3/4-10 UNC" or "1 1/8-8". A missing metric pitch means
// coarse. It refuses sizes and pitches outside the standards' ranges, taking them for typing errors. Source: ISO
// 261/262, ASME B1.1.
func ParseThread(text string) (Thread, error) {
	s := strings.ToUpper(quantity.Plain(text))
	if m := metricForm.parts(s); m != nil {
		return metricThread(text, dot(m[1]), m[2], m[3] != "")
	}
	if m := inchForm.parts(s); m != nil {
		return unifiedThread(text, m)
	}
	return Thread{}, badThread(text, "is not a thread designation")
}

func badThread(text, why string) error {
	return quantity.Refuse("thread", `Write it like "M24", "M20x1.5" or "1 1/8-8".`, "%q %s", text, why)
}

func dot(s string) float64 {
	v, _ := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64)
	return v
}

func metricThread(text string, d float64, pitch string, left bool) (Thread, error) {
	if d < 3 || d > 100 {
		return Thread{}, badThread(text, "is outside M3 to M100")
	}
	listed, has := CoarsePitch(quantity.Length(d))
	coarse := float64(listed)
	t := Thread{System: ISO, DiameterMM: d, PitchMM: coarse, Series: "coarse", LeftHand: left,
		Text: "M" + quantity.Text(d)}
	if pitch == "" {
		if !has {
			return Thread{}, badThread(text, "has no coarse pitch in the table: write the pitch")
		}
		t.Listed = true
		return t, nil
	}
	t.PitchMM = dot(pitch)
	top := coarse
	if !has {
		top = 8
	}
	if t.PitchMM < 0.2 || t.PitchMM > top {
		return Thread{}, badThread(text, "has a pitch outside 0.2 to "+quantity.Text(top)+" mm")
	}
	if has && t.PitchMM == coarse {
		t.Listed = true
		return t, nil
	}
	t.Series = "fine"
	t.Text += "x" + quantity.Text(t.PitchMM)
	for _, r := range metric {
		if r.d == d {
			for _, p := range r.fine {
				t.Listed = t.Listed || p == t.PitchMM
			}
		}
	}
	return t, nil
}

func unifiedThread(text string, m []string) (Thread, error) {
	mark, size, tpiText, series, left := m[1] != "", m[2], m[3], m[4], m[5] != ""
	tpi := dot(tpiText)
	if !strings.ContainsAny(size, "/.") {
		if n, _ := strconv.Atoi(size); mark || (tpiText != "" && (numberUNC[n] == tpi || numberUNF[n] == tpi) &&
			unc[float64(n)] != tpi && unf[float64(n)] != tpi) {
			return numberThread(text, n, tpi, tpiText != "", series, left)
		}
	}
	d, err := inches(text, size)
	if err != nil {
		return Thread{}, err
	}
	named := map[string]float64{"UNC": unc[d], "UNF": unf[d]}
	if d >= 1 && math.Mod(d, .125) == 0 {
		named["8UN"] = 8
	}
	if tpi, err = unifiedPitch(text, series, tpi, tpiText != "", named); err != nil {
		return Thread{}, err
	}
	out := inchThread(d, tpi, "UNS")
	out.Listed = false
	for _, name := range []string{"UNC", "UNF", "8UN"} {
		if named[name] == tpi {
			out = inchThread(d, tpi, name)
			break
		}
	}
	out.LeftHand = left
	return out, nil
}

// inches reads a diameter: 1, 1 1/8, 1-1/8, 1.125. Refused: outside 1/4 to 4.
func inches(text, size string) (float64, error) {
	d := 0.0
	for _, part := range strings.FieldsFunc(size, func(r rune) bool { return r == ' ' || r == '-' }) {
		a, b, fraction := strings.Cut(part, "/")
		if !fraction {
			d += dot(part)
			continue
		}
		if dot(b) == 0 {
			return 0, badThread(text, "divides by zero")
		}
		d += dot(a) / dot(b)
	}
	if d < .25 || d > 4 {
		return 0, badThread(text, "is outside 1/4 to 4 in")
	}
	return d, nil
}

// unifiedPitch gives the threads per inch: as said, or that of the series. named are the pitches of the size by their
// series.
func unifiedPitch(text, series string, tpi float64, given bool, named map[string]float64) (float64, error) {
	if series != "" && series != "UN" && series != "UNS" {
		want := named[series]
		if want == 0 {
			return 0, badThread(text, "is not a size of the "+series+" series")
		}
		if given && tpi != want {
			return 0, badThread(text, "is not the pitch of the "+series+" series, which is "+quantity.Text(want))
		}
		tpi = want
	}
	if tpi == 0 {
		return 0, badThread(text, "has no threads per inch and no series")
	}
	coarsest := named["UNC"]
	if named["8UN"] == 8 && (coarsest == 0 || coarsest > 8) {
		coarsest = 8
	}
	if coarsest > 0 && tpi < coarsest {
		return 0, badThread(text, "is coarser than any standard pitch of that size")
	}
	return tpi, nil
}

func numberThread(text string, n int, tpi float64, given bool, series string, left bool) (Thread, error) {
	c, f := numberUNC[n], numberUNF[n]
	if c == 0 && f == 0 {
		return Thread{}, badThread(text, "is not a standard number size")
	}
	switch {
	case series == "UNC":
		if given && tpi != c || c == 0 {
			return Thread{}, badThread(text, "is not a UNC pair")
		}
		tpi = c
	case series == "UNF":
		if given && tpi != f || f == 0 {
			return Thread{}, badThread(text, "is not a UNF pair")
		}
		tpi = f
	case !given:
		return Thread{}, badThread(text, "has no threads per inch and no series")
	}
	name := "UNS"
	if tpi == c {
		name = "UNC"
	} else if tpi == f {
		name = "UNF"
	}
	d := 0.060 + 0.013*float64(n)
	t := inchThread(d, tpi, name)
	t.Text = "#" + strconv.Itoa(n) + "-" + quantity.Text(tpi) + " " + name
	t.Listed, t.LeftHand = name != "UNS", left
	return t, nil
}

// Geometry works out the thread's measures. It refuses a pitch of half the diameter or more and sizes outside 1…200 mm
// (inch: up to 8 in). Source: ISO 724, ISO 898-1, ASME B1.1; the 60° profile is common to both systems.
func (t Thread) Geometry(w *working.Working) (Geometry, error) {
	d, p := t.DiameterMM, t.PitchMM
	if err := quantity.Positive("diameter", d, "pitch", p); err != nil {
		return Geometry{}, err
	}
	lo, hi := 1.0, 200.0
	if t.System == UN {
		lo, hi = 0, 8*mmPerInch
	}
	if d < lo || d > hi {
		return Geometry{}, quantity.Refuse("diameter", "Check the size.", "%s mm is outside %s to %s mm",
			quantity.Text(d), quantity.Text(lo), quantity.Text(hi))
	}
	if p >= d/2 {
		return Geometry{}, quantity.Refuse("pitch", "Check the pitch.", "%s mm is half the diameter or more",
			quantity.Text(p))
	}
	r3 := math.Sqrt(3)
	g := Geometry{D: d, Pitch: p, H: w.Step("H", "√(3) / 2 · P", r3/2*p),
		D2: w.Step("d2", "d - 3 · √(3) / 8 · P", d-3*r3/8*p), D1: w.Step("d1", "d - 5 · √(3) / 8 · P", d-5*r3/8*p),
		D3: w.Step("d3", "d - 17 · √(3) / 24 · P", d-17*r3/24*p)}
	if t.System == UN {
		g.Ds = w.Step("ds", "d - 0.9743 · P", d-0.9743*p)
	} else {
		g.Ds = w.Step("ds", "(d2 + d3) / 2", (g.D2+g.D3)/2)
	}
	g.As, g.A3 = w.Step("As", "π / 4 · ds ^ 2", math.Pi/4*g.Ds*g.Ds),
		w.Step("A3", "π / 4 · d3 ^ 2", math.Pi/4*g.D3*g.D3)
	g.LeadAngleDeg = w.Step("φ", "atan(P / (π · d2))", math.Atan(p/(math.Pi*g.D2))*180/math.Pi)
	return g, nil
}
