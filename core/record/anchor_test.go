package record_test

import (
	"encoding/hex"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
)

func leaves(n int) []record.Leaf {
	out := make([]record.Leaf, n)
	for i := range out {
		out[i] = record.Leaf{Kind: "run", ID: "run-" + strconv.Itoa(100+i), Seq: i, Hash: strings.Repeat("0", 64)}
	}
	return out
}

func TestAnchorHoldsEveryHeadFast(t *testing.T) {
	known := record.Trust(public(key('a')))
	list := leaves(7)
	a, sig, err := record.NewAnchor("Tarn Skerry", 1, "", list, coretest.Day, key('a'))
	require.NoError(t, err)
	require.NoError(t, record.CheckAnchor(a, sig, list, "", known))
	for name, harm := range map[string]func(){
		"a head changed":  func() { list[3].Seq++ },
		"a head missing":  func() { list = list[:6] },
		"heads exchanged": func() { list[0], list[1] = list[1], list[0] },
		"one more":        func() { list = append(list, list[6]) },
		"another hash":    func() { list[6].Hash = strings.Repeat("1", 64) },
		"another run":     func() { list[2].ID = "run-x" },
		"of another kind": func() { list[2].Kind = "record" },
	} {
		list = leaves(7)
		harm()
		require.ErrorContains(t, record.CheckAnchor(a, sig, list, "", known), "not those it was made over", name)
	}
	list = leaves(7)
	require.ErrorContains(t, record.CheckAnchor(a, sig, list, "x", known), "does not follow")
	other := a
	other.At = a.At.Add(time.Second)
	require.ErrorContains(t, record.CheckAnchor(other, sig, list, "", known), "signature")
	require.ErrorContains(t, record.CheckAnchor(a, sig, list, "", record.Trust(public(key('b')))), "signature")
	gone := a.At.Add(-time.Hour)
	require.ErrorContains(t, record.CheckAnchor(a, sig, list, "",
		[]record.Key{{Public: public(key('a')), Revoked: &gone, RevokeReason: "stolen"}}), "stolen")
	other = a
	other.Format = "x"
	require.ErrorContains(t, record.CheckAnchor(other, sig, list, "", known), "format")
	h, err := a.Hash()
	require.NoError(t, err)
	require.Len(t, strings.Split(record.Code(h), " "), 13)
	require.Empty(t, record.Code("?"))
}

// The tree is that of RFC 6962, so that a stranger's program finds the same root.
func TestRootIsThatOfTheStandard(t *testing.T) {
	none, err := record.Root(nil)
	require.NoError(t, err)
	require.Equal(t, "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855", none)
	seen := map[string]bool{}
	for n := range 20 {
		r, err := record.Root(leaves(n))
		require.NoError(t, err)
		require.False(t, seen[r])
		seen[r] = true
		_, err = hex.DecodeString(r)
		require.NoError(t, err)
	}
	list := []record.Leaf{{Kind: "run", ID: "b"}, {Kind: "record", ID: "c"}, {Kind: "run", ID: "a"}}
	record.SortLeaves(list)
	require.Equal(t, []string{"c", "a", "b"}, []string{list[0].ID, list[1].ID, list[2].ID})
}
