// Package exchange reads and writes the files people bring: the joint register as CSV. It must never write to a database; it
// says what a file means and, cell by cell, what is wrong with it.
package exchange

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"
	"strings"

	"dynacor/core/fastener"
	"dynacor/core/layout"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// Row is one joint of a register.
type Row struct {
	Line          int
	Tag           string
	Name          string
	Area          string
	Equipment     string
	Service       string
	Family        string
	Package       string
	PackageName   string
	Nameplate     string
	Specification plan.Specification
}

// CellError is what is wrong with one cell.
type CellError struct {
	Line   int    `json:"line"`
	Column string `json:"column"`
	Value  string `json:"value"`
	What   string `json:"what"`
	Remedy string `json:"remedy,omitempty"`
}

// Columns of the register, in the order they are written. A torque column means N·m unless a cell names its own unit. A line with a group
// adds fasteners to the joint of the same tag above it; variant, figures and keys hold name=value, separated by semicolons.
var Columns = []string{"tag", "name", "area", "equipment", "service", "family", "package", "package_name", "nameplate", "bolts", "bolt_circle_mm", "seen_from", "thread", "material",
	"length_mm", "lubricant", "service_class", "gasket", "flange_size", "target_Nm", "tolerance_pct", "target_min_Nm", "target_max_Nm", "stress_MPa", "percent_yield", "proof_gap_mm", "document", "revision", "page", "group", "variant", "figures", "turn_deg", "table", "keys"}

var required = []string{"tag", "area"}

// Families finds the procedure of a family, the site's own first.
type Families func(code string) (procedure.Family, error)

// MostRows of a register that is read at once. A file with very many wrong cells is not read to its end.
const (
	MostRows   = 100000
	mostErrors = 5000
)

// ReadRegister reads a CSV with a header line (comma, semicolon or tab; UTF-8, with or without a byte-order mark). Rows are
// returned only when no cell is wrong; own are the site's own cards and grades, families its procedures; err is for a file that cannot be read
// as CSV at all.
func ReadRegister(r io.Reader, own fastener.Own, families Families) ([]Row, []CellError, error) {
	data, err := io.ReadAll(r)
	if err != nil {
		return nil, nil, err
	}
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))
	if len(bytes.TrimSpace(data)) == 0 {
		return nil, nil, errors.New("the file is empty. Its first line names the columns, for example: tag,area,bolts,thread,material,lubricant,target_Nm")
	}
	c := csv.NewReader(bytes.NewReader(data))
	c.Comma, c.FieldsPerRecord, c.TrimLeadingSpace = separator(data), -1, true
	head, err := c.Read()
	if err != nil {
		return nil, nil, fmt.Errorf("the first line cannot be read as CSV: %w", err)
	}
	p := parser{own: own, families: families, cards: map[string]bool{}, at: map[string]int{}}
	for _, l := range append(fastener.Lubricants(), own.Lubricants...) {
		p.cards[l.Code] = true
	}
	if err := p.columns(head); err != nil {
		return nil, nil, err
	}
	index := map[string]int{}
	var rows []Row
	for len(p.errors) < mostErrors {
		rec, err := c.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, nil, fmt.Errorf("the file cannot be read as CSV: %w. Check the quotes in that line", err)
		}
		line, _ := c.FieldPos(0)
		if strings.TrimSpace(strings.Join(rec, "")) == "" {
			continue
		}
		if len(rec) > mostCells {
			return nil, nil, fmt.Errorf("line %d has %d cells, the register has %d columns", line, len(rec), len(Columns))
		}
		for i := range rec {
			rec[i] = unguard(rec[i])
		}
		p.line, p.cells = line, rec
		tag := p.text("tag")
		if at, known := index[tag]; known && p.text("group") != "" {
			p.addGroup(&rows[at])
			continue
		}
		if at, twice := index[tag]; twice && tag != "" {
			p.wrong("tag", "Give each joint its own tag, or leave out one of the lines.", "%s stands in line %d already", tag, rows[at].Line)
		}
		row := p.row()
		index[row.Tag] = len(rows)
		if rows = append(rows, row); len(rows) > MostRows {
			return nil, nil, fmt.Errorf("the file has more than %d joints. Split it", MostRows)
		}
	}
	for i := range rows {
		p.whole(&rows[i])
	}
	if len(p.errors) > 0 {
		return nil, p.errors, nil
	}
	if len(rows) == 0 {
		return nil, nil, errors.New("the file names its columns but holds no joint")
	}
	return rows, nil, nil
}

