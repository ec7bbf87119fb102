package httpapi_test

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"maps"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/stretchr/testify/require"

	"dynacor/core/calc"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/demo/demotest"
	"dynacor/internal/httpapi"
	"dynacor/internal/identity"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(storetest.Main(m)) }

type server struct {
	*httptest.Server
	t    *testing.T
	doc  *openapi3.T
	pool *pgxpool.Pool
	app  *app.App
}

func newServer(t *testing.T) *server {
	t.Helper()
	pool, err := store.Open(context.Background(), storetest.Serving(demotest.URL(t, time.Now())), 8)
	require.NoError(t, err)
	t.Cleanup(pool.Close)
	a := app.New(pool, identity.NewTestHasher(), nil)
	require.NoError(t, a.Prepare(context.Background()))
	require.NoError(t, a.UseKey(context.Background(), storetest.Key()))
	a.SetQueue(func(context.Context, pgx.Tx, uuid.UUID) error { return nil })
	pages := http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = io.WriteString(w, "page") })
	h, err := httpapi.New(a, pool, pages, httpapi.Options{Log: slog.New(slog.NewTextHandler(os.Stderr, nil)),
		Ready: a.Ready})
	require.NoError(t, err)
	doc, err := httpapi.GetSpec()
	require.NoError(t, err)
	doc.Servers = openapi3.Servers{{URL: "/api"}}
	s := &server{httptest.NewServer(h), t, doc, pool, a}
	t.Cleanup(s.Close)
	return s
}

// client is a browser of its own.
type client struct {
	s    *server
	http http.Client
	give [2]string // identifier and PIN of who gives leave
}

// with is the same browser with the leave of somebody.
func (d *client) with(name, pin string) *client {
	c := *d
	var people []run.Person
	d.ok("GET", "/people", nil, &people)
	for _, p := range people {
		if p.Name == name {
			c.give = [2]string{p.ID, pin}
		}
	}
	return &c
}

func (s *server) client(name string) *client {
	jar, err := cookiejar.New(nil)
	require.NoError(s.t, err)
	d := &client{s: s, http: http.Client{Jar: jar}}
	if name != "" {
		var people []run.Person
		d.ok("GET", "/people", nil, &people)
		pins := map[string]string{"K. Ness": "7193", "F. Orr": "8264", "I. Quaye": "5826", "M. Tolley": "4071", "R. Abara": "9340", "J. Hartwell": "2758", "B. Ode": "6193"}
		for _, p := range people {
			if p.Name == name {
				d.ok("POST", "/session", map[string]string{"personId": p.ID, "pin": pins[name]}, nil)
				return d
			}
		}
		s.t.Fatalf("nobody named %s", name)
	}
	return d
}

func (d *client) send(method, path string, body any) (*http.Response, []byte) {
	var r io.Reader
	kind := "application/json"
	switch b := body.(type) {
	case nil:
	case []byte:
		r, kind = bytes.NewReader(b), "application/octet-stream"
	default:
		j, err := json.Marshal(b)
		require.NoError(d.s.t, err)
		r = bytes.NewReader(j)
	}
	req, err := http.NewRequest(method, d.s.URL+"/api"+path, r)
	require.NoError(d.s.t, err)
	if body != nil {
		req.Header.Set("Content-Type", kind)
	}
	if d.give[0] != "" {
		req.Header.Set("Consent-Person", d.give[0])
		req.Header.Set("Consent-Pin", url.PathEscape(d.give[1]))
	}
	res, err := d.http.Do(req)
	require.NoError(d.s.t, err)
	data, err := io.ReadAll(res.Body)
	require.NoError(d.s.t, err)
	_ = res.Body.Close()
	d.fits(req, res, data)
	return res, data
}

