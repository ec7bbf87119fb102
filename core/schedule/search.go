package schedule

import (
	"context"
	"math"
	"slices"
	"sort"

	"dynacor/core/chance"
)

// rng draws the moves of a search and the durations of a forecast.
type rng struct{ chance.Source }

func newRng(seed uint64) rng { return rng{chance.Source(seed)} }

// n gives a whole number below n.
func (r *rng) n(n int) int { return int(r.Next() % uint64(n)) }

func (r *rng) unit() float64 { return float64(r.Next()>>11) / (1 << 53) }

// search looks for a better plan by changing genes.
type search struct {
	*decoder
	ctx         context.Context
	rng         rng
	bound       Bound
	limit       int // placements
	cur, trial  genes
	best        genes
	bestIs      Objective
	curIs       Objective
	tail        []int // of each unit
	flips       []int // activities with more than one mode
	progress    func(best Objective, done, of int)
	cancelled   bool
	jobUnits    [][]int
	windowGenes []int
	tied        []int
}

func (m *model) newSearch(ctx context.Context, seed uint64, b Bound, limit int) *search {
	d := m.newDecoder()
	n := len(d.units)
	s := &search{
		decoder:  d,
		ctx:      ctx,
		rng:      newRng(seed),
		bound:    b,
		limit:    limit,
		cur:      m.newGenes(n),
		trial:    m.newGenes(n),
		best:     m.newGenes(n),
		tail:     make([]int, n),
		jobUnits: make([][]int, len(m.jobs)),
	}
	h := m.heads()
	for u := range d.units {
		for _, i := range d.units[u].acts {
			s.tail[u] = max(s.tail[u], h.tail[i]+m.shortest(i))
			if len(m.acts[i].modes) > 1 {
				s.flips = append(s.flips, i)
			}
			if j := m.acts[i].job; !slices.Contains(s.jobUnits[j], u) {
				s.jobUnits[j] = append(s.jobUnits[j], u)
			}
			if a := &m.acts[i]; a.iso >= 0 && len(m.windows[a.iso]) > 1 {
				if k := a.job*len(m.windows) + a.iso; !slices.Contains(s.windowGenes, k) {
					s.windowGenes = append(s.windowGenes, k)
				}
			}
		}
		if len(d.units[u].acts) > 1 {
			s.tied = append(s.tied, d.units[u].acts...)
		}
	}
	return s
}

// keyGap is between the keys of neighbours, so that others fit between.
const keyGap = 1 << 10

func (s *search) over() bool {
	if s.ctx.Err() != nil {
		s.cancelled = true
	}
	return s.cancelled || s.work >= s.limit
}

// met reports whether no plan can be better in what counts most.
func (s *search) met() bool {
	o := s.bestIs
	return o.Unplaced == 0 && o.Tardiness == s.bound.Tardiness && o.Finish == s.bound.Finish
}

func (s *search) keep(g *genes, o Objective) {
	if o.Before(s.bestIs) {
		s.best.copyFrom(g)
		s.bestIs = o
		if s.progress != nil {
			s.progress(o, min(s.work, s.limit), s.limit)
		}
	}
}

// run searches until the work is done, the bound is met or somebody stops it, and leaves the best plan decoded.
func (s *search) run() {
	s.bestIs = Objective{Unplaced: never}
	s.curIs = s.bestIs
	few := s.least()
	for n, key := range s.rules() {
		for way := range 2 {
			g := &s.trial
			copy(g.key, key)
			clear(g.window)
			clear(g.delay)
			for i := range g.mode {
				g.mode[i], g.shun[i] = -1, -1
				if way == 1 {
					g.mode[i] = few[i]
				}
			}
			o := s.decode(g)
			s.keep(g, o)
			if n == 0 && way == 0 || o.Before(s.curIs) {
				s.cur.copyFrom(g)
				s.curIs = o
			}
			if s.over() && s.bestIs.Unplaced < never {
				s.decode(&s.best)
				return
			}
		}
	}
	s.hurry()
	extra, lap := 0, 0
	for !s.over() {
		if s.met() {
			if extra++; extra > 200 { // carries and load may still get less
				break
			}
		}
		s.trial.copyFrom(&s.cur)
		s.change(&s.trial)
		o := s.decode(&s.trial)
		s.keep(&s.trial, o)
		if s.accept(o) {
			s.cur.copyFrom(&s.trial)
			s.curIs = o
		}
		if n := s.work * laps / s.limit; n > lap {
			lap = n
			s.anew(lap)
		}
	}
	s.decode(&s.best)
}

// lastJobs is how many of those that end last are hurried.
const lastJobs = 12

// hurry tries, for each job that is late in the best plan, left out of it or among the last to end, to do all that it
// waits for before other work.
func (s *search) hurry() {
	for again := true; again && !s.over(); {
		again = false
		for _, j := range s.wanted() {
			for by := 1; by <= 64 && !s.over(); by *= 4 {
				s.trial.copyFrom(&s.best)
				for _, u := range s.jobUnits[j] {
					s.forward(&s.trial, u, len(s.units)*keyGap/by)
				}
				if o := s.decode(&s.trial); o.Before(s.bestIs) {
					s.keep(&s.trial, o)
					again = true
					break
				}
			}
		}
	}
	s.cur.copyFrom(&s.best)
	s.curIs = s.bestIs
}

