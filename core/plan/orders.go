package plan

import (
	"maps"
	"slices"
	"strings"

	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// checkOrders refuses an order of parts that no check asks for, or that cannot be ticked one after another.
func (s Specification) checkOrders(fam procedure.Family) error {
	for _, code := range slices.Sorted(maps.Keys(s.Orders)) {
		field := "orders." + code
		if !slices.ContainsFunc(fam.Checks, func(c procedure.Check) bool {
			return c.Code == code && c.Kind == procedure.Sequence
		}) {
			return quantity.Refuse(field, "Leave it out.", "is not an order that a %s asks for", fam.Name)
		}
		parts := s.Orders[code]
		if len(parts) < 2 || len(parts) > 20 {
			return quantity.Refuse(
				field,
				"Name 2 to 20 parts, or leave it empty for the usual order.",
				"names %d parts",
				len(parts),
			)
		}
		for i, x := range parts {
			if strings.TrimSpace(x) == "" || len([]rune(x)) > 60 {
				return quantity.Refuse(
					field,
					"Name each part in 1 to 60 letters.",
					"part %d has no name, or a long one",
					i+1,
				)
			}
			if strings.ContainsAny(x, ";>=") {
				return quantity.Refuse(field, "Write it without ; > and =, which part the names in a register.",
					"has %q", x)
			}
			if slices.Contains(parts[:i], x) {
				return quantity.Refuse(field, "Tell the two apart, such as inner and outer.", "names %q twice", x)
			}
		}
	}
	return nil
}
