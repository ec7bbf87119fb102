package main

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
	"dynacor/internal/demo/demotest"
	"dynacor/internal/store/storetest"
)

// runAsProgram makes this test binary behave as the program itself, so that the commands are tried as a shell sees
// them.
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
	_, errs, code := shell(t, header+"N-01,6 North,8,M20,8.8,light_oil,300 kg,D-1,A\n", db, "import", "-", "--by",
		"E. Marsh")
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

func TestCalculationsByTheCommandLine(t *testing.T) {
	out, _, code := shell(t, "", nil, "calc")
	require.Zero(t, code)
	require.Contains(t, out, "Torque and load")
	require.Contains(t, out, "hydraulic_pressure")
	out, _, _ = shell(t, "", nil, "calc", "--find", "how hot for the bearing")
	require.True(t, strings.HasPrefix(strings.TrimSpace(out), "bearing_heating"), out)
	_, errs, code := shell(t, "", nil, "calc", "--find", "marmalade")
	require.Equal(t, 1, code)
	require.Contains(t, errs, "nothing is called")

	out, _, code = shell(t, "", nil, "calc", "adapter_setting", "torque=320 ft-lb", "wrench_length=420 mm",
		"adapter_length=60mm", "angle=0")
	require.Zero(t, code)
	require.Contains(t, out, "379.6 N·m  (280 ft·lbf)")
	require.Contains(t, out, "T · k = 433.9 N·m · 0.875", "the working stands below")
	require.Contains(t, out, "What matters most")
	out, _, code = shell(t, "", nil, "calc", "torque_from_preload_k", "preload=148kN", "thread=M27",
		"lubricant=light_oil", "--json")
	require.Zero(t, code)
	var answer struct {
		Outputs []struct {
			Key   string
			Value float64
		}
		LookedUp []struct{ Key, Source string }
	}
	require.NoError(t, json.Unmarshal([]byte(out), &answer))
	require.InDelta(t, 0.18*27*148, answer.Outputs[0].Value, 1e-6)
	require.Len(t, answer.LookedUp, 2)
	out, _, code = shell(t, "", nil, "calc", "hydraulic_pressure", "--inputs")
	require.Zero(t, code)
	require.Contains(t, out, "rows of pressure_MPa torque_Nm")
	for _, bad := range [][]string{{"calc", "torque"}, {"calc", "adapter_setting", "torque"},
		{"calc", "adapter_setting", "torque=20 kg"}, {"calc", "adapter_setting", "colour=red"}} {
		_, errs, code = shell(t, "", nil, bad...)
		require.Equal(t, 1, code)
		require.Regexp(t, `[.?]\s`, errs, "%v says what to do: %s", bad, errs)
	}

	file := filepath.Join(t.TempDir(), "cases.json")
	require.NoError(t, os.WriteFile(file,
		[]byte(`[{"id":"a","calc":"turn_marks","inputs":{"angle_deg":90}},{"id":"b","calc":"turn_marks","inputs":{"angle_deg":"90"}},{"id":"c","calc":"nothing","inputs":{}}]`), 0o600))
	out, _, code = shell(t, "", nil, "calc", "--cases", file)
	require.Zero(t, code)
	lines := strings.Split(strings.TrimSpace(out), "\n")
	require.Len(t, lines, 3)
	require.JSONEq(t, `{"id":"a","calc":"turn_marks","outputs":{"turns":0.25,"quarter_turns":1,"flats":1.5,"end_clock_h":9},"error":null}`, lines[0])
	require.Contains(t, lines[1], "is not a number", "in a file of cases a number is a number")
	require.Contains(t, lines[2], "is not in the catalogue")
	_, errs, code = shell(t, "", nil, "calc", "--cases", os.Args[0])
	require.Equal(t, 1, code)
	require.Contains(t, errs, "is not a list of cases")
}

func TestRunIsExplained(t *testing.T) {
	url := demotest.URL(t, time.Now())
	db := []string{"DYNACOR_DATABASE_URL=" + storetest.Serving(url)}
	out, errs, code := shell(t, "", db, "explain", "SW-114")
	require.Zero(t, code, errs)
	require.Contains(t, out, "SW-114, plan version 1, 16 fasteners, 5 passes, begun by")
	require.Contains(t, out, "   1  ")
	require.Contains(t, out, "read_confirmed by")
	require.Contains(t, out, "now at tighten, pass 3")
	require.Regexp(t, `pulled by .*, position \d+, pass 3, outcome short`, out)
	require.Contains(t, out, "caution short: ")
	require.Contains(t, out, "Not finished: ")
	require.NotContains(t, out, `"verdict"`)
	out, _, code = shell(t, "", db, "explain", "SW-114", "--json")
	require.Zero(t, code)
	var state struct {
		Pass int `json:"pass"`
	}
	require.NoError(t, json.Unmarshal([]byte(out[strings.Index(out, "\n{\n"):]), &state))
	require.Equal(t, 3, state.Pass)
	_, errs, code = shell(t, "", nil, "explain", "SW-114", "--data", t.TempDir())
	require.Equal(t, 1, code)
	require.Contains(t, errs, "start it with make demo")
	_, errs, code = shell(t, "", db, "explain", "XX-9")
	require.Equal(t, 1, code)
	require.Contains(t, errs, "XX-9")
}
