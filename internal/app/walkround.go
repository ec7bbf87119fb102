package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/due"
	"dynacor/core/life"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/core/walk"
	"dynacor/internal/store"
)

// WalkStop is a joint that is to be seen on a walk-round.
type WalkStop struct {
	Tag    string    `json:"tag"`
	Name   string    `json:"name"`
	Area   string    `json:"area"`
	Family string    `json:"family"`
	Bolts  int       `json:"bolts"`
	Glyph  run.Glyph `json:"glyph"`
	Why    []string  `json:"why"`
}

// WalkRound is what is to be seen, along the plant.
type WalkRound struct {
	Now   time.Time  `json:"now"`
	Stops []WalkStop `json:"stops"`
	Seen  int        `json:"seen"` // joints that somebody walked to since midnight
}

// walkAhead is how soon what falls due is looked at on a walk-round.
const walkAhead = 7 * 24 * time.Hour

// WalkRound gives what waits for somebody's eyes: holds to sign, joints to prove, those to be looked at again, and what
// falls due there soon.
func (a *App) WalkRound(ctx context.Context) (WalkRound, error) {
	f, err := a.walkFacts(ctx)
	return f.round, err
}

func (a *App) walkRound(ctx context.Context, falls []due.Item, zone *time.Location) (WalkRound, error) {
	v := WalkRound{Now: a.now()}
	at := v.Now.In(zone)
	seen, err := a.q.WalkedSince(ctx, store.WalkedSinceParams{Began: walk.Began + "%",
		Since: time.Date(at.Year(), at.Month(), at.Day(), 0, 0, 0, 0, zone)})
	if err != nil {
		return v, err
	}
	v.Seen = len(seen)
	list, err := a.eyes(ctx)
	if err != nil {
		return v, err
	}
	for _, i := range due.Within(falls, v.Now.Add(walkAhead)) {
		if i.Tag != "" && (i.Kind == due.Retorque || i.Kind == due.LookAgain) {
			if list, err = a.addStop(ctx, list, i.Tag, i.Kind.Word()+" "+i.From.In(zone).Format("2 Jan")); err != nil {
				return v, err
			}
		}
	}
	list = slices.DeleteFunc(
		list,
		func(s WalkStop) bool { return slices.Contains(seen, s.Tag) && s.Glyph == run.GlyphAccepted },
	)
	v.Stops, err = a.along(ctx, list)
	return v, err
}

// along puts stops in the order of a walk.
func (a *App) along(ctx context.Context, list []WalkStop) ([]WalkStop, error) {
	areas, err := a.areaNames(ctx)
	if err != nil {
		return nil, err
	}
	var stops []walk.Stop
	by := map[string]WalkStop{}
	for _, s := range list {
		stops = append(stops, walk.Stop{Tag: s.Tag, Area: s.Area})
		by[s.Tag] = s
	}
	out := []WalkStop{}
	for _, s := range walk.Order(stops, areas) {
		out = append(out, by[s.Tag])
	}
	return out, nil
}

func (a *App) areaNames(ctx context.Context) ([]string, error) {
	site, err := a.Site(ctx)
	var out []string
	for _, x := range site.Areas {
		out = append(out, x.Name)
	}
	return out, err
}

// eyes are joints at which a hold waits for a signature, that are to be proved, or to be looked at again.
func (a *App) eyes(ctx context.Context) ([]WalkStop, error) {
	var list []WalkStop
	runs, err := a.q.OpenRuns(ctx)
	if err != nil {
		return nil, err
	}
	for _, r := range runs {
		p, err := a.plan(ctx, a.q, r.PlanID)
		if err != nil {
			return nil, err
		}
		known, err := a.chain(ctx, a.q, r.ID, int(r.LastSeq), r.LastHash)
		if err != nil {
			return nil, err
		}
		for _, row := range known.state(p, a.now()).Rows {
			if row.Status == run.CheckToSign || row.Status == run.CheckToWaive {
				if list, err = a.addStop(ctx, list, r.Tag, row.Title+": to be signed"); err != nil {
					return nil, err
				}
			}
		}
	}
	for glyph, why := range map[run.Glyph]string{run.GlyphToProve: "to prove", run.GlyphDueAgain: ""} {
		rows, err := a.q.JointsByGlyph(ctx, store.JointsByGlyphParams{Glyph: string(glyph), N: 50})
		if err != nil {
			return nil, err
		}
		for _, r := range rows {
			says := why
			if says == "" {
				says = r.Summary
			}
			if list, err = a.addStop(ctx, list, r.Tag, says); err != nil {
				return nil, err
			}
		}
	}
	return a.along(ctx, list)
}

// addStop says why a joint is to be seen, beside what is said of it already.
func (a *App) addStop(ctx context.Context, list []WalkStop, tag, why string) ([]WalkStop, error) {
	for i := range list {
		if list[i].Tag == tag {
			if !slices.Contains(list[i].Why, why) {
				list[i].Why = append(list[i].Why, why)
			}
			return list, nil
		}
	}
	j, err := a.q.GetJoint(ctx, tag)
	if none(err) {
		return list, nil
	}
	return append(list, WalkStop{Tag: tag, Name: j.Name, Area: j.Area, Family: j.Family, Bolts: int(j.Bolts),
		Glyph: run.Glyph(j.Glyph), Why: []string{why}}), err
}

