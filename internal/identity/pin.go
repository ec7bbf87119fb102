// Package identity knows PINs and device keys: what they must look like, how they are kept and how they are compared.
package identity

import (
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"
)

// Hasher keeps PINs and passphrases as argon2id hashes.
type Hasher struct{ params *argon2id.Params }

// NewHasher uses 19 MiB and two passes, the usual least for interactive use.
func NewHasher() Hasher {
	return Hasher{&argon2id.Params{Memory: 19 * 1024, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}}
}

// NewTestHasher is quick and weak: for tests only.
func NewTestHasher() Hasher {
	return Hasher{&argon2id.Params{Memory: 64, Iterations: 1, Parallelism: 1, SaltLength: 8, KeyLength: 16}}
}

// Lengths of what a person signs with: a PIN of digits, or a passphrase of anything.
const (
	leastPIN    = 4
	mostPIN     = 8
	leastPhrase = 12
	MostPhrase  = 128
)

// What must be chosen otherwise.
var (
	ErrPIN     = errors.New("a PIN has 4 to 8 digits, a passphrase 12 to 128 characters")
	ErrTrivial = errors.New("this is among the first that anybody would try: the same over and over, a row up or " +
		"down, a pattern on the keys, a year")
)

// Hash refuses what is neither a PIN nor a passphrase, and what anybody would try first.
func (h Hasher) Hash(pin string) (string, error) {
	if err := Check(pin); err != nil {
		return "", err
	}
	s, err := argon2id.CreateHash(pin, h.params)
	if err != nil {
		return "", fmt.Errorf("identity: %w", err)
	}
	return s, nil
}

// Check refuses a PIN or passphrase that may not be chosen: ErrPIN, ErrTrivial.
func Check(pin string) error {
	n := utf8.RuneCountInString(pin)
	if strings.Trim(pin, "0123456789") == "" && n >= leastPIN && n <= mostPIN {
		if trivialPIN(pin) {
			return ErrTrivial
		}
		return nil
	}
	if !utf8.ValidString(pin) || n < leastPhrase || n > MostPhrase {
		return ErrPIN
	}
	if repeats(strings.ToLower(pin), n/3) || row(pin) {
		return ErrTrivial
	}
	return nil
}

// trivialPIN finds the PINs that guessers try first.
func trivialPIN(pin string) bool {
	for _, keys := range []string{"2580", "0852", "1379", "1793", "9731", "1397", "7410", "1590", "3570", "1470",
		"3690", "147258", "258369", "159753", "123321"} {
		if pin == keys {
			return true
		}
	}
	year := len(pin) == 4 && (strings.HasPrefix(pin, "19") || strings.HasPrefix(pin, "20"))
	return year || row(pin) || repeats(pin, len(pin)/2)
}

// row reports whether each character follows the one before it, up or down, nine and nought being neighbours.
func row(s string) bool {
	up, down := true, true
	for i := 1; i < len(s); i++ {
		d := int(s[i]) - int(s[i-1])
		if s[i] == '0' && s[i-1] == '9' {
			d = 1
		}
		if s[i] == '9' && s[i-1] == '0' {
			d = -1
		}
		up, down = up && d == 1, down && d == -1
	}
	return up || down
}

// repeats reports whether a text is one piece, of up to so many bytes, over and over.
func repeats(s string, most int) bool {
	for n := 1; n <= most; n++ {
		if len(s)%n == 0 && strings.Repeat(s[:n], len(s)/n) == s {
			return true
		}
	}
	return false
}

// Matches compares a PIN or passphrase with a hash. One that is too long for any is not looked at.
func (h Hasher) Matches(pin, hash string) (bool, error) {
	if utf8.RuneCountInString(pin) > MostPhrase {
		return false, nil
	}
	return argon2id.ComparePasswordAndHash(pin, hash)
}
