// Package report draws what is printed: the certificate of a sealed record and the tag for the joint. The same record always
// gives the same bytes.
package report

import (
	_ "embed"
	"fmt"
	"io"
	"slices"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	qrcode "github.com/skip2/go-qrcode"

	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/core/working"
	"dynacor/internal/app"
)

//go:embed fonts/condensed-bold.ttf
var condensedBold []byte

//go:embed fonts/text.ttf
var textFont []byte

//go:embed fonts/text-bold.ttf
var textBold []byte

//go:embed fonts/mono.ttf
var mono []byte

const (
	left, right, top, bottom = 14.0, 196.0, 14.0, 283.0
	width                    = right - left
)

// sheet is a page being drawn, in mm from the top left.
type sheet struct {
	*fpdf.Fpdf
	v app.RecordView
	y float64
	n int
}

func newSheet(v app.RecordView, title string) *sheet {
	s := newPlainSheet(title)
	s.SetCreationDate(v.Row.SealedAt)
	s.SetModificationDate(v.Row.SealedAt)
	s.v = v
	return s
}

// newPlainSheet is a document with the fonts of the house and nothing on it.
func newPlainSheet(title string) *sheet {
	p := fpdf.New("P", "mm", "A4", "")
	p.SetCatalogSort(true)
	p.SetTitle(title, true)
	p.SetAutoPageBreak(false, 0)
	p.AddUTF8FontFromBytes("cond", "", condensedBold)
	p.AddUTF8FontFromBytes("text", "", textFont)
	p.AddUTF8FontFromBytes("bold", "", textBold)
	p.AddUTF8FontFromBytes("mono", "", mono)
	return &sheet{Fpdf: p}
}

func (s *sheet) page() {
	s.AddPage()
	s.n++
	s.SetDrawColor(0, 0, 0)
	s.SetTextColor(0, 0, 0)
	s.SetLineWidth(0.35)
	s.Rect(8, 8, 194, 281, "D")
	s.font("text", 8)
	s.Text(left, 286.5, "Record "+s.v.Row.Number+", kept in Records under "+s.v.Row.Tag+".")
	end := fmt.Sprintf("sheet %d   mark %s", s.n, shortMark(s.v.Row.Mark))
	s.font("mono", 8)
	s.Text(right-s.GetStringWidth(end), 286.5, end)
	s.y = top
}

// room starts a new sheet when h mm do not fit.
func (s *sheet) room(h float64) {
	if s.y+h > bottom {
		s.page()
	}
}

func (s *sheet) font(name string, size float64) { s.SetFont(name, "", size) }

func (s *sheet) rule(title string) {
	s.room(12)
	s.y += 3
	s.font("cond", 11.5)
	s.Text(left, s.y+4, title)
	x := left + s.GetStringWidth(title) + 2.5
	s.SetLineWidth(0.25)
	s.Line(x, s.y+2.7, right, s.y+2.7)
	s.y += 6.5
}

// line writes text, wrapped to w, and moves on.
func (s *sheet) line(x, w float64, font string, size float64, text string) {
	s.font(font, size)
	for _, l := range s.SplitText(plainSpaces(text), w) {
		s.room(size * 0.42)
		s.Text(x, s.y+size*0.33, l)
		s.y += size * 0.44
	}
}

// plainSpaces: the fonts have no thin space.
func plainSpaces(t string) string {
	return strings.NewReplacer("\u2009", " ", "\u00a0", " ").Replace(t)
}

func shortMark(m string) string {
	m = strings.ToUpper(m)
	if len(m) < 8 {
		return m
	}
	return m[:4] + "-" + m[4:8]
}

// Certificate writes the certificate of a record.
func Certificate(w io.Writer, v app.RecordView) error {
	s := newSheet(v, "Bolted joint record "+v.Row.Number)
	s.page()
	s.head("Bolted joint record", v.Record.Site+", "+v.Row.Area)
	s.facts()
	s.joint()
	s.verdict()
	s.passes()
	s.signatures()
	s.checks()
	s.photos()
	s.deviations()
	s.readings()
	s.tools()
	s.workings()
	if err := s.closing(); err != nil {
		return err
	}
	return s.Output(w)
}

func (s *sheet) head(title, under string) {
	s.font("cond", 26)
	s.Text(left, s.y+9, title)
	s.font("text", 10.5)
	s.Text(left, s.y+15, plainSpaces(under))
	s.plate(s.v.Row.Tag, right, s.y, 22)
	s.y += 20
}

