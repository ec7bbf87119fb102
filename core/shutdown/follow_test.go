package shutdown_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/shutdown"
)

// A part is behind when it should have begun, or will end later than planned.
func TestHowFarAPartHasCome(t *testing.T) {
	at := &shutdown.Begun{At: shutdown.Tighten, Minutes: 30}
	for _, c := range []struct {
		kind     shutdown.Kind
		now      int
		begun    *shutdown.Begun
		accepted bool
		step     shutdown.Step
		behind   int
	}{
		{shutdown.Prepare, 100, nil, false, shutdown.ToCome, 0},
		{shutdown.Prepare, 99, nil, false, shutdown.ToCome, 0},
		{shutdown.Prepare, 109, nil, false, shutdown.ToCome, 0},
		{shutdown.Prepare, 110, nil, false, shutdown.ToCome, 10},
		{shutdown.Prepare, 500, at, false, shutdown.Done, 0},
		{shutdown.Tighten, 130, at, false, shutdown.InHand, 0},
		{shutdown.Tighten, 139, at, false, shutdown.InHand, 0},
		{shutdown.Tighten, 140, at, false, shutdown.InHand, 10},
		{shutdown.Prove, 90, at, false, shutdown.ToCome, 0},
		{shutdown.Prove, 140, at, false, shutdown.ToCome, 40},
		{shutdown.Prove, 500, nil, true, shutdown.Done, 0},
	} {
		step, behind := shutdown.Follow(c.kind, 100, 160, c.now, c.begun, c.accepted)
		require.Equal(t, c.step, step, "%+v", c)
		require.Equal(t, c.behind, behind, "%+v", c)
	}
}

// A pin bears the name of who set it; one that stays as it was keeps the name it has.
func TestPinBearsTheNameOfWhoSetIt(t *testing.T) {
	before := shutdown.Empty()
	before.Pins = []shutdown.Pin{{Tag: "SW-111", Kind: shutdown.Tighten, Start: "2026-12-01T08:00", By: "Quaye"},
		{Tag: "SW-112", Kind: shutdown.Tighten, Start: "2026-12-01T08:00", By: "Quaye"}}
	after := shutdown.Empty()
	after.Pins = []shutdown.Pin{{Tag: "SW-111", Kind: shutdown.Tighten, Start: "2026-12-01T08:00", By: "somebody"},
		{Tag: "SW-112", Kind: shutdown.Tighten, Start: "2026-12-01T09:00", By: "Quaye"}}
	got := after.SignedBy("Ode", before)
	require.Equal(t, "Quaye", got.Pins[0].By)
	require.Equal(t, "Ode", got.Pins[1].By)
	require.Equal(t, "somebody", after.Pins[0].By, "what was given stays")
}
