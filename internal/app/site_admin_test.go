package app_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/run"
	"dynacor/internal/app"
)

// An empty installation lets in one first administrator, who has seen what the server printed; a wrong code ends it.
func TestFirstDay(t *testing.T) {
	b := newEmpty(t)
	in := app.FirstDay{Person: "H. Doyle", PIN: "7304", Site: "Skarn Paper Mill", Prefix: "SK", TimeZone: "Europe/Oslo"}
	_, err := b.Begin(ctx, in)
	problem(t, err, app.Forbidden, "not the code")
	old, err := b.FirstCode(ctx)
	require.NoError(t, err)
	require.Len(t, old, 9)
	code, err := b.FirstCode(ctx)
	require.NoError(t, err)
	in.Code = old
	_, err = b.Begin(ctx, in)
	problem(t, err, app.Forbidden, "not the code")
	in.Code = code
	_, err = b.Begin(ctx, in)
	problem(t, err, app.Forbidden, "counts no more")

	in.Code, err = b.FirstCode(ctx)
	require.NoError(t, err)
	for field, change := range map[string]func(*app.FirstDay){
		"person": func(x *app.FirstDay) { x.Person = " " }, "pin": func(x *app.FirstDay) { x.PIN = "1234" },
		"name": func(x *app.FirstDay) { x.Site = "" }, "prefix": func(x *app.FirstDay) { x.Prefix = "mill" },
		"timeZone": func(x *app.FirstDay) { x.TimeZone = "Norway/Oslo" }} {
		x := in
		change(&x)
		_, err = b.Begin(ctx, x)
		require.Equal(t, field, problem(t, err, app.Invalid, "").Field)
	}
	p, err := b.Begin(ctx, in)
	require.NoError(t, err)
	for _, r := range []string{authority.Lead, authority.Engineer, authority.Administrator} {
		require.True(t, p.Is(r))
	}
	_, _, err = b.SignIn(ctx, app.SignInInput{PersonID: p.ID, PIN: "7304"}, app.From{})
	require.NoError(t, err)
	code, err = b.FirstCode(ctx)
	require.NoError(t, err)
	require.Empty(t, code, "there is somebody")
	_, err = b.Begin(ctx, in)
	require.Error(t, err)
	s, err := b.Site(ctx)
	require.NoError(t, err)
	require.Equal(t, "Skarn Paper Mill", s.Name)
	require.Empty(t, s.Areas, "nothing of another site")
	require.Equal(t, 1, s.People)
}

// Areas stand in the site's order, take their joints along when they are renamed, and are drawn as chosen or not at
// all.
func TestPlantLineIsTheSitesOwn(t *testing.T) {
	b := newBench(t, true)
	s, err := b.Site(ctx)
	require.NoError(t, err)
	require.Equal(t, "1 Intake screens", s.Areas[0].Name)
	require.Equal(t, "intake", s.Areas[0].Drawing)
	n := s.Areas[3].Joints
	require.Positive(t, n)
	s.Areas[0], s.Areas[3] = s.Areas[3], s.Areas[0]
	s.Areas[0].Was, s.Areas[0].Name, s.Areas[0].Drawing = s.Areas[0].Name, "Cooling", "tower"
	s.Areas = s.Areas[:2]
	s, err = b.PutSite(ctx, s)
	require.NoError(t, err)
	require.Equal(t, app.SiteArea{Name: "Cooling", Drawing: "tower", Joints: n}, s.Areas[0])
	require.Greater(t, len(s.Areas), 2, "areas with joints do not vanish")
	require.Empty(t, s.Areas[2].Drawing)
	d, err := b.Joint(ctx, "SW-111")
	require.NoError(t, err)
	require.Equal(t, "Cooling", d.Joint.Area)
	today, err := b.Today(ctx, b.crew["M. Tolley"])
	require.NoError(t, err)
	require.Equal(t, "Cooling", today.Areas[0].Name)
	require.Equal(t, "tower", today.Areas[0].Drawing)
	require.Equal(t, "sea to land", today.Line)
	for field, change := range map[string]func(*app.Site){
		"areas[1].name":    func(x *app.Site) { x.Areas[1].Name = "Cooling" },
		"areas[0].drawing": func(x *app.Site) { x.Areas[0].Drawing = "castle" },
		"address":          func(x *app.Site) { x.Address = "plant" }, "line": func(x *app.Site) { x.Line = string(make([]byte, 61)) }} {
		x := s
		x.Areas = append([]app.SiteArea{}, s.Areas...)
		change(&x)
		_, err := b.PutSite(ctx, x)
		require.Equal(t, field, problem(t, err, app.Invalid, "").Field)
	}
}

