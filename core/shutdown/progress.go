package shutdown

import (
	"slices"
	"time"
)

// Curve is how many joints are done by when: the times at which another one is.
type Curve []time.Time

// At is how many are done at a time.
func (c Curve) At(t time.Time) int {
	n := 0
	for _, x := range c {
		if !x.After(t) {
			n++
		}
	}
	return n
}

// Progress holds what was done against what was planned.
type Progress struct {
	Planned Curve
	Done    Curve
	Total   int
}

// NewProgress sorts the times; total counts every joint of the package.
func NewProgress(planned, done []time.Time, total int) Progress {
	p := Progress{slices.Clone(planned), slices.Clone(done), total}
	for _, c := range []Curve{p.Planned, p.Done} {
		slices.SortFunc(c, time.Time.Compare)
	}
	return p
}

// Behind is by how many joints less is done at a time than was planned; below 0: more.
func (p Progress) Behind(now time.Time) int { return p.Planned.At(now) - p.Done.At(now) }

// Forecast is when the last joint is done if it goes on at the pace of the last so many hours, counted in the time in
// which people are at work; ok is false when nothing was done in them, or everything is.
func (p Progress) Forecast(now time.Time, back time.Duration, worked func(from, to time.Time) time.Duration,
	after func(from time.Time, work time.Duration) time.Time) (end time.Time, ok bool) {
	left := p.Total - len(p.Done)
	done := p.Done.At(now) - p.Done.At(now.Add(-back))
	spent := worked(now.Add(-back), now)
	if left <= 0 || done <= 0 || spent <= 0 {
		return end, false
	}
	return after(now, spent/time.Duration(done)*time.Duration(left)), true
}
