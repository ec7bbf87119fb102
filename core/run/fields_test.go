package run_test

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// told is everything that a plan and a run by a procedure say, without the fields that a plan only takes over: each
// check is answered wrongly first, something is let go and every part is changed once.
func told(f procedure.Family, in plan.Input) string {
	in.Family = f
	p, err := plan.Make(in)
	if err != nil {
		return "refused: " + err.Error()
	}
	s := coretest.NewScript(p)
	s.Add(run.Event{Kind: run.ReadConfirmed})
	var out []string
	say := func(st *run.State) { b, _ := json.Marshal(st); out = append(out, string(b)) }
	for _, c := range p.Checks {
		for _, answer := range []string{"no", "na"} {
			e := s.Right(c)
			e.Answer, e.Reason, e.Photo, e.PhotoSHA256 = answer, "not here at all", "", ""
			for i := range e.Values {
				e.Values[i].Value = e.Values[i].Value*(1+float64(i)) + 3
				e.Values[i].SI = e.Values[i].Value
			}
			slices.Reverse(e.Items)
			e.Who = ""
			for _, way := range c.Dont {
				e.Method = way
			}
			say(s.Judge(e))
		}
		right := s.Judge(s.Right(c))
		say(right)
		out = append(out, fmt.Sprint(right.May(p, coretest.Hartwell)))
	}
	for range 60 {
		if !s.Due() {
			break
		}
	}
	st := s.State()
	say(st)
	for _, k := range []string{"spanner", "ratchet", "impact", "multiplier"} {
		say(s.Judge(run.Event{Kind: run.Pulled, Pass: max(1, st.Pass), Fastener: 1, Outcome: run.ByHand, Method: k}))
	}
	say(s.Judge(run.Event{Kind: run.Loosened, Pass: 1, Fastener: 1, Reason: "to look", Items: []string{}}))
	for _, x := range p.Parts {
		e := run.Event{ID: "x", At: s.At, Kind: run.PartChanged, Part: x.Code, Answer: run.Refitted, Reason: "worn"}
		if x.PerBolt {
			e.Fastener = 1
		}
		if err := e.Fits(p); err != nil {
			out = append(out, err.Error())
		}
		say(s.Judge(e))
	}
	for _, who := range []run.Person{coretest.Tolley, coretest.Abara, coretest.Hartwell} {
		out = append(out, fmt.Sprint(st.May(p, who)))
	}
	rest := *p // what is made of the procedure, and what stands in sight of the tool
	rest.Checks, rest.Parts, rest.Rows, rest.Supplies, rest.OtherParts = nil, nil, nil, nil, nil
	b, _ := json.Marshal(rest)
	return strings.Join(append(out, string(b)), "\n")
}

// leaves calls do for each field of a value that is no struct, by its type and name; set puts another value there and
// back sets it as it was.
func leaves(v reflect.Value, do func(name string, empty bool, set, back func())) {
	switch v.Kind() {
	case reflect.Struct:
		for i := range v.NumField() {
			f, t := v.Field(i), v.Type().Field(i)
			if t.Type.Kind() != reflect.Struct && t.Type.Kind() != reflect.Pointer && (t.Type.Kind() != reflect.Slice || t.Type.Elem().Kind() != reflect.Struct) {
				was := f.Interface()
				set := func() { f.Set(another(f)) }
				if t.Name == "UpTo" {
					set = func() { f.SetFloat(f.Float() * 100) }
				}
				if t.Name == "Stage" {
					set = func() { f.SetInt(1) }
				}
				if t.Name == "Needs" {
					set = func() { f.Set(reflect.ValueOf([]string{"part/" + procedure.LubricantPart})) }
				}
				do(v.Type().Name()+"."+t.Name, f.IsZero(), set, func() { f.Set(reflect.ValueOf(was)) })
			}
			if t.Type.Kind() == reflect.Pointer { // the taking apart has a test of its own
				continue
			}
			if t.Type.Kind() == reflect.Slice && t.Type.Elem().Kind() == reflect.Struct && f.Len() > 0 {
				own := reflect.AppendSlice(reflect.MakeSlice(t.Type, 0, f.Len()), f)
				f.Set(own) // what a built-in procedure holds is shared
				for k := range f.Len() {
					leaves(f.Index(k), do)
				}
			}
			if t.Type.Kind() == reflect.Struct {
				leaves(f, do)
			}
		}
	}
}

