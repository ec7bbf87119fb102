// Package sequence holds the schools of tightening: in which order the fasteners of a group are visited and in which
// stages. Positions run 1…n clockwise seen from the tool's side, 1 at the marked start. It must never know torques'
// meaning or tools.
package sequence

import (
	"slices"

	"dynacor/core/quantity"
)

// Pattern is a way of going round.
type Pattern string

// The visiting orders.
const (
	Cross        Pattern = "cross"         // opposite pairs, squares where n allows
	Group        Pattern = "group"         // quarter or eighth numbering
	Clockwise    Pattern = "clockwise"     // one after another
	AlternateTwo Pattern = "alternate_two" // two bolts in turn
	Cardinal     Pattern = "cardinal"      // the four quarters first, then across
	Pairs        Pattern = "pairs"         // each with the one opposite, going round
	Outward      Pattern = "outward"       // from the middle of a plate outward, over the whole of it
	FromStiff    Pattern = "from_stiff"    // row by row from the stiff edge of a plate to its free end
	Chosen       Pattern = "chosen"        // as the engineer wrote it down
)

// Order is a visiting order and the number each position gets when chalked in order of tightening.
type Order struct {
	Visit []int // positions in the sequence of tightening
	Chalk []int // chalk number of positions 1…n; nil for alternate_two
}

// Options refine a pattern. Zero values mean: start at 1, 4 groups.
type Options struct {
	Start   int
	Reverse bool // the finished order backwards, for loosening
	Groups  int  // 4 or 8, Group only
	Moves   int  // AlternateTwo only: even, 2…200
}

func dist(a, b, m int) int {
	d := a - b
	if d < 0 {
		d = -d
	}
	d %= m
	return min(d, m-d)
}

// spread picks places on a circle of m so that each is as far as can be from those used: compare distance to the
// nearest used, then to the most recent and so on back, then take the lower number.
func better(p, q, m int, used []int) bool {
	near := func(x int) int {
		best := m
		for _, u := range used {
			best = min(best, dist(x, u, m))
		}
		return best
	}
	if a, b := near(p), near(q); a != b {
		return a > b
	}
	for i := len(used) - 1; i >= 0; i-- {
		if a, b := dist(p, used[i], m), dist(q, used[i], m); a != b {
			return a > b
		}
	}
	return p < q
}

func pick(m int, used []int, taken []bool, prefer func(p, q int) bool) int {
	best := -1
	for p := range m {
		if !taken[p] && (best < 0 || prefer(p, best)) {
			best = p
		}
	}
	return best
}

func spread(m int) []int {
	used, taken := []int{0}, make([]bool, m)
	taken[0] = true
	for len(used) < m {
		p := pick(m, used, taken, func(p, q int) bool { return better(p, q, m, used) })
		used, taken[p] = append(used, p), true
	}
	return used
}

func cross(n int) []int {
	var out []int
	switch {
	case n%4 == 0:
		q := n / 4
		for _, a := range spread(q) {
			out = append(out, a+1, a+1+2*q, a+1+q, a+1+3*q)
		}
	case n%2 == 0:
		h := n / 2
		for _, a := range spread(h) {
			out = append(out, a+1, a+1+h)
		}
	default:
		used, taken := []int{0}, make([]bool, n)
		taken[0] = true
		for len(used) < n {
			prefer := func(p, q int) bool { return better(p, q, n, used) }
			if len(used)%2 == 1 { // the partner: farthest from the leader just tightened
				leader := used[len(used)-1]
				prefer = func(p, q int) bool {
					if a, b := dist(p, leader, n), dist(q, leader, n); a != b {
						return a > b
					}
					return better(p, q, n, used)
				}
			}
			p := pick(n, used, taken, prefer)
			used, taken[p] = append(used, p), true
		}
		for _, p := range used {
			out = append(out, p+1)
		}
	}
	return out
}

func group(n, g int) []int {
	serve := []int{0, 2, 1, 3}
	if g == 8 {
		serve = []int{0, 4, 2, 6, 1, 5, 3, 7}
	}
	m, r := n/g, n%g
	size := make([]int, g)
	for i, s := range serve {
		size[s] = m
		if i < r {
			size[s]++
		}
	}
	first := make([]int, g)
	for s := 1; s < g; s++ {
		first[s] = first[s-1] + size[s-1]
	}
	var out []int
	for k := 0; len(out) < n; k++ {
		for _, s := range serve {
			if k < size[s] {
				out = append(out, first[s]+k+1)
			}
		}
	}
	return out
}

