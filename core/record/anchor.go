package record

import (
	"crypto/ed25519"
	"crypto/sha256"
	"encoding/base32"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
)

// AnchorFormat names the form of an anchor.
const AnchorFormat = "dynacor-anchor/1"

// Leaf is one head that an anchor holds fast: of a run after so many events, of a record, of a stretch of the audit
// log.
type Leaf struct {
	Kind string `json:"kind"` // run, record, addition, audit
	ID   string `json:"id"`
	Seq  int    `json:"seq"`
	Hash string `json:"hash"`
}

// Anchor holds fast everything that was recorded up to a moment: the root of a hash tree over the heads that are new
// since the anchor before, and the hash of that one. Whoever keeps an anchor outside finds out when something that was
// there is missing or changed, even by the owner of the database.
type Anchor struct {
	Format   string    `json:"format"`
	Site     string    `json:"site"`
	Number   int       `json:"number"` // from 1
	At       time.Time `json:"at"`
	Previous string    `json:"previous"` // hash of the anchor before; "" for the first
	Leaves   int       `json:"leaves"`
	Root     string    `json:"root"`
	KeyID    string    `json:"keyId"`
}

// Hash names the anchor: the SHA-256 of its canonical text, hex.
func (a Anchor) Hash() (string, error) { return Digest(a) }

// Code is an anchor's hash as people copy it by hand: 52 letters and digits in groups of four.
func Code(hash string) string {
	b, err := hex.DecodeString(hash)
	if err != nil {
		return ""
	}
	text := base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(b)
	var out []string
	for ; len(text) > 4; text = text[4:] {
		out = append(out, text[:4])
	}
	return strings.Join(append(out, text), " ")
}

// Root is the root of the hash tree over leaves in their order (RFC 6962, section 2.1): a leaf is hashed behind a zero
// byte, a node behind a one. No leaves: the hash of nothing.
func Root(leaves []Leaf) (string, error) {
	hashes := make([][]byte, len(leaves))
	for i, l := range leaves {
		text, err := Canonical(l)
		if err != nil {
			return "", err
		}
		s := sha256.Sum256(append([]byte{0}, text...))
		hashes[i] = s[:]
	}
	return hex.EncodeToString(tree(hashes)), nil
}

func tree(h [][]byte) []byte {
	switch len(h) {
	case 0:
		s := sha256.Sum256(nil)
		return s[:]
	case 1:
		return h[0]
	}
	k := 1
	for k*2 < len(h) {
		k *= 2
	}
	s := sha256.Sum256(append(append([]byte{1}, tree(h[:k])...), tree(h[k:])...))
	return s[:]
}

// SortLeaves puts leaves in the one order that an anchor takes them in.
func SortLeaves(leaves []Leaf) {
	slices.SortFunc(leaves, func(a, b Leaf) int {
		if c := strings.Compare(a.Kind, b.Kind); c != 0 {
			return c
		}
		return strings.Compare(a.ID, b.ID)
	})
}

// NewAnchor makes an anchor over sorted leaves and signs it.
func NewAnchor(site string, number int, previous string, leaves []Leaf, at time.Time, key ed25519.PrivateKey) (a Anchor,
	signature string, err error) {
	a = Anchor{Format: AnchorFormat, Site: site, Number: number, At: at, Previous: previous, Leaves: len(leaves),
		KeyID: KeyID(key.Public().(ed25519.PublicKey))}
	if a.Root, err = Root(leaves); err != nil {
		return a, "", err
	}
	text, err := Canonical(a)
	if err != nil {
		return a, "", err
	}
	return a, base64.StdEncoding.EncodeToString(ed25519.Sign(key, anchorText(text))), nil
}

func anchorText(canonical []byte) []byte { return append([]byte(AnchorFormat+"\n"), canonical...) }

// CheckAnchor refuses an anchor that does not hold: its leaves, its signature by one of the keys, and that it follows
// the one before.
func CheckAnchor(a Anchor, signature string, leaves []Leaf, previous string, known []Key) error {
	if a.Format != AnchorFormat {
		return fmt.Errorf("anchor %d has the format %q", a.Number, clip(a.Format))
	}
	if a.Previous != previous {
		return fmt.Errorf("anchor %d does not follow from the one before it", a.Number)
	}
	root, err := Root(leaves)
	if err != nil {
		return err
	}
	if root != a.Root || len(leaves) != a.Leaves {
		return fmt.Errorf("the heads kept with anchor %d are not those it was made over", a.Number)
	}
	text, err := Canonical(a)
	if err != nil {
		return err
	}
	sig, ok := exact(signature, ed25519.SignatureSize)
	at := slices.IndexFunc(known, func(k Key) bool { return KeyID(k.Public) == a.KeyID })
	if !ok || at < 0 || !ed25519.Verify(known[at].Public, anchorText(text), sig) {
		return fmt.Errorf("the signature of anchor %d does not hold", a.Number)
	}
	if err := known[at].holds(a.At); err != nil {
		return fmt.Errorf("anchor %d: %w: %w", a.Number, ErrKeyTime, err)
	}
	return nil
}

// ErrKeyTime says that a signature fits, and that its key did not count at that time. A later anchor whose key counts
// vouches for those before it.
var ErrKeyTime = errors.New("its key does not count")

// ErrNoAnchor says that nothing was anchored yet.
var ErrNoAnchor = errors.New("nothing was anchored yet")
