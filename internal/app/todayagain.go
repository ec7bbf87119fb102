package app

import (
	"context"
	"time"

	"dynacor/core/run"
	"dynacor/internal/store"
)

// retorqueSeen is how long a re-torque that nobody made is shown, and how soon one that comes.
const (
	retorqueSeen = 60 * 24 * time.Hour
	retorqueSoon = 24 * time.Hour
)

// todayAgain lists finished joints that are to be looked at again: after what was found out, and when the house rules
// ask for a re-torque.
func (a *App) todayAgain(ctx context.Context, t *Today) error {
	rows, err := a.q.JointsByGlyph(ctx, store.JointsByGlyphParams{Glyph: string(run.GlyphDueAgain), N: todayList})
	if err != nil {
		return err
	}
	for _, r := range rows {
		t.Again = append(t.Again, StoppedJoint{r.Tag, r.Name, r.Family, int(r.Bolts), r.Glyph, r.Summary, "",
			r.UpdatedAt})
	}
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return err
	}
	after, asked := rules.RetorqueDue(time.Time{})
	if !asked {
		return nil
	}
	wait := after.Sub(time.Time{})
	due, err := a.q.RetorquesDue(ctx, store.RetorquesDueParams{Earliest: t.Now.Add(-wait - retorqueSeen),
		Latest: t.Now.Add(retorqueSoon - wait), N: todayList})
	if err != nil {
		return err
	}
	for _, r := range due {
		at, _ := rules.RetorqueDue(r.SealedAt)
		t.Again = append(t.Again, StoppedJoint{r.Tag, r.Name, r.Family, int(r.Bolts), r.Glyph,
			"re-torque, behind " + r.Number, "", at})
	}
	return nil
}
