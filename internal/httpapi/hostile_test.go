package httpapi_test

import (
	"bytes"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestBadInputNamesFieldAndRemedy(t *testing.T) {
	s := newServer(t)
	d := s.client("J. Hartwell")
	p := d.refused("GET", "/joints?limit=0", nil, http.StatusUnprocessableEntity)
	require.Equal(t, "limit", *p.Field)
	p = d.refused("POST", "/joints/SW-116/plan-preview", map[string]any{"scheme": "halves"},
		http.StatusUnprocessableEntity)
	require.Equal(t, "scheme", *p.Field)
	require.NotEmpty(t, *p.Remedy)
	p = d.refused("POST", "/joints", map[string]any{"tag": "N-1", "name": "", "area": "North", "equipment": "",
		"service": "", "family": "", "package": "", "nameplate": "",
		"specification": map[string]any{"version": 0, "document": "D", "revision": "A",
			"groups": []map[string]any{{"bolts": 8, "thread": "M21.7x9", "material": "8.8", "lubricant": "light_oil",
				"target": map[string]any{"form": "torque", "nominal": 300, "unit": "N_m"}}}}},
		http.StatusUnprocessableEntity)
	require.Equal(t, "thread", *p.Field)
	p = d.refused("POST", "/calculations/adapter_setting", map[string]any{"values": map[string]any{"torque": "20 kg"}},
		http.StatusUnprocessableEntity)
	require.Equal(t, "torque_Nm", *p.Field)
	require.Contains(t, *p.Remedy, "ft·lbf")
	p = d.refused("POST", "/calculations/crowfoot", map[string]any{"values": map[string]any{}},
		http.StatusUnprocessableEntity)
	require.Contains(t, *p.Remedy, "adapter_setting")
	d.refused("GET", "/library/shoes/L-07", nil, http.StatusUnprocessableEntity)
	d.refused("GET", "/joints/NOT-HERE", nil, http.StatusNotFound)
	d.refused("GET", "/runs/0199aaaa-0000-7000-8000-000000000001", nil, http.StatusNotFound)
	d.refused("GET", "/nowhere", nil, http.StatusNotFound)
	p = d.refused("POST", "/joints/SW-116/plan-preview", map[string]any{"scheme": 3}, http.StatusUnprocessableEntity)
	require.Equal(t, "scheme", *p.Field)
	d.refused("POST", "/joints/SW-116/plan-preview", map[string]any{"groups": []any{map[string]any{"scheme": 3}}},
		http.StatusUnprocessableEntity)
	p = d.refused("POST", "/joints/SW-116/plan-preview", map[string]any{"groups": []any{map[string]any{"scheme": "halves"}}},
		http.StatusUnprocessableEntity)
	require.Equal(t, "scheme", *p.Field)
}

// A page of another origin, be it on a neighbouring host of the same site, cannot act in a signed-in person's name.
func TestForeignPagesAreRefused(t *testing.T) {
	s := newServer(t)
	for name, c := range map[string]struct {
		header, value string
		status        int
	}{
		"another site":       {"Sec-Fetch-Site", "cross-site", http.StatusForbidden},
		"a neighbour":        {"Sec-Fetch-Site", "same-site", http.StatusForbidden},
		"its own page":       {"Sec-Fetch-Site", "same-origin", http.StatusUnprocessableEntity},
		"typed by a person":  {"Sec-Fetch-Site", "none", http.StatusUnprocessableEntity},
		"another origin":     {"Origin", "https://elsewhere.example", http.StatusForbidden},
		"an origin of none":  {"Origin", "null", http.StatusForbidden},
		"its own origin":     {"Origin", s.URL, http.StatusUnprocessableEntity},
		"a program, no page": {"X-Anything", "d1", http.StatusUnprocessableEntity},
	} {
		req, err := http.NewRequest("POST", s.URL+"/api/session", strings.NewReader(`{}`))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set(c.header, c.value)
		res, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		_ = res.Body.Close()
		require.Equal(t, c.status, res.StatusCode, name)
		require.Equal(t, "no-store", res.Header.Get("Cache-Control"))
	}
}

// What nobody can mean is refused with its field, wherever it stands: never a fault of the server.
func TestHostileTextsAreRefused(t *testing.T) {
	s := newServer(t)
	d := s.client("J. Hartwell")
	p := d.refused("GET", "/joints?q=%00", nil, http.StatusUnprocessableEntity)
	require.Equal(t, "q", *p.Field)
	p = d.refused("GET", "/joints/SW%00111", nil, http.StatusUnprocessableEntity)
	require.Equal(t, "tag", *p.Field)
	d.refused("GET", "/records?q=%ff", nil, http.StatusUnprocessableEntity)
	d.refused("GET", "/tools/%1b", nil, http.StatusUnprocessableEntity)
	p = d.refused("POST", "/tools/W-52/quarantine", map[string]string{"reason": "fell\x00"},
		http.StatusUnprocessableEntity)
	require.Equal(t, "reason", *p.Field)
	p = d.refused("POST", "/joints/SW-116/copy", map[string]string{"tag": strings.Repeat("x", 5000)},
		http.StatusUnprocessableEntity)
	require.Equal(t, "tag", *p.Field)
	d.refused("POST", "/calculations/torque_from_preload",
		map[string]any{"values": map[string]any{"preload_kN": strings.Repeat("9", 400)}},
		http.StatusUnprocessableEntity)
}

func TestBodiesAreBounded(t *testing.T) {
	s := newServer(t)
	nobody, d := s.client(""), s.client("J. Hartwell")
	nobody.refused("POST", "/session", map[string]string{"personId": strings.Repeat("x", 5000), "pin": "1"},
		http.StatusRequestEntityTooLarge)
	nobody.refused("POST", "/verify", bytes.Repeat([]byte(" "), 4<<20+1), http.StatusRequestEntityTooLarge)
	res, data := d.send("POST", "/verify", bytes.Repeat([]byte(" "), 4<<20+1))
	require.Equal(t, http.StatusOK, res.StatusCode, "who is signed in may bring more: %s", data)
	d.refused("POST", "/joints", map[string]string{"name": strings.Repeat("x", 300_000)},
		http.StatusRequestEntityTooLarge)
	d.refused("PUT", "/joints/SW-116", []byte("{}"), http.StatusUnprocessableEntity)
}
