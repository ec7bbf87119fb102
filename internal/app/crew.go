package app

import (
	"context"
	"crypto/rand"
	"encoding/csv"
	"fmt"
	"math/big"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgtype"

	"dynacor/core/authority"
	"dynacor/core/procedure"
	"dynacor/core/run"
	"dynacor/core/training"
	"dynacor/internal/identity"
	"dynacor/internal/store"
)

// Training is what a person has been trained for, until when.
type Training struct {
	About string `json:"about"` // tool or family
	Code  string `json:"code"`  // kind of the tool, or code of the family
	Word  string `json:"word"`  // in words
	Until string `json:"until"` // a day; "": for good
	Note  string `json:"note"`
}

// Member is a person as an administrator sees them.
type Member struct {
	ID       string     `json:"id"`
	Name     string     `json:"name"`
	Roles    []string   `json:"roles"`
	Active   bool       `json:"active"`
	Since    time.Time  `json:"since"`
	Retired  *time.Time `json:"retired,omitempty"`
	PINSince time.Time  `json:"pinSince"`
	// the PIN was given by somebody else and is good for one sign-in, until then
	OnceUntil *time.Time `json:"onceUntil,omitempty"`
	Training  []Training `json:"training"`
	Logins    []LoginRow `json:"logins"`
}

// Crew is everybody, with what can be trained for.
type Crew struct {
	Members  []Member   `json:"members"`
	Roles    []string   `json:"roles"`
	Subjects []Training `json:"subjects"`
}

// Given is a PIN that an administrator passes on: shown once, good for one sign-in.
type Given struct {
	Name  string    `json:"name"`
	PIN   string    `json:"pin"`
	Until time.Time `json:"until"`
}

// onceFor is how long a PIN that was given by somebody else can be used.
const onceFor = 24 * time.Hour

// Crew lists everybody, retired people too.
func (a *App) Crew(ctx context.Context, who Actor) (Crew, error) {
	c := Crew{Members: []Member{}, Roles: authority.Roles, Subjects: subjects()}
	rows, err := a.q.EveryPerson(ctx)
	if err != nil {
		return c, err
	}
	trained, err := a.q.ListTraining(ctx)
	if err != nil {
		return c, err
	}
	logins, err := a.Logins(ctx, who)
	if err != nil {
		return c, err
	}
	named, err := skills(ctx, a.q)
	if err != nil {
		return c, err
	}
	for _, s := range named {
		c.Subjects = append(c.Subjects, Training{About: string(training.Skill), Code: s, Word: s})
	}
	words := map[string]string{}
	for _, s := range c.Subjects {
		words[s.About+" "+s.Code] = s.Word
	}
	for _, r := range rows {
		m := Member{ID: r.ID.String(), Name: r.Name, Roles: authority.Held(r.Role), Active: r.Active, Since: r.Since,
			Retired: r.RetiredAt, PINSince: r.PinSetAt, OnceUntil: r.PinOnceUntil, Training: []Training{},
			Logins: []LoginRow{}}
		for _, t := range trained {
			if t.PersonID != r.ID {
				continue
			}
			x := Training{About: t.About, Code: t.Code, Word: words[t.About+" "+t.Code], Note: t.Note}
			if t.Until.Valid {
				x.Until = t.Until.Time.Format(time.DateOnly)
			}
			m.Training = append(m.Training, x)
		}
		for _, l := range logins {
			if l.Name == r.Name {
				m.Logins = append(m.Logins, l)
			}
		}
		c.Members = append(c.Members, m)
	}
	return c, nil
}

// subjects lists what can be trained for: kinds of tool that take skill, and the families.
func subjects() []Training {
	var out []Training
	for _, k := range training.Kinds() {
		out = append(out, Training{About: string(k.About), Code: k.Code, Word: k.Word})
	}
	for _, f := range procedure.Builtin() {
		out = append(out, Training{About: "family", Code: f.Code, Word: strings.ToLower(f.Name)})
	}
	return out
}

// givePIN makes a PIN that nobody would try first.
func givePIN() (string, error) {
	for {
		n, err := rand.Int(rand.Reader, big.NewInt(1_000_000))
		if err != nil {
			return "", err
		}
		if pin := fmt.Sprintf("%06d", n); identity.Check(pin) == nil {
			return pin, nil
		}
	}
}

func insertPerson(ctx context.Context, q *store.Queries, p run.Person, hash string) (string, error) {
	id := uuid.Must(uuid.NewV7())
	return id.String(), q.InsertPerson(ctx, store.InsertPersonParams{ID: id, Name: p.Name, Role: p.Role, PinHash: hash})
}