func separator(data []byte) rune {
	first, _, _ := bytes.Cut(data, []byte("\n"))
	best, most := ',', bytes.Count(first, []byte(","))
	for _, s := range []rune{';', '\t'} {
		if n := bytes.Count(first, []byte(string(s))); n > most {
			best, most = s, n
		}
	}
	return best
}

type parser struct {
	own      fastener.Own
	families Families
	cards    map[string]bool
	at       map[string]int
	line     int
	cells    []string
	errors   []CellError
}

func (p *parser) columns(head []string) error {
	known := map[string]string{}
	for _, c := range Columns {
		known[strings.ToLower(c)] = c
	}
	for i, h := range head {
		key := strings.ToLower(strings.TrimSpace(h))
		name, ok := known[key]
		if !ok {
			return fmt.Errorf("column %d is headed %q, which is not a column of the register. Known are: %s", i+1, h, strings.Join(Columns, ", "))
		}
		if _, twice := p.at[name]; twice {
			return fmt.Errorf("column %q stands twice", h)
		}
		p.at[name] = i
	}
	for _, c := range required {
		if _, ok := p.at[c]; !ok {
			return fmt.Errorf("column %q is missing. The first line names the columns; needed are %s", c, strings.Join(required, ", "))
		}
	}
	return nil
}

func (p *parser) text(col string) string {
	i, ok := p.at[col]
	if !ok || i >= len(p.cells) {
		return ""
	}
	return strings.TrimSpace(p.cells[i])
}

func (p *parser) wrong(col, remedy, what string, args ...any) {
	p.errors = append(p.errors, CellError{Line: p.line, Column: col, Value: p.text(col), What: fmt.Sprintf(what, args...), Remedy: remedy})
}

func (p *parser) refusal(col string, err error) {
	if r, ok := quantity.RefusalIn(err); ok {
		p.wrong(col, r.Remedy, "%s", r.Why)
		return
	}
	p.wrong(col, "", "%s", err)
}

// number reads a plain number in the column's unit, or a quantity that names its own.
func (p *parser) number(col string, kind quantity.Kind, unit quantity.Unit) (quantity.Reading, bool) {
	t := p.text(col)
	if t == "" {
		return quantity.Reading{}, false
	}
	r, err := quantity.Parse(kind, t, unit)
	if err != nil {
		p.refusal(col, err)
		return r, false
	}
	return r, true
}

func (p *parser) plain(col string, lo, hi float64) (float64, bool) {
	t := strings.TrimSuffix(p.text(col), "%")
	if t == "" {
		return 0, false
	}
	v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(t), ",", ".", 1), 64)
	if err != nil {
		p.wrong(col, "Enter a plain number.", "is not a number")
		return 0, false
	}
	if err := quantity.Between(col, v, lo, hi); err != nil {
		p.refusal(col, err)
		return 0, false
	}
	return v, true
}

