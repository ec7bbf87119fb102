// Package docs holds what is written for people; its tests keep that true.
package docs

import (
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/calc"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/working"
)

// Every test that the list of requirements names exists, and every line that is not open names one.
func TestNamedTestsExist(t *testing.T) {
	have := map[string]bool{}
	declared := regexp.MustCompile(`(?m)^func ((?:Test|Fuzz)\w+)\(\w+ \*testing\.[TF]\)`)
	err := filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git" || d.Name() == ".dynacor") {
			return filepath.SkipDir
		}
		if strings.HasSuffix(path, ".test.ts") {
			rel, err := filepath.Rel("../web", path)
			have[rel] = err == nil
		}
		if strings.HasSuffix(path, "_test.go") {
			b, err := os.ReadFile(path)
			if err != nil {
				return err
			}
			for _, m := range declared.FindAllSubmatch(b, -1) {
				have[string(m[1])] = true
			}
		}
		return nil
	})
	require.NoError(t, err)
	security, err := os.ReadFile("security.md")
	require.NoError(t, err)
	named := regexp.MustCompile("`((?:Test|Fuzz)[^`]+)`")
	for _, m := range named.FindAllStringSubmatch(string(security), -1) {
		require.True(t, have[m[1]], "security.md names %s, which is not a test", m[1])
	}
	text, err := os.ReadFile("requirements.md")
	require.NoError(t, err)
	body, _, _ := strings.Cut(string(text), "## Open")
	line := regexp.MustCompile(`^\| ([A-Z]\d+) \|`)
	named = regexp.MustCompile("`([^`]+)`")
	lines, seen := 0, map[string]bool{}
	for _, l := range strings.Split(body, "\n") {
		m := line.FindStringSubmatch(l)
		if m == nil {
			continue
		}
		lines++
		require.False(t, seen[m[1]], "%s stands twice", m[1])
		seen[m[1]] = true
		tests := named.FindAllStringSubmatch(l, -1)
		require.NotEmpty(t, tests, "%s names no test", m[1])
		for _, n := range tests {
			require.True(t, have[n[1]], "%s names %s, which is not a test", m[1], n[1])
		}
	}
	require.Greater(t, lines, 35)
}

// The catalogue in method.md is the code's own description of itself. DYNACOR_WRITE=1 writes it.
func TestMethodHoldsTheCatalogue(t *testing.T) {
	const from, to = "<!-- catalogue -->\n", "<!-- end of catalogue -->"
	b, err := os.ReadFile("method.md")
	require.NoError(t, err)
	head, rest, ok := strings.Cut(string(b), from)
	require.True(t, ok)
	have, tail, ok := strings.Cut(rest, to)
	require.True(t, ok)
	var want strings.Builder
	group := ""
	for _, c := range calc.All() {
		if c.Group != group {
			group = c.Group
			fmt.Fprintf(&want,
				"\n### %s\n\n| calculation | what | from | gives | limits of use | source | room |\n| --- | --- | "+
					"--- | --- | --- | --- | --- |\n", group)
		}
		fmt.Fprintf(&want, "| `%s` | %s | %s | %s | %s | %s | `%s` |\n", c.Name, c.Title, symbols(c.Inputs),
			symbols(c.Outputs), c.Limits, c.Source, c.Room)
	}
	want.WriteString("\n")
	if os.Getenv("DYNACOR_WRITE") != "" {
		require.NoError(t, os.WriteFile("method.md", []byte(head+from+want.String()+to+tail), 0o644))
		return
	}
	require.Equal(t, want.String(), have, "run it with DYNACOR_WRITE=1 and look at what changed")
}

func symbols(fields []quantity.Field) string {
	var out []string
	for _, f := range fields {
		s := f.Label
		if f.Unit != "" {
			s += ", " + f.Unit.Symbol()
		}
		if f.Limits != "" {
			s += " (" + f.Limits + ")"
		}
		out = append(out, s)
	}
	return strings.Join(out, "; ")
}

// Every link between the documents, and from the README, leads to something.
func TestLinksLeadSomewhere(t *testing.T) {
	link := regexp.MustCompile(`\]\(([^)#]+)`)
	files, err := filepath.Glob("*.md")
	require.NoError(t, err)
	for _, f := range append(files, "../README.md") {
		b, err := os.ReadFile(f)
		require.NoError(t, err)
		for _, m := range link.FindAllStringSubmatch(string(b), -1) {
			_, err := os.Stat(filepath.Join(filepath.Dir(f), m[1]))
			require.NoError(t, err, "%s links to %s", f, m[1])
		}
	}
}

// The list of findings is made from the tables of rules. DYNACOR_WRITE=1 writes it.
func TestFindingsAreThoseOfTheRules(t *testing.T) {
	var w strings.Builder
	w.WriteString("# What can be out\n\nMade from the tables in `core/run/rules.go` and `core/plan/wording.go`; do " +
		"not edit it. Words in braces are facts of the case.\n\n" +
		"Severities: `info` is to know, `caution` to mind, `stop` means that nothing goes on. A deviation kept *by " +
		"note* needs nothing more; one closed *by leave* stays open until an engineer or inspector accepts it; " +
		"one closed *by rework* also ends when the fastener is let go, or changed, and brought up again; one *by " +
		"signing* is accepted by the signature that made it.\n\n" +
		"A code that ends in `_` or `:` goes on with what it is about: the tool's fault, the shape of the curve, " +
		"the check. A check that is not met is told under the check's own code.\n\n" +
		"## While the work is done\n\n| code | case | judges | severity | what, why, remedy | deviation | closed " +
		"|\n| --- | --- | --- | --- | --- | --- | --- |\n")
	for _, r := range run.Rules() {
		says, code := r.Wording(), string(r.Code)
		if r.As != "" {
			code += " (deviation: " + string(r.As) + ")"
		}
		closed := map[run.Closing]string{run.ByNote: "by note", run.ByLeave: "by leave", run.ByRework: "by rework",
			run.BySigning: "by signing"}[r.Closing]
		fmt.Fprintf(&w, "| `%s` | %s | `%s` | %s | %s | %s | %s |\n", code, r.Case, r.On, r.Severity,
			sentence(says.What, says.Why, says.Remedy), sentence(says.Deviation, says.DeviationWhy,
				says.DeviationRemedy), closed)
	}
	w.WriteString("\n## In a plan\n\n| code | case | severity | what, why, remedy |\n| --- | --- | --- | --- |\n")
	for _, k := range plan.FindingKinds {
		fmt.Fprintf(&w, "| `%s` | %s | %s | %s |\n", k.Code, k.Case, k.Severity, sentence(k.What, k.Why, k.Remedy))
	}
	if os.Getenv("DYNACOR_WRITE") != "" {
		require.NoError(t, os.WriteFile("findings.md", []byte(w.String()), 0o644))
		return
	}
	have, err := os.ReadFile("findings.md")
	require.NoError(t, err)
	require.Equal(t, w.String(), string(have), "run it with DYNACOR_WRITE=1 and look at what changed")
}

func sentence(parts ...working.Text) string {
	var out []string
	for _, p := range parts {
		if p != "" {
			out = append(out, strings.ReplaceAll(string(p), "|", "/"))
		}
	}
	return strings.Join(out, " · ")
}
