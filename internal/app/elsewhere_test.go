package app_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
	"dynacor/internal/app"
)

// A record of another site is taken in when it holds and its key was compared; it stands apart from this site's own.
func TestRecordOfAnotherSiteIsTakenIn(t *testing.T) {
	b := newBench(t, true)
	abara := b.crew["R. Abara"]
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	rec.Site = "Skarn Paper Mill"
	seal := func(r record.Record) ([]byte, string) {
		t.Helper()
		f, err := record.Sign(r, coretest.Key('z'), coretest.Day)
		require.NoError(t, err)
		data, err := f.Bytes()
		require.NoError(t, err)
		return data, f.Seal.KeyID
	}
	data, key := seal(rec)
	before := len(b.found(t, app.RecordSearch{}))

	_, err = b.TakeIn(ctx, b.crew["M. Tolley"], data, key)
	problem(t, err, app.Forbidden, "take in a record of another site")
	_, err = b.TakeIn(ctx, abara, data, "0123456789abcdef")
	problem(t, err, app.Invalid, "not signed with the key you name")
	_, err = b.TakeIn(ctx, abara, bytes.Replace(data, []byte("M. Tolley"), []byte("M. Tolly"), 1), key)
	problem(t, err, app.Invalid, "does not hold")
	own, err := b.RecordFile(ctx, sealedNumber(t, b, "SW-111"))
	require.NoError(t, err)
	_, err = b.TakeIn(ctx, abara, own, record.Verify(own, nil).KeyID)
	problem(t, err, app.Conflict, "a record of this site")

	list, err := b.TakeIn(ctx, abara, data, " "+key[:8]+" "+key[8:])
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.Equal(t, "Skarn Paper Mill", list[0].Site)
	require.Equal(t, "R. Abara", list[0].TakenBy)
	require.Equal(t, rec.State.Verdict.Code, list[0].Verdict)
	list, err = b.TakeIn(ctx, abara, data, key)
	require.NoError(t, err, "brought again")
	require.Len(t, list, 1)
	kept, err := b.ElsewhereFile(ctx, list[0].Mark)
	require.NoError(t, err)
	require.Equal(t, data, kept, "byte for byte")
	require.Len(t, b.found(t, app.RecordSearch{}), before, "not among this site's own")

	rec.Statement += " "
	other, _ := seal(rec)
	_, err = b.TakeIn(ctx, abara, other, key)
	problem(t, err, app.Conflict, "Another record TS-2026-00001 of Skarn Paper Mill is kept")
	list, err = b.ElsewhereRecords(ctx, "skarn")
	require.NoError(t, err)
	require.Len(t, list, 1)
	list, err = b.ElsewhereRecords(ctx, "nowhere")
	require.NoError(t, err)
	require.Empty(t, list)
	_, err = b.ElsewhereFile(ctx, "0000")
	problem(t, err, app.NotFound, "0000")
	log, err := b.AuditLog(ctx, "skarn", 0)
	require.NoError(t, err)
	require.Equal(t, "took in", log[0].Action)

	h, err := b.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Empty(t, h.Problems)
	require.Equal(t, 1, h.Elsewhere)
	b.owner(t, "update elsewhere_records set site = 'Tarn Skerry', number = 'TS-2026-00099'")
	h, err = b.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Contains(t, h.Problems[0], "names another number, key or digest")
	b.owner(t, `update elsewhere_records set file = convert_to(replace(convert_from(file, 'UTF8'), 'M. Tolley', 'M. Tolly'), 'UTF8')`)
	h, err = b.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Contains(t, h.Problems[0], "signature does not fit")
}
