package exchange_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/internal/exchange"
)

const wide = "tag,area,family,group,bolts,thread,material,lubricant,target_Nm,turn_deg,table,keys,variant,figures,document,revision\n"

func own() fastener.Own {
	return fastener.Own{Tables: []fastener.Table{{Code: "SDX", Name: "Shrink discs", Document: "Ostrey SDX sheet",
		Revision: "4", KeyNames: []string{"type", "size"}, Unit: quantity.NewtonMetre,
		Rows: []fastener.TableRow{{Keys: []string{"SDX", "65"}, Thread: "M10", Nominal: 58}}}}}
}

func readWide(t *testing.T, body string) ([]exchange.Row, []exchange.CellError) {
	t.Helper()
	rows, cells, err := exchange.ReadRegister(strings.NewReader(wide+body), own(), procedure.ByCode)
	require.NoError(t, err)
	return rows, cells
}

func TestJointsOfOtherFamiliesAreRead(t *testing.T) {
	rows, cells := readWide(t, strings.Join([]string{
		`TF-1,N,tube_fitting,,,,,,,450,,,make=first,"tube=12; first_turn=450; ovality=1,5",Keld TF sheet,2`,
		`SD-1,N,shrink_disc,,10,,10.9,dry_as_received,,,SDX,SDX; 65,shoulder=with,halves_spread=0.2,Ostrey SDX sheet,4`,
		`BV-1,N,ball_valve_multi,,4,M12,A4-70,light_oil,45,,,,ports=three,break_torque=40; test_pressure=16,Keld BV3,1`,
		`BV-1,N,,face_b,4,M10,A4-70,light_oil,25,,,,,,,`,
		`XX-1,N,,,8,M20,8.8,not_named,300,,,,,,D-1,A`,
	}, "\n"))
	require.Empty(t, cells)
	require.Len(t, rows, 4)
	require.Equal(t, plan.Turns, rows[0].Specification.Groups[0].Target.Form)
	require.InDelta(t, 450, rows[0].Specification.Groups[0].Target.TurnDeg, 0)
	require.InDelta(t, 1.5, rows[0].Specification.Figures["ovality"], 0)
	require.Equal(t, map[string]string{"make": "first"}, rows[0].Specification.Variant)
	require.Equal(t, plan.LookUp, rows[1].Specification.Groups[0].Target.Form)
	require.Equal(t, []string{"SDX", "65"}, rows[1].Specification.Groups[0].Target.Keys)
	require.Len(t, rows[2].Specification.Groups, 2)
	require.Equal(t, "face_b", rows[2].Specification.Groups[1].Group)
	require.Equal(t, "M10", rows[2].Specification.Groups[1].Thread)
	require.Equal(t, plan.NotNamed, rows[3].Specification.Groups[0].Lubricant)

	closure := rows[0]
	closure.Tag, closure.Family = "PC-7", "pressure_closure"
	f, err := procedure.ByCode("pressure_closure")
	require.NoError(t, err)
	closure.Specification = plan.Sample(f, nil)
	closure.Specification.Orders = map[string][]string{"seal_order": {"inner seal", "spacer", "outer seal"}}
	rows = append(rows, closure)
	var b bytes.Buffer
	require.NoError(t, exchange.WriteRegister(&b, rows))
	again, cells, err := exchange.ReadRegister(bytes.NewReader(b.Bytes()), own(), procedure.ByCode)
	require.NoError(t, err)
	require.Empty(t, cells)
	require.Len(t, again, len(rows))
	for i := range rows {
		require.Equal(t, rows[i].Specification.Figures, again[i].Specification.Figures)
		require.Equal(t, rows[i].Specification.Variant, again[i].Specification.Variant)
		require.Equal(t, rows[i].Specification.Orders, again[i].Specification.Orders)
		require.Len(t, again[i].Specification.Groups, len(rows[i].Specification.Groups))
	}
}

func TestWrongCellsOfOtherFamiliesAreNamed(t *testing.T) {
	for _, c := range []struct{ name, line, column, says string }{
		{"no such family", `A,N,spiral_joint,,8,M20,8.8,light_oil,300,,,,,,D,A`, "family", "spiral_joint"},
		{"no such group", "A,N,ball_valve_multi,,4,M12,8.8,light_oil,45,,,,ports=three,break_torque=40; " +
			"test_pressure=16,D,A\nA,N,,lid,4,M12,8.8,light_oil,45,,,,,,,", "group", "not a group"},
		{"an answer without =", `A,N,tube_fitting,,,,,,,450,,,first,tube=12,D,A`, "variant", "no ="},
		{"an answer that is none", `A,N,tube_fitting,,,,,,,450,,,make=third,tube=12; first_turn=450; ovality=1,D,A`,
			"variant", "third"},
		{"a figure that is no number", `A,N,tube_fitting,,,,,,,450,,,make=first,tube=wide,D,A`, "figures",
			"not a number"},
		{"a figure past its limit", `A,N,tube_fitting,,,,,,,450,,,make=first,tube=900; first_turn=450; ovality=1,D,A`,
			"figures", "tube"},
		{"two forms of target", `A,N,tube_fitting,,,,,,40,450,,,make=first,tube=12,D,A`, "target_Nm", ""},
		{"a lubricant that is none", `A,N,,,8,M20,8.8,honey,300,,,,,,D,A`, "lubricant", "honey"},
	} {
		rows, cells := readWide(t, c.line+"\n")
		require.Nil(t, rows, c.name)
		found := false
		for _, x := range cells {
			if x.Column == c.column && strings.Contains(x.What+x.Value, c.says) {
				found = true
			}
		}
		require.True(t, found, "%s: %+v", c.name, cells)
	}
}
