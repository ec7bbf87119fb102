package report

import (
	"bytes"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/record"
	"dynacor/core/run"
)

func printWild(t *testing.T, family string, seed uint64) {
	t.Helper()
	f, err := procedure.ByCode(family)
	require.NoError(t, err)
	in := coretest.Input()
	in.Joint.Family, in.Family, in.Specification = f.Code, f, plan.Sample(f, nil)
	p, err := plan.Make(in)
	require.NoError(t, err)
	s := coretest.NewScript(p)
	coretest.Wild(s, rand.New(rand.NewPCG(seed, 11)), 100)
	v := Sealed{Record: record.Record{Number: "TS-2026-00001", Site: "Tarn Skerry", Plan: p, State: s.State()},
		Mark: strings.Repeat("0f", 32)}
	for i, e := range s.Events {
		v.Record.Events = append(v.Record.Events, record.Entry{Seq: i + 1, ReceivedAt: e.At, Event: e})
	}
	var b bytes.Buffer
	require.NoError(t, Certificate(&b, v))
	require.NotEmpty(t, b.Bytes())
}

// Whatever was accepted can be printed, however the work went.
func TestWhateverWasAcceptedCanBePrinted(t *testing.T) {
	for _, f := range procedure.Builtin() {
		t.Run(f.Code, func(t *testing.T) {
			t.Parallel()
			printWild(t, f.Code, 1)
		})
	}
}

func FuzzCertificateOfAnAcceptedChain(f *testing.F) {
	list := procedure.Builtin()
	f.Fuzz(func(t *testing.T, family uint8, seed uint64) { printWild(t, list[int(family)%len(list)].Code, seed) })
}

// Chains from before a pull was held against the plan may name a fastener that the joint does not have.
func TestFastenerThatIsNotOnTheJointIsPrinted(t *testing.T) {
	v := view(t, func(s *coretest.Script) {
		s.Ready()
		s.Add(run.Event{Kind: run.Pulled, Pass: 1, Fastener: 99, Outcome: run.Clicked, Setting: 90})
		s.Tighten()
	})
	require.Contains(t, words(t, certificate(t, v)), "position 99, not on this joint")
}
