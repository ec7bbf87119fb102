package plan

import (
	"bytes"
	"encoding/json"
	"reflect"
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

// asList writes the groups of an older plan or specification as a list; t is what each is.
func asList(m map[string]json.RawMessage, t reflect.Type) ([]byte, error) {
	first := map[string]json.RawMessage{}
	for i := range t.NumField() {
		name, _, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
		if v, have := m[name]; have {
			first[name] = v
			delete(m, name)
		}
	}
	groups := []map[string]json.RawMessage{first}
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
