package report

import (
	"fmt"
	"math"

	"codeberg.org/go-pdf/fpdf"

	"dynacor/core/layout"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// rosette draws a group to its own layout: nuts, bars of torque, and on a bolt circle the rings of passes. r is half
// its width in mm.
func (s *sheet) rosette(g *plan.FastenerGroup, list []run.FastenerState, cx, cy, r float64) {
	if g.Layout.Shape() != layout.Circle || len(list) < 3 {
		s.placed(g, list, cx, cy, r)
		return
	}
	lay := g.Layout
	n := lay.Count
	k := r / 100
	rb := 46.0
	switch {
	case n > 20:
		rb = 51
	case n > 16:
		rb = 49
	case n > 12:
		rb = 48
	}
	nr := math.Min(11.5, 0.88*math.Pi*rb/float64(n))
	r0, bar := rb+nr+2, 33.0
	at := func(rad, deg float64) (float64, float64) {
		a := deg * math.Pi / 180
		return cx + rad*k*math.Sin(a), cy - rad*k*math.Cos(a)
	}
	s.centreLines(cx, cy, 97*k)
	s.SetDashPattern([]float64{3, 1, 0.8, 1}, 0)
	s.Circle(cx, cy, rb*k, "D")
	s.SetDashPattern([]float64{}, 0)
	s.SetDrawColor(0, 0, 0)
	s.SetLineWidth(0.3)
	s.Circle(cx, cy, r0*k, "D")
	s.Circle(cx, cy, (r0+bar)*k, "D")
	for i, f := range list {
		deg := lay.AngleDeg(i + 1)
		x0, y0 := at(r0, deg)
		hx, hy := at(rb, deg)
		s.bar(x0, y0, deg, bar*k, nr*k, f)
		s.nut(hx, hy, nr*k, f, n <= 28 || i%4 == 0)
		step := 360 / float64(n)
		passes := f.Marks
		if len(passes) > 4 {
			passes = passes[len(passes)-4:]
		}
		for p, m := range passes {
			if m == run.MarkNone {
				continue
			}
			rad := rb - nr - 3.2 - 4.6*float64(p) - 1.6
			s.SetLineWidth(2.6 * k)
			pad := math.Min(2.2, step*0.1) + 0.8
			s.Arc(cx, cy, rad*k, rad*k, 0, 90-deg-step/2+pad, 90-deg+step/2-pad, "D")
		}
	}
	s.SetLineWidth(0.3)
	if g.FinalNm == 0 || s.v.Record.Plan.Apart() {
		return
	}
	label := quantity.Text(quantity.Significant(g.FinalNm, 3)) + " N·m"
	s.font("mono", 8)
	w := s.GetStringWidth(label)
	_, ly := at(r0+bar, 0)
	s.SetFillColor(255, 255, 255)
	s.Rect(cx-w/2-1, ly-2, w+2, 4, "F")
	s.Text(cx-w/2, ly+1.1, label)
}

// placed draws fasteners that stand on no bolt circle, each with its bar away from the joint.
func (s *sheet) placed(g *plan.FastenerGroup, list []run.FastenerState, cx, cy, r float64) {
	k, reach := r/100, 56.0
	if len(list) == 1 {
		reach = 0
	}
	nearest := 60.0
	for i, a := range g.Places {
		for _, b := range g.Places[i+1:] {
			nearest = math.Min(nearest, reach*math.Hypot(a.X-b.X, a.Y-b.Y))
		}
	}
	nr := math.Max(2.4, math.Min(10, nearest*0.38))
	bar := math.Max(4, math.Min(24, (nearest-2*nr-5)/1.14))
	s.centreLines(cx, cy, 80*k)
	s.SetDrawColor(0, 0, 0)
	for i, f := range list {
		if i >= len(g.Places) {
			break
		}
		p := g.Places[i]
		x, y := cx+p.X*reach*k, cy+p.Y*reach*k
		a := p.NormalDeg * math.Pi / 180
		s.bar(x+(nr+2)*k*math.Sin(a), y-(nr+2)*k*math.Cos(a), p.NormalDeg, bar*k, nr*k, f)
		s.nut(x, y, nr*k, f, len(list) <= 28 || i%4 == 0)
	}
	s.SetLineWidth(0.3)
}

func (s *sheet) centreLines(cx, cy, h float64) {
	s.SetLineWidth(0.15)
	s.SetDrawColor(150, 150, 150)
	s.SetDashPattern([]float64{3, 1, 0.8, 1}, 0)
	s.Line(cx-h, cy, cx+h, cy)
	s.Line(cx, cy-h, cx, cy+h)
	s.SetDashPattern([]float64{}, 0)
}

// bar draws how far a fastener has come; it ends in a dot where a value was measured, and flat where a tool clicked.
func (s *sheet) bar(x, y, deg, length, width float64, f run.FastenerState) {
	t := length * math.Min(f.Fraction, 1.14)
	if t <= 0 {
		return
	}
	a := deg * math.Pi / 180
	x1, y1 := x+t*math.Sin(a), y-t*math.Cos(a)
	s.SetLineWidth(width)
	s.Line(x, y, x1, y1)
	if f.Measured {
		s.SetFillColor(0, 0, 0)
		s.Circle(x1, y1, width*0.5, "F")
		return
	}
	s.SetLineWidth(0.5)
	dx, dy := math.Cos(a)*width*0.85, math.Sin(a)*width*0.85
	s.Line(x1-dx, y1-dy, x1+dx, y1+dy)
}

func (s *sheet) nut(x, y, r float64, f run.FastenerState, numbered bool) {
	s.SetLineWidth(0.3)
	pts := []fpdf.PointType{}
	for c := range 6 {
		a := (30 + 60*float64(c)) * math.Pi / 180
		pts = append(pts, fpdf.PointType{X: x + r*math.Sin(a), Y: y - r*math.Cos(a)})
	}
	open := f.State == run.StandingLetGo
	s.SetFillColor(0, 0, 0)
	if open {
		s.SetFillColor(255, 255, 255)
	}
	s.Polygon(pts, "FD")
	if !numbered {
		return
	}
	num := fmt.Sprint(f.Number)
	s.font("mono", math.Max(5, math.Min(10, r*2.2)))
	if !open {
		s.SetTextColor(255, 255, 255)
	}
	_, fs := s.GetFontSize()
	s.Text(x-s.GetStringWidth(num)/2, y+fs*0.34, num)
	s.SetTextColor(0, 0, 0)
}

func (s *sheet) hexSign(x, y, r float64, good bool) {
	pts := []fpdf.PointType{}
	for c := range 6 {
		a := (90 + 60*float64(c)) * math.Pi / 180
		pts = append(pts, fpdf.PointType{X: x + r*math.Sin(a), Y: y - r*math.Cos(a)})
	}
	s.SetFillColor(0, 0, 0)
	s.Polygon(pts, "F")
	s.SetDrawColor(255, 255, 255)
	s.SetLineWidth(r * 0.22)
	if good {
		s.Line(x-r*0.42, y+r*0.04, x-r*0.12, y+r*0.36)
		s.Line(x-r*0.12, y+r*0.36, x+r*0.46, y-r*0.36)
	} else {
		s.Line(x-r*0.36, y-r*0.36, x+r*0.36, y+r*0.36)
		s.Line(x-r*0.36, y+r*0.36, x+r*0.36, y-r*0.36)
	}
	s.SetDrawColor(0, 0, 0)
	s.SetLineWidth(0.3)
}
