// Package identity knows PINs: what one must look like, how it is kept and how it is compared.
package identity

import (
	"errors"
	"fmt"

	"github.com/alexedwards/argon2id"
)

// Hasher keeps PINs as argon2id hashes.
type Hasher struct{ params *argon2id.Params }

// NewHasher uses 19 MiB and two passes, the usual least for interactive use.
func NewHasher() Hasher {
	return Hasher{&argon2id.Params{Memory: 19 * 1024, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}}
}

// NewTestHasher is quick and weak: for tests only.
func NewTestHasher() Hasher {
	return Hasher{&argon2id.Params{Memory: 64, Iterations: 1, Parallelism: 1, SaltLength: 8, KeyLength: 16}}
}

// ErrPIN says what a PIN must look like.
var ErrPIN = errors.New("a PIN has 4 to 8 digits")

// Hash refuses a PIN that is not 4 to 8 digits.
func (h Hasher) Hash(pin string) (string, error) {
	if len(pin) < 4 || len(pin) > 8 {
		return "", ErrPIN
	}
	for _, r := range pin {
		if r < '0' || r > '9' {
			return "", ErrPIN
		}
	}
	s, err := argon2id.CreateHash(pin, h.params)
	if err != nil {
		return "", fmt.Errorf("identity: %w", err)
	}
	return s, nil
}

// Matches compares a PIN with a hash.
func (h Hasher) Matches(pin, hash string) (bool, error) {
	return argon2id.ComparePasswordAndHash(pin, hash)
}
