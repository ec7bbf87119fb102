package due_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/due"
)

var noon = time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC)

// What is somebody's own is nobody else's; the rest falls to roles.
func TestWhoseItIs(t *testing.T) {
	own := due.Item{Kind: due.Training, Key: "Quaye tool hydraulic", Person: "q", From: noon}
	crib := due.Item{Kind: due.Calibration, Key: "W-40", From: noon.Add(-time.Hour)}
	again := due.Item{Kind: due.Retorque, Key: "R-1", From: noon}
	all := []due.Item{own, crib, again}
	require.Equal(t, []due.Item{crib, again, own}, due.Mine(all, "q", authority.Technician+", "+authority.Lead))
	require.Equal(t, []due.Item{again}, due.Mine(all, "t", authority.Technician))
	require.Equal(t, []due.Item{crib}, due.Mine(all, "k", authority.ToolKeeper))
	require.Empty(t, due.Mine(all, "i", authority.Inspector))
	require.True(t, due.Item{Kind: due.LookAgain}.Is("i", authority.Inspector))
	require.False(t, due.Item{Kind: due.UseBy}.Is("t", authority.Technician))
	require.Equal(t, "training-Quaye-tool-hydraulic", own.ID())
	require.Equal(t, []due.Item{crib}, due.Within(all, noon))
	for _, k := range []due.Kind{due.Work, due.Retorque, due.LookAgain, due.Calibration, due.Training, due.UseBy} {
		require.NotEmpty(t, k.Word())
	}
}

// A letter tells what is overdue, of today and of the week, and is not written about nothing.
func TestLetterOfTheMorning(t *testing.T) {
	at := func(days int, says string, allDay bool) due.Item {
		return due.Item{Kind: due.Calibration, Key: says, Says: says, From: noon.AddDate(0, 0, days), AllDay: allDay}
	}
	_, _, ok := due.Letter("M. Tolley", "Tarn Skerry", noon, []due.Item{at(8, "W-1 ends", true)})
	require.False(t, ok, "a week is as far as it looks")
	subject, body, ok := due.Letter("M. Tolley", "Tarn Skerry", noon,
		[]due.Item{at(-3, "W-2 ended", true), at(0, "SW-111 re-torque", false), at(7, "W-3 ends", true)})
	require.True(t, ok)
	require.Equal(t, "3 things fall due, Tarn Skerry", subject)
	require.Contains(t, body, "Overdue\n- Sat 28 Nov: W-2 ended\n")
	require.Contains(t, body, "Today\n- Tue 1 Dec 12:00: SW-111 re-torque\n")
	require.Contains(t, body, "In the next seven days\n- Tue 8 Dec: W-3 ends\n")
	subject, _, _ = due.Letter("M. Tolley", "Tarn Skerry", noon, []due.Item{at(0, "x", true)})
	require.Equal(t, "1 thing falls due, Tarn Skerry", subject)
}
