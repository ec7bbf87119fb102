// Package live tells open pages what has just happened: events of a run, results and samples of devices. It reaches
// every server on the same database through LISTEN and NOTIFY. It must never carry what would be missed if it were
// lost: whoever listens asks again after a gap.
package live

import (
	"context"
	"encoding/json"
	"log/slog"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
)

const channel = "dynacor_live"

// mostPayload is what PostgreSQL lets through in one notification, less a margin.
const mostPayload = 7800

// Note is one thing that happened.
type Note struct {
	Topic string          `json:"topic"` // run:<id> or tool:<tag>
	Kind  string          `json:"kind"`  // events, result, sample, status, aim
	Data  json.RawMessage `json:"data,omitempty"`
	From  string          `json:"from"` // the server it came from

	text []byte // the note in JSON, worked out once for all who listen
}

// Text is the note in JSON.
func (n Note) Text() []byte { return n.text }

// Hub hands notes to those who listen, here and on other servers.
type Hub struct {
	pool *pgxpool.Pool
	log  *slog.Logger
	id   string
	out  chan Note
	mu   sync.Mutex
	subs map[string]map[chan Note]bool // by topic
}

// New makes a hub; nothing goes to other servers before Run.
func New(pool *pgxpool.Pool, log *slog.Logger) *Hub {
	return &Hub{pool: pool, log: log, id: uuid.NewString(), out: make(chan Note, 256),
		subs: map[string]map[chan Note]bool{}}
}

// Publish hands a note to all who listen to its topic. It never waits: a listener too slow loses the note, and asks
// again later.
func (h *Hub) Publish(topic, kind string, data any) {
	n := Note{Topic: topic, Kind: kind, From: h.id}
	if data != nil {
		raw, err := json.Marshal(data)
		if err != nil {
			h.log.Error("live note", "topic", topic, "error", err)
			return
		}
		n.Data = raw
	}
	h.deliver(n)
	select {
	case h.out <- n:
	default:
	}
}

func (h *Hub) deliver(n Note) {
	var err error
	if n.text, err = json.Marshal(n); err != nil {
		h.log.Error("live note", "topic", n.Topic, "error", err)
		return
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	for c := range h.subs[n.Topic] {
		select {
		case c <- n:
		default:
		}
	}
}

// mostUnread is how many notes wait for one listener; a slower one loses the next, and asks again when it sees the gap.
const mostUnread = 64

// Subscribe listens to topics until stop is called.
func (h *Hub) Subscribe(topics ...string) (notes <-chan Note, stop func()) {
	c := make(chan Note, mostUnread)
	h.mu.Lock()
	defer h.mu.Unlock()
	for _, t := range topics {
		if h.subs[t] == nil {
			h.subs[t] = map[chan Note]bool{}
		}
		h.subs[t][c] = true
	}
	return c, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		for _, t := range topics {
			if delete(h.subs[t], c); len(h.subs[t]) == 0 {
				delete(h.subs, t)
			}
		}
	}
}

// Run connects to the other servers until ctx ends; a lost connection is made again.
func (h *Hub) Run(ctx context.Context) {
	go h.send(ctx)
	for ctx.Err() == nil {
		if err := h.listen(ctx); err != nil && ctx.Err() == nil {
			h.log.Warn("live notes stopped, trying again", "error", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(time.Second):
		}
	}
}

func (h *Hub) listen(ctx context.Context) error {
	conn, err := pgx.ConnectConfig(ctx, h.pool.Config().ConnConfig)
	if err != nil {
		return err
	}
	defer func() { _ = conn.Close(context.WithoutCancel(ctx)) }()
	if _, err := conn.Exec(ctx, "listen "+channel); err != nil {
		return err
	}
	for {
		got, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		var n Note
		if json.Unmarshal([]byte(got.Payload), &n) == nil && n.From != h.id {
			h.deliver(n)
		}
	}
}

func (h *Hub) send(ctx context.Context) {
	for {
		select {
		case <-ctx.Done():
			return
		case n := <-h.out:
			raw, err := json.Marshal(n)
			if err == nil && len(raw) > mostPayload { // say that something is there, without it
				n.Data = nil
				raw, err = json.Marshal(n)
			}
			if err == nil {
				_, err = h.pool.Exec(ctx, "select pg_notify($1, $2)", channel, string(raw))
			}
			if err != nil && ctx.Err() == nil {
				h.log.Warn("a live note did not reach the other servers", "error", err)
			}
		}
	}
}
