package record_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/record"
)

// audited is an audit of the finished joint of eight at 300 N·m, with what each drawn one moved on at.
func audited(t *testing.T, b *behind, rules plan.HouseRules, old []record.Addition, at float64) record.Addition {
	t.Helper()
	mark, err := b.file.Mark()
	require.NoError(t, err)
	next, err := record.NextAudit(rules, b.rec.Plan, mark, old)
	require.NoError(t, err)
	a := b.next(record.Audited)
	a.Audit, a.Tool, a.ToolIs, a.Person = &next, "W-40", "click wrench", coretest.Abara
	for _, f := range next.Sample {
		v := record.Visit{Fastener: f}
		if next.By == plan.AuditMovingOn {
			v.MovedNm = at
		}
		a.Visits = append(a.Visits, v)
	}
	return a
}

func rules() plan.HouseRules {
	return plan.HouseRules{Audit: plan.AuditMovingOn, AuditShare: .25, AuditLeast: 2, AuditLow: .8, AuditHigh: 1.2}
}

// The window at its limits: 240 to 360 of 300 N·m.
func TestAuditIsJudgedByItsWindow(t *testing.T) {
	b := sealedWith(t)
	aim := float64(b.rec.Plan.GroupAt(1).FinalNm)
	for at, want := range map[float64]record.AdditionVerdict{.8: record.Inside, 1.2: record.Inside, 1: record.Inside,
		.799: record.WholeLot, 1.201: record.WholeLot} {
		v, said := audited(t, b, rules(), nil, aim*at).Judge(b.rec.Plan)
		require.Equal(t, want, v, "%v: %s", at, said)
	}
	a := audited(t, b, rules(), nil, aim)
	require.Len(t, a.Audit.Sample, 2)
	v, said := a.Judge(b.rec.Plan)
	require.Equal(t, record.Inside, v)
	require.Equal(t, "2 of 8 audited of 2 drawn, to move on at 80 to 120 % of the target: none outside.", said)
	a.Visits = a.Visits[:1]
	v, _ = a.Judge(b.rec.Plan)
	require.Equal(t, record.Unfinished, v)
}

// One too many of the sample, and every fastener is audited; one too many of those, and the joint is due again.
func TestFailedSampleAsksForTheWholeLot(t *testing.T) {
	b := sealedWith(t)
	aim := float64(b.rec.Plan.GroupAt(1).FinalNm)
	a := audited(t, b, rules(), nil, aim*.5)
	a.Verdict, a.Sentence = a.Judge(b.rec.Plan)
	require.Equal(t, record.WholeLot, a.Verdict)
	require.Equal(t, "outside at an audit", a.DueAgain())
	whole := audited(t, b, rules(), []record.Addition{a}, aim)
	require.Equal(t, []int{1, 2, 3, 4, 5, 6, 7, 8}, whole.Audit.Sample)
	v, _ := whole.Judge(b.rec.Plan)
	require.Equal(t, record.Inside, v)
	whole.Visits[4].MovedNm = aim * 1.5
	v, said := whole.Judge(b.rec.Plan)
	require.Equal(t, record.Outside, v)
	require.Contains(t, said, "something else is wrong")
	whole.Audit.MostOut = 1
	v, said = whole.Judge(b.rec.Plan)
	require.Equal(t, record.Inside, v)
	require.Contains(t, said, "lets so many pass")
}

func TestAuditByMovementAndByMarks(t *testing.T) {
	b := sealedWith(t)
	r := rules()
	for _, r.Audit = range []string{plan.AuditNoMovement, plan.AuditMarks} {
		a := audited(t, b, r, nil, 0)
		v, _ := a.Judge(b.rec.Plan)
		require.Equal(t, record.Inside, v)
		a.Visits[0].TurnedDeg = .5
		v, _ = a.Judge(b.rec.Plan)
		require.Equal(t, record.WholeLot, v)
	}
	b.rec.Plan.GroupAt(1).FinalNm = 0
	require.Equal(t, plan.AuditMarks, audited(t, b, rules(), nil, 0).Audit.By, "no torque was aimed at")
}

// Nobody chooses which are drawn: the same record draws the same, the next audit others, spread evenly.
func TestSampleFollowsFromTheSeal(t *testing.T) {
	b := sealedWith(t)
	first := audited(t, b, rules(), nil, 300)
	require.Equal(t, first.Audit.Sample, audited(t, b, rules(), nil, 300).Audit.Sample)
	require.NotEqual(t, first.Audit.Sample, audited(t, b, rules(), []record.Addition{first}, 300).Audit.Sample)
	require.InDelta(t, .25, first.Audit.Chance, 1e-9) // two of eight, if one were bad
	rapid.Check(t, func(rt *rapid.T) {
		r := rules()
		r.AuditShare = rapid.Float64Range(.01, 1).Draw(rt, "share")
		r.AuditLeast = rapid.IntRange(1, 20).Draw(rt, "least")
		a := audited(t, b, r, nil, 300)
		require.GreaterOrEqual(rt, len(a.Audit.Sample), min(8, r.AuditLeast))
		require.NoError(rt, a.Check(b.rec.Plan))
	})
}

func TestAuditThatCannotBeMeantIsRefused(t *testing.T) {
	b := sealedWith(t)
	for i, c := range []struct {
		change func(a *record.Addition)
		field  string
	}{
		{func(a *record.Addition) { a.Audit = nil }, "audit"},
		{func(a *record.Addition) { a.Audit.By = "ear" }, "audit"},
		{func(a *record.Addition) { a.Audit.High = a.Audit.Low }, "audit"},
		{func(a *record.Addition) { a.Tool = " " }, "tool"},
		{func(a *record.Addition) { a.Visits = nil }, "visits"},
		{func(a *record.Addition) { a.Visits[0].Fastener = 99 }, "visits[0]"},
		{func(a *record.Addition) { a.Visits[0].Fastener = a.Visits[0].Fastener%8 + 1 }, "visits[0]"},
		{func(a *record.Addition) { a.Visits[1].MovedNm = 0 }, "visits[1].movedNm"},
		{func(a *record.Addition) { a.Visits[1].TurnedDeg = 3 }, "visits[1]"},
		{func(a *record.Addition) { a.Kind = record.Recheck }, "audit"},
	} {
		a := audited(t, b, rules(), nil, 300)
		c.change(&a)
		_, _, err := a.Seal(b.rec.Plan, b.key)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, "%d %v", i, err)
		require.Equal(t, c.field, r.Field, "%d: %v", i, r)
	}
}

// Whoever had a hand in the tightening does not audit it, and a file that says so does not verify.
func TestAuditIsBySomebodyElse(t *testing.T) {
	b := sealedWith(t)
	require.Empty(t, b.rec.MayAudit(coretest.Abara))
	require.NotEmpty(t, b.rec.MayAudit(coretest.Tolley))
	b.add(audited(t, b, rules(), nil, 300))
	r := record.Verify(b.whole(), record.Trust(public(b.key)))
	require.True(t, r.OK, "%v", r.Problems)
	own := audited(t, b, rules(), nil, 300)
	own.Person = coretest.Tolley
	b.add(own)
	r = record.Verify(b.whole(), record.Trust(public(b.key)))
	require.False(t, r.OK)
	require.Contains(t, r.Problems[0], "is no audit")
}
