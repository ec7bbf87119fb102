package run

import (
	"encoding/json"

	"dynacor/core/procedure"
)

// UnmarshalJSON reads a state. Older ones called its station a stop, its rows of checks groups, and the person who
// stopped it the one who holds it.
func (s *State) UnmarshalJSON(raw []byte) error {
	type plain State
	old := struct {
		*plain
		Station   procedure.Station `json:"stop"`
		StoppedBy string            `json:"heldBy"`
		Rows      []struct {
			RowState
			Station procedure.Station `json:"stop"`
		} `json:"groups"`
	}{plain: (*plain)(s)}
	if err := json.Unmarshal(raw, &old); err != nil {
		return err
	}
	if old.Station == "" {
		return nil
	}
	s.Station, s.StoppedBy = old.Station, old.StoppedBy
	for _, r := range old.Rows {
		r.RowState.Station = r.Station
		s.Rows = append(s.Rows, r.RowState)
	}
	return nil
}
