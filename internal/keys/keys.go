// Package keys keeps the site's signing key outside the database: in a file, encrypted with a secret that is a
// passphrase or lies in a file of its own, which may be a credential that the system hands to the service. Beside the
// key it keeps the last record number given, so that none is given twice when an older backup is restored. It must
// never write a private key unencrypted.
package keys

import (
	"bytes"
	"crypto/aes"
	"crypto/cipher"
	"crypto/ed25519"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"

	"golang.org/x/crypto/argon2"

	"dynacor/core/record"
)

// file is what lies on the disk.
type file struct {
	Format string `json:"format"`
	ID     string `json:"id"` // of the public key
	Public []byte `json:"public"`
	Salt   []byte `json:"salt"`
	Nonce  []byte `json:"nonce"`
	Box    []byte `json:"box"` // the seed, AES-256-GCM under argon2id of the secret
}

const format = "dynacor-key/1"

// leastSecret is how long a secret must be, bytes.
const leastSecret = 12

// What is refused.
var (
	ErrSecret = fmt.Errorf("the secret of the signing key has fewer than %d characters", leastSecret)
	ErrOpen   = errors.New("the signing key cannot be opened with this secret")
	ErrThere  = errors.New("a signing key is there already, and is never written over")
)

// Secret reads what opens the key: the file when one is named, else the passphrase.
func Secret(passphrase, path string) ([]byte, error) {
	s := []byte(passphrase)
	if path != "" {
		b, err := os.ReadFile(path)
		if err != nil {
			return nil, fmt.Errorf("the secret of the signing key: %w", err)
		}
		s = bytes.TrimSpace(b)
	}
	if len(s) < leastSecret {
		return nil, ErrSecret
	}
	return s, nil
}

// Key is an opened signing key with the mark beside it.
type Key struct {
	Private ed25519.PrivateKey
	path    string
}

// ID names the key as records do.
func (k Key) ID() string { return record.KeyID(k.Public()) }

// Public is its public half.
func (k Key) Public() ed25519.PublicKey { return k.Private.Public().(ed25519.PublicKey) }

func sealer(secret, salt []byte) (cipher.AEAD, error) {
	b, err := aes.NewCipher(argon2.IDKey(secret, salt, 3, 64*1024, 1, 32))
	if err != nil {
		return nil, err
	}
	return cipher.NewGCM(b)
}

// Create makes a new key in a file that is not there yet.
func Create(path string, secret []byte) (Key, error) {
	_, private, err := ed25519.GenerateKey(rand.Reader)
	if err != nil {
		return Key{}, err
	}
	return Write(path, secret, private)
}

// Write keeps a key in a file that is not there yet. The file is whole or not there.
func Write(path string, secret []byte, private ed25519.PrivateKey) (Key, error) {
	if len(secret) < leastSecret {
		return Key{}, ErrSecret
	}
	k := Key{private, path}
	f := file{Format: format, ID: k.ID(), Public: k.Public(), Salt: make([]byte, 16), Nonce: make([]byte, 12)}
	for _, b := range [][]byte{f.Salt, f.Nonce} {
		if _, err := rand.Read(b); err != nil {
			return Key{}, err
		}
	}
	box, err := sealer(secret, f.Salt)
	if err != nil {
		return Key{}, err
	}
	f.Box = box.Seal(nil, f.Nonce, private.Seed(), []byte(f.ID))
	text, err := json.MarshalIndent(f, "", "  ")
	if err != nil {
		return Key{}, err
	}
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return Key{}, err
	}
	t, err := temporary(path, append(text, '\n'))
	if err != nil {
		return Key{}, err
	}
	defer os.Remove(t)
	if err := os.Link(t, path); errors.Is(err, fs.ErrExist) { // of two that make one at once, one does
		return Key{}, fmt.Errorf("%s: %w", path, ErrThere)
	} else if err != nil {
		return Key{}, err
	}
	return k, syncFolder(path)
}

