package record

import (
	"bytes"
	"crypto/ed25519"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"sort"
	"strings"
	"time"

	"dynacor/core/plan"
	"dynacor/core/run"
)

// Format of the file. A change that a reader must know of gets a new number.
const Format = "dynacor-record/1"

// Statement stands on every record.
const Statement = "This record documents what was entered and what was out of limits. It does not certify the joint as safe. Site rules, local codes and the judgement of qualified people come first."

// Entry is an event in the chain: its number, when the server took it, and the hash that ties it to the one before.
type Entry struct {
	Seq        int       `json:"seq"`
	ReceivedAt time.Time `json:"receivedAt"`
	PrevHash   string    `json:"prevHash"`
	Hash       string    `json:"hash"`
	Event      run.Event `json:"event"`
}

// Link gives the hash of an entry: SHA-256 over the previous hash and the canonical text of run, number, time and event.
func Link(runID string, e Entry) (string, error) {
	c, err := Canonical(map[string]any{"run": runID, "seq": e.Seq, "receivedAt": e.ReceivedAt, "event": e.Event})
	if err != nil {
		return "", err
	}
	h := sha256.New()
	h.Write([]byte(e.PrevHash))
	h.Write(c)
	return hex.EncodeToString(h.Sum(nil)), nil
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

// Seal is what is signed: the digests of all parts of the record.
type Seal struct {
	Format   string            `json:"format"`
	Number   string            `json:"number"`
	Joint    string            `json:"joint"`
	SealedAt time.Time         `json:"sealedAt"`
	KeyID    string            `json:"keyId"`
	Digests  map[string]string `json:"digests"` // by path of the part
}

// File is a sealed record as exported. Record is kept as raw text so that reading cannot change it.
type File struct {
	Seal      Seal            `json:"seal"`
	Signature string          `json:"signature"` // Ed25519 over the canonical text of Seal, base64
	PublicKey string          `json:"publicKey"` // base64
	Record    json.RawMessage `json:"record"`
}

// KeyID names a public key: the first 16 hex digits of its SHA-256.
func KeyID(pub ed25519.PublicKey) string {
	s := sha256.Sum256(pub)
	return hex.EncodeToString(s[:8])
}

// parts cuts a record into the pieces that get a digest: each event, each key of plan and state, each other key.
func parts(raw []byte) (map[string]any, error) {
	dec := json.NewDecoder(bytes.NewReader(raw))
	dec.UseNumber()
	var top map[string]any
	if err := dec.Decode(&top); err != nil {
		return nil, fmt.Errorf("the record is not readable JSON: %w", err)
	}
	out := map[string]any{}
	for k, v := range top {
		switch val := v.(type) {
		case map[string]any:
			for kk, vv := range val {
				out[k+"."+kk] = vv
			}
		case []any:
			for i, vv := range val {
				out[fmt.Sprintf("%s[%d]", k, i+1)] = vv
			}
		default:
			out[k] = v
		}
	}
	return out, nil
}

// Sign seals a record with a key at a time.
func Sign(r Record, key ed25519.PrivateKey, at time.Time) (File, error) {
	raw, err := Canonical(r)
	if err != nil {
		return File{}, err
	}
	pieces, err := parts(raw)
	if err != nil {
		return File{}, err
	}
	pub := key.Public().(ed25519.PublicKey)
	s := Seal{Format: Format, Number: r.Number, Joint: r.Plan.Joint.Tag, SealedAt: at, KeyID: KeyID(pub), Digests: map[string]string{}}
	for path, v := range pieces {
		if s.Digests[path], err = Digest(v); err != nil {
			return File{}, err
		}
	}
	text, err := Canonical(s)
	if err != nil {
		return File{}, err
	}
	return File{Seal: s, Signature: base64.StdEncoding.EncodeToString(ed25519.Sign(key, text)), PublicKey: base64.StdEncoding.EncodeToString(pub), Record: raw}, nil
}

// Mark is the digest of the seal, which stands for the whole file: 64 hex digits.
func (f File) Mark() (string, error) { return Digest(f.Seal) }

// Report is the result of a verification. Problems name what was changed.
type Report struct {
	OK         bool      `json:"ok"`
	Number     string    `json:"number"`
	Joint      string    `json:"joint"`
	SealedAt   time.Time `json:"sealedAt"`
	KeyID      string    `json:"keyId"`
	KeyKnown   bool      `json:"keyKnown"`
	Mark       string    `json:"mark"`
	Checked    []string  `json:"checked"`
	Problems   []string  `json:"problems"`
	EventCount int       `json:"eventCount"`
}

// Verify checks a sealed record: signature, every part against its digest, the chain of events, and the verdict worked out anew.
// known are the public keys this reader trusts; none known is said, and is a problem only when known is not empty.
func Verify(data []byte, known []ed25519.PublicKey) Report {
	r := Report{Checked: []string{}, Problems: []string{}}
	bad := func(format string, args ...any) { r.Problems = append(r.Problems, fmt.Sprintf(format, args...)) }
	var f File
	if err := json.Unmarshal(data, &f); err != nil || len(f.Record) == 0 {
		bad("This is not a sealed record of Dynacor, or it was cut short.")
		return r
	}
	r.Number, r.Joint, r.SealedAt, r.KeyID = f.Seal.Number, f.Seal.Joint, f.Seal.SealedAt, f.Seal.KeyID
	r.Mark, _ = f.Mark()
	if f.Seal.Format != Format {
		bad("The format is %q; this program reads %q.", f.Seal.Format, Format)
	}
	pub, err := base64.StdEncoding.DecodeString(f.PublicKey)
	if err != nil || len(pub) != ed25519.PublicKeySize {
		bad("The public key in the file is not a key.")
		return r
	}
	r.KeyKnown = slices.ContainsFunc(known, func(k ed25519.PublicKey) bool { return bytes.Equal(k, pub) })
	if KeyID(pub) != f.Seal.KeyID {
		bad("The key is not the one the seal names (%s).", f.Seal.KeyID)
	}
	if len(known) > 0 && !r.KeyKnown {
		bad("The key %s is not one of the keys known here: anybody could have made this seal.", KeyID(pub))
	}
	sig, _ := base64.StdEncoding.DecodeString(f.Signature)
	text, err := Canonical(f.Seal)
	if err != nil || !ed25519.Verify(pub, text, sig) {
		bad("The signature does not fit the seal: number, joint, time, key or a digest in the seal was changed.")
	} else {
		r.Checked = append(r.Checked, "Signature of key "+f.Seal.KeyID)
	}
	r.digests(f, bad)
	r.chain(f, bad)
	r.OK = len(r.Problems) == 0
	return r
}

func (r *Report) digests(f File, bad func(string, ...any)) {
	pieces, err := parts(f.Record)
	if err != nil {
		bad("%v", err)
		return
	}
	paths := make([]string, 0, len(pieces)+len(f.Seal.Digests))
	for p := range pieces {
		paths = append(paths, p)
	}
	for p := range f.Seal.Digests {
		if _, ok := pieces[p]; !ok {
			paths = append(paths, p)
		}
	}
	sort.Strings(paths)
	for _, p := range paths {
		v, here := pieces[p]
		want, sealed := f.Seal.Digests[p]
		switch {
		case !here:
			bad("%s was removed.", partName(p))
		case !sealed:
			bad("%s was added.", partName(p))
		default:
			if got, err := Digest(v); err != nil || got != want {
				bad("%s was changed.", partName(p))
			}
		}
	}
	r.Checked = append(r.Checked, fmt.Sprintf("%d parts against their digests", len(paths)))
}

// partName says a path in words: "Event 17 (events[17])", "Target of the plan (plan.targetNm)".
func partName(p string) string {
	if n, ok := strings.CutPrefix(p, "events["); ok {
		return "Event " + strings.TrimSuffix(n, "]")
	}
	if k, ok := strings.CutPrefix(p, "plan."); ok {
		return "The plan's " + k
	}
	if k, ok := strings.CutPrefix(p, "state."); ok {
		return "The result's " + k
	}
	return "The record's " + p
}

func (r *Report) chain(f File, bad func(string, ...any)) {
	var rec Record
	if err := json.Unmarshal(f.Record, &rec); err != nil || rec.Plan == nil || rec.State == nil {
		bad("The record cannot be read: %v", err)
		return
	}
	prev := ""
	events := make([]run.Event, 0, len(rec.Events))
	for i, e := range rec.Events {
		events = append(events, e.Event)
		what := fmt.Sprintf("Event %d (%s", e.Seq, e.Event.Kind)
		if e.Event.Fastener > 0 {
			what += fmt.Sprintf(", bolt at position %d, pass %d", e.Event.Fastener, e.Event.Pass)
		}
		what += fmt.Sprintf(", %s)", e.Event.Person.Name)
		if e.Seq != i+1 {
			bad("%s stands at place %d: an event was removed, added or moved.", what, i+1)
		}
		if e.PrevHash != prev {
			bad("%s does not follow from the one before it.", what)
		}
		if h, err := Link(rec.RunID, e); err != nil || h != e.Hash {
			bad("%s was changed after it was recorded.", what)
		}
		prev = e.Hash
	}
	r.EventCount = len(rec.Events)
	r.Checked = append(r.Checked, fmt.Sprintf("Chain of %d events", len(rec.Events)))
	again := run.Fold(rec.Plan, events, f.Seal.SealedAt)
	if again.Verdict.Code != rec.State.Verdict.Code {
		bad("Worked out again from the events the verdict is %q, the record says %q.", again.Verdict.Word, rec.State.Verdict.Word)
	} else {
		r.Checked = append(r.Checked, "Verdict worked out again: "+again.Verdict.Word)
	}
}
