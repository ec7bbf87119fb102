package plan_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// The maker's order of the seals stands in the plan before the usual one, and says that it does.
func TestPartsGoInByTheOrderOfTheDocument(t *testing.T) {
	f, err := procedure.ByCode("pressure_closure")
	require.NoError(t, err)
	in := coretest.Input()
	in.Joint.Family, in.Family = f.Code, f
	in.Specification = plan.Sample(f, nil)
	p, err := plan.Make(in)
	require.NoError(t, err)
	usual := limitOf(t, p, "seal_order")
	require.Empty(t, usual.LimitFrom)

	own := []string{"inner seal", "outer seal", "wiper"}
	in.Specification.Orders = map[string][]string{"seal_order": own}
	p, err = plan.Make(in)
	require.NoError(t, err)
	require.Equal(t, own, limitOf(t, p, "seal_order").Items)
	require.Equal(t, in.Specification.Source(), limitOf(t, p, "seal_order").LimitFrom)
	require.NotEqual(t, own, limitOf(t, p, "piston_seals").Items, "of the one check only")
	again, err := procedure.ByCode("pressure_closure")
	require.NoError(t, err)
	require.Equal(t, f, again, "the procedure stays as it is")
}

func TestOrderOfPartsThatCannotBeIsRefused(t *testing.T) {
	f, err := procedure.ByCode("pressure_closure")
	require.NoError(t, err)
	many := strings.Split(strings.Repeat("x ", 21), " ")[:21]
	for i := range many {
		many[i] += string(rune('a' + i))
	}
	for _, x := range []struct {
		code  string
		parts []string
		ok    bool
	}{
		{"seal_order", []string{"a", "b"}, true},
		{"seal_order", many[:20], true},
		{"seal_order", []string{strings.Repeat("å", 60), "b"}, true},
		{"seal_order", []string{"a"}, false},
		{"seal_order", many, false},
		{"seal_order", []string{"a", "b", "a"}, false},
		{"seal_order", []string{"a", " "}, false},
		{"seal_order", []string{"a > b", "c"}, false},
		{"seal_order", []string{"a", strings.Repeat("x", 61)}, false},
		{"bled", []string{"a", "b"}, false},
		{"nothing", []string{"a", "b"}, false},
	} {
		s := plan.Sample(f, nil)
		s.Orders = map[string][]string{x.code: x.parts}
		err := s.Check(f, fastener.Own{})
		if x.ok {
			require.NoError(t, err, x.parts)
			continue
		}
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, "%v", x.parts)
		require.Equal(t, "orders."+x.code, r.Field)
		require.NotEmpty(t, r.Remedy)
	}
	s := plan.Sample(f, nil)
	s.Orders = map[string][]string{"seal_order": {"a", " "}}
	require.ErrorContains(t, s.Check(f, fastener.Own{}), "part 2 has no name")
}
