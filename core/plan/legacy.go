package plan

import (
	"bytes"
	"encoding/json"
	"reflect"
	"slices"
	"strings"

	"dynacor/core/procedure"
)

// UnmarshalJSON reads a plan. One from before its groups were a list had the fields of the first group among its own
// and the others beside them.
func (p *Plan) UnmarshalJSON(raw []byte) error {
	type plain Plan
	if !bytes.Contains(raw, []byte(`"station":`)) { // every check of a plan has had one since
		var m map[string]json.RawMessage
		if err := json.Unmarshal(raw, &m); err != nil {
			return err
		}
		if procedure.UpgradeRows(m) {
			var err error
			if raw, err = asList(m, reflect.TypeFor[FastenerGroup]()); err != nil {
				return err
			}
		}
	}
	if err := json.Unmarshal(raw, (*plain)(p)); err != nil {
		return err
	}
	if len(p.Groups) == 0 {
		p.Groups = make([]FastenerGroup, 1) // a plan has a group, and nothing need ask
	}
	return nil
}

// UnmarshalJSON reads a specification. One from before its groups were a list had what is demanded of the first group
// among its own fields and the others beside them.
func (s *Specification) UnmarshalJSON(raw []byte) error {
	type plain Specification
	if !bytes.Contains(raw, []byte(`"groups":`)) {
		var m map[string]json.RawMessage
		err := json.Unmarshal(raw, &m)
		if err != nil || m == nil { // null
			return err
		}
		if raw, err = asList(m, reflect.TypeFor[Fasteners]()); err != nil {
			return err
		}
	}
	return json.Unmarshal(raw, (*plain)(s))
}

// UnmarshalJSON reads choices. Those from before their groups were a list had the first group's among their own and the
// others beside them by their codes, and called the sectors of an order groups.
func (c *Choices) UnmarshalJSON(raw []byte) error {
	type plain Choices
	var m map[string]json.RawMessage
	if err := json.Unmarshal(raw, &m); err != nil {
		return err
	}
	if n := m["groups"]; m == nil || len(n) > 0 && n[0] == '[' {
		return json.Unmarshal(raw, (*plain)(c))
	}
	var others map[string]map[string]json.RawMessage
	if o, have := m["others"]; have {
		if err := json.Unmarshal(o, &others); err != nil {
			return err
		}
		delete(m, "others")
	}
	list := []map[string]json.RawMessage{taken(m, reflect.TypeFor[GroupChoices](), "groups")}
	var codes []string
	for code := range others {
		codes = append(codes, code)
	}
	slices.Sort(codes)
	for _, code := range codes {
		others[code]["group"], _ = json.Marshal(code)
		list = append(list, others[code])
	}
	for _, g := range list {
		if n, have := g["groups"]; have {
			g["sectors"] = n
			delete(g, "groups")
		}
	}
	if len(list[0]) == 0 {
		list = list[1:]
	}
	if len(list) > 0 {
		m["groups"], _ = json.Marshal(list)
	}
	raw, err := json.Marshal(m)
	if err != nil {
		return err
	}
	return json.Unmarshal(raw, (*plain)(c))
}

// UnmarshalJSON reads house rules. Those from before called the sectors of an order groups.
func (h *HouseRules) UnmarshalJSON(raw []byte) error {
	type plain HouseRules
	if err := json.Unmarshal(raw, (*plain)(h)); err != nil || h.Sectors != 0 {
		return err
	}
	var older struct {
		Groups int `json:"groups"`
	}
	err := json.Unmarshal(raw, &older)
	h.Sectors = older.Groups
	return err
}

// asList writes the groups of an older plan or specification as a list; t is what each is.
func asList(m map[string]json.RawMessage, t reflect.Type) ([]byte, error) {
	groups := []map[string]json.RawMessage{taken(m, t)}
	if raw, have := m["others"]; have {
		var others []map[string]json.RawMessage
		if err := json.Unmarshal(raw, &others); err != nil {
			return nil, err
		}
		groups = append(groups, others...)
		delete(m, "others")
	}
	list, err := json.Marshal(groups)
	if err != nil {
		return nil, err
	}
	m["groups"] = list
	return json.Marshal(m)
}

// taken moves the fields of a type, and others by their names, from one written object into another.
func taken(m map[string]json.RawMessage, t reflect.Type, more ...string) map[string]json.RawMessage {
	out := map[string]json.RawMessage{}
	for i := range t.NumField() {
		name, _, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
		more = append(more, name)
	}
	for _, name := range more {
		if v, have := m[name]; have {
			out[name] = v
			delete(m, name)
		}
	}
	return out
}
