// Package record makes a finished run into something that can be believed without us: one canonical text, a chain of
// hashes over its events, digests of its parts, an Ed25519 signature, and the check of all that. It must never read a
// clock or a disk.
package record

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
)

// Canonical gives the one text of v: JSON with object keys sorted by their bytes, no blanks, numbers as Go writes them
// (shortest form), no escaping of <, > and &. Two values that say the same have the same text.
func Canonical(v any) ([]byte, error) {
	text, err := plain(v)
	if err != nil {
		return nil, fmt.Errorf("record: canonical form: %w", err)
	}
	s := &scanner{in: text, out: make([]byte, 0, len(text))}
	if _, err := s.value(partDepth); err != nil {
		return nil, fmt.Errorf("record: canonical form: %w", err)
	}
	return s.out, nil
}

// plain is v as encoding/json writes it, with <, > and & as they stand.
func plain(v any) ([]byte, error) {
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	err := enc.Encode(v)
	return bytes.TrimRight(b.Bytes(), "\n"), err
}

// Digest is the SHA-256 of the canonical text, in hex.
func Digest(v any) (string, error) {
	c, err := Canonical(v)
	if err != nil {
		return "", err
	}
	s := sha256.Sum256(c)
	return hex.EncodeToString(s[:]), nil
}
