package app

import (
	"context"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/plan"
	"dynacor/internal/store"
)

// glyphRetired is the mark of a joint that is out of service: no run has it.
const glyphRetired = "retired"

// Retire takes a joint out of service: nothing is planned or begun on it any more, and the register, Today and the
// packages leave it out. Its records stay. Refused: work in hand, no reason, a joint that is retired.
func (a *App) Retire(ctx context.Context, tag, why string) (JointDetail, error) {
	return a.service(ctx, tag, why, func(q *store.Queries, j store.Joint) error {
		if j.Glyph == glyphRetired {
			return newProblem(Conflict, "%s is retired already.", "Restore it to use it again.", tag)
		}
		if err := idle(ctx, q, j); err != nil {
			return err
		}
		return q.RetireJoint(ctx, store.RetireJointParams{ID: j.ID, RetiredWhy: why})
	})
}

// Restore puts a retired joint back into service as it stood.
func (a *App) Restore(ctx context.Context, tag, why string) (JointDetail, error) {
	return a.service(ctx, tag, why, func(q *store.Queries, j store.Joint) error {
		if j.Glyph != glyphRetired {
			return newProblem(Conflict, "%s is in service.", "Nothing need be done.", tag)
		}
		if err := q.Audit(
			ctx,
			store.AuditParams{Action: "joint restored", Subject: "joints " + tag, Before: j.RetiredWhy,
				After: why},
		); err != nil {
			return err
		}
		return q.RestoreJoint(ctx, j.ID)
	})
}

func (a *App) service(ctx context.Context, tag, why string, do func(*store.Queries, store.Joint) error) (JointDetail,
	error) {
	if strings.TrimSpace(why) == "" {
		return JointDetail{}, &Problem{Kind: Invalid, Title: "The reason is empty.", Field: "reason",
			Remedy: "Say why: the trail keeps it."}
	}
	err := a.tx(ctx, func(q *store.Queries) error {
		j, err := q.LockJoint(ctx, tag)
		if none(err) {
			return notFound("joint", tag)
		}
		if err != nil {
			return err
		}
		return do(q, j)
	})
	if err != nil {
		return JointDetail{}, err
	}
	return a.Joint(ctx, tag)
}

// idle refuses while the joint is in hand.
func idle(ctx context.Context, q *store.Queries, j store.Joint) error {
	if j.PresentRun == nil {
		return nil
	}
	r, err := q.GetRun(ctx, *j.PresentRun)
	if err != nil {
		return err
	}
	if r.SealedAt == nil {
		return newProblem(Conflict, "%s is in hand.", "Seal the work first, accepted or turned down.", j.Tag)
	}
	return nil
}

// inService refuses what would be done with a retired joint.
func inService(j store.Joint) error {
	if j.Glyph != glyphRetired {
		return nil
	}
	return newProblem(Conflict, "%s is retired: %s.", "Restore it first, under More on its page.", j.Tag, j.RetiredWhy)
}

// lockInService locks a joint that something is to be done with. Refused: one that is not there or retired.
func lockInService(ctx context.Context, q *store.Queries, tag string) (store.Joint, error) {
	j, err := q.LockJoint(ctx, tag)
	if none(err) {
		return j, notFound("joint", tag)
	}
	if err != nil {
		return j, err
	}
	return j, inService(j)
}

// mostHistory lines of one joint.
const mostHistory = 100

// JointHistory is what was changed of a joint, by whom, with what stood there before and after; the newest first.
func (a *App) JointHistory(ctx context.Context, tag string) ([]AuditRow, error) {
	if _, err := a.q.GetJoint(ctx, tag); none(err) {
		return nil, notFound("joint", tag)
	} else if err != nil {
		return nil, err
	}
	rows, err := a.q.AuditOf(ctx, store.AuditOfParams{Subject: "joints " + tag, N: mostHistory})
	if err != nil {
		return nil, err
	}
	return auditRows(rows), nil
}

// ImportedRow is one import of a register.
type ImportedRow struct {
	ID       string    `json:"id"`
	MadeBy   string    `json:"madeBy"`
	MadeAt   time.Time `json:"madeAt"`
	Added    int       `json:"added"`
	Changed  int       `json:"changed"`
	UndoneBy string    `json:"undoneBy"` // "" when it stands
}

// Imports gives the latest imports of the register, the newest first.
func (a *App) Imports(ctx context.Context) ([]ImportedRow, error) {
	rows, err := a.q.ListImports(ctx)
	if err != nil {
		return nil, err
	}
	out := []ImportedRow{}
	for _, r := range rows {
		out = append(out, ImportedRow{r.ID.String(), r.MadeBy, r.MadeAt, int(r.Added), int(r.Changed), r.UndoneBy})
	}
	return out, nil
}

// UndoLine says what undoing an import does, or did, to one joint.
type UndoLine struct {
	Tag  string `json:"tag"`
	Name string `json:"name"`
	Does string `json:"does"` // retired, back, left
	What string `json:"what"` // what is put back, or why it is left as it is
}

