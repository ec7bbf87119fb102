package store

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
)

// batcher sends several statements at once: a transaction and the pool do.
type batcher interface {
	SendBatch(ctx context.Context, b *pgx.Batch) pgx.BatchResults
}

// Desk is all that is looked up before the events of some parcels are judged.
type Desk struct {
	Runs    map[uuid.UUID]Run // locked until the transaction ends
	Known   []EventsByIDRow
	Since   string               // the setting that was asked for, "" when it was never made
	Devices map[string]DeviceKey // locked too
	People  map[uuid.UUID]Person
	Tools   map[string]Tool
	Shifts  []ShiftsForRow // of these people on these devices, that may cover something done in the runs
}

// DeskFor names what is looked up. What is not there is missing in the answer.
type DeskFor struct {
	Runs    []uuid.UUID
	Events  []uuid.UUID
	People  []uuid.UUID
	Devices []string
	Tools   []string
	Setting string
	Slack   time.Duration // how far two clocks may be apart
}

// Together is a transaction that begins with the first thing it looks up and ends with the last thing it writes, so
// that neither takes a round trip of its own.
type Together struct {
	*Queries
	open bool
}

// InOne lets f work on one connection, and undoes what it did when it fails.
func InOne(ctx context.Context, pool *pgxpool.Pool, f func(t *Together) error) error {
	return pool.AcquireFunc(ctx, func(c *pgxpool.Conn) error {
		t := &Together{Queries: New(c)}
		err := f(t)
		end := "commit"
		if err != nil {
			end = "rollback"
		}
		if !t.open {
			return err
		}
		if _, endErr := c.Exec(context.WithoutCancel(ctx), end); err == nil {
			err = endErr
		}
		return err
	})
}

// OpenDesk begins the transaction and looks everything up in one round trip. The runs are locked first, then the
// devices, each in the order of their identifiers.
func (t *Together) OpenDesk(ctx context.Context, d DeskFor) (Desk, error) {
	out := Desk{Runs: map[uuid.UUID]Run{}, Devices: map[string]DeviceKey{}, People: map[uuid.UUID]Person{},
		Tools: map[string]Tool{}}
	b := &pgx.Batch{}
	b.Queue("begin")
	t.open = true
	var runs []Run
	var people []Person
	var devices []DeviceKey
	var tools []Tool
	list(b, &runs, lockRuns, d.Runs)
	list(b, &out.Known, eventsByID, d.Events)
	b.Queue(getSetting, d.Setting).QueryRow(func(row pgx.Row) error {
		if err := row.Scan(&out.Since); !errors.Is(err, pgx.ErrNoRows) {
			return err
		}
		return nil
	})
	list(b, &people, peopleByID, d.People)
	if len(d.Tools) > 0 {
		list(b, &tools, toolsByTag, d.Tools)
	}
	if len(d.Devices) > 0 {
		list(b, &devices, lockDeviceKeys, d.Devices)
		list(b, &out.Shifts, shiftsFor, d.Runs, d.Devices, d.People, d.Slack)
	}
	if err := t.send(ctx, b); err != nil {
		return out, err
	}
	for _, r := range runs {
		out.Runs[r.ID] = r
	}
	for _, k := range devices {
		out.Devices[k.ID] = k
	}
	for _, p := range people {
		out.People[p.ID] = p
	}
	for _, w := range tools {
		out.Tools[w.Tag] = w
	}
	return out, nil
}

// Appended is what is written when events are added to runs: the same few statements for one run as for many.
type Appended struct {
	events InsertEventsParams
	runs   AdvanceRunsParams
	joints SetJointStatesParams
	spoke  DevicesSpokeParams
}

