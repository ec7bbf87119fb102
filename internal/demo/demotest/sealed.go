package demotest

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
	"dynacor/internal/store/storetest"
)

// SealedPackage puts a work package of n joints into a database, each with a sealed record that verifies; what they
// were made from is not there. The url is that of the database's owner.
func SealedPackage(t testing.TB, url, code string, n int) {
	t.Helper()
	ctx := context.Background()
	c, err := pgx.Connect(ctx, url)
	require.NoError(t, err)
	defer c.Close(ctx)
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	key := storetest.Key()
	_, err = c.Exec(ctx, "set session_replication_role = replica")
	require.NoError(t, err)
	_, err = c.Exec(ctx, "insert into packages (code, name) values ($1, 'Many alike')", code)
	require.NoError(t, err)
	at := time.Now().UTC().Add(-time.Hour).Truncate(time.Second)
	batch := &pgx.Batch{}
	for i := range n {
		p := *rec.Plan
		p.Joint.Tag, p.Joint.Name = fmt.Sprintf("%s-%04d", code, i+1), fmt.Sprintf("Joint %d of many", i+1)
		one := rec
		one.Plan, one.Number = &p, fmt.Sprintf("TS-2026-9%04d", i+1)
		f, err := record.Sign(one, key.Private, at)
		require.NoError(t, err)
		mark, err := f.Mark()
		require.NoError(t, err)
		data, err := f.Bytes()
		require.NoError(t, err)
		id := uuid.New()
		batch.Queue("insert into joints (id, tag, name, area, equipment, service, family, package, nameplate, bolts, "+
			"make, glyph, station, summary) values ($1, $2, $3, 'Hall', '', '', 'gasketed_flange', $4, '', 8, '', "+
			"'accepted', 'sealed', 'sealed')", id, p.Joint.Tag, p.Joint.Name, code)
		batch.Queue("insert into records (number, run_id, joint_id, tag, name, area, target, tightened_by, proved_by, "+
			"sealed_at, mark, file, verdict) values ($1, $2, $3, $4, $5, 'Hall', '300 N·m', 'M. Tolley', 'R. Abara', $6, "+
			"$7, $8, 'accepted')", one.Number, uuid.New(), id, p.Joint.Tag, p.Joint.Name, at, mark, data)
		batch.Queue(
			"insert into record_index (number, version, sealed_at, search, facets, used_at) select $1, version, $2, "+
				"'', array['person:M. Tolley', 'batch:QF-88'], $2 from record_index where version > 0 limit 1",
			one.Number,
			at,
		)
	}
	require.NoError(t, c.SendBatch(ctx, batch).Close())
}
