package app_test

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
)

// What an area has is counted as joints come, are accepted and move, and is the same as counting them all.
func TestAreasAreCountedAsJointsChange(t *testing.T) {
	b := newBench(t, true)
	counted := func(why string) {
		t.Helper()
		rows, err := b.pool.Query(ctx,
			"select area, total, accepted from area_totals except select area, count(*), count(*) filter (where "+
				"glyph = 'accepted') from joints group by area")
		require.NoError(t, err)
		require.False(t, rows.Next(), why)
		rows.Close()
		var areas, kept, all, sum int
		require.NoError(t, b.pool.QueryRow(ctx,
			"select (select count(distinct area) from joints), (select count(*) from area_totals), (select count(*) "+
				"from joints), (select sum(total) from area_totals)").Scan(&areas, &kept, &all, &sum))
		require.Equal(t, areas, kept, why)
		require.Equal(t, all, sum, why)
	}
	counted("the made-up site")
	_, err := b.Import(ctx, b.crew["J. Hartwell"],
		[]byte("tag,area,bolts,thread,material,lubricant,target_Nm,document\nQ-1,Quay,8,M20,8.8,light_oil,300,D\nQ-2,Quay,8,M20,8.8,light_oil,300,D\n"), true)
	require.NoError(t, err)
	counted("an import with a new area")
	_, err = b.Import(ctx, b.crew["J. Hartwell"],
		[]byte("tag,area,bolts,thread,material,lubricant,target_Nm,document\nQ-1,North "+
			"quay,8,M20,8.8,light_oil,300,D\nQ-2,North quay,8,M20,8.8,light_oil,300,D\n"), true)
	require.NoError(t, err)
	counted("an area that was left by all")
	b.begin(t, "Q-1").seal(t)
	counted("a joint that was accepted")
	page, err := b.Joints(ctx, app.JointQuery{Sort: "tag", Limit: 5})
	require.NoError(t, err)
	require.Equal(t, 69, page.Total)
	page, err = b.Joints(ctx, app.JointQuery{Text: "quay", Sort: "tag", Limit: 1})
	require.NoError(t, err)
	require.Equal(t, 2, page.Total)
	require.Len(t, page.Rows, 1)
	page, err = b.Joints(ctx, app.JointQuery{Text: "quay", Sort: "tag", Limit: 1, Offset: 7})
	require.NoError(t, err)
	require.Equal(t, 2, page.Total, "past the end too")
}

// However large the site, the page of the day stays small: the areas with most left to do, fewer joints of each, and
// one run whole.
func TestTodayStaysSmall(t *testing.T) {
	b := newBench(t, true)
	var csv strings.Builder
	csv.WriteString("tag,name,area,bolts,thread,material,lubricant,target_Nm,document\n")
	for i := range 1300 {
		fmt.Fprintf(&csv, "L-%04d,Spool %d of loop %d,Area %d,8,M20,8.8,light_oil,300,D-%d\n", i, i, i/7, i%130, i%40)
	}
	_, err := b.Import(ctx, b.crew["J. Hartwell"], []byte(csv.String()), true)
	require.NoError(t, err)
	day, err := b.Today(ctx, b.crew["M. Tolley"])
	require.NoError(t, err)
	require.Len(t, day.Areas, 100)
	n := 0
	for _, a := range day.Areas {
		require.NotEmpty(t, a.Joints, a.Name)
		n += len(a.Joints)
	}
	require.Equal(t, 300, n)
	require.Len(t, day.InHand, 1)
	require.Equal(t, "SW-114", day.InHand[0].Tag)
	require.Contains(t, day.InHand[0].Text, day.InHand[0].Headline+", pass 3 of")
	require.NotEqual(t, "SW-114", day.Next[0].Tag, "other work in hand comes next")
	require.NotEmpty(t, day.Next[0].Summary)
	var z bytes.Buffer
	w := gzip.NewWriter(&z)
	require.NoError(t, json.NewEncoder(w).Encode(day))
	require.NoError(t, w.Close())
	require.Less(t, z.Len(), 30_000)
	t.Logf("%d bytes", z.Len())
}

// A re-torque is asked for where the house rules want one: from a day before it falls due until it is made; and a joint
// that was found out since is due at once.
func TestRetorqueThatFallsDueIsAskedFor(t *testing.T) {
	b := newBench(t, true)
	hartwell := b.crew["J. Hartwell"]
	again := func() []app.StoppedJoint {
		v, err := b.Today(ctx, hartwell)
		require.NoError(t, err)
		return v.Again
	}
	require.Empty(t, again(), "no rule asks for one")
	h, err := b.HouseRules(ctx)
	require.NoError(t, err)
	r := h.Versions[0].Rules
	r.RetorqueHours = 72
	r.Reasons["retorqueHours"] = "soft gaskets in warm lines"
	_, err = b.PutHouseRules(ctx, hartwell, app.HouseRulesInput{Rules: r, Reason: "decided at the outage meeting"})
	require.NoError(t, err)
	number := sealedNumber(t, b, "SW-111")
	v, err := b.Record(ctx, number)
	require.NoError(t, err)
	due := v.Row.SealedAt.Add(72 * time.Hour)
	named := func() string {
		text, err := json.Marshal(again())
		require.NoError(t, err)
		return string(text)
	}
	b.now = due.Add(-24*time.Hour - time.Second)
	require.NotContains(t, named(), "SW-111")
	b.now = due.Add(-24 * time.Hour)
	require.Contains(t, named(), "SW-111")
	require.Contains(t, named(), "re-torque, behind "+number)
	b.now = due.Add(60*24*time.Hour + time.Second)
	require.NotContains(t, named(), "SW-111", "nobody will make it any more")
	b.now = due
	_, err = b.Add(ctx, b.crew["M. Tolley"], number, retorqued(t, b, number, 0, 20))
	require.NoError(t, err)
	require.Contains(t, named(), "had lost load at a re-torque", "due again, and no longer for the re-torque")
	require.NotContains(t, named(), "re-torque, behind "+number)
}
