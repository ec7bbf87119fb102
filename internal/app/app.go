// Package app holds the use cases of Dynacor. It is the only room that opens transactions; it asks core for every
// judgement and store for every row.
package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/identity"
	"dynacor/internal/keys"
	"dynacor/internal/notify"
	"dynacor/internal/store"
)

// App carries out the use cases on one database.
type App struct {
	pool   *pgxpool.Pool
	q      *store.Queries
	hasher identity.Hasher
	now    func() time.Time
	kept   *kept
	sheets sheets
	told   func(topic, kind string, data any)

	key   *keys.Key // nil: nothing can be sealed here
	lanes *lanes

	recorder *recorder
	ends     ends
	queue    Queue // nil: nothing is made in the background here
	hand     *movesHeld

	mailer     notify.Mailer
	background Background // nil: none

	unprovedDevices bool
}

// Tell sets whom to tell of what was just kept, so that open pages look again.
func (a *App) Tell(f func(topic, kind string, data any)) { a.told = f }

func (a *App) tell(topic, kind string, data any) {
	if a.told != nil {
		a.told(topic, kind, data)
	}
}

// New makes an App; now is the clock, nil for the real one.
func New(pool *pgxpool.Pool, hasher identity.Hasher, now func() time.Time) *App {
	if now == nil {
		now = time.Now
	}
	return &App{pool: pool, q: store.New(pool), hasher: hasher, now: now, kept: newKept(), lanes: newLanes(),
		recorder: newRecorder(), hand: &movesHeld{of: map[string]*moving{}}}
}

// At gives the same App with a clock that stands still.
func (a *App) At(t time.Time) *App {
	past := New(a.pool, a.hasher, func() time.Time { return t })
	past.key, past.told = a.key, a.told
	return past
}

// LetInUnprovedDevices takes events that no device has signed, as they come over a connection without TLS, where
// devices can have no keys. They are marked in run, record and certificate.
func (a *App) LetInUnprovedDevices() { a.unprovedDevices = true }

// Actor is the person at work and the device in hand.
type Actor struct {
	run.Person
	Device  string // the key that the device proved at sign-in; "": it has none
	Login   string // the sign-in; "" from within the program
	Address string // where the request came from
	// who gives leave to what is asked, by a PIN that came with it; nobody: it came without
	Leave run.Person
}

// needs refuses an actor whose role may not do an act; what names it in words.
func (a Actor) needs(what string, act authority.Act) error {
	if a.May(act) {
		return nil
	}
	return newProblem(Forbidden, "A %s may not %s.",
		fmt.Sprintf("Ask someone who is %s.", authority.AnyOf(authority.RolesFor(act))), a.Role, what)
}

// leave gives the person whose PIN lets an act be done; what names it in words. A sign-in alone is no leave: a device
// passes from hand to hand. What is done from within the program is by its actor's leave.
func (a Actor) leave(what string, act authority.Act) (run.Person, error) {
	by := a.Leave
	if by.ID == "" && a.Login == "" {
		by = a.Person
	}
	roles := authority.AnyOf(authority.RolesFor(act))
	if by.ID == "" {
		return by, &Problem{
			Kind:   Forbidden,
			Field:  ConsentField,
			Title:  "It takes the PIN of somebody who may " + what + ".",
			Remedy: "Ask someone who is " + roles + ".",
		}
	}
	if !by.May(act) {
		return by, &Problem{
			Kind:  Forbidden,
			Field: ConsentField,
			Title: fmt.Sprintf(
				"%s, %s, may not %s.",
				by.Name,
				by.Role,
				what,
			),
			Remedy: "Ask someone who is " + roles + ".",
		}
	}
	return by, nil
}

// ConsentField names in a refusal that somebody's PIN is wanted, or was wrong.
const ConsentField = "consent"

// tx runs f in one transaction. It holds a connection meanwhile: f asks q alone, and nothing that would ask the pool
// for a second one. As many such as there are connections would wait for each other for ever.
func (a *App) tx(ctx context.Context, f func(q *store.Queries) error) error {
	return pgx.BeginFunc(ctx, a.pool, func(t pgx.Tx) error { return f(a.q.WithTx(t)) })
}

func decode[T any](text string) (T, error) {
	var v T
	if err := json.Unmarshal([]byte(text), &v); err != nil {
		return v, fmt.Errorf("app: stored %T: %w", v, err)
	}
	return v, nil
}

func encode(v any) (string, error) {
	b, err := json.Marshal(v)
	if err != nil {
		return "", fmt.Errorf("app: %w", err)
	}
	return string(b), nil
}

// none reports that a row was not there.
func none(err error) bool { return errors.Is(err, pgx.ErrNoRows) }

// Setting reads a setting of the installation, def when it was never set.
func (a *App) Setting(ctx context.Context, key, def string) (string, error) {
	return setting(ctx, a.q, key, def)
}

