package app

import (
	"context"
	"fmt"
	"strings"
	"time"

	"dynacor/core/authority"
	"dynacor/core/pressuretest"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
	"dynacor/internal/store"
)

// PressureTestRow is a test in the list.
type PressureTestRow struct {
	Tag       string            `json:"tag"`
	Title     string            `json:"title"`
	Kind      pressuretest.Kind `json:"kind"`
	KindWord  string            `json:"kindWord"`
	Joints    []string          `json:"joints"`
	TestBar   float64           `json:"testBar"`
	Begun     bool              `json:"begun"`
	Withdrawn string            `json:"withdrawn"` // why it is not to be done
	Verdict   pressuretest.Code `json:"verdict"`   // empty before it is closed
	Says      string            `json:"says"`
	Good      bool              `json:"good"`
	Bad       bool              `json:"bad"`
	At        time.Time         `json:"at"` // closed, or laid out
}

// PressureTests lists the tests, of one joint or of all: those that last first.
func (a *App) PressureTests(ctx context.Context, joint string) ([]PressureTestRow, error) {
	rows, err := a.q.PressureTests(ctx, joint)
	if err != nil {
		return nil, err
	}
	out := []PressureTestRow{}
	for _, r := range rows {
		s, err := decode[pressuretest.Spec](r.Spec)
		if err != nil {
			return nil, err
		}
		code := pressuretest.Code(r.Verdict)
		x := PressureTestRow{r.Tag, s.Title, s.Kind, s.Kind.Word(), s.Joints, s.TestBar, r.Events > 0,
			r.Withdrawn, code, r.Says, code.Good(), code.Bad(), r.At}
		if r.SealedAt != nil {
			x.At = *r.SealedAt
		}
		out = append(out, x)
	}
	return out, nil
}

// TestedJoint is a joint under test as it is drawn.
type TestedJoint struct {
	Tag    string `json:"tag"`
	Name   string `json:"name"`
	Family string `json:"family"`
	Bolts  int    `json:"bolts"`
	Glyph  string `json:"glyph"`
}

// TestEnergy is what a gas stores, beside the same with water.
type TestEnergy struct {
	EnergyJ   float64 `json:"energyJ"`
	TNTKg     float64 `json:"tntKg"`
	DistanceM float64 `json:"distanceM"`
	HydroJ    float64 `json:"hydroJ"`
}

// SealedTest says when a test was closed and how its sheet is told.
type SealedTest struct {
	At   time.Time `json:"at"`
	Mark string    `json:"mark"`
	Key  string    `json:"keyId"`
	Says string    `json:"says"`
	Good bool      `json:"good"` // it speaks for what was tested
	Bad  bool      `json:"bad"`  // or against it
}

// PressureTest is a test as it stands.
type PressureTest struct {
	Spec      pressuretest.Spec        `json:"spec"`
	KindWord  string                   `json:"kindWord"`
	Version   int                      `json:"version"`
	LaidOutBy string                   `json:"laidOutBy"`
	Withdrawn string                   `json:"withdrawn"`
	Joints    []TestedJoint            `json:"joints"`
	Events    []pressuretest.Event     `json:"events"`
	State     pressuretest.State       `json:"state"`
	Cautions  []string                 `json:"cautions"`
	Planned   []pressuretest.PlanPoint `json:"planned"`
	Energy    *TestEnergy              `json:"energy,omitempty"` // of a gas: a caution only
	EnergyHow *working.Working         `json:"energyHow,omitempty"`
	Sealed    *SealedTest              `json:"sealed,omitempty"`
	Leaders   []string                 `json:"leaders"`   // identifiers of who may sign as such now
	Witnesses []string                 `json:"witnesses"` // and who may witness it
	Now       time.Time                `json:"now"`       // of this server: a hold counts by it
}

