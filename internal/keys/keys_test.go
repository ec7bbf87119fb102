package keys_test

import (
	"os"
	"path/filepath"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/internal/keys"
)

func TestKeyIsKeptEncrypted(t *testing.T) {
	path := filepath.Join(t.TempDir(), "site.key")
	secret := []byte("a secret of some length")
	k, err := keys.Create(path, secret)
	require.NoError(t, err)
	text, err := os.ReadFile(path)
	require.NoError(t, err)
	require.NotContains(t, string(text), string(k.Private.Seed()))
	info, err := os.Stat(path)
	require.NoError(t, err)
	require.EqualValues(t, 0o600, info.Mode().Perm())
	again, err := keys.Open(path, secret)
	require.NoError(t, err)
	require.Equal(t, k.Private, again.Private)
	_, err = keys.Open(path, []byte("another secret here"))
	require.ErrorIs(t, err, keys.ErrOpen)
	_, err = keys.Create(path, secret)
	require.ErrorIs(t, err, keys.ErrThere)
	require.NoError(t, os.WriteFile(path+"2", []byte("{}"), 0o600))
	_, err = keys.Open(path+"2", secret)
	require.ErrorContains(t, err, "not a signing key")
	_, err = keys.Create(path+"3", []byte("short"))
	require.ErrorIs(t, err, keys.ErrSecret)
}

func TestSecretIsAPassphraseOrAFile(t *testing.T) {
	path := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(path, []byte("from a credential file\n"), 0o600))
	s, err := keys.Secret("", path)
	require.NoError(t, err)
	require.Equal(t, "from a credential file", string(s))
	s, err = keys.Secret("a passphrase typed", "")
	require.NoError(t, err)
	require.Equal(t, "a passphrase typed", string(s))
	_, err = keys.Secret("", "")
	require.ErrorIs(t, err, keys.ErrSecret)
	_, err = keys.Secret("", path+"x")
	require.Error(t, err)
}

// A number that was given is on the disk; a database that counts from further back does not get it again.
func TestNumbersAreGivenOnce(t *testing.T) {
	path := filepath.Join(t.TempDir(), "site.key")
	k, err := keys.Create(path, []byte("a secret of some length"))
	require.NoError(t, err)
	give := func(wanted int64) int64 {
		n, err := k.Number(wanted)
		require.NoError(t, err)
		return n
	}
	require.EqualValues(t, 1, give(1))
	require.EqualValues(t, 7, give(7))
	require.EqualValues(t, 8, give(3), "an older backup was restored")
	var mu sync.Mutex
	var got []int64
	var wg sync.WaitGroup
	for range 20 {
		wg.Go(func() {
			n, err := k.Number(1)
			mu.Lock()
			defer mu.Unlock()
			if err == nil {
				got = append(got, n)
			}
		})
	}
	wg.Wait()
	slices.Sort(got)
	require.Len(t, slices.Compact(got), 20)
	require.EqualValues(t, 28, got[19])
	require.NoError(t, os.WriteFile(path+".number", []byte("many"), 0o600))
	_, err = k.Number(1)
	require.ErrorContains(t, err, "not a number")
	next, err := keys.Create(path+"2", []byte("a secret of some length"))
	require.NoError(t, err)
	require.Error(t, next.Carry(k))
	require.NoError(t, os.WriteFile(path+".number", []byte("41\n"), 0o600))
	require.NoError(t, next.Carry(k))
	n, err := next.Number(1)
	require.NoError(t, err)
	require.EqualValues(t, 42, n)
}

// Of many that make a key in one place at once, one does, and all open the same.
func TestOneKeyIsMadeInOnePlace(t *testing.T) {
	path, secret := filepath.Join(t.TempDir(), "site.key"), []byte("a secret of some length")
	var wg sync.WaitGroup
	errs := make([]error, 6)
	for i := range errs {
		wg.Go(func() { _, errs[i] = keys.Create(path, secret) })
	}
	wg.Wait()
	made := 0
	for _, err := range errs {
		if err == nil {
			made++
		} else {
			require.ErrorIs(t, err, keys.ErrThere)
		}
	}
	require.Equal(t, 1, made)
	_, err := keys.Open(path, secret)
	require.NoError(t, err)
	left, err := os.ReadDir(filepath.Dir(path))
	require.NoError(t, err)
	require.Len(t, left, 1, "nothing is left beside it")
}
