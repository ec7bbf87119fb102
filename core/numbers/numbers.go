// Package numbers says what the last pulls of a site tell: how they lie about their aims, which are outside, and
// whether a tool or a place drifts.
package numbers

import (
	"cmp"
	"math"
	"slices"
	"strings"
	"time"

	"gonum.org/v1/gonum/stat"

	"dynacor/core/quantity"
)

// Value is one last pull, in per cent from its own joint's aim; where the aim is none, of what may be.
type Value struct {
	Row      string    `json:"-"` // what it is counted under
	Pct      float64   `json:"pct"`
	Low      float64   `json:"low"` // its own joint's limits; both 0: the document gives none
	High     float64   `json:"high"`
	At       time.Time `json:"at"`
	Record   string    `json:"record"`
	Tag      string    `json:"tag"`
	Fastener string    `json:"fastener"`
	Tool     string    `json:"tool"`
}

// outside reports whether it is past its own joint's limits.
func (v Value) outside() bool {
	return v.Low < v.High && (!quantity.AtMost(v.Low, v.Pct) || !quantity.AtMost(v.Pct, v.High))
}

// Bin counts the pulls about a value.
type Bin struct {
	At   float64 `json:"at"` // middle, per cent
	N    int     `json:"n"`
	Past int     `json:"past"` // of them: outside their own joints' limits
}

// Row is one line of the sheet: a crew, a tool, a family.
type Row struct {
	Name    string  `json:"name"`
	N       int     `json:"n"`
	Middle  float64 `json:"middle"` // median, per cent from the aim
	P5      float64 `json:"p5"`     // 90 of 100 lie from here
	P95     float64 `json:"p95"`    // to here
	Outside int     `json:"outside"`
	Inside  float64 `json:"insidePct"` // the others, per cent of all
	Worst   []Value `json:"worst"`     // outside ones, the furthest first, six at most
	Bins    []Bin   `json:"bins"`      // by 0.2 per cent
	// how often the spread fits between the limits, and between what 95 of 100 such samples would say; nil: too few, no
	// limits, or no spread
	Cpk     *float64 `json:"cpk,omitempty"`
	CpkLow  *float64 `json:"cpkLow,omitempty"`
	CpkHigh *float64 `json:"cpkHigh,omitempty"`
}

// Numbers are the rows of a choice of pulls.
type Numbers struct {
	Rows  []Row   `json:"rows"` // by name: nobody is ranked
	All   Row     `json:"all"`
	Low   float64 `json:"low"` // the limits most of the joints have; both 0: none
	High  float64 `json:"high"`
	Chart Chart   `json:"chart"`
}

const (
	binPct    = 0.2
	mostNamed = 6
	fewest    = 20 // a Cpk or an outer line of fewer values says nothing
)

// Of counts pulls under their rows. The chart is of the row whose middle is furthest from the aim among those with
// enough pulls to tell.
func Of(values []Value) Numbers {
	by := map[string][]Value{}
	for _, v := range values {
		by[v.Row] = append(by[v.Row], v)
	}
	out := Numbers{Rows: []Row{}, All: row("all", values), Chart: Chart{Points: []Point{}}}
	for name, list := range by {
		out.Rows = append(out.Rows, row(name, list))
	}
	slices.SortFunc(out.Rows, func(a, b Row) int { return strings.Compare(a.Name, b.Name) })
	out.Low, out.High = commonest(values)
	worst := -1.0
	for _, r := range out.Rows {
		if far := math.Abs(r.Middle); r.N >= fewest && far > worst {
			worst, out.Chart.Name = far, r.Name
		}
	}
	if worst >= 0 {
		out.Chart = chart(out.Chart.Name, by[out.Chart.Name])
	}
	return out
}

func row(name string, values []Value) Row {
	r := Row{Name: name, N: len(values), Worst: []Value{}, Bins: []Bin{}}
	if r.N == 0 {
		return r
	}
	sorted := make([]float64, r.N)
	bins := map[int]Bin{}
	for i, v := range values {
		sorted[i] = v.Pct
		at := int(math.Round(v.Pct / binPct))
		b := bins[at]
		b.N++
		if v.outside() {
			b.Past++
			r.Outside++
			r.Worst = append(r.Worst, v)
		}
		bins[at] = b
	}
	r.Inside = 100 * float64(r.N-r.Outside) / float64(r.N)
	slices.Sort(sorted)
	r.Middle, r.P5, r.P95 = quantile(sorted, 0.5), quantile(sorted, 0.05), quantile(sorted, 0.95)
	slices.SortStableFunc(r.Worst, func(a, b Value) int { return cmp.Compare(past(b), past(a)) })
	r.Worst = r.Worst[:min(len(r.Worst), mostNamed)]
	for at, b := range bins {
		r.Bins = append(r.Bins, Bin{float64(at) * binPct, b.N, b.Past})
	}
	slices.SortFunc(r.Bins, func(a, b Bin) int { return cmp.Compare(a.At, b.At) })
	r.cpk(values)
	return r
}

// past is how far a value is past its limit.
func past(v Value) float64 { return max(v.Low-v.Pct, v.Pct-v.High) }

// quantile interpolates between the sorted values; p from 0 to 1.
func quantile(sorted []float64, p float64) float64 {
	at := p * float64(len(sorted)-1)
	i := int(at)
	if i+1 >= len(sorted) {
		return sorted[len(sorted)-1]
	}
	return sorted[i] + (at-float64(i))*(sorted[i+1]-sorted[i])
}

// cpk is worked out of where each pull lies between its own joint's limits, −1 to 1, so that joints of different limits
// are counted alike. Source: Cpk as in ISO 22514-2; its interval by the normal approximation
// Cpk ± 1.96·√(1/(9n) + Cpk²/(2(n − 1))).
func (r *Row) cpk(values []Value) {
	var u []float64
	for _, v := range values {
		if v.Low < 0 && v.High > 0 { // of what lies on one side of its aim only, a Cpk says nothing
			u = append(u, (2*v.Pct-v.Low-v.High)/(v.High-v.Low))
		}
	}
	if len(u) < fewest {
		return
	}
	m, s := stat.MeanStdDev(u, nil)
	if s < 1e-9 {
		return
	}
	n := float64(len(u))
	c := min(1-m, m+1) / (3 * s)
	half := 1.96 * math.Sqrt(1/(9*n)+c*c/(2*(n-1)))
	low, high := c-half, c+half
	r.Cpk, r.CpkLow, r.CpkHigh = &c, &low, &high
}

// commonest are the limits that most pulls have.
func commonest(values []Value) (low, high float64) {
	count := map[[2]float64]int{}
	best := 0
	for _, v := range values {
		if v.Low >= v.High {
			continue
		}
		k := [2]float64{v.Low, v.High}
		count[k]++
		if n := count[k]; n > best || n == best && (k[1]-k[0] < high-low || k[1]-k[0] == high-low && k[0] < low) {
			best, low, high = n, k[0], k[1]
		}
	}
	return low, high
}
