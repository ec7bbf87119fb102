package app_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/run"
	"dynacor/internal/app"
)

// somebodyOf gives a person of each role, by that role.
func (b *bench) somebodyOf(t *testing.T) map[string]app.Actor {
	t.Helper()
	out := map[string]app.Actor{}
	for _, r := range authority.Roles {
		p, err := b.AddPerson(ctx, "A. "+r, r, "7193")
		require.NoError(t, err)
		out[r] = app.Actor{Person: p}
	}
	return out
}

// Every kind of event, by every role and by a stranger, on work that somebody else began: who writes it stands in the
// chain as the register knows them; what only the server says, nobody else says.
func TestEveryKindOfEventByEveryRole(t *testing.T) {
	b := newBench(t, true)
	id := b.openRuns(t, "SW-114")[0]
	v, err := b.Run(ctx, id)
	require.NoError(t, err)
	ref := v.Entries[len(v.Entries)-1].Event.ID
	wrench := v.State.Wrench
	require.NotNil(t, wrench)
	kinds := map[run.Kind]run.Event{
		run.ReadConfirmed:    {},
		run.CheckAnswered:    {Check: v.Plan.Checks[0].Code, Answer: "yes"},
		run.WrenchTaken:      {Wrench: wrench},
		run.SettingConfirmed: {Setting: v.State.Setting},
		run.Pulled: {Pass: v.State.Pass, Fastener: v.State.Next.Fastener, Outcome: run.Clicked,
			Setting: v.State.Setting},
		run.Skipped:         {Pass: v.State.Pass, Fastener: 1, Reason: "no room"},
		run.TakenBack:       {Ref: ref, Reason: "by mistake"},
		run.Loosened:        {Pass: 1, Fastener: 1, Reason: "to look"},
		run.Paused:          {},
		run.Held:            {Reason: "a leak"},
		run.Released:        {},
		run.DeviationRaised: {Reason: "rust"},
		run.Noted:           {Note: "seen"},
		run.PartChanged:     {Part: "gasket", Answer: run.NewPart, Reason: "worn"},
		run.Signed:          {},
		run.ToolDoubted:     {Tool: wrench.Tag, Reason: "dropped"},
	}
	crew := b.somebodyOf(t)
	crew["nobody"] = app.Actor{Person: run.Person{ID: uuid.NewString(), Name: "N. Obody", Role: authority.Engineer}}
	for kind, e := range kinds {
		for role, who := range crew {
			e.ID, e.Kind, e.At, e.Person = uuid.Must(uuid.NewV7()).String(), kind, b.now, who.Person
			e.Person.Role = authority.Engineer // the register knows better
			e.Signer = &e.Person
			out, err := b.AppendEvents(ctx, who, id, []run.Event{e})
			require.NoError(t, err)
			taken := out.Acks[0].Refused == ""
			require.Equal(t, kind != run.Signed && kind != run.ToolDoubted && role != "nobody", taken, "%s by %s: %s",
				kind, role, out.Acks[0].Refused)
			if !taken {
				continue
			}
			v, err := b.Run(ctx, id)
			require.NoError(t, err)
			last := v.Entries[len(v.Entries)-1].Event
			require.Equal(t, who.Person, last.Person, "as the register knows them")
			require.Nil(t, last.Signer)
			if kind == run.Held {
				out, err := b.AppendEvents(ctx, crew[authority.Engineer], id, []run.Event{{Kind: run.Released,
					ID: uuid.Must(uuid.NewV7()).String(), At: b.now, Person: crew[authority.Engineer].Person}})
				require.NoError(t, err)
				require.Empty(t, out.Acks[0].Refused)
			}
		}
	}
}

// Every signature by every role, where its rule leaves only the role to be asked.
func TestEverySignatureByEveryRole(t *testing.T) {
	b := newBench(t, true)
	crew := b.somebodyOf(t)
	for purpose, act := range map[run.Purpose]authority.Act{run.SignTurnedDown: authority.TurnDown,
		run.SignStartPass: authority.StartPassOpen} {
		for _, role := range authority.Roles {
			who, id := crew[role], b.openRuns(t, "SW-114")[0]
			v, err := b.Run(ctx, id)
			require.NoError(t, err)
			_, err = b.Sign(ctx, b.crew["M. Tolley"], id, app.SignatureInput{ID: uuid.Must(uuid.NewV7()).String(),
				Head: v.Entries[len(v.Entries)-1].Hash, PersonID: who.ID, PIN: "7193", Purpose: purpose,
				Pass: v.State.Pass + 1, Reason: "looked at"})
			require.Equal(t, authority.May(role, act), err == nil, "%s by %s: %v", purpose, role, err)
			if err == nil {
				b = newBench(t, true) // as it was
				crew = b.somebodyOf(t)
			}
		}
	}
}

// A target without a document, and a plan that is not as document and house rules say, take the PIN of an engineer with
// the request; an engineer's sign-in is none, and a name written into the specification is none.
func TestLeaveTakesAPIN(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SC-17")
	require.NoError(t, err)
	s := d.Versions[0].Specification
	s.NoSourceWhy, s.NoSourceBy = "value from the sister pump", "J. Hartwell"
	in := app.JointInput{Tag: "SC-18", Area: "Cooling house", Family: d.Joint.Family, Specification: s}
	signed := func(name, leave string) app.Actor {
		who := b.crew[name]
		who.Login = uuid.NewString()
		if leave != "" {
			who.Leave = b.crew[leave].Person
		}
		return who
	}
	for _, who := range []app.Actor{signed("M. Tolley", ""), signed("J. Hartwell", ""), signed("J. Hartwell", "R. Abara")} {
		_, err = b.CreateJoint(ctx, who, in)
		p := problem(t, err, app.Forbidden, "may")
		require.Equal(t, app.ConsentField, p.Field)
	}
	d, err = b.CreateJoint(ctx, signed("M. Tolley", "J. Hartwell"), in)
	require.NoError(t, err)
	require.Equal(t, "J. Hartwell", d.Versions[0].Specification.NoSourceBy)

	in.Tag, in.Specification.NoSourceWhy = "SC-19", "" // the name alone
	d, err = b.CreateJoint(ctx, signed("M. Tolley", ""), in)
	require.NoError(t, err)
	require.Empty(t, d.Versions[0].Specification.NoSourceBy)
	_, err = b.StartRun(ctx, b.crew["M. Tolley"], "SC-19", plan.Choices{}, "")
	problem(t, err, app.Invalid, "no source")

	c := plan.Pick(plan.GroupChoices{Lubricant: "L-12"})
	_, err = b.SavePlan(ctx, signed("J. Hartwell", ""), "SW-115", c, "only tin here")
	problem(t, err, app.Forbidden, "It takes the PIN of somebody who may approve a plan")
	saved, err := b.SavePlan(ctx, signed("M. Tolley", "J. Hartwell"), "SW-115", c, "only tin here")
	require.NoError(t, err)
	require.Equal(t, "J. Hartwell", saved.Saved.ApprovedBy)
}
