package e2e

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// certificate is the text of a record's certificate, its blanks made one.
func (p *page) certificate(number string) string {
	p.t.Helper()
	pdf := p.MustEval(`async n => {
		const b = new Uint8Array(await (await fetch('/api/records/' + n + '/certificate.pdf')).arrayBuffer());
		return Array.from(b);
	}`, number)
	raw := []byte{}
	for _, v := range pdf.Arr() {
		raw = append(raw, byte(v.Int()))
	}
	name := filepath.Join(p.t.TempDir(), "certificate.pdf")
	require.NoError(p.t, os.WriteFile(name, raw, 0o600))
	text, err := exec.Command("pdftotext", "-layout", name, "-").Output()
	require.NoError(p.t, err)
	return strings.Join(strings.Fields(string(text)), " ")
}

// A check that does not apply waits for an engineer, and verdict, record and certificate tell who said so and why.
func TestWaiverIsAskedOfAnEngineerAndPrinted(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1024, 768)
	p.signIn("I. Quaye", "5826")
	p.visit("/joints/SW-117")
	p.find("any", "Not finished")
	p.press("button", "Does not apply here")
	p.fill("Why", "x")
	p.press("button", "^Keep$")
	p.find("any", "says too little")
	p.fill("Why", "rim is inside a shroud")
	p.press("button", "^Keep$")
	p.find("any", "An engineer must sign that it does not apply")
	p.shot("waiver")
	p.press("button", "Engineer signs")
	require.False(t, p.has("radio", "R. Abara"), "only whose word it takes is offered")
	p.fill("Why it does not apply", "shroud seen, drawing 4 agrees")
	p.press("radio", "J. Hartwell")
	p.fill("PIN of", "2758")
	p.press("button", "^Sign$")
	p.find("any", "1 was waived")
	p.find("any", "J. Hartwell, engineer: shroud seen, drawing 4 agrees")
	p.shot("waived")
	p.closing(p.press, "I. Quaye")
	p.find("any", "all kept")
	text := p.certificate(strings.TrimPrefix(p.text("h2"), "Sealed as "))
	for _, want := range []string{"checks were met; 1 was waived.", "waived Gap after tightening does not apply",
		"J. Hartwell, engineer", "shroud seen, drawing 4 agrees"} {
		require.Contains(t, text, want)
	}
	require.NotContains(t, text, "No deviation from the plan")
}
