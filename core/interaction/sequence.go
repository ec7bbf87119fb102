package interaction

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"

	"dynacor/core/chance"
	"dynacor/core/quantity"
)

// Order is in which order bolts are tightened: by a name, or listed, one by one or in groups that go together.
type Order struct {
	Name   string
	Groups [][]int // bolts from 1; nil: by the name
}

// The named orders.
const (
	Circular = "circular"
	Cross    = "cross"
	Quadrant = "quadrant"
)

// UnmarshalJSON reads a name, a list of bolts, or a list of groups.
func (o *Order) UnmarshalJSON(data []byte) error {
	if err := json.Unmarshal(data, &o.Name); err == nil {
		return nil
	}
	var flat []int
	if err := json.Unmarshal(data, &flat); err == nil {
		for _, b := range flat {
			o.Groups = append(o.Groups, []int{b})
		}
		return nil
	}
	return json.Unmarshal(data, &o.Groups)
}

// MarshalJSON writes it as UnmarshalJSON reads it.
func (o Order) MarshalJSON() ([]byte, error) {
	if o.Groups == nil {
		return json.Marshal(o.Name)
	}
	return json.Marshal(o.Groups)
}

// Pass goes round once.
type Pass struct {
	Fraction float64            `json:"fraction"` // of the target
	Order    Order              `json:"order"`
	Tools    int                `json:"tools,omitempty"`   // at once; 0: 1
	Turn     float64            `json:"dnu_deg,omitempty"` // deg, the most that a nut turns; 0: no limit
	Targets  map[string]float64 `json:"targets,omitempty"` // N, by bolt number, where it is not the fraction
	Creep    float64            `json:"creep,omitempty"`   // of its stress, that the gasket gives way after the pass
}

// Control is tightening by torque: what the nut factor makes of the force.
type Control struct {
	Mean float64   `json:"K_mean"`
	List []float64 `json:"K_list,omitempty"` // one for each pull, in their order
	CoV  float64   `json:"cov,omitempty"`
	Seed uint64    `json:"seed,omitempty"`
}

// Rounds go round at the full target until no nut turns.
type Rounds struct {
	Threshold float64 `json:"threshold_deg"`
	Most      int     `json:"max_passes"`
	Tools     int     `json:"tools,omitempty"`
}

// Sequence is how a joint is tightened.
type Sequence struct {
	Target float64  `json:"target"` // N
	Passes []Pass   `json:"passes"`
	Embed  float64  `json:"embed,omitempty"` // of a new highest force, that is lost at once
	Torque *Control `json:"torque,omitempty"`
	Check  *Rounds  `json:"check,omitempty"`
	Goal   *float64 `json:"scatter_goal,omitempty"`
	Adjust bool     `json:"adjust,omitempty"` // to exactly the target, loosening where need be
}

// The most that a sequence holds.
const (
	mostPasses = 100
	mostRounds = 100
)

// Check refuses what cannot be done, naming the field: no passes, a target that yields the bolt, an order that names a
// bolt twice or not at all, tools that do not divide the bolts.
func (s *Sequence) check(j *Joint) error {
	if err := quantity.Positive("target", s.Target); err != nil {
		return err
	}
	if len(s.Passes) == 0 || len(s.Passes) > mostPasses {
		return quantity.Refuse("passes", "Give at least one pass.", "must be 1 to %d", mostPasses)
	}
	if !(s.Embed >= 0 && s.Embed < 1) {
		return quantity.Refuse("embed", "0.05 is 5 %.", "must be 0 to 1")
	}
	for n := range s.Passes {
		if err := s.checkPass(j, n); err != nil {
			return err
		}
	}
	if s.Check != nil {
		if !(s.Check.Threshold > 0) || s.Check.Most < 1 || s.Check.Most > mostRounds {
			return quantity.Refuse("check", "Say what still counts as turned, and how many rounds at most.",
				"must have a threshold above 0 and 1 to %d rounds", mostRounds)
		}
		if _, err := groups(j.Bolts, Order{Name: Circular}, s.Check.Tools); err != nil {
			return quantity.Refuse("check.tools", "Choose a number that divides the bolts.", "must divide the bolts")
		}
	}
	if s.Goal != nil && !(*s.Goal > 0) {
		return quantity.Refuse("scatter_goal", "0.05 is 5 %.", "must be above 0")
	}
	return s.checkTorque()
}

func (s *Sequence) checkTorque() error {
	t := s.Torque
	if t == nil {
		return nil
	}
	if err := quantity.Positive("torque.K_mean", t.Mean); err != nil {
		return err
	}
	for _, k := range t.List {
		if err := quantity.Positive("torque.K_list", k); err != nil {
			return err
		}
	}
	if !(t.CoV >= 0 && t.CoV < .4) {
		return quantity.Refuse("torque.cov", "0.1 is 10 %.", "must be 0 to 0.4")
	}
	return nil
}

