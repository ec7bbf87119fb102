package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"dynacor/core/authority"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// People lists who can sign in, from the hand at the joint to the one who answers for the data.
func (a *App) People(ctx context.Context) ([]run.Person, error) {
	rows, err := a.q.ListPeople(ctx)
	if err != nil {
		return nil, err
	}
	out := []run.Person{}
	for _, r := range rows {
		out = append(out, run.Person{ID: r.ID.String(), Name: r.Name, Role: r.Role})
	}
	place := func(p run.Person) int { return slices.Index(authority.Roles, authority.Held(p.Role)[0]) }
	slices.SortStableFunc(out, func(a, b run.Person) int { return place(a) - place(b) })
	return out, nil
}

// roleLine writes one role, or several with commas between them, as it is kept.
func roleLine(role string) (string, error) {
	var list []string
	for _, r := range strings.Split(role, ",") {
		list = append(list, strings.TrimSpace(r))
	}
	line, ok := authority.Written(list)
	if !ok {
		return "", &Problem{Kind: Invalid, Title: fmt.Sprintf("%q is not a role.", role), Field: "role",
			Remedy: "Choose of " + strings.Join(authority.Roles, ", ") + "; several with commas between them."}
	}
	return line, nil
}

func badPIN(err error) error {
	return &Problem{Kind: Invalid, Title: err.Error() + ".", Field: "pin",
		Remedy: "Choose another one, and keep it to yourself."}
}

// AddPerson makes a person with a role, or several, and a PIN or passphrase.
func (a *App) AddPerson(ctx context.Context, name, role, pin string) (run.Person, error) {
	role, err := roleLine(role)
	if err != nil {
		return run.Person{}, err
	}
	if name = strings.TrimSpace(name); name == "" || len(name) > 80 {
		return run.Person{}, &Problem{Kind: Invalid, Title: "A name has 1 to 80 characters.", Field: "name",
			Remedy: "Write it as it is to stand on records."}
	}
	hash, err := a.hasher.Hash(pin)
	if err != nil {
		return run.Person{}, badPIN(err)
	}
	if _, err := a.q.PersonByName(ctx, name); err == nil {
		return run.Person{}, &Problem{Kind: Conflict, Title: "There is a " + name + " already.", Field: "name",
			Remedy: "Add what tells the two apart; a name on a record is one person."}
	} else if !none(err) {
		return run.Person{}, err
	}
	id := uuid.Must(uuid.NewV7())
	if err := a.q.InsertPerson(ctx, store.InsertPersonParams{ID: id, Name: name, Role: role,
		PinHash: hash}); err != nil {
		return run.Person{}, err
	}
	return run.Person{ID: id.String(), Name: name, Role: role}, nil
}

// onPerson does something to a person found by name, in one transaction, and ends what they are signed in with, saying
// why.
func (a *App) onPerson(ctx context.Context, name, why string,
	do func(q *store.Queries, p store.Person, now time.Time) error) error {
	var ended []store.EndLoginsOfRow
	err := a.tx(ctx, func(q *store.Queries) error {
		p, err := q.PersonByName(ctx, name)
		if none(err) {
			return notFound("person", name)
		}
		if err != nil {
			return err
		}
		now := a.now().UTC()
		if err := do(q, p, now); err != nil {
			return err
		}
		if err := q.EndShiftsOf(ctx, store.EndShiftsOfParams{PersonID: p.ID, EndedAt: &now}); err != nil {
			return err
		}
		ended, err = q.EndLoginsOf(ctx, store.EndLoginsOfParams{PersonID: p.ID, EndedAt: &now, EndedWhy: why})
		return err
	})
	for _, l := range ended {
		a.tellEnded(l.ID.String())
	}
	return err
}

// SetPIN gives a person a new PIN or passphrase. What they were signed in with ends, and waits after wrong ones are
// over.
func (a *App) SetPIN(ctx context.Context, name, pin string) error {
	hash, err := a.hasher.Hash(pin)
	if err != nil {
		return badPIN(err)
	}
	return a.onPerson(ctx, name, "new PIN", func(q *store.Queries, p store.Person, now time.Time) error {
		if err := q.ForgetPINFailures(ctx, store.ForgetPINFailuresParams{PersonID: p.ID,
			Before: now.Add(-failureWindow)}); err != nil {
			return err
		}
		return q.SetPIN(ctx, store.SetPINParams{ID: p.ID, PinHash: hash, PinSetAt: now})
	})
}

