package app_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/quantity"
	"dynacor/core/shutdown"
	"dynacor/core/training"
	"dynacor/internal/app"
)

// A skill that a joint asks for is written down for people by its name, and nobody else is planned for the joint.
func TestSkillsThatAJointAsksFor(t *testing.T) {
	b := newBench(t, true)
	b.now = time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	free, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	tag, _ := waiting(t, free)
	c := shutdown.Empty()
	c.Joints = []shutdown.JointConstraint{{Tag: tag, Weight: 1, Skills: []string{"confined spaces"}}}
	_, err = b.PutConstraints(ctx, b.crew["I. Quaye"], "WP-47", c, 0)
	r, ok := quantity.RefusalIn(err)
	require.True(t, ok)
	require.Equal(t, "joints."+tag+".skills", r.Field)

	holders := []string{"M. Tolley", "P. Sorley"}
	for i, code := range []string{" confined  spaces ", "Confined Spaces"} {
		require.NoError(t, b.ChangeMember(ctx, b.crew[holders[i]].ID, app.MemberChange{Training: &app.Training{
			About: "skill", Code: code}}))
	}
	for _, code := range []string{" ", strings.Repeat("m", training.MostSkill+1)} {
		p := problem(t, b.ChangeMember(ctx, b.crew[holders[0]].ID, app.MemberChange{Training: &app.Training{
			About: "skill", Code: code}}), app.Invalid, "name")
		require.Equal(t, "training.code", p.Field)
	}
	constrain(t, b, func(c *shutdown.Constraints) {
		c.Joints = []shutdown.JointConstraint{{Tag: tag, Weight: 1, Skills: []string{"confined spaces"}}}
	})
	v, err := b.Constraints(ctx, "WP-47")
	require.NoError(t, err)
	require.Contains(t, v.Skills, "confined spaces")
	require.NotContains(t, v.Skills, "Confined Spaces", "it is the same")
	p, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	require.Equal(t, []string{"M. Tolley"}, of(p, tag, shutdown.Tighten).People)
	require.Equal(t, []string{"P. Sorley"}, of(p, tag, shutdown.Prove).People)
	for _, j := range p.Joints {
		if j.Tag == tag {
			require.Equal(t, []string{"confined spaces"}, j.Skills)
		} else {
			require.Empty(t, j.Skills)
		}
	}

	// Nobody has it any more: it stands where it stood, nobody is planned there, and everything else can be changed.
	for _, name := range holders {
		require.NoError(t, b.ChangeMember(ctx, b.crew[name].ID, app.MemberChange{Untrain: &app.Training{
			About: "skill", Code: "confined spaces"}}))
	}
	v = constrain(t, b, func(c *shutdown.Constraints) { c.Joints[0].Access = "by the north ladder" })
	require.Equal(t, []string{"confined spaces"}, v.Constraints.Joints[0].Skills)
	p, err = b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	require.Zero(t, of(p, tag, shutdown.Tighten))
	v.Constraints.Joints = append(v.Constraints.Joints, shutdown.JointConstraint{Tag: "SW-113", Weight: 1,
		Skills: []string{"rope access"}})
	_, err = b.PutConstraints(ctx, b.crew["I. Quaye"], "WP-47", v.Constraints, v.Version)
	require.Error(t, err, "one that nobody ever had")
}
