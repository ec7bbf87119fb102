package app

import (
	"context"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"sort"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// RecordRow is a line of the records.
type RecordRow struct {
	Number      string    `json:"number"`
	Tag         string    `json:"tag"`
	Name        string    `json:"name"`
	Area        string    `json:"area"`
	Target      string    `json:"target"`
	TightenedBy string    `json:"tightenedBy"`
	ProvedBy    string    `json:"provedBy"`
	SealedAt    time.Time `json:"sealedAt"`
	Mark        string    `json:"mark"`
	// accepted or turned_down
	Verdict run.VerdictCode `json:"verdict"`
	Added   int             `json:"added"` // so many stand behind it
}

// RecordPage is a part of the records.
type RecordPage struct {
	Rows  []RecordRow `json:"rows"`
	Total int         `json:"total"` // so many are found
	More  bool        `json:"more"`  // or more
	Older bool        `json:"older"` // some records of an earlier time are not found by everything yet
}

// RecordView is one sealed record opened.
type RecordView struct {
	Row    RecordRow     `json:"row"`
	Record record.Record `json:"record"`
	KeyID  string        `json:"keyId"`
	Report record.Report `json:"report"`
	// what was added behind the seal, in its order
	Additions []record.Addition `json:"additions"`
	// who may sign an addition of each kind, by identifier
	Signers map[record.AdditionKind][]string `json:"signers"`
	// what a nut may turn at a re-torque made now
	RetorqueLimitDeg float64 `json:"retorqueLimitDeg"`
	// what would be audited now; nil of a joint that was taken apart, or not accepted
	NextAudit *record.Audit `json:"nextAudit,omitempty"`

	Photos map[string]Photo `json:"-"` // by identifier; filled by WithPhotos for printing
}

// Keys gives every key this installation ever signed with, and the time that each counts for.
func (a *App) Keys(ctx context.Context) ([]record.Key, error) {
	rows, err := a.q.ListKeys(ctx)
	if err != nil {
		return nil, err
	}
	out := []record.Key{}
	for _, r := range rows {
		k := record.Key{Public: r.PublicKey, Until: r.ValidUntil, Revoked: r.RevokedFrom, RevokeReason: r.RevokeReason}
		if r.ValidFrom != nil {
			k.From = *r.ValidFrom
		}
		out = append(out, k)
	}
	return out, nil
}

// Seal makes the record of a run that is accepted, signed twice and has nothing open, or of one that was turned down.
func (a *App) Seal(ctx context.Context, id string) (RecordRow, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return RecordRow{}, notFound("run", id)
	}
	var row RecordRow
	err = a.tx(ctx, func(q *store.Queries) error {
		r, p, err := a.openRun(ctx, q, u)
		if err != nil {
			return err
		}
		// what is sealed is read from the database, whatever is remembered here
		entries, err := a.readChain(ctx, q, u, int(r.LastSeq))
		if err != nil {
			return err
		}
		at := a.now().UTC().Truncate(time.Millisecond)
		s := run.Fold(p, eventsOf(entries), at)
		if len(s.OpenItems) > 0 {
			return newProblem(Conflict, "Not everything is closed: %s.", "Clear what is open, then seal.",
				strings.Join(s.OpenItems, "; "))
		}
		missing, err := missingPhotos(ctx, q, u, entries, s)
		if err != nil {
			return err
		}
		if missing > 0 {
			return newProblem(Conflict, "%d pictures of this run have not arrived from their device.",
				"Open Dynacor on that device where there is network; or take the entry back and answer the "+
					"check again.", missing)
		}
		row, err = a.seal(ctx, q, r, p, entries, s, at)
		return err
	})
	if err == nil {
		a.tellRun(id)
	}
	return row, err
}

