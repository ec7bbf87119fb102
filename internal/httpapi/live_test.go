package httpapi_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"runtime"
	"sort"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/demo/demotest"
	"dynacor/internal/httpapi"
	"dynacor/internal/identity"
	"dynacor/internal/identity/identitytest"
	"dynacor/internal/live"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

// living is a server that tells live what happens.
func living(t testing.TB) (*httptest.Server, *app.App) {
	t.Helper()
	ctx, cancel := context.WithCancel(context.Background())
	pool, err := store.Open(ctx, storetest.Serving(demotest.URL(t, time.Now())), 16)
	require.NoError(t, err)
	a := app.New(pool, identity.NewTestHasher(), nil)
	log := slog.New(slog.NewTextHandler(io.Discard, nil))
	hub := live.New(pool, log)
	go hub.Run(ctx)
	a.Tell(hub.Publish)
	h, err := httpapi.New(a, pool, http.NotFoundHandler(), httpapi.Options{Log: log, Live: hub})
	require.NoError(t, err)
	s := httptest.NewServer(h)
	t.Cleanup(func() { s.CloseClientConnections(); s.Close(); cancel(); pool.Close() })
	return s, a
}

// tablet is a device with a key, signed in as somebody over the interface.
type tablet struct {
	base   string
	key    identitytest.Device
	person run.Person
	cookie string
	http   *http.Client
}

func signIn(t testing.TB, base string, a *app.App, name, pin string) *tablet {
	t.Helper()
	people, err := a.People(context.Background())
	require.NoError(t, err)
	d := &tablet{base: base, key: identitytest.NewDevice(),
		http: &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: 4}}}
	for _, p := range people {
		if p.Name == name {
			d.person = p
		}
	}
	res, _ := d.send(t, "POST", "/session", app.SignInInput{PersonID: d.person.ID, PIN: pin, DeviceKey: d.key.Public(),
		DeviceProof: d.key.Sign(identity.SignInText(d.person.ID, d.key.Key.ID))})
	require.Equal(t, http.StatusOK, res.StatusCode)
	d.cookie = strings.Split(res.Header.Get("Set-Cookie"), ";")[0]
	return d
}

func (d *tablet) send(t testing.TB, method, path string, body any) (*http.Response, []byte) {
	t.Helper()
	data, err := json.Marshal(body)
	require.NoError(t, err)
	req, err := http.NewRequest(method, d.base+"/api"+path, strings.NewReader(string(data)))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Cookie", d.cookie)
	res, err := d.http.Do(req)
	require.NoError(t, err)
	defer res.Body.Close()
	out, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return res, out
}

// note records one event on a run.
func (d *tablet) note(t testing.TB, runID string) time.Duration {
	t.Helper()
	text, err := json.Marshal(run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: time.Now(),
		Person: d.person, Note: "wind picks up"})
	require.NoError(t, err)
	p := app.Parcel{Clock: time.Now(),
		Events: []app.SentEvent{{Text: string(text), Proof: d.key.Sign(identity.EventText(runID, string(text)))}}}
	begin := time.Now()
	res, out := d.send(t, "POST", "/runs/"+runID+"/events", p)
	took := time.Since(begin)
	require.Equal(t, http.StatusOK, res.StatusCode, string(out))
	require.Contains(t, string(out), `"refused":""`)
	return took
}

// listen opens a stream on a run; lines are handed over until it ends.
func (d *tablet) listen(t testing.TB, runID string) (int, *bufio.Scanner, func()) {
	t.Helper()
	req, err := http.NewRequest("GET", d.base+"/api/live?run="+runID, nil)
	require.NoError(t, err)
	req.Header.Set("Cookie", d.cookie)
	res, err := (&http.Client{}).Do(req)
	require.NoError(t, err)
	sc := bufio.NewScanner(res.Body)
	sc.Buffer(nil, 1<<20)
	return res.StatusCode, sc, func() { _ = res.Body.Close() }
}

