package app

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/internal/exchange"
	"dynacor/internal/store"
)

// ImportRow says what a line of the register would do, or did.
type ImportRow struct {
	Line int    `json:"line"`
	Tag  string `json:"tag"`
	Name string `json:"name"`
	Make string `json:"make"`
	Does string `json:"does"` // new, changed, restored, same
	What string `json:"what"`
}

// ImportResult is the preview, or the outcome, of an import.
type ImportResult struct {
	ID        string               `json:"id"` // of an import that changed something: it can be undone
	Applied   bool                 `json:"applied"`
	New       int                  `json:"new"`
	Changed   int                  `json:"changed"`
	Same      int                  `json:"same"`
	Rows      []ImportRow          `json:"rows"` // the first thousand
	Errors    []exchange.CellError `json:"errors"`
	ErrorRows int                  `json:"errorRows"`
}

const mostImportRows = 1000

func text(v float64) string { return quantity.Text(v) }

// Import reads a register. apply false only says what it would do; with apply true everything is imported or, when any
// cell is wrong, nothing. A joint is known by its tag; a changed specification becomes a new version.
func (a *App) Import(ctx context.Context, who Actor, data []byte, apply bool) (ImportResult, error) {
	own, err := ownValues(ctx, a.q)
	if err != nil {
		return ImportResult{}, err
	}
	families := familyFinder(ctx, a.q)
	rows, cells, err := exchange.ReadRegister(bytes.NewReader(data), own, families)
	if err != nil {
		return ImportResult{}, &Problem{Kind: Invalid, Title: "The register was not read: " + err.Error() + ".",
			Field: "file", Remedy: "Nothing was imported."}
	}
	out := ImportResult{Rows: []ImportRow{}, Errors: []exchange.CellError{}}
	if len(cells) > 0 {
		lines := map[int]bool{}
		for _, c := range cells {
			lines[c.Line] = true
		}
		out.Errors, out.ErrorRows = cells[:min(len(cells), mostImportRows)], len(lines)
		return out, nil
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		if err := a.importRows(ctx, q, who, rows, families, apply, &out); err != nil {
			return err
		}
		out.Applied = apply
		return nil
	})
	return out, err
}

// register is what an import is held against, and what it will add.
type register struct {
	byTag    map[string]store.AllJointsRow
	byID     map[uuid.UUID]string // the present specification of a joint
	rules    plan.HouseRules
	families exchange.Families

	joints         []store.AddJointsParams
	specifications []store.AddSpecificationsParams
	lines          []store.AddImportLinesParams
	packages       map[string]string
}

func openRegister(ctx context.Context, q *store.Queries, families exchange.Families) (*register, error) {
	joints, err := q.AllJoints(ctx)
	if err != nil {
		return nil, err
	}
	specs, err := q.PresentSpecifications(ctx)
	if err != nil {
		return nil, err
	}
	g := &register{byTag: map[string]store.AllJointsRow{}, byID: map[uuid.UUID]string{}, families: families,
		packages: map[string]string{}}
	for _, j := range joints {
		g.byTag[j.Tag] = j
	}
	for _, s := range specs {
		g.byID[s.JointID] = s.Data
	}
	g.rules, err = houseRules(ctx, q)
	return g, err
}

func (a *App) importRows(ctx context.Context, q *store.Queries, who Actor, rows []exchange.Row,
	families exchange.Families, apply bool, out *ImportResult) error {
	g, err := openRegister(ctx, q, families)
	if err != nil {
		return err
	}
	for _, r := range rows {
		line, err := g.compare(r)
		if err != nil {
			return err
		}
		out.count(line)
		if r.Package != "" {
			g.packages[r.Package] = r.PackageName
		}
		if !apply || line.Does == "same" {
			continue
		}
		if old, known := g.byTag[r.Tag]; known {
			if err := putPackage(ctx, q, r.Package, r.PackageName); err != nil {
				return err
			}
			s := r.Specification
			s.Version = int(old.SpecificationVersion) + 1
			after, err := a.importChange(ctx, q, who, r, old, s, g.byID[old.ID])
			if err != nil {
				return err
			}
			if err := g.did(line.Does, r, old, after); err != nil {
				return err
			}
			continue
		}
		if err := g.add(r, who); err != nil {
			return err
		}
	}
	if !apply {
		return nil
	}
	for code, name := range g.packages {
		if err := putPackage(ctx, q, code, name); err != nil {
			return err
		}
	}
	if _, err := q.AddJoints(ctx, g.joints); err != nil {
		return err
	}
	if _, err := q.AddSpecifications(ctx, g.specifications); err != nil || len(g.lines) == 0 {
		return err
	}
	return g.keep(ctx, q, who, a.now().UTC(), out)
}

