package schedule

// mostLifts is how often a unit is placed again when a maximum lag is exceeded.
const mostLifts = 60

// genes are what the search changes: a plan follows from them.
type genes struct {
	key    []int // of each unit: the smallest goes first among those that can
	mode   []int // of each activity: -1: the one that ends first
	shun   []int // of each activity: who is taken last or, with the number of people added, not at all; -1: nobody
	window []int // of each job and isolation
	delay  []int // of each activity: an earliest start of its own
}

func (m *model) newGenes(units int) genes {
	g := genes{key: make([]int, units), mode: make([]int, len(m.acts)), shun: make([]int, len(m.acts)),
		window: make([]int, len(m.jobs)*max(1, len(m.windows))), delay: make([]int, len(m.acts))}
	for i := range g.mode {
		g.mode[i], g.shun[i] = -1, -1
	}
	return g
}

func (g *genes) copyFrom(o *genes) {
	copy(g.key, o.key)
	copy(g.mode, o.mode)
	copy(g.shun, o.shun)
	copy(g.window, o.window)
	copy(g.delay, o.delay)
}

// decoder makes plans of genes by serial generation.
type decoder struct {
	*state
	units  []unit
	unitOf []int // of each activity, -1: it stands already
	wait   []int
	heap   []int
	key    []int
	rank   []int // of each activity in the order of the links
	last   Objective
}

func (m *model) newDecoder() *decoder {
	d := &decoder{state: m.newState(), units: m.units(), unitOf: make([]int, len(m.acts))}
	d.wait, d.rank = make([]int, len(d.units)), make([]int, len(m.acts))
	for n, i := range m.order {
		d.rank[i] = n
	}
	for i := range d.unitOf {
		d.unitOf[i] = -1
	}
	for u := range d.units {
		for _, i := range d.units[u].acts {
			d.unitOf[i] = u
		}
	}
	return d
}

// standingWork is how many activities that stand already cost as much as one that is placed.
const standingWork = 16

// decode makes the plan of genes. Jobs that do not fit are left out.
func (d *decoder) decode(g *genes) Objective {
	copy(d.mode, g.mode)
	copy(d.shun, g.shun)
	copy(d.window, g.window)
	d.key = g.key
	clear(d.skip)
	d.clear()
	before := d.work
	d.heap = d.heap[:0]
	for u := range d.units {
		if d.wait[u] = len(d.units[u].after); d.wait[u] == 0 {
			d.push(u)
		}
	}
	for len(d.heap) > 0 {
		u := d.pop()
		if !d.leftOut(u) && !d.place(u, g) {
			d.leaveOut(d.acts[d.units[u].acts[0]].job)
			for _, i := range d.units[u].acts {
				d.leaveOut(d.acts[i].job)
			}
		}
		for _, v := range d.units[u].before {
			if d.wait[v]--; d.wait[v] == 0 {
				d.push(v)
			}
		}
	}
	copy(g.window, d.window) // what was found to fit is where the next one begins
	if d.work += d.stands / standingWork; d.work == before {
		d.work++ // what places nothing, because all of it stands already, is work as well: the search must end
	}
	d.last = d.objective()
	return d.last
}

func (d *decoder) less(u, v int) bool {
	if d.key[u] != d.key[v] {
		return d.key[u] < d.key[v]
	}
	return u < v
}

func (d *decoder) push(u int) {
	h := append(d.heap, u)
	for i := len(h) - 1; i > 0; {
		up := (i - 1) / 2
		if !d.less(h[i], h[up]) {
			break
		}
		h[i], h[up] = h[up], h[i]
		i = up
	}
	d.heap = h
}

func (d *decoder) pop() int {
	h := d.heap
	top := h[0]
	n := len(h) - 1
	h[0] = h[n]
	h = h[:n]
	for i := 0; ; {
		k := 2*i + 1
		if k >= n {
			break
		}
		if k+1 < n && d.less(h[k+1], h[k]) {
			k++
		}
		if !d.less(h[k], h[i]) {
			break
		}
		h[i], h[k] = h[k], h[i]
		i = k
	}
	d.heap = h
	return top
}

// leftOut reports whether a job of the unit is left out, or one that a link of it comes from.
func (d *decoder) leftOut(u int) bool {
	out := false
	for _, i := range d.units[u].acts {
		out = out || d.skip[d.acts[i].job]
		for _, k := range d.acts[i].in {
			if f := d.links[k].from; !d.is[f] && d.unitOf[f] != u {
				out = true
			}
		}
	}
	if out {
		for _, i := range d.units[u].acts {
			d.leaveOut(d.acts[i].job)
		}
	}
	return out
}

