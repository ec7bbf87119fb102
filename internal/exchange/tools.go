package exchange

import (
	"encoding/csv"
	"fmt"
	"io"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"

	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// toolField is a column of the list of tools: a plain field of tool.Tool, or of its gear with "gear_" before it.
type toolField struct {
	name string
	path []int
	gear bool
}

// number reports whether the column holds numbers; a serial number is a text, whatever it looks like.
func (f toolField) number() bool {
	t := reflect.TypeFor[tool.Tool]()
	if f.gear {
		t = reflect.TypeFor[tool.Gear]()
	}
	k := t.FieldByIndex(f.path).Type.Kind()
	return k == reflect.Float64 || k == reflect.Int
}

var toolFields = func() []toolField {
	var out []toolField
	add := func(t reflect.Type, prefix string, gear bool) {
		for i := range t.NumField() {
			f := t.Field(i)
			key, _, _ := strings.Cut(f.Tag.Get("json"), ",")
			switch f.Type.Kind() {
			case reflect.String, reflect.Float64, reflect.Int, reflect.Bool:
				// said in the Crib, with who and why; counted from the work
				if key != "state" && key != "stateReason" && key != "cycles" {
					out = append(out, toolField{prefix + key, []int{i}, gear})
				}
			}
		}
	}
	add(reflect.TypeFor[tool.Tool](), "", false)
	add(reflect.TypeFor[tool.Gear](), "gear_", true)
	return out
}()

// ToolColumns of the list of tools, in the order they are written. chart and points hold pairs: 10:645; 40:2560.
func ToolColumns() []string {
	var out []string
	for _, f := range toolFields {
		out = append(out, f.name)
	}
	return append(out, "chart", "points")
}

// ToolRow is a tool of a list with its line.
type ToolRow struct {
	Line int
	Tool tool.Tool
}

// mostTools of a list that is read at once.
const mostTools = 10000

// ReadTools reads a list of tools: a spreadsheet (its first sheet) or CSV with a header line. Rows are returned only
// when no cell is wrong; err is for a file that cannot be read at all.
func ReadTools(data []byte) ([]ToolRow, []CellError, error) {
	table, err := readTable(data)
	if err != nil {
		return nil, nil, err
	}
	at := map[string]int{}
	for i, h := range table[0] {
		name := strings.TrimSpace(h)
		if name == "" {
			continue
		}
		if !slices.Contains(ToolColumns(), name) {
			return nil, nil, fmt.Errorf("the column %q is not known. Columns are: %s", name,
				strings.Join(ToolColumns(), ", "))
		}
		if _, twice := at[name]; twice {
			return nil, nil, fmt.Errorf("the column %q stands twice", name)
		}
		at[name] = i
	}
	for _, need := range []string{"tag", "kind"} {
		if _, ok := at[need]; !ok {
			return nil, nil, fmt.Errorf("the column %q is missing", need)
		}
	}
	var rows []ToolRow
	var bad []CellError
	seen := map[string]int{}
	for i, cells := range table[1:] {
		line := i + 2
		cell := func(name string) string {
			if k, ok := at[name]; ok && k < len(cells) {
				return strings.TrimSpace(cells[k])
			}
			return ""
		}
		if strings.TrimSpace(strings.Join(cells, "")) == "" {
			continue
		}
		t, wrong := readTool(cell)
		for _, w := range wrong {
			w.Line = line
			bad = append(bad, w)
		}
		if len(wrong) > 0 {
			continue
		}
		if first, twice := seen[t.Tag]; twice {
			bad = append(bad, CellError{line, "tag", t.Tag, fmt.Sprintf("stands in line %d already", first),
				"Give each tool its own tag."})
			continue
		}
		seen[t.Tag] = line
		rows = append(rows, ToolRow{line, t})
	}
	if len(rows) > mostTools {
		return nil, nil, fmt.Errorf("%d tools are more than the %d that are read at once", len(rows), mostTools)
	}
	if len(bad) > 0 {
		return nil, bad, nil
	}
	return rows, nil, nil
}

// mostUnpacked of a spreadsheet, bytes, and most cells of one line of a list.
const (
	mostUnpacked = 48 << 20
	mostCells    = 200
)

func readTool(cell func(string) string) (tool.Tool, []CellError) {
	var t tool.Tool
	var g tool.Gear
	var bad []CellError
	hasGear := false
	for _, f := range toolFields {
		text := cell(f.name)
		if text == "" {
			continue
		}
		v := reflect.ValueOf(&t).Elem()
		if f.gear {
			v, hasGear = reflect.ValueOf(&g).Elem(), true
		}
		if err := setField(v.FieldByIndex(f.path), f.name, text); err != nil {
			bad = append(bad, cellError(f.name, text, err))
		}
	}
	if hasGear {
		t.Gear = &g
	}
	for _, p := range pairs(cell("chart"), "chart", &bad) {
		t.Chart = append(t.Chart, tool.ChartPoint{Pressure: p[0], Torque: p[1]})
	}
	for _, p := range pairs(cell("points"), "points", &bad) {
		t.Points = append(t.Points, tool.ErrorPoint{Set: p[0], True: p[1]})
	}
	if len(bad) == 0 {
		if err := t.Check(); err != nil {
			bad = append(bad, cellError("tag", t.Tag, err))
		}
	}
	return t, bad
}

func cellError(column, value string, err error) CellError {
	if r, ok := quantity.RefusalIn(err); ok {
		if slices.Contains(ToolColumns(), strings.ReplaceAll(r.Field, "gear.", "gear_")) {
			column = strings.ReplaceAll(r.Field, "gear.", "gear_")
		}
		return CellError{0, column, value, r.Why, r.Remedy}
	}
	return CellError{0, column, value, err.Error(), ""}
}

func setField(v reflect.Value, name, text string) error {
	switch v.Kind() {
	case reflect.String:
		v.SetString(text)
	case reflect.Bool:
		switch strings.ToLower(text) {
		case "true", "yes", "1", "x":
			v.SetBool(true)
		case "false", "no", "0":
		default:
			return quantity.Refuse(name, "Write yes or no.", "%q is neither yes nor no", text)
		}
	default:
		n, _, err := quantity.Number(name, text)
		if err != nil {
			return err
		}
		if v.Kind() == reflect.Int {
			v.SetInt(int64(n))
		} else {
			v.SetFloat(n)
		}
	}
	return nil
}

// pairs reads 10:645; 40:2560.
func pairs(text, column string, bad *[]CellError) [][2]float64 {
	var out [][2]float64
	for part := range strings.SplitSeq(text, ";") {
		part = strings.TrimSpace(part)
		if part == "" {
			continue
		}
		a, b, ok := strings.Cut(part, ":")
		x, _, err1 := quantity.Number(column, a)
		y, _, err2 := quantity.Number(column, b)
		if !ok || err1 != nil || err2 != nil {
			*bad = append(*bad, CellError{0, column, part, "is not a pair of numbers",
				"Write pairs with a colon, parted by semicolons: 10:645; 40:2560."})
			return nil
		}
		out = append(out, [2]float64{x, y})
	}
	return out
}

func toolCells(t tool.Tool) []string {
	var out []string
	for _, f := range toolFields {
		v := reflect.ValueOf(t)
		if f.gear {
			if t.Gear == nil {
				out = append(out, "")
				continue
			}
			v = reflect.ValueOf(*t.Gear)
		}
		v = v.FieldByIndex(f.path)
		switch {
		case v.Kind() == reflect.Bool:
			out = append(out, map[bool]string{true: "yes", false: "no"}[v.Bool()])
		case v.IsZero():
			out = append(out, "")
		case v.Kind() == reflect.Float64:
			out = append(out, strconv.FormatFloat(v.Float(), 'g', -1, 64))
		default:
			out = append(out, fmt.Sprint(v.Interface()))
		}
	}
	var chart, points []string
	for _, p := range t.Chart {
		chart = append(chart, strconv.FormatFloat(p.Pressure, 'g', -1, 64)+":"+strconv.FormatFloat(p.Torque, 'g', -1,
			64))
	}
	for _, p := range t.Points {
		points = append(points, strconv.FormatFloat(p.Set, 'g', -1, 64)+":"+strconv.FormatFloat(p.True, 'g', -1, 64))
	}
	return append(out, strings.Join(chart, "; "), strings.Join(points, "; "))
}

// WriteTools writes the list as CSV that ReadTools takes back.
func WriteTools(w io.Writer, tools []tool.Tool) error {
	c := csv.NewWriter(w)
	if err := c.Write(ToolColumns()); err != nil {
		return err
	}
	for _, t := range tools {
		if err := c.Write(guarded(toolCells(t))); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}

// WriteToolSheet writes the list as a spreadsheet that ReadTools takes back. Texts are cells of text: none is worked
// out as a formula.
func WriteToolSheet(w io.Writer, tools []tool.Tool) error {
	f := excelize.NewFile()
	defer f.Close()
	const sheet = "Tools"
	if err := f.SetSheetName(f.GetSheetName(0), sheet); err != nil {
		return err
	}
	rows := [][]string{ToolColumns()}
	for _, t := range tools {
		rows = append(rows, toolCells(t))
	}
	for i, cells := range rows {
		for j, v := range cells {
			at, err := excelize.CoordinatesToCellName(j+1, i+1)
			if err != nil {
				return err
			}
			if n, err := strconv.ParseFloat(v, 64); err == nil && i > 0 && j < len(toolFields) &&
				toolFields[j].number() {
				if err := f.SetCellValue(sheet, at, n); err != nil {
					return err
				}
			} else if err := f.SetCellStr(sheet, at, v); err != nil {
				return err
			}
		}
	}
	if err := f.SetPanes(sheet, &excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2",
		ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	return f.Write(w)
}
