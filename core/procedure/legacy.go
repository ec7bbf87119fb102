package procedure

import "encoding/json"

// Older texts called the station of a check or row its stop, a row of checks a group, and the rows of a procedure or
// plan its groups. They are read as if they had been written today; nothing is written so any more.

// Upgraded renames in the text of a procedure what older ones call otherwise. A text that is not JSON is left as it is.
func Upgraded(raw []byte) []byte {
	var m map[string]json.RawMessage
	if json.Unmarshal(raw, &m) != nil {
		return raw
	}
	renamed := UpgradeRows(m)
	if !waivers(m) && !renamed {
		return raw
	}
	out, err := json.Marshal(m)
	if err != nil {
		return raw
	}
	return out
}

// UpgradeRows renames the rows and checks of an object, and reports whether they were those of an older text.
func UpgradeRows(m map[string]json.RawMessage) bool {
	if _, now := m["rows"]; now || m["groups"] == nil {
		return false
	}
	m["rows"] = renamed(m["groups"], map[string]string{"stop": "station"})
	m["checks"] = renamed(m["checks"], map[string]string{"stop": "station", "group": "row"})
	delete(m, "groups")
	return true
}

// renamed gives a list of objects with some of their keys under other names; what is no such list is left as it is.
func renamed(raw json.RawMessage, names map[string]string) json.RawMessage {
	var list []map[string]json.RawMessage
	if json.Unmarshal(raw, &list) != nil {
		return raw
	}
	for _, o := range list {
		for from, to := range names {
			if v, old := o[from]; old {
				o[to] = v
				delete(o, from)
			}
		}
	}
	out, err := json.Marshal(list)
	if err != nil {
		return raw
	}
	return out
}

// waivers says of checks that older texts called optional who may waive them, and reports whether there were any.
func waivers(m map[string]json.RawMessage) bool {
	var list []map[string]json.RawMessage
	if json.Unmarshal(m["checks"], &list) != nil {
		return false
	}
	found := false
	for _, o := range list {
		if o["optional"] == nil {
			continue
		}
		found = true
		var c Check
		text, err := json.Marshal(o)
		if err == nil && json.Unmarshal(text, &c) == nil && string(o["optional"]) == "true" && c.Waive == "" &&
			!c.Hold &&
			!c.CarriesVerdict() {
			o["waive"] = json.RawMessage(`"technician"`)
		}
		delete(o, "optional")
	}
	if out, err := json.Marshal(list); err == nil && found {
		m["checks"] = out
	}
	return found
}
