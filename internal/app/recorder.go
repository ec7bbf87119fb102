package app

import (
	"context"
	"fmt"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"github.com/google/uuid"

	"dynacor/core/record"
	"dynacor/internal/store"
)

// recorder takes parcels as they come and lets those of different runs that wait at the same moment be judged and
// committed together: the disk is waited for once, and each statement is sent once for all of them.
type recorder struct {
	mu      sync.Mutex
	waiting []*handedIn
	busy    map[string]bool // runs and devices whose parcels are at a desk now
	desks   int             // at work
}

// handedIn is a parcel that waits, and what became of it once done is closed.
type handedIn struct {
	who    Actor
	run    uuid.UUID
	list   []sent
	parcel *Parcel // nil: from within this program

	out   Appended
	added []record.Entry
	err   error
	done  chan struct{}
}

const (
	// mostDesks is how many groups are at work at once: one is judged while another waits for the disk.
	mostDesks = 2
	// mostTogether is how many parcels share a transaction: so many that more would save little, and few enough that a
	// fault, after which each goes alone, costs little.
	mostTogether = 32
	// gather is how long a desk lets parcels come in before it takes the next group: those who were just answered often
	// have another one.
	gather = 150 * time.Microsecond
	// longestGroup bounds how long a group may take: a database that does not answer is told, not waited for.
	longestGroup = 30 * time.Second
)

func newRecorder() *recorder { return &recorder{busy: map[string]bool{}} }

// holds are the names of what a parcel locks.
func (h *handedIn) holds() []string {
	if h.device() == "" {
		return []string{h.run.String()}
	}
	return []string{h.run.String(), h.device()}
}

// device is the key that the parcel's device proved, "" when it has none.
func (h *handedIn) device() string {
	if h.parcel == nil {
		return ""
	}
	return h.who.Device
}

// handIn lets a parcel wait for a desk, opens one when there may be more, and reports whether it did.
func (r *recorder) handIn(h *handedIn) (open bool) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.waiting = append(r.waiting, h)
	if r.desks == mostDesks {
		return false
	}
	r.desks++
	return true
}

// next gives the parcels that a desk takes together, in the order in which they came: no two of one run or one device,
// and none whose run or device another desk has. None: the desk closes. before are those that it had until now.
func (r *recorder) next(before []*handedIn) []*handedIn {
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, h := range before {
		for _, name := range h.holds() {
			delete(r.busy, name)
		}
	}
	var group, left []*handedIn
	blocked := map[string]bool{} // by an earlier one that stays: order within a run and a device is kept
	for _, h := range r.waiting {
		held := func(name string) bool { return r.busy[name] || blocked[name] }
		if len(group) == mostTogether || slices.ContainsFunc(h.holds(), held) {
			left = append(left, h)
			for _, name := range h.holds() {
				blocked[name] = true
			}
			continue
		}
		group = append(group, h)
		for _, name := range h.holds() {
			r.busy[name] = true
		}
	}
	r.waiting = left
	if len(group) == 0 {
		r.desks--
	}
	return group
}

// record judges a parcel and appends what may be. When the one who sent it goes away, it is still taken: sent again,
// it is known.
func (a *App) record(ctx context.Context, h *handedIn) error {
	h.done = make(chan struct{})
	if a.recorder.handIn(h) {
		go a.work(context.Background()) // a group is nobody's own
	}
	select {
	case <-h.done:
		return h.err
	case <-ctx.Done():
		return ctx.Err()
	}
}

// work is a desk: it takes group after group until nothing waits that it could take.
func (a *App) work(ctx context.Context) {
	var group []*handedIn
	for {
		if group = a.recorder.next(group); len(group) == 0 {
			return
		}
		a.takeGroup(ctx, group)
		for _, h := range group {
			close(h.done)
		}
		time.Sleep(gather)
	}
}

