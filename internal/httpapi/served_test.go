package httpapi_test

import (
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// The contract is served as it is written, and a path of the interface that is not there is never the application's
// page.
func TestContractIsServedAndUnknownPathsAreNoPage(t *testing.T) {
	s := newServer(t)
	get := func(path string) (int, string) {
		res, err := http.Get(s.URL + path)
		require.NoError(t, err)
		defer res.Body.Close()
		b, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return res.StatusCode, string(b)
	}
	code, text := get("/api/openapi.yaml")
	require.Equal(t, http.StatusOK, code)
	require.True(t, strings.HasPrefix(text, "openapi: 3"))
	for _, path := range []string{"/api", "/api/", "/api/nothing", "/readyz/x", "/metrics", "/metrics/x"} {
		code, text := get(path)
		require.Equal(t, http.StatusNotFound, code, path)
		require.NotContains(t, text, "page\n", path)
		require.NotEqual(t, "page", text, path)
	}
	_, text = get("/joints/x")
	require.Equal(t, "page", text)
}
