package main

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

const labJoint = `{"n":4,"m":4,"sides":2,"r_b":0.0625,"r_out":0.0825,"ring":{"R":0.0549,"EI":6778.5,"GJ":7164.2,"GAs":6.09e7,
	"k_phi":920193,"k_w":1.245e10,"r_h":0.0293},"k_b":4.15e8,"pitch":0.002,"gasket":{"type":"exponential","sigma0":1.5e7,
	"delta0":0.0002,"ku0":2.5e11,"cu":15000,"r_gi":0.0305,"r_go":0.051},"stop":null}`

// The lab answers a line for each case: with what was expected of it, with everything, or with why not.
func TestLabComputesCases(t *testing.T) {
	one := `"sequence":{"target":40000,"passes":[{"fraction":1,"order":[1,3,2,4]}]}`
	cases := `{"cases":[{"id":"whole","joint":` + labJoint + `,` + one + `},
		{"id":"asked","joint":` + labJoint + `,` + one + `,"expected":{"n_steps":0,"history":[{"step":2}]}},
		{"id":"twice","joint":` + labJoint + `,"sequence":{"target":40000,"passes":[{"fraction":1,"order":[1,3,3,4]}]}},
		{"id":"none","joint":null},{"id":"bad","joint":{"n":"four"}}]}`
	out, errs, code := shell(t, cases, nil, "lab", "--cases", "-")
	require.Zero(t, code, errs)
	var lines []labLine
	for _, l := range strings.Split(strings.TrimSpace(out), "\n") {
		var x labLine
		require.NoError(t, json.Unmarshal([]byte(l), &x))
		lines = append(lines, x)
	}
	require.Len(t, lines, 5)
	require.Len(t, lines[0].Outputs["history"], 4)
	require.Len(t, lines[0].Outputs["final_forces"], 4)
	require.Len(t, lines[1].Outputs, 2)
	require.Len(t, lines[1].Outputs["history"], 1)
	require.Contains(t, lines[2].Error, "passes.1.order: bolt 3 is there twice")
	require.Contains(t, lines[3].Error, "joint: is missing")
	require.Equal(t, "bad", lines[4].ID)
	require.NotEmpty(t, lines[4].Error)
	_, errs, code = shell(t, "nothing", nil, "lab", "--cases", "-")
	require.NotZero(t, code)
	require.Contains(t, errs, "no file of cases")
}
