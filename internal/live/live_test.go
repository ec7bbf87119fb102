package live_test

import (
	"context"
	"log/slog"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/live"
	"dynacor/internal/store/storetest"
)

func next(t *testing.T, c <-chan live.Note) live.Note {
	t.Helper()
	select {
	case n := <-c:
		return n
	case <-time.After(5 * time.Second):
		t.Fatal("nothing was told")
		return live.Note{}
	}
}

// Two servers on one database: a note reaches those who listen at either, once, and nobody else.
func TestNotesReachEveryServer(t *testing.T) {
	pool := storetest.New(t)
	log := slog.New(slog.NewTextHandler(os.Stderr, nil))
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	one, two := live.New(pool, log), live.New(pool, log)
	go one.Run(ctx)
	go two.Run(ctx)
	here, stopHere := one.Subscribe("run:a")
	defer stopHere()
	there, stopThere := two.Subscribe("run:a", "tool:E-03")
	defer stopThere()
	other, stopOther := two.Subscribe("run:b")
	defer stopOther()
	time.Sleep(300 * time.Millisecond) // until both listen
	one.Publish("run:a", "events", map[string]int{"seq": 7})
	require.JSONEq(t, `{"seq":7}`, string(next(t, here).Data))
	n := next(t, there)
	require.Equal(t, "run:a", n.Topic)
	require.JSONEq(t, `{"seq":7}`, string(n.Data))
	one.Publish("tool:E-03", "result", strings.Repeat("x", 20_000))
	n = next(t, there)
	require.Equal(t, "result", n.Kind)
	require.Empty(t, n.Data, "too long to carry: said without it, whoever listens asks")
	select {
	case n := <-other:
		t.Fatalf("told of what was not listened to: %v", n)
	case n := <-here:
		t.Fatalf("told twice: %v", n)
	case <-time.After(150 * time.Millisecond):
	}
	stopThere()
	one.Publish("run:a", "events", nil)
	next(t, here)
	select {
	case n := <-there:
		t.Fatalf("told after it had gone: %v", n)
	case <-time.After(150 * time.Millisecond):
	}
}

// A listener that does not take its notes holds up nobody.
func TestSlowListenerIsLeftBehind(t *testing.T) {
	h := live.New(nil, slog.New(slog.NewTextHandler(os.Stderr, nil)))
	slow, stop := h.Subscribe("run:a")
	defer stop()
	begun := time.Now()
	for range 1000 {
		h.Publish("run:a", "events", nil)
	}
	require.Less(t, time.Since(begun), time.Second)
	require.Len(t, slow, cap(slow))
}
