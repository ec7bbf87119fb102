package dossier

import (
	"slices"
	"time"
)

// AskAgainAfter is how long nobody is asked again for the same book: a shift.
const AskAgainAfter = 8 * time.Hour

// Ask is one message: who is asked, by whom and when, and for which gaps.
type Ask struct {
	PersonID string
	Person   string
	By       string
	At       time.Time
	Gaps     []GapName
}

// GapName names a gap as long as it is there, and says what it is.
type GapName struct {
	Code GapCode `json:"code"`
	Key  string  `json:"key"`
	What string  `json:"what"`
}

// AskedOf is who was asked to supply what is missing.
type AskedOf struct {
	Who string    `json:"who"`
	By  string    `json:"by"`
	At  time.Time `json:"at"`
}

// Is reports whether a gap is the one that was named.
func (g Gap) Is(n GapName) bool { return g.Code == n.Code && g.Key == n.Key }

// ToAsk gives a message for each person who can supply something that is missing, with all of it. Nobody asks
// themselves, and nobody is asked twice within a shift, whoever asked.
func (b Book) ToAsk(byID, by string, asked []Ask, now time.Time) []Ask {
	out := []Ask{}
	for _, g := range b.Gaps {
		for i, id := range g.WhoIDs {
			if id == byID || slices.ContainsFunc(asked, func(a Ask) bool {
				return a.PersonID == id && now.Sub(a.At) < AskAgainAfter
			}) {
				continue
			}
			k := slices.IndexFunc(out, func(a Ask) bool { return a.PersonID == id })
			if k < 0 {
				k = len(out)
				out = append(out, Ask{PersonID: id, Person: g.Who[i], By: by, At: now})
			}
			out[k].Gaps = append(out[k].Gaps, GapName{g.Code, g.Key, g.What})
		}
	}
	return out
}

// tell notes at each gap who was asked for it, the last time each.
func (b *Book) tell(asked []Ask) {
	for i := range b.Gaps {
		g := &b.Gaps[i]
		for _, a := range asked {
			if !slices.ContainsFunc(a.Gaps, g.Is) {
				continue
			}
			k := slices.IndexFunc(g.Asked, func(o AskedOf) bool { return o.Who == a.Person })
			if k < 0 {
				g.Asked = append(g.Asked, AskedOf{a.Person, a.By, a.At})
			} else if a.At.After(g.Asked[k].At) {
				g.Asked[k] = AskedOf{a.Person, a.By, a.At}
			}
		}
	}
}