// keep writes down what the import did, so that it can be undone.
func (g *register) keep(ctx context.Context, q *store.Queries, who Actor, at time.Time, out *ImportResult) error {
	id := uuid.Must(uuid.NewV7())
	if err := q.InsertImport(ctx, store.InsertImportParams{ID: id, MadeBy: who.Name, MadeAt: at, Added: int32(out.New),
		Changed: int32(out.Changed)}); err != nil {
		return err
	}
	for i := range g.lines {
		g.lines[i].ImportID = id
	}
	out.ID = id.String()
	_, err := q.AddImportLines(ctx, g.lines)
	return err
}

// did notes what a line does to a joint that was there, whose specification has the version after.
func (g *register) did(does string, r exchange.Row, old store.AllJointsRow, after int32) error {
	was, err := encode(JointPlace{Name: old.Name, Area: old.Area, Equipment: old.Equipment, Service: old.Service,
		Package: deref(old.Package), Nameplate: old.Nameplate})
	if err != nil {
		return err
	}
	is, err := encode(placeOf(r))
	if err != nil {
		return err
	}
	g.lines = append(g.lines, store.AddImportLinesParams{JointID: old.ID, Does: does, Before: was, After: is,
		SpecificationBefore: old.SpecificationVersion, SpecificationAfter: after})
	return nil
}

func placeOf(r exchange.Row) JointPlace {
	return JointPlace{Name: r.Name, Area: r.Area, Equipment: r.Equipment, Service: r.Service, Package: r.Package,
		Nameplate: r.Nameplate}
}

// count takes a line into the result; of very many only the first are shown.
func (out *ImportResult) count(line ImportRow) {
	switch line.Does {
	case "new":
		out.New++
	case "changed", "restored":
		out.Changed++
	default:
		out.Same++
	}
	if len(out.Rows) < mostImportRows {
		out.Rows = append(out.Rows, line)
	}
}

// compare says what a line would do. A joint stays of its family.
func (g *register) compare(r exchange.Row) (ImportRow, error) {
	fam, err := g.families(r.Family)
	if err != nil {
		return ImportRow{}, err
	}
	line := ImportRow{Line: r.Line, Tag: r.Tag, Name: r.Name, Make: makeText(fam, r.Specification), Does: "new",
		What: r.Specification.First().Target.Words()}
	old, known := g.byTag[r.Tag]
	if !known {
		return line, nil
	}
	if old.Family != r.Family {
		return line, &Problem{Kind: Invalid, Title: fmt.Sprintf("%s is a %s and stays one; line %d says %s.",
			r.Tag, strings.ReplaceAll(old.Family, "_", " "), r.Line, strings.ReplaceAll(r.Family, "_", " ")),
			Field: "family", Remedy: "Give the new joint a tag of its own."}
	}
	line.Does, line.What, err = compareRow(r, old, g.byID[old.ID])
	return line, err
}

// add puts a new joint among those that are entered at once.
func (g *register) add(r exchange.Row, who Actor) error {
	fam, err := g.families(r.Family)
	if err != nil {
		return err
	}
	s := r.Specification
	s.Version = 1
	data, err := encode(s)
	if err != nil {
		return err
	}
	id := uuid.Must(uuid.NewV7())
	glyph, summary := specState(fam, s, g.rules)
	g.joints = append(g.joints, store.AddJointsParams{ID: id, Tag: r.Tag, Name: r.Name, Area: r.Area,
		Equipment: r.Equipment, Service: r.Service, Family: r.Family, Package: orNil(r.Package), Nameplate: r.Nameplate,
		SpecificationVersion: 1, Bolts: int32(count(fam, s)), Make: makeText(fam, s), Glyph: glyph, Summary: summary})
	g.specifications = append(g.specifications, store.AddSpecificationsParams{JointID: id, Version: 1, Data: data,
		MadeBy: who.Name, Reason: "imported"})
	is, err := encode(placeOf(r))
	g.lines = append(g.lines, store.AddImportLinesParams{JointID: id, Does: "new", After: is, SpecificationAfter: 1})
	return err
}

