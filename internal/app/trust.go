package app

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgtype"

	"dynacor/core/authority"
	"dynacor/core/tool"
	"dynacor/internal/store"
)

// ToolCheck is a check of a wrench on the torque meter as it was kept.
type ToolCheck struct {
	At      time.Time         `json:"at"`
	By      string            `json:"by"`
	Check   tool.BenchCheck   `json:"check"`
	Verdict tool.CheckVerdict `json:"verdict"`
}

// Doubt is a joint that was tightened with a tool which was found out later.
type Doubt struct {
	ID       string     `json:"id"`
	Tool     string     `json:"tool"`
	Joint    string     `json:"joint"`
	Name     string     `json:"name"`
	Reason   string     `json:"reason"`
	LastUsed time.Time  `json:"lastUsed"`
	RaisedBy string     `json:"raisedBy"`
	RaisedAt time.Time  `json:"raisedAt"`
	DueOn    string     `json:"dueOn"`      // day the look at it is planned for, "" when it is not planned
	Assigned string     `json:"assignedTo"` // who is to look
	ClosedBy string     `json:"closedBy"`
	ClosedAt *time.Time `json:"closedAt,omitempty"`
	How      string     `json:"how"`
}

// doubt puts a row into words.
func doubt(d store.OpenDoubtsRow) Doubt {
	out := Doubt{d.ID.String(), d.Tag, d.JointTag, d.JointName, d.Reason, d.LastUsed, d.RaisedBy, d.RaisedAt, "",
		d.AssignedTo, d.ClosedBy, d.ClosedAt, d.How}
	if d.DueOn.Valid {
		out.DueOn = d.DueOn.Time.Format(time.DateOnly)
	}
	return out
}

// Loan is who has a tool, where, since when; BackAt is nil while it is out.
type Loan struct {
	Person string     `json:"person"`
	Place  string     `json:"place"`
	OutAt  time.Time  `json:"outAt"`
	BackBy string     `json:"backBy"`
	BackAt *time.Time `json:"backAt,omitempty"`
	Care   string     `json:"care"`
}

// evidence is the last time a wrench is known to have been right: its calibration, or a check it passed since.
func evidence(ctx context.Context, q *store.Queries, w tool.Tool) (time.Time, error) {
	var since time.Time // a socket has no certificate: all it did counts
	if w.CalibratedOn != "" {
		var err error
		if since, err = time.Parse(time.DateOnly, string(w.CalibratedOn)); err != nil {
			return since, err
		}
	}
	good, err := q.LastGoodCheck(ctx, w.Tag)
	if err != nil {
		return since, err
	}
	if good.After(since) {
		return good, nil
	}
	return since, nil
}

// lockTool reads a wrench for changing it.
func lockTool(ctx context.Context, q *store.Queries, tag string) (tool.Tool, error) {
	row, err := q.LockTool(ctx, tag)
	if none(err) {
		return tool.Tool{}, notFound("tool", tag)
	}
	if err != nil {
		return tool.Tool{}, err
	}
	return present(ctx, q, row.Data)
}

// CheckTool keeps a check of a wrench on the torque meter. A failed one puts the wrench aside and its joints in doubt.
// A wrench that was in doubt and is found right, as it was found, clears them: what it tightened, it tightened rightly.
func (a *App) CheckTool(ctx context.Context, who Actor, tag string, c tool.BenchCheck) (ToolDetail, error) {
	c.Meter = strings.TrimSpace(c.Meter)
	if c.Purpose == tool.AsFound {
		if err := who.needs("judge a wrench that is in doubt", authority.JudgeDoubtedTool); err != nil {
			return ToolDetail{}, err
		}
	}
	told := told{}
	err := a.tx(ctx, func(q *store.Queries) error {
		w, err := lockTool(ctx, q, tag)
		if err != nil {
			return err
		}
		v, err := c.Judge(w)
		if err != nil {
			return err
		}
		if err := a.meterInDate(ctx, q, c.Meter); err != nil {
			return err
		}
		data, err := encode(c)
		if err != nil {
			return err
		}
		verdict, err := encode(v)
		if err != nil {
			return err
		}
		now := a.now()
		if !v.Pass { // before the check is kept: its joints go back to the evidence before it
			if err := a.putAside(ctx, q, who, w, "failed on the torque meter: "+v.Sentence, told); err != nil {
				return err
			}
		} else if c.Purpose == tool.AsFound {
			how := fmt.Sprintf("The wrench was checked as found on %s: %s", c.Meter, v.Sentence)
			if err := q.CloseDoubtsOfTool(ctx, store.CloseDoubtsOfToolParams{Tag: tag, ClosedBy: who.Name,
				ClosedAt: &now, How: how}); err != nil {
				return err
			}
		}
		return q.InsertToolCheck(ctx, store.InsertToolCheckParams{ID: uuid.Must(uuid.NewV7()), Tag: tag, At: now,
			MadeBy: who.Name, Passed: v.Pass, Data: data, Verdict: verdict,
			Counts: who.May(authority.JudgeDoubtedTool)})
	})
	if err != nil {
		return ToolDetail{}, err
	}
	a.tellAll(told)
	return a.Tool(ctx, tag)
}