func setting(ctx context.Context, q *store.Queries, key, def string) (string, error) {
	v, err := q.GetSetting(ctx, key)
	if none(err) {
		return def, nil
	}
	return v, err
}

// Settings of an installation.
const (
	SettingSite     = "site"      // name printed on records
	SettingSiteCode = "site_code" // first letters of record numbers
	SettingDemo     = "demo"      // the sign-ins shown on the sign-in page, for a demo only

	// when devices began to have keys here: what was made before is taken unsigned
	settingKeysSince = "device_keys_since"

	settingReady = "ready" // when it was last found that something can be written
)

// PutSetting sets it.
func (a *App) PutSetting(ctx context.Context, key, value string) error {
	return a.q.PutSetting(ctx, store.PutSettingParams{Key: key, Value: value})
}

// houseRules gives the rules in force; an installation begins with the cautious defaults.
func houseRules(ctx context.Context, q *store.Queries) (plan.HouseRules, error) {
	row, err := q.LatestHouseRules(ctx)
	if none(err) {
		return plan.DefaultHouseRules(), nil
	}
	if err != nil {
		return plan.HouseRules{}, err
	}
	return plan.ReadHouseRules([]byte(row.Data))
}

// crib gives every tool as it stands now, with the pulls since its calibration where they are counted.
func crib(ctx context.Context, q *store.Queries) ([]tool.Tool, error) {
	rows, err := q.ListTools(ctx)
	if err != nil {
		return nil, err
	}
	out := []tool.Tool{}
	for _, r := range rows {
		t, err := present(ctx, q, r.Data)
		if err != nil {
			return nil, err
		}
		out = append(out, t)
	}
	return out, nil
}

// present reads a tool and counts its pulls when it is calibrated by their number.
func present(ctx context.Context, q *store.Queries, data string) (tool.Tool, error) {
	t, err := decode[tool.Tool](data)
	if err != nil || t.CycleLimit == 0 {
		return t, err
	}
	since, err := time.Parse(time.DateOnly, string(t.CalibratedOn))
	if err != nil {
		return t, nil
	}
	n, err := q.CountPulls(ctx, store.CountPullsParams{Tag: t.Tag, Since: since})
	t.Cycles += int(n)
	return t, err
}

// Prepare makes what an installation cannot be without: house rules.
func (a *App) Prepare(ctx context.Context) error {
	data, err := encode(plan.DefaultHouseRules())
	if err != nil {
		return err
	}
	_, err = a.q.InsertHouseRules(ctx, store.InsertHouseRulesParams{Version: 1, Data: data, MadeBy: "as delivered"})
	return err
}

// UseKey sets the key that records are sealed with. Refused: one that is not among the site's keys, or not any more.
func (a *App) UseKey(ctx context.Context, k keys.Key) error {
	if err := inUse(ctx, a.q, k); err != nil {
		return err
	}
	a.key = &k
	return nil
}

// inUse refuses a key that is not among the site's keys, or not any more.
func inUse(ctx context.Context, q *store.Queries, k keys.Key) error {
	rows, err := q.ListKeys(ctx)
	if err != nil {
		return err
	}
	for _, r := range rows {
		if r.ID != k.ID() {
			continue
		}
		if r.ValidUntil != nil || r.RevokedFrom != nil {
			return fmt.Errorf("the signing key %s is out of use: make another with dynacor key rotate", r.ID)
		}
		return nil
	}
	return fmt.Errorf("the signing key %s is not one of this site's: add it with dynacor migrate --key", k.ID())
}

// signing gives the key to sign with now. Refused: a server without one, and one whose key went out of use while it
// ran.
func (a *App) signing(ctx context.Context, q *store.Queries) (*keys.Key, error) {
	if a.key == nil {
		return nil, &Problem{Kind: Unavailable, Title: "This server has no signing key.",
			Remedy: "Ask whoever looks after it to start it with --key. Nothing was lost."}
	}
	if err := inUse(ctx, q, *a.key); err != nil {
		if store.Unavailable(err) {
			return nil, err
		}
		return nil, &Problem{Kind: Unavailable, Title: capital(err.Error()) + ".",
			Remedy: "Ask whoever looks after the server to start it anew with the key in use. Nothing was lost."}
	}
	return a.key, nil
}

// Ready says why no work can be taken: the schema is of another version, or nothing can be written. nil: it can.
func (a *App) Ready(ctx context.Context) error {
	if err := store.Current(ctx, a.pool); err != nil {
		return err
	}
	if err := a.PutSetting(ctx, settingReady, a.now().UTC().Format(time.RFC3339)); err != nil {
		return fmt.Errorf("nothing can be written: %w", err)
	}
	if err := store.Room(ctx, a.pool); err != nil { // a row that is written over needs no room; the next event does
		return fmt.Errorf("there is no room: %w", err)
	}
	return nil
}
