package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/record"
	"dynacor/internal/app"
)

// A sealed record takes what becomes of its joint: a re-torque tried nut by nut on a phone, and at the desk a correction
// by somebody who may. Both are printed, go out with the sealed file, and are verified with it.
func TestAdditionsToASealedRecord(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	page1, err := s.app.Records(t.Context(), app.RecordSearch{Text: "SW-111", Limit: 1})
	require.NoError(t, err)
	number := page1.Rows[0].Number
	before, err := s.app.RecordFile(t.Context(), number)
	require.NoError(t, err)

	p := open(t, s.URL, 390, 844)
	p.signIn("M. Tolley", "4071")
	p.visit("/records/" + number)
	p.find("heading", "Added since it was sealed")
	p.tap("button", "Add to this record")
	p.find("any", "stays as it was sealed")
	p.shot("addition-phone")
	p.fill("Tried at, N·m", "420")
	p.fill("Tool, by its tag", "W-99")
	p.fill("Bolt 3", "8")
	p.fill("Bolt 5", "eight")
	p.find("any", "2 of 8 tried")
	p.fill("Why it was done", "After a day in service, cold and out of pressure.")
	p.tap("radio", "M. Tolley")
	p.fill("PIN of", "4071")
	p.tap("button", "Sign and add")
	p.find("any", "is no figure. Read it again")
	p.fill("Bolt 5", "")
	p.tap("button", "All the others stayed")
	p.find("any", "8 of 8 tried")
	p.fill("PIN of", "4071")
	p.tap("button", "Sign and add")
	p.find("any", "The Crib has no tool")
	p.shot("addition-refused-phone")
	p.fill("Tool, by its tag", "W-52")
	p.fill("PIN of", "4071")
	p.tap("button", "Sign and add")
	p.find("any", "8 of 8 tried at 420 N·m")
	p.shot("addition-kept-phone")
	require.Contains(t, p.text("[data-testid=additions]"), "inside 15° of the house rules")

	d := open(t, s.URL, 1280, 800)
	d.signIn("R. Abara", "9340")
	d.visit("/records/" + number)
	d.press("button", "Add to this record")
	d.press("radio", "Correction")
	require.False(t, d.has("radio", "M. Tolley"), "only whose word it takes is offered")
	d.fill("Where in the record", "batch of the lubricant")
	d.fill("What stands there", "C8")
	d.fill("What is right", "C9")
	d.fill("How that is known", "wrong")
	d.press("radio", "R. Abara")
	d.fill("PIN of", "9340")
	d.press("button", "Sign and add")
	d.find("any", "Say in a sentence")
	d.shot("addition-desk")
	d.fill("How that is known", "The tin in the store is another one than was typed.")
	d.fill("PIN of", "9340")
	d.press("button", "Sign and add")
	d.find("any", "2. Correction")
	d.shot("additions-record")
	v, err := s.app.Record(t.Context(), number)
	require.NoError(t, err)
	d.press("button", "Add to this record")
	d.press("radio", "^Audit")
	d.find("any", "Drawn: 2 of 8")
	require.False(t, d.has("radio", "M. Tolley"), "whoever tightened does not audit")
	d.fill("Tool, by its tag", "W-52")
	for i, f := range v.NextAudit.Sample {
		d.fill("^"+v.Record.Plan.NameOf(f)+"$", []string{"240", "150"}[i])
	}
	d.fill("How the joint stood", "Cold, a day after, out of pressure.")
	d.shot("addition-audit")
	d.press("radio", "R. Abara")
	d.fill("PIN of", "9340")
	d.press("button", "Sign and add")
	d.find("any", "3. Audit")
	d.find("any", "More than the rule lets pass: every fastener is audited")
	text := d.certificate(number)
	for _, want := range []string{"Added since it was sealed", "1. Re-torque", "Right: C9.", "3. Audit", "Moved on at"} {
		require.Contains(t, text, want)
	}
	after, err := s.app.RecordFile(t.Context(), number)
	require.NoError(t, err)
	require.Equal(t, before, after, "the seal stays as it was")

	whole, err := s.app.WholeRecord(t.Context(), number)
	require.NoError(t, err)
	require.Len(t, record.Verify(whole, nil).Additions, 3)
	for name, c := range map[string]struct {
		data []byte
		says string
	}{"whole": {whole, "2. Correction"}, "old": {before, "3 were added since"}} {
		file := filepath.Join(t.TempDir(), name+".json")
		require.NoError(t, os.WriteFile(file, c.data, 0o600))
		require.NoError(t, d.Navigate(s.URL+"/verify"))
		require.NoError(t, d.find("field", "Choose the file").SetFiles([]string{file}))
		d.find("any", c.says)
		d.find("any", "The record holds")
		d.shot("verify-" + name)
	}
}
