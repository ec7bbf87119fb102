package app

import (
	"context"
	"strings"
	"time"

	"dynacor/core/plan"
	"dynacor/internal/store"
)

// HouseRulesVersion is one version of the house rules.
type HouseRulesVersion struct {
	Rules  plan.HouseRules `json:"rules"`
	MadeBy string          `json:"madeBy"`
	MadeAt time.Time       `json:"madeAt"`
	Reason string          `json:"reason"`
}

// HouseRulesHistory holds all versions, the one in force first, and the rules as delivered to compare with.
type HouseRulesHistory struct {
	Versions  []HouseRulesVersion `json:"versions"`
	Delivered plan.HouseRules     `json:"delivered"`
}

// HouseRulesInput is a new version; Rules.Version names the one it was made from.
type HouseRulesInput struct {
	Rules  plan.HouseRules `json:"rules"`
	Reason string          `json:"reason"`
}

// HouseRules gives all versions.
func (a *App) HouseRules(ctx context.Context) (HouseRulesHistory, error) {
	h := HouseRulesHistory{Versions: []HouseRulesVersion{}, Delivered: plan.DefaultHouseRules()}
	rows, err := a.q.ListHouseRules(ctx)
	if err != nil {
		return h, err
	}
	for _, r := range rows {
		v := HouseRulesVersion{MadeBy: r.MadeBy, MadeAt: r.MadeAt, Reason: r.Reason}
		if v.Rules, err = plan.ReadHouseRules([]byte(r.Data)); err != nil {
			return h, err
		}
		h.Versions = append(h.Versions, v)
	}
	return h, nil
}

// PutHouseRules keeps a new version. Plans made with an older one are told to be stale; runs go on with what they began
// with. Refused: a version made from one that is no longer in force, so that nobody overwrites what a colleague has
// just changed.
func (a *App) PutHouseRules(ctx context.Context, who Actor, in HouseRulesInput) (HouseRulesHistory, error) {
	if strings.TrimSpace(in.Reason) == "" {
		return HouseRulesHistory{}, &Problem{Kind: Invalid, Title: "A change of the house rules needs a reason.",
			Field: "reason", Remedy: "Say what changed and why; plans will be made anew because of it."}
	}
	if err := in.Rules.Check(); err != nil {
		return HouseRulesHistory{}, err
	}
	err := a.tx(ctx, func(q *store.Queries) error {
		last, err := q.LatestHouseRules(ctx)
		if err != nil {
			return err
		}
		if int(last.Version) != in.Rules.Version {
			return newProblem(Conflict, "%s has made version %d meanwhile.", "Look at it, then make your change again.",
				last.MadeBy, last.Version)
		}
		in.Rules.Version++
		data, err := encode(in.Rules)
		if err != nil {
			return err
		}
		n, err := q.InsertHouseRules(ctx, store.InsertHouseRulesParams{Version: int32(in.Rules.Version), Data: data,
			MadeBy: who.Name, Reason: strings.TrimSpace(in.Reason)})
		if err == nil && n == 0 {
			return newProblem(Conflict, "Somebody has made version %d at the same moment.",
				"Look at it, then make your change again.", in.Rules.Version)
		}
		return err
	})
	if err != nil {
		return HouseRulesHistory{}, err
	}
	return a.HouseRules(ctx)
}
