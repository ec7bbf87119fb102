package main

import (
	"context"
	"encoding/json"
	"fmt"
	"os"

	"dynacor/core/schedule"
)

type scheduleCmd struct {
	Cases string `help:"File of cases: {\"cases\":[{\"id\",\"instance\"}]}; - reads standard input." required:""`
	Seed  uint64 `help:"Of the search: the same seed, the same answer." default:"1"`
	Work  int    `help:"Placements to make for each case; 0: as its size asks for."`
	// with the usual spreads, until a site has a history of its own
	Forecast bool `help:"Run each plan through 1000 times with durations that vary, and say what becomes of it."`
}

// scheduleCase is one of the file; what else a case tells is not read.
type scheduleCase struct {
	ID       string          `json:"id"`
	Instance json.RawMessage `json:"instance"`
}

// Run plans each case and prints a line of JSON for it, in order.
func (c scheduleCmd) Run(ctx context.Context) error {
	data, err := read(c.Cases)
	if err != nil {
		return err
	}
	var file struct {
		Cases []scheduleCase `json:"cases"`
	}
	if err := json.Unmarshal(data, &file); err != nil {
		return fmt.Errorf("%s is no file of cases: %w", c.Cases, err)
	}
	out := json.NewEncoder(os.Stdout)
	for _, x := range file.Cases {
		if err := out.Encode(c.plan(ctx, x)); err != nil {
			return err
		}
	}
	return nil
}

type scheduleLine struct {
	ID     string           `json:"id"`
	Answer *schedule.Answer `json:"answer,omitempty"`
	Error  string           `json:"error,omitempty"`

	Forecast *schedule.Forecast `json:"forecast,omitempty"`
}

func (c scheduleCmd) plan(ctx context.Context, x scheduleCase) scheduleLine {
	if len(x.Instance) == 0 || string(x.Instance) == "null" {
		return scheduleLine{ID: x.ID, Error: "the case has no instance"}
	}
	var in schedule.Instance
	if err := json.Unmarshal(x.Instance, &in); err != nil {
		return scheduleLine{ID: x.ID, Error: err.Error()}
	}
	a, err := schedule.Solve(ctx, &in, schedule.Options{Seed: c.Seed, Work: c.Work})
	if err != nil {
		return scheduleLine{ID: x.ID, Error: err.Error()}
	}
	line := scheduleLine{ID: x.ID, Answer: a}
	if c.Forecast {
		f, err := schedule.Foresee(&in, a.Activities, schedule.UsualSpreads(), schedule.ForecastRuns, c.Seed)
		if err != nil {
			return scheduleLine{ID: x.ID, Error: err.Error()}
		}
		line.Forecast = &f
	}
	return line
}
