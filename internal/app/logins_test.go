package app_test

import (
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/internal/app"
)

func (b *bench) try(name, pin string, from app.From) error {
	_, _, err := b.CheckPIN(ctx, b.crew[name].ID, pin, from)
	return err
}

func TestWaitsGrowWithWrongPINs(t *testing.T) {
	b := newBench(t, true)
	require.NoError(t, b.try("M. Tolley", "4071", app.From{}))
	for range 5 {
		problem(t, b.try("M. Tolley", "0000", app.From{}), app.NotSignedIn, "do not go together")
	}
	problem(t, b.try("M. Tolley", "4071", app.From{}), app.TooOften, "Too many wrong PINs for M. Tolley")
	require.NoError(t, b.try("I. Quaye", "5826", app.From{}), "others are not locked")
	b.now = b.now.Add(59 * time.Second)
	problem(t, b.try("M. Tolley", "4071", app.From{}), app.TooOften, "Wait 1 s")
	b.now = b.now.Add(time.Second)
	problem(t, b.try("M. Tolley", "0000", app.From{}), app.NotSignedIn, "")
	b.now = b.now.Add(119 * time.Second)
	problem(t, b.try("M. Tolley", "4071", app.From{}), app.TooOften, "Wait 1 s")
	b.now = b.now.Add(time.Second)
	require.NoError(t, b.try("M. Tolley", "4071", app.From{}))
	for range 5 {
		problem(t, b.try("M. Tolley", "0000", app.From{}), app.NotSignedIn, "")
	}
	require.NoError(t, b.SetPIN(ctx, "M. Tolley", "9286"))
	problem(t, b.try("M. Tolley", "4071", app.From{}), app.NotSignedIn, "")
	require.NoError(t, b.try("M. Tolley", "9286", app.From{}), "a new PIN ends the wait")
	problem(t, b.SetPIN(ctx, "M. Tolley", "1212"), app.Invalid, "first that anybody would try")
	problem(t, b.SetPIN(ctx, "Nobody", "7049"), app.NotFound, "Nobody")
	require.NoError(t, b.SetPIN(ctx, "M. Tolley", "grey heron at low water"))
	require.NoError(t, b.try("M. Tolley", "grey heron at low water", app.From{}))
}

// A stranger who guesses at everybody locks out strangers, not those who go on where they have signed in before.
func TestStrangerLocksNobodyOut(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	own := app.From{Device: d.key.Key.ID, Address: "10.0.0.7"}
	stranger := app.From{Address: "10.0.0.66"}
	for _, name := range []string{"M. Tolley", "I. Quaye", "R. Abara", "J. Hartwell"} {
		for range 5 {
			problem(t, b.try(name, "0000", stranger), app.NotSignedIn, "")
		}
	}
	problem(t, b.try("B. Ode", "6193", stranger), app.TooOften, "came from this address")
	problem(t, b.try("M. Tolley", "4071", app.From{Address: "10.0.0.8"}), app.TooOften, "for M. Tolley")
	require.NoError(t, b.try("B. Ode", "6193", app.From{Address: "10.0.0.8"}), "another address")
	require.NoError(t, b.try("M. Tolley", "4071", own), "a lane of its own")
	problem(t, b.try("I. Quaye", "5826", own), app.TooOften, "for I. Quaye") // never signed in on that device
	for range 5 {
		problem(t, b.try("M. Tolley", "0000", own), app.NotSignedIn, "")
	}
	problem(t, b.try("M. Tolley", "4071", own), app.TooOften, "for M. Tolley")
}

func TestTenRightSignInsAtOnceSucceed(t *testing.T) {
	b := newBench(t, true)
	var wg sync.WaitGroup
	errs := make([]error, 10)
	for i := range errs {
		wg.Go(func() { errs[i] = b.try("M. Tolley", "4071", app.From{}) })
	}
	wg.Wait()
	for _, err := range errs {
		require.NoError(t, err)
	}
	wrong := make([]error, 30)
	for i := range wrong {
		wg.Go(func() { wrong[i] = b.try("M. Tolley", "0000", app.From{}) })
	}
	wg.Wait()
	looked := 0
	for _, err := range wrong {
		if p, _ := app.AsProblem(err); p.Kind == app.NotSignedIn {
			looked++
		}
	}
	require.Equal(t, 5, looked, "guesses side by side are counted one by one")
}

func TestSignInEnds(t *testing.T) {
	b := newBench(t, true)
	in := func() app.Actor { return b.tablet(t).signIn(t, "M. Tolley").who }
	alive := func(who app.Actor) bool {
		_, err := b.Who(ctx, who.Login)
		if err != nil {
			problem(t, err, app.NotSignedIn, "has ended")
		}
		return err == nil
	}
	out := in()
	require.True(t, alive(out))
	require.NoError(t, b.SignOut(ctx, out))
	require.False(t, alive(out))

	pin := in()
	require.NoError(t, b.SetPIN(ctx, "M. Tolley", "9286"))
	require.False(t, alive(pin), "with a new PIN")
	require.NoError(t, b.SetPIN(ctx, "M. Tolley", pins["M. Tolley"]))

	role := in()
	require.NoError(t, b.SetRole(ctx, "M. Tolley", authority.Inspector))
	require.False(t, alive(role))
	require.Equal(t, authority.Inspector, in().Role)
	problem(t, b.SetRole(ctx, "M. Tolley", "king"), app.Invalid, "not a role")

	gone := in()
	require.NoError(t, b.RetirePerson(ctx, "M. Tolley"))
	require.False(t, alive(gone))
	problem(t, b.try("M. Tolley", "4071", app.From{}), app.NotSignedIn, "")
	require.NoError(t, b.ReturnPerson(ctx, "M. Tolley"))
	require.NoError(t, b.try("M. Tolley", "4071", app.From{}))

	idle := in()
	b.now = b.now.Add(4 * time.Hour)
	require.True(t, alive(idle), "seen just in time")
	b.now = b.now.Add(4*time.Hour + time.Second)
	require.False(t, alive(idle), "not seen for longer than the house rules allow")

	long := in()
	for range 14 {
		b.now = b.now.Add(time.Hour)
		require.True(t, alive(long))
	}
	b.now = b.now.Add(time.Second)
	require.False(t, alive(long), "a sign-in lasts as long as the house rules say, and no longer")
}

func TestSignInsAreListedAndEnded(t *testing.T) {
	b := newBench(t, true)
	mine, second, theirs := b.tablet(t).signIn(t, "M. Tolley").who, b.tablet(t).signIn(t, "M. Tolley").who,
		b.tablet(t).signIn(t, "I. Quaye").who
	list, err := b.Logins(ctx, mine)
	require.NoError(t, err)
	require.Len(t, list, 2)
	_, err = b.EndLogin(ctx, mine, theirs.Login)
	problem(t, err, app.Forbidden, "sign-in of I. Quaye")
	list, err = b.EndLogin(ctx, mine, second.Login)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.True(t, list[0].Here)
	require.True(t, list[0].Proved)
	all, err := b.Logins(ctx, b.crew["B. Ode"])
	require.NoError(t, err)
	require.Len(t, all, 2, "an administrator sees everybody's")
	_, err = b.EndLogin(ctx, b.crew["B. Ode"], theirs.Login)
	require.NoError(t, err)
	_, err = b.Who(ctx, theirs.Login)
	problem(t, err, app.NotSignedIn, "has ended")
	_, err = b.EndLogin(ctx, mine, uuid.NewString())
	problem(t, err, app.NotFound, "no sign-in")
}
