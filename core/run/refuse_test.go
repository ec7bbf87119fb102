package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// The remedy says how many tools pull here.
func TestHandTooManyIsToldHowManyThereAre(t *testing.T) {
	for together, remedy := range map[int]string{1: "One tool pulls here.", 2: "2 tools pull here; the first is 0."} {
		in := coretest.Input()
		in.Choices.Together = together
		p, err := plan.Make(in)
		require.NoError(t, err)
		err = run.Event{Kind: run.Pulled, Pass: 1, Fastener: 1, Hand: together}.Fits(p)
		refused(t, err, "hand")
		require.ErrorContains(t, err, remedy)
	}
}

// The largest number that can be counted is taken, the next one is not, on either side of nothing.
func TestCountedNumbersHaveABound(t *testing.T) {
	e := run.Event{ID: "1", Kind: run.Noted, At: coretest.Day, Note: "seen"}
	const most = 1_000_000
	for n, taken := range map[int]bool{most: true, most + 1: false, -most: true, -most - 1: false} {
		if e.DeviceSeq = n; taken {
			require.NoError(t, e.Validate(), "%d", n)
		} else {
			refused(t, e.Validate(), "deviceSeq")
		}
	}
}

// A part that each fastener has of its own is changed at a fastener, and at one of its group.
func TestPartOfAFastenerNamesItsFastener(t *testing.T) {
	tried := 0
	for _, f := range procedure.Builtin() {
		p, err := plan.Make(sampleOf(f, nil))
		require.NoError(t, err)
		for _, x := range p.Parts {
			e := run.Event{Kind: run.PartChanged, Part: x.Code, Answer: run.Refitted, Reason: "was only looked at", Fastener: 1}
			if x.Once {
				refused(t, e.Fits(p), "answer")
			} else if !x.PerBolt || x.Fasteners == "" || p.GroupAt(1).Code == x.Fasteners {
				require.NoError(t, e.Fits(p), "%s %s", f.Code, x.Code)
			}
			e = run.Event{Kind: run.PartChanged, Part: x.Code, Answer: run.NewPart, Reason: "worn"}
			if !x.PerBolt {
				require.NoError(t, e.Fits(p), "%s %s", f.Code, x.Code)
				continue
			}
			tried++
			refused(t, e.Fits(p), "fastener")
			for n := 1; n <= p.Count(); n++ {
				e.Fastener = n
				if x.Fasteners == "" || p.GroupAt(n).Code == x.Fasteners {
					require.NoError(t, e.Fits(p), "%s %s at %d", f.Code, x.Code, n)
				} else {
					refused(t, e.Fits(p), "fastener")
				}
			}
			e.Fastener = p.Count() + 1
			refused(t, e.Fits(p), "fastener")
		}
	}
	require.Positive(t, tried)
}

// An hour on the clock lies between 1 and 12; both of them are hours.
func TestHourOnTheClockHasBounds(t *testing.T) {
	tried := 0
	for _, f := range procedure.Builtin() {
		p, err := plan.Make(sampleOf(f, nil))
		require.NoError(t, err)
		for _, c := range p.Checks {
			if c.Kind != procedure.Clock {
				continue
			}
			for hour, usable := range map[float64]bool{-1: false, 0: false, 1: true, 6: true, 12: true, 13: false} {
				s := coretest.NewScript(p)
				s.Add(run.Event{Kind: run.ReadConfirmed})
				s.Add(run.Event{Kind: run.CheckAnswered, Check: c.Code, Values: []run.Reading{{Value: hour}}})
				tried++
				cs := checkOf(t, s.State(), c.Code)
				require.Equal(t, usable, cs.Text != "not usable", "%s %s at %g: %s", f.Code, c.Code, hour, cs.Text)
			}
		}
	}
	require.Positive(t, tried)
}
