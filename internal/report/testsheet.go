package report

import (
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"dynacor/core/pressuretest"
	"dynacor/core/quantity"
)

// PressureTest is a test under pressure as it is printed.
type PressureTest struct {
	Spec   pressuretest.Spec
	Events []pressuretest.Event
	State  pressuretest.State
	Site   string
	Mark   string // of the sealed sheet, "": it is not closed
	KeyID  string
	At     time.Time // when it was closed
}

// TestSheet writes the sheet of a test under pressure.
func TestSheet(w io.Writer, t PressureTest) error {
	s := newPlainSheet("Test under pressure " + t.Spec.Tag)
	s.SetCreationDate(t.At)
	s.SetModificationDate(t.At)
	s.of = "Test under pressure " + t.Spec.Tag + ", kept in Records."
	s.test(t)
	return s.Output(w)
}

// TestGathering draws the sheets of a test for a book.
func TestGathering(f BookFacts, first int, t PressureTest) (pdf []byte, leaves int, err error) {
	s := newGathering(f, first)
	s.test(t)
	n := s.PageNo()
	pdf, err = s.bytes()
	return pdf, n, err
}

func (s *sheet) test(t PressureTest) {
	s.v.Mark = t.Mark
	s.page()
	x := t.Spec
	s.titled("Test under pressure", x.Title, x.Tag)
	fall := "may fall"
	if x.Kind == pressuretest.Vacuum {
		fall = "may rise"
	}
	cells := [][2]string{{"With", x.Kind.Word() + ", " + orDash(x.Medium)}, {"Joints", strings.Join(x.Joints, ", ")},
		{"Document", orDash(x.Procedure)}, {"Gauge", gaugeWords(x.Gauge)}, {"Design pressure", barWords(x.DesignBar)},
		{"Test pressure", barWords(x.TestBar)}, {"Weakest part takes", barWords(x.MostBar)}}
	if x.LossBar > 0 {
		cells = append(cells, [2]string{"In the hold it " + fall, barWords(x.LossBar)})
	}
	if x.ZoneM > 0 {
		cells = append(cells, [2]string{"Nobody nearer than", quantity.Text(x.ZoneM) + " m"})
	}
	const cols = 4
	for ; len(cells) > 0; cells = cells[min(cols, len(cells)):] {
		s.factRow(cells[:min(cols, len(cells))], width/cols)
	}
	s.y += 3
	v := t.State.Verdict
	s.reason("verdict", v.Word+". "+v.Sentence, "")
	for _, c := range x.Cautions() {
		s.line(left+1, width-2, "text", 8.6, "Caution: "+c)
	}
	s.trace(t)
	s.testTables(t)
	s.rule("Signed with name and PIN")
	for _, g := range t.State.Signatures {
		s.line(left+1, width-2, "bold", 10, fmt.Sprintf("%s, as %s, %s UTC", g.Name, g.As,
			g.At.UTC().Format("2 Jan 2006, 15:04")))
	}
	if len(t.State.Signatures) == 0 {
		s.line(left+1, width-2, "text", 9, "Nobody yet: the test is not closed.")
	}
	if t.Mark != "" {
		s.line(left+1, width-2, "text", 8.6, fmt.Sprintf("Sealed %s UTC at %s with key %s over %d entries. Digest: %s",
			t.At.UTC().Format("2 Jan 2006, 15:04:05"), t.Site, t.KeyID, len(t.Events), t.Mark))
	}
}

func barWords(v float64) string {
	if v == 0 {
		return "none stated"
	}
	return quantity.Text(quantity.Significant(v, 4)) + " bar"
}

// changeWords writes a change of pressure; none is told as 0.
func changeWords(v float64) string { return quantity.Text(quantity.Significant(v, 2)) + " bar" }

func gaugeWords(g pressuretest.Gauge) string {
	return fmt.Sprintf("%s, to %s bar, a mark %s bar, certificate to %s", g.Tag, quantity.Text(g.Range),
		quantity.Text(g.Mark), g.CheckBy)
}

