package pressuretest

import (
	"crypto/ed25519"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"strings"
	"time"

	"dynacor/core/quantity"
	"dynacor/core/record"
)

// Format names the form of a sealed sheet.
const Format = "dynacor-pressure-test/1"

// Sheet is a test that is closed: what it was to be, everything that was done, and how it came out.
type Sheet struct {
	Format   string    `json:"format"`
	Site     string    `json:"site"`
	SealedAt time.Time `json:"sealedAt"`
	KeyID    string    `json:"keyId"`
	Spec     Spec      `json:"spec"`
	Events   []Event   `json:"events"`
	Verdict  Verdict   `json:"verdict"`
}

// File is a sheet as it is kept and handed out.
type File struct {
	Sheet     json.RawMessage `json:"sheet"`
	Signature string          `json:"signature"` // Ed25519 over format and canonical text, a line each, base64
	PublicKey string          `json:"publicKey"`
}

// Seal signs a closed test with the key of its site. Mark is the SHA-256 of the canonical sheet. Refused: one that is
// not closed.
func Seal(site string, s Spec, events []Event, at time.Time, key ed25519.PrivateKey) (f File, mark string, err error) {
	st := Fold(s, events)
	if st.Phase != Closed {
		return f, "", quantity.Refuse("as", "Two persons sign first.", "the test is not closed")
	}
	x := Sheet{Format, site, at, record.KeyID(key.Public().(ed25519.PublicKey)), s, events, st.Verdict}
	signed, err := record.SignText(Format, x, key)
	return File{signed.Text, signed.Signature, signed.PublicKey}, record.Sum(signed.Text), err
}

// Verify reads a sealed sheet and holds it against itself: form, key, signature, that it could be led as it was laid
// out, that each event says what was typed and was one that the test could take, and that they lead to the verdict it
// names. known are the keys of the site; none: any key is taken.
func Verify(data []byte, known []record.Key) (Sheet, string, error) {
	var f File
	var x Sheet
	if err := record.ReadStrict(data, &f); err != nil {
		return x, "", err
	}
	if err := record.ReadStrict(f.Sheet, &x); err != nil {
		return x, "", err
	}
	if x.Format != Format {
		return x, "", fmt.Errorf("pressuretest: the format %.40q is not known here", x.Format)
	}
	if err := (record.Signed{Text: f.Sheet, Signature: f.Signature, PublicKey: f.PublicKey}).Holds(Format, x.KeyID,
		x.SealedAt, known); err != nil {
		return x, "", fmt.Errorf("pressuretest: %w", err)
	}
	if err := x.Spec.Check(); err != nil {
		return x, "", fmt.Errorf("pressuretest: it could not be led as it was laid out: %w", err)
	}
	for i, e := range x.Events {
		typed := e
		if err := typed.Typed(); err != nil || !reflect.DeepEqual(typed, e) {
			return x, "", fmt.Errorf("pressuretest: event %d says another figure than was typed", i+1)
		}
		if err := Admit(x.Spec, x.Events[:i], e); err != nil {
			return x, "", fmt.Errorf("pressuretest: event %d could not happen: %w", i+1, err)
		}
	}
	if st := Fold(x.Spec, x.Events); st.Phase != Closed || !reflect.DeepEqual(st.Verdict, x.Verdict) {
		return x, "", errors.New("pressuretest: its events do not lead to the verdict it names")
	}
	return x, record.Sum(f.Sheet), nil
}

// Says is the sheet in a sentence, for the records of the joints it covered.
func (x Sheet) Says() string {
	at := ""
	if x.Spec.Kind != Purge {
		at = " at " + bar(x.Spec.TestBar)
	}
	s := x.Spec
	return fmt.Sprintf("%s, %s, %s%s, by %s: %s. %s", s.Tag, s.Title, s.Kind.Word(), at, s.Procedure, x.Verdict.Word,
		x.Verdict.Sentence)
}

// Is reports whether a file is a sealed sheet, and not a record of a joint.
func Is(data []byte) bool {
	var top map[string]json.RawMessage
	return json.Unmarshal(data, &top) == nil && top["sheet"] != nil
}

// Report verifies a sealed sheet and says so as of a record.
func Report(data []byte, known []record.Key) record.Report {
	x, mark, err := Verify(data, known)
	if err != nil {
		return record.Report{Problems: []string{err.Error()}}
	}
	return record.Report{OK: true, Format: Format, KeyKnown: len(known) > 0, Number: x.Spec.Tag,
		Joint: strings.Join(x.Spec.Joints, ", "), SealedAt: x.SealedAt, KeyID: x.KeyID, Mark: mark,
		EventCount: len(x.Events), Problems: []string{}, Checked: []string{"signature and key",
			"every event could happen as it stands", "the events lead to the verdict: " + x.Verdict.Word}}
}