// Add puts the events of a run into it, with the head that the run has afterwards and the line of its joint.
func (a *Appended) Add(events []Event, head Run, line Joint) {
	w := &a.events
	for _, e := range events {
		w.RunIds, w.Seqs = append(w.RunIds, e.RunID), append(w.Seqs, e.Seq)
		w.Ids, w.PersonIds = append(w.Ids, e.ID), append(w.PersonIds, e.PersonID)
		w.Kinds, w.Ats = append(w.Kinds, e.Kind), append(w.Ats, e.At)
		w.ReceivedAts, w.Tools = append(w.ReceivedAts, e.ReceivedAt), append(w.Tools, e.Tools)
		w.Bodies = append(w.Bodies, e.Body)
		w.PrevHashes, w.Hashes = append(w.PrevHashes, e.PrevHash), append(w.Hashes, e.Hash)
		w.SentSha256s = append(w.SentSha256s, e.SentSha256)
		w.DeviceKeys, w.Proofs = append(w.DeviceKeys, e.DeviceKey), append(w.Proofs, e.Proof)
	}
	r := &a.runs
	r.Ids, r.LastSeqs = append(r.Ids, head.ID), append(r.LastSeqs, head.LastSeq)
	r.LastHashes, r.Sizes = append(r.LastHashes, head.LastHash), append(r.Sizes, head.Size)
	a.Line(line, head.ID)
}

// Line puts the line of a joint in lists into it.
func (a *Appended) Line(j Joint, present uuid.UUID) {
	w := &a.joints
	w.Ids, w.Glyphs, w.Stations = append(w.Ids, j.ID), append(w.Glyphs, j.Glyph), append(w.Stations, j.Station)
	w.Summaries, w.PresentRuns = append(w.Summaries, j.Summary), append(w.PresentRuns, present)
}

// Spoke puts into it that a device has spoken.
func (a *Appended) Spoke(k DeviceKey) {
	w := &a.spoke
	from := k.SpokeAt // not kept while there is no backlog
	if k.BacklogFrom != nil {
		from = *k.BacklogFrom
	}
	w.Ids, w.SpokeAt = append(w.Ids, k.ID), append(w.SpokeAt, k.SpokeAt)
	w.Backlogs, w.BacklogsFrom = append(w.Backlogs, k.Backlog), append(w.BacklogsFrom, from)
}

// Append writes all of it in one round trip.
func (q *Queries) Append(ctx context.Context, a *Appended) error {
	return q.send(ctx, a.batch())
}

// AppendAndEnd writes all of it and ends the transaction, in one round trip.
func (t *Together) AppendAndEnd(ctx context.Context, a *Appended) error {
	b := a.batch()
	b.Queue("commit")
	err := t.send(ctx, b)
	t.open = err != nil
	return err
}

func (a *Appended) batch() *pgx.Batch {
	b := &pgx.Batch{}
	if e := a.events; len(e.Ids) > 0 {
		b.Queue(insertEvents, e.RunIds, e.Seqs, e.Ids, e.Kinds, e.Ats, e.ReceivedAts, e.PersonIds, e.Tools, e.Bodies,
			e.PrevHashes, e.Hashes, e.SentSha256s, e.DeviceKeys, e.Proofs)
	}
	if r := a.runs; len(r.Ids) > 0 {
		b.Queue(advanceRuns, r.Ids, r.LastSeqs, r.LastHashes, r.Sizes)
	}
	if j := a.joints; len(j.Ids) > 0 {
		b.Queue(setJointStates, j.Ids, j.Glyphs, j.Stations, j.Summaries, j.PresentRuns)
	}
	if s := a.spoke; len(s.Ids) > 0 {
		b.Queue(devicesSpoke, s.Ids, s.SpokeAt, s.Backlogs, s.BacklogsFrom)
	}
	return b
}

func (q *Queries) send(ctx context.Context, b *pgx.Batch) error {
	db, ok := q.db.(batcher)
	if !ok {
		return errors.New("store: this connection cannot send several statements at once")
	}
	return db.SendBatch(ctx, b).Close()
}

func list[T any](b *pgx.Batch, into *[]T, sql string, args ...any) {
	b.Queue(sql, args...).Query(func(rows pgx.Rows) (err error) {
		*into, err = pgx.CollectRows(rows, pgx.RowToStructByPos[T])
		return err
	})
}
