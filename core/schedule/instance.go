package schedule

// Minutes of a plan are whole minutes from its beginning, minute 0; a window [a, b) holds minute a and not minute b.

// Window is a stretch of minutes, from the first to the one after the last.
type Window [2]int

// SkillHeld is a skill that somebody has, to the last minute of its validity; nil: for good.
type SkillHeld struct {
	Skill string `json:"skill"`
	Until *int   `json:"until,omitempty"`
}

// Worker is somebody who can be at work. Open are the minutes in which they are there; nil: always.
type Worker struct {
	ID     string      `json:"id"`
	Open   []Window    `json:"open,omitempty"`
	Skills []SkillHeld `json:"skills"`
}

// Piece is one tool, which is in one place at once. Area is where it stands at minute 0. Carry is how many minutes it
// takes from the end of a use in one area to the start of its next use in another.
type Piece struct {
	ID    string   `json:"id"`
	Kind  string   `json:"kind"`
	Open  []Window `json:"open,omitempty"`
	Area  string   `json:"area,omitempty"`
	Carry int      `json:"carry,omitempty"`
}

// Room is an area. Places is how many crews it has room for at once; nil: no limit.
type Room struct {
	ID     string   `json:"id"`
	Places *int     `json:"places,omitempty"`
	Open   []Window `json:"open,omitempty"`
}

// Isolation is what must be shut off; its windows are when it is.
type Isolation struct {
	ID      string   `json:"id"`
	Windows []Window `json:"windows"`
}

// Role is a place for so many persons, each of whom has all of the skills.
type Role struct {
	Skills []string `json:"skills"`
	Count  *int     `json:"count,omitempty"` // nil: 1
}

// Demand is so many tools of a kind. Each one that is pulled takes a person.
type Demand struct {
	Kind   string `json:"kind"`
	Count  *int   `json:"count,omitempty"` // nil: 1
	Pulled bool   `json:"pulled,omitempty"`
}

// Mode is a way of doing an activity.
type Mode struct {
	ID      string   `json:"id"`
	Minutes int      `json:"minutes"`
	People  []Role   `json:"people"`
	Tools   []Demand `json:"tools,omitempty"`
}

// At is an area that an activity takes places of.
type At struct {
	Area   string `json:"area"`
	Places *int   `json:"places,omitempty"` // nil: 1
}

// Activity is a piece of work that takes its people, tools and places from its start to its end. Pause is the longest
// gap in the calendars it may rest through.
type Activity struct {
	ID        string `json:"id"`
	Modes     []Mode `json:"modes"`
	At        []At   `json:"at,omitempty"`
	Isolation string `json:"isolation,omitempty"`
	Release   int    `json:"release,omitempty"`
	Deadline  *int   `json:"deadline,omitempty"`
	Pause     int    `json:"pause,omitempty"`
}

// Job is a joint, or a test over several: it is planned whole or not at all.
type Job struct {
	ID         string     `json:"id"`
	Due        *int       `json:"due,omitempty"`
	Weight     *int       `json:"weight,omitempty"` // nil: 1
	Activities []Activity `json:"activities"`
}

// Link holds Min <= t(To) - t(From) <= Max, where t is the start or the end as FromAt ("": end) and ToAt ("": start)
// say.
type Link struct {
	ID     string `json:"id,omitempty"` // "": FROM>TO
	From   string `json:"from"`
	To     string `json:"to"`
	Min    int    `json:"min,omitempty"`
	Max    *int   `json:"max,omitempty"`
	FromAt string `json:"from_at,omitempty"`
	ToAt   string `json:"to_at,omitempty"`
}

// Pin is something that a person has decided about an activity.
type Pin struct {
	Activity  string `json:"activity"`
	Person    string `json:"person,omitempty"`
	Tool      string `json:"tool,omitempty"`
	Mode      string `json:"mode,omitempty"`
	NotBefore *int   `json:"not_before,omitempty"`
	Start     *int   `json:"start,omitempty"`
}

