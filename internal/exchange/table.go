package exchange

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"

	"github.com/xuri/excelize/v2"
)

func readTable(data []byte) ([][]string, error) {
	var table [][]string
	var err error
	if bytes.HasPrefix(data, []byte("PK")) {
		table, err = readSheet(data)
	} else {
		table, err = readCSV(data)
	}
	if err != nil {
		return nil, err
	}
	if len(table) == 0 {
		return nil, errors.New("the file is empty. Its first line names the columns, for example: " +
			"tag,kind,unit,ratedMin,ratedMax")
	}
	return table, nil
}

func readCSV(data []byte) ([][]string, error) {
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))
	c := csv.NewReader(bytes.NewReader(data))
	c.Comma, c.FieldsPerRecord, c.TrimLeadingSpace = separator(data), -1, true
	var table [][]string
	for {
		cells, err := c.Read()
		if errors.Is(err, io.EOF) {
			return table, nil
		}
		if err != nil {
			return nil, fmt.Errorf("the list cannot be read as CSV: %w", err)
		}
		if err := fits(len(table), len(cells)); err != nil {
			return nil, err
		}
		for i := range cells {
			cells[i] = unguard(cells[i])
		}
		table = append(table, cells)
	}
}

// readSheet reads the first sheet of a spreadsheet, row by row: a cell far to the right or far down is refused, not
// made room for.
func readSheet(data []byte) ([][]string, error) {
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: mostUnpacked,
		UnzipXMLSizeLimit: mostUnpacked})
	if err != nil {
		return nil, fmt.Errorf("the spreadsheet cannot be read: %w", err)
	}
	defer f.Close()
	rows, err := f.Rows(f.GetSheetName(0))
	if err != nil {
		return nil, fmt.Errorf("the first sheet cannot be read: %w", err)
	}
	defer rows.Close()
	var table [][]string
	for rows.Next() {
		cells, err := rows.Columns()
		if err != nil {
			return nil, fmt.Errorf("the first sheet cannot be read: %w", err)
		}
		if err := fits(len(table), len(cells)); err != nil {
			return nil, err
		}
		table = append(table, cells)
	}
	if err := rows.Error(); err != nil {
		return nil, fmt.Errorf("the first sheet cannot be read: %w", err)
	}
	return table, nil
}

// fits refuses a list with more lines or cells than any list has.
func fits(line, cells int) error {
	if line > 2*mostTools {
		return fmt.Errorf("the list has more than %d lines. Split it", 2*mostTools)
	}
	if cells > mostCells {
		return fmt.Errorf("line %d has a cell in column %d, the list ends at column %d. Delete what stands beside it",
			line+1, cells, len(ToolColumns()))
	}
	return nil
}
