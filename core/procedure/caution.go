package procedure

import (
	"fmt"
	"slices"
	"strings"
)

// boundBy stands between a caution and the places it is told at.
const boundBy = " @ "

// Loosening is the place of a caution that is told before anything is let go.
const Loosening = "loosen"

// Caution parts a caution into what it says and where it is told, before the act: at a stop, a step/… or a check/…, or
// when something is let go. One that names no place is told when the tightening begins.
func Caution(text string) (says string, at []string) {
	says, places, bound := strings.Cut(text, boundBy)
	if !bound {
		return strings.TrimSpace(text), []string{string(Tighten)}
	}
	for _, p := range strings.Split(places, ",") {
		at = append(at, strings.TrimSpace(p))
	}
	return strings.TrimSpace(says), at
}

// cautions refuses one that says nothing, or is told at a place that is not there.
func (v *validator) cautions() {
	if len(v.f.Cautions) == 0 {
		v.add("cautions", "Say what can hurt somebody at this joint.", "is empty")
	}
	stops := []string{string(Read), string(Ready), string(Tighten), string(Prove), string(HandOver), Loosening}
	for k, text := range v.f.Cautions {
		path := fmt.Sprintf("cautions[%d]", k)
		says, at := Caution(text)
		v.need(path, says)
		for _, place := range at {
			what, code, ok := Needed(place)
			if ok && what != "part" {
				v.needs(path, []string{what + "/" + code})
			} else if !slices.Contains(stops, place) {
				v.add(path, "Name a stop, loosen, step/… or check/… behind the @.", "%q is no place", place)
			}
		}
	}
}
