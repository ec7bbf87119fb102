package shutdown

import (
	"slices"

	"dynacor/core/schedule"
)

// SlipSeen is from how many minutes on a part of the work counts as behind, or as moved. A starting value.
const SlipSeen = 10

// What is near in a plan that is made anew stays as it was announced, unless that costs more than so many minutes: no
// search finds the same end twice, and a plan is not turned over for a hundredth of its time.
// Starting values.
const (
	keepCost = 30 // or one part in
	keepPart = 40 // of the time that there is left
)

// Near is what counts as near, minutes from now, the farthest first: when keeping one costs too much, the next is
// tried.
var Near = []int{48 * 60, 12 * 60, 4 * 60}

// OnTime lets what is late by less than SlipSeen end as it was announced: no forecast is that good, and nothing that
// follows need move for it. That is what is under way, and what should have begun. Announced are the parts as the plan
// in force has them; those without a mode cannot be done so any more.
func OnTime(in *schedule.Instance, announced []schedule.Planned) {
	for _, x := range announced {
		n := begun(in, x.Activity)
		switch {
		case n >= 0:
			if b := &in.Begun[n]; x.End > in.Now && x.End < b.End && b.End-x.End < SlipSeen {
				b.End = x.End
			}
		case x.Mode != "" && slipped(in, x):
			shorten(in, x.Activity, in.Now-x.Start)
		}
	}
}

// Keep is what of the parts announced begins before a minute and can stay as it was announced; nil when nothing can.
// OnTime comes before it.
func Keep(in *schedule.Instance, announced []schedule.Planned, until int) *schedule.Keep {
	k := &schedule.Keep{Until: until, Plan: []schedule.Planned{},
		Cost: max(keepCost, (*in.Horizon-in.Now)/keepPart)}
	for _, x := range announced {
		if x.Mode == "" || x.Start < 0 || begun(in, x.Activity) >= 0 {
			continue
		}
		if slipped(in, x) {
			x.Start = in.Now // OnTime has made it as much shorter
		}
		x.End = 0
		k.Plan = append(k.Plan, x)
	}
	if until <= 0 || len(k.Plan) == 0 {
		return nil
	}
	return k
}

// slipped reports whether a part should have begun a little while ago.
func slipped(in *schedule.Instance, x schedule.Planned) bool {
	return x.Start < in.Now && in.Now-x.Start < SlipSeen
}

func begun(in *schedule.Instance, act string) int {
	return slices.IndexFunc(in.Begun, func(b schedule.Planned) bool { return b.Activity == act })
}

func shorten(in *schedule.Instance, act string, by int) {
	for _, j := range in.Jobs {
		for _, x := range j.Activities {
			for m := range x.Modes {
				if x.ID == act {
					x.Modes[m].Minutes = max(1, x.Modes[m].Minutes-by)
				}
			}
		}
	}
}
