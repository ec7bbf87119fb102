package walk

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"dynacor/core/quantity"
)

// Drawn is a nut that is asked for by a drawing, which is turned until it looks like the real one.
type Drawn struct {
	Fastener int    `json:"fastener"` // position
	Name     string `json:"name"`
	Watch    bool   `json:"watch"` // it stood out before
}

// Nut is how a drawn nut was left: by how much its mark is out of line, degrees, above 0 the way it is tightened.
type Nut struct {
	Fastener int     `json:"fastener"`
	Deg      float64 `json:"deg"`
}

// drawnNuts are how many nuts are asked for by a drawing.
const drawnNuts = 3

// inLine is by how much a mark may be out and still looks in line, degrees. Source: own rule, what an eye sees.
const inLine = 5

// Draw chooses the nuts to be drawn among those of a joint, by their names: those that stood out before, and the rest
// spread evenly from a start that moves on with each visit.
func Draw(names, watch []string, visit int) []Drawn {
	out := []Drawn{}
	add := func(i int, watched bool) {
		if len(out) < drawnNuts && !slices.ContainsFunc(out, func(d Drawn) bool { return d.Fastener == i+1 }) {
			out = append(out, Drawn{Fastener: i + 1, Name: names[i], Watch: watched})
		}
	}
	for i, n := range names {
		if slices.Contains(watch, n) {
			add(i, true)
		}
	}
	for k := 0; k < len(names) && len(out) < min(drawnNuts, len(names)); k++ {
		step := max(1, len(names)/drawnNuts)
		add((visit+k*step+k/drawnNuts)%len(names), false)
	}
	return out
}

// stood puts the drawn nuts of an answer into words; turned: one of them was out of line.
func stood(a Answer, name func(fastener int) string) (seen string, turned bool, err error) {
	var good, bad []string
	for _, n := range a.Nuts {
		called := name(n.Fastener)
		if called == "" {
			return "", false, quantity.Refuse(
				"answers."+a.Code,
				"Name one of the joint's.",
				"is about nut %d, which is not there",
				n.Fastener,
			)
		}
		if !(math.Abs(n.Deg) <= 180) {
			return "", false, quantity.Refuse(
				"answers."+a.Code,
				"Turn it as it stands, half a turn at most.",
				"is no angle",
			)
		}
		if math.Abs(n.Deg) < inLine {
			good = append(good, called)
			continue
		}
		way := "the way it is tightened"
		if n.Deg < 0 {
			way = "loose"
		}
		bad = append(bad, fmt.Sprintf("%s by %s° %s", called, quantity.Text(math.Abs(n.Deg)), way))
	}
	if len(bad) > 0 {
		return strings.Join(bad, ", "), true, nil
	}
	if len(good) > 0 {
		return "as drawn at " + strings.Join(good, ", "), false, nil
	}
	return "", false, nil
}
