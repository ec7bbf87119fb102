package run_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// A nut is run down by hand or with what the procedure does not forbid; what it was run down with is kept.
func TestNutIsNotRunDownWithWhatIsForbidden(t *testing.T) {
	in := coretest.Input()
	in.Tools = append(in.Tools, tool.Tool{Tag: "IW-1", Kind: tool.Impact, Drive: "3/4 in", State: tool.InService},
		tool.Tool{Tag: "RT-1", Kind: tool.Ratchet, Drive: "1/2 in", State: tool.InService},
		tool.Tool{Tag: "RT-2", Kind: tool.Ratchet, Drive: "1/2 in", State: tool.Quarantined})
	p, err := plan.Make(in)
	require.NoError(t, err)
	by := map[tool.Kind]plan.RunDown{}
	for _, r := range p.First().RunDown {
		by[r.Kind] = r
	}
	require.Equal(t, plan.RunDown{Kind: tool.Ratchet, Word: "ratchet", Tags: []string{"RT-1"}}, by[tool.Ratchet])
	require.Contains(t, by[tool.Impact].Never, "gives no torque")
	require.NotEmpty(t, by[tool.PipeWrench].Never, "nowhere")
	require.Empty(t, by[tool.Spanner].Never)

	s := coretest.NewScript(p)
	s.Ready()
	s.Confirm()
	pull := func(method, tag string) run.Event {
		return pulled(s, s.State().Next.Fastener, func(e *run.Event) { e.Method, e.Tool = method, tag })
	}
	require.True(t, found(s.Judge(pull("impact", "IW-1")), "forbidden_tool"))
	require.True(t, found(s.Judge(pull("pipe_wrench", "")), "forbidden_tool"))
	require.False(t, found(s.Judge(pull("ratchet", "RT-1")), "forbidden_tool"))
	s.Add(pull("ratchet", "RT-1"))
	require.Contains(t, s.State().Passes[0].Wrenches, "ratchet RT-1")
	require.Empty(t, s.State().Deviations)
	s.Add(pull("impact", "IW-1"))
	st := s.State()
	require.Equal(t, run.DeviationOpen, st.Deviations[0].Status)
	require.Contains(t, st.Deviations[0].What, "run down with: impact wrench")
}

// What must be so before the first fastener is let go is said then, once; who does not say it is told.
func TestWhatMustBeSoBeforeLettingGo(t *testing.T) {
	s := ready(t)
	s.Pull()
	s.Pull()
	gates := s.Plan.LoosenGate
	require.Len(t, gates, 2)
	require.Equal(t, gates, s.State().LoosenGate)
	e := run.Event{Kind: run.Loosened, Pass: 1, Fastener: 1, Reason: "to look"}
	e.Items = gates[:1]
	require.True(t, found(s.Judge(e), "let_go_too_soon"))
	require.Contains(t, s.Judge(e).Deviations[0].What, "pipe supported on both sides")
	e.Items = gates
	require.False(t, found(s.Judge(e), "let_go_too_soon"))
	s.Add(e)
	require.Empty(t, s.State().LoosenGate)
	e.Items = []string{}
	e.Fastener = 5
	require.False(t, found(s.Judge(e), "let_go_too_soon"), "it was said once")

	s = ready(t)
	out := run.Event{Kind: run.PartChanged, Part: "gasket", Answer: run.NewPart, Reason: "worn", Items: []string{}}
	require.True(t, found(s.Judge(out), "let_go_too_soon"))
	require.Contains(t, s.Judge(out).Deviations[0].What, "The joint let go")
}

// A wrench that works one way only is none for a left-hand thread.
func TestWrenchThatWorksOneWayOnly(t *testing.T) {
	in := coretest.Input()
	in.Tools[0].Directions = "clockwise"
	p, err := plan.Make(in)
	require.NoError(t, err)
	require.True(t, p.Complete())
	in.Specification.Groups[0].Thread = "M20 LH"
	p, err = plan.Make(in)
	require.NoError(t, err)
	require.True(t, p.First().Thread.LeftHand)
	require.False(t, p.Complete())
	in.Tools[0].Directions = "both"
	p, err = plan.Make(in)
	require.NoError(t, err)
	require.True(t, p.Complete(), "%v", p.Findings)
	s := coretest.NewScript(p)
	s.Ready()
	other := coretest.Wrench()
	other.Tag, other.Directions = "W-41", "clockwise"
	st := s.Judge(run.Event{Kind: run.WrenchTaken, Wrench: &other})
	require.True(t, slices.ContainsFunc(st.Blocked, func(b string) bool {
		return b == "W-41 works clockwise only, and this is a left-hand thread."
	}), "%v", st.Blocked)
	other.MayLoosen = true
	require.ErrorContains(t, other.Check(), "mayLoosen")
}

// A class that no tool belongs to cannot be forbidden.
func TestForbiddenClassesAreThoseOfTools(t *testing.T) {
	f, err := procedure.ByCode("gasketed_flange")
	require.NoError(t, err)
	f.Fasteners = slices.Clone(f.Fasteners)
	f.Fasteners[0].ToolsNever = map[string]string{"hammer": "it is one"}
	require.Len(t, f.Faults(), 1)
	require.Contains(t, f.Faults()[0].Path, "toolsNever.hammer")
}
