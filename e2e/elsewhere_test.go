package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
)

// A sealed record of another site is verified, its key compared, and taken in; it stands apart.
func TestRecordOfAnotherSiteStandsApart(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	rec.Site, rec.Number = "Skarn Paper Mill", "SKM-2026-00007"
	f, err := record.Sign(rec, coretest.Key('z'), coretest.Day)
	require.NoError(t, err)
	data, err := f.Bytes()
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "theirs.json")
	require.NoError(t, os.WriteFile(file, data, 0o600))

	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.visit("/verify")
	require.NoError(t, p.find("field", "Choose the file").SetFiles([]string{file}))
	p.find("any", "anybody could have made this seal")
	require.False(t, p.has("heading", "Take it in"), "not for a technician to say")

	d := open(t, s.URL, 1280, 800)
	d.signIn("R. Abara", "9340")
	d.visit("/records")
	d.press("link", "^Other sites$")
	d.find("any", "None yet")
	d.press("link", "Verify a file and take it in")
	require.NoError(t, d.find("field", "Choose the file").SetFiles([]string{file}))
	d.find("heading", "Take it in")
	d.fill("Key of the other site", "0123456789abcdef")
	d.press("button", "^Take it in$")
	d.find("any", "not signed with the key you name")
	d.fill("Key of the other site", f.Seal.KeyID)
	d.press("button", "^Take it in$")
	d.find("any", "Taken in, apart from")
	d.shot("take-in")
	d.press("link", "^Records of other sites$")
	d.find("any", "SKM-2026-00007")
	require.Empty(t, d.axe())
	d.shot("elsewhere")
	d.visit("/records")
	d.find("any", "SW-111")
	require.False(t, d.has("any", "SKM-2026-00007"))
}
