package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"

	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/pgcluster"
)

type explainCmd struct {
	DatabaseURL string `help:"PostgreSQL address; without it the running demo is looked at." env:"DYNACOR_DATABASE_URL"`
	Data        string `help:"Folder of the demo." env:"DYNACOR_DATA" default:".dynacor" type:"path"`
	Which       string `arg:"" name:"run" help:"Number of the run, or tag of the joint whose work is meant."`
	JSON        bool   `help:"Print the state at the end as JSON as well."`
}

func (c explainCmd) Run(ctx context.Context) error {
	if c.DatabaseURL == "" {
		url, err := pgcluster.Running(filepath.Join(c.Data, "pg"), "postgres")
		if err != nil {
			return err
		}
		c.DatabaseURL = url
	}
	a, pool, err := database{c.DatabaseURL}.open(ctx)
	if err != nil {
		return err
	}
	defer pool.Close()
	id := c.Which
	if d, err := a.Joint(ctx, id); err == nil {
		if id = d.RunID; id == "" {
			return errors.New("there is no work on " + c.Which)
		}
	}
	v, err := a.Run(ctx, id)
	if err != nil {
		return err
	}
	return explain(os.Stdout, v, c.JSON)
}

// explain goes through a run as the rules do: every entry, what each found, what departed from the plan by it, and how
// the work stood after it.
func explain(w io.Writer, v app.RunView, whole bool) error {
	fmt.Fprintf(w, "%s, plan version %d, %d fasteners, %d passes, begun by %s\n", v.Joint.Tag, v.PlanVersion,
		v.Plan.Count(), len(v.Plan.Passes), v.StartedBy)
	g := run.NewProgress(v.Plan)
	deviations := 0
	stop := ""
	for _, e := range v.Entries {
		g.Apply(e.Event)
		s := g.State(e.Event.When())
		fmt.Fprintf(w, "%4d  %s  %s\n", e.Seq, e.Event.When().Format("2006-01-02 15:04:05"), line(e))
		for _, f := range s.Findings {
			fmt.Fprintf(w, "      %s %s: %s %s\n", f.Severity, f.Code, f.What, f.Remedy)
		}
		if len(s.Deviations) < deviations { // something was taken back, and its deviations with it
			deviations = len(s.Deviations)
		}
		for _, d := range s.Deviations[deviations:] {
			fmt.Fprintf(w, "      deviation %s (%s): %s\n", d.Code, d.Status, d.What)
		}
		deviations = len(s.Deviations)
		if now := fmt.Sprintf("%s, pass %d", s.Station, s.Pass); now != stop {
			fmt.Fprintf(w, "      now at %s\n", now)
			stop = now
		}
	}
	s := v.State
	fmt.Fprintf(w, "%s: %s\n", s.Verdict.Word, s.Verdict.Sentence)
	for _, r := range s.Verdict.Reasons {
		fmt.Fprintf(w, "      %s: %s %s\n", r.Status, r.Text, r.Value)
	}
	for _, t := range s.OpenItems {
		fmt.Fprintf(w, "      open: %s\n", t)
	}
	if !whole {
		return nil
	}
	enc := json.NewEncoder(w)
	enc.SetIndent("", "  ")
	return enc.Encode(s)
}

// line says an entry in one line.
func line(e record.Entry) string {
	ev := e.Event
	t := fmt.Sprintf("%s by %s", ev.Kind, ev.Person.Name)
	add := func(name, v string) {
		if v != "" {
			t += ", " + name + " " + v
		}
	}
	if ev.Fastener > 0 {
		t += fmt.Sprintf(", position %d, pass %d", ev.Fastener, ev.Pass)
	}
	add("check", ev.Check)
	add("answer", ev.Answer)
	add("outcome", string(ev.Outcome))
	if ev.Setting > 0 {
		t += fmt.Sprintf(", set %g", ev.Setting)
	}
	if ev.Reading != nil {
		add("read", ev.Reading.Words())
	}
	for _, v := range ev.Values {
		add("read", v.Words())
	}
	if ev.Wrench != nil {
		add("tool", ev.Wrench.Tag)
	}
	add("purpose", string(ev.Purpose))
	if ev.Signer != nil {
		add("signed by", ev.Signer.Name+", "+ev.Signer.Role)
	}
	add("of", ev.Ref)
	add("because", ev.Reason)
	add("note", ev.Note)
	add("not proved:", string(ev.Unproved))
	return t
}
