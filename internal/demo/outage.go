package demo

import (
	"context"
	"fmt"
	"time"

	"dynacor/core/shutdown"
	"dynacor/internal/app"
)

// outageCode is the shutdown that holds all work packages of the demo site.
const outageCode = "SD-26"

// atHeight is a skill that work at the gate cylinders asks for.
const atHeight = "work at height"

// outage lays out a shutdown that is under way: it began a day ago and goes on for two more, in two shifts as the tide
// lets them in. Its plan was put in force a few minutes ago; one job has slipped since.
func outage(ctx context.Context, a *app.App, crew map[string]app.Actor, now time.Time) error {
	if _, err := a.PutPackage(ctx, outageCode, app.PackageChange{Name: "Unit 2 shutdown"}); err != nil {
		return err
	}
	parts, err := a.Packages(ctx)
	if err != nil {
		return err
	}
	for _, p := range parts {
		if p.Code == outageCode {
			continue
		}
		if _, err := a.PutPackage(ctx, p.Code, app.PackageChange{Name: p.Name, PartOf: outageCode}); err != nil {
			return fmt.Errorf("demo package %s: %w", p.Code, err)
		}
	}
	_, zone, err := a.SiteClock(ctx)
	if err != nil {
		return err
	}
	began := now.In(zone).Truncate(time.Hour).Add(-3 * time.Hour) // of the shift that is on
	if _, err := a.PutConstraints(
		ctx,
		crew["K. Ferreira"],
		outageCode,
		held(crew, began, now.In(zone)),
		0,
	); err != nil {
		return err
	}
	clock := func(after time.Duration) string { return began.Add(after).Format("15:04") }
	ask := app.ShiftQuery{Package: outageCode, Day: began.AddDate(0, 0, -1).Format(time.DateOnly), Days: 4, Quick: true,
		Shift: shutdown.Shift{From: clock(0), To: clock(8 * time.Hour), BreakFrom: clock(5 * time.Hour),
			BreakTo: clock(5*time.Hour + 30*time.Minute)}}
	_, err = a.At(now.Add(-5*time.Minute)).PutShiftInForce(ctx, crew["K. Ferreira"], ask, 0)
	return err
}

// held is what the planners of the shutdown have put down.
func held(crew map[string]app.Actor, began, now time.Time) shutdown.Constraints {
	clock := func(t time.Time) string { return t.Format(shutdown.Clock) }
	at := func(after time.Duration) string { return clock(began.Add(after)) }
	day := 24 * time.Hour
	c := shutdown.Empty()
	late := began.Add(8 * time.Hour)
	c.Crews = []shutdown.Crew{{Name: "late", People: []string{
		crew["K. Ferreira"].ID,
		crew["N. Okafor"].ID,
		crew["P. Sorley"].ID,
	}, Shift: shutdown.Shift{
		From: late.Format("15:04"),
		To:   late.Add(8 * time.Hour).Format("15:04"),
		BreakFrom: late.Add(4 * time.Hour).
			Format("15:04"),
		BreakTo: late.Add(4*time.Hour + 30*time.Minute).Format("15:04"),
	}}}
	c.Away = []shutdown.Away{
		{Person: crew["R. Abara"].ID, From: clock(now.Add(-time.Hour)), To: clock(now.Add(time.Hour)),
			Why: "audit"},
	}
	c.Isolations = []shutdown.Isolation{
		{Code: "I-2", Name: "Cooling loop 2", Windows: []shutdown.Span{{From: at(-day), To: at(2*day + 16*time.Hour)}}},
		{
			Code: "I-5",
			Name: "Gate 3 hydraulics",
			Windows: []shutdown.Span{{From: at(8 * time.Hour), To: at(16 * time.Hour)},
				{From: at(day), To: at(2*day + 16*time.Hour)}},
		},
	}
	c.Areas = []shutdown.AreaConstraint{{Area: "3 Gearbox hall", Crews: 2}, {Area: "1 Intake screens", Crews: 1}}
	joint := func(tag string, change func(*shutdown.JointConstraint)) {
		j := shutdown.JointConstraint{Tag: tag, Weight: 1, After: []string{}, Skills: []string{}}
		change(&j)
		c.Joints = append(c.Joints, j)
	}
	for _, tag := range []string{"SW-112", "SW-116", "SW-118", "SW-119", "SW-120", "SW-123"} {
		joint(tag, func(j *shutdown.JointConstraint) {
			j.Isolation = "I-2"
			switch tag {
			case "SW-119":
				j.After = []string{"SW-118"} // the spool goes in from that side
			case "SW-123":
				j.Wait, j.WaitWhy = 120, "gasket relaxes"
			}
		})
	}
	for _, tag := range []string{"ST-01", "ST-02", "ST-03", "ST-04"} {
		joint(tag, func(j *shutdown.JointConstraint) {
			j.Isolation, j.Access = "I-5", "ladder to the cylinders, gate locked in its guides"
			j.Skills = []string{atHeight}
		})
	}
	joint("TB-211", func(j *shutdown.JointConstraint) { j.Due, j.Weight = at(7*time.Hour), 3 })
	joint("GB-01", func(j *shutdown.JointConstraint) { j.Due = at(day + 7*time.Hour) })
	joint("FA-18", func(j *shutdown.JointConstraint) { j.Wait, j.WaitWhy = 240, "grout cures" })
	c.Pins = []shutdown.Pin{{Tag: "TB-211", Kind: shutdown.Tighten, Person: crew["I. Quaye"].ID,
		Reason: "trained on the hydraulic wrench"}}
	return c
}