func (s *Sequence) checkPass(j *Joint, n int) error {
	p := &s.Passes[n]
	field := func(name string) string { return fmt.Sprintf("passes.%d.%s", n+1, name) }
	if !(p.Fraction > 0 && p.Fraction <= 2) {
		return quantity.Refuse(field("fraction"), "1 is the whole target.", "must be above 0, and 2 at most")
	}
	if !(p.Turn >= 0) || !(p.Creep >= 0 && p.Creep < 1) {
		return quantity.Refuse(field("dnu_deg"), "Leave out what has no limit.", "turn and creep must be 0 or more")
	}
	highest := s.Target * p.Fraction
	for b, t := range p.Targets {
		var number int
		if _, err := fmt.Sscanf(b, "%d", &number); err != nil || number < 1 || number > j.Bolts {
			return quantity.Refuse(field("targets"), "Name bolts by their numbers.", "%q is no bolt", b)
		}
		if !(t > 0) || math.IsInf(t, 0) {
			return quantity.Refuse(field("targets"), "Give each in N.", "of bolt %s must be above 0", b)
		}
		highest = max(highest, t)
	}
	if j.Yield > 0 && highest > j.Yield {
		return quantity.Refuse("target", "Choose a lower target, or a stronger bolt.",
			"yields the bolt: %.0f N of %.0f N", highest, j.Yield)
	}
	g, err := groups(j.Bolts, p.Order, p.Tools)
	if err != nil {
		return quantity.Refuse(field("order"), "Name each bolt once; tools must divide the bolts.", "%s", err)
	}
	seen := make([]bool, j.Bolts)
	for _, group := range g {
		for _, b := range group {
			if b < 1 || b > j.Bolts || seen[b-1] {
				return quantity.Refuse(field("order"), "Name each bolt once.", "bolt %d is there twice, or is none", b)
			}
			seen[b-1] = true
		}
	}
	if slices.Contains(seen, false) {
		return quantity.Refuse(
			field("order"),
			"Name each bolt once.",
			"bolt %d is not in it",
			slices.Index(seen, false)+1,
		)
	}
	return nil
}

// groups gives the bolts that go together, in their order.
func groups(n int, o Order, tools int) ([][]int, error) {
	tools = max(1, tools)
	var flat []int
	switch {
	case o.Groups != nil:
		together := slices.ContainsFunc(o.Groups, func(g []int) bool { return len(g) > 1 })
		if together || tools == 1 {
			return o.Groups, nil
		}
		for _, g := range o.Groups {
			flat = append(flat, g...)
		}
	case o.Name == Circular:
		if n%tools != 0 {
			return nil, fmt.Errorf("%d tools do not divide %d bolts", tools, n)
		}
		var out [][]int
		for s := 1; s <= n/tools; s++ {
			var g []int
			for k := range tools {
				g = append(g, s+k*n/tools)
			}
			out = append(out, g)
		}
		return out, nil
	case o.Name == Cross:
		flat = cross(n, spread)
	case o.Name == Quadrant:
		flat = cross(n, inTurn)
	default:
		return nil, fmt.Errorf("the order %q is not known", o.Name)
	}
	if len(flat)%tools != 0 {
		return nil, fmt.Errorf("%d tools do not divide %d bolts", tools, len(flat))
	}
	var out [][]int
	for i := 0; i < len(flat); i += tools {
		out = append(out, flat[i:i+tools])
	}
	return out, nil
}

// cross goes to and fro over the circle from the starts.
func cross(n int, starts func(q int) []int) []int {
	var out []int
	switch {
	case n%4 == 0:
		q := n / 4
		for _, s := range starts(q) {
			out = append(out, s, s+2*q, s+q, s+3*q)
		}
	case n%2 == 0:
		q := n / 2
		for _, s := range starts(q) {
			out = append(out, s, s+q)
		}
	default:
		for i := range n {
			out = append(out, 1+i*(n-1)/2%n)
		}
	}
	return out
}

func inTurn(q int) []int {
	out := make([]int, q)
	for i := range out {
		out[i] = i + 1
	}
	return out
}

// spread takes starts that lie apart one after another.
func spread(q int) []int {
	if q <= 3 {
		return inTurn(q)
	}
	var out []int
	if q%2 == 0 {
		for s := 1; s <= q/2; s++ {
			out = append(out, s, s+q/2)
		}
		return out
	}
	for s := 1; s <= q; s += 2 {
		out = append(out, s)
	}
	for s := 2; s <= q; s += 2 {
		out = append(out, s)
	}
	return out
}

// draws gives the nut factor of each pull.
type draws struct {
	control *Control
	source  chance.Source
	n       int
}

// share is by what a target of force is multiplied: the mean nut factor over that of this pull.
func (d *draws) share() float64 {
	t := d.control
	if t == nil {
		return 1
	}
	k := t.Mean
	switch {
	case d.n < len(t.List):
		k = t.List[d.n]
	case t.CoV > 0:
		k = t.Mean * (1 + t.CoV*min(2.5, max(-2.5, d.source.Normal())))
	}
	d.n++
	return t.Mean / k
}

// Bolts gives the bolts one after another as an order goes. Refused: a name that is not known.
func Bolts(n int, o Order) ([]int, error) {
	g, err := groups(n, o, 1)
	var out []int
	for _, x := range g {
		out = append(out, x...)
	}
	return out, err
}