// fits checks that an answer is what the contract says it is.
func (d *client) fits(req *http.Request, res *http.Response, data []byte) {
	d.s.t.Helper()
	if !strings.Contains(res.Header.Get("Content-Type"), "json") {
		return
	}
	r, err := gorillamux.NewRouter(d.s.doc)
	require.NoError(d.s.t, err)
	route, params, err := r.FindRoute(req)
	if err != nil {
		return // not in the contract: answered with a problem of its own
	}
	in := &openapi3filter.ResponseValidationInput{RequestValidationInput: &openapi3filter.RequestValidationInput{Request: req, PathParams: params, Route: route}, Status: res.StatusCode, Header: res.Header}
	in.SetBodyBytes(data)
	require.NoError(d.s.t, openapi3filter.ValidateResponse(context.Background(), in),
		"%s %s answers outside the contract", req.Method, req.URL.Path)
}

func (d *client) ok(method, path string, body, into any) {
	d.s.t.Helper()
	res, data := d.send(method, path, body)
	require.Less(d.s.t, res.StatusCode, 300, "%s %s: %s", method, path, data)
	if into != nil {
		require.NoError(d.s.t, json.Unmarshal(data, into))
	}
}

func (d *client) refused(method, path string, body any, status int) httpapi.Problem {
	d.s.t.Helper()
	res, data := d.send(method, path, body)
	require.Equal(d.s.t, status, res.StatusCode, "%s %s: %s", method, path, data)
	require.Equal(d.s.t, "application/problem+json", res.Header.Get("Content-Type"))
	var p httpapi.Problem
	require.NoError(d.s.t, json.Unmarshal(data, &p))
	require.NotEmpty(d.s.t, p.Title)
	require.Equal(d.s.t, status, p.Status)
	return p
}

// Every operation of the contract asks for a sign-in, except those that must be open to find out who is there.
func TestEveryRouteAsksWhoIsThere(t *testing.T) {
	s := newServer(t)
	nobody := s.client("")
	open := map[string]bool{"GET /people": true, "GET /session": true, "POST /session": true, "DELETE /session": true,
		"POST /verify": true, "GET /trust": true, "POST /first-day": true,
		"GET /calendar/{token}": true} // its secret is in its address
	n := 0
	for path, item := range s.doc.Paths.Map() {
		for method := range item.Operations() {
			n++
			if open[method+" "+path] {
				continue
			}
			p := strings.NewReplacer("{tag}", "SW-111", "{id}", "0199aaaa-0000-7000-8000-000000000001", "{number}",
				"TS-1", "{code}", "WP-47", "{photo}", "0199aaaa-0000-7000-8000-000000000001").Replace(path)
			nobody.refused(method, p, nil, http.StatusUnauthorized)
		}
	}
	require.Greater(t, n, 30)
}

func TestRolesAreEnforced(t *testing.T) {
	s := newServer(t)
	tech, inspector, admin := s.client("M. Tolley"), s.client("R. Abara"), s.client("B. Ode")
	reason := map[string]string{"reason": "checked"}
	tech.refused("POST", "/import/joints", []byte("x"), http.StatusForbidden)
	tech.refused("POST", "/tools/W-25/release", reason, http.StatusForbidden)
	tech.refused("PUT", "/joints/SW-111", map[string]any{}, http.StatusForbidden)
	inspector.refused("POST", "/joints/SW-116/runs", map[string]any{"choices": map[string]any{}, "reason": ""},
		http.StatusForbidden)
	inspector.ok("POST", "/tools/W-25/release", reason, nil)
	res, _ := admin.send("POST", "/import/joints",
		[]byte("tag,area,bolts,thread,material,lubricant\nA-1,N,8,M20,8.8,light_oil\n"))
	require.Equal(t, http.StatusOK, res.StatusCode, "an administrator may do what an engineer may")
}