// A listener is told what was added, and needs not ask for the whole run; its stream ends with the sign-in, and one
// sign-in has only so many.
func TestStreamsAreBoundedAndEnd(t *testing.T) {
	s, a := living(t)
	d := signIn(t, s.URL, a, "M. Tolley", "4071")
	j, err := a.Joint(context.Background(), "SW-114")
	require.NoError(t, err)
	status, lines, stop := d.listen(t, j.RunID)
	defer stop()
	require.Equal(t, http.StatusOK, status)
	require.True(t, lines.Scan()) // the stream is open
	d.note(t, j.RunID)
	var note struct {
		Kind string    `json:"kind"`
		Data app.Added `json:"data"`
	}
	for lines.Scan() {
		if data, ok := strings.CutPrefix(lines.Text(), "data: {\"topic\""); ok {
			require.NoError(t, json.Unmarshal([]byte(`{"topic"`+data), &note))
			break
		}
	}
	require.Equal(t, "events", note.Kind)
	require.Len(t, note.Data.Entries, 1)
	require.Equal(t, note.Data.Seq, note.Data.Entries[0].Seq)
	require.Equal(t, "wind picks up", note.Data.Entries[0].Event.Note)
	res, out := d.send(t, "GET", fmt.Sprintf("/runs/%s/events?after=%d", j.RunID, note.Data.Seq-1), nil)
	require.Equal(t, http.StatusOK, res.StatusCode)
	require.Contains(t, string(out), note.Data.Entries[0].Hash, "who missed it asks for what is behind")

	for range 7 {
		status, _, stop := d.listen(t, j.RunID)
		require.Equal(t, http.StatusOK, status)
		defer stop()
	}
	status, _, stop = d.listen(t, j.RunID)
	stop()
	require.Equal(t, http.StatusTooManyRequests, status)
	d.send(t, "DELETE", "/session", nil)
	ended := make(chan bool, 1)
	go func() {
		for lines.Scan() {
		}
		ended <- true
	}()
	select {
	case <-ended:
	case <-time.After(10 * time.Second):
		t.Fatal("the stream goes on after signing out")
	}
}

// A body that never arrives is cut, and holds nothing meanwhile.
func TestSlowBodyIsCut(t *testing.T) {
	httpapi.SlowestBodyForTest(t, 300*time.Millisecond)
	s, _ := living(t)
	c, err := net.Dial("tcp", strings.TrimPrefix(s.URL, "http://"))
	require.NoError(t, err)
	defer c.Close()
	_, err = fmt.Fprint(c, "POST /api/session HTTP/1.1\r\nHost: x\r\nContent-Type: "+
		"application/json\r\nContent-Length: 50\r\n\r\n{")
	require.NoError(t, err)
	require.NoError(t, c.SetReadDeadline(time.Now().Add(10*time.Second)))
	begin := time.Now()
	line, err := bufio.NewReader(c).ReadString('\n')
	require.NoError(t, err)
	require.Contains(t, line, "408")
	require.Less(t, time.Since(begin), 5*time.Second)
}

// Five hundred listen while fifty record, each once in a while as people do. The yardstick is the same recorders with
// nobody listening.
func BenchmarkListeners(b *testing.B) {
	app.CollectSeldom()
	s, a := living(b)
	ctx := context.Background()
	var crew []*tablet
	var runs []string
	for i := range 50 {
		tag := fmt.Sprintf("LIVE-%02d", i)
		_, err := a.CopyJoint(ctx, app.Actor{Person: run.Person{Name: "J. Hartwell", Role: authority.Engineer}},
			"SW-112", tag)
		require.NoError(b, err)
		d := signIn(b, s.URL, a, "M. Tolley", "4071")
		v, err := a.StartRun(ctx, app.Actor{Person: d.person}, tag, plan.Choices{}, "")
		require.NoError(b, err)
		crew, runs = append(crew, d), append(runs, v.ID)
	}
	record := func(b *testing.B) {
		var mu sync.Mutex
		var took []time.Duration
		var wg sync.WaitGroup
		for i, d := range crew {
			wg.Go(func() {
				for range 10 {
					time.Sleep(time.Duration(300+i*8) * time.Millisecond)
					t := d.note(b, runs[i])
					mu.Lock()
					took = append(took, t)
					mu.Unlock()
				}
			})
		}
		wg.Wait()
		sort.Slice(took, func(i, j int) bool { return took[i] < took[j] })
		b.ReportMetric(float64(took[len(took)/2].Microseconds())/1000, "ms_in_50_of_100")
		b.ReportMetric(float64(took[len(took)*99/100].Microseconds())/1000, "ms_in_99_of_100")
	}
	b.Run("yardstick: nobody listens", func(b *testing.B) {
		for range b.N {
			record(b)
		}
	})
	var heard atomic.Int64
	for i := range 500 {
		d := *crew[i%50]
		if i >= 350 { // a sign-in has so many streams
			d = *signIn(b, s.URL, a, "I. Quaye", "5826")
		}
		status, lines, stop := d.listen(b, runs[i%50])
		require.Equal(b, http.StatusOK, status)
		b.Cleanup(stop)
		go func() {
			for lines.Scan() {
				if strings.HasPrefix(lines.Text(), "event: note") {
					heard.Add(1)
				}
			}
		}()
	}
	b.Run("500 listen", func(b *testing.B) {
		for range b.N {
			record(b)
		}
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		b.ReportMetric(float64(m.Sys)/(1<<20), "MB_with_the_listeners")
		b.ReportMetric(float64(heard.Load()), "notes_heard")
	})
}
