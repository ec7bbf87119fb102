// Package demo makes the invented Tarn Skerry Tidal Station: people, crib, lubricant cards, a register of joints and
// some work, in the middle of a shutdown.
package demo

import (
	"context"
	_ "embed"
	"fmt"
	"time"

	"dynacor/core/authority"
	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/tool"
	"dynacor/internal/app"
)

// Register is the register of joints of the demo site, as a person would bring it.
//
//go:embed register.csv
var Register []byte

// SignIns tells the made-up people and their PINs.
const SignIns = "M. Tolley 4071 technician · I. Quaye 5826 technician, lead · R. Abara 9340 inspector · J. Hartwell 2758 " +
	"engineer · B. Ode 6193 administrator · D. Lund 8802 technician · K. Ferreira 3316 technician, lead · " +
	"N. Okafor 7719 technician, tool keeper · P. Sorley 6451 inspector"

var people = []struct{ name, role, pin string }{
	{"M. Tolley", authority.Technician, "4071"}, {"I. Quaye", "technician, lead", "5826"},
	{"R. Abara", authority.Inspector, "9340"}, {"J. Hartwell", authority.Engineer, "2758"},
	{"B. Ode", authority.Administrator, "6193"}, {"D. Lund", authority.Technician, "8802"},
	{"K. Ferreira", "technician, lead", "3316"}, {"N. Okafor", "technician, tool keeper", "7719"},
	{"P. Sorley", authority.Inspector, "6451"},
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
	for _, code := range []tool.Kind{tool.HydraulicWrench, tool.Pump} {
		if err := a.ChangeMember(ctx, crew["I. Quaye"].ID, app.MemberChange{Training: &app.Training{About: "tool",
			Code: string(code), Until: now.AddDate(0, 7, 0).Format(time.DateOnly),
			Note: "two days at the maker's, certificate 2231"}}); err != nil {
			return err
		}
	}
	for _, name := range []string{"M. Tolley", "N. Okafor", "D. Lund", "I. Quaye", "P. Sorley", "R. Abara"} {
		if err := a.ChangeMember(
			ctx,
			crew[name].ID,
			app.MemberChange{Training: &app.Training{About: "skill", Code: atHeight,
				Until: now.AddDate(1, 2, 0).Format(time.DateOnly), Note: "one day, site school"}},
		); err != nil {
			return err
		}
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
	if err := work(ctx, a, crew, jobs(crew, now)); err != nil {
		return err
	}
	if err := tests(ctx, a, crew, now); err != nil {
		return err
	}
	if err := outage(ctx, a, crew, now); err != nil {
		return err
	}
	return work(ctx, a, crew, []job{{"SW-115", crew["M. Tolley"], now.Add(-4 * time.Minute), (*worker).wrongPaste}})
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
var chosen = map[string]string{"TB-212": "P-2+N-1+H-2+S8-55", "TB-206": "E-03+S4-30"}

// job carries a joint to a stop.
type job struct {
	tag  string
	who  app.Actor
	at   time.Time
	stop func(w *worker) error
}

// jobs are what was done before the plan of the shutdown was put in force.
func jobs(crew map[string]app.Actor, now time.Time) []job {
	tolley, quaye := crew["M. Tolley"], crew["I. Quaye"]
	return []job{
		{"SW-111", tolley, now.Add(-26 * time.Hour), (*worker).sealed},
		{"SC-12", quaye, now.Add(-50 * time.Hour), (*worker).sealedAndTurned},
		{"SC-11", quaye, now.Add(-74 * time.Hour), (*worker).sealed},
		{"ST-05", tolley, now.Add(-98 * time.Hour), (*worker).sealed},
		{"TB-206", quaye, now.Add(-122 * time.Hour), (*worker).wept},
		{"PC-02", quaye, now.Add(-140 * time.Minute), (*worker).notSlung},
		{"SD-21", tolley, now.Add(-95 * time.Minute), pulls(15)},
		{"BV-14", quaye, now.Add(-70 * time.Minute), pulls(21)},
		{"SW-117", quaye, now.Add(-4 * time.Hour), (*worker).toProve},
		{"SW-113", tolley, now.Add(-5 * time.Hour), (*worker).turned},
		{"GB-02", quaye, now.Add(-3 * time.Hour), (*worker).halfReady},
		{"TB-212", quaye, now.Add(-50 * time.Minute), (*worker).inStageTwoByPressure},
		{"SW-114", tolley, now.Add(-32 * time.Minute), (*worker).inStageTwo},
	}
}

// work carries joints to their stops, on the same rules as everybody's.
func work(ctx context.Context, a *app.App, crew map[string]app.Actor, list []job) error {
	for _, j := range list {
		view, err := a.StartRun(ctx, j.who, j.tag, plan.Pick(plan.GroupChoices{Wrench: chosen[j.tag]}), "")
		if err != nil {
			return fmt.Errorf("demo run %s: %w", j.tag, err)
		}
		w := &worker{ctx: ctx, a: a, crew: crew, who: j.who, at: j.at}
		w.begin(view)
		if err := j.stop(w); err != nil {
			return fmt.Errorf("demo run %s: %w", j.tag, err)
		}
	}
	return nil
}
