package e2e

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/demo"
	"dynacor/internal/identity"
	"dynacor/internal/identity/identitytest"
	"dynacor/internal/pgcluster"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

// rig is an installation under attack: a durable database, two servers of the built program, and devices that record.
type rig struct {
	t       *testing.T
	dir     string // of the database
	pg      *pgcluster.Server
	port    int
	addr    [2]string
	servers [2]*exec.Cmd
	env     []string
	app     *app.App // beside the servers, to look and to lay out
	pool    func()
	crew    map[string]run.Person
}

func freeAddr(t *testing.T) string {
	t.Helper()
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer ln.Close()
	return ln.Addr().String()
}

func newRig(t *testing.T, dir string) *rig {
	t.Helper()
	ctx := context.Background()
	r := &rig{t: t, dir: dir, env: keyed(t), crew: map[string]run.Person{}}
	_, port, err := net.SplitHostPort(freeAddr(t))
	require.NoError(t, err)
	r.port, err = strconv.Atoi(port)
	require.NoError(t, err)
	r.startDatabase()
	t.Cleanup(func() { _ = r.pg.Stop() })
	require.NoError(t, storetest.Prepare(ctx, r.url()))
	r.look()
	require.NoError(t, demo.Load(ctx, r.app, time.Now()))
	people, err := r.app.People(ctx)
	require.NoError(t, err)
	for _, p := range people {
		r.crew[p.Name] = p
	}
	for i := range r.servers {
		r.addr[i] = freeAddr(t)
		r.startServer(i)
	}
	t.Cleanup(func() {
		for i := range r.servers {
			r.killServer(i)
		}
	})
	return r
}

func (r *rig) url() string { return r.pg.URL("postgres") }

func (r *rig) startDatabase() {
	r.t.Helper()
	pg, err := pgcluster.Start(context.Background(), pgcluster.Config{DataDir: r.dir, Durable: true, Port: r.port})
	require.NoError(r.t, err)
	r.pg = pg
}

// look opens the installation beside the servers.
func (r *rig) look() {
	r.t.Helper()
	if r.pool != nil {
		r.pool()
	}
	ctx := context.Background()
	pool, err := store.Open(ctx, storetest.Serving(r.url()), 4)
	require.NoError(r.t, err)
	r.pool = pool.Close
	r.app = app.New(pool, identity.NewTestHasher(), nil)
	require.NoError(r.t, r.app.Prepare(ctx))
	require.NoError(r.t, r.app.UseKey(ctx, storetest.Key()))
}

func (r *rig) startServer(i int) {
	r.t.Helper()
	cmd := exec.Command("../bin/dynacor", "serve", "--database-url", storetest.Serving(r.url()), "--addr", r.addr[i],
		"--connections", "4")
	cmd.Env = append(os.Environ(), r.env...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	require.NoError(r.t, cmd.Start())
	r.servers[i] = cmd
	r.ready(i, true)
}

// ready waits until a server says that it can, or cannot, take work.
func (r *rig) ready(i int, want bool) {
	r.t.Helper()
	c := http.Client{Timeout: 5 * time.Second}
	for end := time.Now().Add(60 * time.Second); ; time.Sleep(50 * time.Millisecond) {
		res, err := c.Get("http://" + r.addr[i] + "/readyz")
		if err == nil {
			_ = res.Body.Close()
			if (res.StatusCode == http.StatusOK) == want {
				return
			}
		}
		require.False(r.t, time.Now().After(end), "server %d is never ready=%v: %v", i, want, err)
	}
}

func (r *rig) killServer(i int) {
	if r.servers[i] != nil {
		_ = r.servers[i].Process.Kill()
		_ = r.servers[i].Wait()
		r.servers[i] = nil
	}
}

// recorder is a device that records notes on a run, sends each until it hears what became of it, and remembers what was
// acknowledged.
type recorder struct {
	r    *rig
	who  run.Person
	key  identitytest.Device
	run  string
	http http.Client
	at   int // which server it speaks to

	acknowledged []string
	sent         int
}

func (r *rig) recorder(tag string) *recorder {
	r.t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(r.t, err)
	v, err := r.app.StartRun(context.Background(), app.Actor{Person: r.crew["M. Tolley"]}, tag, plan.Choices{}, "")
	require.NoError(r.t, err)
	c := &recorder{r: r, who: r.crew["M. Tolley"], key: identitytest.NewDevice(), run: v.ID,
		http: http.Client{Jar: jar, Timeout: 5 * time.Second}}
	in := app.SignInInput{PersonID: c.who.ID, PIN: pins["M. Tolley"], DeviceKey: c.key.Public(),
		DeviceProof: c.key.Sign(identity.SignInText(c.who.ID, c.key.Key.ID))}
	status, _ := c.post("/session", in)
	require.Equal(r.t, http.StatusOK, status)
	return c
}

// post sends to the server in turn; 0 when no answer came.
func (c *recorder) post(path string, body any) (int, []byte) {
	data, err := json.Marshal(body)
	if err != nil {
		return 0, nil
	}
	res, err := c.http.Post("http://"+c.r.addr[c.at]+"/api"+path, "application/json", strings.NewReader(string(data)))
	if err != nil {
		return 0, nil
	}
	defer res.Body.Close()
	out, err := io.ReadAll(res.Body)
	if err != nil {
		return 0, nil // cut off in the middle: nothing is known
	}
	return res.StatusCode, out
}

// record sends one event again and again until its fate is known, or until stop.
func (c *recorder) record(stop *atomic.Bool) error {
	e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: time.Now(), Person: c.who, Note: "soak"}
	text, err := json.Marshal(e)
	if err != nil {
		return err
	}
	p := app.Parcel{Events: []app.SentEvent{{Text: string(text),
		Proof: c.key.Sign(identity.EventText(c.run, string(text)))}}}
	for !stop.Load() {
		p.Clock = time.Now()
		c.sent++
		status, body := c.post("/runs/"+c.run+"/events", p)
		var res app.Appended
		if status == http.StatusOK && json.Unmarshal(body, &res) == nil && len(res.Acks) == 1 {
			if res.Acks[0].Refused != "" {
				return fmt.Errorf("refused: %s", res.Acks[0].Refused)
			}
			c.acknowledged = append(c.acknowledged, e.ID)
			return nil
		}
		if status != 0 && status != http.StatusServiceUnavailable {
			return fmt.Errorf("answered %d: %.300s", status, body)
		}
		c.at = 1 - c.at
		time.Sleep(20 * time.Millisecond)
	}
	return nil
}

