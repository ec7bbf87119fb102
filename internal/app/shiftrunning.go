package app

import (
	"context"
	"encoding/json"
	"fmt"
	"sync"
	"time"

	"dynacor/internal/store"
)

// sheets remembers the plans in force by their packages. A version of a plan never changes, and reading one takes as long
// as everything else that Today tells.
type sheets struct {
	mu sync.Mutex
	of map[string]sheet
}

type sheet struct {
	version int32
	madeAt  time.Time // another one where a database was put back
	plan    ShiftPlan
}

// running gives the plans in force, by their packages. What it gives is shared: nobody changes it.
func (a *App) running(ctx context.Context) (map[string]ShiftPlan, error) {
	rows, err := a.q.ShiftPlansRunning(ctx, a.now())
	if err != nil {
		return nil, err
	}
	known := a.sheets.known()
	now, out := map[string]sheet{}, map[string]ShiftPlan{}
	for _, r := range rows {
		s, have := known[r.Package]
		if !have || s.version != r.Version || !s.madeAt.Equal(r.MadeAt) {
			if s, err = a.sheet(ctx, r); err != nil {
				return nil, err
			}
		}
		now[r.Package], out[r.Package] = s, s.plan
	}
	a.sheets.keep(now)
	return out, nil
}

func (a *App) sheet(ctx context.Context, r store.ShiftPlansRunningRow) (sheet, error) {
	s := sheet{version: r.Version, madeAt: r.MadeAt}
	body, err := a.q.ShiftPlanAt(ctx, store.ShiftPlanAtParams{Package: r.Package, Version: r.Version})
	if err != nil {
		return s, err
	}
	if err := json.Unmarshal(body, &s.plan); err != nil {
		return s, fmt.Errorf("app: plan %d of %s: %w", r.Version, r.Package, err)
	}
	return s, nil
}

func (s *sheets) known() map[string]sheet {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.of
}

// keep remembers what is in force now, and nothing else. The map is not changed any more.
func (s *sheets) keep(of map[string]sheet) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.of = of
}
