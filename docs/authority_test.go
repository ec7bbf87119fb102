package docs

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/procedure"
	"dynacor/internal/httpapi"
)

// Where the table stands in security.md.
const (
	tableBegins = "<!-- made from core/authority, the contract and the procedures; do not edit it -->\n"
	tableEnds   = "<!-- end -->\n"
)

// whoMay writes who may do what: acts, routes, and the holds and witness points of the procedures that name their
// signers.
func whoMay(t *testing.T) string {
	var w strings.Builder
	head := func(first string) {
		w.WriteString("| " + first + " | " + strings.Join(authority.Roles, " | ") + " |\n| ---")
		w.WriteString(strings.Repeat(" | :-:", len(authority.Roles)) + " |\n")
	}
	row := func(what string, may func(role string) bool) {
		w.WriteString("| " + what)
		for _, r := range authority.Roles {
			w.WriteString(" | " + map[bool]string{true: "yes", false: ""}[may(r)])
		}
		w.WriteString(" |\n")
	}
	head("who may")
	for _, a := range authority.Acts() {
		row(a.Words(), func(r string) bool { return authority.May(r, a) })
	}
	doc, err := httpapi.GetSpec()
	require.NoError(t, err)
	type route struct {
		name  string
		roles []string
	}
	var routes []route
	for path, item := range doc.Paths.Map() {
		for method, op := range item.Operations() {
			list, _ := op.Extensions["x-roles"].([]any)
			var roles []string
			for _, v := range list {
				roles = append(roles, fmt.Sprint(v))
			}
			if roles[0] != "public" && roles[0] != "anyone" {
				routes = append(routes, route{fmt.Sprintf("%s (`%s %s`)", op.Summary, method, path), roles})
			}
		}
	}
	slices.SortFunc(routes, func(a, b route) int { return strings.Compare(a.name, b.name) })
	w.WriteString("\nRoutes that are not open to everybody who is signed in:\n\n")
	head("route")
	for _, r := range routes {
		row(r.name, func(role string) bool { return authority.Covers(role, r.roles...) })
	}
	w.WriteString(
		"\nHolds and witness points; never signed by the one who answered them:\n\n| family | check | signed by |\n" +
			"| --- | --- | --- |\n",
	)
	for _, f := range procedure.Builtin() {
		for _, c := range f.Checks {
			if !c.Signed() {
				continue
			}
			signers := c.Signers
			if len(signers) == 0 {
				signers = authority.RolesFor(authority.SignHold)
			}
			what := c.Title
			if !c.Hold {
				what += " (witness)"
			}
			fmt.Fprintf(&w, "| %s | %s | %s |\n", f.Name, what, authority.AnyOf(signers))
		}
	}
	return w.String()
}

func TestSecurityTellsWhoMayDoWhat(t *testing.T) {
	raw, err := os.ReadFile("security.md")
	require.NoError(t, err)
	before, rest, ok := strings.Cut(string(raw), tableBegins)
	require.True(t, ok)
	_, after, ok := strings.Cut(rest, tableEnds)
	require.True(t, ok)
	want := before + tableBegins + whoMay(t) + tableEnds + after
	if os.Getenv("DYNACOR_WRITE") != "" {
		require.NoError(t, os.WriteFile("security.md", []byte(want), 0o644))
		return
	}
	require.Equal(t, want, string(raw), "run it with DYNACOR_WRITE=1 and look at what changed")
}
