package demo

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/record"
	"dynacor/core/rehearsal"
	"dynacor/core/run"
	"dynacor/internal/app"
)

// worker plays a technician: it lays out events as in a test and sends them as a device does.
type worker struct {
	ctx  context.Context
	a    *app.App
	crew map[string]app.Actor
	who  app.Actor
	at   time.Time
	id   string
	s    *rehearsal.Script
	sent int
	read map[int]float64 // share of the setting at which a fastener came to rest, where it was not the setting itself
}

// begin takes a run in hand.
func (w *worker) begin(v app.RunView) {
	w.id, w.s = v.ID, rehearsal.New(v.Plan, w.at, rehearsal.Crew{Hand: w.who.Person})
	w.s.Events = append(w.s.Events, v.Entries[0].Event)
	w.sent = 1
}

func (w *worker) send() error {
	list := w.s.Events[w.sent:]
	for i := range list {
		list[i].ID = uuid.Must(uuid.NewV7()).String()
	}
	if len(list) == 0 {
		return nil
	}
	photos := rehearsal.Photos(list, func() string { return uuid.Must(uuid.NewV7()).String() })
	res, err := w.a.AppendEvents(w.ctx, w.who, w.id, list)
	if err != nil {
		return err
	}
	for _, k := range res.Acks {
		if k.Refused != "" {
			return fmt.Errorf("%s", k.Refused)
		}
	}
	for _, id := range photos {
		if err := w.a.PutPhoto(w.ctx, w.who, w.id, id, rehearsal.Picture()); err != nil {
			return err
		}
	}
	w.sent = len(w.s.Events)
	return nil
}

// sign sends what is waiting, signs, and takes the signature into the script.
func (w *worker) sign(name string, purpose run.Purpose, check, reason string) error {
	if err := w.send(); err != nil {
		return err
	}
	pin := ""
	for _, p := range people {
		if p.name == name {
			pin = p.pin
		}
	}
	head, err := w.a.Head(w.ctx, w.id)
	if err != nil {
		return err
	}
	v, err := w.a.Sign(w.ctx, w.who, w.id, app.SignatureInput{ID: uuid.Must(uuid.NewV7()).String(), Head: head,
		PersonID: w.crew[name].ID, PIN: pin, Purpose: purpose, Check: check, Reason: reason})
	if err != nil {
		return err
	}
	w.s.Events = append(w.s.Events, v.Entries[len(v.Entries)-1].Event)
	w.sent = len(w.s.Events)
	return nil
}

func (w *worker) checks(stop procedure.Station, leave ...string) error {
	for _, c := range w.s.Plan.Checks {
		if c.Station != stop || containsText(leave, c.Code) {
			continue
		}
		signed := c.Signed()
		c.Hold, c.Witness = false, false
		w.s.Answer(c)
		if signed {
			second := "I. Quaye"
			if w.who.Name == second {
				second = "R. Abara"
			}
			if err := w.sign(second, run.SignHold, c.Code, ""); err != nil {
				return err
			}
		}
	}
	return w.send()
}

func containsText(list []string, s string) bool {
	for _, x := range list {
		if x == s {
			return true
		}
	}
	return false
}

func (w *worker) tighten() error {
	if err := w.checks(procedure.Ready); err != nil {
		return err
	}
	w.s.Tighten()
	last := 0
	for _, e := range w.s.Events {
		last = max(last, e.Pass)
	}
	for i := range w.s.Events {
		e := &w.s.Events[i]
		if share := w.read[e.Fastener]; share > 0 && e.Pass == last && e.Reading != nil {
			v := quantity.Significant(e.Setting*share, 3)
			e.Reading = &run.Reading{Value: v, Unit: e.Reading.Unit, SI: v,
				Text: quantity.Text(v) + " " + e.Reading.Unit.Symbol()}
		}
	}
	return w.send()
}

func (w *worker) gap(mm ...float64) {
	w.s.Add(run.Event{Kind: run.CheckAnswered, Check: "gap_after", Values: rehearsal.Readings(mm...)})
}

func (w *worker) sealed() error {
	if err := w.tighten(); err != nil {
		return err
	}
	w.gap(1.64, 1.66, 1.69, 1.67, 1.65, 1.63, 1.63, 1.64)
	w.s.Add(run.Event{Kind: run.CheckAnswered, Check: "engagement", Answer: "yes"})
	if err := w.checks(procedure.HandOver); err != nil {
		return err
	}
	if err := w.sign(w.who.Name, run.SignTightened, "", ""); err != nil {
		return err
	}
	if err := w.sign("R. Abara", run.SignProved, "", ""); err != nil {
		return err
	}
	_, err := w.a.Seal(w.ctx, w.id)
	return err
}

// sealedAndTurned is a joint whose nuts turned in the first check round as their neighbours had taken load from them,
// and one of them more than that.
func (w *worker) sealedAndTurned() error {
	w.s.Turns = map[int]float64{1: 12.5, 3: 21, 4: 5.5, 5: 12.5, 7: 32, 8: 9}
	return w.sealed()
}

