// Package exchange reads and writes the files people bring: the joint register as CSV. It must never write to a
// database; it says what a file means and, cell by cell, what is wrong with it.
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

// Columns of the register, in the order they are written. A torque column means N·m unless a cell names its own unit. A
// line with a group adds fasteners to the joint of the same tag above it; variant, figures and keys hold name=value,
// separated by semicolons.
var Columns = []string{"tag", "name", "area", "equipment", "service", "family", "package", "package_name", "nameplate",
	"bolts", "bolt_circle_mm", "seen_from", "thread", "material",
	"length_mm", "lubricant", "service_class", "gasket", "flange_size", "target_Nm", "tolerance_pct", "target_min_Nm",
	"target_max_Nm", "stress_MPa", "percent_yield", "proof_gap_mm", "document", "revision", "page", "group", "variant",
	"figures", "turn_deg", "table", "keys", "orders"}

var required = []string{"tag", "area"}

// Families finds the procedure of a family, the site's own first.
type Families func(code string) (procedure.Family, error)

// MostRows of a register that is read at once. A file with very many wrong cells is not read to its end.
const (
	MostRows   = 100000
	mostErrors = 5000
)

// ReadRegister reads a CSV with a header line (comma, semicolon or tab; UTF-8, with or without a byte-order mark). Rows
// are returned only when no cell is wrong; own are the site's own cards and grades, families its procedures; err is for
// a file that cannot be read as CSV at all.
func ReadRegister(r io.Reader, own fastener.Own, families Families) ([]Row, []CellError, error) {
	data, err := io.ReadAll(r)
	if err != nil {
		return nil, nil, err
	}
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))
	if len(bytes.TrimSpace(data)) == 0 {
		return nil, nil, errors.New("the file is empty. Its first line names the columns, for example: " +
			"tag,area,bolts,thread,material,lubricant,target_Nm")
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
			return nil, nil, fmt.Errorf("line %d has %d cells, the register has %d columns", line, len(rec),
				len(Columns))
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
			p.wrong("tag", "Give each joint its own tag, or leave out one of the lines.",
				"%s stands in line %d already", tag, rows[at].Line)
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
			return fmt.Errorf("column %d is headed %q, which is not a column of the register. Known are: %s", i+1, h,
				strings.Join(Columns, ", "))
		}
		if _, twice := p.at[name]; twice {
			return fmt.Errorf("column %q stands twice", h)
		}
		p.at[name] = i
	}
	for _, c := range required {
		if _, ok := p.at[c]; !ok {
			return fmt.Errorf("column %q is missing. The first line names the columns; needed are %s", c,
				strings.Join(required, ", "))
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
	p.errors = append(p.errors, CellError{Line: p.line, Column: col, Value: p.text(col),
		What: fmt.Sprintf(what, args...), Remedy: remedy})
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
	r := Row{Line: p.line, Tag: p.text("tag"), Name: p.text("name"), Area: p.text("area"),
		Equipment: p.text("equipment"), Service: p.text("service"), Family: p.text("family"),
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
	if s.ServiceClass = p.text("service_class"); s.ServiceClass != "" && !slices.Contains(fastener.Services(),
		s.ServiceClass) {
		p.wrong("service_class", "Use "+strings.Join(fastener.Services(), ", ")+", or leave it empty.",
			"%q is not a service class", s.ServiceClass)
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
	for k, v := range p.pairs("orders") {
		if s.Orders == nil {
			s.Orders = map[string][]string{}
		}
		for part := range strings.SplitSeq(v, ">") {
			s.Orders[k] = append(s.Orders[k], strings.TrimSpace(part))
		}
	}
	fam, err := p.families(r.Family)
	if err != nil {
		p.refusal("family", err)
		return r
	}
	s.Groups = []plan.Fasteners{p.fasteners(fam, p.text("group"))}
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
