package app

import (
	"bytes"
	"context"
	"crypto/rand"
	"net/mail"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgtype"

	"dynacor/core/authority"
	"dynacor/core/due"
	"dynacor/core/run"
	"dynacor/internal/notify"
	"dynacor/internal/store"
)

// FeedRow is a calendar that somebody subscribes to. Its address is told once, when it is made.
type FeedRow struct {
	ID     string     `json:"id"`
	Site   bool       `json:"site"` // of the site, not of a person
	MadeBy string     `json:"madeBy"`
	MadeAt time.Time  `json:"madeAt"`
	ReadAt *time.Time `json:"readAt,omitempty"`
	Path   string     `json:"path"` // "" after it was made
}

// mayFeedSite are the roles that make and withdraw calendars of the whole site.
var mayFeedSite = []string{authority.Lead, authority.Engineer}

// mostFeeds of a person, and of the site.
const mostFeeds = 10

// Feeds lists one's own calendars and those of the site.
func (a *App) Feeds(ctx context.Context, who Actor) ([]FeedRow, error) {
	id, err := uuid.Parse(who.ID)
	if err != nil {
		return nil, err
	}
	rows, err := a.q.FeedsOf(ctx, id)
	out := []FeedRow{}
	for _, r := range rows {
		out = append(out, FeedRow{ID: r.ID.String(), Site: r.PersonID == nil, MadeBy: r.MadeBy, MadeAt: r.MadeAt,
			ReadAt: r.ReadAt})
	}
	return out, err
}

// MakeFeed makes a calendar with a secret address. Refused: one of the site by somebody who may not, and too many.
func (a *App) MakeFeed(ctx context.Context, who Actor, site bool) (FeedRow, error) {
	if site && !authority.Covers(who.Role, mayFeedSite...) {
		return FeedRow{}, &Problem{Kind: Forbidden, Title: "A calendar of the site takes a lead or an engineer.",
			Remedy: "Make your own, or ask one of them."}
	}
	have, err := a.Feeds(ctx, who)
	if err != nil {
		return FeedRow{}, err
	}
	have = slices.DeleteFunc(have, func(f FeedRow) bool { return f.Site != site })
	if len(have) >= mostFeeds {
		return FeedRow{}, newProblem(Conflict, "There are %d calendars already.", "Withdraw one that nobody reads.",
			mostFeeds)
	}
	person, err := uuid.Parse(who.ID)
	if err != nil {
		return FeedRow{}, err
	}
	token := rand.Text()
	f := store.InsertFeedParams{ID: uuid.Must(uuid.NewV7()), TokenHash: tokenHash(token), PersonID: &person,
		MadeBy: who.Name, MadeAt: a.now()}
	if site {
		f.PersonID = nil
	}
	return FeedRow{ID: f.ID.String(), Site: site, MadeBy: who.Name, MadeAt: f.MadeAt,
			Path: "/api/calendar/" + token + ".ics"},
		a.q.InsertFeed(ctx, f)
}

// WithdrawFeed ends a calendar: its address gives nothing from then on.
func (a *App) WithdrawFeed(ctx context.Context, who Actor, id string) error {
	feed, err := uuid.Parse(id)
	if err != nil {
		return notFound("calendar", id)
	}
	person, err := uuid.Parse(who.ID)
	if err != nil {
		return err
	}
	n, err := a.q.WithdrawFeed(ctx, store.WithdrawFeedParams{ID: feed, Person: person, At: a.now(),
		Site: authority.Covers(who.Role, mayFeedSite...)})
	if err == nil && n == 0 {
		return notFound("calendar", id)
	}
	return err
}