// People are added one by one or by a list, all or none; a PIN that was given is good for one sign-in, at which an own
// one is chosen, and for no signature.
func TestPeopleAreAddedWithAPINForOneSignIn(t *testing.T) {
	b := newBench(t, true)
	list, err := app.ReadMembers("name;roles\nO. Strand;technician\nK. Moss;Lead + technician\n")
	require.NoError(t, err)
	given, err := b.AddMembers(ctx, list)
	require.NoError(t, err)
	require.Len(t, given, 2)
	_, err = b.AddMembers(ctx, []app.NewMember{{Name: "U. New", Roles: []string{"technician"}}, {Name: "K. Moss",
		Roles: []string{"lead"}}})
	require.Contains(t, problem(t, err, app.Conflict, "Line 2").Title, "K. Moss")
	_, err = b.AddMembers(ctx, []app.NewMember{{Name: "U. New", Roles: []string{"boss"}}})
	require.Equal(t, "role", problem(t, err, app.Invalid, "").Field)
	_, err = app.ReadMembers("")
	require.Equal(t, "list", problem(t, err, app.Invalid, "").Field)
	c, err := b.Crew(ctx, b.crew["B. Ode"])
	require.NoError(t, err)
	of := func(name string) app.Member {
		c, err = b.Crew(ctx, b.crew["B. Ode"])
		require.NoError(t, err)
		for _, m := range c.Members {
			if m.Name == name {
				return m
			}
		}
		t.Fatal("nobody called " + name)
		return app.Member{}
	}
	moss := of("K. Moss")
	require.Equal(t, []string{"technician", "lead"}, moss.Roles)
	require.NotNil(t, moss.OnceUntil)

	in := app.SignInInput{PersonID: moss.ID, PIN: given[1].PIN}
	_, _, err = b.CheckPIN(ctx, moss.ID, given[1].PIN, app.From{})
	problem(t, err, app.Forbidden, "choose an own one")
	_, _, err = b.SignIn(ctx, in, app.From{})
	require.Equal(t, "newPin", problem(t, err, app.Invalid, "first sign-in").Field)
	for _, bad := range []string{given[1].PIN, "1234", "12"} {
		in.NewPIN = bad
		_, _, err = b.SignIn(ctx, in, app.From{})
		require.Equal(t, "newPin", problem(t, err, app.Invalid, "").Field)
	}
	in.NewPIN = "7304"
	_, login, err := b.SignIn(ctx, in, app.From{})
	require.NoError(t, err)
	who, err := b.Who(ctx, login)
	require.NoError(t, err, "what was begun with the new PIN stands")
	require.Equal(t, "K. Moss", who.Name)
	_, _, err = b.SignIn(ctx, in, app.From{})
	problem(t, err, app.NotSignedIn, "do not go together")
	_, _, err = b.CheckPIN(ctx, moss.ID, "7304", app.From{})
	require.NoError(t, err)

	g, err := b.NewPIN(ctx, moss.ID)
	require.NoError(t, err)
	_, err = b.Who(ctx, login)
	require.Error(t, err, "a new PIN ends what was signed in")
	b.now = b.now.Add(25 * time.Hour)
	_, _, err = b.SignIn(ctx, app.SignInInput{PersonID: moss.ID, PIN: g.PIN, NewPIN: "8391"}, app.From{})
	problem(t, err, app.Forbidden, "that is over")
}

// Roles, leave and training are changed; the last administrator stays one.
func TestMemberIsChanged(t *testing.T) {
	b := newBench(t, true)
	ode, quaye := b.crew["B. Ode"], b.crew["I. Quaye"]
	p := problem(
		t,
		b.ChangeMember(ctx, ode.ID, app.MemberChange{Roles: []string{"engineer"}}),
		app.Conflict,
		"last administrator",
	)
	require.Equal(t, "roles", p.Field)
	no, yes := false, true
	problem(t, b.ChangeMember(ctx, ode.ID, app.MemberChange{Active: &no}), app.Conflict, "last administrator")
	require.NoError(t, b.ChangeMember(ctx, quaye.ID, app.MemberChange{Roles: []string{"lead", "administrator"}}))
	require.NoError(t, b.ChangeMember(ctx, ode.ID, app.MemberChange{Roles: []string{"engineer"}}))
	require.NoError(t, b.ChangeMember(ctx, ode.ID, app.MemberChange{Active: &no}))
	list, err := b.People(ctx)
	require.NoError(t, err)
	require.NotContains(t, list, run.Person{ID: ode.ID, Name: "B. Ode", Role: "engineer"})
	require.NoError(t, b.ChangeMember(ctx, ode.ID, app.MemberChange{Active: &yes}))

	train := func(x app.Training) error { return b.ChangeMember(ctx, quaye.ID, app.MemberChange{Training: &x}) }
	require.NoError(
		t,
		train(app.Training{About: "tool", Code: "hydraulic_wrench", Until: "2027-03-31", Note: "card 71"}),
	)
	require.NoError(t, train(app.Training{About: "tool", Code: "hydraulic_wrench", Until: "2028-03-31"}))
	require.NoError(t, train(app.Training{About: "family", Code: "shrink_disc"}))
	require.Equal(t, "training", problem(t, train(app.Training{About: "tool", Code: "hammer"}), app.Invalid, "").Field)
	require.Equal(
		t,
		"training.until",
		problem(t, train(app.Training{About: "tool", Code: "pump", Until: "soon"}), app.Invalid, "").Field,
	)
	require.NoError(t, b.ChangeMember(ctx, quaye.ID, app.MemberChange{Untrain: &app.Training{About: "skill",
		Code: "work at height"}}))
	require.NoError(
		t,
		b.ChangeMember(ctx, quaye.ID, app.MemberChange{Untrain: &app.Training{About: "family", Code: "shrink_disc"}}),
	)
	require.NoError(t, // the demo's own
		b.ChangeMember(ctx, quaye.ID, app.MemberChange{Untrain: &app.Training{About: "tool", Code: "pump"}}))
	c, err := b.Crew(ctx, ode)
	require.NoError(t, err)
	for _, m := range c.Members {
		if m.Name == "I. Quaye" {
			require.Equal(t, []app.Training{{About: "tool", Code: "hydraulic_wrench", Word: "hydraulic torque wrench",
				Until: "2028-03-31"}}, m.Training)
		}
	}
	problem(t, b.ChangeMember(ctx, "nobody", app.MemberChange{}), app.NotFound, "no person")
}
