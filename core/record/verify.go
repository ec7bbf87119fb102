package record

import (
	"bytes"
	"crypto/ed25519"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"
)

// Report is the result of a verification. Problems name what was changed.
type Report struct {
	OK         bool      `json:"ok"`
	Format     string    `json:"format"`
	Number     string    `json:"number"`
	Joint      string    `json:"joint"`
	SealedAt   time.Time `json:"sealedAt"`
	KeyID      string    `json:"keyId"`
	KeyKnown   bool      `json:"keyKnown"`
	Mark       string    `json:"mark"`
	Checked    []string  `json:"checked"`
	Problems   []string  `json:"problems"`
	EventCount int       `json:"eventCount"`
	// what was added behind the seal, in its order, when the file has it
	Additions []Addition `json:"additions,omitempty"`
}

func (r *Report) bad(format string, args ...any) {
	r.Problems = append(r.Problems, fmt.Sprintf(format, args...))
}

func (r *Report) good(format string, args ...any) {
	r.Checked = append(r.Checked, fmt.Sprintf(format, args...))
}

// Key is a public key that a reader trusts, and for which time.
type Key struct {
	Public       ed25519.PublicKey
	From         time.Time  // a record sealed earlier was not sealed by it; zero: not known
	Until        *time.Time // a record sealed later was not sealed by it; nil: still in use
	Revoked      *time.Time // from then on nothing of it is believed; nil: never
	RevokeReason string
}

// holds refuses a key for a record sealed at a time.
func (k Key) holds(at time.Time) error {
	id := KeyID(k.Public)
	switch {
	case k.Revoked != nil && !at.Before(*k.Revoked):
		return fmt.Errorf("the key %s is not to be believed from %s on: %s", id, k.Revoked.UTC().Format(time.RFC3339),
			k.RevokeReason)
	case !k.From.IsZero() && at.Before(k.From):
		return fmt.Errorf("the key %s came into use at %s, after the time of the seal", id,
			k.From.UTC().Format(time.RFC3339))
	case k.Until != nil && at.After(*k.Until):
		return fmt.Errorf("the key %s went out of use at %s, before the time of the seal", id,
			k.Until.UTC().Format(time.RFC3339))
	}
	return nil
}

// Believe refuses a key that is not one of those known, or did not hold at a time. With none known any key is taken.
func Believe(known []Key, pub ed25519.PublicKey, at time.Time) error {
	for _, k := range known {
		if string(k.Public) == string(pub) {
			return k.holds(at)
		}
	}
	if len(known) > 0 {
		return fmt.Errorf("it is signed by %s, which is not one of the keys known here", KeyID(pub))
	}
	return nil
}

// Trust makes keys that hold for all time from public keys alone.
func Trust(pubs ...ed25519.PublicKey) []Key {
	out := make([]Key, len(pubs))
	for i, p := range pubs {
		out[i].Public = p
	}
	return out
}

// opened is a file that was read strictly: its canonical text, and where its parts stand in it.
type opened struct {
	text   []byte
	record node
	file   File
	seal   []byte // canonical text of the seal
}

func (o opened) at(n node) []byte { return o.text[n.start:n.end] }

// open reads a file without mercy. Refused: what strict refuses, and any key too few or too many in file, seal and
// record.
func open(data []byte) (opened, error) {
	text, top, err := strict(data)
	if err != nil {
		return opened{}, err
	}
	return openAt(text, top)
}

// openAt is open for what was read strictly already.
func openAt(text []byte, top node) (opened, error) {
	o, err := opened{text: text}, error(nil)
	if err := exactly(top, "the file", fileKeys...); err != nil {
		return o, err
	}
	seal, _ := top.get("seal")
	o.record, _ = top.get("record")
	o.seal = o.at(seal)
	o.file.Record = o.at(o.record)
	sig, _ := top.get("signature")
	pub, _ := top.get("publicKey")
	if err := errors.Join(json.Unmarshal(o.seal, &o.file.Seal), json.Unmarshal(o.at(sig), &o.file.Signature),
		json.Unmarshal(o.at(pub), &o.file.PublicKey)); err != nil {
		return o, fmt.Errorf("the seal cannot be read: %w", err)
	}
	switch o.file.Seal.Format {
	case Format:
		err = exactly(seal, "the seal", sealKeys...)
	case FormatFirst:
		err = exactly(seal, "the seal", sealKeysFirst...)
	default:
		err = fmt.Errorf("the format is %q; this program reads %q and %q", clip(o.file.Seal.Format), Format,
			FormatFirst)
	}
	if err != nil {
		return o, err
	}
	return o, o.record.only("the record", recordKeys...)
}

