package app

import (
	"context"
	"net/url"
	"slices"
	"strings"
	"time"

	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// Kinds of things that carry a label.
const (
	LabelsOfTools  = "tools"
	LabelsOfJoints = "joints"
	LabelsOfTins   = "tins"
	LabelsOfPeople = "people"
)

// mostLabels is how many are printed at once.
const mostLabels = 2_000

// Label is what stands on a label of a thing, and the code that leads to it or answers a check that asks for it.
type Label struct {
	Head  string
	Name  string
	Big   string
	Lines []string
	Code  string
}

// LabelQuery says which labels are wanted.
type LabelQuery struct {
	Of        string
	IDs       []string // tags of tools or joints, identifiers of people; none: all
	Package   string   // joints of a work package
	Lubricant string   // in the tins, by its code
	Batch     string
	UseBy     string // a day, "" when the tin has none
	Count     int    // how many tins of it
}

// Labels gives what stands on the labels of things, and the site's name.
func (a *App) Labels(ctx context.Context, q LabelQuery) (list []Label, site string, err error) {
	s, err := a.Site(ctx)
	if err != nil {
		return nil, "", err
	}
	base := s.Address
	if base == "" {
		base = "dynacor:" // no camera opens it, but Dynacor itself does
	}
	switch q.Of {
	case LabelsOfTools:
		list, err = a.toolLabels(ctx, q)
	case LabelsOfJoints:
		list, err = a.jointLabels(ctx, q, base)
	case LabelsOfPeople:
		list, err = a.cards(ctx, q, base)
	case LabelsOfTins:
		list, err = a.tinLabels(ctx, q, base)
	default:
		err = quantity.Refuse("of", "Choose tools, joints, tins or people.", "There are no labels of %q.", q.Of)
	}
	if err == nil && len(list) > mostLabels {
		err = newProblem(Invalid, "%d labels are too many at once: at most %d.", "Choose a work package, or fewer.",
			len(list), mostLabels)
	}
	return list, s.Name, err
}

// toolLabels carry the tag alone in their code, so that any reader that types what it reads finds the tool. Dates are
// left out: a label outlives a certificate.
func (a *App) toolLabels(ctx context.Context, q LabelQuery) ([]Label, error) {
	tools, _, err := a.ToolsForLabels(ctx, q.IDs)
	if err != nil {
		return nil, err
	}
	out := make([]Label, 0, len(tools))
	for _, t := range tools {
		out = append(out, Label{Head: t.Tag, Name: t.Name(), Lines: []string{}, Code: t.Tag})
	}
	return out, nil
}

// RecordsThatSpeak gives the numbers of the records of the joints of a package as they stand now, of all joints without
// one.
func (a *App) RecordsThatSpeak(ctx context.Context, code string) ([]string, error) {
	return a.q.PresentRecords(ctx, store.PresentRecordsParams{Package: code, N: mostLabels})
}

func (a *App) jointLabels(ctx context.Context, q LabelQuery, base string) ([]Label, error) {
	label := func(tag, name, area string) Label {
		return Label{Head: tag, Name: name, Lines: []string{area}, Code: base + "/joints/" + url.PathEscape(tag)}
	}
	var out []Label
	for _, tag := range q.IDs {
		j, err := a.q.GetJoint(ctx, tag)
		if none(err) {
			return nil, notFound("joint", tag)
		}
		if err != nil {
			return nil, err
		}
		out = append(out, label(j.Tag, j.Name, j.Area))
	}
	if len(q.IDs) > 0 {
		return out, nil
	}
	rows, _, err := a.q.JointPage(ctx, store.JointFilter{Package: q.Package, Sort: "tag", Limit: mostLabels + 1})
	if err != nil {
		return nil, err
	}
	for _, j := range rows {
		out = append(out, label(j.Tag, j.Name, j.Area))
	}
	return out, nil
}

// cards say who somebody is; that it is them, only the PIN says.
func (a *App) cards(ctx context.Context, q LabelQuery, base string) ([]Label, error) {
	people, err := a.People(ctx)
	if err != nil {
		return nil, err
	}
	for _, id := range q.IDs {
		if !slices.ContainsFunc(people, func(p run.Person) bool { return p.ID == id }) {
			return nil, notFound("person", id)
		}
	}
	var out []Label
	for _, p := range people {
		if len(q.IDs) > 0 && !slices.Contains(q.IDs, p.ID) {
			continue
		}
		out = append(
			out,
			Label{
				Head:  p.Name,
				Name:  p.Role,
				Lines: []string{},
				Code:  base + "/scan?" + url.Values{"person": {p.ID}}.Encode(),
			},
		)
	}
	return out, nil
}

// tinLabels carry what the check of the lubricant asks: what is in the tin, its batch and until when it may be used.
func (a *App) tinLabels(ctx context.Context, q LabelQuery, base string) ([]Label, error) {
	lib, err := a.Library(ctx)
	if err != nil {
		return nil, err
	}
	batch := strings.TrimSpace(q.Batch)
	useBy, dated := time.Parse(time.DateOnly, q.UseBy)
	switch {
	case q.Lubricant == "":
		return nil, quantity.Refuse("lubricant", "Choose the lubricant.", "It is not said what is in the tins.")
	case batch == "":
		return nil, quantity.Refuse(
			"batch",
			"Take it from the maker's label.",
			"It is not said which batch is in the tins.",
		)
	case q.UseBy != "" && dated != nil:
		return nil, quantity.Refuse("useBy", "Give it as year-month-day, or leave it empty.", "That is no day.")
	case q.Count < 1 || q.Count > 200:
		return nil, quantity.Refuse("count", "Say how many tins there are.", "There must be 1 to 200 labels.")
	}
	for _, l := range lib.Lubricants {
		if l.Code != q.Lubricant {
			continue
		}
		code, lines := url.Values{"lubricant": {l.Code}, "batch": {batch}}, []string{}
		if q.UseBy != "" {
			code.Set("useBy", q.UseBy)
			lines = append(lines, "use by "+useBy.Format("2 January 2006"))
		}
		one := Label{Head: batch, Name: l.Name, Lines: lines, Code: base + "/scan?" + code.Encode()}
		return slices.Repeat([]Label{one}, q.Count), nil
	}
	return nil, notFound("lubricant", q.Lubricant)
}
