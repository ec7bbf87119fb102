package standin

import (
	"context"
	"encoding/json"
	"net/http"
	"sync"
	"time"

	"github.com/coder/websocket"

	"dynacor/core/practice"
)

// command is what a page asks of a tool.
type command struct {
	Tag       string             `json:"tag"`
	Do        string             `json:"do"` // hold, release, set, measure, next, faults
	Value     float64            `json:"value"`
	Condition practice.Condition `json:"condition"`
	Faults    Faults             `json:"faults"`
}

// refresh is how often a page is told.
const refresh = 50 * time.Millisecond

// Handler serves the pages of the stand-ins from pages, and talks to them.
func Handler(tools []*Tool, pages http.Handler) http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("/standin/link", func(w http.ResponseWriter, r *http.Request) { talk(w, r, tools) })
	mux.HandleFunc("/", func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path == "/" {
			http.Redirect(w, r, "/standin.html", http.StatusFound)
			return
		}
		pages.ServeHTTP(w, r)
	})
	return mux
}

func talk(w http.ResponseWriter, r *http.Request, tools []*Tool) {
	ws, err := websocket.Accept(w, r, nil)
	if err != nil {
		return
	}
	ctx, cancel := context.WithCancel(r.Context())
	defer ws.CloseNow() //nolint:errcheck // the page is gone either way
	defer cancel()
	h := holds{stop: map[string]context.CancelFunc{}}
	defer h.all()
	go func() {
		defer cancel()
		for {
			_, data, err := ws.Read(ctx)
			if err != nil {
				return
			}
			var c command
			if json.Unmarshal(data, &c) == nil {
				for _, t := range tools {
					if t.cfg.Tag == c.Tag {
						h.do(ctx, t, c)
					}
				}
			}
		}
	}()
	beat := time.NewTicker(refresh)
	defer beat.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-beat.C:
			states := make([]State, len(tools))
			for i, t := range tools {
				states[i] = t.State()
			}
			data, err := json.Marshal(states)
			if err != nil || ws.Write(ctx, websocket.MessageText, data) != nil {
				return
			}
		}
	}
}

// holds are the pulls that a page keeps up; when the page goes they end, as a hand that is taken off.
type holds struct {
	mu   sync.Mutex
	stop map[string]context.CancelFunc
}

func (h *holds) do(ctx context.Context, t *Tool, c command) {
	h.mu.Lock()
	defer h.mu.Unlock()
	stop, held := h.stop[c.Tag]
	switch c.Do {
	case "hold":
		if !held {
			pull, cancel := context.WithCancel(ctx)
			h.stop[c.Tag] = cancel
			go t.Hold(pull)
		}
	case "release":
		if held {
			stop()
			delete(h.stop, c.Tag)
		}
	case "set":
		t.Set(c.Value)
	case "measure":
		t.Measure(time.Now(), c.Value)
		t.nudge()
	case "next":
		t.NextBolt(c.Condition)
	case "faults":
		t.SetFaults(c.Faults)
	}
}

func (h *holds) all() {
	h.mu.Lock()
	defer h.mu.Unlock()
	for _, stop := range h.stop {
		stop()
	}
}

// Seed makes a number from a tag, so that each tool has friction of its own and the same one every time.
func Seed(tag string) uint64 {
	var n uint64 = 14695981039346656037
	for _, c := range []byte(tag) {
		n = (n ^ uint64(c)) * 1099511628211
	}
	return n
}