// NewMember is a person to be added.
type NewMember struct {
	Name  string   `json:"name"`
	Roles []string `json:"roles"`
}

// AddMembers adds people, all or none, and gives each a PIN for their first sign-in.
func (a *App) AddMembers(ctx context.Context, list []NewMember) ([]Given, error) {
	out := []Given{}
	now := a.now().UTC()
	err := a.tx(ctx, func(q *store.Queries) error {
		for i, m := range list {
			field := func(err error) error {
				if p, ok := AsProblem(err); ok && len(list) > 1 {
					return &Problem{
						Kind:   p.Kind,
						Title:  fmt.Sprintf("Line %d: %s", i+1, p.Title),
						Field:  p.Field,
						Remedy: p.Remedy,
					}
				}
				return err
			}
			role, err := roleLine(strings.Join(m.Roles, ","))
			if err != nil {
				return field(err)
			}
			name := strings.TrimSpace(m.Name)
			if name == "" || len(name) > 80 {
				return field(&Problem{Kind: Invalid, Title: "A name has 1 to 80 characters.", Field: "name",
					Remedy: "Write it as it is to stand on records."})
			}
			if _, err := q.PersonByName(ctx, name); err == nil {
				return field(&Problem{Kind: Conflict, Title: "There is a " + name + " already.", Field: "name",
					Remedy: "Add what tells the two apart; a name on a record is one person."})
			} else if !none(err) {
				return err
			}
			g, err := give(ctx, q, a.hasher, name, now, func(hash string) (uuid.UUID, error) {
				id, err := insertPerson(ctx, q, run.Person{Name: name, Role: role}, hash)
				return uuid.MustParse(id), err
			})
			if err != nil {
				return err
			}
			out = append(out, g)
		}
		return nil
	})
	return out, err
}

// give sets a PIN for one sign-in on the person that put makes or finds.
func give(ctx context.Context, q *store.Queries, hasher identity.Hasher, name string, now time.Time,
	put func(hash string) (uuid.UUID, error)) (Given, error) {
	pin, err := givePIN()
	if err != nil {
		return Given{}, err
	}
	hash, err := hasher.Hash(pin)
	if err != nil {
		return Given{}, err
	}
	id, err := put(hash)
	if err != nil {
		return Given{}, err
	}
	until := now.Add(onceFor)
	return Given{Name: name, PIN: pin, Until: until}, q.GivePINOnce(ctx, store.GivePINOnceParams{ID: id, PinHash: hash,
		PinSetAt: now, PinOnceUntil: &until})
}

// mostMembers is how many people one list may add.
const mostMembers = 500

// ReadMembers reads a list of people: a name and roles a line, with a comma, semicolon or tab between; several roles
// with a plus or a stroke. A first line of headings is passed over.
func ReadMembers(text string) ([]NewMember, error) {
	r := csv.NewReader(strings.NewReader(text))
	r.FieldsPerRecord, r.TrimLeadingSpace, r.LazyQuotes = -1, true, true
	if first, _, _ := strings.Cut(text, "\n"); strings.Contains(first, ";") {
		r.Comma = ';'
	} else if strings.Contains(first, "\t") {
		r.Comma = '\t'
	}
	rows, err := r.ReadAll()
	if err != nil {
		return nil, &Problem{Kind: Invalid, Field: "list", Title: "The list was not read: " + err.Error() + ".",
			Remedy: "Write a name and a role a line, with a comma between."}
	}
	var out []NewMember
	for i, row := range rows {
		if i == 0 && strings.EqualFold(strings.TrimSpace(row[0]), "name") {
			continue
		}
		m := NewMember{Name: row[0]}
		for _, cell := range row[1:] {
			for _, x := range strings.FieldsFunc(cell, func(c rune) bool { return c == '+' || c == '/' || c == ',' }) {
				if x = strings.ToLower(strings.TrimSpace(x)); x != "" {
					m.Roles = append(m.Roles, x)
				}
			}
		}
		out = append(out, m)
	}
	if len(out) == 0 || len(out) > mostMembers {
		return nil, &Problem{Kind: Invalid, Field: "list", Title: fmt.Sprintf("The list has %d people.", len(out)),
			Remedy: fmt.Sprintf("Give one at least, %d at most.", mostMembers)}
	}
	return out, nil
}

// MemberChange is what an administrator changes of a person; what is left out stays.
type MemberChange struct {
	Roles    []string  `json:"roles,omitempty"`
	Active   *bool     `json:"active,omitempty"`
	Training *Training `json:"training,omitempty"` // put, or renewed
	Untrain  *Training `json:"untrain,omitempty"`
}

