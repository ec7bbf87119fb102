package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strings"

	"dynacor/core/calc"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

type calcCmd struct {
	Name   string   `arg:"" optional:"" help:"Calculation by name; without one the catalogue is listed."`
	Value  []string `arg:"" optional:"" help:"Inputs as key=value, such as torque='320 ft-lb' or thread=M24."`
	JSON   bool     `name:"json" help:"Write the result as JSON."`
	Find   string   `help:"List only what these words find."`
	Inputs bool     `name:"inputs" help:"Show the inputs of the calculation."`
	Cases  string   `help:"Work a file of cases (JSON) and write a line of JSON for each." type:"existingfile"`
}

func (c calcCmd) Run() error {
	out := bufio.NewWriter(os.Stdout)
	defer out.Flush()
	switch {
	case c.Cases != "":
		return cases(out, c.Cases)
	case c.Name == "":
		return catalogue(out, c.Find, c.JSON)
	}
	k, err := calc.ByName(c.Name)
	if err != nil {
		return err
	}
	if c.Inputs {
		inputs(out, k)
		return nil
	}
	values := map[string]any{}
	for _, v := range c.Value {
		key, val, ok := strings.Cut(v, "=")
		if !ok {
			return quantity.Refuse(v, "Write it as key=value, for example torque='320 ft-lb'.", "has no value")
		}
		values[strings.TrimSpace(key)] = val
	}
	a, err := calc.Ask(c.Name, calc.Request{Values: values, Effects: true}, nil)
	if err != nil {
		return fmt.Errorf("%w\n(dynacor calc %s --inputs lists the inputs)", err, c.Name)
	}
	if c.JSON {
		enc := json.NewEncoder(out)
		enc.SetIndent("", "  ")
		return enc.Encode(a)
	}
	sheet(out, k, a)
	return nil
}

func catalogue(out io.Writer, words string, asJSON bool) error {
	if asJSON {
		return json.NewEncoder(out).Encode(calc.Describe(words))
	}
	group := ""
	found := calc.Find(words)
	if len(found) == 0 {
		return quantity.Refuse("find", "Try another word, or list all without one.", "nothing is called %q", words)
	}
	for _, c := range found {
		if c.Group != group && words == "" {
			group = c.Group
			fmt.Fprintf(out, "\n%s\n", group)
		}
		fmt.Fprintf(out, "  %-28s %s\n", c.Name, c.Title)
	}
	return nil
}

func inputs(out io.Writer, c *calc.Calculation) {
	fmt.Fprintf(out, "%s\n%s\n\n", c.Title, c.Limits)
	row := func(key, label, unit, note string) { fmt.Fprintf(out, "  %-28s %s%s%s\n", key, label, unit, note) }
	for _, f := range c.Inputs {
		unit, note := "", ""
		if f.Unit != "" {
			unit = ", " + f.Unit.Symbol()
		}
		switch {
		case len(f.Choices) > 0:
			note = ": " + strings.Join(f.Choices, ", ")
		case len(f.Columns) > 0:
			var cols []string
			for _, col := range f.Columns {
				cols = append(cols, col.Key)
			}
			note = ": rows of " + strings.Join(cols, " ") + ", apart by ;"
		case f.Limits != "":
			note = " (" + f.Limits + ")"
		}
		switch {
		case f.Default != "":
			note += " [" + f.Default + "]"
		case f.Optional:
			note += " [optional]"
		}
		row(f.Key, f.Label, unit, note)
	}
	for _, f := range c.Fill {
		row(f, "fills in what its tables know", "", " [optional]")
	}
}

var originMark = map[working.Origin]string{working.Supplied: "given", working.LookedUp: "table", working.Calculated: "",
	working.Assumed: "usual"}

func sheet(out io.Writer, c *calc.Calculation, a *calc.Answer) {
	fmt.Fprintf(out, "%s\n\n", c.Title)
	for _, o := range a.Shown {
		also := ""
		if o.Also != "" {
			also = "  (" + o.Also + ")"
		}
		fmt.Fprintf(out, "  %-44s %s%s\n", o.Label, o.Text, also)
	}
	fmt.Fprintf(out, "\nWorking (%s)\n", c.Source)
	for _, l := range a.Working.Lines {
		how := originMark[l.Origin]
		if l.Formula != "" {
			how = l.Formula
			if l.Numbers != l.Formula {
				how += " = " + l.Numbers
			}
		}
		if l.Source != "" && l.Origin != working.Assumed {
			how += "  [" + l.Source + "]"
		}
		fmt.Fprintf(out, "  %-6s %-36s %14s  %s\n", l.Symbol, l.Name, l.Text, how)
	}
	for _, t := range a.Working.Takes {
		fmt.Fprintf(out, "  Taken for granted: %s\n", t)
	}
	for _, t := range a.Working.Warnings {
		fmt.Fprintf(out, "  Mind: %s\n", t)
	}
	for i, e := range a.Effects {
		if i == 0 {
			fmt.Fprint(out, "\nWhat matters most: the result changes by\n")
		}
		per := "1 %"
		if e.Kelvin {
			per = "1 K"
		}
		if i < 3 {
			fmt.Fprintf(out, "  %+.2f %% for %s more of %s\n", e.Percent, per, e.Label)
		}
	}
	fmt.Fprintf(out, "\n%s\n", c.Limits)
}

// cases works a file of cases: a list of {"id","calc","inputs"}; numbers must be numbers there.
func cases(out io.Writer, file string) error {
	raw, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	var list []struct {
		ID     string         `json:"id"`
		Calc   string         `json:"calc"`
		Inputs map[string]any `json:"inputs"`
	}
	if err := json.Unmarshal(raw, &list); err != nil {
		return fmt.Errorf("%s is not a list of cases with id, calc and inputs: %w", file, err)
	}
	enc := json.NewEncoder(out)
	for _, c := range list {
		line := struct {
			ID      string         `json:"id"`
			Calc    string         `json:"calc"`
			Outputs map[string]any `json:"outputs"`
			Error   *string        `json:"error"`
		}{ID: c.ID, Calc: c.Calc, Outputs: map[string]any{}}
		r, err := calc.Run(c.Calc, c.Inputs, calc.Options{})
		if err != nil {
			text := err.Error()
			line.Error = &text
		} else {
			line.Outputs = r.Values
		}
		if err := enc.Encode(line); err != nil {
			return err
		}
	}
	return nil
}
