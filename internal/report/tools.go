package report

import (
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/core/working"
)

func (s *sheet) tools() {
	s.rule("Tools and their certificates")
	rows, seen := [][]string{}, map[string]bool{}
	for _, e := range s.v.Record.Events {
		for _, t := range taken(e.Event) {
			if seen[t.Tag+t.Certificate] {
				continue
			}
			seen[t.Tag+t.Certificate] = true
			what, accuracy, cert := t.Name(), "", "none needed"
			if t.Kind.Sets() != "" {
				what = quantity.Text(t.RatedMin) + " to " + quantity.Text(t.RatedMax) + " " + t.Unit.Symbol() +
					", step " + quantity.Text(t.Graduation)
			}
			if t.AccuracyPct > 0 {
				accuracy = "±" + quantity.Text(t.AccuracyPct) + " %"
			}
			if t.Certificate != "" {
				cert = t.Certificate + ", " + string(t.CalibratedOn) + " to " + string(t.CalibrationEnds)
			}
			rows = append(rows, []string{t.Tag, t.Maker + " " + t.Serial, what, accuracy, cert})
		}
	}
	s.table([]float64{.1, .22, .27, .1, .31}, []string{"Tool", "Maker, serial", "Range", "Accuracy", "Certificate"},
		rows)
}

// taken are the tools that an event put in hand, in order from hand or pump to the nut.
func taken(e run.Event) []tool.Tool {
	switch {
	case e.SetUp != nil:
		return e.SetUp.String
	case e.Wrench != nil:
		return []tool.Tool{*e.Wrench}
	}
	return nil
}

func (s *sheet) workings() {
	for _, w := range s.v.Record.Plan.Workings {
		s.rule("Working: " + w.Title)
		rows := [][]string{}
		for _, l := range w.Lines {
			f := l.Formula
			if l.Numbers != "" && l.Numbers != l.Formula {
				f += " = " + l.Numbers
			}
			rows = append(rows,
				[]string{l.Symbol, l.Name, f, l.Text, map[working.Origin]string{working.Supplied: "supplied",
					working.LookedUp: "table", working.Calculated: "worked out"}[l.Origin] + ": " + l.Source})
		}
		s.table([]float64{.08, .22, .28, .13, .29}, []string{"", "Figure", "Formula", "Value", "From"}, rows)
		for _, t := range append(append([]string{}, w.Takes...), w.Warnings...) {
			s.line(left+1, width, "text", 8.4, t)
		}
	}
}
