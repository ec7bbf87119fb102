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
			if raw, err = asList(m); err != nil {
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

// asList writes the groups of an older plan as a list.
func asList(m map[string]json.RawMessage) ([]byte, error) {
	first := map[string]json.RawMessage{}
	t := reflect.TypeFor[FastenerGroup]()
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
