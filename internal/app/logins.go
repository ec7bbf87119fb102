package app

import (
	"context"
	"sync"
	"time"

	"github.com/google/uuid"

	"dynacor/core/authority"
	"dynacor/core/run"
	"dynacor/internal/identity"
	"dynacor/internal/store"
)

// SignInInput is how a person signs in on a device.
type SignInInput struct {
	PersonID string `json:"personId"`
	PIN      string `json:"pin"`
	// the own PIN or passphrase that is chosen, when PIN was given by somebody else
	NewPIN      string `json:"newPin,omitempty"`
	DeviceKey   string `json:"deviceKey,omitempty"`   // public key of the device, see identity.ReadDeviceKey
	DeviceProof string `json:"deviceProof,omitempty"` // its signature, see identity.SignInText
}

// SignIn checks the PIN and begins a login, whose identifier it gives. When the device has a key, the person's shift on
// it begins: from now on events that it signs count for them, and whoever was at work on the device before is not any
// more.
func (a *App) SignIn(ctx context.Context, in SignInInput, from From) (run.Person, string, error) {
	var key identity.DeviceKey
	if in.DeviceKey != "" {
		var err error
		if key, err = identity.ReadDeviceKey(in.DeviceKey); err != nil {
			return run.Person{}, "", &Problem{Kind: Invalid, Title: err.Error() + ".", Field: "deviceKey",
				Remedy: "Open the page anew."}
		}
		if err := key.Holds(identity.SignInText(in.PersonID, key.ID), in.DeviceProof); err != nil {
			return run.Person{}, "",
				&Problem{Kind: Forbidden, Title: "The device did not prove that the key is its own.",
					Field: "deviceProof", Remedy: "Open the page anew."}
		}
		from.Device = key.ID
	}
	row, err := a.checkPIN(ctx, in.PersonID, in.PIN, from)
	if err == nil {
		row, err = a.ownPIN(ctx, row, in)
	}
	p, version := run.Person{ID: row.ID.String(), Name: row.Name, Role: row.Role}, int(row.PinVersion)
	if err != nil {
		return p, "", err
	}
	id, now := uuid.Must(uuid.NewV7()), a.now().UTC()
	err = a.tx(ctx, func(q *store.Queries) error {
		if before, err := uuid.Parse(from.Login); err == nil {
			if _, err := q.EndLogin(ctx, store.EndLoginParams{ID: before, EndedAt: &now,
				EndedWhy: "hands changed"}); err != nil {
				return err
			}
		}
		if key.ID != "" {
			if err := q.PutDeviceKey(ctx, store.PutDeviceKeyParams{ID: key.ID, PublicKey: key.DER,
				Now: now}); err != nil {
				return err
			}
			// two sign-ins at once on one device follow each other
			kept, err := q.LockDeviceKeys(ctx, []string{key.ID})
			if err != nil {
				return err
			}
			if len(kept) == 1 && kept[0].ShutAt != nil {
				return newProblem(Forbidden, "This device was shut out on %s.",
					"Ask an administrator to let it in again.", kept[0].ShutAt.UTC().Format("2006-01-02 15:04 UTC"))
			}
			if err := q.EndShifts(ctx, store.EndShiftsParams{KeyID: key.ID, EndedAt: &now}); err != nil {
				return err
			}
			if err := q.BeginShift(ctx, store.BeginShiftParams{KeyID: key.ID, PersonID: uuid.MustParse(p.ID),
				BeganAt: now}); err != nil {
				return err
			}
		}
		return q.InsertLogin(ctx, store.InsertLoginParams{ID: id, PersonID: uuid.MustParse(p.ID),
			PinVersion: int32(version), DeviceKey: key.ID, Address: from.Address, Agent: clipTo(from.Agent, 120),
			BeganAt: now})
	})
	if err == nil {
		err = a.audit(store.WithActor(ctx, p.Name+", "+p.Role+", "+from.Address), "signed in", p.Name, "", from.words())
	}
	if err == nil && from.Login != "" {
		a.tellEnded(from.Login)
	}
	return p, id.String(), err
}

// ownPIN lets somebody whose PIN was given by another choose their own, and refuses them until they do.
func (a *App) ownPIN(ctx context.Context, row store.Person, in SignInInput) (store.Person, error) {
	now := a.now().UTC()
	switch {
	case row.PinOnceUntil == nil:
		return row, nil
	case now.After(*row.PinOnceUntil):
		return row, &Problem{Kind: Forbidden, Field: "pin", Title: "This PIN was given for a day, and that is over.",
			Remedy: "Ask an administrator for a new one."}
	case in.NewPIN == "":
		return row, &Problem{Kind: Invalid, Field: "newPin", Title: "This PIN was given to you for the first sign-in.",
			Remedy: "Choose one of your own: 4 to 8 digits, or a passphrase of 12 characters and more."}
	case in.NewPIN == in.PIN:
		return row, &Problem{Kind: Invalid, Field: "newPin", Title: "That is the PIN that was given.",
			Remedy: "Choose another one, and keep it to yourself."}
	}
	hash, err := a.hasher.Hash(in.NewPIN)
	if err != nil {
		p := badPIN(err).(*Problem)
		p.Field = "newPin"
		return row, p
	}
	row.PinVersion++
	return row, a.q.SetPIN(ctx, store.SetPINParams{ID: row.ID, PinHash: hash, PinSetAt: now})
}

func clipTo(s string, most int) string {
	if r := []rune(s); len(r) > most {
		return string(r[:most])
	}
	return s
}

// SignOut ends a login and the shift on its device.
func (a *App) SignOut(ctx context.Context, who Actor) error {
	return a.endLogin(ctx, who.Login, "signed out")
}

