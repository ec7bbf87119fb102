package identity_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/internal/identity"
)

func TestTrivialPINsAreRefused(t *testing.T) {
	for _, bad := range []string{"1111", "00000000", "1234", "4321", "0987", "7890", "3210", "1212", "123123",
		"45674567", "1998", "2026", "2580", "1379", "aaaaaaaaaaaa", "PumpPumpPump", "abcdefghijklm"} {
		require.ErrorIs(t, identity.Check(bad), identity.ErrTrivial, bad)
	}
	for _, bad := range []string{"", "123", "407", "407158392", "four", "4071a", "eleven char",
		strings.Repeat("ab c", 33)} {
		require.ErrorIs(t, identity.Check(bad), identity.ErrPIN, bad)
	}
	for _, good := range []string{"4071", "2758", "40711704", "1233", "8012", "grey heron at low water",
		"1234567890124"} {
		require.NoError(t, identity.Check(good), good)
	}
}

func TestPINIsComparedWithItsHash(t *testing.T) {
	h := identity.NewTestHasher()
	kept, err := h.Hash("4071")
	require.NoError(t, err)
	ok, err := h.Matches("4071", kept)
	require.NoError(t, err)
	require.True(t, ok)
	for _, wrong := range []string{"4072", "", strings.Repeat("4071", 100)} {
		ok, err = h.Matches(wrong, kept)
		require.NoError(t, err)
		require.False(t, ok, wrong)
	}
}
