package app

import (
	"context"
	"reflect"
	"strings"

	"dynacor/core/tool"
	"dynacor/internal/store"
)

// PutTool enters a tool or changes its data. Its state is changed by Quarantine and Release alone.
func (a *App) PutTool(ctx context.Context, who Actor, t tool.Tool, reason string) (ToolDetail, error) {
	if err := t.Check(); err != nil {
		return ToolDetail{}, err
	}
	if err := checkTag(t.Tag); err != nil {
		return ToolDetail{}, err
	}
	reason = strings.TrimSpace(reason)
	err := a.tx(ctx, func(q *store.Queries) error {
		t.State, t.StateReason = tool.InService, ""
		if row, err := q.LockTool(ctx, t.Tag); err == nil {
			old, err := decode[tool.Tool](row.Data)
			if err != nil {
				return err
			}
			if reason == "" && !reflect.DeepEqual(evidenceOf(old), evidenceOf(t)) {
				return &Problem{Kind: Invalid, Title: "Certificate or range of " + t.Tag + " changes.", Field: "reason",
					Remedy: "Say why in a few words: calibrated anew, typed wrongly. The version before is kept."}
			}
			t.State, t.StateReason = old.State, old.StateReason
		} else if !none(err) {
			return err
		}
		return a.putTool(ctx, q, t, who.Name, reason)
	})
	if err != nil {
		return ToolDetail{}, err
	}
	return a.Tool(ctx, t.Tag)
}

// evidenceOf is what of a tool the judgement of records rests on.
func evidenceOf(t tool.Tool) tool.Tool {
	return tool.Tool{Kind: t.Kind, Serial: t.Serial, Unit: t.Unit, RatedMin: t.RatedMin, RatedMax: t.RatedMax,
		AccuracyPct: t.AccuracyPct, Certificate: t.Certificate, CalibratedOn: t.CalibratedOn,
		CalibrationEnds: t.CalibrationEnds, CycleLimit: t.CycleLimit, Chart: t.Chart, Points: t.Points, Gear: t.Gear}
}

// putTool keeps a tool as its present state and as a version, with who and why; pulls are counted from the events and
// not written down again.
func (a *App) putTool(ctx context.Context, q *store.Queries, t tool.Tool, by, reason string) error {
	if t.CycleLimit > 0 {
		t.Cycles = 0
	}
	data, err := encode(t)
	if err != nil {
		return err
	}
	if err := q.PutTool(ctx, store.PutToolParams{Tag: t.Tag, Data: data}); err != nil {
		return err
	}
	return q.InsertToolVersion(ctx, store.InsertToolVersionParams{Tag: t.Tag, Data: data, MadeBy: by, Reason: reason,
		MadeAt: a.now().UTC()})
}

// Quarantine puts a tool aside at once: anybody who saw it dropped or doubts it may. The joints it tightened since its
// last good evidence are in doubt then.
func (a *App) Quarantine(ctx context.Context, who Actor, tag, reason string) (ToolDetail, error) {
	return a.setToolState(ctx, tag, tool.Quarantined, strings.TrimSpace(reason), who)
}

// Release takes a tool back into service after someone qualified has looked at it.
func (a *App) Release(ctx context.Context, who Actor, tag, reason string) (ToolDetail, error) {
	return a.setToolState(ctx, tag, tool.InService, strings.TrimSpace(reason), who)
}

func (a *App) setToolState(ctx context.Context, tag string, state tool.State, reason string, who Actor) (ToolDetail,
	error) {
	if reason == "" {
		return ToolDetail{}, &Problem{Kind: Invalid, Title: "Say why.", Field: "reason",
			Remedy: "A few words: dropped, sticks, checked on the bench."}
	}
	told := told{}
	err := a.tx(ctx, func(q *store.Queries) error {
		t, err := lockTool(ctx, q, tag)
		if err != nil {
			return err
		}
		if state == tool.Quarantined {
			return a.putAside(ctx, q, who, t, reason, told)
		}
		t.State, t.StateReason = state, reason+" ("+who.Name+", "+a.now().Format("2 Jan 2006")+")"
		return a.putTool(ctx, q, t, who.Name, reason)
	})
	if err != nil {
		return ToolDetail{}, err
	}
	a.tellAll(told)
	return a.Tool(ctx, tag)
}