// SetRole gives a person another role, or several, from their next sign-in on.
func (a *App) SetRole(ctx context.Context, name, role string) error {
	role, err := roleLine(role)
	if err != nil {
		return err
	}
	return a.onPerson(ctx, name, "another role", func(q *store.Queries, p store.Person, _ time.Time) error {
		return q.SetRole(ctx, store.SetRoleParams{ID: p.ID, Role: role})
	})
}

// RetirePerson ends what a person may do here; what they did stays under their name.
func (a *App) RetirePerson(ctx context.Context, name string) error {
	return a.onPerson(ctx, name, "retired", func(q *store.Queries, p store.Person, now time.Time) error {
		return q.RetirePerson(ctx, store.RetirePersonParams{ID: p.ID, RetiredAt: &now})
	})
}

// ReturnPerson lets a retired person sign in again.
func (a *App) ReturnPerson(ctx context.Context, name string) error {
	return a.onPerson(ctx, name, "returned", func(q *store.Queries, p store.Person, _ time.Time) error {
		return q.ReturnPerson(ctx, p.ID)
	})
}

// From is where a PIN is tried: the address it comes from, and the key of the device when it has proved one.
type From struct {
	Address string
	Agent   string
	Device  string
	Login   string // the sign-in that a new one takes the place of
}

// How wrong PINs are answered. Waits double with every further one.
const (
	failureWindow  = 24 * time.Hour
	freeGuesses    = 5   // of a person in one lane, before the first wait
	freeFromPlace  = 20  // from one address, by devices that are strangers
	freeOfAll      = 200 // by all such devices together
	firstWait      = time.Minute
	firstWaitOfAll = 10 * time.Second
	longestWait    = time.Hour
)

// wait is how long nobody may try after so many wrong PINs.
func wait(failures, free int, first time.Duration) time.Duration {
	if failures < free {
		return 0
	}
	w := first
	for range failures - free {
		if w *= 2; w >= longestWait {
			return longestWait
		}
	}
	return w
}

// lanes lets guesses at one person from one lane come one after another, so that each is counted before the next is
// looked at; and a few hashes be worked out at once, because each takes memory.
type lanes struct {
	mu      sync.Mutex
	busy    map[string]*lane
	hashing chan struct{}
}

type lane struct {
	sync.Mutex
	users int
}

func newLanes() *lanes { return &lanes{busy: map[string]*lane{}, hashing: make(chan struct{}, 4)} }

// mostInLane is how many may wait at one lane.
const mostInLane = 40

// enter waits for a lane; false when too many wait there.
func (l *lanes) enter(key string) (leave func(), ok bool) {
	l.mu.Lock()
	at := l.busy[key]
	if at == nil {
		at = &lane{}
		l.busy[key] = at
	}
	if at.users >= mostInLane {
		l.mu.Unlock()
		return nil, false
	}
	at.users++
	l.mu.Unlock()
	at.Lock()
	return func() {
		at.Unlock()
		l.mu.Lock()
		defer l.mu.Unlock()
		if at.users--; at.users == 0 {
			delete(l.busy, key)
		}
	}, true
}

var errWrongPIN = &Problem{Kind: NotSignedIn, Title: "Name and PIN do not go together.", Field: "pin",
	Remedy: "Try again; after five wrong ones there is a wait, longer with every further one."}

// CheckPIN gives the person and the version of their PIN when it is right. Wrong ones are counted and answered with
// growing waits: by person, by address, and in all. A device on which the person has signed in before has a lane of its
// own, which no stranger can fill.
func (a *App) CheckPIN(ctx context.Context, personID, pin string, from From) (run.Person, int, error) {
	row, err := a.checkPIN(ctx, personID, pin, from)
	if err == nil && row.PinOnceUntil != nil {
		return run.Person{}, 0, &Problem{Kind: Forbidden, Field: "pin",
			Title:  row.Name + " has a PIN that was given and is good for a sign-in only.",
			Remedy: "Sign in with it and choose an own one."}
	}
	return run.Person{ID: row.ID.String(), Name: row.Name, Role: row.Role}, int(row.PinVersion), err
}

