// Command make writes what was measured into docs/performance.md: make OUTPUT DIST DOCUMENT.
package main

import (
	"fmt"
	"os"

	"dynacor/internal/performance"
)

func main() {
	if len(os.Args) != 4 {
		fmt.Fprintln(os.Stderr, "make OUTPUT DIST DOCUMENT")
		os.Exit(2)
	}
	if err := write(os.Args[1], os.Args[2], os.Args[3]); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func write(output, dist, document string) error {
	was, err := os.ReadFile(document)
	if err != nil {
		return err
	}
	f, err := os.Open(output)
	if err != nil {
		return err
	}
	defer f.Close()
	text, err := performance.Write(string(was), f, os.DirFS(dist))
	if err != nil {
		return err
	}
	return os.WriteFile(document, []byte(text), 0o644)
}
