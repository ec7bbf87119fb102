package schedule

import "sort"

// meet gives the minutes that are in both.
func meet(a, b []Window) []Window {
	if len(a) == 1 && a[0][0] <= 0 && a[0][1] >= never {
		return b
	}
	if len(b) == 1 && b[0][0] <= 0 && b[0][1] >= never {
		return a
	}
	out := make([]Window, 0, max(len(a), len(b)))
	for i, j := 0, 0; i < len(a) && j < len(b); {
		if lo, hi := max(a[i][0], b[j][0]), min(a[i][1], b[j][1]); lo < hi {
			out = append(out, Window{lo, hi})
		}
		if a[i][1] < b[j][1] {
			i++
		} else {
			j++
		}
	}
	return out
}

// first gives the number of the first window that ends after minute s.
func first(open []Window, s int) int {
	if len(open) == 0 || open[0][1] > s {
		return 0
	}
	return sort.Search(len(open), func(i int) bool { return open[i][1] > s })
}

// advance gives when work begun at s or as soon after it as possible begins and ends, when it advances only inside open
// and rests through gaps of pause minutes at most. ok is false when it never can.
func advance(open []Window, s, minutes, pause int) (start, end int, ok bool) {
	start, end, _, ok = advanceFrom(open, first(open, s), s, minutes, pause)
	return start, end, ok
}

// advanceFrom is advance when it is known that no window before number i ends after s; it gives the window it begins
// in.
func advanceFrom(open []Window, i, s, minutes, pause int) (start, end, in int, ok bool) {
	for ; i < len(open); i++ {
		if open[i][1] <= s {
			continue
		}
		start = max(s, open[i][0])
		left := minutes - (open[i][1] - start)
		if left <= 0 {
			return start, start + minutes, i, true
		}
		if pause == 0 {
			continue
		}
		from := i
		k := i + 1
		for ; k < len(open) && open[k][0]-open[k-1][1] <= pause; k++ {
			n := open[k][1] - open[k][0]
			if n >= left {
				return start, open[k][0] + left, from, true
			}
			left -= n
		}
		i = k - 1 // every start up to there meets the same gap
	}
	return 0, 0, 0, false
}

// runsFrom gives the end of work that begins at exactly s.
func runsFrom(open []Window, s, minutes, pause int) (end int, ok bool) {
	start, end, ok := advance(open, s, minutes, pause)
	return end, ok && start == s
}

// closedIn reports whether some minute of [a, b) is closed.
func closedIn(open []Window, a, b int) bool {
	i := first(open, a)
	return i >= len(open) || open[i][0] > a || open[i][1] < b
}
