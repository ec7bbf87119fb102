package record

import (
	"crypto/ed25519"
	"encoding/base64"
	"encoding/json"
	"errors"
	"time"
)

// Signed is a text that a site signed, other than a record of a joint: its canonical form, an Ed25519 signature over
// the name of its format and that text, a line each, and the key, both in base64.
type Signed struct {
	Text      json.RawMessage
	Signature string
	PublicKey string
}

// SignText signs v as a text of a format. The text must name the key as KeyID gives it.
func SignText(format string, v any, key ed25519.PrivateKey) (Signed, error) {
	text, err := Canonical(v)
	if err != nil {
		return Signed{}, err
	}
	return Signed{Text: text, Signature: base64.StdEncoding.EncodeToString(ed25519.Sign(key, formatText(format, text))),
		PublicKey: base64.StdEncoding.EncodeToString(key.Public().(ed25519.PublicKey))}, nil
}

func formatText(format string, text []byte) []byte { return append([]byte(format+"\n"), text...) }

// Holds refuses a signed text whose key is not the one that the text names, did not count at the time of signing, or
// did not sign it. known are the keys of the site; none: any key is taken.
func (s Signed) Holds(format, keyID string, at time.Time, known []Key) error {
	pub, ok := exact(s.PublicKey, ed25519.PublicKeySize)
	if !ok || KeyID(pub) != keyID {
		return errors.New("the key is not the one that is named")
	}
	if err := Believe(known, pub, at); err != nil {
		return err
	}
	sig, ok := exact(s.Signature, ed25519.SignatureSize)
	if !ok || !ed25519.Verify(pub, formatText(format, s.Text), sig) {
		return errors.New("was changed: the signature does not fit")
	}
	return nil
}
