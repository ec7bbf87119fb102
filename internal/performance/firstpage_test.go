package performance

import (
	"os"
	"testing"

	"github.com/stretchr/testify/require"
)

// A first page on the network of a plant: what it fetches before anything is shown stays within 200 kB.
func TestFirstPageIsLight(t *testing.T) {
	bytes, err := firstPage(os.DirFS("../../web/dist"))
	require.NoError(t, err)
	require.Positive(t, bytes)
	require.LessOrEqual(t, bytes, int64(200_000))
}