// Open reads the key of a file.
func Open(path string, secret []byte) (Key, error) {
	text, err := os.ReadFile(path)
	if err != nil {
		return Key{}, fmt.Errorf("the signing key: %w", err)
	}
	var f file
	if err := json.Unmarshal(text, &f); err != nil || f.Format != format || len(f.Nonce) != 12 {
		return Key{}, fmt.Errorf("%s is not a signing key of Dynacor", path)
	}
	box, err := sealer(secret, f.Salt)
	if err != nil {
		return Key{}, err
	}
	seed, err := box.Open(nil, f.Nonce, f.Box, []byte(f.ID))
	if err != nil || len(seed) != ed25519.SeedSize {
		return Key{}, ErrOpen
	}
	k := Key{ed25519.NewKeyFromSeed(seed), path}
	if k.ID() != f.ID {
		return Key{}, ErrOpen
	}
	return k, nil
}

// replace writes a file so that a power cut leaves the old one or the new one.
func replace(path string, text []byte) error {
	t, err := temporary(path, text)
	if err != nil {
		return err
	}
	defer os.Remove(t) // gone already when all went well
	if err := os.Rename(t, path); err != nil {
		return err
	}
	return syncFolder(path)
}

// temporary writes a text beside a path, whole and on the disk, and gives its name.
func temporary(path string, text []byte) (string, error) {
	t, err := os.CreateTemp(filepath.Dir(path), filepath.Base(path)+".*")
	if err != nil {
		return "", err
	}
	return t.Name(), errors.Join(t.Chmod(0o600), write(t, text), t.Sync(), t.Close())
}

// syncFolder puts the name of a file on the disk.
func syncFolder(path string) error {
	dir, err := os.Open(filepath.Dir(path))
	if err != nil {
		return err
	}
	return errors.Join(dir.Sync(), dir.Close())
}

func write(f *os.File, text []byte) error {
	_, err := f.Write(text)
	return err
}

// Number marks a record number as given and gives it: the one asked for, or the one after the last when that is higher.
// It is on the disk before it is given, so that no restored database gives it again.
func (k Key) Number(wanted int64) (int64, error) {
	if k.path == "" { // a key in memory, for tests
		return wanted, nil
	}
	lock, err := os.OpenFile(k.path+".lock", os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return 0, fmt.Errorf("the mark of record numbers: %w", err)
	}
	defer lock.Close()
	if err := syscall.Flock(int(lock.Fd()), syscall.LOCK_EX); err != nil {
		return 0, fmt.Errorf("the mark of record numbers: %w", err)
	}
	last, err := k.LastNumber()
	if err != nil {
		return 0, err
	}
	n := max(wanted, last+1)
	if err := replace(k.path+".number", []byte(strconv.FormatInt(n, 10)+"\n")); err != nil {
		return 0, fmt.Errorf("the mark of record numbers: %w", err)
	}
	return n, nil
}

// LastNumber is the last number that was given; 0: none.
func (k Key) LastNumber() (int64, error) {
	text, err := os.ReadFile(k.path + ".number")
	if errors.Is(err, fs.ErrNotExist) {
		return 0, nil
	}
	if err != nil {
		return 0, fmt.Errorf("the mark of record numbers: %w", err)
	}
	n, err := strconv.ParseInt(strings.TrimSpace(string(text)), 10, 64)
	if err != nil || n < 0 {
		return 0, fmt.Errorf("the mark of record numbers %s.number is not a number: put the highest number that a "+
			"record has there", k.path)
	}
	return n, nil
}

// Carry takes the mark of another key over, when that one goes out of use.
func (k Key) Carry(from Key) error {
	n, err := from.LastNumber()
	if err != nil || n == 0 {
		return err
	}
	return replace(k.path+".number", []byte(strconv.FormatInt(n, 10)+"\n"))
}
