package identity_test

import (
	"encoding/base64"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/internal/identity"
	"dynacor/internal/identity/identitytest"
)

func TestDeviceProvesItself(t *testing.T) {
	d, other := identitytest.NewDevice(), identitytest.NewDevice()
	k, err := identity.ReadDeviceKey(d.Public())
	require.NoError(t, err)
	require.Equal(t, d.Key.ID, k.ID)
	require.Len(t, k.ID, 16)
	text := identity.EventText("run-1", `{"kind":"noted"}`)
	proof := d.Sign(text)
	require.NoError(t, k.Holds(text, proof))
	require.ErrorIs(t, k.Holds(identity.EventText("run-2", `{"kind":"noted"}`), proof), identity.ErrDeviceProof,
		"an event of another run")
	require.ErrorIs(t, k.Holds(text, other.Sign(text)), identity.ErrDeviceProof)
	for _, bad := range []string{"", "x", proof[:40], proof + "AAAA", strings.Repeat("A", 86) + "=="} {
		require.ErrorIs(t, k.Holds(text, bad), identity.ErrDeviceProof, bad)
	}
}

func TestKeyOfADeviceIsOnP256(t *testing.T) {
	rsa := "MFwwDQYJKoZIhvcNAQEBBQADSwAwSAJBAKj34GkxFhD90vcNLYLInFEX6Ppy1tPf9Cnzj4p4WGeKLs1Pt8QuKUpRKfFLfRYC9AIKjbJTWit+CqvjWYzvQwECAwEAAQ=="
	for _, bad := range []string{"", "?", rsa, base64.StdEncoding.EncodeToString(make([]byte, 300)),
		base64.StdEncoding.EncodeToString([]byte("no key"))} {
		_, err := identity.ReadDeviceKey(bad)
		require.ErrorIs(t, err, identity.ErrDeviceKey, bad)
	}
}
