package procedure

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/sequence"
	"dynacor/core/tool"
)

// at names a thing of a list by its code, or by its number while it has none.
func at(list, code string, i int) string {
	if code == "" {
		return fmt.Sprintf("%s[%d]", list, i)
	}
	return list + "." + code
}

// Fault is what is wrong with a procedure at a place of it, things with a code named by it: checks.gap.limit.
type Fault struct {
	Path   string `json:"path"`
	What   string `json:"what"`
	Remedy string `json:"remedy,omitempty"`
	Line   int    `json:"line,omitempty"` // of the file, when it was read from one
}

// LimitKeys are the limits that house rules hold.
func LimitKeys() []string {
	return []string{"alignment_gap", "rim_offset", "hole_overlap", "proof_gap"}
}

// mostCode is how many letters a code has at the most.
const mostCode = 41

// isCode reports whether a code is small letters, digits and underscores behind a letter, two of them or more. It is
// read by hand, so that devices carry no regular expressions.
func isCode(s string) bool {
	other := func(r rune) bool { return (r < 'a' || r > 'z') && (r < '0' || r > '9') && r != '_' }
	return len(s) >= 2 && len(s) <= mostCode && s[0] >= 'a' && s[0] <= 'z' && strings.IndexFunc(s, other) < 0
}

type validator struct {
	f       Family
	faults  []Fault
	loosens bool // it is the taking apart that is looked at
}

func (v *validator) add(path, remedy, what string, args ...any) {
	v.faults = append(v.faults, Fault{Path: path, What: fmt.Sprintf(what, args...), Remedy: remedy})
}

func (v *validator) code(path, code string, seen map[string]bool) {
	switch {
	case !isCode(code):
		v.add(path+".code", "Use small letters, digits and low lines, beginning with a letter.", "%q cannot be a code",
			code)
	case seen[code]:
		v.add(path+".code", "Give each its own.", "%q stands twice", code)
	}
	seen[code] = true
}

func (v *validator) need(path, text string) {
	if text == "" {
		v.add(path, "Fill it in.", "is empty")
	}
}

func oneOf[T ~string](v *validator, path string, value T, list []T) {
	if !slices.Contains(list, value) {
		v.add(path, fmt.Sprintf("Use one of %v.", list), "%q is not known", string(value))
	}
}

// Faults finds everything that is wrong with a procedure; an empty answer means that joints can be planned by it.
func (f Family) Faults() []Fault {
	v := &validator{f: f}
	if !isCode(f.Code) {
		v.add("code", "Use small letters, digits and low lines, beginning with a letter.", "%q cannot be a code",
			f.Code)
	}
	if f.Version < 1 {
		v.add("version", "Count from 1.", "is %d", f.Version)
	}
	v.need("name", f.Name)
	v.need("looks", f.Looks)
	v.questions()
	v.fasteners()
	v.work()
	v.rows()
	v.checks()
	v.lists()
	v.apart()
	return v.faults
}

func (v *validator) figure(path, code string) {
	if code != "" && !slices.ContainsFunc(v.f.Figures, func(x Figure) bool { return x.Code == code }) {
		v.add(path, "Add it to figures, or take another.", "there is no figure %q", code)
	}
}

func (v *validator) group(path, code string) {
	if _, ok := v.f.Group(code); code != "" && !ok {
		v.add(path, "Name a group of fasteners.", "there are no fasteners %q", code)
	}
}

func (v *validator) when(path string, w Answers) {
	for q, list := range w {
		i := slices.IndexFunc(v.f.Questions, func(x Question) bool { return x.Code == q })
		if i < 0 {
			v.add(path+".when", "Name a question of this procedure.", "there is no question %q", q)
			continue
		}
		for _, a := range list {
			if !slices.ContainsFunc(v.f.Questions[i].Options, func(o Option) bool { return o.Code == a }) {
				v.add(path+".when", "Name one of its answers.", "%q is no answer to %q", a, q)
			}
		}
	}
}

func (v *validator) questions() {
	seen := map[string]bool{}
	for i, q := range v.f.Questions {
		path := at("questions", q.Code, i)
		v.code(path, q.Code, seen)
		v.need(path+".ask", q.Ask)
		v.figure(path+".figure", q.Figure)
		v.when(path, q.When)
		if len(q.Options) < 2 {
			v.add(path+".options", "Give two answers at least.", "there is nothing to choose")
		}
		if q.Default != "" && !slices.ContainsFunc(q.Options, func(o Option) bool { return o.Code == q.Default }) {
			v.add(path+".default", "Choose one of its options.", "%q is none of the answers", q.Default)
		}
		last := 0.0
		options := map[string]bool{}
		for k, o := range q.Options {
			v.code(at(path+".options", o.Code, k), o.Code, options)
			v.need(at(path+".options", o.Code, k)+".name", o.Name)
			if q.Figure != "" && k < len(q.Options)-1 {
				if o.UpTo <= last {
					v.add(at(path+".options", o.Code, k)+".upTo", "Let the limits rise.", "is not above the one before")
				}
				last = o.UpTo
			}
		}
	}
	v.figures()
}

