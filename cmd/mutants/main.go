// Command mutants holds what a mutation tool reports against the list of changes that no test need notice, each with
// its reason: mutants LIST REPORT... It tells what was noticed, and fails when less than 85 % was, or when something
// lived that the list does not have.
package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"os"
	"path"
	"slices"
	"strings"
)

// least is the share of changes that tests must notice, per cent.
const least = 85

func main() {
	if len(os.Args) < 3 {
		fmt.Fprintln(os.Stderr, "usage: mutants LIST REPORT...")
		os.Exit(2)
	}
	ok, err := run(os.Stdout, os.Args[1], os.Args[2:])
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	if !ok {
		os.Exit(1)
	}
}

// report is what the tool writes of a package of core, whose name the file bears.
type report struct {
	Files []struct {
		Name      string `json:"file_name"`
		Mutations []struct {
			Type   string `json:"type"`
			Status string `json:"status"`
			Line   int    `json:"line"`
			Column int    `json:"column"`
		} `json:"mutations"`
	} `json:"files"`
}

// kinds are the tool's names for what it changes, as the list says them.
var kinds = map[string]string{"CONDITIONALS_BOUNDARY": "bound", "CONDITIONALS_NEGATION": "opposite",
	"ARITHMETIC_BASE": "arithmetic", "INCREMENT_DECREMENT": "step", "INVERT_NEGATIVES": "sign"}

// run compares the reports with the list, and says whether all is well.
func run(w io.Writer, listed string, reports []string) (ok bool, err error) {
	known, err := readList(listed)
	if err != nil {
		return false, err
	}
	ok = true
	for _, name := range reports {
		data, err := os.ReadFile(name)
		if err != nil {
			return false, err
		}
		var r report
		if err := json.Unmarshal(data, &r); err != nil {
			return false, fmt.Errorf("%s is no report: %w", name, err)
		}
		of := strings.TrimSuffix(path.Base(name), ".json")
		t, err := sum(r, path.Join("core", of))
		if err != nil {
			return false, err
		}
		fmt.Fprintf(w, "%s: %d of %d noticed, %.1f %%; %d not tried\n", of, t.noticed, t.all,
			100*float64(t.noticed)/float64(max(1, t.all)), t.untried)
		if 100*t.noticed < least*t.all || t.all == 0 {
			fmt.Fprintf(w, "  fewer than %d %%\n", least)
			ok = false
		}
		for _, l := range slices.Sorted(maps.Keys(t.lived)) {
			if !known[l] {
				fmt.Fprintln(w, "  lived, and is not on the list: "+l)
				ok = false
			}
		}
	}
	return ok, nil
}

// tally is what became of the changes of a package. What lived is written as the list writes it: file, kind and the
// line of code with a mark before what is changed, so that it holds when lines above it come and go.
type tally struct {
	noticed, all int
	untried      int
	lived        map[string]bool
}

// sum counts a change that never ends as noticed. What the tool takes for not reached it does not try: it goes by
// blocks of code, and conditions of a switch are in none.
func sum(r report, dir string) (tally, error) {
	t := tally{lived: map[string]bool{}}
	for _, f := range r.Files {
		name := path.Join(dir, f.Name)
		data, err := os.ReadFile(name)
		if err != nil {
			return t, fmt.Errorf("the report is of another state of the sources: %w", err)
		}
		lines := strings.Split(string(data), "\n")
		for _, m := range f.Mutations {
			switch m.Status {
			case "KILLED", "TIMED OUT":
				t.noticed++
				t.all++
			case "NOT COVERED":
				t.untried++
			case "LIVED":
				t.all++
				if m.Line > len(lines) || m.Column < 1 || m.Column > len(lines[m.Line-1]) {
					return t, fmt.Errorf("%s has no line %d, column %d", name, m.Line, m.Column)
				}
				code := lines[m.Line-1]
				kind, known := kinds[m.Type]
				if !known {
					kind = m.Type
				}
				t.lived[fmt.Sprintf("%s | %s | %s", name, kind,
					strings.TrimSpace(code[:m.Column-1]+"▸"+code[m.Column-1:]))] = true
			}
		}
	}
	return t, nil
}

// readList reads the list: items under headings that give their reason.
func readList(name string) (map[string]bool, error) {
	f, err := os.Open(name)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	known := map[string]bool{}
	sc := bufio.NewScanner(f)
	for sc.Scan() {
		if item, is := strings.CutPrefix(sc.Text(), "    "); is {
			known[item] = true
		}
	}
	return known, sc.Err()
}
