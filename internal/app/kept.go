package app

import (
	"context"
	"encoding/json"
	"fmt"
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
	mu     sync.Mutex
	plans  map[uuid.UUID]remembered[*plan.Plan]
	chains map[uuid.UUID]remembered[*chain]
	bytes  int
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
	c.mu.Lock()
	next := &chain{entries: append(c.entries, added...), tools: c.tools, plan: p, work: c.through(p)}
	c.work = nil
	c.mu.Unlock()
	for _, e := range added {
		next.tools.take(e.Event)
		next.work.Apply(e.Event)
	}
	return next
}

// remembered is something with about how much memory it takes.
type remembered[T any] struct {
	what  T
	bytes int
}

// mostRemembered bounds the memory, bytes; past it something else is forgotten and read again.
const mostRemembered = 64 << 20

func newKept() *kept {
	return &kept{plans: map[uuid.UUID]remembered[*plan.Plan]{}, chains: map[uuid.UUID]remembered[*chain]{}}
}

func (k *kept) putChain(id uuid.UUID, c *chain, bytes int) {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.bytes += bytes - k.chains[id].bytes
	k.chains[id] = remembered[*chain]{c, bytes}
	k.forget(id)
}

// growChain puts the chain that follows in the place of the one before.
func (k *kept) growChain(id uuid.UUID, next *chain, added []record.Entry) {
	k.mu.Lock()
	known := k.chains[id].bytes
	k.mu.Unlock()
	if known == 0 {
		known = bytesOf(next.entries[:len(next.entries)-len(added)])
	}
	k.putChain(id, next, known+bytesOf(added))
}

func (k *kept) putPlan(id uuid.UUID, p *plan.Plan, text int) {
	k.mu.Lock()
	defer k.mu.Unlock()
	n := 3 * text // read, a text takes about so much
	k.bytes += n - k.plans[id].bytes
	k.plans[id] = remembered[*plan.Plan]{p, n}
	k.forget(id)
}

// forget drops whatever comes first until the bound is kept; never what was just put in.
func (k *kept) forget(but uuid.UUID) {
	for id, c := range k.chains {
		if k.bytes <= mostRemembered {
			return
		}
		if id != but {
			k.bytes -= c.bytes
			delete(k.chains, id)
		}
	}
	for id, p := range k.plans {
		if k.bytes <= mostRemembered {
			return
		}
		if id != but {
			k.bytes -= p.bytes
			delete(k.plans, id)
		}
	}
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
	a.kept.mu.Lock()
	p := a.kept.plans[id].what
	a.kept.mu.Unlock()
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
	a.kept.putPlan(id, p, len(row.Data))
	return p, nil
}

// chain gives a run whose last number and hash are known.
func (a *App) chain(ctx context.Context, q *store.Queries, id uuid.UUID, lastSeq int, lastHash string) (*chain, error) {
	a.kept.mu.Lock()
	known := a.kept.chains[id].what
	a.kept.mu.Unlock()
	if known != nil {
		if n := len(known.entries); n == lastSeq && n > 0 && known.entries[n-1].Hash == lastHash {
			return known, nil
		}
	}
	entries, err := a.readChain(ctx, q, id, lastSeq)
	if err != nil {
		return nil, err
	}
	c := newChain(entries)
	a.kept.putChain(id, c, bytesOf(entries))
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