// exactly refuses a key too many or too few.
func exactly(n node, what string, keys ...string) error {
	if err := n.only(what, keys...); err != nil {
		return err
	}
	for _, k := range keys {
		if _, ok := n.get(k); !ok {
			return fmt.Errorf("%s has no %q", what, k)
		}
	}
	return nil
}

// Read gives the record of a file. It checks nothing but the form: Verify says whether the file is to be believed.
func Read(data []byte) (File, Record, error) {
	o, err := open(data)
	if err != nil {
		return File{}, Record{}, fmt.Errorf("record: %w", err)
	}
	var r Record
	if err := json.Unmarshal(o.file.Record, &r); err != nil {
		return File{}, Record{}, fmt.Errorf("record: %w", err)
	}
	if r.Plan == nil || r.State == nil {
		return File{}, Record{}, errors.New("record: plan or result is missing")
	}
	return o.file, r, nil
}

// CanonicalText reads JSON without mercy and gives its canonical text. Refused: what two readers could read
// differently, and whatever is past the bounds of a file.
func CanonicalText(data []byte) ([]byte, error) {
	text, _, err := strict(data)
	return text, err
}

// ReadStrict reads JSON without mercy into a value. Refused: a text that says anything which the value does not take
// in.
func ReadStrict[T any](data []byte, into *T) error {
	text, err := CanonicalText(data)
	if err != nil {
		return fmt.Errorf("record: %w", err)
	}
	if err := json.Unmarshal(text, into); err != nil {
		return fmt.Errorf("record: %w", err)
	}
	again, err := Canonical(into)
	if err != nil {
		return err
	}
	if string(again) != string(text) {
		return errors.New("record: the file says something that is not read here")
	}
	return nil
}

// Same reports whether two files say the same: whether they have one canonical text. Refused: a file that cannot be
// read strictly.
func Same(a, b []byte) (bool, error) {
	x, _, err := strict(a)
	if err != nil {
		return false, fmt.Errorf("record: %w", err)
	}
	y, _, err := strict(b)
	if err != nil {
		return false, fmt.Errorf("record: %w", err)
	}
	return bytes.Equal(x, y), nil
}

// Verify checks a sealed record: form, signature, every part against its digest, the chain of events, and the verdict
// worked out anew. known are the keys this reader trusts; none known is said, and is a problem only when known is not
// empty. A file with additions is checked with them. The plan is followed only when the signature holds and the key is
// not a stranger's. It never panics.
func Verify(data []byte, known []Key) Report {
	text, top, err := strict(data)
	if err == nil && isWhole(top) {
		return verifyWhole(text, top, known)
	}
	return verifySealed(text, top, err, known)
}

// verifySealed checks the sealed record alone; err is what kept its text from being read strictly.
func verifySealed(text []byte, top node, err error, known []Key) Report {
	r := Report{Checked: []string{}, Problems: []string{}}
	var o opened
	if err == nil {
		o, err = openAt(text, top)
	}
	if err != nil {
		r.bad("This is not a sealed record of Dynacor as it was exported: %v.", err)
	}
	s := o.file.Seal
	r.Format, r.Number, r.Joint, r.SealedAt, r.KeyID = clip(s.Format), clip(s.Number), clip(s.Joint), s.SealedAt,
		clip(s.KeyID)
	if err != nil {
		return r
	}
	r.Mark = Sum(o.seal)
	if !r.key(o, known) {
		return r
	}
	signed := len(r.Problems) == 0
	r.digests(o)
	chained := r.chain(o)
	if signed && chained && len(r.Problems) == 0 {
		r.verdict(o)
	}
	r.OK = len(r.Problems) == 0
	return r
}

// exact decodes base64 that is written in the one usual way: no line breaks, no bits left over, full padding.
func exact(s string, size int) ([]byte, bool) {
	b, err := base64.StdEncoding.DecodeString(s)
	return b, err == nil && len(b) == size && base64.StdEncoding.EncodeToString(b) == s
}

