package shutdown

import "slices"

// Step says how far a planned part of the work has come.
type Step string

// The steps.
const (
	ToCome Step = "to_come"
	InHand Step = "in_hand"
	Done   Step = "done"
)

// Follow says how far a part of a joint's work has come that was planned from start to end, and by how many minutes it
// is behind: what is to come, when it should have begun; what is in hand, when it ends later than planned; 0 below
// SlipSeen. All are minutes of the plan; b is nil when the joint is not begun.
func Follow(k Kind, start, end, now int, b *Begun, accepted bool) (s Step, behind int) {
	s = Done
	switch {
	case accepted:
	case b == nil || slices.Index(kinds, k) > slices.Index(kinds, b.At):
		s, behind = ToCome, now-start
	case k == b.At:
		s, behind = InHand, now+b.Minutes-end
	}
	if behind < SlipSeen {
		return s, 0
	}
	return s, behind
}