// ChangeMember changes roles, leave to sign in, or training. The last administrator stays one.
func (a *App) ChangeMember(ctx context.Context, id string, c MemberChange) error {
	p, err := a.member(ctx, id)
	if err != nil {
		return err
	}
	if err := a.lastAdministrator(ctx, p, c); err != nil {
		return err
	}
	if c.Roles != nil {
		if err := a.SetRole(ctx, p.Name, strings.Join(c.Roles, ",")); err != nil {
			return err
		}
	}
	if c.Active != nil && *c.Active != p.Active {
		change := a.RetirePerson
		if *c.Active {
			change = a.ReturnPerson
		}
		if err := change(ctx, p.Name); err != nil {
			return err
		}
	}
	if t := c.Untrain; t != nil {
		if err := a.q.DropTraining(
			ctx,
			store.DropTrainingParams{PersonID: p.ID, About: t.About, Code: t.Code},
		); err != nil {
			return err
		}
	}
	return a.train(ctx, p.ID, c.Training)
}

// lastAdministrator refuses a change after which nobody would be one.
func (a *App) lastAdministrator(ctx context.Context, p store.Person, c MemberChange) error {
	out := c.Roles != nil && !slices.Contains(c.Roles, authority.Administrator) || c.Active != nil && !*c.Active
	if out && slices.Contains(authority.Held(p.Role), authority.Administrator) {
		list, err := a.People(ctx)
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(
			list,
			func(o run.Person) bool { return o.ID != p.ID.String() && o.Is(authority.Administrator) },
		) {
			return &Problem{Kind: Conflict, Field: "roles", Title: p.Name + " is the last administrator.",
				Remedy: "Make somebody else one first."}
		}
	}
	return nil
}

// named takes a skill by its name: as it is spelt where somebody has it already.
func (a *App) named(ctx context.Context, t *Training) error {
	t.Code = strings.Join(strings.Fields(t.Code), " ")
	if n := utf8.RuneCountInString(t.Code); n == 0 || n > training.MostSkill {
		return &Problem{Kind: Invalid, Field: "training.code", Title: "The skill has no name, or too long a one.",
			Remedy: fmt.Sprintf("Name it in up to %d letters, as in confined spaces.", training.MostSkill)}
	}
	there, err := skills(ctx, a.q)
	for _, s := range there {
		if strings.EqualFold(s, t.Code) {
			t.Code = s
		}
	}
	return err
}

func (a *App) train(ctx context.Context, person uuid.UUID, t *Training) error {
	if t == nil {
		return nil
	}
	if training.About(t.About) == training.Skill {
		if err := a.named(ctx, t); err != nil {
			return err
		}
	} else if !slices.ContainsFunc(subjects(), func(s Training) bool { return s.About == t.About && s.Code == t.Code }) {
		return &Problem{
			Kind:   Invalid,
			Field:  "training",
			Title:  fmt.Sprintf("%q is nothing to be trained for.", t.Code),
			Remedy: "Choose a kind of tool or a family, or name another skill.",
		}
	}
	var until pgtype.Date
	if t.Until != "" {
		d, err := time.Parse(time.DateOnly, t.Until)
		if err != nil {
			return &Problem{Kind: Invalid, Field: "training.until", Title: fmt.Sprintf("%q is not a day.", t.Until),
				Remedy: "Write it as 2027-03-31."}
		}
		until = pgtype.Date{Time: d, Valid: true}
	}
	return a.q.PutTraining(ctx, store.PutTrainingParams{PersonID: person, About: t.About, Code: t.Code, Until: until,
		Note: clipTo(strings.TrimSpace(t.Note), 200)})
}

// NewPIN gives a person a PIN for one sign-in. What they were signed in with ends.
func (a *App) NewPIN(ctx context.Context, id string) (Given, error) {
	p, err := a.member(ctx, id)
	if err != nil {
		return Given{}, err
	}
	var g Given
	err = a.onPerson(ctx, p.Name, "new PIN", func(q *store.Queries, p store.Person, now time.Time) error {
		if err := q.ForgetPINFailures(ctx, store.ForgetPINFailuresParams{PersonID: p.ID,
			Before: now.Add(-failureWindow)}); err != nil {
			return err
		}
		g, err = give(ctx, q, a.hasher, p.Name, now, func(string) (uuid.UUID, error) { return p.ID, nil })
		return err
	})
	return g, err
}

func (a *App) member(ctx context.Context, id string) (store.Person, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return store.Person{}, notFound("person", id)
	}
	p, err := a.q.GetPerson(ctx, u)
	if none(err) {
		return p, notFound("person", id)
	}
	return p, err
}
