package procedures_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/procedure"
	"dynacor/internal/procedures"
)

const dir = "../../core/procedure/families"

// What is built in is what the readable files say.
func TestBuiltInProceduresAreTheirFiles(t *testing.T) {
	list, err := filepath.Glob(filepath.Join(dir, "*.yaml"))
	require.NoError(t, err)
	require.Len(t, list, len(procedure.Builtin()))
	for _, name := range list {
		text, err := os.ReadFile(name)
		require.NoError(t, err)
		f, faults := procedures.Read(text)
		require.Empty(t, faults, name)
		require.Equal(t, f.Code+".yaml", filepath.Base(name))
		built, err := procedure.ByCode(f.Code)
		require.NoError(t, err)
		want, err := json.Marshal(f)
		require.NoError(t, err)
		got, err := json.Marshal(built)
		require.NoError(t, err)
		require.JSONEq(t, string(want), string(got), "run make gen: %s", name)
	}
	schema, err := os.ReadFile("../../docs/procedure.schema.json")
	require.NoError(t, err)
	require.Equal(t, string(procedures.Schema()), string(schema), "run make gen")
}

// A procedure that is written out and read again is the same: what a site exports it can import.
func TestWrittenProcedureReadsBackTheSame(t *testing.T) {
	for _, f := range procedure.Builtin() {
		text, err := procedures.Write(f)
		require.NoError(t, err, f.Code)
		back, faults := procedures.Read(text)
		require.Empty(t, faults, f.Code)
		require.Empty(t, procedure.Diff(f, back), f.Code)
	}
}

func TestFaultsAreFoundWithTheirLine(t *testing.T) {
	raw, err := os.ReadFile(filepath.Join(dir, "tube_fitting.yaml"))
	require.NoError(t, err)
	whole := string(raw)
	line := func(text, part string) int { return 1 + strings.Count(text[:strings.Index(text, part)], "\n") }
	for _, c := range []struct{ name, was, is, path, says string }{
		{"an unknown word", "looks:", "looks_like:", "", "looks_like"},
		{"a kind that is none", "kind: measure", "kind: guess", "kind", "must be one of"},
		{"a number for a text", "name: Twin-ferrule tube fitting", "name: 12", "name", "string"},
		{"a figure that is not there", "turnFigure: first_turn", "turnFigure: third_turn", "turnFigure", "third_turn"},
	} {
		require.Contains(t, whole, c.was, c.name)
		text := strings.Replace(whole, c.was, c.is, 1)
		_, faults := procedures.Read([]byte(text))
		require.NotEmpty(t, faults, c.name)
		var said []string
		found := false
		for _, x := range faults {
			said = append(said, x.Path+": "+x.What)
			if strings.HasSuffix(x.Path, c.path) && strings.Contains(x.What+x.Remedy, c.says) {
				found = true
				if c.path != "" {
					require.InDelta(t, line(text, c.is), x.Line, 1, "%s: %v", c.name, x)
				}
			}
		}
		require.True(t, found, "%s: %v", c.name, said)
	}
}

func TestTextThatIsNoProcedureIsRefused(t *testing.T) {
	for name, text := range map[string]string{"no YAML": "code: [a\nname: b", "a list": "- a\n- b", "empty": "",
		"a huge file": strings.Repeat("#", procedures.MostBytes+1), "nothing needed is there": "code: x"} {
		_, faults := procedures.Read([]byte(text))
		require.NotEmpty(t, faults, name)
		require.NotEmpty(t, faults[0].What, name)
	}
	_, faults := procedures.Read([]byte("code: x\nname: [unclosed"))
	require.Positive(t, faults[0].Line, "a slip in the form is told with its line")
}

// The schema is for other programs too: it stands on its own and knows every kind of check.
func TestSchemaKnowsEveryKind(t *testing.T) {
	var s map[string]any
	require.NoError(t, json.Unmarshal(procedures.Schema(), &s))
	require.Equal(t, "Dynacor procedure", s["title"])
	require.NotContains(t, string(procedures.Schema()), "http://127", "no address of a machine")
	for _, k := range procedure.CheckKinds() {
		require.Contains(t, string(procedures.Schema()), `"`+string(k)+`"`)
	}
}