// checkPIN is CheckPIN for a sign-in, at which a PIN that was given counts.
func (a *App) checkPIN(ctx context.Context, personID, pin string, from From) (store.Person, error) {
	id, err := uuid.Parse(personID)
	if err != nil {
		return store.Person{}, errWrongPIN
	}
	row, err := a.q.GetPerson(ctx, id)
	if none(err) || err == nil && !row.Active {
		return store.Person{}, errWrongPIN
	}
	if err != nil {
		return store.Person{}, err
	}
	way := "" // strangers
	if from.Device != "" {
		known, err := a.q.WasOnDevice(ctx, store.WasOnDeviceParams{KeyID: from.Device, PersonID: id})
		if err != nil {
			return store.Person{}, err
		}
		if known {
			way = from.Device
		}
	}
	leave, ok := a.lanes.enter(row.ID.String() + " " + way)
	if !ok {
		return store.Person{}, tooMany("Too many try to sign in as "+row.Name+" at once.", firstWait)
	}
	defer leave()
	now := a.now().UTC()
	if err := a.mayTry(ctx, row, way, from, now); err != nil {
		return store.Person{}, err
	}
	a.lanes.hashing <- struct{}{}
	ok, err = a.hasher.Matches(pin, row.PinHash)
	<-a.lanes.hashing
	if err != nil {
		return store.Person{}, err
	}
	if !ok {
		if err := a.q.InsertPINFailure(ctx, store.InsertPINFailureParams{At: now, PersonID: id, Lane: way,
			Address: from.Address}); err != nil {
			return store.Person{}, err
		}
		if err := a.audit(store.WithActor(ctx, "somebody "+from.words()), "wrong PIN", row.Name, "",
			from.words()); err != nil {
			return store.Person{}, err
		}
		return store.Person{}, errWrongPIN
	}
	if err := a.q.ForgetPINFailures(ctx, store.ForgetPINFailuresParams{PersonID: id, Lane: way,
		Before: now.Add(-failureWindow)}); err != nil {
		return store.Person{}, err
	}
	return row, nil
}

// mayTry refuses a try that comes too soon after wrong ones.
func (a *App) mayTry(ctx context.Context, p store.Person, way string, from From, now time.Time) error {
	f, err := a.q.PINFailures(ctx, store.PINFailuresParams{Person: p.ID, Lane: way, Address: from.Address,
		Since: now.Add(-failureWindow)})
	if err != nil {
		return err
	}
	if until := f.LastInLane.Add(wait(int(f.InLane), freeGuesses, firstWait)); now.Before(until) {
		return tooMany("Too many wrong PINs for "+p.Name+".", until.Sub(now))
	}
	if way != "" {
		return nil
	}
	if until := f.LastFromAddress.Add(wait(int(f.FromAddress), freeFromPlace, firstWait)); now.Before(until) {
		return tooMany("Too many wrong PINs came from this address.", until.Sub(now))
	}
	if until := f.LastByStrangers.Add(wait(int(f.ByStrangers), freeOfAll, firstWaitOfAll)); now.Before(until) {
		return tooMany("Too many wrong PINs came from devices nobody has signed in on.", until.Sub(now))
	}
	return nil
}

func tooMany(title string, left time.Duration) error {
	return &Problem{Kind: TooOften, Title: title, Field: "pin",
		Remedy: fmt.Sprintf("Wait %s, then try again; or sign in on a device where you did before, or ask the "+
			"administrator for a new PIN.", inWords(left))}
}

func inWords(d time.Duration) string {
	if d <= 90*time.Second {
		return fmt.Sprintf("%d s", max(1, int(d.Round(time.Second).Seconds())))
	}
	return fmt.Sprintf("%d min", int((d+time.Minute-1)/time.Minute))
}
