package docs

import (
	"bufio"
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/record"
)

// second runs the verifier that shares nothing with the program; it answers each file with 1, or 0 and why.
type second struct {
	in  *bufio.Writer
	out *bufio.Reader
}

func startSecond(t *testing.T) *second {
	t.Helper()
	verifier, err := filepath.Abs("../tools/verify-record.mjs")
	require.NoError(t, err)
	driver := filepath.Join(t.TempDir(), "driver.mjs")
	require.NoError(t, os.WriteFile(driver, []byte(`
import { verify } from '`+"file://"+verifier+`';
let kept = Buffer.alloc(0);
for await (const chunk of process.stdin) {
  kept = Buffer.concat([kept, chunk]);
  while (kept.length >= 4 && kept.length >= 4 + kept.readUInt32BE(0)) {
    const n = kept.readUInt32BE(0);
    const file = kept.subarray(4, 4 + n);
    kept = kept.subarray(4 + n);
    try { verify(file); console.log('1'); } catch (e) { console.log('0 ' + e.message.replaceAll('\n', ' ')); }
  }
}
`), 0o600))
	cmd := exec.Command("node", driver)
	stdin, err := cmd.StdinPipe()
	require.NoError(t, err)
	stdout, err := cmd.StdoutPipe()
	require.NoError(t, err)
	cmd.Stderr = os.Stderr
	require.NoError(t, cmd.Start())
	t.Cleanup(func() { _ = stdin.Close(); _ = cmd.Wait() })
	return &second{bufio.NewWriter(stdin), bufio.NewReader(stdout)}
}

func (s *second) says(t *testing.T, data []byte) (holds bool, why string) {
	t.Helper()
	require.NoError(t, binary.Write(s.in, binary.BigEndian, uint32(len(data))))
	_, err := s.in.Write(data)
	require.NoError(t, err)
	require.NoError(t, s.in.Flush())
	line, err := s.out.ReadString('\n')
	require.NoError(t, err)
	return strings.HasPrefix(line, "1"), strings.TrimSpace(line)
}

// samples are files that hold: one of each format, and one with additions.
func samples(t *testing.T) [][]byte {
	t.Helper()
	old, err := os.ReadFile("../core/record/testdata/record-v1.json")
	require.NoError(t, err)
	f, err := coretest.Sealed()
	require.NoError(t, err)
	fresh, err := f.Bytes()
	require.NoError(t, err)
	whole, err := coretest.Whole()
	require.NoError(t, err)
	return [][]byte{old, fresh, whole}
}

// mutate changes a file in one of many ways; some change what it says, some do not.
func mutate(r *rand.Rand, data []byte) []byte {
	out := bytes.Clone(data)
	at := r.IntN(len(out))
	splice := func(from, to int, text string) []byte {
		return append(append(bytes.Clone(out[:from]), text...), out[to:]...)
	}
	tokens := []string{`"`, ",", ":", "{", "}", "[", "]", "0", "1", "-", ".", "e9", "null", "true", " ", "\n", "\t",
		"\\", `\n`, `\u0041`, `\ud800`, "\xff", "\x00", "\ufeff", "\u2028", "é", `"a":1,`, `,"Record":{}`, "//"}
	switch r.IntN(9) {
	case 0: // a bit
		out[at] ^= 1 << r.IntN(8)
		return out
	case 1: // a byte
		out[at] = byte(r.IntN(256))
		return out
	case 2: // cut out
		return splice(at, min(len(out), at+1+r.IntN(40)), "")
	case 3: // doubled
		return splice(at, at, string(out[at:min(len(out), at+1+r.IntN(60))]))
	case 4: // put in
		return splice(at, at, tokens[r.IntN(len(tokens))])
	case 5: // cut short
		return out[:at]
	case 6: // behind it
		return append(out, tokens[r.IntN(len(tokens))]...)
	case 7: // after one of the marks, where it may say nothing
		marks := []byte(`,:{}[]`)
		for range 1000 {
			if i := r.IntN(len(out)); bytes.IndexByte(marks, out[i]) >= 0 {
				return splice(i+1, i+1, tokens[14+r.IntN(3)])
			}
		}
		return out
	default: // a key written in another way, or with a letter of another case
		for range 1000 {
			i := r.IntN(len(out) - 3)
			if out[i] == '"' && out[i+1] >= 'a' && out[i+1] <= 'z' {
				if r.IntN(2) == 0 {
					return splice(i+1, i+2, strings.ToUpper(string(out[i+1])))
				}
				return splice(i+1, i+2, fmt.Sprintf(`\u%04x`, out[i+1]))
			}
		}
		return out
	}
}

