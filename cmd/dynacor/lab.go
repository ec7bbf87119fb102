package main

import (
	"encoding/json"
	"fmt"
	"os"

	"dynacor/core/interaction"
)

type labCmd struct {
	Cases string `help:"File of cases: {\"cases\":[{\"id\",\"joint\",\"sequence\"}]}; - reads standard input." required:""`
}

type labLine struct {
	ID      string         `json:"id"`
	Outputs map[string]any `json:"outputs,omitempty"`
	Error   string         `json:"error,omitempty"`
}

// Run computes each case and prints a line of JSON for it, in order.
func (c labCmd) Run() error {
	data, err := read(c.Cases)
	if err != nil {
		return err
	}
	var file struct {
		Cases []json.RawMessage `json:"cases"`
	}
	if err := json.Unmarshal(data, &file); err != nil {
		return fmt.Errorf("%s is no file of cases: %w", c.Cases, err)
	}
	out := json.NewEncoder(os.Stdout)
	for _, raw := range file.Cases {
		if err := out.Encode(labCase(raw)); err != nil {
			return err
		}
	}
	return nil
}

func labCase(raw json.RawMessage) labLine {
	var x interaction.Case
	if err := json.Unmarshal(raw, &x); err != nil {
		var id struct {
			ID string `json:"id"`
		}
		_ = json.Unmarshal(raw, &id) // the line is told by what can be read of it
		return labLine{ID: id.ID, Error: err.Error()}
	}
	got, err := x.Outputs()
	if err != nil {
		return labLine{ID: x.ID, Error: err.Error()}
	}
	return labLine{ID: x.ID, Outputs: got}
}
