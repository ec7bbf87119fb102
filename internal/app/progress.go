package app

import (
	"context"
	"time"

	"dynacor/core/run"
	"dynacor/core/schedule"
	"dynacor/core/shutdown"
	"dynacor/internal/store"
)

// ProgressArea is how far an area has come.
type ProgressArea struct {
	Area    string `json:"area"`
	Total   int    `json:"total"`
	Done    int    `json:"done"`
	InHand  int    `json:"inHand"`
	Stopped int    `json:"stopped"`
}

// ProgressView is how far a work package has come against its plan, for the morning meeting.
type ProgressView struct {
	Code     string         `json:"code"`
	Name     string         `json:"name"`
	Now      time.Time      `json:"now"`
	Total    int            `json:"total"`
	Done     []time.Time    `json:"done"`    // when each accepted joint was sealed
	Planned  []time.Time    `json:"planned"` // when each was to be done by the plan in force
	Behind   int            `json:"behind"`  // joints less than planned by now
	Areas    []ProgressArea `json:"areas"`
	InForce  *time.Time     `json:"inForce,omitempty"`  // since when a plan is
	Finish   *time.Time     `json:"finish,omitempty"`   // by the plan in force
	P80      *time.Time     `json:"p80,omitempty"`      // in 80 of 100 runs of it
	Forecast *time.Time     `json:"forecast,omitempty"` // at the pace of the last day
	Says     []string       `json:"says"`               // what is behind, and why, in sentences
	Stopped  []string       `json:"stopped"`
}

// paceOf is what a forecast looks back on.
const paceOf = 24 * time.Hour

// Progress holds a work package against its plan.
func (a *App) Progress(ctx context.Context, code string) (ProgressView, error) {
	v := ProgressView{Code: code, Now: a.now(), Done: []time.Time{}, Planned: []time.Time{}, Areas: []ProgressArea{},
		Says: []string{}, Stopped: []string{}}
	p, err := a.q.GetPackage(ctx, code)
	if none(err) {
		return v, notFound("work package", code)
	}
	if err != nil {
		return v, err
	}
	v.Name = p.Name
	rows, err := a.q.SealedOfPackage(ctx, store.SealedOfPackageParams{Package: code, N: mostShiftJoints})
	if err != nil {
		return v, err
	}
	done := map[string]bool{}
	for _, r := range rows {
		v.joint(r, done)
	}
	v.Total = len(rows)
	joints, err := a.q.PackageJoints(ctx, store.PackageJointsParams{Package: code, N: mostShiftJoints})
	if err != nil {
		return v, err
	}
	for _, j := range joints {
		if j.Glyph == string(run.GlyphStopped) || j.Glyph == string(run.GlyphTurnedDown) {
			v.Stopped = append(v.Stopped, j.Tag+", "+j.Name+": "+j.Summary)
		}
	}
	return v, a.againstPlan(ctx, code, &v)
}

func (v *ProgressView) joint(r store.SealedOfPackageRow, done map[string]bool) {
	if n := len(v.Areas); n == 0 || v.Areas[n-1].Area != r.Area {
		v.Areas = append(v.Areas, ProgressArea{Area: r.Area})
	}
	x := &v.Areas[len(v.Areas)-1]
	x.Total++
	switch run.Glyph(r.Glyph) {
	case run.GlyphAccepted:
		x.Done++
		done[r.Tag] = true
		v.Done = append(v.Done, r.SealedAt)
	case run.GlyphInHand, run.GlyphToProve:
		x.InHand++
	case run.GlyphStopped, run.GlyphTurnedDown:
		x.Stopped++
	}
}

// againstPlan tells what the plan in force had in mind. What was done before it counts as planned when it was done.
func (a *App) againstPlan(ctx context.Context, code string, v *ProgressView) error {
	f, err := a.ShiftInForce(ctx, code)
	if err != nil || f.Plan == nil {
		return err
	}
	last := map[string]time.Time{}
	for _, x := range f.Plan.Activities {
		if x.Kind != shutdown.PressureTest && x.End.After(last[x.Tag]) {
			last[x.Tag] = x.End
		}
	}
	for _, at := range v.Done {
		if at.Before(f.At) {
			v.Planned = append(v.Planned, at)
		}
	}
	for _, at := range last {
		v.Planned = append(v.Planned, at)
	}
	p := shutdown.NewProgress(v.Planned, v.Done, v.Total)
	v.Planned, v.Done, v.Behind = p.Planned, p.Done, p.Behind(v.Now)
	v.InForce, v.Finish, v.P80 = &f.At, &f.Plan.Finish, &f.Plan.P80
	var open []schedule.Window
	for _, o := range f.Plan.Open {
		open = append(
			open,
			schedule.Window{int(o.From.Sub(f.Plan.Begin).Minutes()), int(o.To.Sub(f.Plan.Begin).Minutes())},
		)
	}
	if end, ok := p.Forecast(v.Now, paceOf, shutdown.Worked(f.Plan.Begin, open), shutdown.After(f.Plan.Begin,
		open)); ok {
		v.Forecast = &end
	}
	s, err := a.ShiftStands(ctx, code)
	v.Says = append(v.Says, s.Old...)
	return err
}

// SiteClock gives the name of the site and where its clocks are set.
func (a *App) SiteClock(ctx context.Context) (site string, zone *time.Location, err error) {
	if site, err = a.Setting(ctx, SettingSite, "Site not named"); err != nil {
		return "", nil, err
	}
	zone, err = a.zone(ctx)
	return site, zone, err
}
