// Package performance puts what `make bench` measured into the document that tells it, so that neither is older than
// the other.
package performance

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"math"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/perf/benchfmt"
)

// Marks in the document; what stands between them is written anew.
const (
	begin = "<!-- written by make bench -->\n"
	end   = "<!-- up to here -->\n"
)

// row is a benchmark of its own, or one part of it.
type row struct {
	of, part string
	seconds  float64
	others   []string // what else was measured, in words
}

// yardstick reports whether the row is one, and for which part; "" is for every part beside it.
func (r row) yardstick() (of string, is bool) {
	rest, is := strings.CutPrefix(r.part, "yardstick")
	of, _, _ = strings.Cut(strings.TrimPrefix(rest, " of "), ":")
	return strings.TrimSpace(of), is
}

// words is what a yardstick consists of.
func (r row) words() string {
	_, words, _ := strings.Cut(r.part, ": ")
	return words
}

var suffix = regexp.MustCompile(`-\d+$`)

// read gives the rows of a benchmark's output in their order. Refused: output with a failure in it, or with nothing.
func read(output io.Reader) ([]row, error) {
	var rows []row
	text, err := io.ReadAll(output)
	if err != nil {
		return nil, err
	}
	if regexp.MustCompile(`(?m)^(--- FAIL|FAIL|panic:)`).Match(text) {
		return nil, errors.New("a benchmark failed: nothing is written")
	}
	for r := benchfmt.NewReader(bytes.NewReader(text), "bench"); r.Scan(); {
		res, ok := r.Result().(*benchfmt.Result)
		if !ok {
			continue
		}
		of, part, _ := strings.Cut(suffix.ReplaceAllString(string(res.Name), ""), "/")
		one := row{of: of, part: strings.ReplaceAll(part, "_", " ")}
		for _, v := range res.Values {
			switch v.Unit {
			case "sec/op":
				one.seconds = v.Value
			case "B/s":
			default:
				one.others = append(one.others, figure(v.Value)+" "+strings.ReplaceAll(v.Unit, "_", " "))
			}
		}
		rows = append(rows, one)
	}
	if len(rows) == 0 {
		return nil, errors.New("there is no benchmark in it")
	}
	return rows, nil
}

// figure is a number with three figures.
func figure(v float64) string {
	if v == 0 {
		return "0"
	}
	digits := max(0, 2-int(math.Floor(math.Log10(math.Abs(v)))))
	text := fmt.Sprintf("%.*f", digits, v)
	if digits > 0 {
		text = strings.TrimRight(strings.TrimRight(text, "0"), ".")
	}
	return text
}

// span is a time in the unit that suits it.
func span(seconds float64) string {
	for _, u := range []struct {
		least float64
		name  string
	}{{1, "s"}, {1e-3, "ms"}, {1e-6, "µs"}} {
		if seconds >= u.least {
			return figure(seconds/u.least) + " " + u.name
		}
	}
	return figure(seconds*1e9) + " ns"
}

// title is what a benchmark is called in the table: its name in words.
func title(name string) string {
	words := regexp.MustCompile(`[A-Z][a-z]*|\d+`).FindAllString(name, -1)
	return strings.ToUpper(words[0][:1]) + strings.ToLower(words[0][1:]) +
		strings.ToLower(strings.Join(append([]string{""}, words[1:]...), " "))
}

// table is the rows as a table, each beside its yardstick.
func table(rows []row) string {
	var b strings.Builder
	b.WriteString("| what | measured | yardstick of the same run | times |\n| --- | --- | --- | --- |\n")
	for _, r := range rows {
		if _, is := r.yardstick(); is {
			continue
		}
		what := title(r.of)
		if r.part != "" {
			what += ": " + r.part
		}
		measured := strings.Join(append([]string{span(r.seconds)}, r.others...), ", ")
		at := slices.IndexFunc(rows, func(y row) bool {
			of, is := y.yardstick()
			return is && y.of == r.of && (of == "" || of == r.part)
		})
		if at < 0 {
			fmt.Fprintf(&b, "| %s | %s | | |\n", what, measured)
			continue
		}
		y := rows[at]
		fmt.Fprintf(&b, "| %s | %s | %s: %s | %s |\n", what, measured, y.words(),
			strings.Join(append([]string{span(y.seconds)}, y.others...), ", "), figure(r.seconds/y.seconds))
	}
	return b.String()
}

var script = regexp.MustCompile(`(?:src|href)="/(assets/[^"]+\.js)"`)

// firstPage is how many bytes of script the first page fetches, gzipped.
func firstPage(dist fs.FS) (first int64, err error) {
	page, err := fs.ReadFile(dist, "index.html")
	if err != nil {
		return 0, err
	}
	for _, m := range script.FindAllStringSubmatch(string(page), -1) {
		info, err := fs.Stat(dist, m[1]+".gz")
		if errors.Is(err, fs.ErrNotExist) { // one so small that it is sent as it is
			info, err = fs.Stat(dist, m[1])
		}
		if err != nil {
			return 0, err
		}
		first += info.Size()
	}
	return first, nil
}

// sizes tells what a browser loads: the scripts of the first page, and the rules of core.
func sizes(dist fs.FS) (string, error) {
	first, err := firstPage(dist)
	if err != nil {
		return "", err
	}
	out := fmt.Sprintf("The first page loads %d kB of script, gzipped.", (first+500)/1000)
	list, err := fs.Glob(dist, "assets/*.wasm.br")
	if err != nil {
		return "", err
	}
	for _, name := range list {
		info, err := fs.Stat(dist, name)
		if err != nil {
			return "", err
		}
		name, _, _ := strings.Cut(strings.TrimPrefix(name, "assets/"), "-")
		name, _, _ = strings.Cut(name, ".")
		out += fmt.Sprintf(" The WebAssembly `%s` is %.2f MB by brotli, as built here.", name, float64(info.Size())/1e6)
	}
	return out + "\n", nil
}

// Write gives the document with what was measured and how large the built pages are. Refused: a document without its
// two marks, and output with a failure in it.
func Write(document string, output io.Reader, dist fs.FS) (string, error) {
	head, rest, ok := strings.Cut(document, begin)
	_, tail, closed := strings.Cut(rest, end)
	if !ok || !closed {
		return "", errors.New("the document lacks the marks between which is written")
	}
	rows, err := read(output)
	if err != nil {
		return "", err
	}
	size, err := sizes(dist)
	if err != nil {
		return "", err
	}
	return head + begin + "\n" + table(rows) + "\n" + size + "\n" + end + tail, nil
}
