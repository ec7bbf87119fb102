package app_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
	"dynacor/internal/identity"
)

func ptr[T any](v T) *T { return &v }

// A device is known by its name; one that is lost is shut out: whoever is signed in on it is signed out, nobody signs
// in on it any more, and another device is not touched.
func TestLostDeviceIsShutOut(t *testing.T) {
	b := newBench(t, true)
	lost, other := b.tablet(t).signIn(t, "M. Tolley"), b.tablet(t).signIn(t, "I. Quaye")
	list, err := b.Devices(ctx)
	require.NoError(t, err)
	of := func(id string) app.DeviceRow {
		t.Helper()
		for _, d := range list {
			if d.ID == id {
				return d
			}
		}
		t.Fatalf("no device %s", id)
		return app.DeviceRow{}
	}
	require.Equal(t, []any{"", "M. Tolley", true}, []any{of(lost.key.Key.ID).Name, of(lost.key.Key.ID).Person,
		of(lost.key.Key.ID).AtWork})
	list, err = b.ChangeDevice(ctx, lost.key.Key.ID, app.DeviceChange{Name: ptr(" Tablet 3, pump house ")})
	require.NoError(t, err)
	require.Equal(t, "Tablet 3, pump house", of(lost.key.Key.ID).Name)
	_, err = b.ChangeDevice(ctx, lost.key.Key.ID, app.DeviceChange{Name: ptr(strings.Repeat("é", 61))})
	require.Equal(t, "name", problem(t, err, app.Invalid, "too long").Field)
	_, err = b.ChangeDevice(ctx, "nobody", app.DeviceChange{Shut: ptr(true)})
	problem(t, err, app.NotFound, "nobody")

	b.now = b.now.Add(time.Minute)
	list, err = b.ChangeDevice(ctx, lost.key.Key.ID, app.DeviceChange{Shut: ptr(true)})
	require.NoError(t, err)
	require.NotNil(t, of(lost.key.Key.ID).ShutAt)
	require.False(t, of(lost.key.Key.ID).AtWork)
	require.Equal(t, "Tablet 3, pump house", of(lost.key.Key.ID).Name, "it keeps its name")
	_, err = b.Who(ctx, lost.who.Login)
	require.Error(t, err, "signed out at once")
	_, err = b.Who(ctx, other.who.Login)
	require.NoError(t, err)
	in := func() error {
		id := b.crew["M. Tolley"].ID
		_, _, err := b.SignIn(ctx, app.SignInInput{PersonID: id, PIN: pins["M. Tolley"], DeviceKey: lost.key.Public(),
			DeviceProof: lost.key.Sign(identity.SignInText(id, lost.key.Key.ID))}, app.From{})
		return err
	}
	problem(t, in(), app.Forbidden, "This device was shut out on 2026-11-23 09:01 UTC")
	_, err = b.ChangeDevice(ctx, lost.key.Key.ID, app.DeviceChange{Shut: ptr(false)})
	require.NoError(t, err)
	require.NoError(t, in(), "let in again")
}