// Planned is an activity of a plan. People stand in the order of the roles, tools in that of the kinds.
type Planned struct {
	Activity string   `json:"activity"`
	Start    int      `json:"start"`
	End      int      `json:"end"`
	Mode     string   `json:"mode"`
	People   []string `json:"people"`
	Tools    []string `json:"tools"`
	Because  *Because `json:"because,omitempty"` // nil for one that has begun
}

// Keep is the plan in force: what of it starts before Until stays as announced when that costs no more than Cost.
type Keep struct {
	Until int       `json:"until"`
	Cost  int       `json:"cost"`
	Plan  []Planned `json:"plan"`
}

// Instance is what is to be planned. Links must not run in a circle.
type Instance struct {
	Horizon    *int        `json:"horizon"`
	Now        int         `json:"now,omitempty"`
	People     []Worker    `json:"people"`
	Tools      []Piece     `json:"tools"`
	Areas      []Room      `json:"areas"`
	Isolations []Isolation `json:"isolations"`
	Jobs       []Job       `json:"jobs"`
	Links      []Link      `json:"links"`
	Apart      [][]string  `json:"apart"` // two activities that share no person
	Pins       []Pin       `json:"pins,omitempty"`
	Begun      []Planned   `json:"begun,omitempty"`
	Keep       *Keep       `json:"keep,omitempty"`
}

// Because names one rule that starting a minute earlier, all else unchanged, would break.
type Because struct {
	Rule  string `json:"rule"`           // now, release, pin, kept, isolation, person, tool, area, link
	What  any    `json:"what,omitempty"` // an id, or the number of a pin
	How   string `json:"how,omitempty"`  // min, max, closed, busy, carry, full, not_before, start
	Other string `json:"other,omitempty"`
}

// Objective says how good a plan is: the numbers count in this order, the smaller the better.
type Objective struct {
	Unplaced  int `json:"unplaced"`
	Tardiness int `json:"tardiness"` // weight times minutes late, over the jobs
	Finish    int `json:"finish"`
	Carries   int `json:"carries"`
	Load      int `json:"load"` // sum of the squares of everybody's minutes
}

// Before reports whether o is better than p.
func (o Objective) Before(p Objective) bool {
	a := [5]int{o.Unplaced, o.Tardiness, o.Finish, o.Carries, o.Load}
	b := [5]int{p.Unplaced, p.Tardiness, p.Finish, p.Carries, p.Load}
	for i := range a {
		if a[i] != b[i] {
			return a[i] < b[i]
		}
	}
	return false
}

// Bound is true of every plan that places all jobs.
type Bound struct {
	Finish    int    `json:"finish"`
	Tardiness int    `json:"tardiness"`
	By        string `json:"by"`
}

// Forbids are jobs that cannot all be planned, and facts that together forbid it.
type Forbids struct {
	Jobs     []string `json:"jobs"`
	Facts    []string `json:"facts"`
	Smallest bool     `json:"smallest"` // no set of fewer facts forbids
}

// Kept says whether the plan in force was kept, and what that costs.
type Kept struct {
	Kept    bool     `json:"kept"`
	Changed []string `json:"changed"`
	Costs   struct {
		Tardiness int `json:"tardiness"`
		Finish    int `json:"finish"`
	} `json:"costs"`
}

// Answer is a plan, with what it is worth and why it is as it is.
type Answer struct {
	Activities []Planned `json:"activities"`
	Unplaced   []string  `json:"unplaced"`
	Forbids    []Forbids `json:"forbids,omitempty"`
	Objective  Objective `json:"objective"`
	Bound      Bound     `json:"bound"`
	Gap        float64   `json:"gap"`
	Keep       *Kept     `json:"keep,omitempty"`
	Stopped    string    `json:"stopped"` // proved, budget, cancelled
	Work       int       `json:"work"`    // placements made
}
