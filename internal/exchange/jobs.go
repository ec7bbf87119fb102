package exchange

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"dynacor/core/shutdown"
)

// JobColumns of the list of a work package, in the order they are written. Times are of the site's clocks; windows are
// from/to, several with semicolons between them, as are the joints that come before.
var JobColumns = []string{"tag", "name", "not_before", "due", "weight", "isolation", "isolation_name",
	"isolation_windows", "after", "access", "wait_minutes", "wait_why", "skills"}

// JobRow is a joint of a work package with what holds for it. Windows are those of its isolation, nil when none stands
// in its line.
type JobRow struct {
	Line          int
	Name          string
	Joint         shutdown.JointConstraint
	IsolationName string
	Windows       []shutdown.Span
}

// between stands between several values of a cell.
const between = ";"

// ReadJobs reads the joints of a work package: a spreadsheet (its first sheet) or CSV with a header line. Rows are
// returned only when no cell is wrong; err is for a file that cannot be read at all.
func ReadJobs(data []byte) ([]JobRow, []CellError, error) {
	table, err := readTable(data)
	if err != nil {
		return nil, nil, err
	}
	at := map[string]int{}
	for i, h := range table[0] {
		name := strings.TrimSpace(h)
		_, twice := at[name]
		switch {
		case name == "":
			continue
		case !slices.Contains(JobColumns, name):
			return nil, nil, fmt.Errorf("the column %q is not known. Columns are: %s", name, strings.Join(JobColumns,
				", "))
		case twice:
			return nil, nil, fmt.Errorf("the column %q stands twice", name)
		}
		at[name] = i
	}
	if _, ok := at["tag"]; !ok {
		return nil, nil, fmt.Errorf("the column %q is missing", "tag")
	}
	var rows []JobRow
	var bad []CellError
	seen := map[string]int{}
	for i, cells := range table[1:] {
		if strings.TrimSpace(strings.Join(cells, "")) == "" {
			continue
		}
		r := jobReader{line: i + 2, cells: cells, at: at}
		row := r.read()
		if first, twice := seen[row.Joint.Tag]; twice {
			r.wrong("tag", fmt.Sprintf("stands in line %d already", first), "Give each joint one line.")
		}
		seen[row.Joint.Tag] = row.Line
		bad = append(bad, r.bad...)
		rows = append(rows, row)
	}
	if len(bad) > 0 {
		return nil, bad, nil
	}
	return rows, nil, nil
}

// jobReader reads one line.
type jobReader struct {
	line  int
	cells []string
	at    map[string]int
	bad   []CellError
}

func (r *jobReader) cell(name string) string {
	if k, ok := r.at[name]; ok && k < len(r.cells) {
		return strings.TrimSpace(r.cells[k])
	}
	return ""
}

func (r *jobReader) wrong(column, what, remedy string) {
	r.bad = append(r.bad, CellError{r.line, column, r.cell(column), what, remedy})
}

func (r *jobReader) read() JobRow {
	row := JobRow{Line: r.line, Name: r.cell("name"), IsolationName: r.cell("isolation_name"),
		Joint: shutdown.JointConstraint{Tag: r.cell("tag"), NotBefore: r.time("not_before", r.cell("not_before")),
			Due: r.time("due", r.cell("due")), Weight: 1, Isolation: r.cell("isolation"), After: r.list("after"),
			Access: r.cell("access"), WaitWhy: r.cell("wait_why"), Skills: r.list("skills")}}
	if row.Joint.Tag == "" {
		r.wrong("tag", "is empty", "Name the joint by its tag.")
	}
	if w := r.cell("weight"); w != "" {
		n, err := strconv.Atoi(w)
		if err != nil || n < 1 || n > shutdown.MostWeight {
			r.wrong("weight", fmt.Sprintf("is no whole number from 1 to %d", shutdown.MostWeight),
				"1 is the usual one.")
		}
		row.Joint.Weight = n
	}
	if w := r.cell("wait_minutes"); w != "" {
		n, err := strconv.Atoi(w)
		if err != nil || n < 0 || n > shutdown.MostWait {
			r.wrong("wait_minutes", fmt.Sprintf("is no whole number from 0 to %d", shutdown.MostWait),
				"Leave it empty for none.")
		}
		row.Joint.Wait = n
	}
	for _, w := range strings.Split(r.cell("isolation_windows"), between) {
		if strings.TrimSpace(w) == "" {
			continue
		}
		from, to, _ := strings.Cut(w, "/")
		s := shutdown.Span{From: r.time("isolation_windows", strings.TrimSpace(from)),
			To: r.time("isolation_windows", strings.TrimSpace(to))}
		if s.From == "" || s.To == "" {
			r.wrong("isolation_windows", "is not from/to", "2026-12-01T07:00/2026-12-01T15:00, several with ; between.")
		}
		row.Windows = append(row.Windows, s)
	}
	if row.Joint.Isolation == "" && (row.Windows != nil || row.IsolationName != "") {
		r.wrong("isolation", "is empty, and something is said of it", "Give the isolation its short name.")
	}
	return row
}

// list takes the values of a cell apart.
func (r *jobReader) list(column string) []string {
	out := []string{}
	for _, v := range strings.Split(r.cell(column), between) {
		if v = strings.TrimSpace(v); v != "" {
			out = append(out, v)
		}
	}
	return out
}

// time reads a day and a time as people and spreadsheets write them, most of all as they are written here.
func (r *jobReader) time(column, text string) string {
	if text == "" {
		return ""
	}
	for _, form := range []string{shutdown.Clock, "2006-01-02 15:04", "2006-01-02T15:04:05", "2006-01-02 15:04:05"} {
		if t, err := time.Parse(form, text); err == nil {
			return t.Format(shutdown.Clock)
		}
	}
	r.wrong(column, "is no day and time", "Give it as 2026-12-01T07:00.")
	return ""
}

// jobCells writes a line that ReadJobs takes back.
func jobCells(r JobRow) []string {
	var windows []string
	for _, w := range r.Windows {
		windows = append(windows, w.From+"/"+w.To)
	}
	j, wait := r.Joint, ""
	if j.Wait > 0 {
		wait = strconv.Itoa(j.Wait)
	}
	return []string{j.Tag, r.Name, j.NotBefore, j.Due, strconv.Itoa(j.Weight), j.Isolation, r.IsolationName,
		strings.Join(windows, between+" "), strings.Join(j.After, between+" "), j.Access, wait, j.WaitWhy,
		strings.Join(j.Skills, between+" ")}
}

// JobSheet is the list of a work package as ReadJobs takes it back, to be written as CSV or as a spreadsheet.
func JobSheet(rows []JobRow) Sheet {
	return Sheet{Name: "Joints", Columns: JobColumns, Rows: func(yield func([]any) bool) {
		for _, r := range rows {
			cells := []any{}
			for _, c := range jobCells(r) {
				cells = append(cells, c)
			}
			if !yield(cells) {
				return
			}
		}
	}}
}
