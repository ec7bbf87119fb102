package e2e

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
)

// An engineer makes the site's own version: a fault stands beside its field, the preview follows, it waits as a draft,
// and once approved the next plan is made by it. The same goes out as YAML and comes in again.
func TestProcedureIsChangedTriedAndApproved(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	ctx := context.Background()
	p := open(t, s.URL+"/library?shelf=procedures", 1280, 800)
	p.signIn("J. Hartwell", "2758")
	p.fill("Search this shelf", "ferrule")
	p.press("button", "^Twin-ferrule tube fitting")
	p.find("heading", "Twin-ferrule tube fitting")
	require.Contains(t, p.text(".procedure"), "tube out of round", "a limit from the document is told by its name")
	require.Empty(t, p.axe())
	p.press("button", "Make the site’s own")
	p.press("button", "^Leak test$")
	p.fill("^Title", "")
	p.find("any", "One thing keeps it from being used")
	p.find("any", "checks › leak › title")
	require.True(t, p.has("button", "Keep as a draft"))
	p.fill("^Title", "Leak test with soap")
	p.gone("any", "keeps it from being used")
	p.press("button", "^Undo$")
	p.find("any", "keeps it from being used")
	p.fill("^Title", "Leak test with soap")
	p.gone("any", "keeps it from being used")
	p.press(`[role="tab"]`, "^Changes 1$")
	p.find("any", "checks › leak › title")
	require.Empty(t, p.axe())

	// The same as text: a slip is told with its line, nothing is lost.
	p.press("button", "Write it as YAML")
	area := p.find("field", "The procedure as YAML")
	whole := area.MustProperty("value").Str()
	require.Contains(t, whole, "Leak test with soap")
	bad := strings.Replace(whole, "kind: test", "kind: guess", 1)
	file := filepath.Join(t.TempDir(), "own.yaml")
	require.NoError(t, os.WriteFile(file, []byte(bad), 0o600))
	require.NoError(t, p.find("field", "Open a YAML file").SetFiles([]string{file}))
	p.find("any", "must be one of")
	p.find("any", "^Line [0-9]+")
	require.NoError(t, os.WriteFile(file, []byte(whole), 0o600))
	require.NoError(t, p.find("field", "Open a YAML file").SetFiles([]string{file}))
	p.gone("any", "must be one of")
	p.fill("What changed", "soap shows it better than a gauge")
	p.press("button", "Keep as a draft")
	p.find("any", "A draft of J. Hartwell")
	before, err := s.app.PreviewPlan(ctx, "TF-61", plan.Choices{})
	require.NoError(t, err)
	require.Equal(t, 4, before.ProcedureVersion, "a draft plans nothing")
	leave := func(name, pin string) {
		p.press("button", "Approve version 5")
		p.find("any", "It takes the PIN of somebody who may approve a procedure")
		p.press("radio", name)
		p.fill("PIN of", pin)
		p.press("button", "Give leave")
	}
	leave("J. Hartwell", "2758")
	p.find("any", "J. Hartwell wrote this version")
	leave("R. Abara", "9340")
	p.find("any", "R. Abara, inspector, may not approve a procedure")
	p.shot("leave")
	p.press("radio", "B. Ode")
	p.fill("PIN of", "6193")
	p.press("button", "Give leave")
	p.find("any", "in force")
	p.eventually("the next plan is made by it", func() bool {
		after, err := s.app.PreviewPlan(ctx, "TF-61", plan.Choices{})
		require.NoError(t, err)
		return after.ProcedureVersion == 5
	})
}

// A joint of another family in a few strokes: family, its question, what differs.
func TestNewJointBeginsWithItsFamily(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/joints/new", 1280, 800)
	p.signIn("J. Hartwell", "2758")
	p.fill("Find a family", "tube")
	p.press("button", "^Twin-ferrule tube fitting")
	p.fill("^Tag", "TF-62")
	p.fill("^Area", "2 Turbine 2")
	p.press("button", "first make-up")
	p.fill("Tube outside diameter", "10")
	p.fill("Turn at first make-up", "450")
	p.fill("Tube out of round", "1.5")
	p.fill("^Document", "Keld TF sheet")
	p.fill("^Revision", "2")
	require.Empty(t, p.axe())
	p.press("button", "Keep the joint")
	p.find("button", "Read it, then Ready")
	pl, err := s.app.PreviewPlan(context.Background(), "TF-62", plan.Choices{})
	require.NoError(t, err)
	require.InDelta(t, 450, pl.Passes[1].TurnDeg, 0)
}

// The worked example of the documents, opened as a file under any procedure, begins a family of its own: kept as a
// draft, approved by another engineer, and offered to a new joint.
func TestFamilyIsWrittenFromTheWorkedExample(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	page, err := os.ReadFile("../docs/procedures.md")
	require.NoError(t, err)
	_, text, _ := strings.Cut(string(page), "```yaml\n")
	text, _, _ = strings.Cut(text, "```")
	file := filepath.Join(t.TempDir(), "hatch.yaml")
	require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
	p := open(t, s.URL+"/library?shelf=procedures&value=wheel_nuts", 1280, 800)
	p.signIn("J. Hartwell", "2758")
	p.press("button", "Make the site’s own")
	require.NoError(t, p.find("field", "Open a YAML file").SetFiles([]string{file}))
	p.find("button", "Keep as a new family, Hatch cover with swing bolts")
	p.fill("What changed", "tank hatches of the bunker")
	p.press("button", "Keep as a new family")
	p.find("heading", "Hatch cover with swing bolts")
	p.find("any", "A draft of J. Hartwell")
	p.shot("own-family")
	p.press("button", "Approve version 1")
	p.press("radio", "B. Ode")
	p.fill("PIN of", "6193")
	p.press("button", "Give leave")
	p.gone("any", "A draft of J. Hartwell")
	p.visit("/joints/new")
	p.find("button", "Hatch cover with swing bolts")
}