// plate draws the tag of a joint, its right edge at x.
func (s *sheet) plate(tag string, x, y, size float64) {
	s.font("mono", size)
	w := s.GetStringWidth(tag) + size*0.62
	h := size * 0.6
	s.SetFillColor(0, 0, 0)
	s.Polygon([]fpdf.PointType{{X: x - w, Y: y + h*0.3}, {X: x - w + h*0.3, Y: y}, {X: x, Y: y}, {X: x, Y: y + h}, {X: x - w + h*0.3, Y: y + h}, {X: x - w, Y: y + h*0.7}}, "F")
	s.SetFillColor(255, 255, 255)
	s.Circle(x-w+size*0.16, y+h/2, size*0.055, "F")
	s.SetTextColor(255, 255, 255)
	s.Text(x-w+size*0.36, y+h*0.74, tag)
	s.SetTextColor(0, 0, 0)
}

func (s *sheet) facts() {
	p := s.v.Record.Plan
	sp := p.Specification
	found := func(code string) string {
		for _, c := range s.v.Record.State.Checks {
			if c.Code == code && c.Text != "" {
				return c.Text
			}
		}
		return "not written down"
	}
	wr := []string{}
	for _, ps := range s.v.Record.State.Passes {
		for _, t := range ps.Wrenches {
			if !contains(wr, t) {
				wr = append(wr, t)
			}
		}
	}
	gasket, preload, family := "none in this joint", "not by torque", p.FamilyName
	if sp.Gasket != "" || p.Family == "gasketed_flange" {
		gasket = orDash(sp.Gasket)
	}
	if p.PreloadKN > 0 {
		preload = fmt.Sprintf("%s kN each, %s to %s", sig(p.PreloadKN), sig(p.PreloadMinKN), sig(p.PreloadMaxKN))
	}
	aim := s.v.Row.Target
	if len(p.Others) > 0 {
		aim, preload = "by group, below", "by group, in the workings"
	}
	if family == "" {
		family = "gasketed flange"
	}
	if len(p.VariantWords) > 0 {
		family += ", " + strings.Join(p.VariantWords, ", ")
	}
	cells := [][2]string{{"Joint", p.Joint.Name}, {"Make", makeOf(s.v)}, {"Gasket", gasket}, {"Lubricant found", found("lubricant")},
		{"Document", sp.Source()}, {"Aim at the nut", aim}, {"Preload", preload}, {"Tools", strings.Join(wr, ", ")},
		{"Service", orDash(p.Joint.Service)}, {"Equipment", orDash(p.Joint.Equipment)}, {"Procedure", fmt.Sprintf("%s, version %d", family, p.ProcedureVersion)}, {"House rules", fmt.Sprintf("version %d", p.HouseRulesVersion)}}
	const cols, h = 4, 12.0
	w := width / cols
	rows := (len(cells) + cols - 1) / cols
	s.SetLineWidth(0.3)
	s.Rect(left, s.y, width, float64(rows)*h, "D")
	for i, c := range cells {
		x, y := left+float64(i%cols)*w, s.y+float64(i/cols)*h
		s.SetDrawColor(150, 150, 150)
		if i%cols > 0 {
			s.Line(x, y, x, y+h)
		}
		if i >= cols {
			s.Line(x, y, x+w, y)
		}
		s.SetDrawColor(0, 0, 0)
		s.font("text", 8)
		s.SetTextColor(70, 70, 70)
		s.Text(x+2, y+3.9, c[0])
		s.SetTextColor(0, 0, 0)
		size := 9.5
		s.font("bold", size)
		lines := s.SplitText(plainSpaces(c[1]), w-3)
		if len(lines) > 1 {
			size = 7.6
			s.font("bold", size)
			lines = s.SplitText(plainSpaces(c[1]), w-3)
		}
		gap := 3.1
		if len(lines) > 2 {
			size, gap = 5.8, 2.4
			s.font("bold", size)
			lines = s.SplitText(plainSpaces(c[1]), w-3)
		}
		for j, l := range lines[:min(3, len(lines))] {
			s.Text(x+2, y+4.9+gap+float64(j)*gap, l)
		}
	}
	s.y += float64(rows)*h + 3
}

func sig(v float64) string { return quantity.Text(quantity.Significant(v, 3)) }

