package app_test

import (
	"encoding/json"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/internal/app"
)

// retorqued tries every nut of SW-111, which the demo site has sealed; one turned so far.
func retorqued(t *testing.T, b *bench, number string, after int, turned float64) app.AdditionInput {
	t.Helper()
	v, err := b.Record(ctx, number)
	require.NoError(t, err)
	in := app.AdditionInput{After: after, Kind: record.Retorque, What: "Re-torque after 24 h, cold and out of service.",
		TorqueNm: 420, Tool: "W-52", PersonID: b.crew["M. Tolley"].ID, PIN: pins["M. Tolley"]}
	for i := range v.Record.Plan.Count() {
		in.Visits = append(in.Visits, record.Visit{Fastener: i + 1})
	}
	in.Visits[2].TurnedDeg = turned
	return in
}

func sealedNumber(t *testing.T, b *bench, tag string) string {
	t.Helper()
	page, err := b.Records(ctx, app.RecordSearch{Text: tag, Limit: 1})
	require.NoError(t, err)
	require.Len(t, page.Rows, 1)
	return page.Rows[0].Number
}

// A sealed record is never changed: what is wrong in it and what becomes of its joint is added behind it, in a chain,
// and goes out with it.
func TestSealedRecordTakesAdditions(t *testing.T) {
	b := newBench(t, true)
	number := sealedNumber(t, b, "SW-111")
	tolley, abara := b.crew["M. Tolley"], b.crew["R. Abara"]
	before, err := b.RecordFile(ctx, number)
	require.NoError(t, err)
	whole, err := b.WholeRecord(ctx, number)
	require.NoError(t, err)
	require.Equal(t, before, whole, "nothing added, nothing more")

	for tag, says := range map[string]string{"W-99": "no tool", "W-61": "ran out", "W-25": "put aside"} {
		in := retorqued(t, b, number, 0, 8)
		in.Tool = tag
		_, err = b.Add(ctx, tolley, number, in)
		require.ErrorContains(t, err, says)
	}
	v, err := b.Add(ctx, tolley, number, retorqued(t, b, number, 0, 8))
	require.NoError(t, err)
	require.True(t, v.Report.OK, "%v", v.Report.Problems)
	require.Equal(t, record.Moved, v.Additions[0].Verdict)
	require.InDelta(t, 15, v.Additions[0].LimitDeg, 0, "of the house rules")
	require.Contains(t, v.Additions[0].LimitFrom, "house rules, version")

	wrong := app.AdditionInput{After: 1, Kind: record.Correction, What: "The tin in the store is another batch.",
		Place: "batch of the lubricant", Was: "C8", Is: "C9", PersonID: tolley.ID, PIN: pins["M. Tolley"]}
	_, err = b.Add(ctx, tolley, number, wrong)
	problem(t, err, app.Forbidden, "may not correct a sealed record")
	wrong.PersonID, wrong.PIN = abara.ID, "0000"
	_, err = b.Add(ctx, tolley, number, wrong)
	require.Error(t, err, "by the PIN of the one who signs")
	wrong.PIN = pins["R. Abara"]
	wrong.After = 0
	_, err = b.Add(ctx, tolley, number, wrong)
	problem(t, err, app.Conflict, "One addition stands behind")
	wrong.After = 1
	v, err = b.Add(ctx, tolley, number, wrong)
	require.NoError(t, err)
	require.Len(t, v.Additions, 2)
	require.Equal(t, "R. Abara", v.Additions[1].Person.Name)
	v, err = b.Add(ctx, tolley, number, wrong)
	require.NoError(t, err, "sent again because its answer was lost")
	require.Len(t, v.Additions, 2)

	after, err := b.RecordFile(ctx, number)
	require.NoError(t, err)
	require.Equal(t, before, after, "the seal stays as it is")
	whole, err = b.WholeRecord(ctx, number)
	require.NoError(t, err)
	got, err := b.Verify(ctx, whole)
	require.NoError(t, err)
	require.True(t, got.Report.OK, "%v", got.Report.Problems)
	require.True(t, got.Kept)
	require.Zero(t, got.AddedSince)
	got, err = b.Verify(ctx, before)
	require.NoError(t, err)
	require.True(t, got.Report.OK)
	require.Equal(t, 2, got.AddedSince, "somebody with the sealed file alone is told of the rest")
	_, err = b.Add(ctx, tolley, "TS-2000-00001", wrong)
	problem(t, err, app.NotFound, "TS-2000-00001")
}