// importChange puts a joint that was there as the line says, and gives the version of its specification afterwards. One
// that was retired comes back with it.
func (a *App) importChange(ctx context.Context, q *store.Queries, who Actor, r exchange.Row, old store.AllJointsRow,
	s plan.Specification, oldSpec string) (int32, error) {
	if old.Glyph == glyphRetired {
		if err := q.RestoreJoint(ctx, old.ID); err != nil {
			return 0, err
		}
	}
	if err := q.UpdateJoint(ctx, store.UpdateJointParams{ID: old.ID, Name: r.Name, Area: r.Area, Equipment: r.Equipment,
		Service: r.Service, Package: orNil(r.Package), Nameplate: r.Nameplate}); err != nil {
		return 0, err
	}
	same, err := sameSpecification(s, oldSpec)
	if err != nil || same {
		return old.SpecificationVersion, err
	}
	j, err := q.LockJoint(ctx, r.Tag)
	if err != nil {
		return 0, err
	}
	return old.SpecificationVersion + 1, a.putSpecification(ctx, q, who, j, s, "imported")
}

func sameSpecification(s plan.Specification, oldData string) (bool, error) {
	if oldData == "" {
		return false, nil
	}
	old, err := decode[plan.Specification](oldData)
	if err != nil {
		return false, err
	}
	old.Version, s.Version = 0, 0
	// a register does not carry these
	old.NoSourceBy, old.NoSourceWhy = s.NoSourceBy, s.NoSourceWhy
	s.Groups = slices.Clone(s.Groups)
	for _, list := range [][]plan.Fasteners{old.Groups, s.Groups} {
		for i := range list {
			list[i].Target.AsTyped, list[i].MovedLimitDeg, list[i].Layout, list[i].Order = "", 0, nil, nil
		}
	}
	return reflect.DeepEqual(old, s), nil
}

func compareRow(r exchange.Row, old store.AllJointsRow, oldSpec string) (does, what string, err error) {
	same, err := sameSpecification(r.Specification, oldSpec)
	if err != nil {
		return "", "", err
	}
	moved := r.Name != old.Name || r.Area != old.Area || r.Equipment != old.Equipment || r.Service != old.Service ||
		r.Package != deref(old.Package) || r.Nameplate != old.Nameplate
	switch {
	case old.Glyph == glyphRetired:
		return "restored", "was retired: " + old.RetiredWhy, nil
	case same && !moved:
		return "same", "", nil
	case same:
		return "changed", "place or name", nil
	}
	return "changed", "specification: new version, " + r.Specification.First().Target.Words(), nil
}

// Export writes the register.
func (a *App) Export(ctx context.Context, w io.Writer) error {
	joints, err := a.q.AllJoints(ctx)
	if err != nil {
		return err
	}
	specs, err := a.q.PresentSpecifications(ctx)
	if err != nil {
		return err
	}
	packages, err := a.q.ListPackages(ctx)
	if err != nil {
		return err
	}
	names, byID := map[string]string{}, map[uuid.UUID]string{}
	for _, p := range packages {
		names[p.Code] = p.Name
	}
	for _, s := range specs {
		byID[s.JointID] = s.Data
	}
	var rows []exchange.Row
	for _, j := range joints {
		if j.Glyph == glyphRetired {
			continue
		}
		s, err := decode[plan.Specification](byID[j.ID])
		if err != nil {
			return err
		}
		rows = append(rows, exchange.Row{Tag: j.Tag, Name: j.Name, Area: j.Area, Equipment: j.Equipment,
			Service: j.Service, Family: j.Family, Package: deref(j.Package),
			PackageName: names[deref(j.Package)], Nameplate: j.Nameplate, Specification: s})
	}
	return exchange.WriteRegister(w, rows)
}