func (a *App) seal(ctx context.Context, q *store.Queries, r store.Run, p *plan.Plan, entries []record.Entry,
	s *run.State, at time.Time) (RecordRow, error) {
	site, err := setting(ctx, q, SettingSite, "Site not named")
	if err != nil {
		return RecordRow{}, err
	}
	code, err := setting(ctx, q, SettingSiteCode, "DY")
	if err != nil {
		return RecordRow{}, err
	}
	key, err := a.signing(ctx, q)
	if err != nil {
		return RecordRow{}, err
	}
	wanted, err := q.NextRecordNumber(ctx)
	if err != nil {
		return RecordRow{}, err
	}
	n, err := key.Number(wanted)
	if err != nil {
		return RecordRow{}, err
	}
	if n != wanted {
		if err := q.SkipRecordNumbers(ctx, n); err != nil {
			return RecordRow{}, err
		}
	}
	rec := record.Record{Number: fmt.Sprintf("%s-%d-%05d", code, at.Year(), n), Site: site, RunID: r.ID.String(),
		Plan: p, Events: entries, State: s, Statement: record.Statement}
	f, err := record.Sign(rec, key.Private, at)
	if err != nil {
		return RecordRow{}, err
	}
	mark, err := f.Mark()
	if err != nil {
		return RecordRow{}, err
	}
	data, err := f.Bytes()
	if err != nil {
		return RecordRow{}, err
	}
	row := RecordRow{Number: rec.Number, Tag: p.Joint.Tag, Name: p.Joint.Name, Area: p.Joint.Area,
		Target: p.TargetWords(), SealedAt: at, Mark: mark, Verdict: s.Verdict.Code}
	for _, g := range s.Signatures {
		switch g.Purpose {
		case run.SignTightened:
			row.TightenedBy = g.Name
		case run.SignProved, run.SignTurnedDown:
			row.ProvedBy = g.Name
		}
	}
	if err := q.InsertRecord(ctx, store.InsertRecordParams{Number: row.Number, RunID: r.ID, JointID: r.JointID,
		Tag: row.Tag, Name: row.Name, Area: row.Area, Target: row.Target,
		TightenedBy: row.TightenedBy, ProvedBy: row.ProvedBy, SealedAt: at, Mark: mark, File: data,
		Verdict: string(row.Verdict)}); err != nil {
		return RecordRow{}, err
	}
	if err := putIndex(ctx, q, store.Record{Number: row.Number, Tag: row.Tag, Name: row.Name, Area: row.Area,
		SealedAt: at}, rec, nil); err != nil {
		return RecordRow{}, err
	}
	if err := q.SealRun(ctx, store.SealRunParams{ID: r.ID, SealedAt: &at}); err != nil {
		return RecordRow{}, err
	}
	line := &store.Appended{}
	line.Line(store.Joint{ID: r.JointID, Glyph: string(s.Glyph), Station: string(procedure.Sealed),
		Summary: sealedSummary(p, row.Number)}, r.ID)
	return row, q.Append(ctx, line)
}

// RecordFile gives the sealed file as it was signed.
func (a *App) RecordFile(ctx context.Context, number string) ([]byte, error) {
	r, err := a.q.GetRecord(ctx, number)
	if none(err) {
		return nil, notFound("record", number)
	}
	return r.File, err
}

// Record opens a sealed record and verifies it on the way.
func (a *App) Record(ctx context.Context, number string) (RecordView, error) {
	r, err := a.q.GetRecord(ctx, number)
	if none(err) {
		return RecordView{}, notFound("record", number)
	}
	if err != nil {
		return RecordView{}, err
	}
	v := RecordView{Row: rowOf(store.RecordLine{Number: r.Number, Tag: r.Tag, Name: r.Name, Area: r.Area,
		Target: r.Target, TightenedBy: r.TightenedBy, ProvedBy: r.ProvedBy, SealedAt: r.SealedAt, Mark: r.Mark,
		Verdict: r.Verdict})}
	f, rec, err := record.Read(r.File)
	if err != nil {
		return v, fmt.Errorf("app: record %s: %w", number, err)
	}
	v.Record = rec
	keys, err := a.Keys(ctx)
	if err != nil {
		return v, err
	}
	rows, err := a.q.AdditionsOf(ctx, number)
	if err != nil {
		return v, err
	}
	data, err := whole(r.File, rows)
	if err != nil {
		return v, err
	}
	v.KeyID, v.Report = f.Seal.KeyID, record.Verify(data, keys)
	v.Additions = append([]record.Addition{}, v.Report.Additions...)
	v.Row.Added = len(v.Additions)
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return v, err
	}
	v.RetorqueLimitDeg = rules.RetorqueLimitDeg
	if v.Signers, err = a.signers(ctx); err != nil {
		return v, err
	}
	if p := v.Record.Plan; !p.Apart() && v.Row.Verdict == run.Accepted {
		next, err := record.NextAudit(rules, p, r.Mark, v.Additions)
		if err != nil {
			return v, err
		}
		v.NextAudit = &next
		v.Signers[record.Audited] = slices.DeleteFunc(v.Signers[record.Audited], func(id string) bool {
			return v.Record.MayAudit(run.Person{ID: id}) != ""
		})
	}
	return v, nil
}

