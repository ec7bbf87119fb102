// Command testsum reads what go test -json wrote, prints what failed, and ends with one line "N passed, N failed".
package main

import (
	"bufio"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
)

type line struct {
	Action, Package, Test, Output string
}

func main() {
	kept := flag.String("kept", "",
		"folder in which failing tests leave what they saw; named when there is something in it")
	flag.Parse()
	os.Exit(run(os.Stdout, *kept, flag.Args()))
}

// run sums the files up. A test counts once: neither the test around a failing one nor its package is a failure of its
// own.
func run(w io.Writer, kept string, files []string) int {
	var t tally
	for _, f := range files {
		if err := t.read(w, f); err != nil {
			fmt.Fprintln(w, err)
			t.failed++
		}
	}
	if t.passed == 0 {
		fmt.Fprintln(w, "no test was run")
		t.failed++
	}
	if list, _ := os.ReadDir(kept); t.failed > 0 && kept != "" && len(list) > 0 {
		fmt.Fprintf(w, "what the pages of failing tests showed is kept in %s\n", filepath.Clean(kept))
	}
	fmt.Fprintf(w, "%d passed, %d failed, %d skipped\n", t.passed, t.failed, t.skipped)
	if t.failed > 0 {
		return 1
	}
	return 0
}

type tally struct{ passed, failed, skipped int }

// read takes in one file. The lines of a failing test come before those of the test and the package around it.
func (t *tally) read(w io.Writer, file string) error {
	said := map[string]*strings.Builder{}
	inside := map[string]bool{} // tests and packages that hold a failure counted already
	return each(w, file, func(l line) {
		key := strings.TrimSpace(l.Package + " " + l.Test)
		if said[key] == nil {
			said[key] = &strings.Builder{}
		}
		switch l.Action {
		case "output", "build-output":
			said[key].WriteString(l.Output)
		case "pass":
			if l.Test != "" {
				t.passed++
			}
		case "skip":
			if l.Test != "" {
				t.skipped++
			}
		case "fail":
			if inside[key] {
				return
			}
			fmt.Fprintf(w, "--- FAIL: %s\n%s\n", key, said[key])
			t.failed++
			for at := strings.LastIndex(l.Test, "/"); at > 0; at = strings.LastIndex(l.Test[:at], "/") {
				inside[l.Package+" "+l.Test[:at]] = true
			}
			inside[l.Package] = true
		case "build-fail":
			fmt.Fprintln(w, said[key])
			t.failed++
			inside[l.Package] = true
		}
	})
}

// each calls f for every line of a file; a line that is not JSON is printed, because it says why a build broke.
func each(w io.Writer, file string, f func(line)) error {
	r, err := os.Open(file)
	if err != nil {
		return err
	}
	defer r.Close()
	sc := bufio.NewScanner(r)
	sc.Buffer(nil, 16<<20)
	for sc.Scan() {
		var l line
		if json.Unmarshal(sc.Bytes(), &l) != nil {
			fmt.Fprintln(w, sc.Text())
			continue
		}
		f(l)
	}
	return sc.Err()
}
