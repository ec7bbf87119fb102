package app

import (
	"context"
	"fmt"
	"slices"
	"sort"
	"strings"
	"time"

	"dynacor/core/authority"
)

// HandLine is something for a hand: at a joint, with a tool, or in words alone.
type HandLine struct {
	Joint string     `json:"joint"`
	Tool  string     `json:"tool"`
	Text  string     `json:"text"`
	At    *time.Time `json:"at,omitempty"`
}

// HandList is what waits for somebody because of what they answer for.
type HandList struct {
	Title string     `json:"title"`
	Lines []HandLine `json:"lines"`
	Walk  bool       `json:"walk"` // a walk-round leads along it
}

const (
	mostHandLines = 6
	goingOut      = 12 * time.Hour
)

// todayHands adds what waits for each role that somebody has; lists with nothing in them are left out.
func (a *App) todayHands(ctx context.Context, who Actor, t *Today) error {
	held := authority.Held(who.Role)
	for _, h := range []struct {
		role string
		tell func(context.Context, *Today) error
	}{{authority.Inspector, a.forEyes}, {authority.ToolKeeper, a.forTools}, {authority.Lead, a.forLead}} {
		if !slices.Contains(held, h.role) {
			continue
		}
		if err := h.tell(ctx, t); err != nil {
			return err
		}
	}
	return nil
}

func (t *Today) hand(title string, lines []HandLine) {
	if n := len(lines); n > mostHandLines {
		rest := HandLine{Text: fmt.Sprintf("and %d more", n-mostHandLines+1)}
		lines = append(lines[:mostHandLines-1:mostHandLines-1], rest)
	}
	if len(lines) > 0 {
		t.Hands = append(t.Hands, HandList{Title: title, Lines: lines})
	}
}

// forEyes are holds to sign and joints to prove, along the plant.
func (a *App) forEyes(ctx context.Context, t *Today) error {
	stops, err := a.eyes(ctx)
	if err != nil {
		return err
	}
	var lines []HandLine
	for _, s := range stops {
		for _, why := range s.Why {
			lines = append(lines, HandLine{Joint: s.Tag, Text: why + ", " + s.Name + ", " + s.Area})
		}
	}
	if t.hand("Waits for your eyes, along the plant", lines); len(lines) > 0 {
		t.Hands[len(t.Hands)-1].Walk = true
	}
	return nil
}

// forTools are the tools that go out next by the plans in force, and those that are out.
func (a *App) forTools(ctx context.Context, t *Today) error {
	plans, err := a.running(ctx)
	if err != nil {
		return err
	}
	next := map[string]ShiftActivity{}
	for _, p := range plans {
		for _, x := range p.Activities {
			for _, tag := range x.Tools {
				old, ok := next[tag]
				soon := x.Start.After(a.now()) && x.Start.Before(a.now().Add(goingOut))
				if soon && (!ok || x.Start.Before(old.Start)) {
					next[tag] = x
				}
			}
		}
	}
	var out []HandLine
	for tag, x := range next {
		at := x.Start
		out = append(out, HandLine{Tool: tag, Joint: x.Tag, At: &at, Text: "to " + strings.Join(x.People, " and ")})
	}
	sort.Slice(out, func(i, j int) bool {
		if d := out[i].At.Compare(*out[j].At); d != 0 {
			return d < 0
		}
		return out[i].Tool < out[j].Tool
	})
	t.hand("Going out next", out)
	loans, err := a.q.OpenLoans(ctx)
	var back []HandLine
	for _, l := range loans {
		at := l.OutAt
		back = append(back, HandLine{Tool: l.Tag, At: &at, Text: strings.TrimSuffix("out with "+l.Person+", "+l.Place,
			", ")})
	}
	t.hand("To come back", back)
	return err
}

// forLead is what is behind, who has free hands, and which tools are asked for twice.
func (a *App) forLead(ctx context.Context, t *Today) error {
	plans, err := a.running(ctx)
	if err != nil {
		return err
	}
	var behind []HandLine
	busy := map[string]bool{}
	for _, code := range sortedKeys(plans) {
		s, err := a.ShiftStands(ctx, code)
		if err != nil {
			return err
		}
		for _, old := range s.Old {
			behind = append(behind, HandLine{Text: code + ": " + old})
		}
		for _, x := range plans[code].Activities {
			if !x.Start.After(a.now()) && x.End.After(a.now()) {
				for _, id := range x.IDs {
					busy[id] = true
				}
			}
		}
	}
	t.hand("Behind the plan", behind)
	notes, err := a.openNotes(ctx)
	if err != nil {
		return err
	}
	var noted []HandLine
	for _, n := range notes {
		noted = append(noted, HandLine{Text: n})
	}
	if t.hand("Noted on walk-rounds", noted); len(noted) > 0 {
		t.Hands[len(t.Hands)-1].Walk = true
	}
	if len(plans) > 0 {
		if err := a.freeHands(ctx, t, busy); err != nil {
			return err
		}
	}
	work, err := a.q.ToolsInWork(ctx)
	where := map[string][]string{}
	for _, w := range work {
		where[w.Tag] = append(where[w.Tag], w.Joint)
	}
	var twice []HandLine
	for _, tag := range sortedKeys(where) {
		if len(where[tag]) > 1 {
			twice = append(twice, HandLine{Tool: tag, Text: "for " + strings.Join(where[tag], ", ")})
		}
	}
	t.hand("Tools asked for twice", twice)
	return err
}

func (a *App) freeHands(ctx context.Context, t *Today, busy map[string]bool) error {
	people, err := a.People(ctx)
	var free []string
	for _, p := range people {
		if !busy[p.ID] && slices.Contains(authority.Held(p.Role), authority.Technician) {
			free = append(free, p.Name)
		}
	}
	if len(free) > 0 {
		t.hand("Free hands by the plan, now", []HandLine{{Text: strings.Join(free, ", ")}})
	}
	return err
}

func sortedKeys[V any](m map[string]V) []string {
	var out []string
	for k := range m {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}