// What was found out since the record shows the joint as due again, in the lists too; work on it is begun from there.
func TestFindingMakesAJointDueAgain(t *testing.T) {
	b := newBench(t, true)
	number, tolley := sealedNumber(t, b, "SW-111"), b.crew["M. Tolley"]
	joint := func() app.JointRow {
		t.Helper()
		d, err := b.Joint(ctx, "SW-111")
		require.NoError(t, err)
		return d.Joint
	}
	_, err := b.Add(ctx, tolley, number, retorqued(t, b, number, 0, 15))
	require.NoError(t, err)
	require.Equal(t, "accepted", joint().Glyph, "inside the rule")
	_, err = b.Add(ctx, tolley, number, retorqued(t, b, number, 1, 15.1))
	require.NoError(t, err)
	require.Equal(t, "due_again", joint().Glyph)
	require.Equal(t, "had lost load at a re-torque after record "+number, joint().Summary)
	page, err := b.Joints(ctx, app.JointQuery{Glyph: "due_again", Limit: 10})
	require.NoError(t, err)
	require.Equal(t, 1, page.Total)

	_, err = b.WorkAgain(ctx, tolley, "SW-111", plan.Choices{}, "", "had lost load")
	require.NoError(t, err)
	now := joint().Glyph
	require.NotEqual(t, "due_again", now)
	_, err = b.Add(ctx, tolley, number, app.AdditionInput{After: 2, Kind: record.Finding, PersonID: tolley.ID,
		What: "A trace of salt below bolt 5.", PIN: pins["M. Tolley"]})
	require.NoError(t, err)
	require.Equal(t, now, joint().Glyph, "it is in hand by now")
}

// Of two who add at the same moment the one that comes second is told to look first; the chain stays whole.
func TestAdditionsAtOnceKeepTheirChain(t *testing.T) {
	b := newBench(t, true)
	number := sealedNumber(t, b, "SW-111")
	var kept, refused int
	var mu sync.Mutex
	var wg sync.WaitGroup
	for i := range 6 {
		in := retorqued(t, b, number, 0, float64(i+1))
		wg.Go(func() {
			_, err := b.Add(ctx, b.crew["M. Tolley"], number, in)
			mu.Lock()
			defer mu.Unlock()
			if err == nil {
				kept++
			} else {
				refused++
			}
		})
	}
	wg.Wait()
	require.Equal(t, []int{1, 5}, []int{kept, refused})
	v, err := b.Record(ctx, number)
	require.NoError(t, err)
	require.Len(t, v.Additions, 1)
	require.True(t, v.Report.OK)
}

// An addition that an anchor holds cannot be taken away or written anew, even by the owner of the database.
func TestAdditionTakenAwayIsFound(t *testing.T) {
	b := newBench(t, true)
	number := sealedNumber(t, b, "SW-111")
	_, err := b.Add(ctx, b.crew["M. Tolley"], number, retorqued(t, b, number, 0, 40))
	require.NoError(t, err)
	h, err := b.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Empty(t, h.Problems)
	require.Equal(t, 2, h.Additions, "and the one of the demo site")
	b.now = b.now.Add(time.Hour)
	_, err = b.Anchor(ctx)
	require.NoError(t, err)

	var body string
	require.NoError(t, b.pool.QueryRow(ctx, "select body from additions where number = $1", number).Scan(&body))
	var x record.Addition
	require.NoError(t, json.Unmarshal([]byte(body), &x))
	require.Equal(t, record.MovedPast, x.Verdict)
	b.owner(t, `update additions set kind = 'finding' where number = $1`, number)
	h, err = b.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Contains(t, h.Problems[0], "what stands beside addition 1 is not what it says")
	b.owner(t, `delete from additions where number = $1`, number)
	h, err = b.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Contains(t, h.Problems[0], "addition "+number+"/1: anchor")
}

// An audit is drawn by the house rules and read by somebody who did not tighten; a sample with one outside asks for the
// whole lot, and the joint is due again.
func TestSealedJointIsAudited(t *testing.T) {
	b := newBench(t, true)
	number := sealedNumber(t, b, "SW-111")
	v, err := b.Record(ctx, number)
	require.NoError(t, err)
	require.Len(t, v.NextAudit.Sample, 2, "a tenth of eight, and at least two")
	require.NotContains(t, v.Signers[record.Audited], b.crew["M. Tolley"].ID)
	require.Contains(t, v.Signers[record.Audited], b.crew["R. Abara"].ID)
	audit := func(name string, after int, nm ...float64) (app.RecordView, error) {
		in := app.AdditionInput{After: after, Kind: record.Audited, What: "Cold, a day after.", Tool: "W-52",
			PersonID: b.crew[name].ID, PIN: pins[name]}
		for i, f := range v.NextAudit.Sample {
			in.Visits = append(in.Visits, record.Visit{Fastener: f, MovedNm: nm[i%len(nm)]})
		}
		return b.Add(ctx, b.crew["M. Tolley"], number, in)
	}
	_, err = audit("M. Tolley", 0, 240)
	problem(t, err, app.Forbidden, "may not")
	v1, err := audit("R. Abara", 0, 240, 150)
	require.NoError(t, err)
	require.True(t, v1.Report.OK, "%v", v1.Report.Problems)
	require.Equal(t, record.WholeLot, v1.Additions[0].Verdict)
	require.Contains(t, v1.Additions[0].LimitFrom, "house rules")
	require.Contains(t, v1.Additions[0].ToolIs, "certificate")
	require.Len(t, v1.NextAudit.Sample, 8)
	j, err := b.Joint(ctx, "SW-111")
	require.NoError(t, err)
	require.Contains(t, j.Joint.Summary, "outside at an audit")
	v = v1
	v2, err := audit("R. Abara", 1, 240)
	require.NoError(t, err)
	require.Equal(t, record.Inside, v2.Additions[1].Verdict)
}
