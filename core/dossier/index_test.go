package dossier_test

import (
	"crypto/ed25519"
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/dossier"
	"dynacor/core/record"
)

func signed(t *testing.T, x dossier.Index) ([]byte, ed25519.PublicKey) {
	t.Helper()
	pub, key, err := ed25519.GenerateKey(nil)
	require.NoError(t, err)
	f, err := x.Sign(key)
	require.NoError(t, err)
	data, err := json.Marshal(f)
	require.NoError(t, err)
	return data, pub
}

func index() dossier.Index {
	return dossier.Index{Site: "Tarn Skerry", Package: "WP-47", Sheet: 1, BoundAt: day, Gaps: []string{},
		Files: []dossier.File{{Name: "book.pdf", SHA256: record.Sum([]byte("a")), Kind: "book"},
			{Name: "records/TS-1.json", SHA256: record.Sum([]byte("b")), Kind: "record", Number: "TS-1", Joint: "SW-1"}}}
}

func TestIndexFindsWhatIsNotAsItWasBound(t *testing.T) {
	data, pub := signed(t, index())
	require.True(t, dossier.IsIndex(data))
	require.False(t, dossier.IsIndex([]byte(`{"sheet":{},"signature":""}`)))
	x, err := dossier.ReadIndex(data, record.Trust(pub))
	require.NoError(t, err)
	sums := map[string]string{"book.pdf": record.Sum([]byte("a")), "records/TS-1.json": record.Sum([]byte("b")),
		dossier.IndexName: "whatever"}
	require.Empty(t, x.Check(sums))
	sums["records/TS-1.json"] = record.Sum([]byte("c"))
	sums["records/TS-9.json"] = "d"
	delete(sums, "book.pdf")
	require.Equal(t, []string{"book.pdf is missing", "records/TS-1.json is not as it was bound",
		"records/TS-9.json does not belong to the dossier"}, x.Check(sums))
}

func TestIndexThatWasChangedIsRefused(t *testing.T) {
	data, _ := signed(t, index())
	other, _ := signed(t, index())
	var mine, foreign dossier.SignedIndex
	require.NoError(t, json.Unmarshal(data, &mine))
	require.NoError(t, json.Unmarshal(other, &foreign))
	pub, _, err := ed25519.GenerateKey(nil)
	require.NoError(t, err)
	_, err = dossier.ReadIndex(data, record.Trust(pub))
	require.ErrorContains(t, err, "not one of the keys known")
	text := strings.Replace(string(data), "TS-1.json", "TS-2.json", 1)
	_, err = dossier.ReadIndex([]byte(text), nil)
	require.ErrorContains(t, err, "signature does not fit")
	mine.PublicKey = foreign.PublicKey
	text2, err := json.Marshal(mine)
	require.NoError(t, err)
	_, err = dossier.ReadIndex(text2, nil)
	require.ErrorContains(t, err, "not the one that is named")
	for _, name := range []string{"", "../x.json", "/etc/x", "index.json", "book.pdf", "a/../b.json"} {
		x := index()
		x.Files = append(x.Files, dossier.File{Name: name})
		data, _ := signed(t, x)
		_, err := dossier.ReadIndex(data, nil)
		require.ErrorContains(t, err, "no dossier has", name)
	}
	x := index()
	data, _ = signed(t, x)
	_, err = dossier.ReadIndex([]byte(strings.Replace(string(data), dossier.IndexFormat, "dynacor-dossier/9", 1)), nil)
	require.ErrorContains(t, err, "not known here")
}