// WalkJoint is the state of a joint to whoever stands before it.
type WalkJoint struct {
	WalkStop
	Summary   string          `json:"summary"`
	Record    string          `json:"record"` // its number, "" without one of its present state
	Run       string          `json:"run"`    // of the record
	SealedAt  *time.Time      `json:"sealedAt,omitempty"`
	Holds     bool            `json:"holds"`    // the record verifies
	Says      []string        `json:"says"`     // what else is known, in sentences
	Watch     string          `json:"watch"`    // what stood out before
	FallsDue  string          `json:"fallsDue"` // the next of it
	WalkedAt  *time.Time      `json:"walkedAt,omitempty"`
	WalkedBy  string          `json:"walkedBy"`
	Additions int             `json:"additions"`
	Next      string          `json:"next"` // the nearest of those that are to be seen
	Questions []walk.Question `json:"questions"`
	MayCheck  bool            `json:"mayCheck"` // it was accepted, and nobody works on it
	Drawn     []walk.Drawn    `json:"drawn"`    // nuts that are asked for by a drawing
}

// walkFacts is what every joint of a walk is told from.
type walkFacts struct {
	round WalkRound
	areas []string
	falls []due.Item // the next first
	zone  *time.Location
}

func (a *App) walkFacts(ctx context.Context) (f walkFacts, err error) {
	if f.zone, err = a.zone(ctx); err != nil {
		return f, err
	}
	if f.areas, err = a.areaNames(ctx); err != nil {
		return f, err
	}
	if f.falls, err = a.due(ctx); err != nil {
		return f, err
	}
	due.Sort(f.falls)
	f.round, err = a.walkRound(ctx, f.falls, f.zone)
	return f, err
}

// WalkJoint tells the state of a joint, and which is the nearest after it. Refused: a tag that is not there, with those
// that may be meant.
func (a *App) WalkJoint(ctx context.Context, tag string) (WalkJoint, error) {
	j, err := a.q.GetJoint(ctx, tag)
	if none(err) {
		return WalkJoint{}, a.noJointLike(ctx, tag)
	}
	if err != nil {
		return WalkJoint{}, err
	}
	f, err := a.walkFacts(ctx)
	if err != nil {
		return WalkJoint{}, err
	}
	return a.walkJoint(ctx, f, j)
}

// noJointLike says that there is no joint of a tag, and which may be meant.
func (a *App) noJointLike(ctx context.Context, tag string) error {
	there, err := a.q.TagsAmong(ctx, walk.Misread(tag))
	if err != nil {
		return err
	}
	return &Problem{Kind: NotFound, Title: fmt.Sprintf("There is no joint %s.", tag), Choices: walk.Like(tag, there),
		Remedy: "Check the spelling, or look in the list."}
}

func (a *App) walkJoint(ctx context.Context, f walkFacts, j store.Joint) (WalkJoint, error) {
	v := WalkJoint{Says: []string{}, Questions: walk.Questions, Drawn: []walk.Drawn{}, Summary: j.Summary}
	v.WalkStop = WalkStop{Tag: j.Tag, Name: j.Name, Area: j.Area, Family: j.Family, Bolts: int(j.Bolts),
		Glyph: run.Glyph(j.Glyph), Why: []string{}}
	var stops []walk.Stop
	for _, s := range f.round.Stops {
		if stops = append(stops, walk.Stop{Tag: s.Tag, Area: s.Area}); s.Tag == j.Tag {
			v.Why = s.Why
		}
	}
	v.Next = walk.Next(stops, j.Tag, j.Area, f.areas)
	for _, i := range f.falls {
		if i.Tag == v.Tag && i.Kind != due.Work && v.FallsDue == "" {
			v.FallsDue = i.Kind.Word() + ", " + i.From.In(f.zone).Format("Mon 2 Jan")
		}
	}
	err := a.walkRecord(ctx, j, &v)
	v.MayCheck = v.Record != "" && v.Glyph != run.GlyphInHand
	return v, err
}

// walkRecord tells what the record of the present state says, and what stood out in it and in the one before.
func (a *App) walkRecord(ctx context.Context, j store.Joint, v *WalkJoint) error {
	sealed, err := a.lastSealed(ctx, j)
	if err != nil || len(sealed) == 0 {
		return err
	}
	last := sealed[0]
	v.Record, v.Run, v.SealedAt, v.Holds = last.Record.Number, last.ID, last.SealedAt, last.Holds
	v.Additions = len(last.Additions)
	for _, x := range last.Additions {
		if strings.HasPrefix(x.What, walk.Began) {
			at := x.When()
			v.WalkedAt, v.WalkedBy = &at, x.Person.Name
		}
		switch x.Kind {
		case record.Tested:
			v.Says = append(v.Says, x.Sentence)
		case record.Finding:
			v.Says = append(v.Says, "Found: "+x.What)
		}
	}
	var again []string
	if len(sealed) > 1 {
		if again = life.Compare(sealed[1], last).Repeats; len(again) > 0 {
			v.Watch = strings.Join(again, ", ") + " stood out twice"
		}
	}
	v.Drawn = walk.Draw(fastenerNames(last.Record), again, v.Additions)
	return nil
}