func makeOf(v app.RecordView) string {
	p := v.Record.Plan
	list := []string{}
	if p.Specification.FlangeSize != "" {
		list = append(list, p.Specification.FlangeSize)
	}
	for _, g := range p.AllGroups() {
		list = append(list, groupMake(p.Specification, g))
	}
	return strings.Join(list, ", ")
}

func contains(list []string, s string) bool {
	for _, x := range list {
		if x == s {
			return true
		}
	}
	return false
}

func orDash(s string) string {
	if s == "" {
		return "not written down"
	}
	return s
}

func (s *sheet) verdict() {
	v := s.v.Record.State.Verdict
	s.room(16)
	s.SetLineWidth(0.6)
	s.Rect(left, s.y, width, 14, "D")
	s.SetLineWidth(0.3)
	s.hexTick(left+8, s.y+7, 4.6)
	s.font("cond", 20)
	s.Text(left+15, s.y+9.4, v.Word)
	x := left + 17 + s.GetStringWidth(v.Word)
	s.font("text", 9.2)
	for i, l := range s.SplitText(plainSpaces(v.Sentence), right-x-3) {
		s.Text(x+1, s.y+5.6+float64(i)*4, l)
	}
	s.y += 16
	for _, r := range v.Reasons {
		mark := map[string]string{"ok": "met", "waits": "open", "wrong": "not met"}[r.Status]
		s.room(5)
		s.font("text", 8.8)
		lines := s.SplitText(plainSpaces(r.Text), width-52)
		for i, l := range lines {
			if i == 0 {
				s.font("bold", 8.8)
				s.Text(left+1, s.y+3.3, mark)
				s.font("mono", 8.2)
				s.Text(right-1-s.GetStringWidth(r.Value), s.y+3.3, r.Value)
				s.font("text", 8.8)
			}
			s.Text(left+17, s.y+3.3, l)
			s.y += 4.1
		}
	}
	for _, r := range s.v.Record.State.Remarks {
		s.room(5)
		s.font("bold", 8.8)
		s.Text(left+1, s.y+3.3, "note")
		s.font("text", 8.8)
		for _, l := range s.SplitText(plainSpaces(r), width-20) {
			s.Text(left+17, s.y+3.3, l)
			s.y += 4.1
		}
	}
}

// table writes rows under headings; shares are column widths of the whole.
func (s *sheet) table(shares []float64, head []string, rows [][]string) {
	put := func(font string, cells []string) {
		s.font(font, 8.6)
		x, most := left, 1
		lines := make([][]string, len(cells))
		for i, c := range cells {
			lines[i] = s.SplitText(plainSpaces(c), width*shares[i]-2)
			most = max(most, len(lines[i]))
		}
		s.room(float64(most)*4 + 1)
		s.font(font, 8.6)
		for i := range cells {
			for j, l := range lines[i] {
				s.Text(x+1, s.y+3.4+float64(j)*4, l)
			}
			x += width * shares[i]
		}
		s.y += float64(most)*4 + 0.8
		s.SetDrawColor(180, 180, 180)
		s.SetLineWidth(0.15)
		s.Line(left, s.y, right, s.y)
		s.SetDrawColor(0, 0, 0)
	}
	put("bold", head)
	for _, r := range rows {
		put("text", r)
	}
}

func (s *sheet) passes() {
	s.rule("Passes")
	rows := [][]string{}
	for _, p := range s.v.Record.State.Passes {
		from, to := "", ""
		if p.From != nil {
			from = p.From.Format("2 Jan 15:04")
		}
		if p.To != nil {
			to = p.To.Format("15:04")
		}
		bad := strings.Join(p.NotRight, "; ")
		if bad == "" {
			bad = "none"
		}
		name := fmt.Sprintf("%d, %s", p.Number, p.Name)
		if p.GroupName != "" {
			name += ", " + p.GroupName
		}
		nut, set := "–", "–"
		if p.TorqueNm > 0 {
			nut = sig(p.TorqueNm) + " N·m"
		}
		if p.LowNm > 0 {
			nut = sig(p.LowNm) + " to " + sig(p.HighNm) + " N·m"
		}
		if p.TurnDeg > 0 {
			set = quantity.Text(p.TurnDeg) + "°"
		}
		if p.Setting > 0 {
			set = quantity.Text(p.Setting) + " " + quantity.Unit(p.Unit).Symbol() + " on " + strings.Join(p.Wrenches, ", ")
		}
		rows = append(rows, []string{name, nut, set,
			strings.Join(p.People, ", "), from + " to " + to, bad})
	}
	s.table([]float64{.17, .12, .19, .17, .16, .19}, []string{"Pass", "At the nut", "Set", "Done by", "When (UTC)", "Not right"}, rows)
}

