package exchange

import (
	"encoding/csv"
	"io"
	"maps"
	"slices"
	"strconv"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/quantity"
)

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
		for i, f := range s.Groups {
			t := f.Target
			tol, bolts := "", ""
			if t.Form == plan.TorqueNominal {
				tol = strconv.FormatFloat(t.PlusPct, 'f', -1, 64)
			}
			if f.Bolts > 0 {
				bolts = strconv.Itoa(f.Bolts)
			}
			line := append(slices.Clone(head), bolts, num(f.BoltCircleMM), f.SeenFrom, f.Thread, f.Material,
				num(f.LengthMM), f.Lubricant)
			joint := []string{s.ServiceClass, s.Gasket, s.FlangeSize}
			paper := []string{num(s.ProofGapMM), s.Document, s.Revision, s.Page, f.Group, joined(s.Variant),
				joined(figures(s.Figures)), num(t.TurnDeg), t.Table, strings.Join(t.Keys, "; "),
				joined(orders(s.Orders))}
			if i > 0 {
				joint = []string{"", "", ""}
				paper = []string{
					"",
					"",
					"",
					"",
					f.Group,
					"",
					"",
					num(t.TurnDeg),
					t.Table,
					strings.Join(t.Keys, "; "),
					"",
				}
			}
			line = append(append(line, joint...), torque(t.Nominal, t.Unit), tol, torque(t.Min, t.Unit),
				torque(t.Max, t.Unit), num(t.Stress), num(t.Percent))
			if err := c.Write(guarded(append(line, paper...))); err != nil {
				return err
			}
		}
	}
	c.Flush()
	return c.Error()
}

// orders writes each order of parts on one line.
func orders(m map[string][]string) map[string]string {
	out := map[string]string{}
	for k, v := range m {
		out[k] = strings.Join(v, " > ")
	}
	return out
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
