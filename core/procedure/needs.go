package procedure

import (
	"fmt"
	"slices"
	"strings"
)

// LubricantPart stands for the lubricant among the parts that can be changed.
const LubricantPart = "lubricant"

// Needed parts a name under needs into what it names and its code: part/gasket, check/faces or step/stages. The part
// lubricant is there without being listed.
func Needed(name string) (what, code string, ok bool) {
	what, code, ok = strings.Cut(name, "/")
	return what, code, ok && code != "" && slices.Contains([]string{"part", "check", "step"}, what)
}

// needs refuses a name that stands for nothing in the procedure.
func (v *validator) needs(path string, list []string) {
	for k, name := range list {
		what, code, ok := Needed(name)
		path := fmt.Sprintf("%s.needs[%d]", path, k)
		if !ok {
			v.add(path, "Write part/…, check/… or step/… with its code.", "%q names nothing", name)
			continue
		}
		known := false
		switch what {
		case "part":
			known = code == LubricantPart || slices.ContainsFunc(v.f.Parts, func(p Part) bool { return p.Code == code })
		case "check":
			_, known = v.f.Check(code)
		case "step":
			known = slices.ContainsFunc(v.f.Work, func(s Step) bool { return s.Code == code })
		}
		if !known {
			v.add(path, "Name a part, a check or a step of this procedure.", "there is no %s %q", what, code)
		}
	}
}
