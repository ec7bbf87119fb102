package app

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/store"
)

// AdditionInput is a sheet behind a sealed record, as it is written and signed.
type AdditionInput struct {
	After    int                 `json:"after"` // how many there were when it was written: none may have come since
	Kind     record.AdditionKind `json:"kind"`
	What     string              `json:"what"`
	Place    string              `json:"place"`
	Was      string              `json:"was"`
	Is       string              `json:"is"`
	Visits   []record.Visit      `json:"visits"`
	TorqueNm float64             `json:"torqueNm"`
	Tool     string              `json:"tool"`
	PersonID string              `json:"personId"`
	PIN      string              `json:"pin"`
}

// addition is what is sealed, but for its place in the chain.
func (in AdditionInput) addition() record.Addition {
	return record.Addition{Kind: in.Kind, What: strings.TrimSpace(in.What), Place: strings.TrimSpace(in.Place),
		Was: strings.TrimSpace(in.Was), Is: strings.TrimSpace(in.Is), Visits: in.Visits, TorqueNm: in.TorqueNm,
		Tool: strings.TrimSpace(in.Tool)}
}

// Add puts an addition behind a sealed record, signed by PIN and sealed by this site's key. The same one sent again,
// because its answer was lost, is the one that is kept. Refused: somebody whose it is not, what says nothing, and one
// written before another was added.
func (a *App) Add(ctx context.Context, who Actor, number string, in AdditionInput) (RecordView, error) {
	signer, _, err := a.CheckPIN(ctx, in.PersonID, in.PIN, From{Address: who.Address, Device: who.Device})
	if err != nil {
		return RecordView{}, err
	}
	if !slices.Contains(record.AdditionKinds, in.Kind) {
		return RecordView{}, &Problem{Kind: Invalid, Field: "kind", Title: "Nobody writes an addition of that kind.",
			Remedy: "A test under pressure is added when it is closed."}
	}
	act := in.Kind.Takes()
	if err := (Actor{Person: signer}).needs(act.Words(), act); err != nil {
		return RecordView{}, err
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		x := in.addition()
		x.Person = signer
		return a.putBehind(ctx, q, number, x, func(old []store.AdditionsOfRow) (done bool, err error) {
			if in.After < len(old) && in.After >= 0 && sameAddition(old[in.After], x) {
				return true, nil
			}
			return false, unseen(in.After, len(old), number)
		})
	})
	if err != nil {
		return RecordView{}, err
	}
	return a.Record(ctx, number)
}

// unseen refuses what was written before other additions came.
func unseen(after, now int, number string) error {
	if after == now {
		return nil
	}
	return &Problem{Kind: Conflict, Field: "after", Remedy: "See what was added, then add yours.",
		Title: fmt.Sprintf("%s behind %s now.", map[bool]string{true: "One addition stands",
			false: fmt.Sprintf("%d additions stand", now)}[now == 1], number)}
}

// putBehind seals an addition and puts it behind a record, unless fits says that it is there. Refused: what fits
// refuses, and what cannot be meant.
func (a *App) putBehind(ctx context.Context, q *store.Queries, number string, x record.Addition,
	fits func(old []store.AdditionsOfRow) (done bool, err error)) error {
	if err := q.LockAdditions(ctx, number); err != nil {
		return err
	}
	row, err := q.GetRecord(ctx, number)
	if none(err) {
		return notFound("record", number)
	}
	if err != nil {
		return err
	}
	_, rec, err := record.Read(row.File)
	if err != nil {
		return fmt.Errorf("app: record %s: %w", number, err)
	}
	old, err := q.AdditionsOf(ctx, number)
	if err != nil {
		return err
	}
	if done, err := fits(old); done || err != nil {
		return err
	}
	a.place(row, old, &x)
	if err := ruled(ctx, q, rec, old, &x); err != nil {
		return err
	}
	key, err := a.signing(ctx, q)
	if err != nil {
		return err
	}
	f, hash, err := x.Seal(rec.Plan, key.Private)
	if err != nil {
		return err
	}
	if _, err := whole(row.File, append(old, store.AdditionsOfRow{Body: string(f.Addition)})); err != nil {
		return &Problem{Kind: Conflict, Title: "No more can be added to " + number + ": " + err.Error() + ".",
			Remedy: "Work on the joint again: its next record names this one."}
	}
	if err := q.InsertAddition(ctx, store.InsertAdditionParams{Number: number, Seq: int32(x.Seq), At: x.At,
		Kind: string(x.Kind), PersonID: uuid.MustParse(x.Person.ID), Hash: hash, Body: string(f.Addition),
		Signature: f.Signature, KeyID: key.ID()}); err != nil {
		return err
	}
	if err := dueAgain(ctx, q, row, rec.Plan, x); err != nil {
		return err
	}
	return reindex(ctx, q, number)
}

