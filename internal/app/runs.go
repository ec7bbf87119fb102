package app

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
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
}

// Ack says what became of one event sent.
type Ack struct {
	ID      string `json:"id"`
	Seq     int    `json:"seq"`     // 0 when refused
	Refused string `json:"refused"` // why, and what to do
}

// Appended is the answer to events sent.
type Appended struct {
	Acks []Ack `json:"acks"`
}

// StartRun begins work on a joint with its saved plan, or with the plan as it would be made now.
func (a *App) StartRun(ctx context.Context, who Actor, tag string, c plan.Choices, reason string) (RunView, error) {
	var id uuid.UUID
	err := a.tx(ctx, func(q *store.Queries) error {
		j, err := q.LockJoint(ctx, tag)
		if none(err) {
			return notFound("joint", tag)
		}
		if err != nil {
			return err
		}
		if j.PresentRun != nil {
			if r, err := q.GetRun(ctx, *j.PresentRun); err == nil && r.SealedAt == nil {
				return &Problem{Status: http.StatusConflict, Title: tag + " is in hand already.", Remedy: "Open it and go on there."}
			}
		}
		planID, err := a.planToStart(ctx, q, who, j, c, reason)
		if err != nil {
			return err
		}
		id = uuid.Must(uuid.NewV7())
		if err := q.InsertRun(ctx, store.InsertRunParams{ID: id, JointID: j.ID, PlanID: planID, StartedBy: who.Name}); err != nil {
			return err
		}
		r, err := q.LockRun(ctx, id)
		if err != nil {
			return err
		}
		e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.ReadConfirmed, At: a.now().UTC().Truncate(time.Millisecond), Person: who.Person}
		_, err = a.append(ctx, q, r, []run.Event{e})
		return err
	})
	if err != nil {
		return RunView{}, err
	}
	return a.Run(ctx, id.String())
}

func (a *App) planToStart(ctx context.Context, q *store.Queries, who Actor, j store.Joint, c plan.Choices, reason string) (uuid.UUID, error) {
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
		return r, nil, &Problem{Status: http.StatusConflict, Title: "The record is sealed.", Remedy: "Nothing can be added. Open it in Records."}
	}
	p, err := a.plan(ctx, q, r.PlanID)
	return r, p, err
}

// adoptPlan puts a newer plan under an open run; not after the first pull.
func (a *App) adoptPlan(ctx context.Context, q *store.Queries, who Actor, runID uuid.UUID, row store.InsertPlanParams, reason string) error {
	r, err := q.LockRun(ctx, runID)
	if err != nil || r.SealedAt != nil {
		return err
	}
	entries, err := a.chain(ctx, q, runID, int(r.LastSeq), r.LastHash)
	if err != nil {
		return err
	}
	for _, e := range entries {
		if e.Event.Kind == run.Pulled {
			return &Problem{Status: http.StatusConflict, Title: "Bolts have been pulled on this plan.", Remedy: "The plan of a joint in tightening does not change. Finish or take it apart; raise a departure with the reason."}
		}
	}
	if err := q.SetRunPlan(ctx, store.SetRunPlanParams{ID: runID, PlanID: row.ID}); err != nil {
		return err
	}
	r.PlanID = row.ID
	e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: a.now().UTC().Truncate(time.Millisecond), Person: who.Person, Note: fmt.Sprintf("Plan version %d taken over. %s", row.Version, reason)}
	_, err = a.append(ctx, q, r, []run.Event{e})
	return err
}

