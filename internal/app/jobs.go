package app

import (
	"context"
	"fmt"
	"io"
	"reflect"
	"slices"
	"strings"

	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/shutdown"
	"dynacor/internal/exchange"
	"dynacor/internal/store"
)

// ImportJobs makes a work package of a list, or changes one: its joints of the register, and what holds for them. What
// was said of other joints of the package stays. apply false only says what it would do; with apply true everything is
// taken over or, when any cell is wrong, nothing.
func (a *App) ImportJobs(ctx context.Context, who Actor, code, name string, data []byte, apply bool) (ImportResult,
	error) {
	out := ImportResult{Rows: []ImportRow{}, Errors: []exchange.CellError{}}
	rows, bad, err := exchange.ReadJobs(data)
	if err != nil {
		return out, &Problem{Kind: Invalid, Title: "The list was not read: " + err.Error() + ".", Field: "file",
			Remedy: "Nothing was taken over."}
	}
	if len(bad) > 0 {
		out.wrong(bad)
		return out, nil
	}
	if len(rows) == 0 {
		return out, newProblem(Invalid, "The list has no joints.", "Give each joint a line with its tag.")
	}
	people, err := a.People(ctx)
	if err != nil {
		return out, err
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		x := jobImport{q: q, code: code, rows: rows, people: people, out: &out}
		if err := putPackage(ctx, q, code, name); err != nil {
			return err
		}
		if err := x.run(ctx); err != nil {
			return err
		}
		if !apply || len(out.Errors) > 0 {
			return errOnlyLooking
		}
		out.Applied = true
		return x.keep(ctx, who, a)
	})
	if err == errOnlyLooking {
		return out, nil
	}
	if err == nil && out.Applied {
		a.tellShift(ctx, code)
	}
	return out, err
}

// errOnlyLooking undoes what was only tried.
var errOnlyLooking = fmt.Errorf("only looking")

func (out *ImportResult) wrong(bad []exchange.CellError) {
	lines := map[int]bool{}
	for _, c := range bad {
		lines[c.Line] = true
	}
	out.Errors, out.ErrorRows = bad[:min(len(bad), mostImportRows)], len(lines)
}

// jobImport is a list that is taken over.
type jobImport struct {
	q      *store.Queries
	code   string
	rows   []exchange.JobRow
	people []run.Person
	parts  []string // packages that are part of it
	before store.PackageConstraint
	held   shutdown.Constraints
	out    *ImportResult
}

func (x *jobImport) run(ctx context.Context) error {
	var err error
	if x.parts, err = x.q.PartsOfPackage(ctx, x.code); err != nil {
		return err
	}
	if x.before, err = constraintsInForce(ctx, x.q, x.code); err != nil {
		return err
	}
	if x.held, err = constraintsOf(x.before); err != nil {
		return err
	}
	var bad []exchange.CellError
	for _, r := range x.rows {
		wrong, err := x.row(ctx, r)
		if err != nil {
			return err
		}
		bad = append(bad, wrong...)
	}
	if len(bad) == 0 {
		if bad, err = x.check(ctx); err != nil {
			return err
		}
	}
	if len(bad) > 0 {
		x.out.Rows, x.out.New, x.out.Changed, x.out.Same = []ImportRow{}, 0, 0, 0
		x.out.wrong(bad)
	}
	return nil
}