// key checks key and signature; false when there is no key to go on with.
func (r *Report) key(o opened, known []Key) bool {
	s := o.file.Seal
	pub, ok := exact(o.file.PublicKey, ed25519.PublicKeySize)
	if !ok {
		r.bad("The public key in the file is not a key.")
		return false
	}
	at := slices.IndexFunc(known, func(k Key) bool { return bytes.Equal(k.Public, pub) })
	r.KeyKnown = at >= 0
	if KeyID(pub) != s.KeyID {
		r.bad("The key is not the one the seal names (%s).", clip(s.KeyID))
	}
	if len(known) > 0 && !r.KeyKnown {
		r.bad("The key %s is not one of the keys known here: anybody could have made this seal.", KeyID(pub))
	}
	if r.KeyKnown {
		if err := known[at].holds(s.SealedAt); err != nil {
			r.bad("%s.", capital(err.Error()))
		}
	}
	text := o.seal
	if s.Format == Format {
		text = signedText(o.seal, o.at(o.record))
	}
	sig, ok := exact(o.file.Signature, ed25519.SignatureSize)
	switch {
	case !ok:
		r.bad("The signature is not one: it was cut, lengthened or written anew.")
	case !ed25519.Verify(pub, text, sig):
		r.bad("The signature does not fit: number, joint, time, key, a digest in the seal or the record itself " +
			"was changed.")
	default:
		r.good("Signature of key %s", s.KeyID)
	}
	return true
}

func capital(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

func (r *Report) digests(o opened) {
	s := o.file.Seal
	here := map[string]string{} // digest by part
	sealed := s.Parts
	if s.Format == FormatFirst {
		sealed = s.Digests
		for path, text := range partsFirst(o.text, o.record) {
			here[path] = Sum(text)
		}
	} else {
		if Sum(o.at(o.record)) != s.Whole {
			r.bad("The record is not the one that was sealed.")
		}
		for path, text := range parts(o.text, o.record) {
			here[path] = Sum(text)
		}
	}
	paths := slices.Sorted(maps.Keys(here))
	for p := range sealed {
		if _, ok := here[p]; !ok {
			paths = append(paths, p)
		}
	}
	slices.Sort(paths)
	for _, p := range paths {
		if len(r.Problems) >= mostProblems {
			r.bad("More was changed; the first %d places are named.", mostProblems)
			return
		}
		got, isHere := here[p]
		want, isSealed := sealed[p]
		switch {
		case !isHere:
			r.bad("%s was removed.", partName(p))
		case !isSealed:
			r.bad("%s was added.", partName(p))
		case got != want:
			r.bad("%s was changed.", partName(p))
		}
	}
	r.good("%d parts against their digests", len(paths))
}

// mostProblems keeps a report readable, whatever was done to the file.
const mostProblems = 200

// partsFirst cuts a record as the first format did: by dotted paths. The record has no keys but its own, so that no two
// parts have one name.
func partsFirst(text []byte, record node) map[string][]byte {
	out := map[string][]byte{}
	for _, k := range record.kids {
		switch {
		case k.object:
			for _, kid := range k.kids {
				out[k.key+"."+kid.key] = text[kid.start:kid.end]
			}
		case k.list:
			for i, kid := range k.kids {
				out[fmt.Sprintf("%s[%d]", k.key, i+1)] = text[kid.start:kid.end]
			}
		default:
			out[k.key] = text[k.start:k.end]
		}
	}
	return out
}

// partName says a part in words: "Event 17", "The plan's targetNm".
func partName(p string) string {
	first := !strings.HasPrefix(p, "/")
	if n, ok := strings.CutPrefix(p, "events["); ok {
		return "Event " + clip(strings.TrimSuffix(n, "]"))
	}
	if n, ok := strings.CutPrefix(p, "/events/"); ok {
		if i, err := strconv.Atoi(n); err == nil {
			return "Event " + strconv.Itoa(i+1)
		}
	}
	p = strings.TrimPrefix(p, "/")
	apart := "/"
	if first {
		apart = "."
	}
	p = strings.ReplaceAll(strings.ReplaceAll(p, "~1", "/"), "~0", "~")
	if k, ok := strings.CutPrefix(p, "plan"+apart); ok {
		return "The plan's " + clip(k)
	}
	if k, ok := strings.CutPrefix(p, "state"+apart); ok {
		return "The result's " + clip(k)
	}
	return "The record's " + clip(p)
}
