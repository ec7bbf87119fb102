package app

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/store"
)

// RunView is a run as a device needs it to go on working without network.
type RunView struct {
	ID          string         `json:"id"`
	Joint       JointRow       `json:"joint"`
	PlanVersion int            `json:"planVersion"`
	PlanStale   string         `json:"planStale"`
	Plan        *plan.Plan     `json:"plan"`
	Entries     []record.Entry `json:"entries"`
	State       *run.State     `json:"state"`
	Tools       []tool.Tool    `json:"tools"` // to change tools without network
	StartedBy   string         `json:"startedBy"`
	StartedAt   time.Time      `json:"startedAt"`
	Record      string         `json:"record"` // its number when sealed
	Untrained   []Untrained    `json:"untrained"`
}

// StartRun begins work on a joint with its saved plan, or with the plan as it would be made now. Refused: a joint
// with a sealed record, which is worked on again.
func (a *App) StartRun(ctx context.Context, who Actor, tag string, c plan.Choices, reason string) (RunView, error) {
	return a.WorkAgain(ctx, who, tag, c, reason, "")
}

// WorkAgain begins work on a joint that has a sealed record, and says why; the new run names that record. again is
// empty for the first work on a joint.
func (a *App) WorkAgain(ctx context.Context, who Actor, tag string, c plan.Choices, reason,
	again string) (RunView, error) {
	return a.begin(ctx, who, tag, again, func(q *store.Queries, j store.Joint) (uuid.UUID, error) {
		return a.planToStart(ctx, q, who, j, c, reason)
	})
}

// begin opens a run on the plan that choose gives; it follows the joint's latest record, for the reason again.
func (a *App) begin(ctx context.Context, who Actor, tag, again string,
	choose func(q *store.Queries, j store.Joint) (uuid.UUID, error)) (RunView, error) {
	var id uuid.UUID
	var code string
	err := a.tx(ctx, func(q *store.Queries) error {
		j, err := lockInService(ctx, q, tag)
		if err != nil {
			return err
		}
		code = deref(j.Package)
		if j.PresentRun != nil {
			if r, err := q.GetRun(ctx, *j.PresentRun); err == nil && r.SealedAt == nil {
				return &Problem{Kind: Conflict, Title: tag + " is in hand already.", Remedy: "Open it and go on there."}
			}
		}
		last, err := lastRecord(ctx, q, j, strings.TrimSpace(again))
		if err != nil {
			return err
		}
		planID, err := choose(q, j)
		if err != nil {
			return err
		}
		id = uuid.Must(uuid.NewV7())
		if err := q.InsertRun(ctx, store.InsertRunParams{ID: id, JointID: j.ID, PlanID: planID, StartedBy: who.Name,
			StartedAt: a.now().UTC()}); err != nil {
			return err
		}
		r, err := q.LockRun(ctx, id)
		if err != nil {
			return err
		}
		e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.ReadConfirmed,
			At: a.now().UTC().Truncate(time.Millisecond), Person: who.Person}
		if last != "" {
			e.Ref, e.Reason = last, strings.TrimSpace(again)
			if e.Note, err = freshParts(ctx, q, last); err != nil {
				return err
			}
		}
		_, err = a.append(ctx, q, r, e)
		return err
	})
	if err != nil {
		return RunView{}, err
	}
	if code != "" {
		a.tellShift(ctx, code)
	}
	return a.Run(ctx, id.String())
}

// lastRecord is the number of a joint's latest record, "" for none; with one it takes a reason to begin again.
func lastRecord(ctx context.Context, q *store.Queries, j store.Joint, again string) (string, error) {
	list, err := q.RecordsOfJoint(ctx, j.ID)
	if err != nil || len(list) == 0 {
		return "", err
	}
	if again == "" {
		return "", &Problem{Kind: Invalid, Field: "again", Title: j.Tag + " has the record " + list[0].Number + ".",
			Remedy: "Say why it is worked on again: re-torque, correction, taken apart."}
	}
	return list[0].Number, nil
}

func (a *App) planToStart(ctx context.Context, q *store.Queries, who Actor, j store.Joint, c plan.Choices,
	reason string) (uuid.UUID, error) {
	rules, err := houseRules(ctx, q)
	if err != nil {
		return uuid.Nil, err
	}
	last, err := q.LatestPlan(ctx, j.ID)
	if err != nil && !none(err) {
		return uuid.Nil, err
	}
	old := ""
	if err == nil {
		if old, err = stale(ctx, q, last, j, rules); err != nil {
			return uuid.Nil, err
		}
	}
	if last.ID != uuid.Nil && c.Empty() && old == "" {
		p, err := decode[*plan.Plan](last.Data)
		if err != nil {
			return uuid.Nil, err
		}
		if p.ToolsFit(a.now()) { // a wrench may have run out since
			return last.ID, nil
		}
	}
	row, _, err := a.savePlan(ctx, q, who, j, c, reason)
	return row.ID, err
}