// Both verifiers say the same of every file, whatever was done to it. DYNACOR_MUTATIONS asks for more of them.
func TestSecondVerifierAgrees(t *testing.T) {
	n := 500
	if v, err := strconv.Atoi(os.Getenv("DYNACOR_MUTATIONS")); err == nil {
		n = v
	}
	other := startSecond(t)
	list := samples(t)
	for _, data := range list {
		holds, why := other.says(t, data)
		require.True(t, holds, why)
		require.True(t, record.Verify(data, nil).OK)
	}
	r := rand.New(rand.NewPCG(20261128, 10))
	held := 0
	for i := range n {
		data := mutate(r, list[r.IntN(len(list))])
		ours := record.Verify(data, nil)
		theirs, why := other.says(t, data)
		if ours.OK {
			held++
		}
		if ours.OK != theirs {
			require.NoError(t, os.WriteFile(filepath.Join(os.TempDir(), "dynacor-disagreed.json"), data, 0o600))
			t.Fatalf("mutation %d: ours %v (%v), the other %s", i, ours.OK, ours.Problems, why)
		}
	}
	require.Greater(t, held, n/50, "some mutations say nothing")
	require.Less(t, held, n/2)
}

// What was signed by the right key and is still not in order is found by both.
func TestSecondVerifierFollowsTheChain(t *testing.T) {
	other := startSecond(t)
	for i := range 40 {
		rec, err := coretest.Finished((*coretest.Script).Finish)
		require.NoError(t, err)
		switch e := &rec.Events[1+i]; i % 4 {
		case 0:
			e.Event.Note = "changed"
		case 1:
			e.Seq++
		case 2:
			e.PrevHash = e.Hash
		default:
			rec.Events = append(rec.Events[:i], rec.Events[i+1:]...)
		}
		f, err := record.Sign(rec, coretest.Key('a'), coretest.Day)
		require.NoError(t, err)
		data, err := f.Bytes()
		require.NoError(t, err)
		require.False(t, record.Verify(data, nil).OK)
		holds, _ := other.says(t, data)
		require.False(t, holds)
	}
}

// An addition that the right key signed and that is out of its place is found by both.
func TestSecondVerifierFollowsTheAdditions(t *testing.T) {
	other := startSecond(t)
	data, err := coretest.Whole()
	require.NoError(t, err)
	f, err := coretest.Sealed()
	require.NoError(t, err)
	mark, err := f.Mark()
	require.NoError(t, err)
	p, err := plan.Make(coretest.Input())
	require.NoError(t, err)
	for name, c := range map[string]struct {
		change func(*record.Addition)
		ok     bool
	}{
		"as it is":          {func(*record.Addition) {}, true},
		"another record":    {func(a *record.Addition) { a.Record = "TS-2026-00002" }, false},
		"another seal":      {func(a *record.Addition) { a.Mark = strings.Repeat("0", 64) }, false},
		"another place":     {func(a *record.Addition) { a.Seq = 2 }, false},
		"behind another":    {func(a *record.Addition) { a.PrevHash = strings.Repeat("0", 64) }, false},
		"before the seal":   {func(a *record.Addition) { a.At = coretest.Day.Add(time.Hour) }, false},
		"as the seal ended": {func(a *record.Addition) { a.At = coretest.Day.Add(3 * time.Hour) }, true},
	} {
		var w record.Whole
		require.NoError(t, json.Unmarshal(data, &w))
		var a record.Addition
		require.NoError(t, json.Unmarshal(w.Additions[1].Addition, &a))
		a.Seq, a.PrevHash = 1, mark
		c.change(&a)
		x, _, err := a.Seal(p, coretest.Key('a'))
		require.NoError(t, err)
		w.Additions = []record.AdditionFile{x}
		changed, err := w.Bytes()
		require.NoError(t, err)
		report := record.Verify(changed, nil)
		require.Equal(t, c.ok, report.OK, "%s: %v", name, report.Problems)
		holds, why := other.says(t, changed)
		require.Equal(t, c.ok, holds, "%s: %s", name, why)
	}
}

// The published schema fits the files of both formats, and refuses what a verifier must refuse by form alone.
func TestRecordSchemaFits(t *testing.T) {
	schema, err := jsonschema.NewCompiler().Compile("record.schema.json")
	require.NoError(t, err)
	for _, data := range samples(t) {
		read := func(b []byte) any {
			v, err := jsonschema.UnmarshalJSON(bytes.NewReader(b))
			require.NoError(t, err)
			return v
		}
		require.NoError(t, schema.Validate(read(data)))
		for name, bad := range map[string][]byte{
			"a key beside the seal": bytes.Replace(data, []byte(`"seal":`), []byte(`"Seal":{},"seal":`), 1),
			"a key in the record": bytes.Replace(data, []byte(`"runId":`), []byte(`"plan.finalNm":1,"runId":`),
				1),
			"no hash in an entry":       bytes.Replace(data, []byte(`"hash":`), []byte(`"hush":`), 1),
			"a longer signature":        bytes.Replace(data, []byte(`=="`), []byte(`==AA"`), 1),
			"a key behind it":           bytes.Replace(data, []byte(`"signature":`), []byte(`"sig":1,"signature":`), 1),
			"a format that is not ours": bytes.Replace(data, []byte(`dynacor-record/`), []byte(`dynacor-record/9`), 1),
		} {
			require.NotEqual(t, data, bad, name)
			require.Error(t, schema.Validate(read(bad)), name)
		}
	}
}
