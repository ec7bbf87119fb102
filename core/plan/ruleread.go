package plan

import (
	"encoding/json"
	"maps"
	"math"
	"slices"
	"strings"

	"dynacor/core/quantity"
)

// reasonBefore stands for the reason of a choice that was made before a reason was asked for.
const reasonBefore = "Chosen before reasons were asked for."

// ReadHouseRules reads a version as it was kept. A rule that was not asked for at that time stands as delivered.
func ReadHouseRules(data []byte) (HouseRules, error) {
	var h HouseRules
	var keys map[string]json.RawMessage
	if err := json.Unmarshal(data, &h); err != nil {
		return h, err
	}
	if err := json.Unmarshal(data, &keys); err != nil {
		return h, err
	}
	h.Limits, h.Reasons = maps.Clone(h.Limits), maps.Clone(h.Reasons)
	if h.Limits == nil {
		h.Limits = map[string]float64{}
	}
	if h.Reasons == nil {
		h.Reasons = map[string]string{}
	}
	for _, r := range houseRules() {
		_, had := keys[r.Key]
		if r.Key == "sectors" && !had {
			_, had = keys["groups"] // its name before
		}
		if k := r.limitKey(); k != "" {
			_, had = h.Limits[k]
		}
		if !had {
			r.deliver(&h)
		}
		if r.Why == "" || h.Reasons[r.Why] != "" {
			continue
		}
		h.Reasons[r.Why] = reasonBefore
		if !had || r.isDelivered(&h) {
			h.Reasons[r.Why] = r.reason
		}
	}
	return h, nil
}

func (r HouseRule) isDelivered(h *HouseRules) bool {
	d := DefaultHouseRules()
	if v, ok := r.figure(h); ok {
		was, _ := r.figure(&d)
		return v == was
	}
	return r.words(h) == r.words(&d)
}

// check refuses a value that the rule cannot have.
func (r HouseRule) check(h *HouseRules) error {
	field, _, _ := strings.Cut(r.Key, ".")
	switch r.Kind {
	case RuleFigure:
		v, ok := r.figure(h)
		if !ok {
			return quantity.Refuse(field, "Enter every limit.", "%s is missing",
				strings.ReplaceAll(r.limitKey(), "_", " "))
		}
		if r.limitKey() != "" && (!quantity.Finite(v) || v < r.Low || v > r.High) {
			return quantity.Refuse(field, "Enter each limit in mm, above zero.", "%s is %s mm",
				strings.ReplaceAll(r.limitKey(), "_", " "), quantity.Text(v))
		}
		if r.Whole && v != math.Trunc(v) {
			return quantity.Refuse(field, "Enter a whole number.", "is %s", quantity.Text(v))
		}
		if r.Share && (!quantity.Finite(v) || v < r.Low || v > r.High) {
			return quantity.Refuse(field, "Enter a share of full scale in that range.", "%s %% is outside %s to %s %%",
				quantity.Text(100*v), quantity.Text(100*r.Low), quantity.Text(100*r.High))
		}
		return quantity.Between(field, v, r.Low, r.High)
	case RuleChoice:
		if v := r.words(h); !slices.ContainsFunc(r.Choices, func(c RuleChoiceOf) bool { return c.Value == v }) {
			var list []string
			for _, c := range r.Choices {
				list = append(list, c.Value)
			}
			return quantity.Refuse(field, "Choose "+strings.Join(list, ", ")+".", "%q is not a choice", v)
		}
	case RuleLubricant:
		if v := r.words(h); strings.TrimSpace(v) == "" || strings.ContainsAny(v, " \t") {
			return quantity.Refuse(field, "Choose to ask, or a card.", "is not a card")
		}
	}
	return nil
}

// Check refuses house rules that cannot be right, field by field; a choice of school without its reason is refused as
// well.
func (h HouseRules) Check() error {
	for _, r := range houseRules() {
		if err := r.check(&h); err != nil {
			return err
		}
	}
	if h.MinYieldPct >= h.MaxYieldPct {
		return quantity.Refuse("minYieldPct", "Enter the lower share first.", "is not below the upper share")
	}
	if h.PrimaryTorque == h.SecondaryTorque {
		return quantity.Refuse("secondaryTorque", "Choose another unit beside it.", "is the same as the first")
	}
	for _, r := range houseRules() {
		if r.Why != "" && strings.TrimSpace(h.Reasons[r.Why]) == "" {
			return quantity.Refuse("reasons."+r.Why, "Say why the site does it so; the crew reads it.", "is empty")
		}
	}
	return nil
}