// WithPhotos adds the pictures that the record's entries, and what was added behind it, point to. One that never arrived
// from its device is left out.
func (a *App) WithPhotos(ctx context.Context, v RecordView) (RecordView, error) {
	v.Photos = map[string]Photo{}
	var named []string
	for _, e := range v.Record.Events {
		named = append(named, e.Event.Photo)
	}
	for _, x := range v.Additions {
		named = append(named, x.Photo)
	}
	for _, photo := range named {
		id, err := uuid.Parse(photo)
		if err != nil {
			continue // no photo with this entry
		}
		p, err := a.q.GetPhoto(ctx, id)
		switch {
		case none(err):
		case err != nil:
			return v, err
		default:
			v.Photos[photo] = shown(p)
		}
	}
	return v, nil
}

// Difference is one place where a file departs from the record kept here.
type Difference struct {
	Path string `json:"path"`
	Kept string `json:"kept"`
	File string `json:"file"`
}

// Verification is the report on a file somebody brought.
type Verification struct {
	Report      record.Report `json:"report"`
	Kept        bool          `json:"kept"` // a record of this number is kept here
	Differences []Difference  `json:"differences"`
	// so many additions are kept here that the file does not bring
	AddedSince int `json:"addedSince"`
}

// Verify checks a file and, when the record is kept here, names each value that differs from it: a file that is not the
// one kept here does not hold, whoever signed it.
func (a *App) Verify(ctx context.Context, data []byte) (Verification, error) {
	keys, err := a.Keys(ctx)
	if err != nil {
		return Verification{}, err
	}
	v := Verification{Report: record.Verify(data, keys), Differences: []Difference{}}
	if v.Report.Mark == "" { // not a record at all
		return v, nil
	}
	kept, err := a.q.GetRecord(ctx, v.Report.Number)
	if none(err) {
		return v, nil
	}
	if err != nil {
		return v, err
	}
	v.Kept = true
	if data, err = record.SealedIn(data); err != nil {
		return v, err
	}
	same, err := record.Same(kept.File, data)
	if err != nil {
		return v, err
	}
	if same {
		return v, a.added(ctx, &v)
	}
	v.Report.OK = false
	v.Report.Problems = append(v.Report.Problems, fmt.Sprintf("It is not the record %s that is kept here.",
		v.Report.Number))
	var was, is any
	if json.Unmarshal(kept.File, &was) == nil && json.Unmarshal(data, &is) == nil {
		compare("", was, is, &v.Differences)
	}
	return v, nil
}

const mostDifferences = 200

func compare(path string, was, is any, out *[]Difference) {
	if len(*out) >= mostDifferences || reflect.DeepEqual(was, is) {
		return
	}
	wm, wok := was.(map[string]any)
	im, iok := is.(map[string]any)
	if wok && iok {
		keys := map[string]bool{}
		for k := range wm {
			keys[k] = true
		}
		for k := range im {
			keys[k] = true
		}
		names := make([]string, 0, len(keys))
		for k := range keys {
			names = append(names, k)
		}
		sort.Strings(names)
		for _, k := range names {
			compare(strings.TrimPrefix(path+"."+k, "."), wm[k], im[k], out)
		}
		return
	}
	wl, wok := was.([]any)
	il, iok := is.([]any)
	if wok && iok && len(wl) == len(il) {
		for i := range wl {
			compare(fmt.Sprintf("%s[%d]", path, i+1), wl[i], il[i], out)
		}
		return
	}
	*out = append(*out, Difference{path, brief(was), brief(is)})
}

func brief(v any) string {
	if v == nil {
		return "nothing"
	}
	b, _ := json.Marshal(v)
	if len(b) > 120 {
		return string(b[:117]) + "…"
	}
	return string(b)
}

func capital(s string) string { return strings.ToUpper(s[:1]) + s[1:] }
