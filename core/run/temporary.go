package run

import "dynacor/core/procedure"

// Temporary is a thing that is not where it ends: put in for a while, or taken out for a while.
type Temporary struct {
	Item  string `json:"item"`
	Is    string `json:"is"`    // in, out
	Until string `json:"until"` // the check by which it must be the other way again
}

// temporaries list what is part-way: the check that changes it is cleared, the one that changes it back is not.
func (f *folder) temporaries() {
	for i := range f.p.Checks {
		c := &f.p.Checks[i]
		if c.Kind != procedure.Temporary || !f.s.Checks[f.checkIndex(c.Code)].Status.Settled() {
			continue
		}
		for k := i + 1; k < len(f.p.Checks); k++ {
			back := &f.p.Checks[k]
			if back.Kind != procedure.Temporary || back.Item != c.Item || back.Want == c.Want {
				continue
			}
			if !f.s.Checks[f.checkIndex(back.Code)].Status.Settled() {
				f.s.Temporary = append(f.s.Temporary, Temporary{Item: c.Item, Is: c.Want, Until: back.Title})
			}
			break
		}
	}
}
