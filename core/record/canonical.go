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
	"sync"
)

// Canonical gives the one text of v: JSON with object keys sorted by their bytes, no blanks, numbers as Go writes them
// (shortest form), no escaping of <, > and &. Two values that say the same have the same text.
func Canonical(v any) ([]byte, error) {
	text, err := plain(v)
	if err != nil {
		return nil, fmt.Errorf("record: canonical form: %w", err)
	}
	s := scanners.Get().(*scanner)
	s.in, s.out = text, make([]byte, 0, len(text))
	if _, err := s.value(partDepth); err != nil {
		return nil, fmt.Errorf("record: canonical form: %w", err)
	}
	out := s.out
	clear(s.open[:cap(s.open)])
	*s = scanner{open: s.open[:0]}
	scanners.Put(s)
	return out, nil
}

// scanners are those of canonical texts that were written, for the room they have for members: every event takes one.
var scanners = sync.Pool{New: func() any { return new(scanner) }}

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
