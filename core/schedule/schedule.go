// Package schedule estimates how long tightening takes and who can do what when. Times in seconds or minutes as the
// names say. It must never promise: durations are what the site puts in.
package schedule

import (
	"math"
	"slices"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// Method is a way of tightening with its times.
type Method struct {
	Name    string  `in:"name" label:"Method"`
	Seconds float64 `in:"seconds_per_fastener" label:"Seconds a bolt" ok:">0"`
	Setup   float64 `in:"setup_s" label:"Setting up, a pass" ok:">=0" def:"0"`
	Move    float64 `in:"move_s" label:"Moving, a stop" ok:">=0" def:"0"`
}

// Pass is one visit of the group.
type Pass struct {
	Method    string `in:"method" label:"Method"`
	Fasteners *int   `in:"fasteners" label:"Only so many bolts" ok:">=1"`
}

// DurationInput is the work on one joint.
type DurationInput struct {
	Fasteners int      `in:"fasteners" sym:"n" label:"Bolts" ok:">=1" eg:"8"`
	Tools     int      `in:"tools_at_once" sym:"k" label:"Tools pulling at once" ok:">=1" eg:"1"`
	Methods   []Method `in:"methods" label:"Methods"`
	Passes    []Pass   `in:"passes" label:"Passes, in order"`
	Fixed     float64  `in:"fixed_s" sym:"t0" label:"Fetching, cleaning, writing up" ok:">=0" def:"0"`
	Crew      int      `in:"crew" sym:"c" label:"People" ok:">=1" def:"1"`
}

// DurationResult is the time it takes.
type DurationResult struct {
	Duration float64   `out:"duration_s" sym:"t" label:"Time"`
	Pass     []float64 `out:"pass_s" label:"Each pass, s"`
	Effort   float64   `out:"effort_person_h" sym:"E" label:"Work"`
}

// JointDuration adds up the passes: setting up, then a stop for every set of tools. Refused: a method that is not
// listed, a partial pass over more bolts than there are.
func JointDuration(w *working.Working, in DurationInput) (DurationResult, error) {
	if err := quantity.Limits(in); err != nil {
		return DurationResult{}, err
	}
	if in.Tools > in.Fasteners {
		return DurationResult{}, quantity.Refuse("tools_at_once", "Enter at most one tool a bolt.",
			"%d tools for %d bolts", in.Tools, in.Fasteners)
	}
	if len(in.Passes) == 0 {
		return DurationResult{}, quantity.Refuse("passes", "Enter the passes.", "none given")
	}
	r := DurationResult{Duration: in.Fixed}
	for i, p := range in.Passes {
		m := slices.IndexFunc(in.Methods, func(m Method) bool { return m.Name == p.Method })
		if m < 0 {
			return DurationResult{}, quantity.Refuse("passes", "List the method first.",
				"pass %d uses %q, which is not listed", i+1, p.Method)
		}
		n := in.Fasteners
		if p.Fasteners != nil {
			if n = *p.Fasteners; n > in.Fasteners {
				return DurationResult{}, quantity.Refuse("passes", "Check the number of bolts.",
					"pass %d is over %d of %d bolts", i+1, n, in.Fasteners)
			}
		}
		stops := math.Ceil(float64(n) / float64(in.Tools))
		t := in.Methods[m].Setup + stops*(in.Methods[m].Seconds+in.Methods[m].Move)
		w.Calc("t"+quantity.Text(float64(i+1)), "pass "+quantity.Text(float64(i+1))+", "+p.Method,
			"setting up + stops · (pulling + moving)", t, "s", "")
		r.Pass, r.Duration = append(r.Pass, t), r.Duration+t
	}
	w.Step("t", "sum of all, with the fixed time", r.Duration)
	r.Effort = w.Step("E", "t · c / 3600", r.Duration*float64(in.Crew)/3600)
	return r, nil
}

// Task is one piece of work.
type Task struct {
	ID       string   `in:"id" label:"Task"`
	Duration float64  `in:"duration_min" label:"Minutes" ok:">0"`
	Tools    []string `in:"tools" label:"Tools it holds" opt:"true"`
	After    []string `in:"after" label:"After" opt:"true"`
}

// ToolCount is how many there are of a tool.
type ToolCount struct {
	Name  string `in:"name" label:"Tool"`
	Count int    `in:"count" label:"How many" ok:">=1"`
}

// CrewInput is a set of tasks to be shared out.
type CrewInput struct {
	Tasks []Task      `in:"tasks" label:"Tasks"`
	Crews int         `in:"crews" sym:"c" label:"Crews" ok:"1..1000" eg:"2"`
	Tools []ToolCount `in:"tools" label:"Tools there are" opt:"true"`
}

// CrewResult is who starts what when.
type CrewResult struct {
	Makespan float64   `out:"makespan_min" sym:"t" label:"All done after"`
	Start    []float64 `out:"start_min" label:"Each task starts at, min"`
	Crew     []int     `out:"crew" label:"Done by crew"`
	Waits    []string  `out:"tool_waits" label:"Waited for a tool"`
	Bound    float64   `out:"lower_bound_min" sym:"tn" label:"Cannot be faster than"`
}

// CrewSchedule shares tasks among crews: those with the longest chain behind them first, as soon as predecessors, crew
// and tools are free. A good plan, not a proved best. Refused: circles, unknown or double tasks, unknown tools. Source:
// list scheduling (Graham).
func CrewSchedule(w *working.Working, in CrewInput) (CrewResult, error) {
	if err := quantity.Limits(in); err != nil {
		return CrewResult{}, err
	}
	s, err := newSchedule(in)
	if err != nil {
		return CrewResult{}, err
	}
	s.run()
	r := CrewResult{Start: s.start, Crew: s.crew, Waits: []string{}}
	total, longest := 0.0, slices.Max(s.chain)
	for i, t := range in.Tasks {
		total += t.Duration
		r.Makespan = math.Max(r.Makespan, s.start[i]+t.Duration)
		if s.waited[i] {
			r.Waits = append(r.Waits, t.ID)
		}
	}
	r.Bound = math.Max(longest, total/float64(in.Crews))
	for _, c := range in.Tools {
		load := 0.0
		for _, t := range in.Tasks {
			if slices.Contains(t.Tools, c.Name) {
				load += t.Duration
			}
		}
		r.Bound = math.Max(r.Bound, load/float64(c.Count))
	}
	w.Calc("tc", "longest chain of tasks", "", longest, "min", "")
	w.Calc("ts", "all tasks shared out evenly", "", total/float64(in.Crews), "min", "")
	w.Step("tn", "longest chain, even share, or a tool's load, whichever is most", r.Bound)
	w.Step("t", "end of the last task", r.Makespan)
	return r, nil
}

type schedule struct {
	in     CrewInput
	before [][]int
	chain  []float64 // own duration plus the longest chain of followers
	start  []float64
	crew   []int
	waited []bool
}

func newSchedule(in CrewInput) (*schedule, error) {
	n := len(in.Tasks)
	if n == 0 {
		return nil, quantity.Refuse("tasks", "Enter the tasks.", "none given")
	}
	s := &schedule{in: in, before: make([][]int, n), chain: make([]float64, n), start: make([]float64, n),
		crew: make([]int, n), waited: make([]bool, n)}
	index := map[string]int{}
	for i, t := range in.Tasks {
		if _, twice := index[t.ID]; twice || t.ID == "" {
			return nil, quantity.Refuse("tasks", "Give each task a name of its own.", "%q is empty or there twice",
				t.ID)
		}
		index[t.ID] = i
	}
	known := map[string]bool{}
	for _, c := range in.Tools {
		if known[c.Name] {
			return nil, quantity.Refuse("tools", "List each tool once.", "%q is there twice", c.Name)
		}
		known[c.Name] = true
	}
	for i, t := range in.Tasks {
		for _, name := range t.Tools {
			if !known[name] {
				return nil, quantity.Refuse("tools", "List every tool that a task holds.", "%q is not listed", name)
			}
		}
		for _, id := range t.After {
			p, ok := index[id]
			if !ok {
				return nil, quantity.Refuse("tasks", "Check the names.", "%q comes after %q, which is not a task", t.ID,
					id)
			}
			s.before[i] = append(s.before[i], p)
		}
	}
	return s, s.chains()
}

// chains works out the longest chain behind each task and refuses circles.
func (s *schedule) chains() error {
	n := len(s.in.Tasks)
	left := make([]int, n) // followers not yet settled
	for i := range n {
		for _, p := range s.before[i] {
			left[p]++
		}
	}
	var ready []int
	for i := range n {
		s.chain[i] = s.in.Tasks[i].Duration
		if left[i] == 0 {
			ready = append(ready, i)
		}
	}
	done := 0
	for ; len(ready) > 0; done++ {
		i := ready[0]
		ready = ready[1:]
		for _, p := range s.before[i] {
			s.chain[p] = math.Max(s.chain[p], s.in.Tasks[p].Duration+s.chain[i])
			if left[p]--; left[p] == 0 {
				ready = append(ready, p)
			}
		}
	}
	if done < n {
		return quantity.Refuse("tasks", "Undo the circle.", "some tasks wait for each other in a circle")
	}
	return nil
}

func (s *schedule) run() {
	n := len(s.in.Tasks)
	order := make([]int, n)
	for i := range n {
		order[i], s.start[i] = i, math.Inf(1)
	}
	key := func(i int) float64 { return math.Round(s.chain[i]*1e6) / 1e6 }
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case key(a) > key(b):
			return -1
		case key(a) < key(b):
			return 1
		}
		return 0
	})
	end := make([]float64, n)
	started := make([]bool, n)
	for t, left := 0.0, n; left > 0; {
		for _, i := range order {
			if started[i] || slices.ContainsFunc(s.before[i],
				func(p int) bool { return !started[p] || end[p] > t+1e-9 }) {
				continue
			}
			crew := s.freeCrew(started, end, t)
			if crew == 0 {
				continue
			}
			if !s.toolsFree(i, started, end, t) {
				s.waited[i] = true
				continue
			}
			started[i], s.start[i], s.crew[i], end[i] = true, t, crew, t+s.in.Tasks[i].Duration
			left--
		}
		next := math.Inf(1)
		for i := range n {
			if started[i] && end[i] > t+1e-9 {
				next = math.Min(next, end[i])
			}
		}
		t = next
	}
}

