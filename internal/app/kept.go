package app

import (
	"container/list"
	"context"
	"encoding/json"
	"fmt"
	"os"
	"runtime/debug"
	"sync"
	"time"

	"github.com/google/uuid"

	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// kept remembers what never changes, so that one press of a button does not read a whole run again: plans by their id,
// and chains of events by run, with the work they make. A chain counts only when its length and last hash are those of
// the locked row, so several servers may each remember their own.
type kept struct {
	mu    sync.Mutex
	at    map[uuid.UUID]*list.Element // no plan and run share an identifier
	order *list.List                  // of remembered, what was used last in front
	bytes int
}

// remembered is a plan or a chain with about how much memory it takes.
type remembered struct {
	id    uuid.UUID
	what  any
	bytes int
}

// chain is a run as it is remembered: its entries up to a head, what each hand had taken by then, and the work that
// they make on a plan.
type chain struct {
	entries []record.Entry
	tools   inHand

	mu   sync.Mutex
	plan *plan.Plan
	work *run.Progress // nil: not gone through yet, or gone over to the chain that follows
}

func newChain(entries []record.Entry) *chain {
	c := &chain{entries: entries}
	for _, e := range entries {
		c.tools.take(e.Event)
	}
	return c
}

// state is how the work stands.
func (c *chain) state(p *plan.Plan, now time.Time) *run.State {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.through(p).State(now)
}

// glance is how the joint stands.
func (c *chain) glance(p *plan.Plan, now time.Time) run.Glance {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.through(p).Glance(now)
}

// through is the work, gone through when nobody has done so on this plan. The lock is held.
func (c *chain) through(p *plan.Plan) *run.Progress {
	if c.work == nil || c.plan != p {
		c.plan, c.work = p, run.NewProgress(p)
		for _, e := range c.entries {
			c.work.Apply(e.Event)
		}
	}
	return c.work
}

// follow is the chain with more entries. The work goes over to it, so that nothing is gone through twice.
func (c *chain) follow(p *plan.Plan, added []record.Entry) *chain {
	next := &chain{entries: append(c.entries, added...), tools: c.tools, plan: p, work: c.give(p)}
	for _, e := range added {
		next.tools.take(e.Event)
		next.work.Apply(e.Event)
	}
	return next
}

// give is the work, which is then no longer the chain's own.
func (c *chain) give(p *plan.Plan) *run.Progress {
	c.mu.Lock()
	defer c.mu.Unlock()
	work := c.through(p)
	c.work = nil
	return work
}

// mostRemembered bounds the memory, bytes; past it what was not used for longest is forgotten and read again. It is
// room for some 150 runs in hand.
const mostRemembered = 48 << 20

// CollectSeldom lets memory grow threefold before it is collected, unless GOGC says otherwise: what is remembered is
// gone through each time, which is a tenth of the time that an event takes at Go's twofold. mostRemembered keeps it
// small enough for that.
func CollectSeldom() {
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(200)
	}
}

func newKept() *kept { return &kept{at: map[uuid.UUID]*list.Element{}, order: list.New()} }

// put remembers something, in place of what was known under its identifier; it is never forgotten at once.
func (k *kept) put(id uuid.UUID, what any, bytes int) {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.drop(k.at[id])
	k.at[id] = k.order.PushFront(remembered{id, what, bytes})
	k.bytes += bytes
	for k.bytes > mostRemembered && k.order.Len() > 1 {
		k.drop(k.order.Back())
	}
}

func (k *kept) drop(e *list.Element) {
	if e == nil {
		return
	}
	old := k.order.Remove(e).(remembered)
	delete(k.at, old.id)
	k.bytes -= old.bytes
}

// recall gives what is remembered, with its bytes; nil when it is not.
func recall[T any](k *kept, id uuid.UUID) (*T, int) {
	k.mu.Lock()
	defer k.mu.Unlock()
	e := k.at[id]
	if e == nil {
		return nil, 0
	}
	k.order.MoveToFront(e)
	r := e.Value.(remembered)
	what, _ := r.what.(*T)
	return what, r.bytes
}

