package e2e

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// The last pulls of the site, counted by tool and by crew, as strips and as a table; what was not read is not counted.
func TestNumbersOfTheSiteAreShown(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("J. Hartwell", "2758")
	p.visit("/records")
	p.press("link", "^Numbers$")
	p.find("any", "E-03 \\+ S4-30")
	p.find("any", "None is outside its own joint’s limits")
	p.shot("numbers")
	require.Empty(t, p.axe())
	p.pick("Counted by", "crew")
	p.find("any", "I. Quaye")
	p.press("button", "As a table")
	p.find("any", "Cpk")
	p.shot("numbers-table")
	p.pick("Family", "gasketed flange")
	p.eventually("the choice is in the address", func() bool {
		return strings.Contains(p.MustInfo().URL, "family=gasketed")
	})
	p.find("any", "I. Quaye")
	code := p.MustEval(`() => fetch('/api/export/numbers.csv?by=crew').then((r) => r.status)`).Int()
	require.Equal(t, http.StatusOK, code)
	p.visit("/numbers?from=2001-01-01&to=2001-01-02")
	p.find("any", "No pulls yet in this choice")

	p.visit("/numbers")
	p.pick("What is counted", "turn from the mark")
	p.find("any", "Only joints that are tightened by turns are counted")
	require.Contains(t, p.MustInfo().URL, "of=angle")
	small := open(t, s.URL, 390, 844)
	small.signIn("M. Tolley", "4071")
	small.visit("/numbers")
	small.find("any", "E-03 \\+ S4-30")
	small.shot("numbers-phone")
}
