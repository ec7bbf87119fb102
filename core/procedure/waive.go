package procedure

// Waive says whose word it takes that a check does not apply at a joint. A check that is waived is a deviation with
// reason and name, on the record and in the verdict.
type Waive string

// Who may waive.
const (
	ByTechnician Waive = "technician" // whoever does the work
	ByEngineer   Waive = "engineer"
	ByNobody     Waive = "nobody"
)

// WaivedBy is whose word it takes: what the procedure says, an engineer's when it says nothing, and nobody's for a
// hold.
func (c Check) WaivedBy() Waive {
	switch {
	case c.Hold:
		return ByNobody
	case c.Waive == "":
		return ByEngineer
	}
	return c.Waive
}

// CarriesVerdict reports whether the verdict over the joint rests on a check: lubrication, what is measured, tools in
// hand, proof, and what a picture must show. Such a check is never waived below an engineer.
func (c Check) CarriesVerdict() bool {
	return c.Kind == Lubricant || c.Kind == Wrench || c.Kind == Measure || c.Station == Prove || c.Photo
}
