package exchange

import (
	"fmt"
	"math"
	"strings"

	"dynacor/core/lab"
)

// HistorySheet is a history of the lab: each pull with the bolts that were pulled, by how many degrees their nuts turned,
// and the force of every bolt after it, kN.
func HistorySheet(o *lab.Outcome) Sheet {
	columns := []string{"pull", "pass", "bolts", "angle_deg"}
	for b := range o.Forces {
		columns = append(columns, fmt.Sprintf("bolt_%d_kN", b+1))
	}
	return Sheet{Name: "History", Columns: columns, Rows: func(yield func([]any) bool) {
		pass := 0
		for i, s := range o.Steps {
			for pass < len(o.Passes)-1 && i >= o.Passes[pass].Step {
				pass++
			}
			var bolts, angle []string
			for k, b := range s.Bolts {
				bolts, angle = append(bolts, fmt.Sprint(b)), append(angle, fmt.Sprintf("%.1f", s.Angle[k]))
			}
			row := []any{i + 1, o.Passes[pass].Word, strings.Join(bolts, " "), strings.Join(angle, " ")}
			for _, f := range o.History[i] {
				row = append(row, math.Round(f*1e3)/1e3) // to a newton
			}
			if !yield(row) {
				return
			}
		}
	}}
}
