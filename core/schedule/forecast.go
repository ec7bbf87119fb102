package schedule

import (
	"math"
	"slices"
)

// ForecastRuns is how many times a plan is run through for a forecast.
const ForecastRuns = 1000

// lastDay is repeated when calendars end.
const lastDay, moreDays = 1440, 60

// Spreads say how far durations lie apart, in natural logarithms: of one activity, and of all of a run together.
type Spreads struct {
	Of     map[string]float64 // by activity; of one that is not there: 0.25
	Common float64            // UsualSpreads: 0.10
}

// UsualSpreads are those of a site without a history.
func UsualSpreads() Spreads { return Spreads{Common: commonSpread} }

// JobForecast is when a job may end. Met is the share of runs in which its due time is met; nil: it has none.
type JobForecast struct {
	Job string   `json:"job"`
	P50 int      `json:"p50"`
	P80 int      `json:"p80"`
	Met *float64 `json:"met,omitempty"`
}

// BrokenShare is the share of runs in which a maximum lag, a deadline, an isolation or the horizon does not hold.
type BrokenShare struct {
	Rule  string  `json:"rule"` // link, deadline, isolation, horizon
	What  string  `json:"what"` // link, activity or job; of the horizon ""
	Share float64 `json:"share"`
}

// Forecast is what becomes of a plan when work takes as long as it does.
type Forecast struct {
	Runs   int           `json:"runs"`
	P50    int           `json:"p50"` // of the finish
	P80    int           `json:"p80"`
	Jobs   []JobForecast `json:"jobs"`
	Broken []BrokenShare `json:"broken"` // those that break at all, the likeliest first
}

// Foresee runs a plan through with durations that vary. Modes, people, tools and the order of everybody and everything
// stay; starts are as early as minimum lags, calendars and that order allow. What else breaks is counted, not mended.
// Refused: an instance that says what cannot be meant, and a plan that names what it does not have.
func Foresee(in *Instance, plan []Planned, spreads Spreads, runs int, seed uint64) (Forecast, error) {
	m, err := compile(in)
	if err != nil {
		return Forecast{}, err
	}
	c := &checker{model: m, is: make([]bool, len(m.acts)), at: make([]placed, len(m.acts)),
		gone: make([]bool, len(m.jobs)), only: -1}
	if err := c.read(plan, nil); err != nil {
		return Forecast{}, err
	}
	f := &foresight{model: m, plan: c.at, is: c.is, rng: newRng(seed), broken: map[BrokenShare]int{}}
	f.prepare()
	ends := make([][]int, len(m.jobs)+1)
	met := make([]int, len(m.jobs))
	for range runs {
		f.run(spreads)
		finish := 0
		for j := range m.jobs {
			end, whole := f.endOf(j)
			if !whole {
				continue
			}
			finish = max(finish, end)
			ends[j] = append(ends[j], end)
			if end <= m.jobs[j].due {
				met[j]++
			}
		}
		ends[len(m.jobs)] = append(ends[len(m.jobs)], finish)
		f.count(finish)
	}
	return f.tell(ends, met, runs), nil
}

type foresight struct {
	*model
	plan    []placed
	is      []bool
	rng     rng
	order   []int // as the plan has it
	open    [][]Window
	state   *state
	broken  map[BrokenShare]int
	minutes []int
}

// prepare lays out what stays the same over the runs.
func (f *foresight) prepare() {
	f.state = f.newState()
	f.minutes = make([]int, len(f.acts))
	for k := range f.model.people {
		f.state.model.people[k].open = longer(f.model.people[k].open)
	}
	for k := range f.model.tools {
		f.state.model.tools[k].open = longer(f.model.tools[k].open)
	}
	for k := range f.model.areas {
		f.state.model.areas[k].open = longer(f.model.areas[k].open)
	}
	f.open = make([][]Window, len(f.acts))
	for i := range f.acts {
		if f.is[i] {
			f.open[i] = f.state.open(i, f.plan[i])
			f.order = append(f.order, i)
		}
	}
	slices.SortStableFunc(f.order, func(a, b int) int {
		if f.plan[a].start != f.plan[b].start {
			return f.plan[a].start - f.plan[b].start
		}
		return f.plan[a].end - f.plan[b].end
	})
}

// longer repeats the last day of a calendar that ends.
func longer(open []Window) []Window {
	if len(open) == 0 || open[len(open)-1][1] >= never {
		return open
	}
	end := open[len(open)-1][1]
	out := slices.Clone(open)
	for day := 1; day <= moreDays; day++ {
		for _, w := range open {
			if a := max(w[0], end-lastDay); a < w[1] {
				out = append(out, Window{a + day*lastDay, w[1] + day*lastDay})
			}
		}
	}
	list, err := joined(out, "open")
	if err != nil { // windows of one day do not overlap with those of the next
		return open
	}
	return list
}

// run goes through the plan once. The numbers are drawn in the order of the instance, whatever is done first.
func (f *foresight) run(spreads Spreads) {
	common := spreads.Common * f.rng.Normal()
	for i := range f.acts {
		sigma, ok := spreads.Of[f.acts[i].id]
		if !ok {
			sigma = usualSpread
		}
		z := f.rng.Normal()
		if !f.is[i] {
			continue
		}
		n := f.acts[i].modes[f.plan[i].mode].minutes
		if f.acts[i].begun != nil {
			n = f.left(i)
		}
		f.minutes[i] = max(1, int(math.Round(float64(n)*math.Exp(common+sigma*z))))
	}
	s := f.state
	s.empty()
	for _, i := range f.order {
		s.put(i, f.place(i))
	}
}

