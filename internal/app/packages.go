package app

import (
	"context"
	"sort"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
	"dynacor/core/stock"
	"dynacor/internal/store"
)

// PackageRow is a work package with how far it has come.
type PackageRow struct {
	Code     string `json:"code"`
	Name     string `json:"name"`
	PartOf   string `json:"partOf"` // package that holds it with others: a shutdown; "" without
	Joints   int    `json:"joints"`
	Accepted int    `json:"accepted"`
}

// Packages lists the work packages.
func (a *App) Packages(ctx context.Context) ([]PackageRow, error) {
	rows, err := a.q.ListPackages(ctx)
	if err != nil {
		return nil, err
	}
	out := []PackageRow{}
	for _, r := range rows {
		out = append(out, PackageRow{r.Code, r.Name, r.PartOf, int(r.Joints), int(r.Accepted)})
	}
	return out, nil
}

// PackageChange names a work package, and the one that it is part of, "" for none.
type PackageChange struct {
	Name   string `json:"name"`
	PartOf string `json:"partOf"`
}

// PutPackage makes or changes a work package. A shutdown is a package that has others as its parts: it plans and counts
// their joints as its own. Refused: a name that is empty, a package that would be part of itself or of one that is a
// part, and one with parts that would become a part.
func (a *App) PutPackage(ctx context.Context, code string, in PackageChange) (PackageRow, error) {
	code, in.Name, in.PartOf = strings.TrimSpace(code), strings.TrimSpace(in.Name), strings.TrimSpace(in.PartOf)
	refuse := func(field, title, remedy string) error {
		return &Problem{Kind: Invalid, Field: field, Title: title, Remedy: remedy}
	}
	if code == "" || in.Name == "" {
		return PackageRow{}, refuse("name", "The work package has no name.", "Name it.")
	}
	var before string
	err := a.tx(ctx, func(q *store.Queries) error {
		if p, err := q.GetPackage(ctx, code); err == nil {
			before = deref(p.PartOf)
		} else if !none(err) {
			return err
		}
		if in.PartOf != "" {
			whole, err := q.GetPackage(ctx, in.PartOf)
			if none(err) || in.PartOf == code || err == nil && whole.PartOf != nil {
				return refuse("partOf", in.PartOf+" cannot hold "+code+".",
					"Choose a work package that is there and is part of no other.")
			}
			if err != nil {
				return err
			}
			parts, err := q.PartsOfPackage(ctx, code)
			if err != nil {
				return err
			}
			if len(parts) > 0 {
				return refuse("partOf", code+" holds "+strings.Join(parts, ", ")+" itself.",
					"Take those out first: what holds others is part of none.")
			}
		}
		if err := q.PutPackage(ctx, store.PutPackageParams{Code: code, Name: in.Name}); err != nil {
			return err
		}
		_, err := q.UpdatePackage(ctx, store.UpdatePackageParams{Code: code, Name: in.Name, PartOf: orNil(in.PartOf)})
		return err
	})
	if err != nil {
		return PackageRow{}, err
	}
	for _, whole := range []string{before, in.PartOf} {
		if whole != "" {
			a.tellShift(ctx, whole)
		}
	}
	list, err := a.Packages(ctx)
	for _, p := range list {
		if p.Code == code {
			return p, err
		}
	}
	return PackageRow{}, err
}

// Need is a line of what a work package takes: consumables and parts, added up over its joints.
type Need struct {
	Kind     string   `json:"kind"` // part, lubricant, spare, supply, tool
	What     string   `json:"what"`
	Quantity float64  `json:"quantity"` // 0: as needed
	Joints   []string `json:"joints"`
	Open     float64  `json:"open"`   // of it for joints that are not accepted yet
	Have     float64  `json:"have"`   // in stock, and still to be used
	Places   []string `json:"places"` // where it lies, with how much
	Short    float64  `json:"short"`  // is missing for what is open
	Stops    []string `json:"stops"`  // joints that the shortage stops

	takes []stock.Take
}

// PackageNeeds adds up parts and lubricants over the joints of a package.
func (a *App) PackageNeeds(ctx context.Context, code string) ([]Need, error) {
	rows, err := a.q.PackageSpecifications(ctx, code)
	if err != nil {
		return nil, err
	}
	list := []Need{}
	at := map[string]int{}
	accepted := false
	add := func(kind, what, tag string, n float64) {
		if what == "" {
			return
		}
		i, ok := at[kind+what]
		if !ok {
			i = len(list)
			at[kind+what] = i
			list = append(list, Need{Kind: kind, What: what, Joints: []string{}, Places: []string{}, Stops: []string{}})
		}
		if n > 0 && !accepted {
			list[i].Open += n
			list[i].takes = append(list[i].takes, stock.Take{Joint: tag, Quantity: n})
		}
		list[i].Quantity += n
		list[i].Joints = append(list[i].Joints, tag)
	}
	families := familyFinder(ctx, a.q)
	for _, r := range rows {
		accepted = r.Glyph == string(run.GlyphAccepted)
		s, err := decode[plan.Specification](r.Data)
		if err != nil {
			return nil, err
		}
		fam, err := families(r.Family)
		if err != nil {
			return nil, err
		}
		answers, err := fam.Answer(s.Variant, s.Figures)
		if err != nil {
			return nil, err
		}
		fam = fam.For(answers)
		for _, x := range fam.Parts {
			what, n := partOf(fam, s, x)
			add("part", what, r.Tag, n)
			if x.Spare > 0 {
				add("spare", what, r.Tag, x.Spare)
			}
		}
		for _, x := range fam.Supplies {
			add("supply", x.Name, r.Tag, x.Quantity)
		}
		for _, t := range fam.Tools {
			add("tool", t, r.Tag, 0)
		}
		for i, g := range fam.Fasteners {
			if f, ok := s.Of(g.Code, i == 0); ok && f.Lubricant != plan.NotNamed {
				add("lubricant", f.Lubricant, r.Tag, 0)
			}
		}
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].Kind+list[i].What < list[j].Kind+list[j].What })
	return list, a.cover(ctx, list)
}

// partOf names a part as it is fetched, and how many of it a joint takes.
func partOf(fam procedure.Family, s plan.Specification, x procedure.Part) (what string, n float64) {
	what, n = x.Name, x.Quantity
	if x.Code == "gasket" && s.Gasket != "" {
		return strings.TrimSpace(what + " " + s.Gasket + " " + s.FlangeSize), n
	}
	if !x.PerBolt {
		return what, n
	}
	for i, g := range fam.Fasteners {
		if g.Code != x.Fasteners && (x.Fasteners != "" || i > 0) {
			continue
		}
		f, _ := s.Of(g.Code, i == 0)
		count := f.Bolts
		if count == 0 {
			count = g.Layout.Settle().Count
		}
		n *= float64(count)
		what = strings.TrimSpace(what + " " + f.Thread)
		if x.Code == "bolt" {
			what = strings.TrimSpace(what + " " + f.Material)
			if f.LengthMM > 0 {
				what += " × " + text(f.LengthMM) + " mm"
			}
		}
	}
	return what, n
}