// row takes over a line.
func (x *jobImport) row(ctx context.Context, r exchange.JobRow) ([]exchange.CellError, error) {
	tag := r.Joint.Tag
	wrong := func(what, remedy string) []exchange.CellError {
		return []exchange.CellError{{Line: r.Line, Column: "tag", Value: tag, What: what, Remedy: remedy}}
	}
	j, err := x.q.GetJoint(ctx, tag)
	if none(err) {
		return wrong("is not in the register", "Enter the joint, or import it into the register, first."), nil
	}
	if err != nil {
		return nil, err
	}
	if j.RetiredWhy != "" {
		return wrong("is out of service", "Bring it back into service, or leave it out."), nil
	}
	line := ImportRow{Line: r.Line, Tag: tag, Name: j.Name, Make: j.Make, Does: "same"}
	if was := deref(j.Package); was != x.code && !slices.Contains(x.parts, was) {
		line.Does, line.What = "new", "joins "+x.code
		if was != "" {
			line.What += ", leaves " + was
		}
		if err := x.q.UpdateJoint(ctx, store.UpdateJointParams{ID: j.ID, Name: j.Name, Area: j.Area,
			Equipment: j.Equipment,
			Service:   j.Service, Package: orNil(x.code), Nameplate: j.Nameplate}); err != nil {
			return nil, err
		}
	}
	n := slices.IndexFunc(x.held.Joints, func(o shutdown.JointConstraint) bool { return o.Tag == tag })
	if n < 0 {
		n = len(x.held.Joints)
		x.held.Joints = append(
			x.held.Joints,
			shutdown.JointConstraint{Tag: tag, Weight: 1, After: []string{}, Skills: []string{}},
		)
	}
	if !reflect.DeepEqual(x.held.Joints[n], r.Joint) {
		if line.Does == "same" {
			line.Does, line.What = "changed", "what holds for it"
		}
		x.held.Joints[n] = r.Joint
	}
	if x.isolation(r) && line.Does == "same" {
		line.Does, line.What = "changed", "when its isolation is on"
	}
	x.out.count(line)
	return nil, nil
}

// isolation takes over when a line says that its isolation is on; what another line said of it stays.
func (x *jobImport) isolation(r exchange.JobRow) bool {
	if len(r.Windows) == 0 {
		return false
	}
	is := shutdown.Isolation{Code: r.Joint.Isolation, Name: r.IsolationName, Windows: r.Windows}
	n := slices.IndexFunc(x.held.Isolations, func(o shutdown.Isolation) bool { return o.Code == is.Code })
	if n < 0 {
		x.held.Isolations = append(x.held.Isolations, is)
		return true
	}
	old := x.held.Isolations[n]
	x.held.Isolations[n] = is
	return !reflect.DeepEqual(old, is)
}

// check holds everything against the joints that the package has by then; what is wrong is told by its line.
func (x *jobImport) check(ctx context.Context) ([]exchange.CellError, error) {
	known, err := knownIn(ctx, x.q, x.code, x.people)
	if err != nil {
		return nil, err
	}
	refused, ok := quantity.RefusalIn(x.held.Check(known))
	if !ok {
		return nil, nil
	}
	c := exchange.CellError{Line: x.rows[0].Line, Column: refused.Field, What: refused.Why, Remedy: refused.Remedy}
	for _, r := range x.rows {
		if column, of := strings.CutPrefix(refused.Field, "joints."+r.Joint.Tag); of && (column == "" ||
			column[0] == '.') {
			c.Line, c.Value, c.Column = r.Line, r.Joint.Tag, strings.TrimPrefix(column, ".")
			if c.Column == "" {
				c.Column = "tag"
			}
		}
	}
	return []exchange.CellError{c}, nil
}

func (x *jobImport) keep(ctx context.Context, who Actor, a *App) error {
	data, err := encode(x.held)
	if err != nil {
		return err
	}
	next := x.before.Version + 1
	return x.q.InsertConstraints(ctx, store.InsertConstraintsParams{Package: x.code, Version: next, Alike: next,
		MadeBy: who.Name, MadeAt: a.now(), Data: []byte(data)})
}

// ExportJobs writes the joints of a work package with what holds for them, as CSV or as a spreadsheet, so that
// ImportJobs takes them back.
func (a *App) ExportJobs(ctx context.Context, w io.Writer, code string, sheet bool) error {
	v, err := a.Constraints(ctx, code)
	if err != nil {
		return err
	}
	var rows []exchange.JobRow
	told := map[string]bool{}
	for _, j := range v.Joints {
		r := exchange.JobRow{Name: j.Name, Joint: v.Constraints.Of(j.Tag)}
		for _, i := range v.Constraints.Isolations {
			if i.Code == r.Joint.Isolation && !told[i.Code] {
				told[i.Code], r.IsolationName, r.Windows = true, i.Name, i.Windows
			}
		}
		rows = append(rows, r)
	}
	if sheet {
		return exchange.WriteSpreadsheet(w, exchange.JobSheet(rows))
	}
	return exchange.WriteCSV(w, exchange.JobSheet(rows))
}
