package exchange

import (
	"encoding/csv"
	"fmt"
	"io"
	"iter"
	"strconv"
	"time"

	"github.com/xuri/excelize/v2"
)

// Sheet is a table that goes out. A cell is a text, a figure, a moment, a yes or no, or nil for nothing.
type Sheet struct {
	Name    string
	Columns []string
	Rows    iter.Seq[[]any]
}

// WriteCSV writes a sheet with commas, points in figures and moments by RFC 3339. A text that a spreadsheet would work
// out as a formula is guarded.
func WriteCSV(w io.Writer, s Sheet) error {
	c := csv.NewWriter(w)
	if err := c.Write(s.Columns); err != nil {
		return err
	}
	line := make([]string, len(s.Columns))
	for row := range s.Rows {
		for i, v := range row {
			line[i] = cellText(v)
		}
		if err := c.Write(line); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}

func cellText(v any) string {
	switch v := v.(type) {
	case nil:
		return ""
	case string:
		return guard(v)
	case int:
		return strconv.Itoa(v)
	case float64:
		return strconv.FormatFloat(v, 'f', -1, 64)
	case bool:
		return yesNo(v)
	case time.Time:
		return v.UTC().Format(time.RFC3339)
	}
	return guard(fmt.Sprint(v))
}

func yesNo(v bool) string {
	if v {
		return "yes"
	}
	return "no"
}

// WriteSpreadsheet writes sheets as one spreadsheet, row by row. Texts are cells of text: none is worked out as a
// formula. Moments are UTC.
func WriteSpreadsheet(w io.Writer, sheets ...Sheet) error {
	f := excelize.NewFile()
	defer f.Close()
	bold, err := f.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return err
	}
	day := "yyyy-mm-dd hh:mm:ss"
	moment, err := f.NewStyle(&excelize.Style{CustomNumFmt: &day})
	if err != nil {
		return err
	}
	for i, s := range sheets {
		if i == 0 {
			err = f.SetSheetName(f.GetSheetName(0), s.Name)
		} else {
			_, err = f.NewSheet(s.Name)
		}
		if err != nil {
			return err
		}
		if err := writeSheet(f, s, bold, moment); err != nil {
			return err
		}
	}
	return f.Write(w)
}

func writeSheet(f *excelize.File, s Sheet, bold, moment int) error {
	out, err := f.NewStreamWriter(s.Name)
	if err != nil {
		return err
	}
	if err := out.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2",
		ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	if err := out.SetColWidth(1, len(s.Columns), 16); err != nil {
		return err
	}
	head := make([]any, len(s.Columns))
	for i, c := range s.Columns {
		head[i] = excelize.Cell{StyleID: bold, Value: c}
	}
	if err := out.SetRow("A1", head); err != nil {
		return err
	}
	n := 1
	for row := range s.Rows {
		cells := make([]any, len(row))
		for i, v := range row {
			switch v := v.(type) {
			case bool:
				cells[i] = yesNo(v)
			case time.Time:
				cells[i] = excelize.Cell{StyleID: moment, Value: v.UTC()}
			case nil, string, int, float64:
				cells[i] = v
			default:
				cells[i] = fmt.Sprint(v)
			}
		}
		n++
		at, err := excelize.CoordinatesToCellName(1, n)
		if err != nil {
			return err
		}
		if err := out.SetRow(at, cells); err != nil {
			return err
		}
	}
	return out.Flush()
}
