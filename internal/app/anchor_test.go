package app_test

import (
	"bytes"
	"encoding/csv"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

// everything gives what a look through all that is kept finds wrong.
func (b *bench) everything(t *testing.T, outside map[int]string) string {
	t.Helper()
	h, err := b.VerifyAll(ctx, outside)
	require.NoError(t, err)
	require.Positive(t, h.Runs)
	require.Positive(t, h.Records)
	require.Greater(t, h.Events, 500)
	return strings.Join(h.Problems, "\n")
}

// What the owner of the database does to it, triggers off, is found by looking through everything; and what is removed
// whole, by the anchor.
func TestRewrittenHistoryIsFound(t *testing.T) {
	site := newBench(t, true)
	require.Empty(t, site.everything(t, nil))
	for name, c := range map[string]struct{ sql, says string }{
		"an entry": {`update events set body = replace(body, 'M. Tolley', 'M. Tolly') where seq = 9`,
			"was changed after it was recorded"},
		"an entry gone":          {`delete from events where seq = (select max(seq) from events e where e.run_id = events.run_id)`, "events are kept, the run counts"},
		"who did it, in the row": {`update events set person_id = (select id from people where name = 'B. Ode') where seq = 9`, "what stands beside event 9"},
		"when, in the row": {`update events set at = at - interval '1 day' where seq = 9`,
			"what stands beside event 9"},
		"a record's file": {`update records set file = convert_to(replace(convert_from(file, 'UTF8'), 'Tarn Skerry', 'Tarn Skerri'), 'UTF8')`, "signature does not fit"},
		"a record's number": {`update records set number = 'TS-2026-09999' where number like '%1'`,
			"names another number"},
		"a run removed whole":     {`with r as (select id from runs where sealed_at is null limit 1), e as (delete from events where run_id in (select id from r)), j as (update joints set present_run = null where present_run in (select id from r)) delete from runs where id in (select id from r)`, "that are not here as they were"},
		"a record removed":        {`delete from records where number like '%1'`, "it is not here as it was"},
		"a line of the audit log": {`update audit_log set who = 'nobody' where id = 5`, "the audit log up to line"},
		"an anchor removed":       {`with l as (delete from anchor_leaves where anchor = 1) delete from anchors where number = 1`, "one before it is missing"},
		"a head in an anchor": {`update anchor_leaves set seq = seq - 1 where kind = 'run' and anchor = 1`,
			"not those it was made over"},
	} {
		t.Run(name, func(t *testing.T) {
			b := newBench(t, true)
			b.owner(t, "update audit_log set at = at - interval '20 years'") // long settled
			_, err := b.Anchor(ctx)
			require.NoError(t, err)
			b.now = b.now.Add(24 * time.Hour)
			_, err = b.Anchor(ctx)
			require.NoError(t, err)
			require.Empty(t, b.everything(t, nil))
			b.owner(t, c.sql)
			require.Contains(t, b.everything(t, nil), c.says)
		})
	}
}

// An owner who has the key as well can write history anew, anchors and all: an anchor that somebody keeps outside
// tells.
func TestAnchorKeptOutsideTells(t *testing.T) {
	b := newBench(t, true)
	first, err := b.Anchor(ctx)
	require.NoError(t, err)
	require.Len(t, first.Code, 64)
	outside := map[int]string{1: first.Hash}
	require.Empty(t, b.everything(t, map[int]string{1: first.Hash}))
	b.owner(t, "delete from anchor_leaves")
	b.owner(t, "delete from anchors")
	require.Contains(t, b.everything(t, map[int]string{1: first.Hash}), "anchor 1 was kept outside and is not here")
	b.owner(t, `delete from records where number = (select min(number) from records)`)
	b.now = b.now.Add(time.Second)
	_, err = b.Anchor(ctx)
	require.NoError(t, err)
	require.Contains(t, b.everything(t, outside), "anchor 1 is not the one that was kept outside")
	require.Empty(t, b.everything(t, nil), "nothing else tells")
}

func TestAnchorsAreMadeDaily(t *testing.T) {
	b := newBench(t, true)
	made, err := b.AnchorDaily(ctx)
	require.NoError(t, err)
	require.True(t, made)
	b.now = b.now.Add(10 * time.Hour)
	made, err = b.AnchorDaily(ctx)
	require.NoError(t, err)
	require.False(t, made, "one a day")
	f1, err := b.AnchorFile(ctx, 1)
	require.NoError(t, err)
	d, err := b.Joint(ctx, "SW-114")
	require.NoError(t, err)
	tolley := b.crew["M. Tolley"]
	_, err = b.AppendEvents(ctx, tolley, d.RunID,
		[]run.Event{{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, Note: "x", At: b.now,
			Person: tolley.Person}})
	require.NoError(t, err)
	b.now = b.now.Add(10 * time.Hour)
	made, err = b.AnchorDaily(ctx)
	require.NoError(t, err)
	require.True(t, made)
	f2, err := b.AnchorFile(ctx, 2)
	require.NoError(t, err)
	require.Equal(t, f1.Hash, f2.Anchor.Previous)
	runs := 0
	for _, l := range f2.Leaves {
		if l.Kind == "run" {
			runs++
			require.Equal(t, d.RunID, l.ID)
		}
	}
	require.Equal(t, 1, runs, "only the head that is new")
	_, err = b.AnchorFile(ctx, 3)
	require.Error(t, err)
	v, err := b.Trust(ctx)
	require.NoError(t, err)
	require.Equal(t, 2, v.Anchors[0].Number)
	require.Len(t, v.Keys, 1)
	_, err = b.without(t).Anchor(ctx)
	problem(t, err, app.Unavailable, "no signing key")
}

// Every change of what records lean on is written down with who, before and after; secrets are not.
func TestAuditLogTellsBeforeAndAfter(t *testing.T) {
	b := newBench(t, true)
	as := store.WithActor(ctx, "J. Hartwell, engineer, 10.0.0.4")
	last := func() app.AuditRow {
		list, err := b.AuditLog(ctx, "", 0)
		require.NoError(t, err)
		return list[0]
	}
	_, err := b.Quarantine(as, b.crew["J. Hartwell"], "W-52", "fell from the scaffold")
	require.NoError(t, err)
	row := last()
	require.Equal(t, "J. Hartwell, engineer, 10.0.0.4", row.Who)
	require.Equal(t, "tools W-52", row.Subject)
	require.Contains(t, row.After, "fell from the scaffold")
	require.NotContains(t, row.Before, "fell from")

	require.NoError(t, b.SetRole(as, "I. Quaye", authority.Inspector))
	list, err := b.AuditLog(ctx, "people i. quaye", 0)
	require.NoError(t, err)
	require.JSONEq(t, `{"role":"technician, lead"}`, list[0].Before)
	require.JSONEq(t, `{"role":"inspector"}`, list[0].After)
	list, err = b.AuditLog(ctx, "fell from the scaffold", 0)
	require.NoError(t, err)
	require.Equal(t, row, list[len(list)-1], "found by what was said, too")
	var out bytes.Buffer
	require.NoError(t, b.ExportAudit(ctx, &out, "i. quaye"))
	lines, err := csv.NewReader(&out).ReadAll()
	require.NoError(t, err)
	require.Equal(t, []string{"people I. Quaye", `{"role": "technician, lead"}`}, lines[1][4:6])
	out.Reset()
	_, err = b.pool.Exec(ctx, "select audit('tried', 'line ' || i, '', '') from generate_series(1, 250) i")
	require.NoError(t, err)
	require.NoError(t, b.ExportAudit(ctx, &out, ""))
	lines, err = csv.NewReader(&out).ReadAll()
	require.NoError(t, err)
	require.Equal(t, "1", lines[len(lines)-1][0], "to the very first line, page by page")
	require.Greater(t, len(lines), 401)
	require.NoError(t, b.SetPIN(as, "I. Quaye", "7049"))
	list, err = b.AuditLog(ctx, "people i. quaye", 0)
	require.NoError(t, err)
	require.Contains(t, list[0].After, `"secret": "new"`)
	require.NotContains(t, list[0].After+list[0].Before, "argon2")

	require.Error(t, b.try("I. Quaye", "0000", app.From{Address: "10.0.0.66"}))
	require.Equal(t, "wrong PIN", last().Action)
	require.Contains(t, last().After, "10.0.0.66")
	d := b.tablet(t).signIn(t, "M. Tolley")
	require.Equal(t, "signed in", last().Action)
	require.NoError(t, b.SignOut(as, d.who))
	require.Equal(t, "sign-in ended", last().Action)
	require.NoError(t, b.Exported(as, "register of joints"))
	require.Equal(t, "register of joints", last().Subject)
	all, err := b.AuditLog(ctx, "", 0)
	require.NoError(t, err)
	more, err := b.AuditLog(ctx, "", all[9].ID)
	require.NoError(t, err)
	require.Equal(t, all[10].ID, more[0].ID)
	for _, r := range append(all, more...) {
		require.NotContains(t, r.After, "argon2")
	}
	// Events change what a joint shows; they stand in their own chain, not here.
	n := last().ID
	require.Equal(t, []string{""}, d.signIn(t, "M. Tolley").send(t, d.note("x")))
	require.Equal(t, "signed in", last().Action)
	require.Greater(t, last().ID, n)
}

// An anchor of a key that was revoked since is vouched for by the next one, made with a key that counts; the last one
// is not.
func TestLaterAnchorVouchesForThoseBefore(t *testing.T) {
	b := newBench(t, true)
	_, err := b.Anchor(ctx)
	require.NoError(t, err)
	b.owner(t, "delete from records") // so that only the anchors lean on the key
	fresh := newKey(t)
	require.NoError(t, store.AddKey(ctx, b.url, fresh.ID(), fresh.Public(), nil, "test"))
	require.NoError(t, store.RevokeKey(ctx, b.url, storetest.Key().ID(), b.now.Add(-time.Hour), "lost"))
	look := func() string {
		h, err := b.VerifyAll(ctx, nil)
		require.NoError(t, err)
		return strings.Join(h.Problems, "\n")
	}
	require.Contains(t, look(), "anchor 1: its key does not count")
	require.NoError(t, b.UseKey(ctx, fresh))
	b.now = b.now.Add(time.Second)
	_, err = b.Anchor(ctx)
	require.NoError(t, err)
	require.NotContains(t, look(), "does not count")
}