// PressureTest gives a test by its tag.
func (a *App) PressureTest(ctx context.Context, tag string) (PressureTest, error) {
	row, s, err := pressureTestSpec(ctx, a.q, tag)
	if err != nil {
		return PressureTest{}, err
	}
	v := PressureTest{Spec: s, KindWord: s.Kind.Word(), Version: int(row.Version), LaidOutBy: row.ByName,
		Withdrawn: row.Withdrawn, Cautions: s.Cautions(), Planned: s.Planned(), Joints: []TestedJoint{},
		Leaders: []string{}, Witnesses: []string{}, Now: a.now()}
	if v.Events, err = pressureTestEvents(ctx, a.q, tag); err != nil {
		return v, err
	}
	v.State = pressuretest.Fold(s, v.Events)
	if s.Kind == pressuretest.Pneumatic {
		w := working.New("Energy in the gas")
		e, err := s.Energy(w)
		if err != nil {
			return v, err
		}
		v.Energy, v.EnergyHow = &TestEnergy{e.Energy, e.TNT, e.Distance, e.Hydro}, w
	}
	for _, j := range s.Joints {
		row, err := a.q.GetJoint(ctx, j)
		if err != nil && !none(err) {
			return v, err
		}
		v.Joints = append(v.Joints, TestedJoint{j, row.Name, row.Family, int(row.Bolts), row.Glyph})
	}
	people, err := a.People(ctx)
	if err != nil {
		return v, err
	}
	for _, p := range people {
		if pressuretest.Admit(s, v.Events, pressuretest.Event{Kind: pressuretest.Signed, As: pressuretest.Leader,
			Person: p}) == nil {
			v.Leaders = append(v.Leaders, p.ID)
		}
		if v.State.MayWitness(p) {
			v.Witnesses = append(v.Witnesses, p.ID)
		}
	}
	sheet, err := a.q.PressureTestSheet(ctx, tag)
	if err == nil {
		code := v.State.Verdict.Code
		v.Sealed = &SealedTest{sheet.SealedAt, sheet.Mark, sheet.KeyID, sheet.Says, code.Good(), code.Bad()}
	} else if !none(err) {
		return v, err
	}
	return v, nil
}

func pressureTestSpec(ctx context.Context, q *store.Queries, tag string) (store.PressureTestSpec, pressuretest.Spec,
	error) {
	row, err := q.PressureTestSpec(ctx, tag)
	if none(err) {
		return row, pressuretest.Spec{}, notFound("test", tag)
	}
	if err != nil {
		return row, pressuretest.Spec{}, err
	}
	s, err := decode[pressuretest.Spec](row.Spec)
	return row, s, err
}

func pressureTestEvents(ctx context.Context, q *store.Queries, tag string) ([]pressuretest.Event, error) {
	rows, err := q.PressureTestEvents(ctx, tag)
	if err != nil {
		return nil, err
	}
	out := []pressuretest.Event{}
	for _, r := range rows {
		e, err := decode[pressuretest.Event](r.Body)
		if err != nil {
			return nil, err
		}
		out = append(out, e)
	}
	return out, nil
}

// UsualSteps gives the steps that are usual for a kind of test.
func (a *App) UsualSteps(k pressuretest.Kind, designBar, testBar, holdMin float64) ([]pressuretest.Step, error) {
	list, err := pressuretest.Usual(k, designBar, testBar, holdMin)
	if list == nil {
		list = []pressuretest.Step{}
	}
	return list, err
}

