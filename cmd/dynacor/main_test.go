package main

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
	"dynacor/internal/store/storetest"
)

// runAsProgram makes this test binary behave as the program itself, so that the commands are tried as a shell sees them.
const runAsProgram = "DYNACOR_TEST_AS_PROGRAM"

func TestMain(m *testing.M) {
	if os.Getenv(runAsProgram) != "" {
		main()
		return
	}
	os.Exit(storetest.Main(m))
}

// shell runs the program and gives what it wrote to both streams, and its exit code.
func shell(t *testing.T, stdin string, env []string, args ...string) (out, errs string, code int) {
	t.Helper()
	self, err := os.Executable()
	require.NoError(t, err)
	cmd := exec.Command(self, args...)
	cmd.Env = append(append(os.Environ(), runAsProgram+"=1"), env...)
	cmd.Stdin = strings.NewReader(stdin)
	var o, e strings.Builder
	cmd.Stdout, cmd.Stderr = &o, &e
	if err := cmd.Run(); err != nil {
		require.NotNil(t, cmd.ProcessState, err)
	}
	return o.String(), e.String(), cmd.ProcessState.ExitCode()
}

const header = "tag,area,bolts,thread,material,lubricant,target_Nm,document,revision\n"

func TestRegisterByTheCommandLine(t *testing.T) {
	db := []string{"DYNACOR_DATABASE_URL=" + storetest.URL(t)}
	out, _, code := shell(t, "", db, "user", "add", "E. Marsh", "engineer", "--pin", "9071")
	require.Zero(t, code)
	require.Contains(t, out, "E. Marsh can sign in as engineer")

	good := header + "N-01,6 North,8,M20,8.8,light_oil,300,D-1,A\n"
	_, errs, code := shell(t, header+"N-01,6 North,8,M20,8.8,light_oil,300 kg,D-1,A\n", db, "import", "-", "--by", "E. Marsh")
	require.Equal(t, 1, code)
	require.Contains(t, errs, "line 2, target_Nm:")
	require.Contains(t, errs, "Nothing was imported")

	out, _, code = shell(t, good, db, "import", "-", "--by", "E. Marsh", "--try")
	require.Zero(t, code)
	require.Contains(t, out, "1 new, 0 changed, 0 as they were: would be imported")
	out, _, code = shell(t, good, db, "import", "-", "--by", "E. Marsh")
	require.Zero(t, code)
	require.Contains(t, out, "1 new, 0 changed, 0 as they were: imported")

	out, _, code = shell(t, "", db, "export")
	require.Zero(t, code)
	require.Contains(t, out, "N-01")
	again, _, code := shell(t, out, db, "import", "-", "--by", "E. Marsh")
	require.Zero(t, code)
	require.Contains(t, again, "0 new, 0 changed, 1 as they were", "what was written reads back the same")

	_, errs, code = shell(t, good, db, "import", "-", "--by", "Nobody")
	require.Equal(t, 1, code)
	require.Contains(t, errs, `there is nobody named "Nobody"`)
}

func TestPeopleByTheCommandLine(t *testing.T) {
	db := []string{"DYNACOR_DATABASE_URL=" + storetest.URL(t)}
	_, errs, code := shell(t, "", db, "user", "add", "E. Marsh", "captain", "--pin", "9071")
	require.NotZero(t, code)
	require.Contains(t, errs, "technician")
	_, errs, code = shell(t, "", db, "user", "add", "E. Marsh", "engineer", "--pin", "12")
	require.Equal(t, 1, code)
	require.Contains(t, errs, "PIN")
	_, errs, code = shell(t, "", db, "user", "pin", "Nobody", "--pin", "4321")
	require.Equal(t, 1, code)
	require.NotContains(t, errs, "4321", "a PIN is never written out")
	_, errs, code = shell(t, "", nil, "export", "--database-url", "postgres://nobody@127.0.0.1:1/none")
	require.Equal(t, 1, code)
	require.Contains(t, errs, "dynacor:")
}

func TestVerifyByTheCommandLine(t *testing.T) {
	file, err := coretest.Sealed()
	require.NoError(t, err)
	key := file.PublicKey
	whole, err := json.Marshal(file)
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "record.json")
	require.NoError(t, os.WriteFile(name, whole, 0o600))

	out, _, code := shell(t, "", nil, "verify", name)
	require.Zero(t, code)
	require.Contains(t, out, "The record holds: TS-2026-00001, joint SW-111")
	require.Contains(t, out, "was taken from the file", "an unknown key is said")
	out, _, code = shell(t, "", nil, "verify", name, "--key", key)
	require.Zero(t, code)
	require.NotContains(t, out, "was taken from the file")

	bad := strings.Replace(string(whole), `"name":"M. Tolley"`, `"name":"M. Trolley"`, 1)
	require.NotEqual(t, string(whole), bad)
	out, _, code = shell(t, bad, nil, "verify", "-")
	require.Equal(t, 1, code)
	require.Contains(t, out, "The record does not hold")
	require.Contains(t, out, "wrong:")
	out, _, code = shell(t, bad, nil, "verify", "-", "--json")
	require.Equal(t, 1, code)
	var r record.Report
	require.NoError(t, json.Unmarshal([]byte(out), &r))
	require.False(t, r.OK)
	require.NotEmpty(t, r.Problems)

	_, errs, code := shell(t, "", nil, "verify", name, "--key", "short")
	require.Equal(t, 1, code)
	require.Contains(t, errs, "not a public key in base64")
	_, errs, code = shell(t, "", nil, "verify", filepath.Join(t.TempDir(), "gone.json"))
	require.Equal(t, 1, code)
	require.Contains(t, errs, "gone.json")
}
