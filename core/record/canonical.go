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
	var first bytes.Buffer
	enc := json.NewEncoder(&first)
	enc.SetEscapeHTML(false)
	if err := enc.Encode(v); err != nil {
		return nil, fmt.Errorf("record: canonical form: %w", err)
	}
	dec := json.NewDecoder(&first)
	dec.UseNumber()
	var tree any
	if err := dec.Decode(&tree); err != nil {
		return nil, fmt.Errorf("record: canonical form: %w", err)
	}
	var out bytes.Buffer
	enc = json.NewEncoder(&out)
	enc.SetEscapeHTML(false)
	if err := enc.Encode(tree); err != nil { // maps are written with sorted keys
		return nil, fmt.Errorf("record: canonical form: %w", err)
	}
	return bytes.TrimRight(out.Bytes(), "\n"), nil
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
