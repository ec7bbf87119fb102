// Command testsum reads what go test -json wrote, prints what failed, and ends with one line "N passed, N failed".
package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os"
	"strings"
)

type line struct {
	Action, Package, Test, Output string
}

func main() { os.Exit(run(os.Args[1:])) }

func run(files []string) int {
	passed, failed, skipped := 0, 0, 0
	said := map[string]*strings.Builder{}
	for _, f := range files {
		if err := each(f, func(l line) {
			key := l.Package + " " + l.Test
			if said[key] == nil {
				said[key] = &strings.Builder{}
			}
			switch l.Action {
			case "output", "build-output":
				said[key].WriteString(l.Output)
			case "pass":
				if l.Test != "" {
					passed++
				}
			case "skip":
				if l.Test != "" {
					skipped++
				}
			case "fail":
				fmt.Printf("--- FAIL: %s\n%s\n", key, said[key])
				failed++
			case "build-fail":
				fmt.Println(said[key])
				failed++
			}
		}); err != nil {
			fmt.Println(err)
			failed++
		}
	}
	if passed == 0 {
		fmt.Println("no test was run")
		failed++
	}
	fmt.Printf("%d passed, %d failed, %d skipped\n", passed, failed, skipped)
	if failed > 0 {
		return 1
	}
	return 0
}

// each calls f for every line of a file; a line that is not JSON is printed, because it says why a build broke.
func each(file string, f func(line)) error {
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
			fmt.Println(sc.Text())
			continue
		}
		f(l)
	}
	return sc.Err()
}
