package numbers

import (
	"fmt"
	"math"
	"slices"
	"time"

	"gonum.org/v1/gonum/stat"

	"dynacor/core/quantity"
)

// Signal is why a point of a run chart stands out.
type Signal string

// The signals. Source of the rules: individuals chart of ISO 7870-2, with limits of 2.66 mean moving ranges; eight in a
// row on one side.
const (
	Outer Signal = "outer" // past an outer line
	OneOf Signal = "one_side"
)

// Point is a day of a run chart.
type Point struct {
	Day    string  `json:"day"`
	Mean   float64 `json:"mean"` // per cent from the aim
	N      int     `json:"n"`
	Signal Signal  `json:"signal,omitempty"`
}

// Chart is a row day by day.
type Chart struct {
	Name   string   `json:"name"`
	Points []Point  `json:"points"`
	Middle float64  `json:"middle"`
	Low    *float64 `json:"low,omitempty"` // outer lines; nil: too few days to draw any
	High   *float64 `json:"high,omitempty"`
	Says   string   `json:"says"`
}

const inARow = 8

// chart lays a row out day by day and says which rule gives a signal, if any.
func chart(name string, values []Value) Chart {
	days := map[string][]float64{}
	for _, v := range values {
		day := v.At.UTC().Format(time.DateOnly)
		days[day] = append(days[day], v.Pct)
	}
	c := Chart{Name: name, Points: []Point{}}
	var means []float64
	for day, list := range days {
		c.Points = append(c.Points, Point{Day: day, Mean: stat.Mean(list, nil), N: len(list)})
	}
	slices.SortFunc(c.Points, func(a, b Point) int {
		if a.Day < b.Day {
			return -1
		}
		return 1
	})
	for _, p := range c.Points {
		means = append(means, p.Mean)
	}
	c.Middle = stat.Mean(means, nil)
	first := c.sides()
	if len(c.Points) >= fewest {
		move := 0.0
		for i := 1; i < len(means); i++ {
			move += math.Abs(means[i] - means[i-1])
		}
		move /= float64(len(means) - 1)
		low, high := c.Middle-2.66*move, c.Middle+2.66*move
		c.Low, c.High = &low, &high
		for i := range c.Points {
			if p := &c.Points[i]; !quantity.AtMost(low, p.Mean) || !quantity.AtMost(p.Mean, high) {
				p.Signal = Outer
			}
		}
	}
	c.Says = c.says(first)
	return c
}

// sides marks runs of eight or more days on one side of the middle, and gives the day of the first.
func (c *Chart) sides() (first string) {
	from := 0
	side := func(i int) int {
		switch d := c.Points[i].Mean - c.Middle; {
		case d > 1e-9:
			return 1
		case d < -1e-9:
			return -1
		}
		return 0
	}
	for i := 1; i <= len(c.Points); i++ {
		if i < len(c.Points) && side(i) == side(from) {
			continue
		}
		if i-from >= inARow && side(from) != 0 {
			if first == "" {
				first = c.Points[from].Day
			}
			for j := from; j < i; j++ {
				c.Points[j].Signal = OneOf
			}
		}
		from = i
	}
	return first
}

func (c *Chart) says(first string) string {
	for _, p := range c.Points {
		if p.Signal == Outer {
			return fmt.Sprintf("%s is past the outer line on %s: look what was different that day.", c.Name, p.Day)
		}
	}
	switch {
	case first != "":
		return fmt.Sprintf("%s stays on one side of its middle for %d days or more from %s: it drifts.", c.Name, inARow,
			first)
	case len(c.Points) < fewest:
		return fmt.Sprintf("%d days: too few to draw limits, which takes %d.", len(c.Points), fewest)
	}
	return fmt.Sprintf("%s gives no signal: no day past the outer lines, no %d in a row on one side.", c.Name, inARow)
}
