// Package identitytest stands in for a device that has a key of its own, for tests and for programs that speak to the
// server as one.
package identitytest

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/x509"
	"encoding/base64"

	"dynacor/internal/identity"
)

// Device signs as a browser does.
type Device struct {
	Key     identity.DeviceKey
	private *ecdsa.PrivateKey
}

// NewDevice makes one with a fresh key.
func NewDevice() Device {
	k, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		panic(err)
	}
	der, err := x509.MarshalPKIXPublicKey(&k.PublicKey)
	if err != nil {
		panic(err)
	}
	key, err := identity.ParseDeviceKey(der)
	if err != nil {
		panic(err)
	}
	return Device{key, k}
}

// Public is the key as it is sent at sign-in.
func (d Device) Public() string { return base64.StdEncoding.EncodeToString(d.Key.DER) }

// Sign signs a text.
func (d Device) Sign(text string) string {
	sum := sha256.Sum256([]byte(text))
	r, s, err := ecdsa.Sign(rand.Reader, d.private, sum[:])
	if err != nil {
		panic(err)
	}
	var sig [64]byte
	r.FillBytes(sig[:32])
	s.FillBytes(sig[32:])
	return base64.StdEncoding.EncodeToString(sig[:])
}