// wept is a joint that was sealed, wept at its first start, and was made again with a new gasket.
func (w *worker) wept() error {
	w.read = map[int]float64{1: 1.004, 2: 0.998, 3: 1.006, 4: 1.002, 5: 0.996, 6: 0.968, 7: 1.003, 8: 0.999}
	if err := w.sealed(); err != nil {
		return err
	}
	page, err := w.a.Records(w.ctx, app.RecordSearch{Text: "TB-206", Limit: 1})
	if err != nil {
		return err
	}
	quaye := w.crew["I. Quaye"]
	wept := app.AdditionInput{Kind: record.Finding, PersonID: quaye.ID, PIN: "5826",
		What: "Wept between bolts 5 and 6 at the first start, 12 bar, 41 °C."}
	if _, err := w.a.Add(w.ctx, quaye, page.Rows[0].Number, wept); err != nil {
		return err
	}
	w.at = w.at.Add(70 * time.Hour)
	view, err := w.a.WorkAgain(w.ctx, w.who, "TB-206", plan.Pick(plan.GroupChoices{Wrench: chosen["TB-206"]}), "",
		"wept at its first start: new gasket")
	if err != nil {
		return err
	}
	w.begin(view)
	w.read = map[int]float64{1: 0.997, 2: 1.005, 3: 1.001, 4: 0.999, 5: 1.003, 6: 0.973, 7: 0.998, 8: 1.002}
	return w.sealed()
}

func (w *worker) toProve() error {
	if err := w.tighten(); err != nil {
		return err
	}
	w.s.Add(run.Event{Kind: run.CheckAnswered, Check: "engagement", Answer: "yes"})
	return w.send()
}

// turned leaves a joint that must go round again: two nuts turned in the check round.
func (w *worker) turned() error {
	if err := w.checks(procedure.Ready); err != nil {
		return err
	}
	for st := w.s.State(); st.Passes[st.Pass-1].Kind != "check"; st = w.s.State() {
		w.s.Pull()
	}
	for range w.s.Plan.Specification.First().Bolts {
		st := w.s.State()
		if st.Confirm != "" {
			w.s.Add(run.Event{Kind: run.SettingConfirmed, Setting: st.Setting})
			st = w.s.State()
		}
		e := run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: run.Clicked,
			Setting: st.Setting}
		moved := st.Next.Fastener == 4 || st.Next.Fastener == 12
		e.Moved = &moved
		if moved {
			e.TurnedDeg = float64(st.Next.Fastener) - 1
		}
		w.s.Add(e)
	}
	return w.send()
}

func (w *worker) wrongPaste() error {
	if err := w.checks(procedure.Ready, "lubricant", "lubricated"); err != nil {
		return err
	}
	w.s.Add(run.Event{Kind: run.CheckAnswered, Check: "lubricant", Answer: "L-12", Product: "tin 0418", Batch: "C8"})
	return w.send()
}

func (w *worker) halfReady() error {
	return w.checks(procedure.Ready, "gap", "offset", "overlap", "marked", "lubricated")
}

// toStageTwo runs the nuts up by hand and goes through the first stage.
func (w *worker) toStageTwo() {
	for st := w.s.State(); w.s.Plan.Passes[st.Pass-1].Stage < 1; st = w.s.State() {
		w.s.Pull()
	}
}

// inStageTwo is the joint of the pictures: in its second stage, a bolt short, one left for later.
func (w *worker) inStageTwo() error {
	if err := w.checks(procedure.Ready); err != nil {
		return err
	}
	w.toStageTwo()
	for i := range 8 {
		st := w.s.State()
		if st.Confirm != "" {
			w.s.Add(run.Event{Kind: run.SettingConfirmed, Setting: st.Setting})
			st = w.s.State()
		}
		e := run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: run.Clicked,
			Setting: st.Setting}
		if i == 3 {
			e.Outcome = run.Short
		}
		if i == 5 {
			e = run.Event{Kind: run.Skipped, Pass: st.Pass, Fastener: st.Next.Fastener,
				Reason: "pipe support in the way, crowfoot on its way"}
		}
		w.s.Add(e)
	}
	return w.send()
}

// pulls leaves a joint after so many visits, whatever its passes ask for.
func pulls(n int) func(w *worker) error {
	return func(w *worker) error {
		if err := w.checks(procedure.Ready); err != nil {
			return err
		}
		for range n {
			w.s.Pull()
		}
		return w.send()
	}
}

// notSlung leaves a closure in Ready, its pistons still to be compared.
func (w *worker) notSlung() error {
	return w.checks(procedure.Ready, "pistons", "port_side", "stud_end", "slung")
}

// inStageTwoByPressure is a joint under the hydraulic wrench, some nuts into its second stage.
func (w *worker) inStageTwoByPressure() error {
	if err := w.checks(procedure.Ready); err != nil {
		return err
	}
	w.toStageTwo()
	for range 5 {
		w.s.Pull()
	}
	return w.send()
}
