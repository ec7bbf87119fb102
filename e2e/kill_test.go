package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/demo"
	"dynacor/internal/identity"
	"dynacor/internal/identity/identitytest"
	"dynacor/internal/keys"
	"dynacor/internal/pgcluster"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

// client speaks to the API as a device does.
type client struct {
	t    *testing.T
	base string
	http http.Client
}

func newClient(t *testing.T, base string) *client {
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &client{t, base, http.Client{Jar: jar, Timeout: 10 * time.Second}}
}

func (c *client) call(method, path string, body, into any) (int, error) {
	var r io.Reader
	if body != nil {
		b, err := json.Marshal(body)
		require.NoError(c.t, err)
		r = bytes.NewReader(b)
	}
	req, err := http.NewRequest(method, c.base+"/api"+path, r)
	require.NoError(c.t, err)
	req.Header.Set("Content-Type", "application/json")
	res, err := c.http.Do(req)
	if err != nil {
		return 0, err
	}
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	if err == nil && into != nil && res.StatusCode < 300 {
		err = json.Unmarshal(data, into)
	}
	if res.StatusCode >= 300 && err == nil {
		err = fmt.Errorf("%s %s: %d %s", method, path, res.StatusCode, data)
	}
	return res.StatusCode, err
}

func (c *client) must(method, path string, body, into any) {
	c.t.Helper()
	_, err := c.call(method, path, body, into)
	require.NoError(c.t, err)
}

// keyed writes the signing key of the tests into a file and gives the settings that name it.
func keyed(t *testing.T) []string {
	t.Helper()
	secret := "a secret of the tests"
	path := filepath.Join(t.TempDir(), "site.key")
	_, err := keys.Write(path, []byte(secret), storetest.Key().Private)
	require.NoError(t, err)
	return []string{"DYNACOR_KEY=" + path, "DYNACOR_KEY_PASSPHRASE=" + secret}
}

// startServer runs the built program; the returned process is killed by the test itself.
func startServer(t *testing.T, url, addr string) *exec.Cmd {
	t.Helper()
	cmd := exec.Command("../bin/dynacor", "serve", "--database-url", storetest.Serving(url), "--addr", addr)
	cmd.Env = append(os.Environ(), keyed(t)...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	require.NoError(t, cmd.Start())
	for end := time.Now().Add(15 * time.Second); ; time.Sleep(30 * time.Millisecond) {
		res, err := http.Get("http://" + addr + "/readyz")
		if err == nil {
			res.Body.Close()
			if res.StatusCode == http.StatusOK {
				return cmd
			}
		}
		require.False(t, time.Now().After(end), "the server did not come up: %v", err)
	}
}

func kill(t *testing.T, cmd *exec.Cmd) {
	t.Helper()
	require.NoError(t, cmd.Process.Kill())
	_ = cmd.Wait()
}

// Server and database are killed, as by a power cut, between bolts. Whatever was acknowledged is there after the
// restart, once; what the device sends again because it never heard the answer is one event too.
func TestAcknowledgedEventsSurviveKill(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	pg, dir, stop, err := storetest.Cluster(ctx, true)
	require.NoError(t, err)
	t.Cleanup(func() { stop() })
	url := pg.URL("postgres")
	require.NoError(t, storetest.Prepare(ctx, url))
	pool, err := store.Open(ctx, storetest.Serving(url), 4)
	require.NoError(t, err)
	a := app.New(pool, identity.NewTestHasher(), nil)
	require.NoError(t, a.Prepare(ctx))
	require.NoError(t, a.UseKey(ctx, storetest.Key()))
	require.NoError(t, demo.Load(ctx, a, time.Now()))
	pool.Close()

	ln, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	addr := ln.Addr().String()
	require.NoError(t, ln.Close())
	srv := startServer(t, url, addr)
	c := newClient(t, "http://"+addr)
	var people []run.Person
	c.must("GET", "/people", nil, &people)
	var tolley run.Person
	for _, p := range people {
		if p.Name == "M. Tolley" {
			tolley = p
		}
	}
	tablet := identitytest.NewDevice()
	c.must("POST", "/session", app.SignInInput{PersonID: tolley.ID, PIN: "4071", DeviceKey: tablet.Public(),
		DeviceProof: tablet.Sign(identity.SignInText(tolley.ID, tablet.Key.ID))}, nil)
	var view app.RunView
	c.must("POST", "/joints/SW-112/runs", map[string]any{"choices": plan.Choices{}, "reason": ""}, &view)

	made := func(k run.Kind, f int) run.Event {
		return run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: k, At: time.Now(), Person: tolley, Pass: 1,
			Fastener: f, Outcome: run.Clicked, Setting: 63, Note: "a note"}
	}
	var acknowledged []string
	send := func(e run.Event) error {
		var res app.Appended
		text, err := json.Marshal(e)
		require.NoError(t, err)
		sent := app.SentEvent{Text: string(text), Proof: tablet.Sign(identity.EventText(view.ID, string(text)))}
		if _, err := c.call("POST", "/runs/"+view.ID+"/events",
			app.Parcel{Clock: time.Now(), Events: []app.SentEvent{sent}}, &res); err != nil {
			return err
		}
		require.Empty(t, res.Acks[0].Refused)
		acknowledged = append(acknowledged, e.ID)
		return nil
	}
	for f := 1; f <= 4; f++ {
		require.NoError(t, send(made(run.Pulled, f)))
	}
	last := made(run.Pulled, 5)
	require.NoError(t, send(last))
	kill(t, srv)
	require.Error(t, send(made(run.Pulled, 6)), "nobody answers")

	srv = startServer(t, url, addr)
	require.NoError(t, send(last), "the device never heard the answer and sends it again")
	acknowledged = acknowledged[:len(acknowledged)-1]
	require.NoError(t, send(made(run.Pulled, 6)))

	// Now the database.
	require.NoError(t, pg.Kill())
	require.Error(t, send(made(run.Pulled, 7)))
	kill(t, srv)
	pg, err = pgcluster.Start(ctx, pgcluster.Config{DataDir: dir, Durable: true})
	require.NoError(t, err)
	stop = func() { _ = pg.Stop() }
	srv = startServer(t, pg.URL("postgres"), addr)
	defer kill(t, srv)
	var after app.RunView
	c.must("GET", "/runs/"+view.ID, nil, &after)
	seen := map[string]int{}
	for i, e := range after.Entries {
		require.Equal(t, i+1, e.Seq)
		seen[e.Event.ID]++
	}
	for _, id := range acknowledged {
		require.Equal(t, 1, seen[id], "event %s", id)
	}
	require.Len(t, after.Entries, 1+len(acknowledged), "read, and each pull once")
	require.Equal(t, 8, after.State.Next.Fastener, "the place is kept: 6 was the last, 8 follows in the order")
}
