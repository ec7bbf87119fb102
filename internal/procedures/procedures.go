// Package procedures reads and writes procedures as YAML, the form in which people edit them. It must never decide what
// a procedure may say: that is core's.
package procedures

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"sync"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"
	"github.com/invopop/jsonschema"
	validator "github.com/santhosh-tekuri/jsonschema/v6"

	"dynacor/core/layout"
	"dynacor/core/measure"
	"dynacor/core/procedure"
)

// common holds checks that many families share: a family names them and gets them whole.
//
//go:embed common.yaml
var common []byte

// MostBytes of a procedure that is read.
const MostBytes = 256 << 10

// shared are the rows and checks that can be taken over by name.
type shared struct {
	Rows   []procedure.Row   `json:"rows"`
	Checks []procedure.Check `json:"checks"`
}

// file is a procedure as written: Common names checks of the shared list, put in before its own of the same row.
type file struct {
	procedure.Family
	Common []string `json:"common,omitempty"`
	// the answers for which each of them is asked; none: always
	CommonWhen map[string]procedure.Answers `json:"commonWhen,omitempty"`
	Apart      *apart                       `json:"apart,omitempty"`
}

// apart is how the joint comes apart as written, with shared checks of its own.
type apart struct {
	procedure.Apart
	Common []string `json:"common,omitempty"`
}

// Schema is the JSON Schema of the file, made from the types.
var Schema = sync.OnceValue(func() []byte {
	enum := map[reflect.Type][]any{
		reflect.TypeFor[procedure.CheckKind]():  words(procedure.CheckKinds()),
		reflect.TypeFor[procedure.TargetKind](): words(procedure.TargetKinds()),
		reflect.TypeFor[procedure.Do]():         words(procedure.Dos()),
		reflect.TypeFor[procedure.Then]():       words(procedure.Thens()),
		reflect.TypeFor[measure.Criterion]():    words(measure.Criteria()),
		reflect.TypeFor[layout.Kind]():          words(layout.Kinds()),
		reflect.TypeFor[procedure.Station](): words([]procedure.Station{procedure.Ready, procedure.Tighten,
			procedure.Prove, procedure.HandOver}),
	}
	r := &jsonschema.Reflector{RequiredFromJSONSchemaTags: true, ExpandedStruct: true,
		Mapper: func(t reflect.Type) *jsonschema.Schema {
			if list, ok := enum[t]; ok {
				return &jsonschema.Schema{Type: "string", Enum: list}
			}
			return nil
		}}
	s := r.Reflect(&file{})
	s.ID, s.Title, s.Description = "", "Dynacor procedure",
		"A joint family: what the work needs, in which steps it is done, what is checked and why."
	s.Required = []string{"code", "version", "name", "looks", "fasteners", "work"}
	out, err := json.MarshalIndent(s, "", "  ")
	if err != nil {
		panic(err) // the types are the program's own
	}
	return append(out, '\n')
})

func words[T ~string](list []T) []any {
	out := make([]any, len(list))
	for i, v := range list {
		out[i] = string(v)
	}
	return out
}

var compiled = sync.OnceValues(func() (*validator.Schema, error) {
	doc, err := validator.UnmarshalJSON(bytes.NewReader(Schema()))
	if err != nil {
		return nil, err
	}
	c := validator.NewCompiler()
	if err := c.AddResource("procedure.json", doc); err != nil {
		return nil, err
	}
	return c.Compile("procedure.json")
})

// Read reads a procedure from YAML. What is wrong comes back as faults, each with its place and line; the family is
// whole only when there are none.
func Read(text []byte) (fam procedure.Family, faults []procedure.Fault) {
	defer func() {
		if v := recover(); v != nil { // the reader of YAML gave up
			fam, faults = procedure.Family{},
				[]procedure.Fault{{What: "the text cannot be read", Remedy: "Look at indents, colons and quotes."}}
		}
	}()
	one := func(what, remedy string, line int) (procedure.Family, []procedure.Fault) {
		return procedure.Family{}, []procedure.Fault{{What: what, Remedy: remedy, Line: line}}
	}
	if len(text) > MostBytes {
		return one(fmt.Sprintf("the file is larger than %d kB", MostBytes>>10),
			"Take out what does not belong to a procedure.", 0)
	}
	if f := bounds(text); f != nil {
		return procedure.Family{}, []procedure.Fault{*f}
	}
	raw, err := yaml.YAMLToJSON(text)
	if err != nil {
		var se *yaml.SyntaxError
		if errors.As(err, &se) && se.Token != nil {
			return one(se.Message, "Look at indents, colons and quotes there.", se.Token.Position.Line)
		}
		return one(err.Error(), "Look at indents, colons and quotes.", 0)
	}
	raw = procedure.Upgraded(raw)
	lines := place(text)
	if faults := bySchema(raw, lines); len(faults) > 0 {
		return procedure.Family{}, faults
	}
	var f file
	dec := json.NewDecoder(bytes.NewReader(raw))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&f); err != nil {
		return one(strings.TrimPrefix(err.Error(), "json: "), "Compare with the schema.", 0)
	}
	fam, faults = f.whole()
	faults = append(faults, fam.Faults()...)
	for i := range faults {
		faults[i].Line = lines(faults[i].Path)
	}
	return fam, faults
}

