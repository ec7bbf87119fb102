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

// Desk is all that is looked up before the events of a parcel are judged.
type Desk struct {
	Run    Run // locked until the transaction ends
	Known  []EventsByIDRow
	Since  string     // the setting that was asked for, "" when it was never made
	Device *DeviceKey // locked too; nil: none was asked for, or there is no such
	People map[uuid.UUID]Person
	Shifts []ShiftsForRow // of these people on the device, that may cover something done in the run
}

// DeskFor names what is looked up.
type DeskFor struct {
	Run     uuid.UUID
	Events  []uuid.UUID
	People  []uuid.UUID
	Device  string // "": none
	Setting string
	Slack   time.Duration // how far two clocks may be apart
}

// Parcel is a transaction that begins with the first thing it looks up and ends with the last thing it writes, so that
// neither takes a round trip of its own.
type Parcel struct {
	*Queries
	open bool
}

// InParcel lets f work on one connection, and undoes what it did when it fails.
func InParcel(ctx context.Context, pool *pgxpool.Pool, f func(p *Parcel) error) error {
	return pool.AcquireFunc(ctx, func(c *pgxpool.Conn) error {
		p := &Parcel{Queries: New(c)}
		err := f(p)
		end := "commit"
		if err != nil {
			end = "rollback"
		}
		if !p.open {
			return err
		}
		if _, endErr := c.Exec(context.WithoutCancel(ctx), end); err == nil {
			err = endErr
		}
		return err
	})
}

// OpenDesk begins the transaction and looks everything up in one round trip. The run is locked first, then the device.
// pgx.ErrNoRows: there is no such run.
func (p *Parcel) OpenDesk(ctx context.Context, d DeskFor) (Desk, error) {
	out := Desk{People: map[uuid.UUID]Person{}}
	b := &pgx.Batch{}
	b.Queue("begin")
	p.open = true
	one(b, &out.Run, lockRun, d.Run)
	list(b, &out.Known, eventsByID, d.Events)
	b.Queue(getSetting, d.Setting).QueryRow(func(row pgx.Row) error {
		if err := row.Scan(&out.Since); !errors.Is(err, pgx.ErrNoRows) {
			return err
		}
		return nil
	})
	var people []Person
	var devices []DeviceKey
	list(b, &people, peopleByID, d.People)
	if d.Device != "" {
		list(b, &devices, lockDeviceKey, d.Device)
		list(b, &out.Shifts, shiftsFor, d.Device, d.People, d.Run, d.Slack)
	}
	if err := p.send(ctx, b); err != nil {
		return out, err
	}
	if len(devices) > 0 {
		out.Device = &devices[0]
	}
	for _, p := range people {
		out.People[p.ID] = p
	}
	return out, nil
}

// AppendedRun is what is written when events are added to a run.
type AppendedRun struct {
	Events []InsertEventParams
	Run    AdvanceRunParams
	Joint  SetJointStateParams
	Spoke  *DeviceSpokeParams // nil: no device sent them
}

// AppendToRun writes all of it in one round trip.
func (q *Queries) AppendToRun(ctx context.Context, a AppendedRun) error {
	return q.send(ctx, a.batch())
}

// AppendAndEnd writes all of it and ends the transaction, in one round trip.
func (p *Parcel) AppendAndEnd(ctx context.Context, a AppendedRun) error {
	b := a.batch()
	b.Queue("commit")
	err := p.send(ctx, b)
	p.open = err != nil
	return err
}

func (a AppendedRun) batch() *pgx.Batch {
	b := &pgx.Batch{}
	for _, e := range a.Events {
		b.Queue(insertEvent, e.RunID, e.Seq, e.ID, e.Kind, e.At, e.ReceivedAt, e.PersonID, e.Tools, e.Body, e.PrevHash,
			e.Hash, e.SentSha256, e.DeviceKey, e.Proof)
	}
	b.Queue(advanceRun, a.Run.ID, a.Run.LastSeq, a.Run.LastHash, a.Run.Size)
	b.Queue(setJointState, a.Joint.ID, a.Joint.Glyph, a.Joint.Station, a.Joint.Summary, a.Joint.PresentRun)
	if a.Spoke != nil {
		b.Queue(deviceSpoke, a.Spoke.ID, a.Spoke.SpokeAt, a.Spoke.Backlog, a.Spoke.BacklogFrom)
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

func one[T any](b *pgx.Batch, into *T, sql string, args ...any) {
	b.Queue(sql, args...).Query(func(rows pgx.Rows) (err error) {
		*into, err = pgx.CollectExactlyOneRow(rows, pgx.RowToStructByPos[T])
		return err
	})
}

func list[T any](b *pgx.Batch, into *[]T, sql string, args ...any) {
	b.Queue(sql, args...).Query(func(rows pgx.Rows) (err error) {
		*into, err = pgx.CollectRows(rows, pgx.RowToStructByPos[T])
		return err
	})
}