func (p *parser) row() Row {
	r := Row{Line: p.line, Tag: p.text("tag"), Name: p.text("name"), Area: p.text("area"), Equipment: p.text("equipment"), Service: p.text("service"), Family: p.text("family"),
		Package: p.text("package"), PackageName: p.text("package_name"), Nameplate: p.text("nameplate")}
	for _, c := range required {
		if p.text(c) == "" {
			p.wrong(c, "Fill it in, or leave the line out.", "is empty")
		}
	}
	if len(r.Tag) > 40 || strings.ContainsAny(r.Tag, "/?#\\ ") {
		p.wrong("tag", "Use letters, digits, hyphen and point, 40 at most.", "cannot be a tag")
	}
	if r.Family == "" {
		r.Family = "gasketed_flange"
	}
	if r.Name == "" {
		r.Name = r.Tag
	}
	s := &r.Specification
	s.Document, s.Revision, s.Page = p.text("document"), p.text("revision"), p.text("page")
	s.Gasket, s.FlangeSize = p.text("gasket"), p.text("flange_size")
	if s.ServiceClass = p.text("service_class"); s.ServiceClass != "" && !slices.Contains(fastener.Services(), s.ServiceClass) {
		p.wrong("service_class", "Use "+strings.Join(fastener.Services(), ", ")+", or leave it empty.", "%q is not a service class", s.ServiceClass)
	}
	if v, ok := p.number("proof_gap_mm", quantity.KindLength, quantity.Millimetre); ok {
		s.ProofGapMM = v.Canonical
	}
	s.Variant = p.pairs("variant")
	for k, v := range p.pairs("figures") {
		n, err := strconv.ParseFloat(strings.Replace(v, ",", ".", 1), 64)
		if err != nil {
			p.wrong("figures", "Write name=number, separated by semicolons.", "%s=%s is not a number", k, v)
			continue
		}
		if s.Figures == nil {
			s.Figures = map[string]float64{}
		}
		s.Figures[k] = n
	}
	fam, err := p.families(r.Family)
	if err != nil {
		p.refusal("family", err)
		return r
	}
	s.Fasteners = p.fasteners(fam, p.text("group"))
	return r
}

// pairs reads name=value, separated by semicolons.
func (p *parser) pairs(col string) map[string]string {
	out := map[string]string{}
	for _, part := range strings.Split(p.text(col), ";") {
		if part = strings.TrimSpace(part); part == "" {
			continue
		}
		k, v, ok := strings.Cut(part, "=")
		if !ok {
			p.wrong(col, "Write name=value, separated by semicolons.", "%q has no =", part)
			continue
		}
		out[strings.TrimSpace(k)] = strings.TrimSpace(v)
	}
	if len(out) == 0 {
		return nil
	}
	return out
}

// fasteners reads what a line says of one group.
func (p *parser) fasteners(fam procedure.Family, group string) plan.Fasteners {
	f := plan.Fasteners{Group: group, SeenFrom: p.text("seen_from"), Thread: p.text("thread"), Material: p.text("material"), Lubricant: p.text("lubricant")}
	g := fam.Fasteners[0]
	if group != "" {
		var ok bool
		if g, ok = fam.Group(group); !ok {
			var codes []string
			for _, x := range fam.Fasteners {
				codes = append(codes, x.Code)
			}
			p.wrong("group", "Use "+strings.Join(codes, ", ")+".", "%q is not a group of a %s", group, fam.Name)
		}
	}
	if g.Target == procedure.ByTorque && p.text("table") == "" {
		need := []string{"thread", "material", "lubricant"}
		if g.Layout.Shape() == layout.Circle {
			need = append([]string{"bolts"}, need...)
		}
		for _, c := range need {
			if p.text(c) == "" {
				p.wrong(c, "Fill it in, or leave the line out.", "is empty")
			}
		}
	}
	if t := p.text("bolts"); t != "" {
		n, err := strconv.Atoi(t)
		if err != nil || n < 1 || n > 120 || g.Layout.Shape() == layout.Circle && n < 3 {
			p.wrong("bolts", "Enter the number of bolts on the circle, 3 to 120.", "is not a number of bolts")
		}
		f.Bolts = n
	}
	for _, l := range []struct {
		col string
		to  *float64
	}{{"bolt_circle_mm", &f.BoltCircleMM}, {"length_mm", &f.LengthMM}} {
		if v, ok := p.number(l.col, quantity.KindLength, quantity.Millimetre); ok {
			*l.to = v.Canonical
		}
	}
	p.bolt(&f)
	p.target(&f, g)
	return f
}