func TestEveryViewAnswersWithinTheContract(t *testing.T) {
	s := newServer(t)
	d := s.client("J. Hartwell")
	var j app.JointDetail
	d.ok("GET", "/joints/SW-114", nil, &j)
	for _, path := range []string{"/session", "/trust", "/logins", "/audit", "/audit?q=people&below=40", "/today",
		"/joints", "/joints?q=cooler&sort=-tag&limit=3&offset=1", "/joints/SW-113", "/joints/SW-115", "/joints/SC-16",
		"/joints/GB-01", "/runs/" + j.RunID,
		"/crib", "/tool-kinds", "/doubts", "/tools/W-31/results", "/tools/W-52", "/library", "/house-rules",
		"/library/lubricants/L-07", "/library/threads/1%201%2F8-8%208UN", "/calculations", "/calculations?q=crowfoot",
		"/packages", "/packages/WP-47/needs", "/records", "/records/TS-" + time.Now().Format("2006") + "-00001"} {
		d.ok("GET", path, nil, nil)
	}
	d.ok("POST", "/anchors", nil, nil)
	d.ok("GET", "/anchors/1", nil, nil)
	d.ok("GET", "/runs/"+j.RunID+"/events?after=10", nil, nil)
	d.ok("POST", "/joints/SW-116/plan-preview", map[string]any{"scheme": "20_60_100", "pattern": "group",
		"numbering": "order", "lubricant": "light_oil"}, nil)
	for _, c := range calc.All() {
		d.ok("POST", "/calculations/"+c.Name, map[string]any{"values": c.Example(), "effects": true}, nil)
	}
	d.ok("POST", "/calculations/shrink_fit",
		map[string]any{"values": map[string]any{"diameter_mm": "120", "interference_mm": "0.14", "clearance_mm": 0.12,
			"ambient_C": "18", "alpha_hub_per_K": 1.15e-5, "hub_limit_C": "250"},
			// the last points are refused: null
			"units": map[string]any{"hub_C": "F"}, "also": "kgf_m", "sweep": map[string]any{"key": "clearance_mm",
				"from": 0.05, "to": 4, "points": 5}}, nil)
	d.ok("PUT", "/library/threads/1%201%2F8-8%208UN",
		map[string]any{"reason": "", "nut": map[string]any{"thread": "1 1/8-8", "acrossFlatsMm": 46.0,
			"bearingOuterMm": 0, "holeMm": 0, "source": "measured"}}, nil)
	d.ok("POST", "/library/threads/1%201%2F8-8%208UN/withdraw", map[string]any{"reason": "wrong nut"}, nil)
	d.ok("POST", "/tools/W-52/check-out", map[string]any{"place": "cooler"}, nil)
	d.ok("POST", "/tools/W-52/return", map[string]any{"dropped": false, "unwound": true, "complete": true}, nil)
	var checked app.ToolDetail
	d.ok("POST", "/tools/W-52/checks", map[string]any{"purpose": "pre_use", "meter": "M-1",
		"steps": []any{map[string]any{"set": 400.0, "readings": []float64{380, 384, 379}}}}, &checked)
	d.ok("POST", "/doubts/"+checked.Doubts[0].ID+"/close", map[string]any{"reason": "looked at"}, nil)
	d.ok("GET", "/joints/"+checked.Doubts[1].Joint, nil, nil)
	res, data := d.send("GET", "/export/joints.csv", nil)
	require.Equal(t, http.StatusOK, res.StatusCode)
	require.True(t, strings.HasPrefix(string(data), "tag,name,area"))
	for _, doc := range []string{"certificate.pdf", "tag.pdf"} {
		res, first := d.send("GET", "/records/TS-"+time.Now().Format("2006")+"-00001/"+doc, nil)
		require.Equal(t, http.StatusOK, res.StatusCode)
		require.True(t, bytes.HasPrefix(first, []byte("%PDF-")))
		_, second := d.send("GET", "/records/TS-"+time.Now().Format("2006")+"-00001/"+doc, nil)
		require.Equal(t, first, second, "the same record prints the same bytes")
	}
}

