package app_test

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/dossier"
	"dynacor/internal/app"
)

// Whoever can supply what a book lacks finds one message on their day, until they put it aside.
func TestGapsAreAskedForOnce(t *testing.T) {
	b := newBench(t, true)
	tolley, abara := b.crew["M. Tolley"], b.crew["R. Abara"]
	today := func(who app.Actor) app.Today {
		t.Helper()
		v, err := b.Today(ctx, who)
		require.NoError(t, err)
		return v
	}
	require.Empty(t, today(tolley).Asks)
	v, err := b.AskForGaps(ctx, abara, "WP-47")
	require.NoError(t, err)
	asked := map[string]bool{}
	for _, g := range v.Book.Gaps {
		for _, a := range g.Asked {
			require.Equal(t, "R. Abara", a.By)
			asked[a.Who] = true
		}
	}
	require.True(t, asked["M. Tolley"])
	require.False(t, asked["R. Abara"], "nobody asks themselves")
	require.Empty(t, today(abara).Asks)

	mine := today(tolley).Asks
	require.Len(t, mine, 1)
	require.Equal(t, "WP-47", mine[0].Package)
	require.Equal(t, "R. Abara", mine[0].By)
	require.NotEmpty(t, mine[0].What)

	_, err = b.AskForGaps(ctx, abara, "WP-47")
	problem(t, err, app.Conflict, "asked in this shift")
	b.now = b.now.Add(dossier.AskAgainAfter + time.Minute)
	_, err = b.AskForGaps(ctx, b.crew["J. Hartwell"], "WP-47")
	require.NoError(t, err)
	mine = today(tolley).Asks
	require.Len(t, mine, 1, "the newest of a package")
	require.Equal(t, "J. Hartwell", mine[0].By)

	id := uuid.MustParse(mine[0].ID)
	problem(t, b.PutAskAside(ctx, abara, id), app.NotFound, "no request of yours")
	require.NoError(t, b.PutAskAside(ctx, tolley, id))
	require.Empty(t, today(tolley).Asks, "those before it are put aside with it")
	problem(t, b.PutAskAside(ctx, tolley, id), app.NotFound, "no request of yours")
	_, err = b.AskForGaps(ctx, abara, "WP-0")
	problem(t, err, app.NotFound, "no work package WP-0")
}
