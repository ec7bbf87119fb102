package main

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// A package passes when tests notice 85 % of its changes and the list has the rest, at whatever line it stands by then.
func TestReportIsHeldAgainstTheList(t *testing.T) {
	t.Chdir(t.TempDir())
	require.NoError(t, os.MkdirAll("core/tool", 0o755))
	require.NoError(t, os.WriteFile("core/tool/find.go", []byte("package tool\n\n\tif a > b {\n"), 0o600))
	write := func(noticed, lived int) string {
		var list []string
		for i := range noticed {
			list = append(list, fmt.Sprintf(`{"type":"ARITHMETIC_BASE","status":"%s","line":3,"column":7}`,
				[]string{"KILLED", "TIMED OUT"}[i%2]))
		}
		for range lived {
			list = append(list, `{"type":"CONDITIONALS_BOUNDARY","status":"LIVED","line":3,"column":7}`)
		}
		list = append(list, `{"type":"ARITHMETIC_BASE","status":"NOT VIABLE","line":3,"column":7}`,
			`{"type":"ARITHMETIC_BASE","status":"NOT COVERED","line":3,"column":7}`)
		name := filepath.Join(t.TempDir(), "tool.json")
		require.NoError(t, os.WriteFile(name, []byte(`{"files":[{"file_name":"find.go","mutations":[`+
			strings.Join(list, ",")+`]}]}`), 0o600))
		return name
	}
	listed := func(items ...string) string {
		name := filepath.Join(t.TempDir(), "list.md")
		require.NoError(t, os.WriteFile(name, []byte("# Why\n\n"+strings.Join(items, "\n")+"\n"), 0o600))
		return name
	}
	const item = "core/tool/find.go | bound | if a ▸> b {"
	for name, c := range map[string]struct {
		noticed, lived int
		list           string
		ok             bool
		says           string
	}{
		"all noticed":         {4, 0, listed(), true, "tool: 4 of 4 noticed, 100.0 %; 1 not tried"},
		"on the list":         {17, 3, listed("    " + item), true, "tool: 17 of 20 noticed, 85.0 %"},
		"not an item of it":   {17, 3, listed(item), false, "not on the list: " + item},
		"too few":             {16, 3, listed("    " + item), false, "fewer than 85 %"},
		"nothing was changed": {0, 0, listed(), false, "fewer than 85 %"},
	} {
		var out strings.Builder
		ok, err := run(&out, c.list, []string{write(c.noticed, c.lived)})
		require.NoError(t, err, name)
		require.Equal(t, c.ok, ok, "%s: %s", name, out.String())
		require.Contains(t, out.String(), c.says, name)
	}
	_, err := run(&strings.Builder{}, listed(), []string{"nowhere.json"})
	require.Error(t, err)
	require.NoError(t, os.Remove("core/tool/find.go"))
	_, err = run(&strings.Builder{}, listed(), []string{write(1, 0)})
	require.ErrorContains(t, err, "another state of the sources")
}
