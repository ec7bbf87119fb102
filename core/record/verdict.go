package record

import (
	"encoding/json"
	"errors"
	"sync"
	"time"

	"dynacor/core/plan"
	"dynacor/core/run"
)

// verdict follows the plan through the events and compares the verdicts.
func (r *Report) verdict(o opened) {
	get := func(key string) []byte {
		n, _ := o.record.get(key)
		return o.at(n)
	}
	var p *plan.Plan
	var said struct {
		Verdict run.Verdict `json:"verdict"`
	}
	var number string
	err := errors.Join(json.Unmarshal(get("plan"), &p), json.Unmarshal(get("state"), &said),
		json.Unmarshal(get("number"), &number))
	events, readErr := readEvents(o)
	if err = errors.Join(err, readErr); err != nil || p == nil {
		r.bad("The record cannot be read: %v", err)
		return
	}
	s := o.file.Seal
	if number != s.Number || p.Joint.Tag != s.Joint {
		r.bad("The seal names %s of joint %s, the record %s of joint %s.", clip(s.Number), clip(s.Joint), clip(number),
			clip(p.Joint.Tag))
	}
	again, err := follow(p, events, s.SealedAt)
	switch {
	case err != nil:
		r.bad("The plan of the record cannot be followed: %v.", err)
	case again.Verdict.Code != said.Verdict.Code:
		r.bad("Worked out again from the events the verdict is %q, the record says %q.", again.Verdict.Word,
			clip(said.Verdict.Word))
	default:
		r.good("Verdict worked out again: %s", again.Verdict.Word)
	}
}

// readEvents reads the events of a record, a few stretches side by side: of a large file it is most of the work.
func readEvents(o opened) ([]run.Event, error) {
	list, _ := o.record.get("events")
	events := make([]run.Event, len(list.kids))
	const side = 4
	errs := make([]error, side)
	var wg sync.WaitGroup
	for k := range side {
		wg.Go(func() {
			for i := k * len(events) / side; i < (k+1)*len(events)/side && errs[k] == nil; i++ {
				e, _ := list.kids[i].get("event")
				errs[k] = json.Unmarshal(o.at(e), &events[i])
			}
		})
	}
	wg.Wait()
	return events, errors.Join(errs...)
}

// follow folds the events on a plan that may have been made by anybody: one that is out of proportion is refused, and
// so is one that breaks the fold.
func follow(p *plan.Plan, events []run.Event, at time.Time) (s *run.State, err error) {
	if err := p.Sound(); err != nil {
		return nil, err
	}
	defer func() {
		if v := recover(); v != nil {
			s, err = nil, errors.New("it does not fit the events")
		}
	}()
	return run.Fold(p, events, at), nil
}
