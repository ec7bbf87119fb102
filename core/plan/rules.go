package plan

import (
	"slices"
	"strings"

	"dynacor/core/quantity"
	"dynacor/core/sequence"
)

// schools are the fields where practitioners differ: each needs the site's reason beside its choice.
var schools = []string{"scheme", "pattern", "numbering", "policy", "minFrac", "movedLimitDeg", "maxYieldPct", "limits", "storage", "extensions", "powered", "lubricant", "retorqueHours", "audit"}

// Check refuses house rules that cannot be right, field by field; a choice of school without its reason is refused as well.
func (r HouseRules) Check() error {
	if _, err := sequence.SchemeByCode(r.Scheme); err != nil {
		return err
	}
	for _, c := range []struct {
		field, v string
		of       []string
	}{
		{"pattern", r.Pattern, []string{string(sequence.Cross), string(sequence.Group), string(sequence.Clockwise)}}, {"numbering", r.Numbering, []string{"place", "order"}},
		{"policy", r.Policy, []string{"low", "middle", "high"}}, {"storage", r.Storage, []string{StorageLowestMark, StorageMaker}},
		{"extensions", r.Extensions, []string{ExtensionInLine, ExtensionNone}}, {"powered", r.Powered, []string{PoweredNever, PoweredRunDown}}, {"audit", r.Audit, []string{AuditMovingOn, AuditNoMovement, AuditMarks}},
	} {
		if !slices.Contains(c.of, c.v) {
			return quantity.Refuse(c.field, "Choose "+strings.Join(c.of, ", ")+".", "%q is not a choice", c.v)
		}
	}
	if r.Groups != 4 && r.Groups != 8 {
		return quantity.Refuse("groups", "Choose 4 or 8.", "is %d", r.Groups)
	}
	for _, c := range []struct {
		field     string
		v, lo, hi float64
	}{
		{"minFrac", r.MinFrac, 0, 0.5}, {"preferredFrac", r.PreferredFrac, 0.2, 1}, {"minYieldPct", r.MinYieldPct, 0, 90}, {"maxYieldPct", r.MaxYieldPct, 10, 95}, {"movedLimitDeg", r.MovedLimitDeg, 0, 30},
		{"maxCheckPasses", float64(r.MaxCheckPasses), 1, 20}, {"pauseMinutes", r.PauseMinutes, 1, 600}, {"secondsPerPull", r.SecondsPerPull, 1, 3600}, {"secondsPerPass", r.SecondsPerPass, 0, 3600},
		{"dueSoonDays", float64(r.DueSoonDays), 0, 365}, {"sessionHours", r.SessionHours, 0.5, 168}, {"sessionIdleHours", r.SessionIdleHours, 0.25, 168}, {"readingBandPct", r.ReadingBandPct, 1, 20}, {"looseningFactor", r.LooseningFactor, 1, 4}, {"retorqueHours", r.RetorqueHours, 0, 1000},
	} {
		if err := quantity.Between(c.field, c.v, c.lo, c.hi); err != nil {
			return err
		}
	}
	if err := r.lubricantRule(); err != nil {
		return err
	}
	if r.MinYieldPct >= r.MaxYieldPct {
		return quantity.Refuse("minYieldPct", "Enter the lower share first.", "is not below the upper share")
	}
	for _, k := range []string{"alignment_gap", "rim_offset", "hole_overlap", "proof_gap"} {
		v, ok := r.Limits[k]
		if !ok || !(v > 0) || v > 50 {
			return quantity.Refuse("limits", "Enter each limit in mm, above zero.", "%s is %s mm", strings.ReplaceAll(k, "_", " "), quantity.Text(v))
		}
	}
	for _, u := range []quantity.Unit{r.PrimaryTorque, r.SecondaryTorque} {
		if u.Kind() != quantity.KindTorque {
			return quantity.Refuse("primaryTorque", "Choose two units of torque.", "%q is not a unit of torque", string(u))
		}
	}
	if r.PrimaryTorque == r.SecondaryTorque {
		return quantity.Refuse("secondaryTorque", "Choose another unit beside it.", "is the same as the first")
	}
	for _, s := range schools {
		if strings.TrimSpace(r.Reasons[s]) == "" {
			return quantity.Refuse("reasons."+s, "Say why the site does it so; the crew reads it.", "is empty")
		}
	}
	return nil
}
