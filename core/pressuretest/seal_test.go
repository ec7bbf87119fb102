package pressuretest_test

import (
	"crypto/ed25519"
	"encoding/base64"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/pressuretest"
	"dynacor/core/record"
)

// A sealed sheet verifies; whatever is changed in it, even with its digest made anew, does not.
func TestSealedSheetIsBelievedAsItIs(t *testing.T) {
	r := begin(t, water()).toTheHold()
	r.after(30).read("23.9", "12.0")
	r.read("16", "")
	r.look("SW-113")
	r.look("SW-114")
	r.after(20).read("16", "")
	r.down()
	_, key, err := ed25519.GenerateKey(nil)
	require.NoError(t, err)
	_, _, err = pressuretest.Seal("Tarn Skerry", r.spec, r.events, r.at, key)
	refused(t, err, "as")
	r.sign()
	f, mark, err := pressuretest.Seal("Tarn Skerry", r.spec, r.events, r.at, key)
	require.NoError(t, err)
	data, err := record.Canonical(f)
	require.NoError(t, err)
	x, got, err := pressuretest.Verify(data, record.Trust(key.Public().(ed25519.PublicKey)))
	require.NoError(t, err)
	require.Equal(t, mark, got)
	require.Equal(t, "LT-07, Seawater line of unit 2, water at 24 bar, by TP-12 rev. B: Held. 0.1 bar of 0.2 bar lost in "+
		"30 min; SW-113 and SW-114 dry.", x.Says())
	other, _, err := ed25519.GenerateKey(nil)
	require.NoError(t, err)
	_, _, err = pressuretest.Verify(data, record.Trust(other))
	require.ErrorContains(t, err, "not one of the keys known here")
	for old, changed := range map[string]string{`"barAs":"23.9"`: `"barAs":"24.0"`, `"code":"held"`: `"code":"fell"`,
		`"lossBar":0.2`: `"lossBar":0.4`, `"signature":"`: `"signature":"A`, `"sheet":`: `"more":1,"sheet":`} {
		require.Contains(t, string(data), old)
		_, _, err := pressuretest.Verify([]byte(strings.Replace(string(data), old, changed, 1)), nil)
		require.Error(t, err, old)
	}

	// A site that seals what could not happen is not believed either.
	resealed := func(change func(*pressuretest.Sheet)) error {
		y := x
		y.Events = slices.Clone(x.Events)
		change(&y)
		text, err := record.Canonical(y)
		require.NoError(t, err)
		g := f
		g.Sheet = text
		g.Signature = base64.StdEncoding.EncodeToString(ed25519.Sign(key, append([]byte(pressuretest.Format+"\n"),
			text...)))
		data, err := record.Canonical(g)
		require.NoError(t, err)
		_, _, err = pressuretest.Verify(data, nil)
		return err
	}
	require.NoError(t, resealed(func(*pressuretest.Sheet) {}))
	require.ErrorContains(t, resealed(func(y *pressuretest.Sheet) { y.Verdict.Code = pressuretest.Fell }), "do not lead")
	require.ErrorContains(t, resealed(func(y *pressuretest.Sheet) { y.Events = y.Events[1:] }), "could not happen")
	require.ErrorContains(t, resealed(func(y *pressuretest.Sheet) { y.Format = "other" }), "not known here")

	// Nor one that was laid out as no test may be, whatever its events then ask for, or that typed what it does not
	// say.
	require.ErrorContains(t, resealed(func(y *pressuretest.Sheet) { y.Spec.Steps = nil }), "could not be led")
	require.ErrorContains(t, resealed(func(y *pressuretest.Sheet) {
		y.Spec.Kind, y.Spec.Joints = pressuretest.Purge, nil
	}), "could not be led")
	require.ErrorContains(t, resealed(func(y *pressuretest.Sheet) {
		i := slices.IndexFunc(y.Events, func(e pressuretest.Event) bool { return e.BarAs == "23.9" })
		y.Events[i].BarAs = "24.0"
	}), "typed")
}
