package procedure

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
)

// Change is one difference between two versions of a procedure. Things with a code are named by it, so that a moved
// check is no change.
type Change struct {
	Path string `json:"path"` // checks.gap.limit
	Was  string `json:"was"`  // "": it was not there
	Is   string `json:"is"`   // "": it is gone
}

// Diff lists what changed from one version to another, in the order of the new one's parts.
func Diff(was, is Family) []Change {
	d := differ{}
	d.walk("", plainOf(was), plainOf(is))
	return d.out
}

func plainOf(f Family) any {
	raw, err := json.Marshal(f)
	if err != nil {
		return nil
	}
	var v any
	if json.Unmarshal(raw, &v) != nil {
		return nil
	}
	return v
}

type differ struct{ out []Change }

func (d *differ) walk(path string, a, b any) {
	switch av := a.(type) {
	case map[string]any:
		if bv, ok := b.(map[string]any); ok {
			d.keys(path, av, bv)
			return
		}
	case []any:
		if bv, ok := b.([]any); ok {
			d.list(path, av, bv)
			return
		}
	}
	if x, y := text(a), text(b); x != y {
		d.out = append(d.out, Change{path, x, y})
	}
}

func (d *differ) keys(path string, a, b map[string]any) {
	all := maps.Clone(a)
	maps.Copy(all, b)
	for _, k := range slices.Sorted(maps.Keys(all)) {
		if path == "" && k == "version" {
			continue
		}
		at := k
		if path != "" {
			at = path + "." + k
		}
		d.walk(at, a[k], b[k])
	}
}

// list compares by code where the things have one, else as a whole.
func (d *differ) list(path string, a, b []any) {
	ka, okA := byCode(a)
	kb, okB := byCode(b)
	if !okA || !okB {
		if x, y := text(a), text(b); x != y {
			d.out = append(d.out, Change{path, x, y})
		}
		return
	}
	var order []string
	for _, v := range b {
		order = append(order, v.(map[string]any)["code"].(string))
	}
	for _, v := range a {
		if c := v.(map[string]any)["code"].(string); kb[c] == nil {
			order = append(order, c)
		}
	}
	for _, c := range order {
		switch {
		case ka[c] == nil:
			d.out = append(d.out, Change{path + "." + c, "", title(kb[c])})
		case kb[c] == nil:
			d.out = append(d.out, Change{path + "." + c, title(ka[c]), ""})
		default:
			d.walk(path+"."+c, ka[c], kb[c])
		}
	}
}

func byCode(list []any) (map[string]any, bool) {
	out := map[string]any{}
	for _, v := range list {
		m, ok := v.(map[string]any)
		if !ok {
			return nil, false
		}
		c, ok := m["code"].(string)
		if !ok {
			return nil, false
		}
		out[c] = v
	}
	return out, true
}

// title names a thing that came or went.
func title(v any) string {
	m, _ := v.(map[string]any)
	for _, k := range []string{"title", "name", "ask", "do"} {
		if s, ok := m[k].(string); ok && s != "" {
			return s
		}
	}
	return text(v)
}

func text(v any) string {
	switch x := v.(type) {
	case nil:
		return ""
	case string:
		return x
	}
	raw, err := json.Marshal(v)
	if err != nil {
		return fmt.Sprint(v)
	}
	return string(raw)
}
