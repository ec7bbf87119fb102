package dossier

import (
	"crypto/ed25519"
	"encoding/json"
	"fmt"
	"path"
	"slices"
	"strings"
	"time"

	"dynacor/core/record"
)

// IndexFormat names the form of the index of a dossier's files; IndexName is what it is called among them.
const (
	IndexFormat = "dynacor-dossier/1"
	IndexName   = "index.json"
)

// File is one of the files of a dossier.
type File struct {
	Name   string `json:"name"`
	SHA256 string `json:"sha256"` // of its bytes, hex
	Kind   string `json:"kind"`   // book, record, test
	Number string `json:"number,omitempty"`
	Joint  string `json:"joint,omitempty"`
}

// Index names every file of a dossier with its digest, so that one that is missing, changed or brought in from
// elsewhere is found out.
type Index struct {
	Format  string    `json:"format"`
	Site    string    `json:"site"`
	Package string    `json:"package"`
	Sheet   int       `json:"sheet"` // how often the book of this package was bound, this time with it
	BoundAt time.Time `json:"boundAt"`
	Gaps    []string  `json:"gaps"` // what was missing when it was bound
	KeyID   string    `json:"keyId"`
	Files   []File    `json:"files"`
}

// SignedIndex is an index as it lies among the files.
type SignedIndex struct {
	Index     json.RawMessage `json:"index"`
	Signature string          `json:"signature"` // Ed25519 over format and canonical text, a line each, base64
	PublicKey string          `json:"publicKey"`
}

// Sign seals an index with the key of its site.
func (x Index) Sign(key ed25519.PrivateKey) (SignedIndex, error) {
	x.Format, x.KeyID = IndexFormat, record.KeyID(key.Public().(ed25519.PublicKey))
	signed, err := record.SignText(IndexFormat, x, key)
	return SignedIndex{signed.Text, signed.Signature, signed.PublicKey}, err
}

// IsIndex reports whether a file is a signed index.
func IsIndex(data []byte) bool {
	var top map[string]json.RawMessage
	return json.Unmarshal(data, &top) == nil && top["index"] != nil && top["signature"] != nil
}

// ReadIndex reads a signed index and holds it against its key. known are the keys of the site; none: any key is taken.
func ReadIndex(data []byte, known []record.Key) (Index, error) {
	var f SignedIndex
	var x Index
	if err := record.ReadStrict(data, &f); err != nil {
		return x, err
	}
	if err := record.ReadStrict(f.Index, &x); err != nil {
		return x, err
	}
	if x.Format != IndexFormat {
		return x, fmt.Errorf("dossier: the format %.40q is not known here", x.Format)
	}
	if err := (record.Signed{Text: f.Index, Signature: f.Signature, PublicKey: f.PublicKey}).Holds(IndexFormat, x.KeyID,
		x.BoundAt, known); err != nil {
		return x, fmt.Errorf("dossier: %w", err)
	}
	seen := map[string]bool{}
	for _, f := range x.Files {
		if f.Name == "" || f.Name == IndexName || path.Clean(f.Name) != f.Name || path.IsAbs(f.Name) ||
			strings.HasPrefix(f.Name, "..") || seen[f.Name] {
			return x, fmt.Errorf("dossier: the index names a file %.80q that no dossier has", f.Name)
		}
		seen[f.Name] = true
	}
	return x, nil
}

// Check holds files, by the digests of their bytes, against the index and says of each that is not as it was bound.
func (x Index) Check(digests map[string]string) []string {
	problems, named := []string{}, map[string]bool{IndexName: true}
	for _, f := range x.Files {
		named[f.Name] = true
		switch sum, ok := digests[f.Name]; {
		case !ok:
			problems = append(problems, f.Name+" is missing")
		case sum != f.SHA256:
			problems = append(problems, f.Name+" is not as it was bound")
		}
	}
	for name := range digests {
		if !named[name] {
			problems = append(problems, name+" does not belong to the dossier")
		}
	}
	slices.Sort(problems)
	return problems
}