// Calendar gives what falls due by the secret part of a calendar's address. Nobody is signed in: who has left has none.
func (a *App) Calendar(ctx context.Context, token string) ([]byte, error) {
	gone := &Problem{Kind: NotFound, Title: "There is no such calendar.", Remedy: "Make a new one under Falls due."}
	f, err := a.q.FeedByToken(ctx, tokenHash(strings.TrimSuffix(token, ".ics")))
	if none(err) {
		return nil, gone
	}
	if err != nil {
		return nil, err
	}
	list, err := a.due(ctx)
	if err != nil {
		return nil, err
	}
	site, err := a.Setting(ctx, SettingSite, "Site not named")
	if err != nil {
		return nil, err
	}
	name := site
	if f.PersonID != nil {
		p, err := a.q.GetPerson(ctx, *f.PersonID)
		if err != nil {
			return nil, err
		}
		if !p.Active {
			return nil, gone
		}
		list, name = due.Mine(list, p.ID.String(), p.Role), p.Name+", "+site
	} else {
		list = slices.DeleteFunc(list, func(i due.Item) bool { return i.Person != "" && i.Kind != due.Work })
	}
	now := a.now()
	if err := a.q.FeedRead(ctx, store.FeedReadParams{ID: f.ID, ReadAt: &now}); err != nil {
		return nil, err
	}
	var out bytes.Buffer
	host := strings.ToLower(strings.Join(strings.Fields(site), "-")) + ".dynacor"
	err = notify.WriteFeed(&out, name, host, now, list)
	return out.Bytes(), err
}

// SetEmail says where somebody's mail goes; "" nowhere. Refused: what is no address.
func (a *App) SetEmail(ctx context.Context, who Actor, email string) error {
	id, err := uuid.Parse(who.ID)
	if err != nil {
		return err
	}
	email = strings.TrimSpace(email)
	if at, err := mail.ParseAddress(email); email != "" && (err != nil || at.Address != email || len(email) > 200) {
		return &Problem{Kind: Invalid, Field: "email", Title: "That is no mail address.",
			Remedy: "Write it as name@company.example, or leave it empty."}
	}
	return a.q.SetEmail(ctx, store.SetEmailParams{ID: id, Email: email})
}

// Letter is what somebody is told of in a morning; To is "" when there is nothing to tell.
type Letter struct {
	To, Subject, Body string
}

// LetterFor writes what falls due for somebody.
func (a *App) LetterFor(ctx context.Context, person string) (Letter, error) {
	id, err := uuid.Parse(person)
	if err != nil {
		return Letter{}, err
	}
	p, err := a.q.GetPerson(ctx, id)
	if err != nil {
		return Letter{}, err
	}
	list, err := a.due(ctx)
	if err != nil {
		return Letter{}, err
	}
	site, err := a.Setting(ctx, SettingSite, "Site not named")
	if err != nil {
		return Letter{}, err
	}
	zone, err := a.zone(ctx)
	if err != nil {
		return Letter{}, err
	}
	subject, body, ok := due.Letter(p.Name, site, a.now().In(zone), due.Mine(list, person, p.Role))
	if !ok || !p.Active || p.Email == "" {
		return Letter{}, nil
	}
	return Letter{To: p.Email, Subject: subject, Body: body}, nil
}

// mailFrom is the hour of the site's morning from which mail is sent.
const mailFrom = 5

// ToRemind gives who is to be told today and was not yet, and writes down that they are. now lets them be told whatever
// the hour, and again.
func (a *App) ToRemind(ctx context.Context, now bool) (day string, people []run.Person, err error) {
	zone, err := a.zone(ctx)
	if err != nil {
		return "", nil, err
	}
	at := a.now().In(zone)
	day = at.Format(time.DateOnly)
	if at.Hour() < mailFrom && !now {
		return day, nil, nil
	}
	rows, err := a.q.WithMail(ctx)
	if err != nil {
		return day, nil, err
	}
	for _, r := range rows {
		n, err := a.q.AskReminder(ctx, store.AskReminderParams{Day: dateOf(at), PersonID: r.ID, AskedAt: a.now()})
		if err != nil {
			return day, people, err
		}
		if n > 0 || now {
			people = append(people, run.Person{ID: r.ID.String(), Name: r.Name, Role: r.Role})
		}
	}
	return day, people, nil
}

// Reminded writes down that somebody was told, or that there was nothing to tell.
func (a *App) Reminded(ctx context.Context, day, person string, nothing bool) error {
	id, err := uuid.Parse(person)
	if err != nil {
		return err
	}
	d, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return err
	}
	now := a.now()
	return a.q.ReminderSent(ctx, store.ReminderSentParams{Day: dateOf(d), PersonID: id, SentAt: &now, Nothing: nothing})
}

func dateOf(t time.Time) pgtype.Date {
	return pgtype.Date{Time: time.Date(t.Year(), t.Month(), t.Day(), 0, 0, 0, 0, time.UTC), Valid: true}
}
