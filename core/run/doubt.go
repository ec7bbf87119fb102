package run

import (
	"slices"

	"dynacor/core/tool"
	"dynacor/core/working"
)

// doubtedProblem is the code of what is wrong with a tool that was put aside while it was in hand.
const doubtedProblem = "doubted"

// touch notes with what a fastener was brought up.
func (f *folder) touch(position int, s *tool.SetUp) {
	if s == nil {
		return
	}
	for _, t := range s.String {
		if !slices.Contains(f.touched[position-1], t.Tag) {
			f.touched[position-1] = append(f.touched[position-1], t.Tag)
		}
	}
}

// doubt takes it that a tool was put aside while the work goes on: it is used no further, and of each fastener that it
// brought up somebody must say what is to be done.
func (f *folder) doubt(e Event) {
	x := func() working.Facts { return working.Facts{"tool": e.Tool, "reason": e.Reason} }
	has := func(t tool.Tool) bool { return t.Tag == e.Tool }
	said := false
	for _, h := range f.hands {
		for _, k := range h.tools {
			if k.setUp == nil || !slices.ContainsFunc(k.setUp.String, has) {
				continue
			}
			k.problems = append(slices.Clone(k.problems), tool.Problem{Code: doubtedProblem,
				What: e.Tool + " was put aside: " + e.Reason, Remedy: "Take another set-up."})
			said = true
		}
	}
	for i, tags := range f.touched {
		if !slices.Contains(tags, e.Tool) {
			continue
		}
		one := e
		one.Fastener = i + 1
		f.raise(&inDoubtRule, one, x())
		said = true
	}
	if said {
		f.void()
		f.raise(&doubtedRule, e, x())
	}
}

// doubtedInHand says which tool in hand was put aside, and why; "" when none was.
func (f *folder) doubtedInHand(i int) string {
	for _, h := range f.hands {
		for _, pr := range f.problems(h, i) {
			if pr.Code == doubtedProblem {
				return pr.What + "."
			}
		}
	}
	return ""
}
