package app_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/internal/app"
	"dynacor/internal/device"
)

// A tool is told only what is asked of it at a joint in hand, and only by whoever may tighten there.
func TestToolIsAimedOnlyAtTheWorkInHand(t *testing.T) {
	b := newBench(t, true)
	var told []device.Target
	b.Tell(func(topic, kind string, data any) {
		if kind == device.Aim {
			require.Equal(t, "tool:E-03", topic)
			told = append(told, data.(device.Target))
		}
	})
	tolley := b.crew["M. Tolley"]
	ask := device.Target{Joint: "TB-204", Pass: 2, Fastener: 1, Set: 108, Unit: "N_m"}
	problem(t, b.AimDevice(ctx, tolley, "E-03", ask), app.Conflict, "TB-204 is not being tightened")

	v, err := b.StartRun(ctx, tolley, "TB-204", plan.Pick(plan.GroupChoices{Wrench: "E-03+S4-36"}), "")
	require.NoError(t, err)
	c := &crewman{b: b, who: tolley, id: v.ID, s: coretest.NewScript(v.Plan), sent: 1}
	c.s.Person, c.s.At = tolley.Person, b.now
	c.s.Events = append(c.s.Events, v.Entries[0].Event)
	c.checks(t, c.at(procedure.Ready))
	c.send(t)
	for c.s.State().Pass == 1 { // run up by hand
		c.s.Pull()
	}
	c.s.Confirm()
	c.send(t)
	require.InDelta(t, 108, c.s.State().Setting, 0)
	require.NoError(t, b.AimDevice(ctx, tolley, "E-03", ask))
	require.NoError(t, b.AimDevice(ctx, b.crew["J. Hartwell"], "E-03", ask))
	require.Equal(t, []device.Target{ask, ask}, told)

	change := func(f func(*device.Target)) device.Target {
		x := ask
		f(&x)
		return x
	}
	problem(t, b.AimDevice(ctx, tolley, "E-99", ask), app.NotFound, "E-99")
	problem(t, b.AimDevice(ctx, tolley, "W-52", ask), app.Conflict, "not in hand at TB-204")
	problem(t, b.AimDevice(ctx, tolley, "E-03", change(func(x *device.Target) { x.Joint = "XX-1" })), app.NotFound,
		"XX-1")
	// sealed
	problem(t, b.AimDevice(ctx, tolley, "E-03", change(func(x *device.Target) { x.Joint = "SW-111" })), app.Conflict,
		"not being tightened")
	problem(t, b.AimDevice(ctx, tolley, "E-03", change(func(x *device.Target) { x.Pass = 3 })), app.Conflict,
		"in pass 2")
	problem(t, b.AimDevice(ctx, tolley, "E-03", change(func(x *device.Target) { x.Fastener = 25 })), app.Invalid,
		"no fastener 25")
	problem(t, b.AimDevice(ctx, tolley, "E-03", change(func(x *device.Target) { x.Set = 900 })), app.Conflict,
		"set to 108 N·m")
	problem(t, b.AimDevice(ctx, tolley, "E-03", change(func(x *device.Target) { x.Unit = "ft_lbf" })), app.Conflict,
		"set to 108 N·m")
	require.Len(t, told, 2, "what was refused was not told")
}
