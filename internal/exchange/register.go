// Package exchange reads and writes the files people bring: the joint register as CSV. It must never write to a database; it
// says what a file means and, cell by cell, what is wrong with it.
package exchange

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"dynacor/core/fastener"
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

// Columns of the register, in the order they are written. A torque column means N·m unless a cell names its own unit.
var Columns = []string{"tag", "name", "area", "equipment", "service", "family", "package", "package_name", "nameplate", "bolts", "bolt_circle_mm", "seen_from", "thread", "material",
	"length_mm", "lubricant", "service_class", "gasket", "flange_size", "target_Nm", "tolerance_pct", "target_min_Nm", "target_max_Nm", "stress_MPa", "percent_yield", "proof_gap_mm", "document", "revision", "page"}

var required = []string{"tag", "area", "bolts", "thread", "material", "lubricant"}

// MostRows of a register that is read at once.
const MostRows = 100000

// ReadRegister reads a CSV with a header line (comma, semicolon or tab; UTF-8, with or without a byte-order mark). Rows are
// returned only when no cell is wrong; own are the site's own cards and grades; err is for a file that cannot be read as CSV at all.
func ReadRegister(r io.Reader, own fastener.Own) ([]Row, []CellError, error) {
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
	p := parser{own: own, cards: map[string]bool{}, at: map[string]int{}}
	for _, l := range append(fastener.Lubricants(), own.Lubricants...) {
		p.cards[l.Code] = true
	}
	if err := p.columns(head); err != nil {
		return nil, nil, err
	}
	seen := map[string]int{}
	var rows []Row
	for {
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
		p.line, p.cells = line, rec
		row := p.row()
		if first, twice := seen[row.Tag]; twice && row.Tag != "" {
			p.wrong("tag", "Give each joint its own tag, or leave out one of the lines.", "%s stands in line %d already", row.Tag, first)
		}
		seen[row.Tag] = line
		if rows = append(rows, row); len(rows) > MostRows {
			return nil, nil, fmt.Errorf("the file has more than %d joints. Split it", MostRows)
		}
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
	own    fastener.Own
	cards  map[string]bool
	at     map[string]int
	line   int
	cells  []string
	errors []CellError
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
	before := len(p.errors)
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
	if _, err := procedure.ByCode(r.Family); err != nil {
		p.refusal("family", err)
	}
	if r.Name == "" {
		r.Name = r.Tag
	}
	s := &r.Specification
	s.Document, s.Revision, s.Page = p.text("document"), p.text("revision"), p.text("page")
	s.SeenFrom, s.Thread, s.Material, s.Lubricant, s.Gasket, s.FlangeSize = p.text("seen_from"), p.text("thread"), p.text("material"), p.text("lubricant"), p.text("gasket"), p.text("flange_size")
	if s.ServiceClass = p.text("service_class"); s.ServiceClass != "" && !slices.Contains(fastener.Services(), s.ServiceClass) {
		p.wrong("service_class", "Use "+strings.Join(fastener.Services(), ", ")+", or leave it empty.", "%q is not a service class", s.ServiceClass)
	}
	if t := p.text("bolts"); t != "" {
		n, err := strconv.Atoi(t)
		if err != nil || n < 3 || n > 120 {
			p.wrong("bolts", "Enter the number of bolts on the circle, 3 to 120.", "is not a number of bolts")
		}
		s.Bolts = n
	}
	for _, l := range []struct {
		col string
		to  *float64
	}{{"bolt_circle_mm", &s.BoltCircleMM}, {"length_mm", &s.LengthMM}, {"proof_gap_mm", &s.ProofGapMM}} {
		if v, ok := p.number(l.col, quantity.KindLength, quantity.Millimetre); ok {
			*l.to = v.Canonical
		}
	}
	p.bolt(s)
	p.target(s)
	if len(p.errors) == before {
		if err := s.Check(p.own); err != nil {
			p.refusal("tag", err)
		}
	}
	return r
}

func (p *parser) bolt(s *plan.Specification) {
	if s.Lubricant != "" && !p.cards[s.Lubricant] {
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
func (p *parser) target(s *plan.Specification) {
	var forms []string
	t := plan.Target{Form: plan.NotGiven}
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
		s, t := r.Specification, r.Specification.Target
		tol := ""
		if t.Form == plan.TorqueNominal {
			tol = strconv.FormatFloat(t.PlusPct, 'f', -1, 64)
		}
		if err := c.Write([]string{r.Tag, r.Name, r.Area, r.Equipment, r.Service, r.Family, r.Package, r.PackageName, r.Nameplate, strconv.Itoa(s.Bolts), num(s.BoltCircleMM), s.SeenFrom,
			s.Thread, s.Material, num(s.LengthMM), s.Lubricant, s.ServiceClass, s.Gasket, s.FlangeSize, torque(t.Nominal, t.Unit), tol, torque(t.Min, t.Unit), torque(t.Max, t.Unit), num(t.Stress), num(t.Percent),
			num(s.ProofGapMM), s.Document, s.Revision, s.Page}); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}