func (s *sheet) signatures() {
	s.room(30)
	s.y += 3
	w := width / 2
	s.Rect(left, s.y, width, 22, "D")
	s.Line(left+w, s.y, left+w, s.y+22)
	for i, q := range []struct{ purpose, label string }{{run.SignTightened, "Tightened"}, {run.SignProved, "Proved"}} {
		x := left + float64(i)*w
		s.font("text", 8)
		s.Text(x+3, s.y+5, q.label+", signed with name and PIN")
		for _, g := range s.v.Record.State.Signatures {
			if g.Purpose == q.purpose {
				s.font("cond", 17)
				s.Text(x+3, s.y+13.5, g.Name)
				s.font("text", 8.6)
				s.Text(x+3, s.y+18.8, g.Role+", "+g.At.Format("2 Jan 2006, 15:04")+" UTC")
			}
		}
	}
	s.y += 24
}

func (s *sheet) checks() {
	s.rule("Checks, as answered")
	rows := [][]string{}
	for _, c := range s.v.Record.Plan.Checks {
		for _, cs := range s.v.Record.State.Checks {
			if cs.Code != c.Code {
				continue
			}
			when, by := "", cs.By
			if cs.At != nil {
				when = cs.At.Format("2 Jan 15:04")
			}
			if cs.SignedBy != "" {
				by += ", signed " + cs.SignedBy
			}
			text := cs.Text
			for _, a := range cs.Attempts {
				if !a.OK {
					text += fmt.Sprintf("; earlier: %s (%s)", a.Text, a.At.Format("15:04"))
				}
			}
			if c.Limit > 0 {
				text += ". Limit from " + c.LimitFrom
			}
			rows = append(rows, []string{c.Title, map[run.CheckStatus]string{run.CheckCleared: "cleared", run.CheckByLeave: "by leave", run.CheckOpen: "open", run.CheckStopped: "stopped", run.CheckToSign: "not signed"}[cs.Status], text, by, when})
		}
	}
	s.table([]float64{.21, .10, .37, .2, .12}, []string{"Check", "State", "Answer", "By", "When"}, rows)
}

func (s *sheet) deviations() {
	s.rule("Not as planned")
	rows := [][]string{}
	for _, d := range s.v.Record.State.Deviations {
		rows = append(rows, []string{d.What, d.Status, strings.TrimSpace(d.Closed + " " + d.Why), d.By, d.At.Format("2 Jan 15:04")})
	}
	back := len(s.v.Record.State.TakenBack)
	if len(rows) == 0 {
		s.line(left+1, width, "text", 9, "Nothing departed from the plan.")
	} else {
		s.table([]float64{.36, .1, .3, .13, .11}, []string{"What", "Status", "How it was closed, why", "By", "When"}, rows)
	}
	if back > 0 {
		said := fmt.Sprintf("%d entries were taken back; they stay in the record, struck through in the list below.", back)
		if back == 1 {
			said = "One entry was taken back; it stays in the record, struck through in the list below."
		}
		s.line(left+1, width, "text", 9, said)
	}
}