// addGroup takes a line that adds fasteners to a joint above it.
func (p *parser) addGroup(r *Row) {
	group := p.text("group")
	if slices.ContainsFunc(r.Specification.Others, func(o plan.Fasteners) bool { return o.Group == group }) || r.Specification.Group == group {
		p.wrong("group", "Leave one of the lines out.", "%s of %s stands twice", group, r.Tag)
		return
	}
	fam, err := p.families(r.Family)
	if err != nil {
		return // said where the joint stands
	}
	r.Specification.Others = append(r.Specification.Others, p.fasteners(fam, group))
}

// whole holds a joint with all its groups against its procedure, when none of its cells is wrong.
func (p *parser) whole(r *Row) {
	if slices.ContainsFunc(p.errors, func(e CellError) bool { return e.Line == r.Line }) {
		return
	}
	fam, err := p.families(r.Family)
	if err != nil {
		return
	}
	if err := r.Specification.Check(fam, p.own); err != nil {
		p.line, p.cells = r.Line, nil
		col, of := "tag", ""
		if ref, ok := quantity.RefusalIn(err); ok {
			// variant.make and figures.tube name what is inside a cell; face_b.thread names the group before its column.
			switch before, after, dotted := strings.Cut(ref.Field, "."); {
			case dotted && slices.Contains(Columns, before):
				col, of = before, after
			case dotted && slices.Contains(Columns, after):
				col, of = after, before
			case slices.Contains(Columns, before):
				col = before
			}
		}
		p.refusal(col, err)
		if last := &p.errors[len(p.errors)-1]; of != "" {
			last.What = of + " " + last.What
		}
	}
}

func (p *parser) bolt(s *plan.Fasteners) {
	if s.Lubricant != "" && s.Lubricant != plan.NotNamed && !p.cards[s.Lubricant] {
		p.wrong("lubricant", "Use the code of a card in the Library, for example light_oil.", "%q is not a lubricant card", s.Lubricant)
	}
	if s.Thread == "" {
		return
	}
	t, err := fastener.ParseThread(s.Thread)
	if err != nil {
		p.refusal("thread", err)
		return
	}
	if s.Material != "" {
		if _, err := p.own.Strength(t.System, s.Material, t.DiameterMM); err != nil {
			p.refusal("material", err)
		}
	}
}

// target settles which form the row uses; more than one is refused, none means to be supplied.
func (p *parser) target(s *plan.Fasteners, g procedure.Fasteners) {
	var forms []string
	t := plan.Target{Form: plan.NotGiven}
	if g.Target != procedure.ByTorque && g.Target != procedure.ByTurns {
		t.Form = plan.Stated
	}
	if v, ok := p.number("target_Nm", quantity.KindTorque, quantity.NewtonMetre); ok {
		forms = append(forms, "target_Nm")
		t = plan.Target{Form: plan.TorqueNominal, Nominal: v.Value, Unit: v.Unit, MinusPct: 5, PlusPct: 5, AsTyped: p.text("target_Nm")}
		if tol, ok := p.plain("tolerance_pct", 0, 50); ok {
			t.MinusPct, t.PlusPct = tol, tol
		}
	}
	lo, okLo := p.number("target_min_Nm", quantity.KindTorque, quantity.NewtonMetre)
	hi, okHi := p.number("target_max_Nm", quantity.KindTorque, quantity.NewtonMetre)
	if okLo || okHi {
		forms = append(forms, "target_min_Nm and target_max_Nm")
		switch {
		case !okLo || !okHi:
			p.wrong("target_min_Nm", "Fill in both ends of the range.", "minimum and maximum belong together")
		case lo.Unit != hi.Unit:
			p.wrong("target_max_Nm", "Write both ends in one unit.", "minimum and maximum are in different units")
		default:
			t = plan.Target{Form: plan.TorqueRange, Min: lo.Value, Max: hi.Value, Unit: lo.Unit, AsTyped: p.text("target_min_Nm") + " to " + p.text("target_max_Nm")}
		}
	}
	if v, ok := p.number("stress_MPa", quantity.KindPressure, quantity.Megapascal); ok {
		forms = append(forms, "stress_MPa")
		t = plan.Target{Form: plan.BoltStress, Stress: v.Canonical, AsTyped: p.text("stress_MPa")}
	}
	if v, ok := p.plain("percent_yield", 1, 100); ok {
		forms = append(forms, "percent_yield")
		t = plan.Target{Form: plan.PercentYield, Percent: v, AsTyped: p.text("percent_yield")}
	}
	if v, ok := p.plain("turn_deg", 1, 3600); ok {
		forms = append(forms, "turn_deg")
		t = plan.Target{Form: plan.Turns, TurnDeg: v, AsTyped: p.text("turn_deg")}
	}
	if name := p.text("table"); name != "" {
		forms = append(forms, "table")
		t = plan.Target{Form: plan.LookUp, Table: name, AsTyped: p.text("keys")}
		for _, k := range strings.Split(p.text("keys"), ";") {
			t.Keys = append(t.Keys, strings.TrimSpace(k))
		}
	}
	if len(forms) > 1 {
		p.wrong(strings.Fields(forms[0])[0], "Leave one of them empty.", "the target is given twice: %s", strings.Join(forms, ", "))
	}
	s.Target = t
}

