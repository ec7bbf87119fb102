// Command make writes the built-in procedures as JSON beside their YAML, and the JSON Schema of the form. Run by make
// gen.
package main

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"dynacor/internal/procedures"
)

func main() {
	if err := run(os.Args[1], os.Args[2]); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(dir, schema string) error {
	list, err := filepath.Glob(filepath.Join(dir, "*.yaml"))
	if err != nil {
		return err
	}
	bad := 0
	for _, name := range list {
		text, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		f, faults := procedures.Read(text)
		for _, x := range faults {
			bad++
			fmt.Fprintf(os.Stderr, "%s:%d: %s: %s. %s\n", name, x.Line, x.Path, x.What, x.Remedy)
		}
		if len(faults) > 0 {
			continue
		}
		out, err := json.Marshal(f)
		if err != nil {
			return err
		}
		if err := os.WriteFile(strings.TrimSuffix(name, ".yaml")+".json", append(out, '\n'), 0o644); err != nil {
			return err
		}
	}
	if bad > 0 {
		return fmt.Errorf("%d faults", bad)
	}
	return os.WriteFile(schema, procedures.Schema(), 0o644)
}