// place gives an addition its place in the chain behind a record, and its time.
func (a *App) place(row store.Record, old []store.AdditionsOfRow, x *record.Addition) {
	x.Record, x.Mark, x.Seq, x.PrevHash = row.Number, row.Mark, len(old)+1, row.Mark
	x.At = a.now().UTC().Truncate(time.Millisecond)
	if n := len(old); n > 0 {
		x.PrevHash = old[n-1].Hash
		if x.At.Before(old[n-1].At) { // a clock that was put back
			x.At = old[n-1].At.UTC()
		}
	}
	if x.At.Before(row.SealedAt) {
		x.At = row.SealedAt.UTC()
	}
}

// ruled puts into a re-torque or an audit what the house rules say of it, and what the crib says of its tool. Refused:
// an audit by somebody who tightened, and a tool that may not be used.
func ruled(ctx context.Context, q *store.Queries, rec record.Record, old []store.AdditionsOfRow,
	x *record.Addition) error {
	if x.Kind != record.Retorque && x.Kind != record.Audited {
		return nil
	}
	rules, err := houseRules(ctx, q)
	if err != nil {
		return err
	}
	x.LimitFrom = fmt.Sprintf("house rules, version %d", rules.Version)
	if x.Kind == record.Retorque {
		x.LimitDeg = rules.RetorqueLimitDeg
	} else {
		if why := rec.MayAudit(x.Person); why != "" {
			return &Problem{Kind: Forbidden, Field: "personId", Title: why + ".",
				Remedy: "An audit is made by somebody else."}
		}
		before, err := additionsIn(old)
		if err != nil {
			return err
		}
		next, err := record.NextAudit(rules, rec.Plan, x.Mark, before)
		if err != nil {
			return err
		}
		x.Audit = &next
		if next.By == plan.AuditMarks {
			return nil // no tool is put on
		}
	}
	x.ToolIs, err = toolFor(ctx, q, x.Tool, x.At)
	return err
}

// additionsIn reads additions from their rows.
func additionsIn(rows []store.AdditionsOfRow) ([]record.Addition, error) {
	var out []record.Addition
	for _, r := range rows {
		a, err := decode[record.Addition](r.Body)
		if err != nil {
			return nil, err
		}
		out = append(out, a)
	}
	return out, nil
}

// dueAgain shows a joint as due again after what was found out, unless it has been worked on since its record.
func dueAgain(ctx context.Context, q *store.Queries, row store.Record, p *plan.Plan, x record.Addition) error {
	x.Verdict, _ = x.Judge(p)
	why := x.DueAgain()
	if why == "" {
		return nil
	}
	j, err := q.GetJointByID(ctx, row.JointID)
	if err != nil {
		return err
	}
	if j, err = q.LockJoint(ctx, j.Tag); err != nil {
		return err
	}
	if j.PresentRun == nil || *j.PresentRun != row.RunID || j.RetiredWhy != "" {
		return nil
	}
	line := &store.Appended{}
	line.Line(store.Joint{ID: row.JointID, Glyph: string(run.GlyphDueAgain), Station: string(procedure.Sealed),
		Summary: fmt.Sprintf("%s after record %s", why, row.Number)}, row.RunID)
	return q.Append(ctx, line)
}

