package shutdown_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/schedule"
	"dynacor/core/shutdown"
)

// Each rule that holds an activity back has its sentence, with people by their names.
func TestEachReasonHasItsSentence(t *testing.T) {
	names := shutdown.Names{"p1": "M. Tolley"}
	for want, b := range map[string]schedule.Because{
		"It begins as soon as it can.":                       {Rule: "now"},
		"M. Tolley is at tightening SW-111 until then.":      {Rule: "person", What: "p1", How: "busy", Other: "SW-111 tighten"},
		"W-40 is at proving SW-112 until then.":              {Rule: "tool", What: "W-40", How: "busy", Other: "SW-112 prove"},
		"M. Tolley is not there earlier.":                    {Rule: "person", What: "p1", How: "closed"},
		"W-40 cannot be had earlier.":                        {Rule: "tool", What: "W-40", How: "closed"},
		"W-40 is carried there until then.":                  {Rule: "tool", What: "W-40", How: "carry"},
		"Pump hall cannot be had earlier.":                   {Rule: "area", What: "Pump hall", How: "closed"},
		"Pump hall has no room for another crew until then.": {Rule: "area", What: "Pump hall", How: "full"},
		"Preparing SW-111 comes first.":                      {Rule: "link", What: "SW-111 prepare>SW-111 lubricate", How: "min"},
		"Earlier it would be too long before what follows: life of the lubricant of SW-111.": {Rule: "link",
			What: "life of the lubricant of SW-111", How: "max"},
		"It waits, as it was asked to, after tightening SW-111.": {Rule: "link", What: "wait before the proof of SW-111",
			How: "min"},
		"The isolation loop 2 begins then.": {Rule: "isolation", What: "loop 2"},
		"It is not released earlier.":       {Rule: "release", What: "SW-111 tighten"},
		"It was set so by hand.":            {Rule: "pin", What: 1, How: "start"},
		"It was announced so.":              {Rule: "kept", What: "SW-111 tighten"},
	} {
		require.Equal(t, want, shutdown.Why(&b, names))
	}
	require.Empty(t, shutdown.Why(nil, names), "what has begun needs none")
}

func TestWhatBindsIsNamed(t *testing.T) {
	require.Equal(t, "SW-112 prove", shutdown.Binds(&schedule.Because{Rule: "tool", What: "W-40", How: "busy", Other: "SW-112 prove"}))
	require.Equal(t, "SW-111 prepare", shutdown.Binds(&schedule.Because{Rule: "link", How: "min", What: "SW-111 prepare>SW-111 hold"}))
	require.Empty(t, shutdown.Binds(&schedule.Because{Rule: "link", How: "max", What: "life of the lubricant of SW-111"}))
	require.Equal(t, "SW-111 tighten", shutdown.Binds(&schedule.Because{Rule: "link", How: "min", What: shutdown.WaitOf("SW-111")}))
	require.Empty(t, shutdown.Binds(&schedule.Because{Rule: "now"}))
	require.Empty(t, shutdown.Binds(nil))
}

func TestEachFactHasItsWords(t *testing.T) {
	for fact, want := range map[string]string{
		"role:SW-111 prove/by eye/1":          "somebody who may do proving SW-111",
		"tool:SW-111 tighten/W-40 + S4-30/1":  "the tools of W-40 + S4-30 for tightening SW-111",
		"min:SW-111 prepare>SW-111 lubricate": "preparing SW-111 before lubricating SW-111",
		"min:wait before the proof of SW-111": "wait before the proof of SW-111",
		"max:life of the lubricant of SW-111": "life of the lubricant of SW-111",
		"apart:SW-111 tighten|SW-111 prove":   "tightening SW-111 and proving SW-111 by different people",
		"area:SW-111 tighten":                 "room for tightening SW-111",
		"pause:SW-111 prepare":                "preparing SW-111 without a rest",
		"deadline:SW-111 prove":               "proving SW-111 in time",
		"release:SW-111 prove":                "proving SW-111 not earlier than released",
		"isolation:SW-111 hold":               "the hold of SW-111 under its isolation",
		"pin:2":                               "what was set by hand, number 2",
	} {
		require.Equal(t, want, shutdown.Fact(fact, nil))
	}
}

// What a bar in the hand breaks is told in a sentence, and whether others could give way to it.
func TestEachBrokenRuleHasItsSentence(t *testing.T) {
	names := shutdown.Names{"p1": "M. Tolley"}
	two := []string{"SW-112 prove", "SW-111 tighten"}
	for want, b := range map[string]schedule.Broken{
		"It is later than that.":                                       {Rule: "now"},
		"It would end after the last shift.":                           {Rule: "horizon"},
		"It is not released by then.":                                  {Rule: "release"},
		"It would end after its deadline.":                             {Rule: "deadline"},
		"Somebody is not at work for all of it.":                       {Rule: "calendar"},
		"M. Tolley may not do tightening SW-111.":                      {Rule: "role"},
		"It would not lie within one window of its isolation.":         {Rule: "isolation"},
		"Whoever proves has not tightened: somebody would be at both.": {Rule: "apart"},
		"It has begun.":                       {Rule: "begun"},
		"It has not the tools that it needs.": {Rule: "tool", Activities: two[1:]},
	} {
		require.Equal(t, want, shutdown.Breaks(b, "SW-111 tighten", []string{"p1"}, []string{"W-40"}, names))
		require.True(t, shutdown.Hard(b), want)
	}
	for want, b := range map[string]schedule.Broken{
		"M. Tolley is at proving SW-112 then.":    {Rule: "person", Activities: two},
		"W-40 is at proving SW-112 then.":         {Rule: "tool", Activities: two},
		"W-40 is still carried there.":            {Rule: "carry"},
		"There is no room for another crew then.": {Rule: "area"},
		"Proving SW-112 comes first.":             {Rule: "link", Activities: two, Says: "the lag is 3, at least 5"},
		"It comes before proving SW-112.":         {Rule: "link", Activities: []string{two[1], two[0]}, Says: "the lag is 3, at least 5"},
		"It would be too long after, or before, proving SW-112.": {Rule: "link", Activities: two,
			Says: "the lag is 3, at most 2"},
		"It was set so by hand.": {Rule: "pin"},
	} {
		require.Equal(t, want, shutdown.Breaks(b, "SW-111 tighten", []string{"p1"}, []string{"W-40"}, names))
		require.False(t, shutdown.Hard(b), want)
	}
}