// growChain puts the chain that follows in the place of the one before.
func (k *kept) growChain(id uuid.UUID, next *chain, added []record.Entry) {
	_, known := recall[chain](k, id)
	if known == 0 {
		known = bytesOf(next.entries[:len(next.entries)-len(added)])
	}
	k.put(id, next, known+bytesOf(added))
}

// bytesOf is about how much memory entries take, with the work that they make.
func bytesOf(entries []record.Entry) int {
	n := 0
	for _, e := range entries {
		n += 2_600 + len(e.Event.Note) + len(e.Event.Reason) + 16*len(e.Event.Trace) +
			80*(len(e.Event.Values)+len(e.Event.Parts)+len(e.Event.Marks)+len(e.Event.Items))
		if e.Event.Wrench != nil {
			n += 1_500
		}
		if e.Event.SetUp != nil {
			n += 1_500 * len(e.Event.SetUp.String)
		}
	}
	return n
}

// plan gives a saved plan. It is shared: nobody changes it.
func (a *App) plan(ctx context.Context, q *store.Queries, id uuid.UUID) (*plan.Plan, error) {
	p, _ := recall[plan.Plan](a.kept, id)
	if p != nil {
		return p, nil
	}
	row, err := q.GetPlan(ctx, id)
	if err != nil {
		return nil, err
	}
	if p, err = decode[*plan.Plan](row.Data); err != nil {
		return nil, err
	}
	a.kept.put(id, p, 3*len(row.Data)) // read, a text takes about so much
	return p, nil
}

// chain gives a run whose last number and hash are known.
func (a *App) chain(ctx context.Context, q *store.Queries, id uuid.UUID, lastSeq int, lastHash string) (*chain, error) {
	if known, _ := recall[chain](a.kept, id); known != nil {
		if n := len(known.entries); n == lastSeq && n > 0 && known.entries[n-1].Hash == lastHash {
			return known, nil
		}
	}
	entries, err := a.readChain(ctx, q, id, lastSeq)
	if err != nil {
		return nil, err
	}
	c := newChain(entries)
	a.kept.put(id, c, bytesOf(entries))
	return c, nil
}

// readChain reads a run from the database and follows its chain up to the head that the run names; least is how many
// entries there must be at the least: others may have been added since. Refused: a chain that does not hold. What was
// changed in the database past this program is then neither shown as true, nor added to, nor sealed.
func (a *App) readChain(ctx context.Context, q *store.Queries, id uuid.UUID, least int) ([]record.Entry, error) {
	rows, err := q.RunEvents(ctx, id)
	if err != nil {
		return nil, err
	}
	entries, texts := make([]record.Entry, len(rows)), make([][]byte, len(rows))
	for i, r := range rows {
		entries[i] = record.Entry{Seq: int(r.Seq), ReceivedAt: r.ReceivedAt.UTC(), PrevHash: r.PrevHash, Hash: r.Hash}
		texts[i] = []byte(r.Body)
		if err := json.Unmarshal(texts[i], &entries[i].Event); err != nil {
			return nil, brokenChain(id, fmt.Errorf("event %d cannot be read", r.Seq))
		}
	}
	if err := record.CheckChain(id.String(), entries, texts); err != nil {
		return nil, brokenChain(id, err)
	}
	head, hash := least, ""
	if len(rows) > 0 {
		head, hash = int(rows[0].LastSeq), rows[0].LastHash
	}
	if n := len(entries); n != head || n < least || n > 0 && entries[n-1].Hash != hash {
		return nil, brokenChain(id, fmt.Errorf("%d events are kept, the run counts %d", n, max(head, least)))
	}
	return entries, nil
}

func brokenChain(id uuid.UUID, why error) error {
	return &Problem{Kind: Conflict, Title: fmt.Sprintf("What is kept of this run was changed past Dynacor: %v.", why),
		Remedy: "Add nothing and change nothing. Tell whoever looks after the database, and compare with the last " +
			"anchor and the backups. Run " + id.String() + "."}
}

func eventsOf(entries []record.Entry) []run.Event {
	out := make([]run.Event, len(entries))
	for i, e := range entries {
		out[i] = e.Event
	}
	return out
}
