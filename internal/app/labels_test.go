package app_test

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/quantity"
	"dynacor/internal/app"
)

func labels(t *testing.T, b *bench, q app.LabelQuery) []app.Label {
	t.Helper()
	list, site, err := b.Labels(ctx, q)
	require.NoError(t, err)
	require.Equal(t, "Tarn Skerry Tidal Station", site)
	return list
}

// A code carries what a scan needs: a tool its tag alone, a joint and a person where they are opened, a tin what the
// check of the lubricant asks.
func TestLabelsCarryTheirThings(t *testing.T) {
	b := newBench(t, true)
	tools := labels(t, b, app.LabelQuery{Of: app.LabelsOfTools, IDs: []string{"W-31"}})
	require.Len(t, tools, 1)
	require.Equal(t, "W-31", tools[0].Code)
	require.NotEmpty(t, tools[0].Name)

	base := "dynacor:"
	for range 2 {
		joints := labels(t, b, app.LabelQuery{Of: app.LabelsOfJoints, Package: "WP-47"})
		require.NotEmpty(t, joints)
		all := labels(t, b, app.LabelQuery{Of: app.LabelsOfJoints})
		require.Greater(t, len(all), len(joints))
		one := labels(t, b, app.LabelQuery{Of: app.LabelsOfJoints, IDs: []string{"SW-112"}})
		require.Equal(t, base+"/joints/SW-112", one[0].Code)

		quaye := b.crew["I. Quaye"].Person
		cards := labels(t, b, app.LabelQuery{Of: app.LabelsOfPeople, IDs: []string{quaye.ID}})
		require.Len(t, cards, 1)
		require.Equal(t, "I. Quaye", cards[0].Head)
		require.Equal(t, base+"/scan?person="+quaye.ID, cards[0].Code)

		tins := labels(t, b, app.LabelQuery{Of: app.LabelsOfTins, Lubricant: "L-07", Batch: " B 7/1 ", UseBy: "2027-06-30",
			Count: 3})
		require.Len(t, tins, 3)
		require.Equal(t, "B 7/1", tins[2].Head)
		require.Equal(t, []string{"use by 30 June 2027"}, tins[2].Lines)
		u, err := url.Parse(tins[2].Code)
		require.NoError(t, err)
		require.Equal(t, url.Values{"lubricant": {"L-07"}, "batch": {"B 7/1"}, "useBy": {"2027-06-30"}}, u.Query())

		s, err := b.Site(ctx)
		require.NoError(t, err)
		s.Address = "https://dynacor.tarn-skerry.example"
		_, err = b.PutSite(ctx, s)
		require.NoError(t, err)
		base = "https://dynacor.tarn-skerry.example"
	}
}

func TestLabelsThatCannotBeMeantAreRefused(t *testing.T) {
	b := newBench(t, true)
	tin := app.LabelQuery{Of: app.LabelsOfTins, Lubricant: "L-07", Batch: "B-1", Count: 1}
	for field, change := range map[string]func(*app.LabelQuery){
		"lubricant": func(q *app.LabelQuery) { q.Lubricant = "" }, "batch": func(q *app.LabelQuery) { q.Batch = "  " },
		"useBy": func(q *app.LabelQuery) { q.UseBy = "2027-02-30" }, "count": func(q *app.LabelQuery) { q.Count = 201 },
		"of": func(q *app.LabelQuery) { q.Of = "spoons" },
	} {
		q := tin
		change(&q)
		_, _, err := b.Labels(ctx, q)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, field)
		require.Equal(t, field, r.Field)
	}
	for of, id := range map[string]string{app.LabelsOfTools: "W-99", app.LabelsOfJoints: "SW-999", app.LabelsOfPeople: "x"} {
		_, _, err := b.Labels(ctx, app.LabelQuery{Of: of, IDs: []string{id}})
		problem(t, err, app.NotFound, "There is no")
	}
	tin.Lubricant = "treacle"
	_, _, err := b.Labels(ctx, tin)
	problem(t, err, app.NotFound, "no lubricant treacle")
}