func (v *validator) figures() {
	figures := map[string]bool{}
	for i, x := range v.f.Figures {
		path := at("figures", x.Code, i)
		v.code(path, x.Code, figures)
		v.need(path+".name", x.Name)
		v.when(path, x.When)
		v.derives(path, x)
		if x.Usual != 0 && (x.Usual < x.Min || x.Max != 0 && x.Usual > x.Max || x.Derive != nil) {
			v.add(path+".usual", "Put it between min and max, and leave it out where the figure follows of others.",
				"is %v", x.Usual)
		}
		if x.Max != 0 && x.Max <= x.Min {
			v.add(path+".max", "Give the higher figure as max.", "is not above min")
		}
	}
}

func (v *validator) fasteners() {
	if len(v.f.Fasteners) == 0 {
		v.add("fasteners", "Describe one group at least.", "is empty")
	}
	seen := map[string]bool{}
	patterns := []sequence.Pattern{sequence.Cross, sequence.Group, sequence.Clockwise, sequence.AlternateTwo,
		sequence.Cardinal, sequence.Pairs, sequence.Outward, sequence.FromStiff,
		sequence.Chosen}
	for i, g := range v.f.Fasteners {
		path := at("fasteners", g.Code, i)
		v.code(path, g.Code, seen)
		v.need(path+".name", g.Name)
		v.when(path, g.When)
		oneOf(v, path+".target", g.Target, TargetKinds())
		if err := g.Layout.Settle().Check(); err != nil {
			v.add(path+".layout", "", "%s", err)
		}
		if len(g.Patterns) == 0 && g.Layout.Settle().Count > 2 {
			v.add(path+".patterns", "Name the orders that are allowed, the usual one first.", "is empty")
		}
		for k, p := range g.Patterns {
			oneOf(v, fmt.Sprintf("%s.patterns[%d]", path, k), sequence.Pattern(p), patterns)
			if g.Refused[p] != "" {
				v.add(fmt.Sprintf("%s.refused.%s", path, p), "Leave it out of one of the two.",
					"is allowed and refused")
			}
		}
		for p, why := range g.Refused {
			oneOf(v, path+".refused."+p, sequence.Pattern(p), patterns)
			v.need(path+".refused."+p, why)
		}
		for class, why := range g.ToolsNever {
			oneOf(v, path+".toolsNever."+class, class, tool.Classes())
			v.need(path+".toolsNever."+class, why)
		}
		if g.Scheme != "" {
			if _, err := sequence.SchemeByCode(g.Scheme); err != nil {
				v.add(path+".scheme", "Take one of the Library.", "%q is not a stage scheme", g.Scheme)
			}
		}
		if g.Same != "" {
			v.group(path+".same", g.Same)
		}
		if g.Condition != "" {
			oneOf(
				v,
				path+".condition",
				g.Condition,
				[]string{"dry", "dry_or_maker", "degreased", "lubricated", "locker"},
			)
		}
		if g.Target == NoTorque {
			v.need(path+".targetWhy", g.TargetWhy)
		}
		if g.Target == ByEffort {
			v.figure(path+".effort", g.Effort)
			v.figure(path+".effortLowFigure", g.EffortLowFigure)
			v.figure(path+".effortHighFigure", g.EffortHighFigure)
			if g.Effort == "" || !(g.EffortLow > 0 && g.EffortHigh > g.EffortLow) &&
				(g.EffortLowFigure == "" || g.EffortHighFigure == "") {
				v.add(path+".effort", "Name the figure, and the parts of it from and to.", "the window is not given")
			}
		}
		if (g.Target == BySnug || g.Target == ByHand) && g.Snug == "" {
			v.add(path+".snug", "Say what snug means here.", "is empty")
		}
	}
}

// ends are the steps by which a group can come to its target.
var ends = map[TargetKind][]Do{ByTorque: {DoTorque, DoTurns, DoTurn}, ByTurns: {DoTurn}, BySnug: {DoHand},
	ByHand: {DoHand}, ByShape: {DoShape}, ByEffort: {DoEffort}, ByStretch: {DoStretch}, NoTorque: {DoLeave}}

