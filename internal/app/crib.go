package app

import (
	"context"
	"net/http"
	"strings"
	"time"

	"dynacor/core/plan"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/store"
)

// ToolView is a wrench as the Crib shows it.
type ToolView struct {
	Wrench    tool.Tool `json:"wrench"`
	Condition string      `json:"condition"` // fit, due_soon, overdue, quarantined
	DaysLeft  int         `json:"daysLeft"`
	UsableMin float64     `json:"usableMin"`
	UsableMax float64     `json:"usableMax"`
	MinNm     float64     `json:"minNm"` // the usable range in N·m, to draw tools on one scale
	MaxNm     float64     `json:"maxNm"`
	Holder    string      `json:"holder"` // who has it out, "" when it is in the crib
	OutAt     string      `json:"outAt"`  // where
}

// UsedOn is a joint that a wrench pulled.
type UsedOn struct {
	Tag      string    `json:"tag"`
	Name     string    `json:"name"`
	LastUsed time.Time `json:"lastUsed"`
}

// ToolDetail is a wrench with the joints it was used on since its last good evidence (calibration or a passed check), its checks, the
// joints in doubt for it, and who had it.
type ToolDetail struct {
	Tool   ToolView    `json:"tool"`
	Since  string      `json:"since"`
	Used   []UsedOn    `json:"used"`
	Checks []ToolCheck `json:"checks"` // newest first
	Doubts []Doubt     `json:"doubts"` // open ones first
	Loans  []Loan      `json:"loans"`  // newest first
}

// Tools gives the crib.
func (a *App) Tools(ctx context.Context) ([]ToolView, error) {
	list, err := wrenches(ctx, a.q)
	if err != nil {
		return nil, err
	}
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return nil, err
	}
	loans, err := a.q.OpenLoans(ctx)
	if err != nil {
		return nil, err
	}
	out := []ToolView{}
	for _, w := range list {
		v := a.toolView(w, rules)
		for _, l := range loans {
			if l.Tag == w.Tag {
				v.Holder, v.OutAt = l.Person, l.Place
			}
		}
		out = append(out, v)
	}
	return out, nil
}

func (a *App) toolView(w tool.Tool, rules plan.HouseRules) ToolView {
	v := ToolView{Wrench: w, Condition: w.Condition(a.now(), rules.DueSoonDays)}
	if ends, err := time.Parse(time.DateOnly, string(w.CalibrationEnds)); err == nil {
		v.DaysLeft = int(ends.Sub(a.now().Truncate(24*time.Hour)).Hours() / 24)
	}
	v.UsableMin, v.UsableMax = w.Usable(rules.MinFrac)
	v.MinNm, v.MaxNm = w.NewtonMetres(v.UsableMin), w.NewtonMetres(v.UsableMax)
	return v
}

// Tool gives one wrench and where it was used since its last good evidence.
func (a *App) Tool(ctx context.Context, tag string) (ToolDetail, error) {
	row, err := a.q.GetWrench(ctx, tag)
	if none(err) {
		return ToolDetail{}, notFound("wrench", tag)
	}
	if err != nil {
		return ToolDetail{}, err
	}
	w, err := decode[tool.Tool](row.Data)
	if err != nil {
		return ToolDetail{}, err
	}
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return ToolDetail{}, err
	}
	since, err := evidence(ctx, a.q, w)
	if err != nil {
		return ToolDetail{}, err
	}
	used, err := a.q.JointsByWrench(ctx, store.JointsByWrenchParams{Wrench: tag, At: since})
	if err != nil {
		return ToolDetail{}, err
	}
	d := ToolDetail{Tool: a.toolView(w, rules), Since: since.Format(time.DateOnly), Used: []UsedOn{}, Checks: []ToolCheck{}, Doubts: []Doubt{}, Loans: []Loan{}}
	if err := a.trust(ctx, &d, tag); err != nil {
		return d, err
	}
	if len(d.Loans) > 0 && d.Loans[0].BackAt == nil {
		d.Tool.Holder, d.Tool.OutAt = d.Loans[0].Person, d.Loans[0].Place
	}
	for _, u := range used {
		d.Used = append(d.Used, UsedOn{u.Tag, u.Name, u.LastUsed})
	}
	return d, nil
}

// PutTool enters a wrench or changes its data. Its state is changed by Quarantine and Release alone.
func (a *App) PutTool(ctx context.Context, who Actor, w tool.Tool) (ToolDetail, error) {
	if err := who.needs("change the crib", run.Engineer, run.Inspector); err != nil {
		return ToolDetail{}, err
	}
	w.Kind = "click"
	if err := w.Check(); err != nil {
		return ToolDetail{}, err
	}
	if err := checkTag(w.Tag); err != nil {
		return ToolDetail{}, err
	}
	err := a.tx(ctx, func(q *store.Queries) error {
		w.State, w.StateReason = tool.InService, ""
		if row, err := q.LockWrench(ctx, w.Tag); err == nil {
			old, err := decode[tool.Tool](row.Data)
			if err != nil {
				return err
			}
			w.State, w.StateReason = old.State, old.StateReason
		} else if !none(err) {
			return err
		}
		return putWrench(ctx, q, w)
	})
	if err != nil {
		return ToolDetail{}, err
	}
	return a.Tool(ctx, w.Tag)
}

func putWrench(ctx context.Context, q *store.Queries, w tool.Tool) error {
	data, err := encode(w)
	if err != nil {
		return err
	}
	return q.PutWrench(ctx, store.PutWrenchParams{Tag: w.Tag, Data: data})
}

// Quarantine puts a wrench aside at once: anybody who saw it dropped or doubts it may. The joints it tightened since its last good
// evidence are in doubt then.
func (a *App) Quarantine(ctx context.Context, who Actor, tag, reason string) (ToolDetail, error) {
	return a.setToolState(ctx, tag, tool.Quarantined, strings.TrimSpace(reason), who.Name)
}

// Release takes a wrench back into service after someone qualified has looked at it.
func (a *App) Release(ctx context.Context, who Actor, tag, reason string) (ToolDetail, error) {
	if err := who.needs("release a tool", run.Inspector, run.Engineer); err != nil {
		return ToolDetail{}, err
	}
	return a.setToolState(ctx, tag, tool.InService, strings.TrimSpace(reason), who.Name)
}

func (a *App) setToolState(ctx context.Context, tag string, state tool.State, reason, by string) (ToolDetail, error) {
	if reason == "" {
		return ToolDetail{}, &Problem{Status: http.StatusUnprocessableEntity, Title: "Say why.", Field: "reason", Remedy: "A few words: dropped, sticks, checked on the bench."}
	}
	err := a.tx(ctx, func(q *store.Queries) error {
		w, err := lockWrench(ctx, q, tag)
		if err != nil {
			return err
		}
		if state == tool.Quarantined {
			return a.putAside(ctx, q, by, w, reason)
		}
		w.State, w.StateReason = state, reason+" ("+by+", "+a.now().Format("2 Jan 2006")+")"
		return putWrench(ctx, q, w)
	})
	if err != nil {
		return ToolDetail{}, err
	}
	return a.Tool(ctx, tag)
}
