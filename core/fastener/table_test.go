package fastener_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/fastener"
	"dynacor/core/quantity"
)

func table() fastener.Table {
	return fastener.Table{Code: "locks", Name: "Lock plate", Document: "Keld card", Revision: "3", Page: "sheet 2",
		KeyNames: []string{"type", "size"}, Unit: quantity.NewtonMetre, TolerancePct: 5,
		Rows: []fastener.TableRow{{Keys: []string{"A", "50"}, Thread: "M8", Nominal: 28},
			{Keys: []string{"A", "60"}, Thread: "M10", Nominal: 58}, {Keys: []string{"B", "50"}, Min: 20, Max: 30}}}
}

func TestTableGivesTheLineOfExactlyItsKeys(t *testing.T) {
	require.NoError(t, table().Check())
	r, err := table().Row([]string{" a ", "60"})
	require.NoError(t, err)
	require.InDelta(t, 58, r.Nominal, 0)
	require.Equal(t, "Keld card rev 3, sheet 2", table().Source())
	for _, keys := range [][]string{{"A", "55"}, {"C", "50"}, {"A"}, nil} {
		_, err := table().Row(keys)
		require.ErrorContains(t, err, "no line", "%v", keys)
		ref, _ := quantity.RefusalIn(err)
		require.Contains(t, ref.Remedy, "never read between its lines")
	}
}

func TestTableThatCannotBeRightIsRefused(t *testing.T) {
	for field, change := range map[string]func(*fastener.Table){
		"document":     func(t *fastener.Table) { t.Document = " " },
		"revision":     func(t *fastener.Table) { t.Revision = "" },
		"unit":         func(t *fastener.Table) { t.Unit = quantity.Millimetre },
		"keyNames":     func(t *fastener.Table) { t.KeyNames = nil },
		"tolerancePct": func(t *fastener.Table) { t.TolerancePct = 80 },
	} {
		bad := table()
		change(&bad)
		r, ok := quantity.RefusalIn(bad.Check())
		require.True(t, ok, field)
		require.Equal(t, field, r.Field)
	}
	for says, change := range map[string]func([]fastener.TableRow) []fastener.TableRow{
		"no lines":    func([]fastener.TableRow) []fastener.TableRow { return nil },
		"lacks a key": func(r []fastener.TableRow) []fastener.TableRow { r[1].Keys = []string{"A"}; return r },
		"the same keys": func(r []fastener.TableRow) []fastener.TableRow {
			r[1].Keys = []string{"a",
				"50"}
			return r
		},
		"is not a thread":  func(r []fastener.TableRow) []fastener.TableRow { r[0].Thread = "wide"; return r },
		"neither, or both": func(r []fastener.TableRow) []fastener.TableRow { r[0].Min, r[0].Max = 1, 2; return r },
		"is not below":     func(r []fastener.TableRow) []fastener.TableRow { r[2].Min = 40; return r },
		"cannot be a torque": func(r []fastener.TableRow) []fastener.TableRow {
			r[0].Nominal = -3
			return r
		},
	} {
		bad := table()
		bad.Rows = change(bad.Rows)
		require.ErrorContains(t, bad.Check(), says)
	}
}

func TestConditionOfThreadsIsToldFromTheCard(t *testing.T) {
	for _, c := range []struct {
		condition        string
		wet, dry, locked bool
	}{{"light oil", true, false, false}, {"dry, zinc plated", false, true, false},
		{"threadlocker, medium", false, false, true}} {
		l := fastener.Lubricant{Condition: c.condition}
		require.Equal(t, c.wet, l.Wet(), c.condition)
		require.Equal(t, c.dry, l.Dry(), c.condition)
		require.Equal(t, c.locked, l.Locks(), c.condition)
	}
}
