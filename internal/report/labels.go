package report

import (
	"io"

	"dynacor/core/tool"
)

// Labels of a sheet: three across and eight down, A4.
const (
	labelW, labelH = 62.0, 34.0
	labelsAcross   = 3
	labelsDown     = 8
)

// ToolLabels writes labels for tools: tag, what it is, and a code to scan that holds the tag alone, so that any reader
// that types what it scans finds the tool. Dates are left out: a label outlives a certificate.
func ToolLabels(w io.Writer, site string, tools []tool.Tool) error {
	s := newPlainSheet("Tool labels, " + site)
	for i, t := range tools {
		if i%(labelsAcross*labelsDown) == 0 {
			s.AddPage()
		}
		k := i % (labelsAcross * labelsDown)
		x, y := 12+float64(k%labelsAcross)*labelW, 12+float64(k/labelsAcross)*labelH
		s.SetLineWidth(0.2)
		s.Rect(x, y, labelW, labelH, "D")
		if err := s.qr(x+labelW-29, y+4, 26, t.Tag); err != nil {
			return err
		}
		s.font("mono", 17)
		s.Text(x+4, y+11, t.Tag)
		s.font("text", 8)
		s.SetXY(x+3, y+14)
		s.MultiCell(labelW-33, 3.6, plainSpaces(t.Name()), "", "L", false)
		s.Text(x+4, y+labelH-3.5, plainSpaces(site))
	}
	return s.Output(w)
}
