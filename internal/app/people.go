package app

import (
	"context"
	"net/http"
	"time"

	"github.com/google/uuid"

	"dynacor/core/run"
	"dynacor/internal/store"
)

// Guesses allowed before a person is locked for a while.
const (
	mostAttempts = 5
	lockPause    = time.Minute
)

// People lists who can sign in.
func (a *App) People(ctx context.Context) ([]run.Person, error) {
	rows, err := a.q.ListPeople(ctx)
	if err != nil {
		return nil, err
	}
	out := []run.Person{}
	for _, r := range rows {
		out = append(out, run.Person{ID: r.ID.String(), Name: r.Name, Role: r.Role})
	}
	return out, nil
}

// Person finds someone by id; a person who was made inactive is not found.
func (a *App) Person(ctx context.Context, id string) (run.Person, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return run.Person{}, notFound("person", id)
	}
	row, err := a.q.GetPerson(ctx, u)
	if none(err) || err == nil && !row.Active {
		return run.Person{}, notFound("person", id)
	}
	if err != nil {
		return run.Person{}, err
	}
	return run.Person{ID: row.ID.String(), Name: row.Name, Role: row.Role}, nil
}

// AddPerson makes a person with a role and a PIN of 4 to 8 digits.
func (a *App) AddPerson(ctx context.Context, name, role, pin string) (run.Person, error) {
	hash, err := a.hasher.Hash(pin)
	if err != nil {
		return run.Person{}, &Problem{Status: http.StatusUnprocessableEntity, Title: err.Error() + ".", Field: "pin", Remedy: "Choose digits that are not easily guessed."}
	}
	id := uuid.Must(uuid.NewV7())
	if err := a.q.InsertPerson(ctx, store.InsertPersonParams{ID: id, Name: name, Role: role, PinHash: hash}); err != nil {
		return run.Person{}, err
	}
	return run.Person{ID: id.String(), Name: name, Role: role}, nil
}

// SetPIN gives a person a new PIN and lifts a lock.
func (a *App) SetPIN(ctx context.Context, name, pin string) error {
	hash, err := a.hasher.Hash(pin)
	if err != nil {
		return &Problem{Status: http.StatusUnprocessableEntity, Title: err.Error() + ".", Field: "pin"}
	}
	n, err := a.q.SetPIN(ctx, store.SetPINParams{Name: name, PinHash: hash})
	if err == nil && n == 0 {
		return notFound("person", name)
	}
	return err
}

// CheckPIN gives the person when the PIN is right. Five wrong ones lock the person for a minute; the attempt is counted before
// the PIN is looked at, so that guesses side by side count too.
func (a *App) CheckPIN(ctx context.Context, personID, pin string) (run.Person, error) {
	wrong := &Problem{Status: http.StatusUnauthorized, Title: "Name and PIN do not go together.", Field: "pin", Remedy: "Try again; after five wrong ones wait a minute."}
	id, err := uuid.Parse(personID)
	if err != nil {
		return run.Person{}, wrong
	}
	row, err := a.q.GetPerson(ctx, id)
	if none(err) {
		return run.Person{}, wrong
	}
	if err != nil {
		return run.Person{}, err
	}
	if _, err := a.q.CountAttempt(ctx, store.CountAttemptParams{ID: id, Most: mostAttempts, Pause: lockPause}); none(err) {
		return run.Person{}, &Problem{Status: http.StatusTooManyRequests, Title: "Too many wrong PINs for " + row.Name + ".", Field: "pin", Remedy: "Wait a minute, then try again, or ask the administrator for a new PIN."}
	} else if err != nil {
		return run.Person{}, err
	}
	ok, err := a.hasher.Matches(pin, row.PinHash)
	if err != nil {
		return run.Person{}, err
	}
	if !ok {
		return run.Person{}, wrong
	}
	if err := a.q.ClearAttempts(ctx, id); err != nil {
		return run.Person{}, err
	}
	return run.Person{ID: row.ID.String(), Name: row.Name, Role: row.Role}, nil
}

// SignIn checks the PIN and notes the device, so that what the person recorded there without network is accepted later.
func (a *App) SignIn(ctx context.Context, personID, pin, device string) (run.Person, error) {
	p, err := a.CheckPIN(ctx, personID, pin)
	if err != nil {
		return p, err
	}
	return p, a.q.PutSignIn(ctx, store.PutSignInParams{Device: device, PersonID: uuid.MustParse(p.ID)})
}