func (s *schedule) freeCrew(started []bool, end []float64, t float64) int {
	busy := make([]bool, s.in.Crews+1)
	for i := range started {
		if started[i] && end[i] > t+1e-9 {
			busy[s.crew[i]] = true
		}
	}
	return slices.Index(busy[1:], false) + 1
}

func (s *schedule) toolsFree(task int, started []bool, end []float64, t float64) bool {
	for _, c := range s.in.Tools {
		used := 0
		for i := range started {
			if started[i] && end[i] > t+1e-9 && slices.Contains(s.in.Tasks[i].Tools, c.Name) {
				used++
			}
		}
		if used >= c.Count && slices.Contains(s.in.Tasks[task].Tools, c.Name) {
			return false
		}
	}
	return true
}

// LayersInput is a bolted stacking frame.
type LayersInput struct {
	Profiles int `in:"profiles" sym:"p" label:"Profiles in a layer" ok:"1..1000" eg:"6"`
	Bolts    int `in:"bolts_per_profile" sym:"b" label:"Bolts a profile" ok:"1..100" def:"2"`
	Layers   int `in:"layers" sym:"l" label:"Layers" ok:"1..1000" eg:"4"`
	Posts    int `in:"posts_per_layer" sym:"s" label:"Posts between layers" ok:"0..1000" def:"4"`
	Pins     int `in:"pins_per_post" sym:"i" label:"Pins a post" ok:"0..100" def:"1"`
}

// LayersResult is what to lay ready.
type LayersResult struct {
	Bolts    int `out:"bolts" sym:"B" label:"Bolts"`
	Profiles int `out:"profiles_total" sym:"N" label:"Profiles"`
	Posts    int `out:"posts" sym:"S" label:"Posts"`
	Pins     int `out:"pins" sym:"I" label:"Pins"`
}

// LayerCount counts the parts of a frame built in layers; posts stand between layers.
func LayerCount(w *working.Working, in LayersInput) (LayersResult, error) {
	if err := quantity.Limits(in); err != nil {
		return LayersResult{}, err
	}
	count := func(sym, formula string, n int) int { return int(w.Step(sym, formula, float64(n))) }
	r := LayersResult{Bolts: count("B", "p · b · l", in.Profiles*in.Bolts*in.Layers),
		Profiles: count("N", "p · l", in.Profiles*in.Layers)}
	r.Posts = count("S", "s · (l - 1)", in.Posts*(in.Layers-1))
	r.Pins = count("I", "S · i", r.Posts*in.Pins)
	return r, nil
}
