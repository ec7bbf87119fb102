package identity

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/sha256"
	"crypto/x509"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"math/big"
)

// DeviceKey is the public half of a key that was made on a device and never leaves it: ECDSA on P-256, as every browser
// can make it.
type DeviceKey struct {
	ID     string // first 16 hex digits of the SHA-256 of DER
	DER    []byte // SubjectPublicKeyInfo
	public *ecdsa.PublicKey
}

// ErrDeviceKey says what a device's key must be.
var ErrDeviceKey = errors.New("a device's key is a public key on the curve P-256, as SubjectPublicKeyInfo in base64")

// ErrDeviceProof says that a signature is not the device's.
var ErrDeviceProof = errors.New("the signature is not that of the device")

// ReadDeviceKey reads a key as the device sends it, in base64.
func ReadDeviceKey(text string) (DeviceKey, error) {
	der, err := base64.StdEncoding.DecodeString(text)
	if err != nil {
		return DeviceKey{}, ErrDeviceKey
	}
	return ParseDeviceKey(der)
}

// ParseDeviceKey reads a key as it is kept.
func ParseDeviceKey(der []byte) (DeviceKey, error) {
	if len(der) > 200 {
		return DeviceKey{}, ErrDeviceKey
	}
	any, err := x509.ParsePKIXPublicKey(der)
	if err != nil {
		return DeviceKey{}, ErrDeviceKey
	}
	pub, ok := any.(*ecdsa.PublicKey)
	if !ok || pub.Curve != elliptic.P256() {
		return DeviceKey{}, ErrDeviceKey
	}
	sum := sha256.Sum256(der)
	return DeviceKey{hex.EncodeToString(sum[:8]), der, pub}, nil
}

// Holds refuses a signature over a text that is not the device's. It is r and s, 32 bytes each, in base64.
func (k DeviceKey) Holds(text, proof string) error {
	sig, err := base64.StdEncoding.DecodeString(proof)
	if err != nil || len(sig) != 64 {
		return ErrDeviceProof
	}
	sum := sha256.Sum256([]byte(text))
	if !ecdsa.Verify(k.public, sum[:], new(big.Int).SetBytes(sig[:32]), new(big.Int).SetBytes(sig[32:])) {
		return ErrDeviceProof
	}
	return nil
}

// SignInText is what a device signs to show that it has the key it signs in with.
func SignInText(personID, keyID string) string {
	return "dynacor-sign-in/1\n" + personID + "\n" + keyID
}

// EventText is what a device signs of an event: the run, and the digest of the event's text exactly as it is sent.
func EventText(runID, text string) string { return EventDigestText(runID, Digest(text)) }

// EventDigestText is EventText when only the digest is at hand.
func EventDigestText(runID, digest string) string {
	return "dynacor-event/1\n" + runID + "\n" + digest
}

// Digest is the SHA-256 of a text in hex.
func Digest(text string) string {
	sum := sha256.Sum256([]byte(text))
	return hex.EncodeToString(sum[:])
}
