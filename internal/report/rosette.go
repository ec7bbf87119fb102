package report

import (
	"fmt"
	"math"

	"codeberg.org/go-pdf/fpdf"

	"dynacor/core/run"
)

// rosette draws the joint to its own layout: nuts, bars of torque, rings of passes.
func (s *sheet) rosette(cx, cy, r float64) {
	st := s.v.Record.State
	lay := s.v.Record.Plan.Layout
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
	s.SetLineWidth(0.15)
	s.SetDrawColor(150, 150, 150)
	s.SetDashPattern([]float64{3, 1, 0.8, 1}, 0)
	s.Line(cx-97*k, cy, cx+97*k, cy)
	s.Line(cx, cy-97*k, cx, cy+97*k)
	s.Circle(cx, cy, rb*k, "D")
	s.SetDashPattern([]float64{}, 0)
	s.SetDrawColor(0, 0, 0)
	s.SetLineWidth(0.3)
	s.Circle(cx, cy, r0*k, "D")
	s.Circle(cx, cy, (r0+bar)*k, "D")
	for i, f := range st.Fasteners {
		deg := lay.AngleDeg(f.Position)
		t := math.Min(f.Fraction, 1.14)
		x0, y0 := at(r0, deg)
		x1, y1 := at(r0+bar*t, deg)
		s.SetLineWidth(nr * k)
		s.Line(x0, y0, x1, y1)
		if f.Measured {
			s.SetFillColor(0, 0, 0)
			s.Circle(x1, y1, nr*0.5*k, "F")
		} else {
			s.SetLineWidth(0.5)
			a := deg * math.Pi / 180
			dx, dy := math.Cos(a)*nr*0.85*k, math.Sin(a)*nr*0.85*k
			s.Line(x1-dx, y1-dy, x1+dx, y1+dy)
		}
		s.SetLineWidth(0.3)
		hx, hy := at(rb, deg)
		pts := []fpdf.PointType{}
		for c := range 6 {
			a := (30 + 60*float64(c)) * math.Pi / 180
			pts = append(pts, fpdf.PointType{X: hx + nr*k*math.Sin(a), Y: hy - nr*k*math.Cos(a)})
		}
		s.SetFillColor(0, 0, 0)
		s.Polygon(pts, "FD")
		if n <= 28 || i%4 == 0 {
			num := fmt.Sprint(f.Number)
			s.font("mono", math.Max(5, math.Min(10, nr*k*2.2)))
			s.SetTextColor(255, 255, 255)
			_, fs := s.GetFontSize()
			s.Text(hx-s.GetStringWidth(num)/2, hy+fs*0.34, num)
			s.SetTextColor(0, 0, 0)
		}
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
	label := fmt.Sprintf("%.0f N·m", s.v.Record.Plan.FinalNm)
	s.font("mono", 8)
	w := s.GetStringWidth(label)
	_, ly := at(r0+bar, 0)
	s.SetFillColor(255, 255, 255)
	s.Rect(cx-w/2-1, ly-2, w+2, 4, "F")
	s.Text(cx-w/2, ly+1.1, label)
}

func (s *sheet) hexTick(x, y, r float64) {
	pts := []fpdf.PointType{}
	for c := range 6 {
		a := (90 + 60*float64(c)) * math.Pi / 180
		pts = append(pts, fpdf.PointType{X: x + r*math.Sin(a), Y: y - r*math.Cos(a)})
	}
	s.SetFillColor(0, 0, 0)
	s.Polygon(pts, "F")
	s.SetDrawColor(255, 255, 255)
	s.SetLineWidth(r * 0.22)
	s.Line(x-r*0.42, y+r*0.04, x-r*0.12, y+r*0.36)
	s.Line(x-r*0.12, y+r*0.36, x+r*0.46, y-r*0.36)
	s.SetDrawColor(0, 0, 0)
	s.SetLineWidth(0.3)
}
