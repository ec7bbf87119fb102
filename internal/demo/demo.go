// Package demo makes the invented Tarn Skerry Tidal Station: people, crib, lubricant cards, a register of joints and
// some work.
package demo

import (
	"context"
	_ "embed"
	"fmt"
	"time"

	"github.com/google/uuid"

	"dynacor/core/authority"
	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/rehearsal"
	"dynacor/core/run"
	"dynacor/internal/app"
)

// Register is the register of joints of the demo site, as a person would bring it.
//
//go:embed register.csv
var Register []byte

// SignIns tells the made-up people and their PINs.
const SignIns = "M. Tolley 4071 technician · I. Quaye 5826 technician, lead · R. Abara 9340 inspector · J. Hartwell 2758 " +
	"engineer · B. Ode 6193 administrator"

var people = []struct{ name, role, pin string }{
	{"M. Tolley", authority.Technician, "4071"}, {"I. Quaye", "technician, lead", "5826"},
	{"R. Abara", authority.Inspector, "9340"}, {"J. Hartwell", authority.Engineer, "2758"},
	{"B. Ode", authority.Administrator, "6193"},
}

// Load fills an empty installation; one that has people already is left as it is.
func Load(ctx context.Context, a *app.App, now time.Time) error {
	have, err := a.People(ctx)
	if err != nil || len(have) > 0 {
		return err
	}
	if err := a.PutSetting(ctx, app.SettingDemo, SignIns); err != nil {
		return err
	}
	if _, err := a.PutSite(ctx, site()); err != nil {
		return err
	}
	crew := map[string]app.Actor{}
	for _, p := range people {
		made, err := a.AddPerson(ctx, p.name, p.role, p.pin)
		if err != nil {
			return err
		}
		crew[p.name] = app.Actor{Person: made, Device: "demo"}
	}
	engineer := crew["J. Hartwell"]
	for _, c := range cards() {
		if _, err := a.PutLibraryValue(ctx, engineer, app.ShelfLubricants, c.Code,
			app.LibraryValue{Lubricant: &c, Reason: c.Note}); err != nil {
			return err
		}
	}
	for _, w := range crib(now) {
		if _, err := a.PutTool(ctx, engineer, w, "first entry"); err != nil {
			return fmt.Errorf("demo tool %s: %w", w.Tag, err)
		}
	}
	if _, err := a.Quarantine(ctx, crew["M. Tolley"], "W-25", "dropped from the scaffold"); err != nil {
		return err
	}
	for tag, token := range Tokens {
		if err := a.SetDeviceToken(ctx, engineer, tag, token); err != nil {
			return err
		}
	}
	res, err := a.Import(ctx, engineer, Register, true)
	if err != nil {
		return err
	}
	if len(res.Errors) > 0 {
		return fmt.Errorf("demo register: line %d, %s: %s", res.Errors[0].Line, res.Errors[0].Column,
			res.Errors[0].What)
	}
	if err := families(ctx, a, engineer); err != nil {
		return err
	}
	if _, err := a.CheckOut(ctx, crew["I. Quaye"], "E-03", "TB-204"); err != nil {
		return err
	}
	return work(ctx, a, crew, now)
}

func cards() []fastener.Lubricant {
	card := func(code, name, condition string, k, spread float64, mu fastener.Band, src fastener.KSource,
		note string) fastener.Lubricant {
		base, err := fastener.LubricantCondition(condition)
		if err != nil {
			panic(err) // a condition misspelt above
		}
		_, band, err := fastener.ChooseNutFactor([]fastener.KValue{{Source: src, K: k, SpreadPct: spread}}, condition)
		if err != nil {
			panic(err)
		}
		base.Code, base.Name, base.K, base.Source, base.Note, base.Methods = code, name, band, src, note,
			[]string{"brush", "thin film by glove"}
		base.MuThread, base.MuHead = mu, mu // what the same test gave
		return base
	}
	return []fastener.Lubricant{
		card("L-07", "L-07 moly paste", "moly_paste", 0.15, 13, fastener.Band{Low: .09, Typ: .11, High: .14},
			fastener.KSite, "Own test of eight M27 studs with plated nuts, October 2026."),
		card("L-12", "L-12 copper paste", "copper_antiseize", 0.17, 15, fastener.Band{Low: .11, Typ: .13, High: .15},
			fastener.KMaker, "Maker's sheet, M16 to M36."),
		card("L-15", "L-15 stainless paste", "stainless_antiseize", 0.16, 20,
			fastener.Band{Low: .09, Typ: .12, High: .15}, fastener.KProject,
			"Laid down by the project for stainless studs."),
	}
}

// chosen are set-ups that the planner took instead of the first in the list.
var chosen = map[string]string{"TB-212": "P-2+N-1+H-2+S8-55"}

// work carries some joints to different stops, on the same rules as everybody's.
func work(ctx context.Context, a *app.App, crew map[string]app.Actor, now time.Time) error {
	tolley, quaye := crew["M. Tolley"], crew["I. Quaye"]
	for _, j := range []struct {
		tag  string
		who  app.Actor
		at   time.Time
		stop func(w *worker) error
	}{
		{"SW-111", tolley, now.Add(-26 * time.Hour), (*worker).sealed},
		{"SC-12", quaye, now.Add(-50 * time.Hour), (*worker).sealed},
		{"SC-11", quaye, now.Add(-74 * time.Hour), (*worker).sealed},
		{"ST-05", tolley, now.Add(-98 * time.Hour), (*worker).sealed},
		{"PC-02", quaye, now.Add(-140 * time.Minute), (*worker).notSlung},
		{"SD-21", tolley, now.Add(-95 * time.Minute), pulls(15)},
		{"BV-14", quaye, now.Add(-70 * time.Minute), pulls(21)},
		{"SW-117", quaye, now.Add(-4 * time.Hour), (*worker).toProve},
		{"SW-113", tolley, now.Add(-5 * time.Hour), (*worker).turned},
		{"SW-115", tolley, now.Add(-2 * time.Hour), (*worker).wrongPaste},
		{"GB-02", quaye, now.Add(-3 * time.Hour), (*worker).halfReady},
		{"TB-212", quaye, now.Add(-50 * time.Minute), (*worker).inStageTwoByPressure},
		{"SW-114", tolley, now.Add(-32 * time.Minute), (*worker).inStageTwo},
	} {
		view, err := a.StartRun(ctx, j.who, j.tag, plan.Choices{Wrench: chosen[j.tag]}, "")
		if err != nil {
			return fmt.Errorf("demo run %s: %w", j.tag, err)
		}
		w := &worker{ctx: ctx, a: a, crew: crew, who: j.who, id: view.ID,
			s: rehearsal.New(view.Plan, j.at, rehearsal.Crew{Hand: j.who.Person})}
		w.s.Events = append(w.s.Events, view.Entries[0].Event)
		w.sent = 1
		if err := j.stop(w); err != nil {
			return fmt.Errorf("demo run %s: %w", j.tag, err)
		}
	}
	return nil
}

// worker plays a technician: it lays out events as in a test and sends them as a device does.
type worker struct {
	ctx  context.Context
	a    *app.App
	crew map[string]app.Actor
	who  app.Actor
	id   string
	s    *rehearsal.Script
	sent int
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
	for range w.s.Plan.Specification.Bolts {
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
