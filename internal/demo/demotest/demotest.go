// Package demotest gives tests the made-up site, laid out once a package and copied for each test.
package demotest

import (
	"context"
	"testing"
	"time"

	"dynacor/internal/app"
	"dynacor/internal/demo"
	"dynacor/internal/identity"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

// fresh is how old the site may be: what it says happened a while ago stays true while tests go on.
const fresh = 4 * time.Minute

// URL gives the address of a database of its own with the site as it stands at a time.
func URL(t testing.TB, now time.Time) string {
	t.Helper()
	return storetest.Filled(t, "demo "+now.Truncate(fresh).String(), func(url string) error {
		ctx := context.Background()
		pool, err := store.Open(ctx, storetest.Serving(url), 1)
		if err != nil {
			return err
		}
		defer pool.Close()
		a := app.New(pool, identity.NewTestHasher(), func() time.Time { return now })
		if err := a.Prepare(ctx); err != nil {
			return err
		}
		if err := a.UseKey(ctx, storetest.Key()); err != nil {
			return err
		}
		return demo.Load(ctx, a, now)
	})
}
