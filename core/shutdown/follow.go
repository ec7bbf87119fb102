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
// is behind: what is to come, when it should have begun; what is in hand, when it ends later than planned. All are
// minutes of the plan; b is nil when the joint is not begun.
func Follow(k Kind, start, end, now int, b *Begun, accepted bool) (s Step, behind int) {
	switch {
	case accepted:
		return Done, 0
	case b == nil || slices.Index(kinds, k) > slices.Index(kinds, b.At):
		return ToCome, max(0, now-start)
	case k == b.At:
		return InHand, max(0, now+b.Minutes-end)
	}
	return Done, 0
}
