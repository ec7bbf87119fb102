package app

import (
	"context"
	"slices"

	"dynacor/core/life"
	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// mostRuns is how many runs of a joint are laid out, the newest.
const mostRuns = 60

// Life lays everything that happened to a joint on one ruler.
func (a *App) Life(ctx context.Context, tag string) (life.Life, error) {
	j, err := a.q.GetJoint(ctx, tag)
	if none(err) {
		return life.Life{}, notFound("joint", tag)
	}
	if err != nil {
		return life.Life{}, err
	}
	in := life.Input{}
	specs, err := a.q.ListSpecifications(ctx, j.ID)
	if err != nil {
		return life.Life{}, err
	}
	for _, row := range specs {
		s, err := decode[plan.Specification](row.Data)
		if err != nil {
			return life.Life{}, err
		}
		in.Specifications = append(in.Specifications, life.Specification{Version: int(row.Version), At: row.MadeAt,
			Reason: row.Reason, Document: s.Source(), Target: s.First().Target.Words()})
	}
	slices.SortFunc(in.Specifications, func(a, b life.Specification) int { return a.Version - b.Version })
	if in.Runs, err = a.runsOf(ctx, j); err != nil {
		return life.Life{}, err
	}
	doubts, err := a.q.DoubtsOfJoint(ctx, j.ID)
	if err != nil {
		return life.Life{}, err
	}
	for _, d := range doubts {
		in.Doubts = append(in.Doubts, life.ToolDoubt{Tool: d.Tag, Reason: d.Reason, How: d.How, At: d.RaisedAt,
			Closed: d.ClosedAt})
	}
	return life.Of(in), nil
}

// runsOf gives the runs of a joint with all they say: sealed ones as they were sealed and verified, one in hand as it
// stands.
func (a *App) runsOf(ctx context.Context, j store.Joint) ([]life.Run, error) {
	rows, err := a.q.RunsOfJoint(ctx, store.RunsOfJointParams{JointID: j.ID, N: mostRuns})
	if err != nil {
		return nil, err
	}
	var out []life.Run
	for _, r := range rows {
		x := life.Run{ID: r.ID.String(), StartedAt: r.StartedAt, Holds: true}
		if r.SealedAt != nil {
			x, err = a.sealedRun(ctx, r)
		} else {
			x.Record, err = a.inHand(ctx, r)
		}
		if err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	return out, nil
}

// lastSealed gives the last two sealed runs of a joint, the newest first, as far as there are two. None when the present
// one is not sealed.
func (a *App) lastSealed(ctx context.Context, j store.Joint) ([]life.Run, error) {
	rows, err := a.q.RunsOfJoint(ctx, store.RunsOfJointParams{JointID: j.ID, N: mostRuns})
	if err != nil {
		return nil, err
	}
	rows = slices.DeleteFunc(rows, func(r store.Run) bool { return r.SealedAt == nil })
	present := func(r store.Run) bool { return j.PresentRun != nil && r.ID == *j.PresentRun }
	if !slices.ContainsFunc(rows, present) {
		return nil, nil
	}
	slices.SortStableFunc(rows, func(x, y store.Run) int {
		if present(x) != present(y) {
			return map[bool]int{true: -1, false: 1}[present(x)]
		}
		return y.SealedAt.Compare(*x.SealedAt)
	})
	var out []life.Run
	for _, r := range rows[:min(2, len(rows))] {
		x, err := a.sealedRun(ctx, r)
		if err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	return out, nil
}

// sealedRun is a run as it was sealed, verified.
func (a *App) sealedRun(ctx context.Context, r store.Run) (life.Run, error) {
	x := life.Run{ID: r.ID.String(), StartedAt: r.StartedAt, SealedAt: r.SealedAt}
	number, err := a.q.RecordOfRun(ctx, r.ID)
	if err != nil {
		return x, err
	}
	v, err := a.Record(ctx, number)
	x.Record, x.Additions, x.Holds = v.Record, v.Additions, v.Report.OK
	return x, err
}

// inHand is a run that is not sealed, as its record would be.
func (a *App) inHand(ctx context.Context, r store.Run) (record.Record, error) {
	p, err := a.plan(ctx, a.q, r.PlanID)
	if err != nil {
		return record.Record{}, err
	}
	entries, err := a.readChain(ctx, a.q, r.ID, int(r.LastSeq))
	if err != nil {
		return record.Record{}, err
	}
	return record.Record{RunID: r.ID.String(), Plan: p, Events: entries, State: run.Fold(p, eventsOf(entries),
		a.now())}, nil
}

// CompareRuns holds two runs of a joint against each other, the earlier one first.
func (a *App) CompareRuns(ctx context.Context, tag, one, other string) (life.Comparison, error) {
	j, err := a.q.GetJoint(ctx, tag)
	if none(err) {
		return life.Comparison{}, notFound("joint", tag)
	}
	if err != nil {
		return life.Comparison{}, err
	}
	runs, err := a.runsOf(ctx, j)
	if err != nil {
		return life.Comparison{}, err
	}
	find := func(id string) (life.Run, error) {
		i := slices.IndexFunc(runs, func(r life.Run) bool { return r.ID == id })
		if i < 0 {
			return life.Run{}, notFound("run of "+tag, id)
		}
		return runs[i], nil
	}
	x, err := find(one)
	if err != nil {
		return life.Comparison{}, err
	}
	y, err := find(other)
	if err != nil {
		return life.Comparison{}, err
	}
	return life.Compare(x, y), nil
}
