package app_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/internal/app"
)

func TestSpecificationsAreVersionedAndPlansGoStale(t *testing.T) {
	b := newBench(t, true)
	hartwell, tolley := b.crew["J. Hartwell"], b.crew["M. Tolley"]
	d, err := b.SavePlan(ctx, hartwell, "SW-112", plan.Choices{}, "")
	require.NoError(t, err)
	require.Equal(t, 1, d.Saved.Version)
	require.Empty(t, d.Saved.Stale)
	s := d.Versions[0].Specification
	s.Groups[0].Target.Nominal = 220
	_, err = b.PutSpecification(ctx, hartwell, "SW-112", s, " ")
	problem(t, err, app.Invalid, "needs a reason")
	d, err = b.PutSpecification(ctx, hartwell, "SW-112", s, "drawing revised")
	require.NoError(t, err)
	require.Len(t, d.Versions, 2)
	require.InDelta(t, 210, d.Versions[1].Specification.Groups[0].Target.Nominal, 0, "the earlier version stays")
	require.Contains(t, d.Saved.Stale, "version 2 is in force")
	v, err := b.StartRun(ctx, tolley, "SW-112", plan.Choices{}, "")
	require.NoError(t, err)
	require.Equal(t, 2, v.PlanVersion, "a stale plan is made anew when work begins")
	require.InDelta(t, 220, float64(v.Plan.First().TargetNm), 1e-9)
	s.NoSourceWhy = "lost"
	_, err = b.PutSpecification(ctx, tolley, "SW-112", s, "x")
	problem(t, err, app.Forbidden, "may not allow a target without a document")
}

func TestOtherLubricantNeedsAnEngineer(t *testing.T) {
	b := newBench(t, true)
	c := plan.Pick(plan.GroupChoices{Lubricant: "L-12"})
	p, err := b.PreviewPlan(ctx, "SW-115", c)
	require.NoError(t, err)
	require.InDelta(t, 410*0.17/0.15, float64(p.First().TargetNm), 1e-6)
	_, err = b.SavePlan(ctx, b.crew["M. Tolley"], "SW-115", c, "only tin here")
	problem(t, err, app.Forbidden, "approve a plan")
	_, err = b.SavePlan(ctx, b.crew["J. Hartwell"], "SW-115", c, "")
	problem(t, err, app.Invalid, "reason")
	d, err := b.SavePlan(ctx, b.crew["J. Hartwell"], "SW-115", c, "L-07 not to be had")
	require.NoError(t, err)
	require.Equal(t, "J. Hartwell", d.Saved.ApprovedBy)
	v, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	require.Equal(t, "L-12", v.Plan.First().Lubricant.Code, "the open run works on the new plan")
	require.Empty(t, v.State.Blocked, "what was found is now what is planned")
	_, err = b.SavePlan(ctx, b.crew["J. Hartwell"], "SW-114", c, "too late")
	problem(t, err, app.Conflict, "Bolts have been pulled")
}

func TestWorkDoesNotBeginWithoutTargetOrDocument(t *testing.T) {
	b := newBench(t, true)
	_, err := b.StartRun(ctx, b.crew["M. Tolley"], "SC-16", plan.Choices{}, "")
	problem(t, err, app.Invalid, "no figure")
	_, err = b.StartRun(ctx, b.crew["M. Tolley"], "SC-17", plan.Choices{}, "")
	problem(t, err, app.Invalid, "no source")
	d, err := b.Joint(ctx, "SC-17")
	require.NoError(t, err)
	s := d.Versions[0].Specification
	s.NoSourceWhy = "urgent; value from the sister pump"
	_, err = b.PutSpecification(ctx, b.crew["J. Hartwell"], "SC-17", s, "allowed for tonight")
	require.NoError(t, err)
	v, err := b.StartRun(ctx, b.crew["M. Tolley"], "SC-17", plan.Choices{}, "")
	require.NoError(t, err)
	require.Equal(t, "J. Hartwell", v.Plan.Specification.NoSourceBy)
}

