package rehearsal

import "dynacor/core/run"

// madeSure is what careful hands make sure of before they let go.
func (s *Script) madeSure(e run.Event) []string {
	if e.Items == nil && (e.Kind == run.Loosened || e.Kind == run.PartChanged) {
		return s.Plan.LoosenGate
	}
	return e.Items
}
