// Package stock holds what work takes against what is there, and says which joints a shortage stops.
package stock

import "slices"

// Take is what one joint takes of something.
type Take struct {
	Joint    string
	Quantity float64 // above 0
}

// Line is what is there of something in one place.
type Line struct {
	Quantity float64
	UseBy    string // the last day it may be used, 2006-01-02; "": it does not go off
}

// Cover says how far what is there goes.
type Cover struct {
	Have  float64  // that may be used on the day
	Short float64  // is missing, 0 when nothing is
	Stops []string // joints that get less than they take, in the order of the takes
}

// slack is how far sums of halves and tenths may be off.
const slack = 1e-9

// Covers gives out what is there in the order of the takes: whoever comes first gets all they take, or nothing. What
// may no longer be used on the day, 2006-01-02, counts for nothing.
func Covers(takes []Take, lines []Line, day string) Cover {
	var c Cover
	for _, l := range lines {
		if l.UseBy == "" || l.UseBy >= day {
			c.Have += l.Quantity
		}
	}
	left, total := c.Have, 0.0
	for _, t := range takes {
		total += t.Quantity
		if t.Quantity > left+slack {
			if !slices.Contains(c.Stops, t.Joint) {
				c.Stops = append(c.Stops, t.Joint)
			}
			continue
		}
		left -= t.Quantity
	}
	if total > c.Have+slack {
		c.Short = total - c.Have
	}
	return c
}
