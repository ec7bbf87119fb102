package exchange_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/internal/exchange"
)

const head = "tag,area,bolts,thread,material,lubricant,target_Nm,target_min_Nm,target_max_Nm,stress_MPa,percent_yield,length_mm\n"

func read(t *testing.T, text string) ([]exchange.Row, []exchange.CellError) {
	t.Helper()
	rows, cells, err := exchange.ReadRegister(strings.NewReader(text), fastener.Own{}, procedure.ByCode)
	require.NoError(t, err)
	return rows, cells
}

func TestEveryFormOfTargetIsRead(t *testing.T) {
	rows, cells := read(t, head+
		"A,N,8,M20,8.8,light_oil,300,,,,,90\n"+
		"B,N,8,M20,8.8,light_oil,230 ft-lb,,,,,3 1/2 in\n"+
		"C,N,8,M20,8.8,light_oil,,280,320,,,\n"+
		"D,N,8,M20,8.8,light_oil,,,,240,,\n"+
		"E,N,8,M20,8.8,light_oil,,,,,50 %,\n"+
		"F,N,8,M20,8.8,light_oil,,,,,,\n")
	require.Empty(t, cells)
	forms := []plan.TargetForm{plan.TorqueNominal, plan.TorqueNominal, plan.TorqueRange, plan.BoltStress,
		plan.PercentYield, plan.NotGiven}
	for i, r := range rows {
		require.Equal(t, forms[i], r.Specification.Groups[0].Target.Form, r.Tag)
	}
	require.Equal(t, "ft_lbf", string(rows[1].Specification.Groups[0].Target.Unit))
	require.InDelta(t, 88.9, rows[1].Specification.Groups[0].LengthMM, 1e-9)
}

func TestEveryWrongCellIsNamed(t *testing.T) {
	rows, cells := read(t, head+
		"A,N,8,M20,8.8,light_oil,300,,,,,\n"+
		"A,N,8,M20,8.8,light_oil,300,,,,,\n"+ // 3: twice
		"B b,N,two,M20y,8.8,light_oil,300,,,,,\n"+ // 4: tag, bolts, thread
		"C,,8,M20,3.3,honey,20 kg,,,,,\n"+ // 5: area, material, lubricant, target
		"D,N,8,M20,8.8,light_oil,300,280,320,,,\n"+ // 6: two targets
		"E,N,8,M20,8.8,light_oil,,280,,,,-5\n") // 7: half a range, length
	require.Nil(t, rows)
	got := map[int][]string{}
	for _, c := range cells {
		got[c.Line] = append(got[c.Line], c.Column)
		require.NotEmpty(t, c.What)
	}
	require.ElementsMatch(t, []string{"tag"}, got[3])
	require.ElementsMatch(t, []string{"tag", "bolts", "thread"}, got[4])
	require.ElementsMatch(t, []string{"area", "material", "lubricant", "target_Nm"}, got[5])
	require.ElementsMatch(t, []string{"target_Nm"}, got[6])
	require.ElementsMatch(t, []string{"target_min_Nm", "length_mm"}, got[7])
	require.Len(t, got, 5)
}

func TestFilesAsPeopleSaveThem(t *testing.T) {
	rows, cells := read(t, "\xef\xbb\xbfTag;Area;Bolts;Thread;Material;Lubricant;Target_Nm\r\nA;North;8;M20;8.8;light_oil;\"300,5\"\r\n\r\n;;;;;;\r\n")
	require.Empty(t, cells)
	require.Len(t, rows, 1)
	require.InDelta(t, 300.5, rows[0].Specification.Groups[0].Target.Nominal, 1e-9)
	for text, says := range map[string]string{"": "empty", "tag\n": "is missing", "tag,colour\n": "not a column",
		"tag,tag\n": "stands twice", "tag,area,bolts,thread,material,lubricant\n": "holds no joint"} {
		_, _, err := exchange.ReadRegister(strings.NewReader(text), fastener.Own{}, procedure.ByCode)
		require.ErrorContains(t, err, says)
	}
}

func TestWrittenRegisterReadsBack(t *testing.T) {
	rows, cells := read(t, head+
		"A,N,8,M20,8.8,light_oil,300,,,,,90\nB,N,12,3/4-10 UNC,B7,copper_antiseize,200 ft-lb,,,,,\nC,\"N, by the "+
		"gate\",8,M20,8.8,light_oil,,280,320,,,\nD,N,8,M20,8.8,light_oil,,,,,,\n")
	require.Empty(t, cells)
	var b bytes.Buffer
	require.NoError(t, exchange.WriteRegister(&b, rows))
	again, cells := read(t, b.String())
	require.Empty(t, cells)
	require.Len(t, again, len(rows))
	for i := range rows {
		again[i].Specification.Groups[0].Target.AsTyped, rows[i].Specification.Groups[0].Target.AsTyped = "", ""
		again[i].Line = rows[i].Line
		require.Equal(t, rows[i], again[i])
	}
}

func FuzzReadRegister(f *testing.F) {
	f.Add(head + "A,N,8,M20,8.8,light_oil,300,,,,,\n")
	f.Add("tag;area\n\"\n")
	f.Fuzz(func(t *testing.T, s string) {
		rows, cells, err := exchange.ReadRegister(strings.NewReader(s), fastener.Own{}, procedure.ByCode)
		if err == nil && len(cells) == 0 && len(rows) == 0 {
			t.Fatal("nothing read and nothing said")
		}
	})
}
