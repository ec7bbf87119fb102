package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func sum(t *testing.T, kept, lines string) (string, int) {
	t.Helper()
	file := filepath.Join(t.TempDir(), "tests.json")
	require.NoError(t, os.WriteFile(file, []byte(lines), 0o600))
	var out strings.Builder
	code := run(&out, kept, []string{file})
	return out.String(), code
}

func TestFailingTestCountsOnce(t *testing.T) {
	out, code := sum(t, "", `{"Action":"pass","Package":"p","Test":"TestA"}
{"Action":"output","Package":"p","Test":"TestB/one/deep","Output":"went wrong\n"}
{"Action":"fail","Package":"p","Test":"TestB/one/deep"}
{"Action":"fail","Package":"p","Test":"TestB/one"}
{"Action":"pass","Package":"p","Test":"TestB/two"}
{"Action":"fail","Package":"p","Test":"TestB"}
{"Action":"skip","Package":"p","Test":"TestC"}
{"Action":"fail","Package":"p"}
`)
	require.Equal(t, 1, code)
	require.Contains(t, out, "went wrong")
	require.Contains(t, out, "2 passed, 1 failed, 1 skipped\n")
}

func TestPackageThatDiesIsAFailure(t *testing.T) {
	out, code := sum(t, "", `{"Action":"pass","Package":"p","Test":"TestA"}
{"Action":"output","Package":"p","Output":"panic: out of memory\n"}
{"Action":"fail","Package":"p"}
`)
	require.Equal(t, 1, code)
	require.Contains(t, out, "panic: out of memory")
	require.Contains(t, out, "1 passed, 1 failed")
}

func TestNothingRunIsAFailure(t *testing.T) {
	out, code := sum(t, "", "go: no such package\n")
	require.Equal(t, 1, code)
	require.Contains(t, out, "no such package")
	require.Contains(t, out, "0 passed, 1 failed")
}

func TestAllPassedIsSuccess(t *testing.T) {
	out, code := sum(t, t.TempDir(), `{"Action":"pass","Package":"p","Test":"TestA"}`)
	require.Zero(t, code)
	require.Equal(t, "1 passed, 0 failed, 0 skipped\n", out)
}

func TestFolderOfPicturesIsNamed(t *testing.T) {
	kept := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(kept, "TestB-1.png"), nil, 0o600))
	out, _ := sum(t, kept, `{"Action":"fail","Package":"p","Test":"TestB"}`)
	require.Contains(t, out, kept)
}
