package run_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/run"
)

// What is in hand is the chain of tools from hand or pump to the nut, with what it is set to: as taken, else as
// planned, and nothing where no tool is set or all is done.
func TestWhatIsInHand(t *testing.T) {
	s := hydraulics(t)
	st := s.State()
	hands := st.InHand(s.Plan)
	require.Len(t, hands, 1)
	require.Equal(t, st.SetUp.Tags(), strings.Join(hands[0].Tags, "+"))
	require.InDelta(t, st.Setting, hands[0].Setting, 0)
	require.Equal(t, st.Passes[st.Pass-1].Unit, hands[0].Unit)
	require.NotEmpty(t, hands[0].Unit)

	untouched := run.Fold(s.Plan, nil, s.At)
	for i, ps := range untouched.Passes {
		at := *untouched
		at.Pass, at.Wrench, at.SetUp, at.Hands = i+1, nil, nil, nil
		if !ps.Kind.Sets() {
			require.Nil(t, at.InHand(s.Plan), "nothing is set in pass %d", i+1)
			continue
		}
		planned := s.Plan.GroupOf(ps.Group).InHand()
		require.NotNil(t, planned)
		require.Equal(t, planned.Tags(), strings.Join(at.InHand(s.Plan)[0].Tags, "+"), "as planned")
	}

	pair := two(t)
	st = pair.State()
	hands = st.InHand(pair.Plan)
	require.Len(t, hands, 2)
	for i, h := range hands {
		require.Equal(t, st.Hands[i].SetUp.Tags(), strings.Join(h.Tags, "+"))
		require.InDelta(t, st.Hands[i].Setting, h.Setting, 0)
	}
	require.NotEqual(t, hands[0].Tags, hands[1].Tags)

	one := ready(t)
	st = one.State()
	require.Equal(t, []run.Hand{{Tags: []string{st.Wrench.Tag}, Setting: st.Setting, Unit: st.Passes[st.Pass-1].Unit}},
		st.InHand(one.Plan))
	one.Tighten()
	require.Zero(t, one.State().Pass)
	require.Nil(t, one.State().InHand(one.Plan))
}