// readings lists every pull, those taken back struck through.
func (s *sheet) readings() {
	s.rule("Every pull, in order")
	dropped := map[string]bool{}
	for _, id := range s.v.Record.State.TakenBack {
		dropped[id] = true
	}
	cols := 3
	if len(s.v.Record.Plan.Others) > 0 {
		cols = 2 // longer names
	}
	w := width / float64(cols)
	i := 0
	for _, e := range s.v.Record.Events {
		if e.Event.Kind != run.Pulled {
			continue
		}
		if i%cols == 0 {
			s.room(4.2)
		}
		x := left + float64(i%cols)*w
		ev := e.Event
		t := fmt.Sprintf("%s  pass %d  %s  %s", ev.At.Format("15:04:05"), ev.Pass, s.v.Record.State.Fasteners[ev.Fastener-1].Name, strings.ReplaceAll(string(ev.Outcome), "_", " "))
		switch {
		case ev.Reading != nil && ev.Setting == 0:
			t += " " + ev.Reading.Text
		case ev.Setting > 0:
			t += " " + quantity.Text(ev.Setting)
		case ev.TurnedDeg > 0:
			t += " " + quantity.Text(ev.TurnedDeg) + "°"
		}
		if ev.Moved != nil && *ev.Moved {
			t += " turned"
		}
		s.font("mono", 6.8)
		s.Text(x, s.y+3, t)
		if dropped[ev.ID] {
			s.Line(x, s.y+2.2, x+s.GetStringWidth(t), s.y+2.2)
		}
		if i++; i%cols == 0 {
			s.y += 4
		}
	}
	if i%cols != 0 {
		s.y += 4
	}
}

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
				what = quantity.Text(t.RatedMin) + " to " + quantity.Text(t.RatedMax) + " " + t.Unit.Symbol() + ", step " + quantity.Text(t.Graduation)
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
	s.table([]float64{.1, .22, .27, .1, .31}, []string{"Tool", "Maker, serial", "Range", "Accuracy", "Certificate"}, rows)
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
			rows = append(rows, []string{l.Symbol, l.Name, f, l.Text, map[working.Origin]string{working.Supplied: "supplied", working.LookedUp: "table", working.Calculated: "worked out"}[l.Origin] + ": " + l.Source})
		}
		s.table([]float64{.08, .22, .28, .13, .29}, []string{"", "Figure", "Formula", "Value", "From"}, rows)
		for _, t := range append(append([]string{}, w.Takes...), w.Warnings...) {
			s.line(left+1, width, "text", 8.4, t)
		}
	}
}

func (s *sheet) closing() error {
	s.room(46)
	s.rule("Caution and proof")
	y := s.y
	text := append(slices.Clone(s.v.Record.Plan.Cautions), s.v.Record.Plan.After...)
	text = append(text, s.v.Record.Statement, fmt.Sprintf("Sealed %s UTC with key %s over %d events. Check the file with the Verify page or: dynacor verify FILE.", s.v.Row.SealedAt.Format("2 Jan 2006, 15:04:05"), s.v.KeyID, len(s.v.Record.Events)), "Digest: "+s.v.Row.Mark)
	if err := s.qr(right-34, y, 34, "DYNACOR "+s.v.Row.Number+" "+s.v.Row.Mark); err != nil {
		return err
	}
	for _, t := range text {
		s.line(left+1, width-42, "text", 8.8, t)
		s.y += 0.8
	}
	return nil
}

// qr draws the code as vector squares.
func (s *sheet) qr(x, y, size float64, text string) error {
	q, err := qrcode.New(text, qrcode.Medium)
	if err != nil {
		return fmt.Errorf("report: %w", err)
	}
	q.DisableBorder = true
	bits := q.Bitmap()
	m := size / float64(len(bits))
	s.SetFillColor(0, 0, 0)
	for j, row := range bits {
		for i, on := range row {
			if on {
				s.Rect(x+float64(i)*m, y+float64(j)*m, m*1.02, m*1.02, "F")
			}
		}
	}
	return nil
}

// Tag writes the tag to hang on the joint: number, date, target, people and a code that leads to the record.
func Tag(w io.Writer, v app.RecordView) error {
	s := newSheet(v, "Tag "+v.Row.Tag)
	s.AddPage()
	const x, y, tw, th = 14.0, 14.0, 120.0, 70.0
	s.SetLineWidth(0.5)
	s.Rect(x, y, tw, th, "D")
	s.Circle(x+8, y+th/2, 3.2, "D")
	s.font("mono", 34)
	s.Text(x+16, y+15, v.Row.Tag)
	s.font("text", 11)
	s.Text(x+16, y+22, plainSpaces(v.Row.Name))
	s.font("cond", 24)
	s.Text(x+16, y+36, v.Record.State.Verdict.Word)
	s.font("bold", 12)
	s.Text(x+16, y+44, plainSpaces(v.Row.Target))
	s.font("text", 10)
	s.Text(x+16, y+51, v.Row.SealedAt.Format("2 January 2006"))
	s.Text(x+16, y+57, "Tightened "+v.Row.TightenedBy+", proved "+v.Row.ProvedBy)
	s.font("mono", 9)
	s.Text(x+16, y+64, v.Row.Number+"  "+shortMark(v.Row.Mark))
	if err := s.qr(x+tw-32, y+28, 27, "DYNACOR "+v.Row.Number+" "+v.Row.Mark); err != nil {
		return err
	}
	s.font("text", 9)
	s.Text(x, y+th+6, "Cut on the line, punch the ring. "+plainSpaces(v.Record.Site))
	return s.Output(w)
}