// wanted are the jobs of the best plan that are late or left out, then those that end last.
func (s *search) wanted() []int {
	s.decode(&s.best)
	var late, last []int
	for j := range s.jobs {
		if due := s.jobs[j].due; s.skip[j] || due != never && s.endOf(j) > due {
			late = append(late, j)
		} else if len(s.jobUnits[j]) > 0 {
			last = append(last, j)
		}
	}
	sort.SliceStable(last, func(a, b int) bool { return s.endOf(last[a]) > s.endOf(last[b]) })
	return append(late, last[:min(len(last), lastJobs)]...)
}

const laps = 6

// anew begins a lap: from the best plan, or, every other time, from another order altogether.
func (s *search) anew(lap int) {
	s.hurry()
	if lap%2 == 0 {
		return
	}
	for u := range s.cur.key {
		s.cur.key[u] = s.rng.n(len(s.units)*keyGap)/2 - s.tail[u]*s.rng.n(3)
	}
	s.curIs = s.decode(&s.cur)
}

// accept takes a plan that is as good or better, and a worse one by a temperature that falls with the work done.
func (s *search) accept(o Objective) bool {
	cost := func(o Objective) float64 {
		return 1e7*float64(o.Unplaced) + 4*float64(o.Tardiness) + float64(o.Finish) + .1*float64(o.Carries) +
			1e-7*float64(o.Load)
	}
	d := cost(o) - cost(s.curIs)
	if d <= 0 {
		return true
	}
	// it cools down several times, from the best each time
	lap := float64(s.work) / float64(s.limit) * laps
	left := 1 - (lap - math.Floor(lap))
	heat := .012 * float64(s.bestIs.Finish+s.bestIs.Tardiness) * left * left
	return heat > 0 && s.rng.unit() < math.Exp(-d/heat)
}

// change makes one to three moves.
func (s *search) change(g *genes) {
	if len(s.units) == 0 {
		return
	}
	for n := 1 + s.rng.n(3); n > 0; n-- {
		switch k := s.rng.n(24); {
		case k < 8:
			s.moveUnit(g)
		case k < 10:
			u, v := s.rng.n(len(s.units)), s.rng.n(len(s.units))
			g.key[u], g.key[v] = g.key[v], g.key[u]
		case k < 13 && len(s.flips) > 0:
			i := s.flips[s.rng.n(len(s.flips))]
			g.mode[i] = s.rng.n(len(s.acts[i].modes)+1) - 1
		case k < 15:
			i := s.rng.n(len(s.acts))
			g.shun[i] = -1
			if s.rng.n(3) > 0 && len(s.model.people) > 0 {
				g.shun[i] = s.rng.n(2 * len(s.model.people))
			}
		case k < 16 && len(s.windowGenes) > 0:
			w := s.windowGenes[s.rng.n(len(s.windowGenes))]
			g.window[w] = s.rng.n(len(s.windows[w%len(s.windows)]))
		case k < 17 && len(s.units) > 1:
			s.moveAll(g)
		case k < 18 && len(s.tied) > 0:
			s.moveStart(g, s.tied[s.rng.n(len(s.tied))])
		default:
			s.moveJob(g)
		}
	}
}

// moveStart lets an activity begin no earlier than some moment at which another ends, or at any time again.
func (s *search) moveStart(g *genes, i int) {
	g.delay[i] = 0
	if o := s.rng.n(len(s.acts)); s.rng.n(3) > 0 && s.is[o] {
		g.delay[i] = s.at[o].end
	}
}

// pick chooses a unit: one of a late job, one that ends last, one that is left out, or any.
func (s *search) pick() int {
	for range 6 {
		u := s.rng.n(len(s.units))
		i := s.units[u].acts[0]
		j := s.acts[i].job
		switch {
		case s.skip[j]:
			return u
		case !s.is[i]:
		case s.jobs[j].due != never && s.endOf(j) > s.jobs[j].due, s.at[i].end*10 > s.last.Finish*9:
			return u
		}
	}
	return s.rng.n(len(s.units))
}

func (s *search) endOf(j int) int {
	end := 0
	for _, i := range s.jobs[j].acts {
		end = max(end, s.at[i].end)
	}
	return end
}

// moveUnit puts a unit before or behind another.
func (s *search) moveUnit(g *genes) {
	u, v := s.pick(), s.rng.n(len(s.units))
	g.key[u] = g.key[v] - 1 + 2*s.rng.n(2)
}

// moveAll brings a unit forward with everything that it waits for, by so many places.
func (s *search) moveAll(g *genes) {
	s.forward(g, s.pick(), (1+s.rng.n(len(s.units)))*keyGap)
}

// forward brings a unit and what it waits for forward by so much.
func (s *search) forward(g *genes, u, by int) {
	seen := make([]bool, len(s.units))
	seen[u] = true
	for stack := []int{u}; len(stack) > 0; {
		v := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		g.key[v] -= by
		for _, w := range s.units[v].after {
			if !seen[w] {
				seen[w] = true
				stack = append(stack, w)
			}
		}
	}
}

// moveJob puts the units of a job before or behind another, in their order.
func (s *search) moveJob(g *genes) {
	j := s.acts[s.units[s.pick()].acts[0]].job
	at := g.key[s.rng.n(len(s.units))]
	if first := g.key[s.jobUnits[j][0]]; s.rng.n(2) == 0 { // more often forward
		for range 3 {
			if at > first {
				at = g.key[s.rng.n(len(s.units))]
			}
		}
	}
	for n, u := range s.jobUnits[j] {
		g.key[u] = at + n - len(s.jobUnits[j])/2
	}
}
