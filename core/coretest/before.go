package coretest

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// longNumber is a number with more digits than anybody reads; processors may differ in the last ones.
var longNumber = regexp.MustCompile(`-?\d+\.\d{7,}(e[+-]\d+)?`)

// Plain is JSON with no number longer than seven figures.
func Plain(t *testing.T, raw []byte) []byte {
	t.Helper()
	return longNumber.ReplaceAllFunc(raw, func(n []byte) []byte {
		v, err := strconv.ParseFloat(string(n), 64)
		require.NoError(t, err)
		return strconv.AppendFloat(nil, v, 'g', 7, 64)
	})
}

// Mark stands for all that a value tells, in eight letters: another value has another one.
func Mark(t *testing.T, v any) string {
	t.Helper()
	raw, err := json.Marshal(v)
	require.NoError(t, err)
	sum := sha256.Sum256(Plain(t, raw))
	return hex.EncodeToString(sum[:4])
}

// AsBefore holds lines against those that a file keeps, part by part between the marks that part them. With
// DYNACOR_WRITE=1 it writes them: what a change was meant to change is then what differs in the file.
func AsBefore(t *testing.T, file, part string, lines []string) {
	t.Helper()
	text := strings.Join(lines, "\n") + "\n"
	if os.Getenv("DYNACOR_WRITE") != "" {
		require.NoError(t, os.MkdirAll(filepath.Dir(file), 0o755))
		require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
	}
	before, err := os.ReadFile(file)
	require.NoError(t, err)
	kept := strings.Split(strings.TrimSuffix(string(before), "\n"), "\n")
	for i := range min(len(kept), len(lines)) {
		require.Equal(t, strings.Split(kept[i], part), strings.Split(lines[i], part), "line %d of %s", i+1, file)
	}
	require.Len(t, lines, len(kept), file)
}