// WriteRegister writes rows so that ReadRegister gives them back.
func WriteRegister(w io.Writer, rows []Row) error {
	c := csv.NewWriter(w)
	if err := c.Write(Columns); err != nil {
		return err
	}
	num := func(v float64) string {
		if v == 0 {
			return ""
		}
		return strconv.FormatFloat(v, 'f', -1, 64)
	}
	torque := func(v float64, u quantity.Unit) string {
		if v == 0 {
			return ""
		}
		if u == quantity.NewtonMetre {
			return num(v)
		}
		return num(v) + " " + u.Symbol()
	}
	for _, r := range rows {
		s := r.Specification
		head := []string{r.Tag, r.Name, r.Area, r.Equipment, r.Service, r.Family, r.Package, r.PackageName, r.Nameplate}
		for i, f := range append([]plan.Fasteners{s.Fasteners}, s.Others...) {
			t := f.Target
			tol, bolts := "", ""
			if t.Form == plan.TorqueNominal {
				tol = strconv.FormatFloat(t.PlusPct, 'f', -1, 64)
			}
			if f.Bolts > 0 {
				bolts = strconv.Itoa(f.Bolts)
			}
			line := append(slices.Clone(head), bolts, num(f.BoltCircleMM), f.SeenFrom, f.Thread, f.Material, num(f.LengthMM), f.Lubricant)
			joint := []string{s.ServiceClass, s.Gasket, s.FlangeSize}
			paper := []string{num(s.ProofGapMM), s.Document, s.Revision, s.Page, f.Group, joined(s.Variant), joined(figures(s.Figures)), num(t.TurnDeg), t.Table, strings.Join(t.Keys, "; ")}
			if i > 0 {
				joint = []string{"", "", ""}
				paper = []string{"", "", "", "", f.Group, "", "", num(t.TurnDeg), t.Table, strings.Join(t.Keys, "; ")}
			}
			line = append(append(line, joint...), torque(t.Nominal, t.Unit), tol, torque(t.Min, t.Unit), torque(t.Max, t.Unit), num(t.Stress), num(t.Percent))
			if err := c.Write(guarded(append(line, paper...))); err != nil {
				return err
			}
		}
	}
	c.Flush()
	return c.Error()
}

// joined writes name=value in the order of the names.
func joined(m map[string]string) string {
	var out []string
	for _, k := range slices.Sorted(maps.Keys(m)) {
		out = append(out, k+"="+m[k])
	}
	return strings.Join(out, "; ")
}

func figures(m map[string]float64) map[string]string {
	out := map[string]string{}
	for k, v := range m {
		out[k] = strconv.FormatFloat(v, 'f', -1, 64)
	}
	return out
}
