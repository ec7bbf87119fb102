package calc

import (
	"encoding/json"
	"slices"
	"strings"

	"dynacor/core/fastener"
	"dynacor/core/quantity"
)

// typed turns what a person wrote into values: keys may lack their unit, numbers may carry one, lists and tables are
// read from text, and a thread, a grade or a lubricant fills the inputs it knows.
func (c *Calculation) typed(raw map[string]any, o Options, r *Result) (map[string]any, error) {
	out, looks := map[string]any{}, map[string]string{}
	for key, v := range raw {
		if s, isText := v.(string); isText && slices.Contains(c.Fill, key) {
			if strings.TrimSpace(s) != "" {
				looks[key] = s
			}
			continue
		}
		f, ok := c.field(key)
		if !ok {
			known := append(c.keys(), c.Fill...)
			return nil, quantity.Refuse(key, "The inputs are "+strings.Join(known, ", ")+".", "is not an input of %s",
				c.Name)
		}
		if s, isText := v.(string); isText && strings.TrimSpace(s) == "" && f.Kind != "text" {
			continue
		}
		if s, isText := v.(string); isText && f.Kind == "number" && isThread(s) && slices.Contains(c.Fill, "thread") &&
			looks["thread"] == "" {
			looks["thread"] = s
			continue
		}
		x, err := read(f, v, o.Units[f.Key])
		if err != nil {
			return nil, err
		}
		out[f.Key] = x
	}
	return out, c.lookUp(looks, out, o.Cards, r)
}

// field finds an input by its key, or by its key without the unit when only one is so called.
func (c *Calculation) field(key string) (quantity.Field, bool) {
	var found []quantity.Field
	for _, f := range c.Inputs {
		if f.Key == key {
			return f, true
		}
		if bare(f.Key) == key || strings.EqualFold(bare(f.Key), key) {
			found = append(found, f)
		}
	}
	if len(found) == 1 {
		return found[0], true
	}
	// a leading word is enough when it is one input's alone: "torque" for "output_torque_Nm"
	if len(found) == 0 {
		for _, f := range c.Inputs {
			if slices.Contains(strings.Split(bare(f.Key), "_"), key) {
				found = append(found, f)
			}
		}
		if len(found) == 1 {
			return found[0], true
		}
	}
	return quantity.Field{}, false
}

// read reads one value; meant is the unit of a number without one, "" for the field's own.
func read(f quantity.Field, v any, meant quantity.Unit) (any, error) {
	s, isText := v.(string)
	if !isText {
		if items, ok := v.([]any); ok {
			return readItems(f, items, meant)
		}
		return v, nil
	}
	switch f.Kind {
	case "number", "whole":
		return number(f, s, meant)
	case "flag":
		switch strings.ToLower(strings.TrimSpace(s)) {
		case "true", "yes", "y", "1":
			return true, nil
		case "false", "no", "n", "0":
			return false, nil
		}
		return nil, quantity.Refuse(f.Key, "Say yes or no.", "%q is neither yes nor no", s)
	case "text", "choice":
		return strings.TrimSpace(s), nil
	}
	if t := strings.TrimSpace(s); strings.HasPrefix(t, "[") {
		var items []any
		if err := json.Unmarshal([]byte(t), &items); err != nil {
			return nil, quantity.Refuse(f.Key, "Enter the values one after another, or a JSON list.", "cannot be read")
		}
		return readItems(f, items, meant)
	}
	return readText(f, s, meant)
}

// readItems reads the cells of a list that came as one.
func readItems(f quantity.Field, items []any, meant quantity.Unit) (any, error) {
	out := make([]any, 0, len(items))
	for _, item := range items {
		switch x := item.(type) {
		case map[string]any:
			row := map[string]any{}
			for key, cell := range x {
				i := slices.IndexFunc(f.Columns, func(c quantity.Field) bool { return c.Key == key })
				if text, ok := cell.(string); i < 0 || ok && strings.TrimSpace(text) == "" &&
					f.Columns[i].Kind != "text" {
					if i < 0 {
						row[key] = cell
					}
					continue
				}
				v, err := read(f.Columns[i], cell, "")
				if err != nil {
					return nil, err
				}
				row[key] = v
			}
			if len(row) > 0 {
				out = append(out, row)
			}
		case []any:
			v, err := readItems(f, x, meant)
			if err != nil {
				return nil, err
			}
			out = append(out, v)
		case string:
			if f.Kind == "texts" {
				out = append(out, x)
				continue
			}
			n, err := number(f, x, meant)
			if err != nil {
				return nil, err
			}
			out = append(out, n)
		default:
			out = append(out, item)
		}
	}
	return out, nil
}

