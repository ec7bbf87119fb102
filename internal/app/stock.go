package app

import (
	"context"
	"math"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgtype"

	"dynacor/core/due"
	"dynacor/core/stock"
	"dynacor/internal/store"
)

// StockLine is what is there of something in one place.
type StockLine struct {
	ID       string    `json:"id"`
	Kind     string    `json:"kind"` // part, spare, supply, lubricant
	What     string    `json:"what"` // as a need is called
	Quantity float64   `json:"quantity"`
	Place    string    `json:"place"`
	UseBy    string    `json:"useBy"` // a day; "": it does not go off
	By       string    `json:"by"`
	At       time.Time `json:"at"`
}

var stockKinds = []string{"part", "spare", "supply", "lubricant"}

// Stock lists what is there.
func (a *App) Stock(ctx context.Context) ([]StockLine, error) {
	rows, err := a.q.ListStock(ctx)
	out := []StockLine{}
	for _, r := range rows {
		l := StockLine{ID: r.ID.String(), Kind: r.Kind, What: r.What, Quantity: r.Quantity, Place: r.Place,
			By: r.ChangedBy, At: r.ChangedAt}
		if r.UseBy.Valid {
			l.UseBy = r.UseBy.Time.Format(time.DateOnly)
		}
		out = append(out, l)
	}
	return out, err
}

// PutStock enters a line or changes it. Refused, by field: what is no quantity, no day, or has no name.
func (a *App) PutStock(ctx context.Context, who Actor, l StockLine) ([]StockLine, error) {
	id, err := uuid.Parse(l.ID)
	if err != nil {
		return nil, &Problem{Kind: Invalid, Field: "id", Title: "The line has no identifier.",
			Remedy: "Send it with one."}
	}
	l.What, l.Place = strings.TrimSpace(l.What), strings.TrimSpace(l.Place)
	switch {
	case !slices.Contains(stockKinds, l.Kind):
		return nil, &Problem{Kind: Invalid, Field: "kind", Title: "That is no kind of stock.",
			Remedy: "Choose of " + strings.Join(stockKinds, ", ") + "."}
	case l.What == "" || utf8.RuneCountInString(l.What) > 200 || utf8.RuneCountInString(l.Place) > 200:
		return nil, &Problem{Kind: Invalid, Field: "what",
			Title:  "What it is has 1 to 200 letters, and so has its place.",
			Remedy: "Call it as the list of needs does."}
	case math.IsNaN(l.Quantity) || l.Quantity < 0 || l.Quantity > 1e7:
		return nil, &Problem{Kind: Invalid, Field: "quantity", Title: "That is no quantity.", Remedy: "0 or more."}
	}
	var useBy pgtype.Date
	if l.UseBy != "" {
		d, err := time.Parse(time.DateOnly, l.UseBy)
		if err != nil {
			return nil, &Problem{Kind: Invalid, Field: "useBy", Title: "That is no day.",
				Remedy: "Write it as 2027-03-31."}
		}
		useBy = pgtype.Date{Time: d, Valid: true}
	}
	if err := a.q.PutStock(ctx, store.PutStockParams{ID: id, Kind: l.Kind, What: l.What, Quantity: l.Quantity,
		Place: l.Place, UseBy: useBy, ChangedBy: who.Name, ChangedAt: a.now()}); err != nil {
		return nil, err
	}
	return a.Stock(ctx)
}

// DropStock takes a line out.
func (a *App) DropStock(ctx context.Context, id string) ([]StockLine, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return nil, notFound("line of stock", id)
	}
	n, err := a.q.DropStock(ctx, u)
	if err != nil {
		return nil, err
	}
	if n == 0 {
		return nil, notFound("line of stock", id)
	}
	return a.Stock(ctx)
}

// cover holds needs against what is there. Joints are served in the order of their tags.
func (a *App) cover(ctx context.Context, list []Need) error {
	have, err := a.Stock(ctx)
	if err != nil {
		return err
	}
	day, err := a.siteDay(ctx)
	if err != nil {
		return err
	}
	for i := range list {
		n := &list[i]
		var lines []stock.Line
		for _, l := range have {
			if l.Kind != n.Kind || l.What != n.What {
				continue
			}
			lines = append(lines, stock.Line{Quantity: l.Quantity, UseBy: l.UseBy})
			place := text(l.Quantity)
			if l.Place != "" {
				place += " in " + l.Place
			}
			if l.UseBy != "" {
				place += ", use by " + l.UseBy
			}
			n.Places = append(n.Places, place)
		}
		c := stock.Covers(n.takes, lines, day)
		n.Have, n.Short = c.Have, c.Short
		if n.Kind != "spare" { // work begins without one
			n.Stops = append(n.Stops, c.Stops...)
		}
	}
	return nil
}

// stock tells what is to be used by when.
func (g *dueGather) stock(ctx context.Context) error {
	list, err := g.a.Stock(ctx)
	for _, l := range list {
		if l.UseBy == "" || l.Quantity == 0 {
			continue
		}
		says := l.What + ": use by then"
		if l.Place != "" {
			says = l.What + " in " + l.Place + ": use by then"
		}
		g.day(due.Item{Kind: due.UseBy, Key: l.ID, Says: says}, l.UseBy)
	}
	return err
}
