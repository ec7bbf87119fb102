package main

import (
	"archive/zip"
	"bytes"
	"crypto/ed25519"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/dossier"
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

// A folder and an archive are checked file by file; one that does not hold is named, and so are two of one number.
func TestVerifyFolderByTheCommandLine(t *testing.T) {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	folder := t.TempDir()
	files := map[string][]byte{}
	put := func(name string, data []byte) {
		t.Helper()
		files[name] = data
		require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(folder, name)), 0o700))
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), data, 0o600))
	}
	sealed := func(number string, key byte) []byte {
		t.Helper()
		rec.Number = number
		f, err := record.Sign(rec, coretest.Key(key), coretest.Day)
		require.NoError(t, err)
		data, err := f.Bytes()
		require.NoError(t, err)
		return data
	}
	archive := func() string {
		t.Helper()
		name := filepath.Join(t.TempDir(), "records.zip")
		f, err := os.Create(name)
		require.NoError(t, err)
		z := zip.NewWriter(f)
		for name, data := range files {
			w, err := z.Create(name)
			require.NoError(t, err)
			_, err = w.Write(data)
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		require.NoError(t, f.Close())
		return name
	}
	_, errs, code := shell(t, "", nil, "verify", folder)
	require.Equal(t, 1, code)
	require.Contains(t, errs, "has no sealed record")

	for i := range 6 {
		put(fmt.Sprintf("%d.json", i), sealed(fmt.Sprintf("TS-2026-0000%d", i), 'a'))
	}
	put("read me.txt", []byte("not looked at"))
	whole, err := coretest.Whole()
	require.NoError(t, err)
	put("older/9.JSON", whole)
	require.NoError(t, os.Remove(filepath.Join(folder, "1.json"))) // the same number, sealed at another time
	delete(files, "1.json")
	for _, path := range []string{folder, archive()} {
		out, _, code := shell(t, "", nil, "verify", path)
		require.Zero(t, code, out)
		require.Contains(t, out, "6 records, 6 hold, 0 do not.")
		require.Less(t, strings.Index(out, "0.json"), strings.Index(out, "5.json"), "in the order of their names")
	}

	put("1.json", sealed("TS-2026-00001", 'a'))
	put("3.json", bytes.Replace(files["3.json"], []byte("M. Tolley"), []byte("M. Tolly"), 1))
	put("7.json", []byte("{}"))
	for _, path := range []string{folder, archive()} {
		out, _, code := shell(t, "", nil, "verify", path)
		require.Equal(t, 1, code)
		require.Contains(t, out, "8 records, 5 hold, 3 do not.")
		for _, want := range []string{"WRONG  TS-2026-00003", "signature does not fit", "Another record of the same number is in",
			"WRONG  -  -  " + filepath.Join(path, "7.json")} {
			require.Contains(t, out, want)
		}
		out, _, _ = shell(t, "", nil, "verify", path, "--json", "--key",
			base64.StdEncoding.EncodeToString(coretest.Key('b').Public().(ed25519.PublicKey)))
		lines := strings.Split(strings.TrimSpace(out), "\n")
		require.Len(t, lines, 8)
		for _, l := range lines {
			var r struct {
				File string `json:"file"`
				OK   bool   `json:"ok"`
			}
			require.NoError(t, json.Unmarshal([]byte(l), &r))
			require.NotEmpty(t, r.File)
			require.False(t, r.OK, "by a key that nobody trusts")
		}
	}
	broken := filepath.Join(t.TempDir(), "records.zip")
	require.NoError(t, os.WriteFile(broken, []byte("PK"), 0o600))
	_, errs, code = shell(t, "", nil, "verify", broken)
	require.Equal(t, 1, code)
	require.Contains(t, errs, "cannot be read as a ZIP archive")
}

// The files of a dossier are held against their index, in a folder and in an archive: one that is changed, missing or
// brought in is named, also when it is no record.
func TestVerifyDossierByTheCommandLine(t *testing.T) {
	data, err := coretest.Whole()
	require.NoError(t, err)
	folder := t.TempDir()
	put := func(name string, data []byte) {
		t.Helper()
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), data, 0o600))
	}
	x, err := dossier.Index{Site: "Tarn Skerry", Package: "WP-47", Sheet: 2, BoundAt: coretest.Day,
		Gaps: []string{"SW-112, no record"}, Files: []dossier.File{{Name: "book.pdf", SHA256: record.Sum([]byte("book"))},
			{Name: "TS-1.json", SHA256: record.Sum(data)}}}.Sign(coretest.Key('a'))
	require.NoError(t, err)
	index, err := json.Marshal(x)
	require.NoError(t, err)
	put("index.json", index)
	put("book.pdf", []byte("book"))
	put("TS-1.json", data)
	out, _, code := shell(t, "", nil, "verify", folder)
	require.Zero(t, code, out)
	require.Contains(t, out, "the dossier of WP-47, sheet 2")
	require.Contains(t, out, "missing when it was bound: SW-112, no record")
	require.Contains(t, out, "1 records, 1 hold, 0 do not.")
	out, _, code = shell(t, "", nil, "verify", folder, "--json")
	require.Zero(t, code)
	require.Contains(t, out, `"sheet":2`)
	put("book.pdf", []byte("another"))
	put("notes.txt", []byte("x"))
	out, _, code = shell(t, "", nil, "verify", folder)
	require.Equal(t, 1, code)
	require.Contains(t, out, "book.pdf is not as it was bound")
	require.Contains(t, out, "notes.txt does not belong to the dossier")
	require.NoError(t, os.Remove(filepath.Join(folder, "TS-1.json")))
	out, _, code = shell(t, "", nil, "verify", folder)
	require.Equal(t, 1, code)
	require.Contains(t, out, "TS-1.json is missing")
	put("index.json", bytes.Replace(index, []byte("WP-47"), []byte("WP-48"), 1))
	out, _, code = shell(t, "", nil, "verify", folder)
	require.Equal(t, 1, code)
	require.Contains(t, out, "the signature does not fit")
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