// readText reads a list, grid, cube or table from lines: cells apart by blanks or tabs, rows by line ends or
// semicolons, blocks of a cube by empty lines.
func readText(f quantity.Field, s string, meant quantity.Unit) (any, error) {
	s = strings.ReplaceAll(s, "\r\n", "\n")
	switch f.Kind {
	case "list", "wholes", "texts":
		return readItems(f, anys(cells(strings.NewReplacer(";", " ", "\n", " ").Replace(s))), meant)
	case "grid":
		return readGrid(f, s, meant)
	case "cube":
		var out []any
		for block := range strings.SplitSeq(s, "\n\n") {
			if strings.TrimSpace(block) == "" {
				continue
			}
			g, err := readGrid(f, block, meant)
			if err != nil {
				return nil, err
			}
			out = append(out, g)
		}
		return out, nil
	}
	var out []any
	for _, line := range rows(s) {
		row, cs := map[string]any{}, cells(line)
		if len(cs) > len(f.Columns) {
			return nil, quantity.Refuse(f.Key, "The columns are "+strings.Join(keysOf(f.Columns), ", ")+".",
				"the row %q has %d cells", line, len(cs))
		}
		for i, cell := range cs {
			col := f.Columns[i]
			if col.Kind == "list" || col.Kind == "texts" { // the rest of the line
				v, err := readItems(col, anys(cs[i:]), "")
				if err != nil {
					return nil, err
				}
				row[col.Key] = v
				break
			}
			if cell == "-" {
				continue
			}
			v, err := read(col, cell, "")
			if err != nil {
				return nil, err
			}
			row[col.Key] = v
		}
		out = append(out, row)
	}
	return out, nil
}

func readGrid(f quantity.Field, s string, meant quantity.Unit) (any, error) {
	var out []any
	for _, line := range rows(s) {
		r, err := readItems(f, anys(cells(line)), meant)
		if err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	return out, nil
}

func rows(s string) []string {
	var out []string
	for line := range strings.SplitSeq(strings.ReplaceAll(s, ";", "\n"), "\n") {
		if strings.TrimSpace(line) != "" {
			out = append(out, strings.TrimSpace(line))
		}
	}
	return out
}

// cells splits at tabs, else at blanks, else at commas: a comma inside a number with blanks around is its decimal.
func cells(line string) []string {
	line = strings.TrimSpace(line)
	switch {
	case strings.Contains(line, "\t"):
		var out []string
		for c := range strings.SplitSeq(line, "\t") {
			out = append(out, strings.TrimSpace(c))
		}
		return out
	case strings.ContainsAny(line, " "):
		out := strings.Fields(line)
		for i := range out {
			out[i] = strings.TrimSuffix(out[i], ",")
		}
		return out
	}
	return strings.FieldsFunc(line, func(r rune) bool { return r == ',' })
}

func anys(list []string) []any {
	out := make([]any, len(list))
	for i, s := range list {
		out[i] = s
	}
	return out
}

// isThread tells a designation such as "M24" or "1 1/8-8" from a number.
func isThread(s string) bool {
	t := strings.ToUpper(quantity.Plain(s))
	if strings.HasPrefix(t, "M") && len(t) > 1 && t[1] >= '0' && t[1] <= '9' || strings.HasPrefix(t, "#") ||
		strings.Contains(t, "UN") {
		_, err := fastener.ParseThread(s)
		return err == nil
	}
	head, tpi, ok := strings.Cut(t, "-")
	if !ok || tpi == "" || strings.Contains(tpi, "/") || head == "" || !strings.Contains(head, "/") && len(head) > 2 {
		return false
	}
	_, err := fastener.ParseThread(s)
	return err == nil
}