// openRun locks a run and reads its plan. Refused: a run that is not there, or sealed: nothing is added to it any more.
func (a *App) openRun(ctx context.Context, q *store.Queries, id uuid.UUID) (store.Run, *plan.Plan, error) {
	r, err := q.LockRun(ctx, id)
	if none(err) {
		return r, nil, notFound("run", id.String())
	}
	if err != nil {
		return r, nil, err
	}
	if r.SealedAt != nil {
		return r, nil, &Problem{Kind: Conflict, Title: "The record is sealed.",
			Remedy: "Nothing can be added. Open it in Records."}
	}
	p, err := a.plan(ctx, q, r.PlanID)
	return r, p, err
}

// adoptPlan puts a newer plan under an open run; not after the first pull.
func (a *App) adoptPlan(ctx context.Context, q *store.Queries, who Actor, runID uuid.UUID, row store.InsertPlanParams,
	reason string) error {
	r, err := q.LockRun(ctx, runID)
	if err != nil || r.SealedAt != nil {
		return err
	}
	known, err := a.chain(ctx, q, runID, int(r.LastSeq), r.LastHash)
	if err != nil {
		return err
	}
	if p, err := a.plan(ctx, q, r.PlanID); err != nil || p.Apart() {
		return err // it is being taken apart: the new plan waits for the next time it is fitted
	}
	for _, e := range known.entries {
		if e.Event.Kind == run.Pulled {
			return &Problem{Kind: Conflict, Title: "Bolts have been pulled on this plan.",
				Remedy: "The plan of a joint in tightening does not change. Finish or take it apart; raise a " +
					"deviation with the reason."}
		}
	}
	if err := q.SetRunPlan(ctx, store.SetRunPlanParams{ID: runID, PlanID: row.ID}); err != nil {
		return err
	}
	r.PlanID = row.ID
	e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: a.now().UTC().Truncate(time.Millisecond),
		Person: who.Person, Note: fmt.Sprintf("Plan version %d taken over. %s", row.Version, reason)}
	_, err = a.append(ctx, q, r, e)
	return err
}

// append adds an event that the server makes itself to a locked run.
func (a *App) append(ctx context.Context, q *store.Queries, r store.Run, e run.Event) ([]record.Entry, error) {
	l, err := a.link(ctx, q, r, []*admitted{{event: e}})
	if err != nil {
		return nil, err
	}
	all := &store.Appended{}
	l.into(all)
	if err := q.Append(ctx, all); err != nil {
		return nil, err
	}
	a.kept.growChain(r.ID, l.next, l.added)
	return l.added, nil
}

// linked are events chained to a run, to be written.
type linked struct {
	run   uuid.UUID
	next  *chain
	added []record.Entry
	rows  []store.Event
	head  store.Run   // as the run is then
	line  store.Joint // how its joint stands in lists then
}

// into puts it among what is written.
func (l linked) into(all *store.Appended) { all.Add(l.rows, l.head, l.line) }

// link chains admitted events to a locked run.
func (a *App) link(ctx context.Context, q *store.Queries, r store.Run, add []*admitted) (linked, error) {
	out := linked{run: r.ID, head: r}
	p, err := a.plan(ctx, q, r.PlanID)
	if err != nil {
		return out, err
	}
	known, err := a.chain(ctx, q, r.ID, int(r.LastSeq), r.LastHash)
	if err != nil {
		return out, err
	}
	hands := known.tools
	for _, in := range add {
		e := &in.event
		entry := record.Entry{Seq: len(known.entries) + len(out.added) + 1,
			ReceivedAt: a.now().UTC().Truncate(time.Millisecond), PrevHash: out.head.LastHash, Event: *e}
		body := in.body
		if body == nil {
			if body, err = record.Canonical(*e); err != nil {
				return out, err
			}
		}
		if entry.Hash, err = record.LinkText(r.ID.String(), entry, body); err != nil {
			return out, err
		}
		hands.take(*e)
		out.rows = append(out.rows, store.Event{RunID: r.ID, Seq: int32(entry.Seq),
			ID: uuid.MustParse(e.ID), Kind: string(e.Kind), At: e.When(), ReceivedAt: entry.ReceivedAt,
			PersonID: uuid.MustParse(e.Person.ID), Tools: hands[min(e.Hand, len(hands)-1)], Body: string(body),
			PrevHash: entry.PrevHash, Hash: entry.Hash, SentSha256: in.digest, DeviceKey: e.DeviceKey, Proof: in.proof})
		out.head.LastSeq, out.head.LastHash = int32(entry.Seq), entry.Hash
		out.head.Size += int32(len(body))
		out.added = append(out.added, entry)
	}
	out.next = known.follow(p, out.added)
	g := out.next.glance(p, a.now())
	out.line = store.Joint{ID: r.JointID, Glyph: string(g.Glyph), Station: string(g.Station), Summary: summaryText(g)}
	return out, nil
}

