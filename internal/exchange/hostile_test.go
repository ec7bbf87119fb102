package exchange_test

import (
	"bytes"
	"runtime"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
	"pgregory.net/rapid"

	"dynacor/core/coretest"
	"dynacor/core/fastener"
	"dynacor/core/procedure"
	"dynacor/core/tool"
	"dynacor/internal/exchange"
)

func sheet(t *testing.T, cells map[string]string) []byte {
	t.Helper()
	f := excelize.NewFile()
	for at, v := range cells {
		require.NoError(t, f.SetCellStr("Sheet1", at, v))
	}
	var b bytes.Buffer
	require.NoError(t, f.Write(&b))
	return b.Bytes()
}

// allocated says how many bytes an act took from the heap.
func allocated(act func()) uint64 {
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	act()
	runtime.ReadMemStats(&after)
	return after.TotalAlloc - before.TotalAlloc
}

// A cell in the last column of many rows once took gigabytes.
func TestSheetWithCellsFarAwayIsRefused(t *testing.T) {
	cells := map[string]string{"A1": "tag", "B1": "kind"}
	for row := 2; row < 400; row++ {
		at, err := excelize.CoordinatesToCellName(16384, row)
		require.NoError(t, err)
		cells[at] = "x"
	}
	data := sheet(t, cells)
	var err error
	took := allocated(func() { _, _, err = exchange.ReadTools(data) })
	require.ErrorContains(t, err, "line 2 has a cell in column 16384")
	require.Less(t, took, uint64(40<<20))
	_, _, err = exchange.ReadTools([]byte("tag,kind\nW-1" + strings.Repeat(",", 300) + "\n"))
	require.ErrorContains(t, err, "line 2 has a cell in column 301")
	_, _, err = exchange.ReadTools([]byte("tag,kind\n" + strings.Repeat("\"\",\n", 20_002)))
	require.ErrorContains(t, err, "more than 20000 lines")
	_, _, err = exchange.ReadTools([]byte("PK no spreadsheet"))
	require.ErrorContains(t, err, "cannot be read")
}

func TestRegisterWithManyWrongCellsIsNotReadToItsEnd(t *testing.T) {
	text := "tag,area,bolts,thread\n" + strings.Repeat("?,,x,y\n", 90_000)
	_, cells, err := exchange.ReadRegister(strings.NewReader(text), fastener.Own{}, procedure.ByCode)
	require.NoError(t, err)
	require.Less(t, len(cells), 5_100)
	_, _, err = exchange.ReadRegister(strings.NewReader("tag,area\nA,N"+strings.Repeat(",", 250)+"\n"), fastener.Own{},
		procedure.ByCode)
	require.ErrorContains(t, err, "252 cells")
}

// What begins like a formula is written as a text and reads back letter for letter, in CSV and in a spreadsheet.
func TestTextsLikeFormulasAreWrittenSafely(t *testing.T) {
	w := coretest.Wrench()
	w.Tag, w.Serial, w.Maker, w.Place = "=cmd|' /C calc'!A0", "@SUM(1)", "-x", "'=1+1"
	var b bytes.Buffer
	require.NoError(t, exchange.WriteTools(&b, []tool.Tool{w}))
	for _, cell := range strings.Split(strings.Split(b.String(), "\n")[1], ",") {
		if cell != "" {
			require.NotContains(t, "=+@", cell[:1], cell)
		}
	}
	back, bad, err := exchange.ReadTools(b.Bytes())
	require.NoError(t, err)
	require.Empty(t, bad)
	require.Equal(t, w.Tag, back[0].Tool.Tag)
	require.Equal(t, w.Place, back[0].Tool.Place)
	require.Equal(t, "@SUM(1)", back[0].Tool.Serial)
}

func TestEverySerialNumberReadsBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.StringMatching(`[=+@'0-9a-zA-Z.-][=+@'0-9a-zA-Z ,;."-]{0,12}[0-9a-z]`).Draw(t, "serial")
		w := coretest.Wrench()
		w.Serial = text
		for _, write := range []func(*bytes.Buffer) error{func(b *bytes.Buffer) error {
			return exchange.WriteTools(b,
				[]tool.Tool{w})
		}, func(b *bytes.Buffer) error { return exchange.WriteToolSheet(b, []tool.Tool{w}) }} {
			var b bytes.Buffer
			if err := write(&b); err != nil {
				t.Fatal(err)
			}
			rows, bad, err := exchange.ReadTools(b.Bytes())
			if err != nil || len(bad) > 0 || rows[0].Tool.Serial != text {
				t.Fatalf("%q came back as %v %v %v", text, rows, bad, err)
			}
		}
	})
}
