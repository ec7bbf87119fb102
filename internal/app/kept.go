package app

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"sync"

	"github.com/google/uuid"

	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// kept remembers what never changes, so that one press of a button does not read a whole run again: plans by their id, and chains of
// events by run. A chain counts only when its length and last hash are those of the locked row, so several servers may each
// remember their own.
type kept struct {
	mu     sync.Mutex
	plans  map[uuid.UUID]remembered[*plan.Plan]
	chains map[uuid.UUID]remembered[[]record.Entry]
	bytes  int
}

// remembered is something with about how much memory it takes.
type remembered[T any] struct {
	what  T
	bytes int
}

// mostRemembered bounds the memory, bytes; past it something else is forgotten and read again.
const mostRemembered = 64 << 20

func newKept() *kept {
	return &kept{plans: map[uuid.UUID]remembered[*plan.Plan]{}, chains: map[uuid.UUID]remembered[[]record.Entry]{}}
}

func (k *kept) putChain(id uuid.UUID, entries []record.Entry) {
	n := 0
	for _, e := range entries {
		n += bytesOf(e)
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	k.bytes += n - k.chains[id].bytes
	k.chains[id] = remembered[[]record.Entry]{entries, n}
	k.forget(id)
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

// bytesOf is about how much memory an entry takes.
func bytesOf(e record.Entry) int {
	n := 1_400 + len(e.Event.Note) + len(e.Event.Reason) + 16*len(e.Event.Trace) + 80*(len(e.Event.Values)+len(e.Event.Parts)+len(e.Event.Marks)+len(e.Event.Items))
	if e.Event.Wrench != nil {
		n += 1_500
	}
	if e.Event.SetUp != nil {
		n += 1_500 * len(e.Event.SetUp.String)
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

// chain gives the events of a run whose last number and hash are known.
func (a *App) chain(ctx context.Context, q *store.Queries, id uuid.UUID, lastSeq int, lastHash string) ([]record.Entry, error) {
	a.kept.mu.Lock()
	known := a.kept.chains[id].what
	a.kept.mu.Unlock()
	if n := len(known); n == lastSeq && n > 0 && known[n-1].Hash == lastHash {
		return known, nil
	}
	entries, err := a.readChain(ctx, q, id, lastSeq)
	if err != nil {
		return nil, err
	}
	a.kept.putChain(id, entries)
	return entries, nil
}

// readChain reads a run from the database and follows its chain up to the head that the run names; least is how many entries there must be at the least: others
// may have been added since. Refused: a chain that does not hold. What was changed in the database past this program is then neither shown as true, nor
// added to, nor sealed.
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
	return &Problem{Status: http.StatusConflict, Title: fmt.Sprintf("What is kept of this run was changed past Dynacor: %v.", why),
		Remedy: "Add nothing and change nothing. Tell whoever looks after the database, and compare with the last anchor and the backups. Run " + id.String() + "."}
}

func eventsOf(entries []record.Entry) []run.Event {
	out := make([]run.Event, len(entries))
	for i, e := range entries {
		out[i] = e.Event
	}
	return out
}