// meterInDate refuses a torque meter that the crib does not have, or that is itself not to be believed: what it shows
// is evidence.
func (a *App) meterInDate(ctx context.Context, q *store.Queries, tag string) error {
	bad := func(why string) error {
		return &Problem{Kind: Invalid, Title: "The torque meter " + tag + " " + why + ".", Field: "meter",
			Remedy: "Name a torque meter of the Crib that is in service and in date."}
	}
	row, err := q.GetTool(ctx, tag)
	if none(err) {
		return bad("is not in the Crib")
	}
	if err != nil {
		return err
	}
	m, err := decode[tool.Tool](row.Data)
	switch {
	case err != nil:
		return err
	case m.Kind != tool.TorqueMeter:
		return bad("is no torque meter")
	case m.State != tool.InService:
		return bad("is put aside")
	case m.CalibrationEnds == "" || string(m.CalibrationEnds) < a.now().Format(time.DateOnly):
		return bad("is out of date: " + string(m.CalibrationEnds))
	}
	return nil
}

// Doubts lists the joints that wait for a look, those without a day first.
func (a *App) Doubts(ctx context.Context) ([]Doubt, error) {
	rows, err := a.q.OpenDoubts(ctx)
	out := []Doubt{}
	for _, x := range rows {
		out = append(out, doubt(x))
	}
	return out, err
}

// PlanDoubt says who looks at a joint in doubt and by which day ("2006-01-02").
func (a *App) PlanDoubt(ctx context.Context, who Actor, id, dueOn, assigned string) (ToolDetail, error) {
	day, err := time.Parse(time.DateOnly, dueOn)
	if err != nil {
		return ToolDetail{}, &Problem{Kind: Invalid, Title: "The day cannot be read.", Field: "dueOn",
			Remedy: "Enter it as 2026-11-23."}
	}
	if assigned = strings.TrimSpace(assigned); assigned == "" {
		return ToolDetail{}, &Problem{Kind: Invalid, Title: "Nobody is named.", Field: "assignedTo",
			Remedy: "Say who is to look at the joint."}
	}
	u, err := uuid.Parse(id)
	if err != nil {
		return ToolDetail{}, notFound("doubt", id)
	}
	d, err := a.q.GetDoubt(ctx, u)
	if none(err) {
		return ToolDetail{}, notFound("doubt", id)
	}
	if err != nil {
		return ToolDetail{}, err
	}
	n, err := a.q.PlanDoubt(ctx, store.PlanDoubtParams{ID: u, DueOn: pgtype.Date{Time: day, Valid: true},
		AssignedTo: assigned})
	if err != nil {
		return ToolDetail{}, err
	}
	if n == 0 {
		return ToolDetail{}, newProblem(Conflict, "This was closed already.", "Look at the list again.")
	}
	return a.Tool(ctx, d.Tag)
}

// CloseDoubt takes a joint out of doubt after a look at it.
func (a *App) CloseDoubt(ctx context.Context, who Actor, id, how string) (ToolDetail, error) {
	if how = strings.TrimSpace(how); how == "" {
		return ToolDetail{}, &Problem{Kind: Invalid, Title: "Say what was looked at.", Field: "reason",
			Remedy: "For example: restart torque of all bolts within its window, or tightened anew with W-40."}
	}
	u, err := uuid.Parse(id)
	if err != nil {
		return ToolDetail{}, notFound("doubt", id)
	}
	d, err := a.q.GetDoubt(ctx, u)
	if none(err) {
		return ToolDetail{}, notFound("doubt", id)
	}
	if err != nil {
		return ToolDetail{}, err
	}
	now := a.now()
	n, err := a.q.CloseDoubt(ctx, store.CloseDoubtParams{ID: u, ClosedBy: who.Name, ClosedAt: &now, How: how})
	if err != nil {
		return ToolDetail{}, err
	}
	if n == 0 {
		return ToolDetail{}, newProblem(Conflict, "This was closed already.", "Look at the list again.")
	}
	return a.Tool(ctx, d.Tag)
}