// PutPressureTest lays a test out, or changes one of which nothing was recorded yet. version is the one that is
// changed, 0 for a new one. The gauge is the crib's when the crib has it. Refused: what Spec.Check refuses, a joint
// that is not in the register, and a version that is not the last.
func (a *App) PutPressureTest(ctx context.Context, who Actor, s pressuretest.Spec, version int,
	withdrawn string) (PressureTest, error) {
	if err := who.needs(authority.PlanTest.Words(), authority.PlanTest); err != nil {
		return PressureTest{}, err
	}
	s.Tag, s.Title, s.Procedure = strings.TrimSpace(s.Tag), strings.TrimSpace(s.Title), strings.TrimSpace(s.Procedure)
	if err := checkTag(s.Tag); err != nil {
		return PressureTest{}, err
	}
	err := a.tx(ctx, func(q *store.Queries) error {
		if err := q.LockPressureTest(ctx, s.Tag); err != nil {
			return err
		}
		if err := a.layOut(ctx, q, &s); err != nil {
			return err
		}
		if err := unbegun(ctx, q, s.Tag, version); err != nil {
			return err
		}
		text, err := encode(s)
		if err != nil {
			return err
		}
		action := map[bool]string{true: "laid out", false: "changed"}[version == 0]
		if withdrawn != "" {
			action = "withdrew"
		}
		if err := q.Audit(ctx, store.AuditParams{Action: action, Subject: "test " + s.Tag, After: text}); err != nil {
			return err
		}
		return q.InsertPressureTestSpec(ctx, store.InsertPressureTestSpecParams{Tag: s.Tag, Version: int32(version + 1),
			At: a.now(), ByName: who.Name, Withdrawn: withdrawn, Spec: text})
	})
	if err != nil {
		return PressureTest{}, err
	}
	return a.PressureTest(ctx, s.Tag)
}

// unbegun refuses to change a test that is another by now, or of which something was recorded.
func unbegun(ctx context.Context, q *store.Queries, tag string, version int) error {
	row, err := q.PressureTestSpec(ctx, tag)
	switch {
	case none(err) && version == 0:
		return nil
	case none(err):
		return notFound("test", tag)
	case err != nil:
		return err
	case version == 0:
		return &Problem{Kind: Conflict, Field: "tag", Title: "There is a test " + tag + " already.",
			Remedy: "Give it another tag."}
	case int(row.Version) != version:
		return &Problem{Kind: Conflict, Field: "version", Title: row.ByName + " has changed this test since.",
			Remedy: "Look at it again, then change it."}
	}
	events, err := q.PressureTestEvents(ctx, tag)
	if err == nil && len(events) > 0 {
		return &Problem{Kind: Conflict, Title: "This test has begun.", Remedy: "End it, and lay out another like it."}
	}
	return err
}

// layOut holds a test against the register and the crib, and takes the gauge from there.
func (a *App) layOut(ctx context.Context, q *store.Queries, s *pressuretest.Spec) error {
	for i, tag := range s.Joints {
		if _, err := q.GetJoint(ctx, tag); none(err) {
			return &Problem{Kind: Invalid, Field: "joints", Title: fmt.Sprintf("The register has no joint %q.", tag),
				Remedy: "Check its tag, or put it into the register first."}
		} else if err != nil {
			return err
		}
		s.Joints[i] = tag
	}
	row, err := q.GetTool(ctx, s.Gauge.Tag)
	if none(err) || s.Gauge.Tag == "" {
		return s.Check()
	}
	if err != nil {
		return err
	}
	t, err := decode[tool.Tool](row.Data)
	if err != nil {
		return err
	}
	if t.Kind != tool.PressureGauge {
		return &Problem{Kind: Invalid, Field: "gauge.tag", Title: t.Tag + " is no pressure gauge.",
			Remedy: "Name the gauge that the pressure is read at."}
	}
	if bad := t.Standing(a.now()); len(bad) > 0 {
		return &Problem{Kind: Conflict, Field: "gauge.tag", Title: bad[0].What + ".", Remedy: bad[0].Remedy}
	}
	inBar := func(v float64) float64 {
		b, err := quantity.Convert(v, t.Unit, quantity.Bar)
		if err != nil {
			return v
		}
		return quantity.Significant(b, 9)
	}
	s.Gauge.Range, s.Gauge.Mark, s.Gauge.CheckBy = inBar(t.RatedMax), inBar(t.Graduation), t.CalibrationEnds
	return s.Check()
}
