package run_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// streams is how many runs are led astray: a few here, many when asked for.
func streams(t *testing.T, few int) int {
	n, err := strconv.Atoi(os.Getenv("DYNACOR_STREAMS"))
	if err != nil {
		return few
	}
	t.Logf("%d streams", n)
	return n
}

// From wherever hurried and hostile hands have brought a joint, in every family and variant, somebody with authority
// can end it: with a joint that is accepted, and with one that is turned down.
func TestEveryStateHasAWayOut(t *testing.T) {
	var plans []*plan.Plan
	for _, f := range procedure.Builtin() {
		for _, v := range coretest.Variants(f) {
			p, err := plan.Make(sampleOf(f, v))
			require.NoError(t, err)
			plans = append(plans, p)
		}
	}
	n := streams(t, 500)
	for k, p := range plans {
		t.Run(fmt.Sprint(p.Family, " ", p.Variant), func(t *testing.T) {
			t.Parallel()
			for seed := k; seed < n; seed += len(plans) {
				wayOut(t, p, uint64(seed))
			}
		})
	}
}

// wayOut leads a run of a plan astray, and then out.
func wayOut(t *testing.T, p *plan.Plan, seed uint64) {
	rng := rand.New(rand.NewPCG(seed, 14))
	s := coretest.NewScript(p)
	if rng.IntN(3) > 0 {
		s.Ready()
	}
	coretest.Wild(s, rng, 10+rng.IntN(60))
	st := s.State()
	if st.Verdict.Code == run.TurnedDown {
		return // ended
	}
	down := run.Event{ID: "x", Kind: run.Signed, Purpose: run.SignTurnedDown, Reason: "cannot be used as it is",
		Signer: &coretest.Hartwell}
	require.NoError(t, run.MaySign(p, st, down), "seed %d", seed)
	st = s.Judge(down)
	require.Equal(t, run.TurnedDown, st.Verdict.Code, "seed %d", seed)
	require.Empty(t, st.OpenItems, "it can be sealed, seed %d", seed)
	if !coretest.Accept(s) {
		st := s.State()
		t.Errorf("seed %d: no way to a joint that is accepted: %s, %s; pass %d, next %v, unsettled %v, open %v",
			seed, st.Station, st.Verdict.Sentence, st.Pass, st.Next, unsettled(st), st.OpenItems)
	}
}

func unsettled(st *run.State) (list []string) {
	for _, d := range st.Deviations {
		if d.Unsettled() {
			list = append(list, string(d.Code)+" "+string(d.Status)+": "+d.What)
		}
	}
	return list
}