// Whatever somebody takes out of the house is written down, with who did it.
func TestWhatIsTakenOutIsAudited(t *testing.T) {
	s := newServer(t)
	d := s.client("J. Hartwell")
	number := "TS-" + time.Now().Format("2006") + "-00001"
	for path, line := range map[string]string{
		"/records/" + number + "/record.json":     "record " + number,
		"/records/" + number + "/certificate.pdf": "certificate of record " + number,
		"/records/" + number + "/tag.pdf":         "tag of record " + number, "/labels.pdf?of=tools": "labels of tools",
		"/export/joints.csv": "register of joints, CSV",
		"/export/tools.csv":  "list of tools, CSV", "/export/tools.xlsx": "list of tools, spreadsheet",
	} {
		res, _ := d.send("GET", path, nil)
		require.Equal(t, http.StatusOK, res.StatusCode, path)
		var rows []app.AuditRow
		d.ok("GET", "/audit?q="+url.QueryEscape(line), nil, &rows)
		require.True(t, slices.ContainsFunc(rows, func(r app.AuditRow) bool {
			return r.Action == "exported" && r.Subject == line && strings.HasPrefix(r.Who, "J. Hartwell")
		}), "%s: %+v", path, rows)
	}
}

func TestChangingHandsRenewsTheSession(t *testing.T) {
	s := newServer(t)
	d := s.client("M. Tolley")
	var session httpapi.Session
	d.ok("GET", "/session", nil, &session)
	require.Equal(t, "M. Tolley", session.Person.Name)
	d.ok("DELETE", "/session", nil, nil)
	d.refused("GET", "/today", nil, http.StatusUnauthorized)
	req, err := http.NewRequest("POST", s.URL+"/api/session", strings.NewReader(`{}`))
	require.NoError(t, err)
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	res, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	_ = res.Body.Close()
	require.Equal(t, http.StatusForbidden, res.StatusCode, "another site's page cannot sign in here")
}

func TestAnswersCarryTheContentPolicy(t *testing.T) {
	s := newServer(t)
	res, err := http.Get(s.URL + "/anything")
	require.NoError(t, err)
	_ = res.Body.Close()
	policy := res.Header.Get("Content-Security-Policy")
	require.Contains(t, policy, "default-src 'self'")
	require.NotContains(t, policy, "'unsafe-eval'")
	require.Equal(t, "DENY", res.Header.Get("X-Frame-Options"))
}

// Alive is not ready: the server says so when its database is gone, and nobody is told to sign in again.
func TestFaultOfTheDatabaseIsToldAsOne(t *testing.T) {
	s := newServer(t)
	d := s.client("M. Tolley")
	get := func(path string) int {
		res, err := http.Get(s.URL + path)
		require.NoError(t, err)
		_ = res.Body.Close()
		return res.StatusCode
	}
	require.Equal(t, http.StatusOK, get("/healthz"))
	require.Equal(t, http.StatusOK, get("/readyz"))
	s.pool.Close()
	require.Equal(t, http.StatusOK, get("/healthz"))
	require.Equal(t, http.StatusServiceUnavailable, get("/readyz"))
	d.refused("GET", "/today", nil, http.StatusServiceUnavailable)
	s.client("").refused("GET", "/people", nil, http.StatusServiceUnavailable)
}