func TestImportPreviewsThenDoesAllOrNothing(t *testing.T) {
	b := newBench(t, false)
	hartwell := b.crew["J. Hartwell"]
	csv := "tag,area,bolts,thread,material,lubricant,target_Nm,document,revision\nA-1,North,8,M20,8.8,light_oil,300,D-1,A\nA-2,North,12,M24,8.8,light_oil,350 ft-lb,D-1,A\n"
	res, err := b.Import(ctx, hartwell, []byte(csv), false)
	require.NoError(t, err)
	require.Equal(t, 2, res.New)
	page, err := b.Joints(ctx, app.JointQuery{Limit: 10, Sort: "tag"})
	require.NoError(t, err)
	require.Zero(t, page.Total, "a preview writes nothing")
	bad := csv + "A-3,North,2,M20,8.8,light_oil,300 kg,D-1,A\n"
	res, err = b.Import(ctx, hartwell, []byte(bad), true)
	require.NoError(t, err)
	require.False(t, res.Applied)
	require.Equal(t, 1, res.ErrorRows)
	page, err = b.Joints(ctx, app.JointQuery{Limit: 10, Sort: "tag"})
	require.NoError(t, err)
	require.Zero(t, page.Total, "nothing is half imported")
	res, err = b.Import(ctx, hartwell, []byte(csv), true)
	require.NoError(t, err)
	require.True(t, res.Applied)
	changed := strings.Replace(csv, "8.8,light_oil,300,", "8.8,light_oil,310,", 1)
	res, err = b.Import(ctx, hartwell, []byte(changed), true)
	require.NoError(t, err)
	require.Equal(t, []int{0, 1, 1}, []int{res.New, res.Changed, res.Same})
	d, err := b.Joint(ctx, "A-1")
	require.NoError(t, err)
	require.Len(t, d.Versions, 2, "a changed figure is a new version")

	var out bytes.Buffer
	require.NoError(t, b.Export(ctx, &out))
	res, err = b.Import(ctx, hartwell, out.Bytes(), true)
	require.NoError(t, err)
	require.Empty(t, res.Errors)
	require.Equal(t, 2, res.Same, "what was exported comes back unchanged: %+v", res.Rows)
}

func TestDemoRegisterRoundTrip(t *testing.T) {
	b := newBench(t, true)
	var out bytes.Buffer
	require.NoError(t, b.Export(ctx, &out))
	res, err := b.Import(ctx, b.crew["J. Hartwell"], out.Bytes(), false)
	require.NoError(t, err)
	require.Equal(t, 67, res.Same, "%+v", res)
}

func TestJointsAreFoundAndSorted(t *testing.T) {
	b := newBench(t, true)
	tags := func(q app.JointQuery) []string {
		q.Limit = 100
		p, err := b.Joints(ctx, q)
		require.NoError(t, err)
		var out []string
		for _, r := range p.Rows {
			out = append(out, r.Tag)
		}
		return out
	}
	require.Equal(t, []string{"SW-111"}, tags(app.JointQuery{Text: "cooler DRAIN", Sort: "tag"}))
	require.Equal(t, []string{"SW-115"}, tags(app.JointQuery{Glyph: "stopped", Sort: "tag"}))
	require.Len(t, tags(app.JointQuery{Package: "WP-45", Sort: "tag"}), 7)
	require.Empty(t, tags(app.JointQuery{Text: "100%_", Sort: "tag"}), "wildcards are letters here")
	up, down := tags(app.JointQuery{Sort: "tag"}), tags(app.JointQuery{Sort: "-tag"})
	require.Equal(t, up[0], down[len(down)-1])

	counted := func(area, pkg string) {
		t.Helper()
		p, err := b.Joints(ctx, app.JointQuery{Area: area, Package: pkg, Sort: "make", Limit: 100})
		require.NoError(t, err)
		require.Len(t, p.Rows, p.Total)
		require.Equal(t, area == "Nowhere", p.Total == 0)
	}
	counted("3 Gearbox hall", "")
	counted("3 Gearbox hall", "WP-45")
	counted("Nowhere", "")
	require.Empty(t, tags(app.JointQuery{Text: "lowther q-40", Sort: "tag"}))
	_, err := b.EditJoint(ctx, "SW-116", app.JointPlace{Name: "Strainer", Area: "4 Cooling house",
		Nameplate: "Lowther Q-40 DN 300"})
	require.NoError(t, err)
	require.Equal(t, []string{"SW-116"}, tags(app.JointQuery{Text: "lowther q-40", Sort: "tag"}),
		"the nameplate is a key too")
}

func TestCopyBringsNoReadings(t *testing.T) {
	b := newBench(t, true)
	d, err := b.CopyJoint(ctx, b.crew["M. Tolley"], "SW-111", "SW-911")
	require.NoError(t, err)
	require.Empty(t, d.RunID)
	require.Empty(t, d.Records)
	require.Equal(t, "ready", d.Joint.Glyph)
	require.Equal(t, "M20", d.Versions[0].Specification.Groups[0].Thread)
	_, err = b.CopyJoint(ctx, b.crew["M. Tolley"], "SW-111", "SW-112")
	problem(t, err, app.Conflict, "already")
}

func TestPackageNeedsAddUp(t *testing.T) {
	b := newBench(t, true)
	needs, err := b.PackageNeeds(ctx, "WP-41")
	require.NoError(t, err)
	spares := 0.0
	for _, n := range needs {
		if n.Kind == "spare" && strings.HasPrefix(n.What, "Gasket") {
			spares += n.Quantity
		}
	}
	require.InDelta(t, 5, spares, 0, "a gasket more for each joint")
	for _, n := range needs {
		if n.What == "Nut M16" {
			require.InDelta(t, 36, n.Quantity, 0, "four joints of eight and one of four")
			require.Len(t, n.Joints, 5)
			return
		}
	}
	t.Fatalf("no nuts in %+v", needs)
}