// bySchema holds the file against the schema and says in words what it finds.
func bySchema(raw []byte, lines func(string) int) []procedure.Fault {
	s, err := compiled()
	if err != nil {
		return []procedure.Fault{{What: err.Error()}}
	}
	doc, err := validator.UnmarshalJSON(bytes.NewReader(raw))
	if err != nil {
		return []procedure.Fault{{What: err.Error()}}
	}
	err = s.Validate(doc)
	var ve *validator.ValidationError
	if !errors.As(err, &ve) {
		return nil
	}
	var out []procedure.Fault
	var walk func(e *validator.ValidationError)
	walk = func(e *validator.ValidationError) {
		for _, c := range e.Causes {
			walk(c)
		}
		if len(e.Causes) == 0 {
			path := dotted(e.InstanceLocation)
			out = append(out, procedure.Fault{Path: path, What: e.BasicOutput().Error.String(),
				Remedy: "See the schema for what may stand there.", Line: lines(path)})
		}
	}
	walk(ve)
	return out
}

// dotted writes a location as people read it: checks[3].limit.
func dotted(at []string) string {
	out := ""
	for _, s := range at {
		switch {
		case s != "" && strings.Trim(s, "0123456789") == "":
			out += "[" + s + "]"
		case out == "":
			out = s
		default:
			out += "." + s
		}
	}
	return out
}

// place finds the line of a path in the text, things with a code by it; of the nearest thing above when the path itself
// is not there.
func place(text []byte) func(string) int {
	doc, err := parser.ParseBytes(text, 0)
	return func(path string) int {
		if err != nil || len(doc.Docs) == 0 || path == "" {
			return 0
		}
		node := doc.Docs[0].Body
		line := 0
		for _, seg := range strings.FieldsFunc(path, func(r rune) bool { return r == '.' || r == '[' || r == ']' }) {
			if node = child(node, seg); node == nil {
				break
			}
			if t := node.GetToken(); t != nil {
				line = t.Position.Line
			}
		}
		return line
	}
}

// child goes one step down: by key, by the code of a thing in a list, or by its number.
func child(node ast.Node, seg string) ast.Node {
	switch n := node.(type) {
	case *ast.MappingNode:
		for _, v := range n.Values {
			if v.Key.String() == seg {
				return v.Value
			}
		}
	case *ast.MappingValueNode:
		if n.Key.String() == seg {
			return n.Value
		}
	case *ast.SequenceNode:
		for i, v := range n.Values {
			if c := child(v, "code"); fmt.Sprint(i) == seg || c != nil && c.String() == seg {
				return v
			}
		}
	}
	return nil
}

// whole puts the shared checks in: each before the family's own checks of its row, in the order they are named.
func (f file) whole() (procedure.Family, []procedure.Fault) {
	fam := f.Family
	raw, err := yaml.YAMLToJSON(common)
	if err != nil {
		return fam, []procedure.Fault{{Path: "common", What: err.Error()}}
	}
	var list shared
	if err := json.Unmarshal(raw, &list); err != nil {
		return fam, []procedure.Fault{{Path: "common", What: err.Error()}}
	}
	var faults []procedure.Fault
	if len(f.Common) > 0 {
		fam.Rows, fam.Checks, faults = list.into(fam.Rows, fam.Checks, f.Common, f.CommonWhen)
	}
	if f.Apart != nil {
		a := f.Apart.Apart
		var more []procedure.Fault
		a.Rows, a.Checks, more = list.into(a.Rows, a.Checks, f.Apart.Common, nil)
		for _, x := range more {
			x.Path = "apart." + x.Path
			faults = append(faults, x)
		}
		fam.Apart = &a
	}
	return fam, faults
}

// into puts the shared checks that are named before the own ones of their rows, and sorts both by stop and row.
func (list shared) into(rows []procedure.Row, own []procedure.Check, names []string,
	when map[string]procedure.Answers) ([]procedure.Row, []procedure.Check, []procedure.Fault) {
	var faults []procedure.Fault
	var taken []procedure.Check
	for i, code := range names {
		k := slices.IndexFunc(list.Checks, func(c procedure.Check) bool { return c.Code == code })
		if k < 0 {
			faults = append(faults, procedure.Fault{Path: fmt.Sprintf("common[%d]", i),
				What: fmt.Sprintf("there is no common check %q", code), Remedy: "Write it out under checks."})
			continue
		}
		c := list.Checks[k]
		c.When = when[code]
		taken = append(taken, c)
	}
	checks := slices.Concat(taken, own)
	for i := range checks {
		if c := &checks[i]; c.Station == "" && c.Before+c.After != "" {
			c.Station = procedure.Tighten // between steps there is no other stop
		}
	}
	rows = slices.Clone(rows)
	for _, c := range checks {
		at := slices.IndexFunc(list.Rows, func(g procedure.Row) bool { return g.Code == c.Row })
		if at >= 0 && !slices.ContainsFunc(rows, func(g procedure.Row) bool { return g.Code == c.Row }) {
			rows = append(rows, list.Rows[at])
		}
	}
	rank := map[procedure.Station]int{procedure.Ready: 0, procedure.Tighten: 1, procedure.Prove: 2,
		procedure.HandOver: 3}
	slices.SortStableFunc(rows, func(a, b procedure.Row) int {
		if d := rank[a.Station] - rank[b.Station]; d != 0 {
			return d
		}
		if x, y := slices.Index(rowOrder, a.Code), slices.Index(rowOrder, b.Code); x >= 0 && y >= 0 {
			return x - y
		}
		return 0
	})
	row := func(c procedure.Check) int {
		return slices.IndexFunc(rows, func(g procedure.Row) bool { return g.Code == c.Row })
	}
	slices.SortStableFunc(checks, func(a, b procedure.Check) int { return row(a) - row(b) })
	return rows, checks, faults
}

// rowOrder is the usual order of the rows before the first pull.
var rowOrder = []string{"hazards", "parts", "cleanliness", "lubrication", "fit", "alignment", "tools"}

// Write writes a procedure as YAML that Read gives back.
func Write(f procedure.Family) ([]byte, error) {
	raw, err := json.Marshal(f)
	if err != nil {
		return nil, err
	}
	return yaml.JSONToYAML(raw)
}