// toolFor says what a tool is and what proves it. Refused: one that the crib does not have, or that may not be used.
func toolFor(ctx context.Context, q *store.Queries, tag string, at time.Time) (string, error) {
	row, err := q.GetTool(ctx, tag)
	if none(err) {
		return "", &Problem{Kind: Invalid, Field: "tool", Title: fmt.Sprintf("The Crib has no tool %q.", tag),
			Remedy: "Enter its tag as it stands on it. A tool from elsewhere is put into the Crib first."}
	}
	if err != nil {
		return "", err
	}
	t, err := decode[tool.Tool](row.Data)
	if err != nil {
		return "", err
	}
	if bad := t.Standing(at); len(bad) > 0 {
		return "", &Problem{Kind: Conflict, Field: "tool", Title: bad[0].What + ".", Remedy: bad[0].Remedy}
	}
	is := t.Name()
	if t.Certificate != "" {
		is += ", certificate " + t.Certificate + " until " + string(t.CalibrationEnds)
	}
	return is, nil
}

// signers names who may sign an addition of each kind, by their identifiers.
func (a *App) signers(ctx context.Context) (map[record.AdditionKind][]string, error) {
	people, err := a.People(ctx)
	if err != nil {
		return nil, err
	}
	out := map[record.AdditionKind][]string{}
	for _, k := range record.AdditionKinds {
		out[k] = []string{}
		for _, p := range people {
			if authority.May(p.Role, k.Takes()) {
				out[k] = append(out[k], p.ID)
			}
		}
	}
	return out, nil
}

// sameAddition reports whether what is kept is what somebody sends again.
func sameAddition(row store.AdditionsOfRow, x record.Addition) bool {
	was, err := decode[record.Addition](row.Body)
	if err != nil || was.Person.ID != x.Person.ID {
		return false
	}
	bare := func(a record.Addition) string {
		text, _ := json.Marshal([]any{a.Kind, a.What, a.Place, a.Was, a.Is, a.Visits, a.TorqueNm, a.Tool})
		return string(text)
	}
	return bare(was) == bare(x)
}

// whole is a sealed file with what was added behind it; the file alone when nothing was.
func whole(file []byte, rows []store.AdditionsOfRow) ([]byte, error) {
	if len(rows) == 0 {
		return file, nil
	}
	w := record.Whole{File: file}
	for _, r := range rows {
		w.Additions = append(w.Additions, record.AdditionFile{Addition: json.RawMessage(r.Body), Signature: r.Signature,
			PublicKey: base64.StdEncoding.EncodeToString(r.PublicKey)})
	}
	return w.Bytes()
}

// WholeRecord gives the sealed file with everything that was added behind it, as it is verified elsewhere.
func (a *App) WholeRecord(ctx context.Context, number string) ([]byte, error) {
	file, err := a.RecordFile(ctx, number)
	if err != nil {
		return nil, err
	}
	rows, err := a.q.AdditionsOf(ctx, number)
	if err != nil {
		return nil, err
	}
	return whole(file, rows)
}

// added holds the additions that a file brings against those that are kept behind its record.
func (a *App) added(ctx context.Context, v *Verification) error {
	rows, err := a.q.AdditionsOf(ctx, v.Report.Number)
	if err != nil {
		return err
	}
	for i, x := range v.Report.Additions {
		hash, err := record.Digest(x)
		if err != nil {
			return err
		}
		if i >= len(rows) || rows[i].Hash != hash {
			v.Report.OK = false
			v.Report.Problems = append(v.Report.Problems, fmt.Sprintf("Addition %d is not one that is kept here.", i+1))
			return nil
		}
	}
	v.AddedSince = len(rows) - len(v.Report.Additions)
	return nil
}