// leaveOut takes a job out of the plan, and every job that a link leads to from it.
func (d *decoder) leaveOut(j int) {
	if d.skip[j] {
		return
	}
	d.skip[j] = true
	for _, i := range d.jobs[j].acts {
		if d.acts[i].begun != nil {
			continue
		}
		if d.is[i] {
			d.out(i)
		}
		for _, k := range d.acts[i].out {
			if t := d.links[k].to; d.acts[t].begun == nil {
				d.leaveOut(d.acts[t].job)
			}
		}
	}
}

// place puts a unit into the plan. What exceeds a maximum lag is begun later (Franck, Neumann, Schwindt 2001); what
// does not fit a window of its isolation is tried in the next one, together with what stands of its job already.
func (d *decoder) place(u int, g *genes) bool {
	acts := d.units[u].acts
	for _, i := range acts {
		d.lift[i] = g.delay[i]
	}
	if d.placeIn(acts) {
		return true
	}
	for d.nextWindow(acts) {
		if d.placeIn(acts) {
			return true
		}
	}
	return d.redo(u, g)
}

func (d *decoder) placeIn(acts []int) bool {
	for range mostLifts {
		stuck := -1
		for n, i := range acts {
			if !d.placeOne(i) {
				stuck = n
				break
			}
		}
		if stuck < 0 {
			return true
		}
		lifted := d.liftFor(acts, stuck)
		for _, i := range acts[:stuck] {
			if d.is[i] {
				d.out(i)
			}
		}
		if !lifted {
			return false
		}
	}
	return false
}

// placeOne gives an activity its earliest place, in the mode that ends first or the one that the genes say.
func (d *decoder) placeOne(i int) bool {
	d.work++
	b, ok := d.bounds(i, true)
	if !ok {
		return false
	}
	best, found := d.bestMode(i, b)
	if !found && d.shun[i] >= len(d.model.people) { // there is no doing without that person
		d.all = true
		best, found = d.bestMode(i, b)
		d.all = false
	}
	if found {
		d.put(i, best)
	}
	return found
}

// bestMode is the place of the mode that ends first, of those that end together the one with the fewest person-minutes.
func (d *decoder) bestMode(i int, b bounds) (best placed, found bool) {
	for m := range d.acts[i].modes {
		if !d.mayMode(i, m) {
			continue
		}
		p, ok := d.find(i, m, b)
		if !ok {
			continue
		}
		if !found || p.end < best.end || p.end == best.end && d.personMinutes(i, m) < d.personMinutes(i, best.mode) {
			best, found = p, true
			b.lastEnd = min(b.lastEnd, p.end)
		}
	}
	return best, found
}

func (s *state) personMinutes(i, m int) int {
	md := &s.acts[i].modes[m]
	return md.minutes * len(md.roles)
}

// mayMode reports whether pins and genes let a mode be taken.
func (s *state) mayMode(i, m int) bool {
	pinned := false
	for _, k := range s.acts[i].pins {
		if id := s.in.Pins[k].Mode; id != "" {
			pinned = true
			if s.acts[i].modes[m].id != id {
				return false
			}
		}
	}
	return pinned || s.mode[i] < 0 || s.mode[i] == m
}

// liftFor begins those later that the stuck one comes too late for. It reports whether that may help.
func (d *decoder) liftFor(acts []int, stuck int) bool {
	i := acts[stuck]
	a := &d.acts[i]
	// where it would stand if no maximum lag bound it
	free := d.withoutMax(i)
	if free == nil {
		return false
	}
	lifted := false
	for _, k := range a.in {
		l := &d.links[k]
		if l.max == never || !d.is[l.from] || d.acts[l.from].fixed != nil {
			continue
		}
		t := free.start
		if l.toE {
			t = free.end
		}
		if v := t - d.time(l.from, l.fromE) - l.max; v > 0 {
			d.lift[l.from] = max(d.lift[l.from], d.at[l.from].start+v)
			lifted = true
		}
	}
	return lifted
}

// withoutMax finds the earliest place of an activity when maximum lags to it do not count; nil: there is none.
func (d *decoder) withoutMax(i int) *placed {
	b, ok := d.bounds(i, false)
	if !ok {
		return nil
	}
	if best, found := d.bestMode(i, b); found {
		return &best
	}
	return nil
}