func (v *validator) work() {
	if len(v.f.Work) == 0 {
		v.add("work", "Say in which steps the fasteners are brought to their targets.", "is empty")
	}
	seen, ended, handed := map[string]bool{}, map[string]bool{}, map[string]bool{}
	for i, s := range v.f.Work {
		path := at("work", s.Code, i)
		v.code(path, s.Code, seen)
		v.when(path, s.When)
		oneOf(v, path+".do", s.Do, Dos())
		v.needs(path, s.Needs)
		if len(s.Groups) == 0 {
			v.add(path+".groups", "Name the fasteners it is done to.", "is empty")
		}
		if s.Across != "" {
			oneOf(v, path+".across", s.Across, []string{AcrossGroups})
		}
		if s.Only != "" {
			oneOf(v, path+".only", s.Only, []string{"cardinal", "rest"})
		}
		if s.Scheme != "" {
			if _, err := sequence.SchemeByCode(s.Scheme); err != nil {
				v.add(path+".scheme", "Take one of the Library.", "%q is not a stage scheme", s.Scheme)
			}
		}
		v.figure(path+".turnFigure", s.TurnFigure)
		v.eases(path, s)
		for k, code := range s.Groups {
			place := fmt.Sprintf("%s.groups[%d]", path, k)
			v.group(place, code)
			g, ok := v.f.Group(code)
			if !ok {
				continue
			}
			v.does(path, place, s, g, handed[code])
			ended[code] = ended[code] || slices.Contains(ends[g.Target], s.Do)
			handed[code] = handed[code] || s.Do == DoHand || s.Do == DoTorque || s.Do == DoTurn
		}
	}
	for i, g := range v.f.Fasteners {
		if !ended[g.Code] && !v.loosens {
			v.add(at("fasteners", g.Code, i), fmt.Sprintf("Add a step that does %v to them.", ends[g.Target]),
				"no step brings %s to their target", g.Name)
		}
	}
}

// does refuses a step that does not suit the group.
func (v *validator) does(path, place string, s Step, g Fasteners, handed bool) {
	torque := s.Do == DoTorque || s.Do == DoStill || s.Do == DoVerify || s.Do == DoTurns
	switch {
	case torque && g.Target != ByTorque:
		v.add(place, "Take another step.", "%s have no torque to be brought to", g.Name)
	case g.Target == NoTorque && !slices.Contains([]Do{DoLeave, DoHand, DoUndo, DoEase}, s.Do):
		v.add(place, "Only leave, hand and undo are allowed.", "%s must not be torqued", g.Name)
	case s.Do == DoEffort && g.Target != ByEffort, s.Do == DoStretch && g.Target != ByStretch:
		v.add(place, "Give them that target, or take another step.", "%s do not end so", g.Name)
	}
	if s.Do == DoTurn || s.Do == DoTurns {
		if s.Datum == "" {
			v.add(path+".datum", "Say what the turn is counted from: finger-tight, snug, equal thread.", "is empty")
		}
		if !handed {
			v.add(place, "Put a step by hand before it.",
				"%s are turned from a datum that no step before has brought them to", g.Name)
		}
	}
	if s.Do == DoTurn && s.TurnDeg == 0 && s.TurnFigure == "" && g.Target != ByTurns {
		v.add(path+".turnDeg", "Give degrees, or the figure that holds them.", "nobody can tell how far it is turned")
	}
	if s.Do == DoShape && s.Until == "" {
		v.add(path+".until", "Say what is seen when it is done.", "is empty")
	}
	if g.Refused[s.Pattern] != "" {
		v.add(path+".pattern", g.Refused[s.Pattern], "%q is refused on %s", s.Pattern, g.Name)
	}
}

func (v *validator) rows() {
	seen := map[string]bool{}
	for i, r := range v.f.Rows {
		path := at("groups", r.Code, i)
		v.code(path, r.Code, seen)
		v.need(path+".title", r.Title)
		oneOf(v, path+".station", r.Station, []Station{Ready, Tighten, Prove, HandOver})
	}
}

func (v *validator) step(path, code string) {
	if code != "" && !slices.ContainsFunc(v.f.Work, func(s Step) bool { return s.Code == code }) {
		v.add(path, "Name a step of the work.", "there is no step %q", code)
	}
}

func (v *validator) lists() {
	seen := map[string]bool{}
	for i, p := range append(slices.Clone(v.f.Parts), v.f.Supplies...) {
		path := at("parts", p.Code, i)
		if i >= len(v.f.Parts) {
			path = at("supplies", p.Code, i-len(v.f.Parts))
		}
		v.code(path, p.Code, seen)
		v.need(path+".name", p.Name)
		v.group(path+".fasteners", p.Fasteners)
		v.when(path, p.When)
		if !(p.Quantity > 0) {
			v.add(path+".quantity", "Say how many.", "is %v", p.Quantity)
		}
		if p.Spare < 0 {
			v.add(path+".spare", "Say how many more are taken along, 0 for none.", "is %v", p.Spare)
		}
	}
	v.cautions()
	if len(v.f.Loosen) == 0 {
		v.add("loosen", "Say how it comes apart.", "is empty")
	}
}
