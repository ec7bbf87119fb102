package plan

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"dynacor/core/procedure"
)

// Names of what a check or step of a plan can rest on.
func partNode(code string) string  { return "part/" + code }
func checkNode(code string) string { return "check/" + code }
func groupNode(code string) string { return "group/" + code }

// stepNode is a step as it is done to a group.
func stepNode(step, group string) string { return "step/" + step + ":" + group }

// needs works out what each check and step rests on. A step rests on its fasteners, on what was cleared before the
// first pull and on the steps before it that the same fasteners went through. A check between steps rests on the steps
// before it, one of Prove or Hand over on every step of its fasteners. The procedure adds what only it can know.
func (p *Plan) needs(fam procedure.Family) {
	p.Needs = map[string][]string{}
	for i, s := range fam.Work {
		for _, g := range s.Groups {
			if !s.LetsGo() { // letting go on purpose is no step towards a target
				p.stepNeeds(fam.Work, i, g)
			}
		}
	}
	for k := range p.Checks {
		p.checkNeeds(&p.Checks[k], fam.Work)
	}
	p.wholeParts()
}

func (p *Plan) rests(node string, on ...string) {
	for _, n := range on {
		if n != node && !slices.Contains(p.Needs[node], n) {
			p.Needs[node] = append(p.Needs[node], n)
		}
	}
}

func (p *Plan) stepNeeds(work []procedure.Step, i int, group string) {
	s := work[i]
	node := stepNode(s.Code, group)
	p.rests(node, groupNode(group))
	for _, before := range slices.Backward(work[:i]) {
		if !slices.Contains(before.Groups, group) {
			continue
		}
		if before.LetsGo() {
			break // what was let go on purpose begins anew
		}
		p.rests(node, stepNode(before.Code, group))
	}
	for k := range p.Checks {
		c := &p.Checks[k]
		mine := c.Fasteners == "" || c.Fasteners == group
		gated := c.Before == s.Code || slices.ContainsFunc(work[:i], func(b procedure.Step) bool {
			return b.Code == c.After && slices.Contains(b.Groups, group)
		})
		if mine && c.Opens() && (c.Station == procedure.Ready || c.Station == procedure.Tighten && gated) {
			p.rests(node, checkNode(c.Code))
		}
	}
	p.rests(node, p.named(s.Needs)...)
}

func (p *Plan) checkNeeds(c *procedure.Check, work []procedure.Step) {
	node := checkNode(c.Code)
	at := len(work)
	switch {
	case c.Station == procedure.Ready:
		at = 0
	case c.Before != "":
		at = slices.IndexFunc(work, func(s procedure.Step) bool { return s.Code == c.Before })
	case c.After != "":
		at = 1 + slices.IndexFunc(work, func(s procedure.Step) bool { return s.Code == c.After })
	}
	for _, s := range work[:max(0, at)] {
		for _, g := range s.Groups {
			if !s.LetsGo() && (c.Fasteners == "" || c.Fasteners == g) {
				p.rests(node, stepNode(s.Code, g))
			}
		}
	}
	if c.Each && c.Pass > 0 && c.Pass <= len(p.Passes) { // it belongs to that pass
		p.Needs[node] = []string{groupNode(p.Passes[c.Pass-1].Group)}
	}
	switch c.Kind {
	case procedure.Parts:
		for _, x := range p.Parts {
			p.rests(node, partNode(x.Code))
		}
	case procedure.Lubricant:
		p.rests(node, partNode(procedure.LubricantPart))
	}
	p.rests(node, p.named(c.Needs)...)
}

// wholeParts lets everything rest on a part of which the procedure does not say what does.
func (p *Plan) wholeParts() {
	codes := []string{procedure.LubricantPart}
	for _, x := range p.Parts {
		codes = append(codes, x.Code)
	}
	for _, code := range codes {
		named := false
		for k := range p.Checks {
			c := &p.Checks[k]
			named = named || c.Kind != procedure.Parts && slices.Contains(p.Needs[checkNode(c.Code)], partNode(code))
		}
		for i := range p.Passes {
			named = named || slices.Contains(p.Needs[p.passNode(i)], partNode(code))
		}
		if named {
			continue
		}
		for i := range p.Passes {
			if !p.Passes[i].Kind.LetsGo() {
				p.rests(p.passNode(i), partNode(code))
			}
		}
	}
}

// named gives the nodes that names of a procedure stand for; what this variant does not have stands for none.
func (p *Plan) named(list []string) []string {
	var out []string
	for _, name := range list {
		what, code, _ := procedure.Needed(name)
		switch what {
		case "part":
			out = append(out, partNode(code))
		case "check":
			out = append(out, checkNode(code))
		case "step":
			for i := range p.Passes {
				if p.Passes[i].Step == code {
					out = append(out, p.passNode(i))
				}
			}
		}
	}
	return out
}

// passNode is the step and group of a pass.
func (p *Plan) passNode(i int) string {
	return stepNode(p.Passes[i].Step, p.GroupOf(p.Passes[i].Group).Code)
}

// Affected is what must be looked at or done again when something changes.
type Affected struct {
	Checks []string // codes, in the order of the plan
	Passes []int    // indices into the passes of the plan, rising
}

// ChangedPart is what rests on a part. A part that each fastener has of its own leaves the other fasteners alone: only
// checks are told then, not what rests on these in turn.
func (p *Plan) ChangedPart(code string) (Affected, error) {
	x, known := p.Part(code)
	if !known {
		return Affected{}, fmt.Errorf("the plan has no part %q", code)
	}
	return p.affected(map[string]bool{partNode(code): true}, !x.PerBolt), nil
}

// LoosenedIn is what rests on the fasteners of a group.
func (p *Plan) LoosenedIn(group string) Affected {
	return p.affected(map[string]bool{groupNode(group): true}, true)
}

// Reopened is what a check that was not met asks again, with what rests on that. check_pass names the check rounds.
func (p *Plan) Reopened(c procedure.Check) Affected {
	roots := map[string]bool{}
	for _, code := range c.Reopens {
		if _, is := p.Check(code); is {
			roots[checkNode(code)] = true
			continue
		}
		for i := range p.Passes {
			if p.Passes[i].Step == code || code == "check_pass" && p.Passes[i].Kind == CheckPass {
				roots[p.passNode(i)] = true
			}
		}
	}
	return p.affected(roots, true)
}

// affected closes the roots under what rests on them, and lists the checks and passes in it.
func (p *Plan) affected(roots map[string]bool, whole bool) Affected {
	for grown := true; grown; {
		grown = false
		before := maps.Clone(roots)
		for node, on := range p.Needs {
			if !roots[node] && slices.ContainsFunc(on, func(n string) bool { return before[n] }) &&
				(whole || strings.HasPrefix(node, checkNode(""))) {
				roots[node], grown = true, whole
			}
		}
	}
	var a Affected
	for k := range p.Checks {
		if roots[checkNode(p.Checks[k].Code)] {
			a.Checks = append(a.Checks, p.Checks[k].Code)
		}
	}
	for i := range p.Passes {
		if roots[p.passNode(i)] {
			a.Passes = append(a.Passes, i)
		}
	}
	return a
}

// Part finds a part that can be changed: one of the list, or the lubricant.
func (p *Plan) Part(code string) (procedure.Part, bool) {
	if code == procedure.LubricantPart {
		return procedure.Part{Code: code, Name: "Lubricant"}, true
	}
	for _, x := range p.Parts {
		if x.Code == code {
			return x, true
		}
	}
	return procedure.Part{}, false
}