// another is a value that a field could have instead.
func another(f reflect.Value) reflect.Value {
	switch f.Kind() {
	case reflect.String:
		return reflect.ValueOf(f.String() + "x").Convert(f.Type())
	case reflect.Bool:
		return reflect.ValueOf(!f.Bool())
	case reflect.Int:
		return reflect.ValueOf(int(f.Int()) + 1).Convert(f.Type())
	case reflect.Float64:
		return reflect.ValueOf(f.Float()*1.5 + 1)
	case reflect.Slice:
		if f.Len() == 0 {
			one := reflect.New(f.Type().Elem()).Elem()
			if one.Kind() == reflect.String {
				one.SetString("x")
			}
			return reflect.Append(reflect.MakeSlice(f.Type(), 0, 1), one)
		}
		return reflect.AppendSlice(reflect.MakeSlice(f.Type(), 0, f.Len()), f.Slice(1, f.Len()))
	case reflect.Map:
		m := reflect.MakeMap(f.Type())
		for _, k := range f.MapKeys()[min(1, f.Len()):] {
			m.SetMapIndex(k, f.MapIndex(k))
		}
		if f.Len() == 0 {
			k, e := reflect.New(f.Type().Key()).Elem(), reflect.New(f.Type().Elem()).Elem()
			k.SetString("impact")
			if e.Kind() == reflect.String {
				e.SetString("it is forbidden")
			} else {
				e.Set(reflect.Append(e, reflect.ValueOf("x")))
			}
			m.SetMapIndex(k, e)
		}
		return m
	}
	return f
}

// onPages are the fields whose whole effect is that a page shows them, or how a procedure is found; the page that does
// is searched for the name.
func onPages(t *testing.T) string {
	var all strings.Builder
	root := filepath.Join("..", "..", "web", "src")
	require.NoError(t, filepath.WalkDir(root, func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.Contains(path, "schema.d") || strings.Contains(path, "procedureFields") {
			return err
		}
		if ext := filepath.Ext(path); ext == ".tsx" || ext == ".ts" {
			b, err := os.ReadFile(path)
			all.Write(b)
			return err
		}
		return nil
	}))
	return all.String()
}

// Every field of a procedure does something: a run or plan by it differs when it does, or a page shows it.
func TestEveryFieldOfAProcedureDoesSomething(t *testing.T) {
	alive, tried := map[string]bool{}, map[string]int{}
	pages := onPages(t)
	word := func(name string) bool {
		_, field, _ := strings.Cut(name, ".")
		field = strings.ToLower(field[:1]) + field[1:]
		return regexp.MustCompile(`\.` + field + `\b`).MatchString(pages)
	}
	shown := map[string]bool{}
	for _, builtin := range procedure.Builtin() {
		here := map[string]int{} // of this family: the first has no more say than the others
		for _, v := range coretest.Variants(builtin) {
			raw, err := json.Marshal(builtin)
			require.NoError(t, err)
			var f procedure.Family
			require.NoError(t, json.Unmarshal(raw, &f))
			in := sampleOf(builtin, v)
			was := told(f, in)
			leaves(reflect.ValueOf(&f).Elem(), func(name string, empty bool, set, back func()) {
				if _, known := shown[name]; !known {
					shown[name] = word(name)
				}
				// a few of what a page shows as well, many of what it does not
				most, family := 50, 10
				if slices.Contains(inRuns, name) {
					most, family = 400, 60
				}
				if slices.Contains(elsewhere, name) || alive[name] ||
					shown[name] && tried[name] >= 4 && !slices.Contains(inRuns, name) || tried[name] >= most ||
					here[name] >= family {
					return
				}
				if of := strings.HasSuffix(name, "Figure") || name == "Check.TimesCount" ||
					name == "Check.Temperature" || name == "Check.Stage" || name == "Option.UpTo"; of && empty {
					return // without it there is nothing to change
				}
				tried[name]++
				here[name]++
				set()
				defer back()
				defer func() { _ = recover() }() // a procedure that is not sound need not be led
				alive[name] = told(f, in) != was
			})
		}
	}
	var dead []string
	for name := range tried {
		if !alive[name] && !shown[name] {
			dead = append(dead, name)
		}
	}
	slices.Sort(dead)
	require.Empty(t, dead)
	for _, name := range inRuns {
		require.True(t, alive[name], "%s shows in a run", name)
	}
}

// elsewhere are fields with a test of their own: what procedures of before say, and the built-in ones no more
// (TestFactorsOfEarlierProceduresStillHold), and what shows only after an hour (TestLifeOfAFilmIsTheDocuments).
var elsewhere = []string{"Check.LowFactor", "Check.HighFactor", "Fasteners.EffortLow", "Fasteners.EffortHigh",
	"Check.LifeFigure"}

// inRuns are the fields that must show in a run, whatever a page draws.
var inRuns = []string{"Check.Witness", "Check.Signers", "Check.Hold", "Check.Waive", "Check.Needs", "Check.Reopens",
	"Check.Each", "Fasteners.ToolsNever", "Family.LoosenGate", "Family.Cautions", "Part.Once", "Part.PerBolt"}