// UndoResult is the preview, or the outcome, of undoing an import.
type UndoResult struct {
	Applied bool       `json:"applied"`
	Retired int        `json:"retired"`
	Back    int        `json:"back"`
	Left    int        `json:"left"`
	Lines   []UndoLine `json:"lines"` // the first thousand
}

// UndoImport takes back what an import did, as new changes: joints that it brought are retired, others get their
// place and the specification of before as a new version. What was worked on or changed since is left as it is, and
// the result says so. apply false only says what it would do. Refused: an import that was undone.
func (a *App) UndoImport(ctx context.Context, who Actor, id string, apply bool) (UndoResult, error) {
	out := UndoResult{Lines: []UndoLine{}}
	key, err := uuid.Parse(id)
	if err != nil {
		return out, notFound("import", id)
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		im, err := q.LockImport(ctx, key)
		if none(err) {
			return notFound("import", id)
		}
		if err != nil {
			return err
		}
		if im.UndoneBy != "" {
			return newProblem(Conflict, "%s has undone this import already.", "Nothing need be done.", im.UndoneBy)
		}
		if err := q.LockImportJoints(ctx, key); err != nil {
			return err
		}
		lines, err := q.ImportLines(ctx, key)
		if err != nil {
			return err
		}
		for _, l := range lines {
			line, err := undoOf(l, im.MadeAt)
			if err != nil {
				return err
			}
			out.count(line)
			if !apply || line.Does == "left" {
				continue
			}
			if err := a.undoLine(ctx, q, who, l, im.MadeAt); err != nil {
				return err
			}
		}
		if out.Applied = apply; !apply {
			return nil
		}
		return q.MarkImportUndone(ctx, store.MarkImportUndoneParams{ID: key, UndoneBy: who.Name})
	})
	return out, err
}

func (out *UndoResult) count(line UndoLine) {
	switch line.Does {
	case "retired":
		out.Retired++
	case "back":
		out.Back++
	default:
		out.Left++
	}
	if len(out.Lines) < mostImportRows {
		out.Lines = append(out.Lines, line)
	}
}

// undoOf says what undoing does to one joint of an import made then.
func undoOf(l store.ImportLinesRow, then time.Time) (UndoLine, error) {
	line := UndoLine{Tag: l.Tag, Name: l.Name, Does: "left"}
	after, err := decode[JointPlace](l.After)
	if err != nil {
		return line, err
	}
	switch now := placeNow(l); {
	case l.Glyph == glyphRetired:
		line.What = "retired since"
	case l.PresentRun != nil && l.RunAt.After(then):
		line.What = "work was begun on it since"
	case l.SpecificationVersion != l.SpecificationAfter:
		line.What = "its specification was changed since"
	case now != after:
		line.What = "its name or place was changed since"
	case l.Does == "new":
		line.Does, line.What = "retired", "came with the import"
	case l.Does == "restored":
		line.Does, line.What = "retired", "came back with the import"
	default:
		line.Does, line.What = "back", "place and name"
		if l.SpecificationBefore != l.SpecificationAfter {
			line.What = "place, name and the specification of before, as a new version"
		}
	}
	return line, nil
}

func placeNow(l store.ImportLinesRow) JointPlace {
	return JointPlace{Name: l.Name, Area: l.Area, Equipment: l.Equipment, Service: l.Service,
		Package: deref(l.Package), Nameplate: l.Nameplate}
}

func (a *App) undoLine(ctx context.Context, q *store.Queries, who Actor, l store.ImportLinesRow,
	then time.Time) error {
	why := "import of " + then.UTC().Format("2006-01-02 15:04") + " UTC undone"
	if l.Before != "" {
		was, err := decode[JointPlace](l.Before)
		if err != nil {
			return err
		}
		if err := q.UpdateJoint(ctx, store.UpdateJointParams{ID: l.JointID, Name: was.Name, Area: was.Area,
			Equipment: was.Equipment, Service: was.Service, Package: orNil(was.Package),
			Nameplate: was.Nameplate}); err != nil {
			return err
		}
	}
	if l.SpecificationBefore > 0 && l.SpecificationBefore != l.SpecificationAfter {
		if err := specificationBack(ctx, q, who, l, why); err != nil {
			return err
		}
	}
	if l.Does == "changed" {
		return nil
	}
	return q.RetireJoint(ctx, store.RetireJointParams{ID: l.JointID, RetiredWhy: why})
}

// specificationBack enters the specification of before an import anew. Whoever had to give leave to it did so then.
func specificationBack(ctx context.Context, q *store.Queries, who Actor, l store.ImportLinesRow, why string) error {
	j, err := q.LockJoint(ctx, l.Tag)
	if err != nil {
		return err
	}
	old, err := q.GetSpecification(
		ctx,
		store.GetSpecificationParams{JointID: l.JointID, Version: l.SpecificationBefore},
	)
	if err != nil {
		return err
	}
	s, err := decode[plan.Specification](old.Data)
	if err != nil {
		return err
	}
	fam, err := family(ctx, q, j.Family)
	if err != nil {
		return err
	}
	return keepSpecification(ctx, q, who, j, fam, s, why)
}