// left is how many minutes at work one that is under way has left; 0: it has ended.
func (f *foresight) left(i int) int {
	n := 0
	for _, w := range f.open[i] {
		n += max(0, min(w[1], f.plan[i].end)-max(w[0], f.now, f.plan[i].start))
	}
	return n
}

// place gives an activity its earliest start behind those that the plan has before it.
func (f *foresight) place(i int) placed {
	a, p, s := &f.acts[i], f.plan[i], f.state
	if a.begun != nil {
		if p.end > f.now {
			if _, end, ok := advance(f.open[i], f.now, f.minutes[i], never); ok {
				p.end = end
			}
		}
		return p
	}
	from, late := f.floor(i)
	for {
		start, end, ok := advance(f.open[i], from, f.minutes[i], a.pause)
		if !ok { // no day is long enough for it: it goes over the end of one
			start, end, _ = advance(f.open[i], from, f.minutes[i], never)
		}
		next := start
		for _, u := range a.at {
			next = max(next, s.roomFrom(u, start, end))
		}
		if end < late {
			next = max(next, start+late-end)
		}
		if next == start {
			p.start, p.end = start, end
			return p
		}
		from = next
	}
}

// floor is from when an activity may begin behind what stands, and by when it must end at the earliest.
func (f *foresight) floor(i int) (from, late int) {
	a, p, s := &f.acts[i], f.plan[i], f.state
	from = f.own(i)
	for _, w := range p.people {
		if list := s.people[w]; len(list) > 0 {
			from = max(from, list[len(list)-1].end)
		}
	}
	for _, t := range p.tools {
		list := s.tools[t]
		if len(list) > 0 {
			from = max(from, list[len(list)-1].end)
		}
		from = max(from, s.carriedBy(&f.model.tools[t], list, len(list), a.site))
	}
	for _, k := range a.in {
		l := &f.links[k]
		if !s.is[l.from] {
			continue
		}
		if t := s.time(l.from, l.fromE) + l.min; l.toE {
			late = max(late, t)
		} else {
			from = max(from, t)
		}
	}
	return from, late
}

// own is from when an activity may begin by its own facts: now, release, the window that the plan has it in, pins.
func (f *foresight) own(i int) int {
	a, p := &f.acts[i], f.plan[i]
	from := max(f.now, a.release)
	if a.iso >= 0 {
		for _, w := range f.windows[a.iso] {
			if w[0] <= p.start && p.start < w[1] {
				from = max(from, w[0])
			}
		}
	}
	for _, k := range a.pins {
		x := &f.in.Pins[k]
		if x.NotBefore != nil {
			from = max(from, *x.NotBefore)
		}
		if x.Start != nil {
			from = max(from, *x.Start)
		}
	}
	return from
}

func (f *foresight) endOf(j int) (end int, whole bool) {
	for _, i := range f.jobs[j].acts {
		if !f.is[i] {
			return 0, false
		}
		end = max(end, f.state.at[i].end)
	}
	return end, true
}

// count notes what does not hold in a run.
func (f *foresight) count(finish int) {
	s := f.state
	for k := range f.links {
		l := &f.links[k]
		if f.is[l.from] && f.is[l.to] && l.max != never && s.time(l.to, l.toE)-s.time(l.from, l.fromE) > l.max {
			f.broken[BrokenShare{Rule: "link", What: l.id}]++
		}
	}
	for i := range f.acts {
		if f.is[i] && f.acts[i].begun == nil && s.at[i].end > f.acts[i].deadline {
			f.broken[BrokenShare{Rule: "deadline", What: f.acts[i].id}]++
		}
	}
	for j := range f.jobs {
		for iso := range f.windows {
			if !slices.ContainsFunc(f.windows[iso], func(w Window) bool { return s.holds(j, iso, w) }) {
				f.broken[BrokenShare{Rule: "isolation", What: f.jobs[j].id}]++
			}
		}
	}
	if finish > f.horizon {
		f.broken[BrokenShare{Rule: "horizon"}]++
	}
}

// tell sums the runs up.
func (f *foresight) tell(ends [][]int, met []int, runs int) Forecast {
	at := func(list []int, p float64) int {
		slices.Sort(list)
		return list[max(0, int(math.Ceil(p*float64(len(list))))-1)]
	}
	out := Forecast{Runs: runs, Jobs: []JobForecast{}, Broken: []BrokenShare{}}
	for j := range f.jobs {
		if len(ends[j]) == 0 {
			continue
		}
		x := JobForecast{Job: f.jobs[j].id, P50: at(ends[j], .5), P80: at(ends[j], .8)}
		if f.jobs[j].due != never {
			share := float64(met[j]) / float64(runs)
			x.Met = &share
		}
		out.Jobs = append(out.Jobs, x)
	}
	if all := ends[len(f.jobs)]; len(all) > 0 {
		out.P50, out.P80 = at(all, .5), at(all, .8)
	}
	for b, n := range f.broken {
		b.Share = float64(n) / float64(runs)
		out.Broken = append(out.Broken, b)
	}
	slices.SortFunc(out.Broken, func(a, b BrokenShare) int {
		switch {
		case a.Share > b.Share:
			return -1
		case a.Share < b.Share:
			return 1
		case a.Rule+a.What < b.Rule+b.What:
			return -1
		}
		return 1
	})
	return out
}
