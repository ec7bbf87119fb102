package app

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"

	"dynacor/core/authority"
	"dynacor/core/handover"
	"dynacor/internal/store"
)

// HandoverView is a note of a shift, with who has taken it over. ID "": a draft that nobody has written yet.
type HandoverView struct {
	ID        string        `json:"id"`
	By        string        `json:"by"`
	ByID      string        `json:"byId"`
	Words     string        `json:"words"`
	Note      handover.Note `json:"note"`
	TakenBy   string        `json:"takenBy"`
	TakenAt   *time.Time    `json:"takenAt,omitempty"`
	Confirmed []string      `json:"confirmed"` // runs that whoever took over found as they are told
}

// HandoverTake is the signature of who takes over.
type HandoverTake struct {
	PersonID  string   `json:"personId"`
	PIN       string   `json:"pin"`
	Confirmed []string `json:"confirmed"`
}

const (
	shiftLength   = 12 * time.Hour // what a note looks back on when there is none before it
	mostHandovers = 30
	mostLines     = 40
)

// whoHandsOver are the roles that write a note, and that take one over.
var whoHandsOver = []string{authority.Technician, authority.Lead, authority.Engineer}

// Handovers lists the notes, the newest first.
func (a *App) Handovers(ctx context.Context) ([]HandoverView, error) {
	rows, err := a.q.Handovers(ctx, mostHandovers)
	if err != nil {
		return nil, err
	}
	out := []HandoverView{}
	for _, r := range rows {
		v, err := handoverView(r)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, nil
}

func handoverView(r store.Handover) (HandoverView, error) {
	v := HandoverView{ID: r.ID.String(), By: r.MadeBy, ByID: r.MadeByID.String(), Words: r.Words, TakenBy: r.TakenBy,
		TakenAt: r.TakenAt}
	if err := json.Unmarshal(r.Note, &v.Note); err != nil {
		return v, err
	}
	if v.Note.Noted == nil { // from before there were notes
		v.Note.Noted = []string{}
	}
	return v, json.Unmarshal(r.Confirmed, &v.Confirmed)
}

// DraftHandover is the note as it would be written now: what happened since the one before it.
func (a *App) DraftHandover(ctx context.Context, who Actor) (HandoverView, error) {
	v := HandoverView{By: who.Name, ByID: who.ID, Confirmed: []string{}}
	v.Note = handover.Note{From: a.now().Add(-shiftLength), To: a.now(), Sealed: []string{}, Open: []handover.Open{},
		Tools: []string{}, Behind: []string{}, Due: []string{}, Noted: []string{}}
	last, err := a.q.Handovers(ctx, 1)
	if err != nil {
		return v, err
	}
	if len(last) > 0 && last[0].ToAt.After(v.Note.From) {
		v.Note.From = last[0].ToAt
	}
	for _, tell := range []func(context.Context, *handover.Note) error{a.noteSealed, a.noteOpen, a.noteTools,
		a.noteBehind, a.noteDue, a.noteNoted} {
		if err := tell(ctx, &v.Note); err != nil {
			return v, err
		}
	}
	return v, nil
}

func (a *App) noteSealed(ctx context.Context, n *handover.Note) error {
	rows, err := a.q.SealedSince(ctx, n.From)
	for _, r := range rows {
		n.Sealed = append(n.Sealed, fmt.Sprintf("%s, %s: %s, record %s", r.Tag, r.Name,
			strings.ReplaceAll(r.Verdict, "_", " "), r.Number))
	}
	return err
}

func (a *App) noteOpen(ctx context.Context, n *handover.Note) error {
	runs, err := a.q.OpenRuns(ctx)
	if err != nil {
		return err
	}
	for _, r := range runs {
		if r.LastSeq == 0 {
			continue
		}
		p, err := a.plan(ctx, a.q, r.PlanID)
		if err != nil {
			return err
		}
		known, err := a.chain(ctx, a.q, r.ID, int(r.LastSeq), r.LastHash)
		if err != nil {
			return err
		}
		n.Open = append(n.Open, handover.OpenRun(r.ID.String(), r.Tag, r.Name, known.state(p, a.now())))
	}
	return nil
}

func (a *App) noteTools(ctx context.Context, n *handover.Note) error {
	loans, err := a.q.OpenLoans(ctx)
	for _, l := range loans {
		line := l.Tag + " with " + l.Person
		if l.Place != "" {
			line += ", " + l.Place
		}
		n.Tools = append(n.Tools, line)
	}
	return err
}

func (a *App) noteBehind(ctx context.Context, n *handover.Note) error {
	rows, err := a.q.ShiftPlansRunning(ctx, a.now())
	if err != nil {
		return err
	}
	for _, r := range rows {
		s, err := a.ShiftStands(ctx, r.Package)
		if err != nil {
			return err
		}
		n.Behind = append(n.Behind, s.Old...)
	}
	n.Behind = n.Behind[:min(len(n.Behind), mostLines)]
	return nil
}

func (a *App) noteDue(ctx context.Context, n *handover.Note) error {
	list, err := a.due(ctx)
	if err != nil {
		return err
	}
	for _, i := range list {
		if i.Person == "" && i.From.Before(n.To.Add(24*time.Hour)) && len(n.Due) < mostLines {
			n.Due = append(n.Due, i.Says)
		}
	}
	return nil
}

// WriteHandover writes the note of the shift, with what a person adds.
func (a *App) WriteHandover(ctx context.Context, who Actor, words string) (HandoverView, error) {
	words = strings.TrimSpace(words)
	if utf8.RuneCountInString(words) > handover.MostWords {
		return HandoverView{}, newProblem(Invalid, "What was added is longer than %d letters.",
			"Say it in fewer words.",
			handover.MostWords)
	}
	v, err := a.DraftHandover(ctx, who)
	if err != nil {
		return v, err
	}
	note, err := json.Marshal(v.Note)
	if err != nil {
		return v, err
	}
	by, err := uuid.Parse(who.ID)
	if err != nil {
		return v, err
	}
	id := uuid.Must(uuid.NewV7())
	v.ID, v.Words = id.String(), words
	return v, a.q.InsertHandover(ctx, store.InsertHandoverParams{ID: id, FromAt: v.Note.From, ToAt: v.Note.To,
		MadeBy: who.Name, MadeByID: by, Note: note, Words: words})
}

// TakeHandover signs a note by PIN: whoever goes on has read it, and found every open run as it is told.
func (a *App) TakeHandover(ctx context.Context, who Actor, id string, in HandoverTake) (HandoverView, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return HandoverView{}, notFound("note", id)
	}
	row, err := a.q.Handover(ctx, u)
	if none(err) {
		return HandoverView{}, notFound("note", id)
	}
	if err != nil {
		return HandoverView{}, err
	}
	v, err := handoverView(row)
	if err != nil {
		return v, err
	}
	if err := v.Note.Takes(v.ByID, in.PersonID, in.Confirmed); err != nil {
		return v, err
	}
	signer, _, err := a.CheckPIN(ctx, in.PersonID, in.PIN, From{Address: who.Address, Device: who.Device})
	if err != nil {
		return v, err
	}
	if !authority.Covers(signer.Role, whoHandsOver...) {
		return v, &Problem{Kind: Forbidden, Title: "A shift is taken over by " + authority.AnyOf(whoHandsOver) + ".",
			Remedy: "Let one of them read and sign it."}
	}
	taker, err := uuid.Parse(signer.ID)
	if err != nil {
		return v, err
	}
	confirmed, err := json.Marshal(append([]string{}, in.Confirmed...))
	if err != nil {
		return v, err
	}
	now := a.now()
	n, err := a.q.TakeHandover(ctx, store.TakeHandoverParams{ID: u, TakenBy: signer.Name, TakenByID: &taker,
		TakenAt:   &now,
		Confirmed: confirmed})
	if err != nil {
		return v, err
	}
	if n == 0 {
		return v, newProblem(Conflict, "%s has taken this shift over already.",
			"Write the next note when your shift ends.",
			row.TakenBy)
	}
	v.TakenBy, v.TakenAt, v.Confirmed = signer.Name, &now, in.Confirmed
	return v, nil
}
