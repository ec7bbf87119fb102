package exchange

import (
	"strconv"
	"strings"
)

// A cell that begins like a formula is worked out by the spreadsheet it is opened in, and may do harm there. Such a
// text is written behind an apostrophe, which spreadsheets take as the mark of a text, and read back without it. A text
// that has the apostrophe itself gets another one, so that every text reads back as it was.

// formulaLike reports whether a spreadsheet would take a text for a formula; a plain number is none.
func formulaLike(s string) bool {
	if s == "" || !strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return false
	}
	_, err := strconv.ParseFloat(s, 64)
	return err != nil
}

// guard writes a cell so that no spreadsheet takes it for a formula.
func guard(s string) string {
	if formulaLike(strings.TrimLeft(s, "'")) {
		return "'" + s
	}
	return s
}

// guarded writes a line.
func guarded(cells []string) []string {
	out := make([]string, len(cells))
	for i, s := range cells {
		out[i] = guard(s)
	}
	return out
}

// unguard reads a cell that was written by guard.
func unguard(s string) string {
	if rest, ok := strings.CutPrefix(s, "'"); ok && formulaLike(strings.TrimLeft(rest, "'")) {
		return rest
	}
	return s
}
