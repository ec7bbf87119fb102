package e2e

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
)

// Servers and database are killed and restarted in a seeded order while devices record, and finished joints are sealed
// side by side. Whatever was acknowledged is there, once, and every chain holds. A few rounds here; DYNACOR_SOAK asks
// for more.
func TestSoak(t *testing.T) {
	t.Parallel()
	rounds, seed := 4, uint64(20261128)
	if n, err := strconv.Atoi(os.Getenv("DYNACOR_SOAK")); err == nil {
		rounds = n
	}
	dir := filepath.Join(os.TempDir(), fmt.Sprintf("dynacor-soak-%d-%d", os.Getpid(), time.Now().UnixNano()))
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	r := newRig(t, filepath.Join(dir, "data"))
	t.Cleanup(func() { r.pool() })
	var toSeal []string
	for i := range 4 {
		tag := fmt.Sprintf("SOAK-%d", i)
		_, err := r.app.CopyJoint(context.Background(), app.Actor{Person: r.crew["J. Hartwell"]}, "SW-112", tag)
		require.NoError(t, err)
		toSeal = append(toSeal, r.finished(tag))
	}
	var crew []*recorder
	for i := range 6 {
		tag := fmt.Sprintf("REC-%d", i)
		_, err := r.app.CopyJoint(context.Background(), app.Actor{Person: r.crew["J. Hartwell"]}, "SW-112", tag)
		require.NoError(t, err)
		c := r.recorder(tag)
		c.at = i % 2
		crew = append(crew, c)
	}
	var stop atomic.Bool
	var wg sync.WaitGroup
	errs := make(chan error, len(crew))
	for _, c := range crew {
		wg.Go(func() {
			for !stop.Load() {
				if err := c.record(&stop); err != nil {
					errs <- err
					return
				}
			}
		})
	}

	// Four seal at once while six record, through servers of four connections each.
	sealed := make(chan string, len(toSeal))
	for i, id := range toSeal {
		go func() {
			status, body := crew[i].post("/runs/"+id+"/seal", nil)
			sealed <- fmt.Sprintf("%d %.200s", status, body)
		}()
	}
	for range toSeal {
		select {
		case s := <-sealed:
			require.True(t, strings.HasPrefix(s, "200"), s)
		case <-time.After(30 * time.Second):
			t.Fatal("sealing side by side stands still")
		}
	}

	dice := rand.New(rand.NewPCG(seed, uint64(rounds)))
	for range rounds {
		time.Sleep(time.Duration(100+dice.IntN(400)) * time.Millisecond)
		switch dice.IntN(5) {
		case 0, 1:
			i := dice.IntN(2)
			r.killServer(i)
			r.startServer(i)
		case 2: // the database, under both servers
			require.NoError(t, r.pg.Kill())
			r.startDatabase()
		case 3: // restarted in good order, under both
			require.NoError(t, r.pg.Stop())
			r.startDatabase()
		default: // everything
			r.killServer(0)
			require.NoError(t, r.pg.Kill())
			r.killServer(1)
			r.startDatabase()
			r.startServer(1)
			r.startServer(0)
		}
	}
	time.Sleep(300 * time.Millisecond)
	r.ready(0, true)
	r.ready(1, true)
	stop.Store(true)
	wg.Wait()
	close(errs)
	for err := range errs {
		t.Error(err)
	}
	acknowledged, lost, doubled, broken := r.count(crew)
	sent := 0
	for _, c := range crew {
		sent += c.sent
	}
	t.Logf("%d rounds: %d sent, %d acknowledged, %d lost, %d doubled, %d broken", rounds, sent, acknowledged, lost,
		doubled, broken)
	require.Greater(t, acknowledged, 10*rounds)
	require.Zero(t, lost)
	require.Zero(t, doubled)
	require.Zero(t, broken)
}

// A full disk is told as one: nothing is acknowledged that is not kept, the server says that it is not ready, and it
// goes on when there is room again. Needs a small file system of its own; only in the long form.
func TestSoakDiskFull(t *testing.T) {
	t.Parallel()
	if os.Getenv("DYNACOR_SOAK") == "" {
		t.Skip("only in make soak")
	}
	dir := filepath.Join(os.TempDir(), fmt.Sprintf("dynacor-full-%d-%d", os.Getpid(), time.Now().UnixNano()))
	require.NoError(t, os.MkdirAll(dir, 0o755))
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	if err := syscall.Mount("none", dir, "tmpfs", 0, "size=400m,mode=755"); err != nil {
		t.Skipf("no small file system can be mounted here: %v", err)
	}
	t.Cleanup(func() { _ = syscall.Unmount(dir, 0) })
	r := newRig(t, filepath.Join(dir, "data"))
	t.Cleanup(func() { r.pool() })
	c := r.recorder("SW-112")
	var stop atomic.Bool
	for range 20 {
		require.NoError(t, c.record(&stop))
	}
	ballast := filepath.Join(dir, "ballast")
	f, err := os.Create(ballast)
	require.NoError(t, err)
	for block := make([]byte, 1<<20); ; {
		if _, err := f.Write(block); err != nil {
			break
		}
	}
	require.NoError(t, f.Close())
	// use up what was laid out for the log beforehand
	if own, err := pgx.Connect(context.Background(), r.url()); err == nil {
		for range 40 {
			if _, err := own.Exec(context.Background(),
				"create table if not exists filling (x text); insert into filling values (repeat('x', 100000)); "+
					"select pg_switch_wal()"); err != nil {
				break
			}
		}
		_ = own.Close(context.Background())
	}
	done := make(chan error, 1)
	go func() {
		for !stop.Load() {
			if err := c.record(&stop); err != nil {
				done <- err
				return
			}
		}
		done <- nil
	}()
	r.ready(0, false)
	before := len(c.acknowledged)
	time.Sleep(2 * time.Second)
	t.Logf("%d acknowledged before, %d while the disk was full", before, len(c.acknowledged))
	require.NoError(t, os.Remove(ballast))
	select {
	case <-r.pg.Done(): // a full disk may end PostgreSQL itself
		r.startDatabase()
	case <-time.After(time.Second):
	}
	r.ready(0, true)
	time.Sleep(time.Second)
	stop.Store(true)
	require.NoError(t, <-done)
	acknowledged, lost, doubled, broken := r.count([]*recorder{c})
	t.Logf("%d acknowledged, %d lost, %d doubled, %d broken", acknowledged, lost, doubled, broken)
	require.Zero(t, lost+doubled+broken)
}