// Which role may use which route, written out: one more or fewer must be meant. Every other route is open to whoever is
// signed in.
func TestEveryRouteKnowsItsRoles(t *testing.T) {
	engineers, inspectors := "engineer", "inspector or engineer"
	makers, keepers := "technician or lead or engineer", "tool keeper or engineer"
	admins, lookers := "administrator", "tool keeper or inspector or engineer"
	want := map[string]string{
		"makeAnchor": engineers, "listAudit": engineers, "exportAudit": engineers, "takeIn": inspectors,
		"putProcedure": inspectors, "approveProcedure": engineers,
		"putLibraryValue": engineers, "withdrawLibraryValue": engineers, "putHouseRules": engineers, "keepLabFit": engineers,
		"createJoint": makers, "copyJoint": makers, "savePlan": makers, "startRun": makers,
		"editJoint": "lead or engineer", "putSpecification": engineers, "retireJoint": "lead or engineer",
		"restoreJoint": "lead or engineer", "listImports": engineers, "undoImport": engineers, "listBackups": admins,
		"listTablets": admins, "changeTablet": admins,
		"importTools": keepers, "importJoints": engineers, "putToolFile": lookers, "issueDeviceToken": keepers,
		"planDoubt": lookers, "closeDoubt": inspectors, "putTool": lookers, "releaseTool": inspectors,
		"aimDevice": makers, "putSite": admins, "getCrew": admins, "addMembers": admins, "changeMember": admins,
		"newPin": admins, "putPressureTest": "lead or inspector or engineer",
		"recordPressureTest": "technician or lead or inspector or engineer",
		"makeDossier":        "lead or inspector or engineer", "stopDossier": "lead or inspector or engineer",
		"askForGaps": "lead or inspector or engineer", "putShiftInForce": "lead or engineer",
		"moveShift": "lead or engineer", "putWalk": "technician or lead or inspector or engineer", "closePlantNote": "lead or engineer", "putPackage": "lead or engineer", "putConstraints": "lead or engineer", "undoConstraints": "lead or engineer",
		"importJobs": "lead or engineer", "writeHandover": "technician or lead or engineer", "putStock": "tool keeper or lead or engineer",
		"dropStock": "tool keeper or lead or engineer", "remindNow": "lead or administrator", "listBackground": "lead or administrator",
		"retryBackground": "lead or administrator", "cancelBackground": "lead or administrator",
	}
	s, left := newServer(t), maps.Clone(want)
	for name, role := range map[string]string{"K. Ness": "tool keeper", "F. Orr": "lead"} {
		_, err := s.app.AddPerson(context.Background(), name, role, map[string]string{"K. Ness": "7193",
			"F. Orr": "8264"}[name])
		require.NoError(t, err)
	}
	covers := map[string][]string{"technician": {"technician"}, "tool keeper": {"tool keeper"}, "lead": {"lead"},
		"technician, lead": {"technician", "lead"}, "inspector": {"inspector"}, "engineer": {"engineer"},
		"administrator": {"engineer", "administrator"}}
	for name, role := range map[string]string{"M. Tolley": "technician", "K. Ness": "tool keeper", "F. Orr": "lead",
		"I. Quaye": "technician, lead", "R. Abara": "inspector",
		"J. Hartwell": "engineer", "B. Ode": "administrator"} {
		d := s.client(name)
		var told struct{ May []string }
		d.ok("GET", "/session", nil, &told)
		for path, item := range s.doc.Paths.Map() {
			for method, op := range item.Operations() {
				id := strings.ToLower(op.OperationID[:1]) + op.OperationID[1:]
				roles, restricted := want[id]
				delete(left, id)
				may := !restricted
				for _, r := range covers[role] {
					may = may || strings.Contains(roles, r)
				}
				require.Equal(t, may, slices.Contains(told.May, id), "%s: %s is told that", id, role)
				if restricted {
					p := strings.NewReplacer("{tag}", "X-1", "{id}", "0199aaaa-0000-7000-8000-000000000001", "{code}",
						"X-1", "{shelf}", "lubricants", "{version}", "7").Replace(path)
					res, body := d.send(method, p, []byte("x"))
					leave := strings.Contains(string(body), `"field":"consent"`) // theirs, with a PIN
					require.Equal(t, !may, res.StatusCode == http.StatusForbidden && !leave, "%s as %s: %d %s", id, role,
						res.StatusCode, body)
				}
			}
		}
	}
	require.Empty(t, left, "not in the contract")
}