// append adds events to a locked run, chained, and folds the run.
func (a *App) append(ctx context.Context, q *store.Queries, r store.Run, add []run.Event) (*run.State, error) {
	p, err := a.plan(ctx, q, r.PlanID)
	if err != nil {
		return nil, err
	}
	known, err := a.chain(ctx, q, r.ID, int(r.LastSeq), r.LastHash)
	if err != nil {
		return nil, err
	}
	entries := slices.Clip(known)
	var hands inHand
	for _, e := range entries {
		hands.take(e.Event)
	}
	hash := r.LastHash
	for _, e := range add {
		entry := record.Entry{Seq: len(entries) + 1, ReceivedAt: a.now().UTC().Truncate(time.Millisecond), PrevHash: hash, Event: e}
		if entry.Hash, err = record.Link(r.ID.String(), entry); err != nil {
			return nil, err
		}
		body, err := record.Canonical(e)
		if err != nil {
			return nil, err
		}
		hands.take(e)
		if err := q.InsertEvent(ctx, store.InsertEventParams{RunID: r.ID, Seq: int32(entry.Seq), ID: uuid.MustParse(e.ID), Kind: string(e.Kind), At: e.At, ReceivedAt: entry.ReceivedAt,
			PersonID: uuid.MustParse(e.Person.ID), Tools: hands[min(e.Hand, len(hands)-1)], Body: string(body), PrevHash: hash, Hash: entry.Hash}); err != nil {
			return nil, err
		}
		hash = entry.Hash
		entries = append(entries, entry)
	}
	s := run.Fold(p, eventsOf(entries), a.now())
	if err := q.AdvanceRun(ctx, store.AdvanceRunParams{ID: r.ID, LastSeq: int32(len(entries)), LastHash: hash}); err != nil {
		return nil, err
	}
	a.kept.putChain(r.ID, entries)
	return s, q.SetJointState(ctx, store.SetJointStateParams{ID: r.JointID, Glyph: s.Glyph, Stop: string(s.Stop), Summary: summaryText(s), PresentRun: &r.ID})
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
func summaryText(s *run.State) string {
	switch {
	case len(s.Blocked) > 0:
		return s.Blocked[0]
	case s.Verdict.Code == "go_round_again":
		return "go round again"
	case s.Stop == procedure.Ready:
		n, of := 0, 0
		for _, g := range s.Groups {
			if g.Stop == procedure.Ready {
				n, of = n+g.Cleared, of+g.Total
			}
		}
		return fmt.Sprintf("%d of %d checks cleared", n, of)
	case s.Stop == procedure.Tighten && s.Next != nil:
		return fmt.Sprintf("pass %d of %d", s.Pass, len(s.Passes))
	case s.Stop == procedure.Prove:
		return "to prove"
	case s.Stop == procedure.HandOver:
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
	v := RunView{ID: id, Joint: jointRow(j), PlanVersion: int(planRow.Version), StartedBy: r.StartedBy, StartedAt: r.StartedAt}
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
	if v.Entries, err = a.chain(ctx, a.q, u, int(r.LastSeq), r.LastHash); err != nil {
		return v, err
	}
	v.State = run.Fold(v.Plan, eventsOf(v.Entries), a.now())
	if v.Tools, err = crib(ctx, a.q); err != nil {
		return v, err
	}
	if r.SealedAt != nil {
		v.Record, err = a.q.RecordOfRun(ctx, u)
		v.State.Stop = procedure.Sealed
	}
	return v, err
}

// AppendEvents takes events from a device. The same event sent twice is one event. Each is acknowledged or refused by itself; an
// acknowledged one is kept for good.
func (a *App) AppendEvents(ctx context.Context, who Actor, id string, events []run.Event) (Appended, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return Appended{}, notFound("run", id)
	}
	out := Appended{Acks: []Ack{}}
	err = a.tx(ctx, func(q *store.Queries) error {
		r, err := q.LockRun(ctx, u)
		if none(err) {
			return notFound("run", id)
		}
		if err != nil {
			return err
		}
		known, err := a.known(ctx, q, events)
		if err != nil {
			return err
		}
		var add []run.Event
		place := map[string]int{}
		for _, e := range events {
			if old, ok := known[e.ID]; ok {
				out.Acks = append(out.Acks, old.ack(e, u))
				continue
			}
			if at, ok := place[e.ID]; ok { // twice in one parcel
				out.Acks = append(out.Acks, Ack{ID: e.ID, Seq: at})
				continue
			}
			e, err := a.admit(ctx, q, who, r, e)
			if pr, ok := AsProblem(err); ok {
				out.Acks = append(out.Acks, Ack{ID: e.ID, Refused: pr.Error()})
				continue
			}
			if err != nil {
				return err
			}
			add = append(add, e)
			place[e.ID] = int(r.LastSeq) + len(add)
			out.Acks = append(out.Acks, Ack{ID: e.ID, Seq: place[e.ID]})
		}
		if len(add) == 0 {
			return nil
		}
		_, err = a.append(ctx, q, r, add)
		return err
	})
	if err == nil {
		a.tellRun(id, who.Device)
	}
	return out, err
}

// tellRun says that something was added to a run, and by which device: that one knows already.
func (a *App) tellRun(id, device string) {
	a.tell("run:"+id, "events", map[string]string{"device": device})
}

type knownEvent struct {
	run  uuid.UUID
	seq  int
	body string
}

func (k knownEvent) ack(e run.Event, runID uuid.UUID) Ack {
	var old run.Event
	if k.run != runID || json.Unmarshal([]byte(k.body), &old) != nil || old.Kind != e.Kind || old.Fastener != e.Fastener || old.Pass != e.Pass || old.Check != e.Check {
		return Ack{ID: e.ID, Refused: "Another event was kept under the same identifier. Record it anew."}
	}
	return Ack{ID: e.ID, Seq: k.seq}
}

func (a *App) known(ctx context.Context, q *store.Queries, events []run.Event) (map[string]knownEvent, error) {
	ids := []uuid.UUID{}
	for _, e := range events {
		if u, err := uuid.Parse(e.ID); err == nil {
			ids = append(ids, u)
		}
	}
	rows, err := q.EventsByID(ctx, ids)
	if err != nil {
		return nil, err
	}
	out := map[string]knownEvent{}
	for _, r := range rows {
		out[r.ID.String()] = knownEvent{r.RunID, int(r.Seq), r.Body}
	}
	return out, nil
}

// admit checks that an event may come from this device and completes it: the person as the register knows them, the wrench with
// the certificate of the crib.
func (a *App) admit(ctx context.Context, q *store.Queries, who Actor, r store.Run, e run.Event) (run.Event, error) {
	if _, err := uuid.Parse(e.ID); err != nil {
		return e, &Problem{Status: http.StatusUnprocessableEntity, Title: "The event has no proper identifier.", Field: "id", Remedy: "Record it anew."}
	}
	if r.SealedAt != nil {
		return e, &Problem{Status: http.StatusConflict, Title: "The record is sealed.", Remedy: "Nothing can be added. Start new work on the joint."}
	}
	if e.Kind == run.Signed {
		return e, &Problem{Status: http.StatusForbidden, Title: "A signature needs the PIN.", Remedy: "Sign at the joint."}
	}
	if err := e.Validate(); err != nil {
		return e, err
	}
	if e.Person.ID != who.ID {
		u, err := uuid.Parse(e.Person.ID)
		if err != nil {
			return e, &Problem{Status: http.StatusUnprocessableEntity, Title: "The event names nobody.", Field: "person", Remedy: "Sign in and record it anew."}
		}
		ok, err := q.SignedInOn(ctx, store.SignedInOnParams{Device: who.Device, PersonID: u})
		if err != nil {
			return e, err
		}
		if !ok {
			return e, &Problem{Status: http.StatusForbidden, Title: e.Person.Name + " never signed in on this device.", Remedy: "Let the one who did the work sign in and record it."}
		}
		row, err := q.GetPerson(ctx, u)
		if err != nil {
			return e, err
		}
		e.Person = run.Person{ID: row.ID.String(), Name: row.Name, Role: row.Role}
	} else {
		e.Person = who.Person
	}
	e.At = e.At.UTC().Truncate(time.Millisecond)
	e.Signer = nil
	if err := asInCrib(ctx, q, &e); err != nil {
		return e, err
	}
	var err error
	for i, v := range e.Values {
		if e.Values[i].SI, err = canonical(v); err != nil {
			return e, err
		}
	}
	if e.Reading != nil {
		if e.Reading.SI, err = canonical(*e.Reading); err != nil {
			return e, err
		}
	}
	return e, nil
}

// canonical is a reading in the canonical unit of its kind; what is counted, or in a unit of no kind, stays as read.
func canonical(v run.Reading) (float64, error) {
	if v.Unit.Kind() == "" {
		return v.Value, nil
	}
	return quantity.Convert(v.Value, v.Unit, canonicalUnit(v.Unit))
}

// asInCrib puts the tools of the crib, as they stand there, in place of what the device says of them.
func asInCrib(ctx context.Context, q *store.Queries, e *run.Event) error {
	if e.Wrench == nil {
		return nil
	}
	get := func(tag string) (tool.Tool, error) {
		row, err := q.GetTool(ctx, tag)
		if none(err) {
			return tool.Tool{}, notFound("tool", tag)
		}
		if err != nil {
			return tool.Tool{}, err
		}
		return present(ctx, q, row.Data)
	}
	w, err := get(e.Wrench.Tag)
	if err != nil {
		return err
	}
	e.Wrench = &w
	if e.SetUp == nil {
		return nil
	}
	s := *e.SetUp
	s.String = slices.Clone(s.String)
	for i := range s.String {
		if s.String[i], err = get(s.String[i].Tag); err != nil {
			return err
		}
	}
	if len(s.String) == 0 || s.String[0].Tag != w.Tag {
		return &Problem{Status: http.StatusUnprocessableEntity, Title: "The set-up does not begin with the tool that is set.", Field: "setUp", Remedy: "Name wrench or pump first."}
	}
	e.SetUp = &s
	return nil
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

// SignatureInput is a signature as it is given at the joint.
type SignatureInput struct {
	PersonID string `json:"personId"`
	PIN      string `json:"pin"`
	Purpose  string `json:"purpose"`
	Check    string `json:"check"`
	Ref      string `json:"ref"`
	Pass     int    `json:"pass"`
	Reason   string `json:"reason"`
}

// Sign adds a signature by PIN. Anybody may sign on anybody's device; the rules of the run say who may sign what.
func (a *App) Sign(ctx context.Context, who Actor, id string, in SignatureInput) (RunView, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return RunView{}, notFound("run", id)
	}
	signer, err := a.CheckPIN(ctx, in.PersonID, in.PIN)
	if err != nil {
		return RunView{}, err
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		r, p, err := a.openRun(ctx, q, u)
		if err != nil {
			return err
		}
		entries, err := a.chain(ctx, q, u, int(r.LastSeq), r.LastHash)
		if err != nil {
			return err
		}
		e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Signed, At: a.now().UTC().Truncate(time.Millisecond), Person: who.Person, Purpose: in.Purpose, Check: in.Check,
			Ref: in.Ref, Pass: in.Pass, Reason: strings.TrimSpace(in.Reason), Signer: &signer}
		if signer.Role == run.Administrator { // an administrator signs as an engineer does
			signer.Role = run.Engineer
		}
		if err := run.MaySign(p, run.Fold(p, eventsOf(entries), a.now()), e); err != nil {
			return err
		}
		_, err = a.append(ctx, q, r, []run.Event{e})
		return err
	})
	if err != nil {
		return RunView{}, err
	}
	a.tellRun(id, "")
	return a.Run(ctx, id)
}
