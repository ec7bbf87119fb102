package main

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// Cases are planned in order, a line each; what cannot be planned is told in its line, and the others are planned all
// the same.
func TestScheduleByTheCommandLine(t *testing.T) {
	cases := `{"cases":[
		{"id":"good","about":"not read","known":{"finish":1},"instance":{"horizon":100,"people":[{"id":"Bo","skills":[{"skill":"fit"}]}],
		"jobs":[{"id":"J","activities":[{"id":"a","modes":[{"id":"m","minutes":20,"people":[{"skills":["fit"]}]}]}]}]}},
		{"id":"none"},
		{"id":"half","instance":{"horizon":9.5}},
		{"id":"circle","instance":{"horizon":9,"jobs":[{"id":"J","activities":[{"id":"a","modes":[{"id":"m","minutes":1}]}]}],
		"links":[{"from":"a","to":"a"}]}}]}`
	out, errs, code := shell(t, cases, nil, "schedule", "--cases", "-")
	require.Zero(t, code, errs)
	lines := strings.Split(strings.TrimSpace(out), "\n")
	require.Len(t, lines, 4)
	var good struct {
		ID     string
		Answer struct {
			Activities []struct {
				Activity   string
				Start, End int
				Because    struct{ Rule string }
			}
			Objective struct{ Finish int }
			Stopped   string
		}
	}
	require.NoError(t, json.Unmarshal([]byte(lines[0]), &good))
	require.Equal(t, "good", good.ID)
	require.Equal(t, 20, good.Answer.Objective.Finish)
	require.Equal(t, "proved", good.Answer.Stopped)
	require.Equal(t, "now", good.Answer.Activities[0].Because.Rule)
	for k, want := range []string{"no instance", "horizon", "circle"} {
		require.Contains(t, lines[k+1], `"error":`)
		require.Contains(t, lines[k+1], want)
	}
	again, _, _ := shell(t, cases, nil, "schedule", "--cases", "-")
	require.Equal(t, out, again)
	out, _, _ = shell(t, cases, nil, "schedule", "--cases", "-", "--forecast")
	require.Contains(t, out, `"forecast":{"runs":1000,"p50":`)
	_, errs, code = shell(t, "nothing", nil, "schedule", "--cases", "-")
	require.Equal(t, 1, code)
	require.Contains(t, errs, "no file of cases")
}