// count compares what was acknowledged with what is kept.
func (r *rig) count(crew []*recorder) (acknowledged, lost, doubled, broken int) {
	r.t.Helper()
	r.look()
	ctx := context.Background()
	for _, c := range crew {
		v, err := r.app.Run(ctx, c.run)
		require.NoError(r.t, err)
		seen := map[string]int{}
		for _, e := range v.Entries {
			seen[e.Event.ID]++
		}
		for _, id := range c.acknowledged {
			acknowledged++
			if seen[id] == 0 {
				lost++
			}
		}
		for _, n := range seen {
			if n > 1 {
				doubled++
			}
		}
	}
	h, err := r.app.VerifyAll(ctx, nil)
	require.NoError(r.t, err)
	for _, p := range h.Problems {
		r.t.Log(p)
	}
	return acknowledged, lost, doubled, len(h.Problems)
}

// finished carries a joint to its closing signatures, beside the servers.
func (r *rig) finished(tag string) string {
	r.t.Helper()
	ctx := context.Background()
	who := app.Actor{Person: r.crew["M. Tolley"]}
	v, err := r.app.StartRun(ctx, who, tag, plan.Choices{}, "")
	require.NoError(r.t, err)
	s := coretest.NewScript(v.Plan)
	s.Person, s.At = who.Person, time.Now().Add(-10*time.Hour)
	s.Events = append(s.Events, v.Entries[0].Event)
	sent := 1
	send := func() {
		list := s.Events[sent:]
		for i := range list {
			list[i].ID = uuid.Must(uuid.NewV7()).String()
		}
		sent = len(s.Events)
		if len(list) == 0 {
			return
		}
		res, err := r.app.AppendEvents(ctx, who, v.ID, list)
		require.NoError(r.t, err)
		for _, a := range res.Acks {
			require.Empty(r.t, a.Refused)
		}
	}
	sign := func(name string, purpose run.Purpose, check string) {
		send()
		head, err := r.app.Head(ctx, v.ID)
		require.NoError(r.t, err)
		after, err := r.app.Sign(ctx, who, v.ID, app.SignatureInput{ID: uuid.Must(uuid.NewV7()).String(), Head: head,
			PersonID: r.crew[name].ID, PIN: pins[name], Purpose: purpose, Check: check})
		require.NoError(r.t, err)
		s.Events, sent = append(s.Events, after.Entries[len(after.Entries)-1].Event), sent+1
	}
	checks := func(stop procedure.Station) {
		for _, c := range s.Plan.Checks {
			if c.Station != stop {
				continue
			}
			s.Add(s.Right(c))
			if c.Hold {
				sign("I. Quaye", run.SignHold, c.Code)
			}
		}
	}
	checks(procedure.Ready)
	s.Tighten()
	checks(procedure.Prove)
	checks(procedure.HandOver)
	sign("M. Tolley", run.SignTightened, "")
	sign("R. Abara", run.SignProved, "")
	return v.ID
}
