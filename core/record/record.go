// Package record makes a finished run into something that can be believed without us: one canonical text, a chain of
// hashes over its events, digests of its parts, an Ed25519 signature, and the check of all that. It must never read a
// clock or a disk.
package record

import (
	"crypto/ed25519"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"strconv"
	"strings"
	"time"

	"dynacor/core/plan"
	"dynacor/core/run"
)

// Formats of the file. A change that a reader must know of gets a new number. Records are sealed as Format; the first
// format is still read.
const (
	Format      = "dynacor-record/2"
	FormatFirst = "dynacor-record/1"
)

// Statement stands on every record.
const Statement = "This record documents what was entered and what was out of limits. It does not certify the joint " +
	"as safe. Site rules, local codes and the judgement of qualified people come first."

// Entry is an event in the chain: its number, when the server took it, and the hash that ties it to the one before.
type Entry struct {
	Seq        int       `json:"seq"`
	ReceivedAt time.Time `json:"receivedAt"`
	PrevHash   string    `json:"prevHash"`
	Hash       string    `json:"hash"`
	Event      run.Event `json:"event"`
}

// Link gives the hash of an entry: SHA-256 over the previous hash and the canonical text of run, number, time and
// event.
func Link(runID string, e Entry) (string, error) {
	body, err := Canonical(e.Event)
	if err != nil {
		return "", err
	}
	return LinkText(runID, e, body)
}

// LinkText is Link with the event's canonical text as it is kept, so that a field this program does not know counts
// too.
func LinkText(runID string, e Entry, event []byte) (string, error) {
	at, err := plain(e.ReceivedAt)
	if err != nil {
		return "", err
	}
	id, err := plain(runID)
	if err != nil {
		return "", err
	}
	return link(e.PrevHash, event, at, id, []byte(strconv.Itoa(e.Seq))), nil
}

// link hashes the canonical text of {"event", "receivedAt", "run", "seq"} behind the hash before it.
func link(prev string, event, receivedAt, run, seq []byte) string {
	h := sha256.New()
	for _, b := range [][]byte{[]byte(prev), []byte(`{"event":`), event, []byte(`,"receivedAt":`), receivedAt,
		[]byte(`,"run":`), run, []byte(`,"seq":`), seq, []byte("}")} {
		h.Write(b)
	}
	return hex.EncodeToString(h.Sum(nil))
}

// Record is a finished run: requirement, what was done, verdict and signatures.
type Record struct {
	Number    string     `json:"number"`
	Site      string     `json:"site"`
	RunID     string     `json:"runId"`
	Plan      *plan.Plan `json:"plan"`
	Events    []Entry    `json:"events"`
	State     *run.State `json:"state"`
	Statement string     `json:"statement"`
}

// Seal says what is sealed, when and by which key. Whole is the digest of the record's canonical text; Parts are those
// of its parts, so that a change can be named.
type Seal struct {
	Format   string            `json:"format"`
	Number   string            `json:"number"`
	Joint    string            `json:"joint"`
	SealedAt time.Time         `json:"sealedAt"`
	KeyID    string            `json:"keyId"`
	Whole    string            `json:"whole,omitempty"`
	Parts    map[string]string `json:"parts,omitempty"`   // by JSON Pointer (RFC 6901) in the record
	Digests  map[string]string `json:"digests,omitempty"` // of the first format, by dotted path
}

// File is a sealed record as exported. Record is kept as raw text so that reading cannot change it.
type File struct {
	Seal      Seal            `json:"seal"`
	Signature string          `json:"signature"` // Ed25519, base64
	PublicKey string          `json:"publicKey"` // base64
	Record    json.RawMessage `json:"record"`
}

// Keys that the objects of a file have: all of them, and no other.
var (
	fileKeys       = []string{"seal", "signature", "publicKey", "record"}
	sealKeys       = []string{"format", "number", "joint", "sealedAt", "keyId", "whole", "parts"}
	sealKeysFirst  = []string{"format", "number", "joint", "sealedAt", "keyId", "digests"}
	recordKeys     = []string{"number", "site", "runId", "plan", "events", "state", "statement"}
	entryKeys      = []string{"seq", "receivedAt", "prevHash", "hash", "event"}
	cutIntoMembers = []string{"plan", "state", "events"} // parts of the record that are cut into their members
)

// KeyID names a public key: the first 16 hex digits of its SHA-256.
func KeyID(pub ed25519.PublicKey) string {
	s := sha256.Sum256(pub)
	return hex.EncodeToString(s[:8])
}

// Sum is the SHA-256 of bytes, hex.
func Sum(text []byte) string {
	s := sha256.Sum256(text)
	return hex.EncodeToString(s[:])
}

// signedText is what the signature covers: the format, the canonical text of the seal and that of the record, a line
// each.
func signedText(seal, record []byte) []byte {
	out := make([]byte, 0, len(Format)+len(seal)+len(record)+2)
	out = append(out, Format+"\n"...)
	out = append(out, seal...)
	out = append(out, '\n')
	return append(out, record...)
}

// parts cuts the record at a node of the canonical text into the pieces that get a digest, by JSON Pointer: each event,
// each member of plan and state, each other member.
func parts(text []byte, record node) map[string][]byte {
	out := map[string][]byte{}
	for _, k := range record.kids {
		at := "/" + pointer(k.key)
		if !cuts(k) {
			out[at] = text[k.start:k.end]
			continue
		}
		for i, kid := range k.kids {
			name := pointer(kid.key)
			if k.list {
				name = strconv.Itoa(i)
			}
			out[at+"/"+name] = text[kid.start:kid.end]
		}
	}
	return out
}

// cuts reports whether a member of the record is cut into its own members; one that has none is a piece itself.
func cuts(k node) bool {
	for _, name := range cutIntoMembers {
		if k.key == name {
			return len(k.kids) > 0
		}
	}
	return false
}

// pointer escapes a key for a JSON Pointer.
func pointer(key string) string {
	return strings.ReplaceAll(strings.ReplaceAll(key, "~", "~0"), "/", "~1")
}

// Sign seals a record with a key at a time.
func Sign(r Record, key ed25519.PrivateKey, at time.Time) (File, error) {
	raw, err := Canonical(r)
	if err != nil {
		return File{}, err
	}
	text, n, err := strict(raw)
	if err != nil {
		return File{}, fmt.Errorf("record: %w", err)
	}
	pub := key.Public().(ed25519.PublicKey)
	s := Seal{Format: Format, Number: r.Number, Joint: r.Plan.Joint.Tag, SealedAt: at, KeyID: KeyID(pub),
		Whole: Sum(text), Parts: map[string]string{}}
	for path, v := range parts(text, n) {
		s.Parts[path] = Sum(v)
	}
	seal, err := Canonical(s)
	if err != nil {
		return File{}, err
	}
	return File{Seal: s, Signature: base64.StdEncoding.EncodeToString(ed25519.Sign(key, signedText(seal, text))),
		PublicKey: base64.StdEncoding.EncodeToString(pub), Record: text}, nil
}

// Bytes is the file as it is kept and handed out: its canonical text. Refused: one larger than MostBytes.
func (f File) Bytes() ([]byte, error) {
	b, err := Canonical(f)
	if err == nil && len(b) > MostBytes {
		return nil, fmt.Errorf("record: the sealed file would be larger than %d MB", MostBytes>>20)
	}
	return b, err
}

// Mark is the digest of the seal, which stands for the whole file: 64 hex digits.
func (f File) Mark() (string, error) { return Digest(f.Seal) }