// inHand are the tags of what each hand has taken, joined with a plus.
type inHand [4]string

func (h *inHand) take(e run.Event) {
	if e.Kind != run.WrenchTaken || e.Wrench == nil || e.Hand < 0 || e.Hand >= len(h) {
		return
	}
	h[e.Hand] = e.Wrench.Tag
	if e.SetUp != nil {
		h[e.Hand] = e.SetUp.Tags()
	}
}

// summaryText is the line under a joint in a list.
func summaryText(g run.Glance) string {
	switch {
	case len(g.Blocked) > 0:
		return g.Blocked[0]
	case g.Verdict == run.GoRoundAgain:
		return "go round again"
	case g.Station == procedure.Ready:
		return fmt.Sprintf("%d of %d checks cleared", g.Cleared, g.Checks)
	case g.Station == procedure.Tighten && g.Next > 0:
		return fmt.Sprintf("pass %d of %d", g.Pass, g.Passes)
	case g.Station == procedure.Prove:
		return "to prove"
	case g.Station == procedure.HandOver && g.Glyph == run.GlyphReady:
		return "taken apart, to be handed over"
	case g.Station == procedure.HandOver:
		return "accepted, to be handed over"
	}
	return ""
}

// Run gives a run whole.
func (a *App) Run(ctx context.Context, id string) (RunView, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return RunView{}, notFound("run", id)
	}
	r, err := a.q.GetRun(ctx, u)
	if none(err) {
		return RunView{}, notFound("run", id)
	}
	if err != nil {
		return RunView{}, err
	}
	j, err := a.q.GetJointByID(ctx, r.JointID)
	if err != nil {
		return RunView{}, err
	}
	planRow, err := a.q.GetPlan(ctx, r.PlanID)
	if err != nil {
		return RunView{}, err
	}
	v := RunView{ID: id, Joint: jointRow(j), PlanVersion: int(planRow.Version), StartedBy: r.StartedBy,
		StartedAt: r.StartedAt}
	if v.Plan, err = a.plan(ctx, a.q, r.PlanID); err != nil {
		return v, err
	}
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return v, err
	}
	if v.PlanStale, err = stale(ctx, a.q, planRow, j, rules); err != nil {
		return v, err
	}
	known, err := a.chain(ctx, a.q, u, int(r.LastSeq), r.LastHash)
	if err != nil {
		return v, err
	}
	v.Entries, v.State = known.entries, known.state(v.Plan, a.now())
	if v.Tools, err = crib(ctx, a.q); err != nil {
		return v, err
	}
	if v.Untrained, err = a.untrained(ctx, v.Plan, v.State); err != nil {
		return v, err
	}
	if r.SealedAt != nil {
		v.Record, err = a.q.RecordOfRun(ctx, u)
		v.State.Station = procedure.Sealed
	}
	return v, err
}

// canonical is a reading in the canonical unit of its kind; what is counted, or in a unit of no kind, stays as read.
// Refused: a reading whose words say something else than its figure, because the words are what people read.
func canonical(v run.Reading) (float64, error) {
	if v.Text != "" {
		if err := quantity.Says(v.Text, v.Value, v.Unit); err != nil {
			return 0, err
		}
	}
	if v.Unit.Kind() == "" {
		return v.Value, nil
	}
	return quantity.Convert(v.Value, v.Unit, canonicalUnit(v.Unit))
}

func canonicalUnit(u quantity.Unit) quantity.Unit {
	switch u.Kind() {
	case quantity.KindTorque:
		return quantity.NewtonMetre
	case quantity.KindPressure:
		return quantity.Megapascal
	case quantity.KindLength:
		return quantity.Millimetre
	}
	return u
}
