package plan_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
)

func TestSoundPlan(t *testing.T) {
	made := func() *plan.Plan {
		p, err := plan.Make(coretest.Input())
		require.NoError(t, err)
		return p
	}
	require.NoError(t, made().Sound())
	for name, c := range map[string]struct {
		harm func(*plan.Plan)
		says string
	}{
		"a bolt too many for any joint": {func(p *plan.Plan) { p.First().Layout.Count = 2001 },
			"more than 2000 fasteners"},
		"no bolts but less than none": {func(p *plan.Plan) { p.First().Layout.Count = -1 },
			"more than 2000 fasteners"},
		"many groups": {func(p *plan.Plan) {
			p.Groups = append(p.Groups, plan.FastenerGroup{})
			p.Groups[1].Offset = 8
			p.Groups[1].Layout.Count = 1993
		}, "more than 2000 fasteners"},
		"a group elsewhere": {func(p *plan.Plan) {
			p.Groups = append(p.Groups,
				plan.FastenerGroup{Offset: 7})
		}, "begins behind fastener 7, not behind 8"},
		"no group": {func(p *plan.Plan) { p.Groups = nil }, "it has no fasteners"},
		"passes without end": {func(p *plan.Plan) { p.Passes = make([]plan.Pass, 12_501) },
			"12501 passes of 8 fasteners"},
		"checks without end": {func(p *plan.Plan) { p.Checks = make([]procedure.Check, 2001) },
			"more than 2000 checks"},
		"rows without end":         {func(p *plan.Plan) { p.Rows = make([]procedure.Row, 2001) }, "more than 2000 checks"},
		"a pass of no group":       {func(p *plan.Plan) { p.Passes[1].Group = "keel" }, `of group "keel"`},
		"a bolt without a number":  {func(p *plan.Plan) { p.Chalk = p.Chalk[:7] }, "8 fasteners have 7 numbers"},
		"a bolt that is not there": {func(p *plan.Plan) { p.Passes[0].Order[0] = 9 }, "visits fastener 9 of 8"},
		"a bolt before the first":  {func(p *plan.Plan) { p.Passes[0].Order[0] = 0 }, "visits fastener 0 of 8"},
		"a pass longer than the joint": {func(p *plan.Plan) { p.Passes[1].Order = append(p.Passes[1].Order, 1) },
			"visits 9 of 8 fasteners"},
	} {
		p := made()
		c.harm(p)
		require.ErrorContains(t, p.Sound(), c.says, name)
	}
	p := made()
	p.Groups = append(p.Groups, plan.FastenerGroup{Offset: 8})
	p.Groups[1].Layout.Count = 1992
	p.Passes, p.Chalk = nil, make([]int, 2000)
	require.NoError(t, p.Sound(), "2000 is not too many")
	p.Groups = []plan.FastenerGroup{{}}
	p.First().Layout.Count, p.Chalk = 2000, make([]int, 2000)
	p.Passes, p.Checks, p.Rows = make([]plan.Pass, 50), make([]procedure.Check, 2000), make([]procedure.Row, 2000)
	require.NoError(t, p.Sound(), "nor are 100,000 visits, 2000 checks; passes of plans of an earlier time name no group")
}