// takeGroup appends a group. When it fails, each goes alone, so that one cannot spoil another.
func (a *App) takeGroup(ctx context.Context, group []*handedIn) {
	err := a.takeTogether(ctx, group)
	if err == nil {
		return
	}
	for _, h := range group {
		if len(group) > 1 {
			err = a.takeTogether(ctx, []*handedIn{h})
		}
		if err != nil {
			h.err = err
		}
	}
}

// takeTogether appends a group in one transaction. The error is that of the whole; what is wrong with one of them
// stands there.
func (a *App) takeTogether(ctx context.Context, group []*handedIn) error {
	ctx, cancel := context.WithTimeout(ctx, longestGroup)
	defer cancel()
	var grown []linked
	err := store.InOne(ctx, a.pool, func(t *store.Together) error {
		found, err := t.OpenDesk(ctx, deskFor(group))
		if err != nil {
			return err
		}
		all := &store.Appended{}
		known := knownEvents(found.Known)
		for _, h := range group {
			l, err := a.judgeAll(ctx, t.Queries, h, found, known, all)
			if _, ok := AsProblem(err); ok {
				h.err = err
				continue
			}
			if err != nil {
				return err
			}
			if len(l.added) > 0 {
				grown = append(grown, l)
			}
		}
		return t.AppendAndEnd(ctx, all)
	})
	if err != nil {
		return err
	}
	for _, l := range grown {
		a.kept.growChain(l.run, l.next, l.added)
	}
	return nil
}

// deskFor is what judging a group takes.
func deskFor(group []*handedIn) store.DeskFor {
	ask := store.DeskFor{Events: []uuid.UUID{}, People: []uuid.UUID{}, Setting: settingKeysSince, Slack: clockSlack}
	for _, h := range group {
		ask.Runs = append(ask.Runs, h.run)
		if d := h.device(); d != "" {
			ask.Devices = append(ask.Devices, d)
		}
		for _, s := range h.list {
			if u, err := uuid.Parse(s.event.ID); err == nil {
				ask.Events = append(ask.Events, u)
			}
			if u, err := uuid.Parse(s.event.Person.ID); err == nil && !slices.Contains(ask.People, u) {
				ask.People = append(ask.People, u)
			}
			if w := s.event.Wrench; w != nil {
				ask.Tools = append(ask.Tools, w.Tag)
			}
			if u := s.event.SetUp; u != nil {
				for _, w := range u.String {
					ask.Tools = append(ask.Tools, w.Tag)
				}
			}
		}
	}
	return ask
}

// judgeAll judges a parcel's events one by one and puts what may be appended into all. A fault of the program is an
// error, not the end of the server.
func (a *App) judgeAll(ctx context.Context, q *store.Queries, h *handedIn, found store.Desk,
	known map[string]knownEvent, all *store.Appended) (l linked, err error) {
	defer func() {
		if v := recover(); v != nil {
			err = fmt.Errorf("app: judging run %s: %v\n%s", h.run, v, debug.Stack())
		}
	}()
	h.out, h.added, h.err = Appended{Acks: []Ack{}}, nil, nil // a group that failed may have left something
	d, err := a.openDesk(ctx, q, h, found)
	if err != nil {
		return l, err
	}
	h.out.ClockOffMs = int(d.clockOff.Milliseconds())
	var add []*admitted
	defer func() {
		for i := range add {
			if err != nil { // not kept after all
				delete(known, add[i].event.ID)
			}
		}
	}()
	for _, s := range h.list {
		ack, in, err := d.judge(ctx, s, known)
		if err != nil {
			return l, err
		}
		if in != nil {
			add = append(add, in)
			ack.Seq = int(d.run.LastSeq) + len(add)
			known[in.event.ID] = knownEvent{run: h.run, seq: ack.Seq, digest: in.digest} // may come twice
		}
		h.out.Acks = append(h.out.Acks, ack)
	}
	if len(add) > 0 {
		if l, err = a.link(ctx, q, d.run, add); err != nil {
			return l, err
		}
		l.into(all)
		h.added = l.added
	}
	if row, ok := d.spoke(h.parcel, len(h.list)); ok {
		all.Spoke(row)
	}
	return l, nil
}