func (a *App) endLogin(ctx context.Context, id, why string) error {
	u, err := uuid.Parse(id)
	if err != nil {
		return nil // nobody was signed in
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		l, err := q.GetLogin(ctx, u)
		if none(err) {
			return nil
		}
		if err != nil {
			return err
		}
		now := a.now().UTC()
		n, err := q.EndLogin(ctx, store.EndLoginParams{ID: u, EndedAt: &now, EndedWhy: why})
		if err != nil || n == 0 {
			return err
		}
		if err := q.Audit(ctx, store.AuditParams{Action: "sign-in ended", Subject: l.Name, After: why}); err != nil ||
			l.DeviceKey == "" {
			return err
		}
		return q.EndShifts(ctx, store.EndShiftsParams{KeyID: l.DeviceKey, EndedAt: &now})
	})
	if err == nil {
		a.tellEnded(id)
	}
	return err
}

// LoginTopic is where the end of a login is told.
func LoginTopic(id string) string { return "login:" + id }

func (a *App) tellEnded(id string) { a.tell(LoginTopic(id), "ended", nil) }

// Who finds out who is signed in. none is a Problem: the login has ended, by sign-out, by a new PIN, by time, or by
// somebody's order.
func (a *App) Who(ctx context.Context, login string) (Actor, error) {
	ended := &Problem{Kind: NotSignedIn, Title: "This sign-in has ended.",
		Remedy: "Sign in again; what is kept on this device is not lost."}
	u, err := uuid.Parse(login)
	if err != nil {
		return Actor{}, ended
	}
	l, err := a.q.GetLogin(ctx, u)
	if none(err) {
		return Actor{}, ended
	}
	if err != nil {
		return Actor{}, err
	}
	ends, err := a.ends.of(ctx, a)
	if err != nil {
		return Actor{}, err
	}
	now := a.now()
	if l.EndedAt != nil || !l.Active || l.PinVersion != l.PinNow || now.Sub(l.SeenAt) > ends.idle ||
		now.Sub(l.BeganAt) > ends.absolute {
		return Actor{}, ended
	}
	if now.Sub(l.SeenAt) > seenEvery {
		if err := a.q.SeeLogin(ctx, store.SeeLoginParams{ID: u, SeenAt: now.UTC()}); err != nil {
			return Actor{}, err
		}
	}
	return Actor{Person: run.Person{ID: l.PersonID.String(), Name: l.Name, Role: l.Role}, Device: l.DeviceKey,
		Login: login}, nil
}

// seenEvery is how often it is noted that somebody is still there.
const seenEvery = time.Minute

// ends remembers for a moment after which times a login ends by the house rules.
type ends struct {
	mu             sync.Mutex
	until          time.Time
	idle, absolute time.Duration
}

// endsKept is how long a change of the house rules may take to be followed.
const endsKept = 10 * time.Second

func (e *ends) of(ctx context.Context, a *App) (out struct{ idle, absolute time.Duration }, err error) {
	e.mu.Lock()
	fresh := time.Now().Before(e.until)
	out.idle, out.absolute = e.idle, e.absolute
	e.mu.Unlock()
	if fresh {
		return out, nil
	}
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return out, err
	}
	out.idle, out.absolute = ofHours(rules.SessionIdleHours), ofHours(rules.SessionHours)
	e.mu.Lock()
	defer e.mu.Unlock()
	e.until, e.idle, e.absolute = time.Now().Add(endsKept), out.idle, out.absolute
	return out, nil
}

func ofHours(h float64) time.Duration { return time.Duration(h * float64(time.Hour)) }

// LoginRow is one place where somebody is signed in.
type LoginRow struct {
	ID      string    `json:"id"`
	Name    string    `json:"name"`
	Role    string    `json:"role"`
	Address string    `json:"address"`
	Agent   string    `json:"agent"`
	Proved  bool      `json:"proved"` // the device has a key of its own
	Here    bool      `json:"here"`   // it is the one that asks
	BeganAt time.Time `json:"beganAt"`
	SeenAt  time.Time `json:"seenAt"`
}

// Logins lists where the person is signed in; an administrator sees everybody's.
func (a *App) Logins(ctx context.Context, who Actor) ([]LoginRow, error) {
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return nil, err
	}
	now := a.now()
	rows, err := a.q.OpenLogins(ctx, now.Add(-ofHours(rules.SessionIdleHours)))
	if err != nil {
		return nil, err
	}
	out := []LoginRow{}
	for _, l := range rows {
		if l.PersonID.String() != who.ID && !who.Is(authority.Administrator) ||
			now.Sub(l.BeganAt) > ofHours(rules.SessionHours) {
			continue
		}
		out = append(out, LoginRow{l.ID.String(), l.Name, l.Role, l.Address, l.Agent, l.DeviceKey != "",
			l.ID.String() == who.Login, l.BeganAt, l.SeenAt})
	}
	return out, nil
}

// EndLogin ends a login of one's own, or of anybody for an administrator.
func (a *App) EndLogin(ctx context.Context, who Actor, id string) ([]LoginRow, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return nil, notFound("sign-in", id)
	}
	l, err := a.q.GetLogin(ctx, u)
	if none(err) {
		return nil, notFound("sign-in", id)
	}
	if err != nil {
		return nil, err
	}
	if l.PersonID.String() != who.ID && !who.Is(authority.Administrator) {
		return nil, &Problem{Kind: Forbidden, Title: "This is the sign-in of " + l.Name + ".",
			Remedy: "Ask an administrator to end it."}
	}
	if err := a.endLogin(ctx, id, "ended by "+who.Name); err != nil {
		return nil, err
	}
	return a.Logins(ctx, who)
}
