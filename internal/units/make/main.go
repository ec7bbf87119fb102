// Command make writes the units of core for the pages: how each is written, and by what factor figures are shown in
// another of its kind.
package main

import (
	"fmt"
	"os"
	"slices"
	"strings"

	"dynacor/core/quantity"
)

func main() {
	if len(os.Args) != 2 {
		fmt.Fprintln(os.Stderr, "make FILE")
		os.Exit(2)
	}
	if err := os.WriteFile(os.Args[1], []byte(text()), 0o644); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func text() string {
	var b strings.Builder
	b.WriteString("// Made from core/quantity by make gen. Do not edit.\n\n/** How a unit is written, where its " +
		"code is not the way. */\nexport const symbols: Record<string, string> = {\n")
	written := quantity.Written()
	codes := make([]quantity.Unit, 0, len(written))
	for u := range written {
		codes = append(codes, u)
	}
	slices.Sort(codes)
	for _, u := range codes {
		fmt.Fprintf(&b, "  %s: '%s',\n", u, written[u])
	}
	b.WriteString("};\n\n/** How much of the first unit of its kind is in one. */\nexport const factors: " +
		"Record<string, number> = {\n")
	for _, k := range []quantity.Kind{quantity.KindTorque, quantity.KindPressure, quantity.KindForce,
		quantity.KindLength, quantity.KindArea} {
		list := quantity.Units(k)
		for _, u := range list {
			v, _ := quantity.Convert(1, u, list[0])
			fmt.Fprintf(&b, "  %s: %v,\n", u, v)
		}
	}
	b.WriteString("};\n")
	return b.String()
}