// Visiting gives the order for n fasteners. Cross takes 3…120, Group 4…120 (8 groups from 16), Clockwise 2…120,
// AlternateTwo 2. For multiples of four Cross is the star order long in use (ASME PCC-1 legacy pattern). Anything else
// is refused.
func Visiting(p Pattern, n int, o Options) (Order, error) {
	if o.Start == 0 {
		o.Start = 1
	}
	if o.Groups == 0 {
		o.Groups = 4
	}
	if err := o.check(p, n); err != nil {
		return Order{}, err
	}
	visit := o.visits(p, n)
	for i, v := range visit {
		visit[i] = (v-1+o.Start-1)%n + 1
	}
	if o.Reverse {
		slices.Reverse(visit)
	}
	out := Order{Visit: visit}
	if p != AlternateTwo {
		out.Chalk = make([]int, n)
		for i, v := range visit {
			out.Chalk[v-1] = i + 1
		}
	}
	return out, nil
}

// check refuses a pattern that n fasteners cannot be visited in.
func (o Options) check(p Pattern, n int) error {
	least, most := o.count(p)
	switch {
	case least == 0:
		return quantity.Refuse("pattern", "Choose cross, group, clockwise or alternate_two.", "%q is not a pattern",
			string(p))
	case n < least || n > most:
		return quantity.Refuse("fasteners", "Choose another pattern.", "%d is outside %d to %d for %s", n, least, most,
			p)
	case o.Start < 1 || o.Start > n:
		return quantity.Refuse("start", "Choose a position of the joint.", "%d is outside 1 to %d", o.Start, n)
	case p == Group && o.Groups != 4 && o.Groups != 8:
		return quantity.Refuse("groups", "Choose 4 or 8.", "is %d", o.Groups)
	case p == AlternateTwo && (o.Moves < 2 || o.Moves > 200 || o.Moves%2 != 0):
		return quantity.Refuse("moves", "Enter an even number from 2 to 200.", "is %d", o.Moves)
	}
	return nil
}

// count is how many fasteners a pattern takes, least 0 for one that is none.
func (o Options) count(p Pattern) (least, most int) {
	switch {
	case p == AlternateTwo:
		return 2, 2
	case p == Group && o.Groups == 8:
		return 16, 120
	}
	return map[Pattern]int{Cross: 3, Group: 4, Clockwise: 2}[p], 120
}

// visits gives the order from position 1.
func (o Options) visits(p Pattern, n int) []int {
	switch p {
	case Cross:
		return cross(n)
	case Group:
		return group(n, o.Groups)
	}
	moves := n
	if p == AlternateTwo {
		moves = o.Moves
	}
	visit := make([]int, moves)
	for i := range visit {
		visit[i] = i%n + 1
	}
	return visit
}

// Check tells whether order visits 1…n once each, how many of the pairs (1st, 2nd), (3rd, 4th) … lie as far apart as
// can be, and the smallest jump between consecutive visits; the last two are 0 for an order that is not valid.
func Check(n int, order []int) (valid bool, oppositePairs, minJump int) {
	seen := make([]bool, n+1)
	if len(order) != n || n < 1 {
		return false, 0, 0
	}
	for _, v := range order {
		if v < 1 || v > n || seen[v] {
			return false, 0, 0
		}
		seen[v] = true
	}
	minJump = n
	for i := 1; i < n; i++ {
		d := dist(order[i-1], order[i], n)
		minJump = min(minJump, d)
		if i%2 == 1 && d == n/2 {
			oppositePairs++
		}
	}
	return true, oppositePairs, minJump
}

// Explain says in words how a pattern goes round, for whoever chalks the joint.
func Explain(p Pattern, n, groups int) string {
	switch {
	case p == Cross && n%4 == 0:
		return "Four bolts at a time, at the corners of a square; each square as far as can be from those before."
	case p == Cross && n%2 == 0:
		return "Two bolts straight across, then the pair nearest to a right angle to those before."
	case p == Cross:
		return "An odd number has no bolt straight across: each second bolt is the one farthest from the first."
	case p == Group && groups == 8:
		return "Eighths: going clockwise the chalk numbers in an eighth rise by eight, and the eighths begin with 1 " +
			"5 3 7 2 6 4 8. Tighten 1, 2, 3 …"
	case p == Group:
		return "Quarters: chalk 1, 5, 9 … over the first quarter clockwise, 3, 7, 11 … over the second, 2, 6, 10 … " +
			"over the third, 4, 8, 12 … over the fourth. Tighten 1, 2, 3 …"
	case p == AlternateTwo:
		return "The two nuts in turn, so that the parts stay parallel."
	case p == Cardinal:
		return "The four nearest to top, bottom and sides first: they hold the part; then all others across."
	case p == Pairs:
		return "Each fastener and the one opposite, pair by pair around."
	case p == Outward:
		return "From the middle of the plate outward on all sides, so that the plies close before the edges hold them " +
			"apart."
	case p == FromStiff:
		return "Row by row from the stiff edge to the free end: the plies close away from what cannot give."
	case p == Chosen:
		return "The order that the engineer wrote down for this joint."
	}
	return "Around the circle, bolt to bolt. Done when a full round moves no nut."
}
