package report

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
)

// What was added behind the seal is printed whole, and said so at the foot; with nothing added there is no word of it.
func TestCertificatePrintsWhatWasAdded(t *testing.T) {
	v := view(t, (*coretest.Script).Finish)
	require.NotContains(t, words(t, certificate(t, v)), "Added since")
	at := coretest.Day.Add(27 * time.Hour)
	seen := at.Add(-3 * time.Hour)
	long := strings.Repeat("Tried again after a day, cold and out of service. ", 12) + "The last words."
	v.Additions = []record.Addition{
		{Seq: 1, Kind: record.Retorque, At: at, Person: coretest.Tolley, What: long, TorqueNm: 300, Tool: "W-40",
			ToolIs: "click wrench, certificate C-2211 until 2027-03-01", LimitDeg: 15, LimitFrom: "house rules, version 1",
			Sentence: "8 of 8 tried at 300 N·m: bolt 3 turned, up to 8°, inside 15° of the house rules, version 1.",
			Visits:   []record.Visit{{Fastener: 2}, {Fastener: 3, TurnedDeg: 8}}},
		{Seq: 2, Kind: record.Correction, At: at, Person: coretest.Tolley, What: "Seen on the shelf.",
			Place: "übernommene Charge", Was: "", Is: "C9"},
		{Seq: 3, Kind: record.Recheck, At: at, SeenAt: &seen, Person: coretest.Tolley, What: "Walk-round: dry.",
			Photo: "0192f0c4-7d5e-7a4b-9c1d-3e5f60718293"},
	}
	text := words(t, certificate(t, v))
	for _, want := range []string{"Added since it was sealed", "1. Re-torque, 24 Nov 2026", "The last words.",
		"With W-40, click wrench, certificate C-2211 until 2027-03-01.", "inside 15° of the house rules",
		"Turned: bolt 3 8°.", "2. Correction", "Where: übernommene Charge. In the record: not written down. Right: C9.", "This photo has not arrived", "3. Re-check, seen " +
			seen.Format("2 Jan 2006, 15:04") + " UTC, signed " + at.Format("2 Jan 2006, 15:04") + " UTC"} {
		require.Contains(t, text, want)
	}
}