// trace draws the pressure over time, with the pressures that were to be held as thin lines.
func (s *sheet) trace(t PressureTest) {
	points := t.State.Trace
	if len(points) < 2 {
		return
	}
	const h, axis = 62.0, 12.0
	s.rule("Pressure over time, as read")
	s.room(h + 12)
	first, last := points[0].At, points[len(points)-1].At
	most := t.Spec.TestBar
	for _, p := range points {
		most = max(most, p.Bar)
	}
	for _, x := range t.Spec.Steps {
		most = max(most, x.Bar)
	}
	if most <= 0 || !last.After(first) {
		return
	}
	most *= 1.08
	x := func(at time.Time) float64 {
		return left + axis + (width-axis)*at.Sub(first).Seconds()/last.Sub(first).Seconds()
	}
	y := func(bar float64) float64 { return s.y + h*(1-bar/most) }
	s.SetLineWidth(0.3)
	s.Rect(left+axis, s.y, width-axis, h, "D")
	s.SetLineWidth(0.15)
	s.font("mono", 7.6)
	var told []float64
	for _, step := range t.Spec.Steps {
		if slices.Contains(told, step.Bar) {
			continue
		}
		told = append(told, step.Bar)
		s.SetDrawColor(140, 140, 140)
		s.Line(left+axis, y(step.Bar), right, y(step.Bar))
		label := quantity.Text(step.Bar)
		s.Text(left+axis-1.5-s.GetStringWidth(label), y(step.Bar)+1, label)
	}
	s.Text(left, s.y+3, "bar")
	s.SetDrawColor(0, 0, 0)
	s.SetLineWidth(0.5)
	for i := 1; i < len(points); i++ {
		s.Line(x(points[i-1].At), y(points[i-1].Bar), x(points[i].At), y(points[i].Bar))
	}
	for _, p := range points {
		s.SetFillColor(0, 0, 0)
		s.Circle(x(p.At), y(p.Bar), 0.7, "F")
	}
	s.y += h
	from, to := first.UTC().Format("2 Jan, 15:04"), last.UTC().Format("15:04")+" UTC"
	s.Text(left+axis, s.y+4, from)
	s.Text(right-s.GetStringWidth(to), s.y+4, to)
	s.y += 7
}

func (s *sheet) testTables(t PressureTest) {
	if len(t.State.Holds) > 0 {
		s.rule("Held")
		rows := [][]string{}
		for _, h := range t.State.Holds {
			how := "held"
			switch {
			case h.Failed:
				how = "fell"
			case !h.Over && t.State.Phase == pressuretest.Holding:
				how = "lasts"
			case !h.Over:
				how = "broken off"
			case h.Judged:
				how = "held, judged"
			}
			rows = append(rows, []string{fmt.Sprint(h.Step), barWords(h.Bar), quantity.Text(h.Min) + " min", how,
				changeWords(h.Sum.Change), tempWords(h.Sum), changeWords(h.Sum.Lost)})
		}
		s.table([]float64{.07, .14, .12, .17, .16, .18, .16}, []string{"Step", "At", "For", "How", "Change",
			"By temperature", "Lost"}, rows)
	}
	if len(t.State.Looks) > 0 {
		s.rule("Looked at")
		rows := [][]string{}
		for _, l := range t.State.Looks {
			rows = append(rows, []string{l.Joint, map[bool]string{true: "dry", false: "weeps"}[l.Dry],
				fmt.Sprintf("step %d", l.Step), l.By, l.At.UTC().Format("2 Jan, 15:04"), l.Note})
		}
		s.table([]float64{.16, .1, .1, .2, .14, .3}, []string{"Joint", "Found", "At", "By", "When, UTC", "Note"}, rows)
	}
	s.rule("Every entry")
	rows := [][]string{}
	for i, e := range t.Events {
		rows = append(rows, []string{fmt.Sprint(i + 1), e.At.UTC().Format("2 Jan, 15:04:05"), entryWords(e), e.Note,
			e.Person.Name})
	}
	s.table([]float64{.06, .17, .32, .27, .18}, []string{"", "When, UTC", "What", "Note", "By"}, rows)
}

func tempWords(x pressuretest.Sum) string {
	if !x.Warm {
		return "not read"
	}
	return changeWords(x.Explained)
}

// entryWords say what an entry of a test is, its figures as they were typed.
func entryWords(e pressuretest.Event) string {
	out := strings.ReplaceAll(string(e.Kind), "_", " ")
	if e.Gate != "" {
		out += ", " + strings.ReplaceAll(e.Gate, "/", " ")
	}
	if e.BarAs != "" {
		out += ", " + e.BarAs + " bar"
	}
	if e.TempAs != "" {
		out += ", " + e.TempAs + " °C"
	}
	if e.Joint != "" {
		out += ", " + e.Joint + map[bool]string{true: " dry", false: " weeps"}[e.Dry]
	}
	if e.Way != "" {
		out += ", " + e.Way
	}
	if e.As != "" {
		out += " as " + string(e.As)
	}
	return out
}
