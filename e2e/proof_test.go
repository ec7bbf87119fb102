package e2e

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"dynacor/core/run"
)

// A check round in which a nut moved is gone round again, and the joint is accepted once none does.
func TestFailedCheckRoundIsGoneRoundAgain(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.visit("/joints/SW-113")
	p.find("any", "Go round again")
	p.press("button", "^Set to")
	for i := range 16 {
		if i == 4 {
			p.press("button", "^Still turned$")
			p.shot("moved")
			continue
		}
		p.press("button", "stayed")
	}
	p.find("any", "round 3")
	h := s.hand(t, "M. Tolley", "")
	h.begin("SW-113")
	p.eventually("the moved one is told", func() bool { return h.state().Verdict.Code == run.GoRoundAgain })
	p.press("button", "^Set to")
	for range 16 {
		p.press("button", "stayed")
	}
	p.handOver(p.press)
	require.Equal(t, run.Accepted, h.state().Verdict.Code)
}

// A record that is taken out of the database is missed by the anchor that somebody saved from the page.
func TestAnchorSavedOutsideMissesARecord(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("J. Hartwell", pins["J. Hartwell"])
	p.visit("/keys")
	p.press("button", "^Anchor now$")
	p.find("link", "^Save$")
	text := p.MustEval(`async () => (await fetch([...document.querySelectorAll('a')].find(a => a.download?.startsWith('anchor-')).href)).text()`).Str()
	anchor := filepath.Join(t.TempDir(), "anchor.json")
	require.NoError(t, os.WriteFile(anchor, []byte(text), 0o600))
	verify := func() (string, error) {
		out, err := exec.Command("../bin/dynacor", "verify", "--database", s.url, "--anchor", anchor).CombinedOutput()
		return string(out), err
	}
	out, err := verify()
	require.NoError(t, err, out)

	c, err := pgx.Connect(t.Context(), s.url)
	require.NoError(t, err)
	defer c.Close(t.Context())
	for _, sql := range []string{"set session_replication_role = replica", "delete from record_index", "delete from records where number like '%1'"} {
		_, err = c.Exec(t.Context(), sql)
		require.NoError(t, err)
	}
	out, err = verify()
	require.Error(t, err)
	require.Contains(t, out, "it is not here as it was")
}