// CheckOut gives a wrench to whoever asks. Refused: one that is out, put aside, or past its calibration.
func (a *App) CheckOut(ctx context.Context, who Actor, tag, place string) (ToolDetail, error) {
	if place = strings.TrimSpace(place); place == "" {
		return ToolDetail{}, &Problem{Kind: Invalid, Title: "Say where it goes.", Field: "place",
			Remedy: "The joint, the package or the area."}
	}
	err := a.tx(ctx, func(q *store.Queries) error {
		w, err := lockTool(ctx, q, tag)
		if err != nil {
			return err
		}
		if problems := w.Fit(nil, 0, a.now()); len(problems) > 0 {
			return newProblem(Conflict, "%s.", problems[0].Remedy, problems[0].What)
		}
		open, err := q.OpenLoans(ctx)
		if err != nil {
			return err
		}
		for _, l := range open {
			if l.Tag == tag {
				return newProblem(Conflict, "%s is out with %s, at %s.", "Ask there, or take another.", tag, l.Person,
					l.Place)
			}
		}
		return q.InsertLoan(ctx, store.InsertLoanParams{ID: uuid.Must(uuid.NewV7()), Tag: tag, Person: who.Name,
			Place: place, OutAt: a.now()})
	})
	if err != nil {
		return ToolDetail{}, err
	}
	return a.Tool(ctx, tag)
}

// ReturnTool takes a wrench back with the answers to the care questions. A drop puts it aside at once.
func (a *App) ReturnTool(ctx context.Context, who Actor, tag string, c tool.Care) (ToolDetail, error) {
	told := told{}
	err := a.tx(ctx, func(q *store.Queries) error {
		w, err := lockTool(ctx, q, tag)
		if err != nil {
			return err
		}
		aside, notes := c.Faults(w)
		care := "in order"
		if len(notes) > 0 {
			care = strings.Join(notes, "; ")
		}
		now := a.now()
		n, err := q.ReturnLoan(ctx, store.ReturnLoanParams{Tag: tag, BackBy: who.Name, BackAt: &now, Care: care})
		if err != nil {
			return err
		}
		if n == 0 {
			return newProblem(Conflict, "%s is not out.", "Look at the list again.", tag)
		}
		if aside && w.State != tool.Quarantined {
			return a.putAside(ctx, q, who, w, "dropped or overloaded while it was out", told)
		}
		return nil
	})
	if err != nil {
		return ToolDetail{}, err
	}
	a.tellAll(told)
	return a.Tool(ctx, tag)
}

// trust reads checks, doubts and loans of a wrench.
func (a *App) trust(ctx context.Context, d *ToolDetail, tag string) error {
	checks, err := a.q.ToolChecks(ctx, tag)
	if err != nil {
		return err
	}
	for _, c := range checks {
		out := ToolCheck{At: c.At, By: c.MadeBy}
		if out.Check, err = decode[tool.BenchCheck](c.Data); err != nil {
			return err
		}
		if out.Verdict, err = decode[tool.CheckVerdict](c.Verdict); err != nil {
			return err
		}
		d.Checks = append(d.Checks, out)
	}
	doubts, err := a.q.DoubtsOfTool(ctx, tag)
	if err != nil {
		return err
	}
	for _, x := range doubts {
		d.Doubts = append(d.Doubts, doubt(store.OpenDoubtsRow(x)))
	}
	loans, err := a.q.LoansOfTool(ctx, tag)
	if err != nil {
		return err
	}
	for _, l := range loans {
		d.Loans = append(d.Loans, Loan{l.Person, l.Place, l.OutAt, l.BackBy, l.BackAt, l.Care})
	}
	return nil
}

// jointDoubts are the open doubts about a joint.
func (a *App) jointDoubts(ctx context.Context, joint uuid.UUID) ([]Doubt, error) {
	rows, err := a.q.OpenDoubtsOfJoint(ctx, joint)
	out := []Doubt{}
	for _, x := range rows {
		out = append(out, doubt(store.OpenDoubtsRow(x)))
	}
	return out, err
}
