package report

import (
	"fmt"
	"io"
	"slices"
	"strings"
	"time"
)

// ProgressArea is a line of the page for the morning meeting.
type ProgressArea struct {
	Area                         string
	Total, Done, InHand, Stopped int
}

// Progress is how far a work package has come, as it is printed. Times that are not known are zero.
type Progress struct {
	Code, Name, Site      string
	At                    time.Time // by the site's clocks, as all times here
	Total                 int
	Done, Planned         []time.Time // in order
	Behind                int
	Areas                 []ProgressArea
	Finish, P80, Forecast time.Time
	Says, Stopped         []string
}

// One page is one page: so many lines of what is behind and of what is stopped, and so many areas, the last of which
// stands for those that have no room.
const (
	mostPrinted = 4
	mostAreas   = 10
)

// ProgressSheet writes one page for the morning meeting.
func ProgressSheet(w io.Writer, p Progress) error {
	s := newPlainSheet("Progress of " + p.Code)
	s.SetCreationDate(p.At.UTC())
	s.SetModificationDate(p.At.UTC())
	s.of = p.Site + ", " + p.At.Format("Mon 2 January 2006, 15:04")
	s.page()
	s.titled("Progress", strings.TrimSpace(p.Name+" at "+p.At.Format("Mon 2 January, 15:04")), p.Code)
	against := "as planned"
	switch {
	case p.Finish.IsZero():
		against = "no plan is in force"
	case p.Behind > 0:
		against = fmt.Sprintf("%d behind the plan", p.Behind)
	case p.Behind < 0:
		against = fmt.Sprintf("%d ahead of the plan", -p.Behind)
	}
	s.factRow([][2]string{{"Joints accepted", fmt.Sprintf("%d of %d", len(p.Done), p.Total)}, {"By now", against},
		{"Done by the plan", dayTime(p.Finish)}, {"In 80 of 100 runs of it", dayTime(p.P80)},
		{"At the pace of the last day", dayTime(p.Forecast)}}, width/5)
	s.curves(p)
	s.rule("By area")
	for _, a := range printedAreas(p.Areas) {
		s.area(a)
	}
	s.printed("Behind, and why", p.Says)
	s.printed("Stopped", p.Stopped)
	return s.Output(w)
}

func printedAreas(list []ProgressArea) []ProgressArea {
	if len(list) <= mostAreas {
		return list
	}
	out := slices.Clone(list[:mostAreas-1])
	rest := ProgressArea{Area: fmt.Sprintf("%d other areas", len(list)-len(out))}
	for _, a := range list[len(out):] {
		rest.Total, rest.Done = rest.Total+a.Total, rest.Done+a.Done
		rest.InHand, rest.Stopped = rest.InHand+a.InHand, rest.Stopped+a.Stopped
	}
	return append(out, rest)
}

func dayTime(t time.Time) string {
	if t.IsZero() {
		return "–"
	}
	return t.Format("Mon 2 Jan 15:04")
}

func (s *sheet) printed(title string, list []string) {
	if len(list) == 0 {
		return
	}
	s.rule(title)
	for _, l := range list[:min(len(list), mostPrinted)] {
		s.line(left+1, width-2, "text", 9.5, l)
	}
	if n := len(list) - mostPrinted; n > 0 {
		s.line(left+1, width-2, "text", 9.5, fmt.Sprintf("and %d more, in Dynacor.", n))
	}
}

// area is a bar: filled as far as it is done, hatched where it is stopped.
func (s *sheet) area(a ProgressArea) {
	const name, h = 46.0, 5.0
	s.room(h + 3)
	s.font("text", 9.5)
	s.Text(left+1, s.y+3.8, s.fitted(a.Area, name-2))
	w := width - name - 34
	x := left + name
	s.SetLineWidth(0.3)
	s.Rect(x, s.y, w, h, "D")
	if a.Total > 0 {
		each := w / float64(a.Total)
		s.SetFillColor(14, 46, 55)
		s.Rect(x, s.y, each*float64(a.Done), h, "F")
		s.SetFillColor(190, 196, 190)
		s.Rect(x+each*float64(a.Done), s.y, each*float64(a.InHand), h, "F")
		for i := range a.Stopped { // crossed out, so that it is seen without colour
			at := x + each*float64(a.Total-i-1)
			s.Line(at, s.y, at+each, s.y+h)
			s.Line(at, s.y+h, at+each, s.y)
		}
	}
	text := fmt.Sprintf("%d of %d", a.Done, a.Total)
	if a.Stopped > 0 {
		text += fmt.Sprintf(", %d stopped", a.Stopped)
	}
	s.font("bold", 9.5)
	s.Text(x+w+2, s.y+3.8, text)
	s.y += h + 2.4
}

// fitted is as much of a text as stands on w mm.
func (s *sheet) fitted(text string, w float64) string { return s.split(text, w)[0] }

// curves are the joints over time: planned broken, done heavy, now an upright.
func (s *sheet) curves(p Progress) {
	all := slices.Concat(p.Planned, p.Done, []time.Time{p.At})
	first, last := slices.MinFunc(all, time.Time.Compare), slices.MaxFunc(all, time.Time.Compare)
	if p.Total == 0 || !last.After(first) {
		return
	}
	const h, axis = 50.0, 10.0
	s.rule("Joints accepted over time; broken: as planned")
	s.room(h + 10)
	x := func(t time.Time) float64 {
		return left + axis + (width-axis)*t.Sub(first).Seconds()/last.Sub(first).Seconds()
	}
	base := s.y + h
	y := func(n int) float64 { return base - (h-2)*float64(n)/float64(p.Total) }
	s.font("mono", 8)
	s.SetLineWidth(0.3)
	s.Line(left+axis, base, right, base)
	s.Line(left+axis, s.y, left+axis, base)
	s.Text(left, y(p.Total)+1, fmt.Sprint(p.Total))
	s.Text(left, base, "0")
	steps := func(list []time.Time, end time.Time) {
		px, n := left+axis, 0
		for _, t := range list {
			s.Line(px, y(n), x(t), y(n))
			n++
			s.Line(x(t), y(n-1), x(t), y(n))
			px = x(t)
		}
		s.Line(px, y(n), x(end), y(n))
	}
	s.SetDashPattern([]float64{1.4, 1}, 0)
	steps(p.Planned, last)
	s.SetDashPattern(nil, 0)
	s.SetLineWidth(0.9)
	steps(p.Done, p.At)
	s.SetLineWidth(0.4)
	s.Line(x(p.At), s.y, x(p.At), base)
	s.font("text", 8)
	s.Text(left+axis, base+3.6, first.Format("Mon 2 Jan 15:04"))
	end := last.Format("Mon 2 Jan 15:04")
	s.Text(right-s.GetStringWidth(end), base+3.6, end)
	s.Text(min(max(left+axis, x(p.At)-4), right-8), s.y-0.6, "now")
	s.y = base + 6
}
