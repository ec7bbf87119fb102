package store

import (
	"context"
	"fmt"
	"strings"

	"github.com/jackc/pgx/v5"
)

// JointFilter narrows and orders the register. Empty fields do not narrow; Like is a LIKE pattern without its outer wildcards.
type JointFilter struct {
	Like, Area, Glyph, Package string
	Sort                       string // a key of jointOrders
	Limit, Offset              int
}

// jointOrders are the orders there are indexes for.
var jointOrders = map[string]string{"tag": "tag", "-tag": "tag desc", "area": "area, tag", "make": "make, tag", "station": "glyph, updated_at desc, tag", "-updated": "updated_at desc, tag"}

// JointPage reads a page of the register and counts what the filter finds. Written by hand: one statement for every order would
// keep the database from using the index of any.
func (q *Queries) JointPage(ctx context.Context, f JointFilter) (rows []Joint, total int, err error) {
	var where []string
	var args []any
	add := func(cond string, v string) {
		if v != "" {
			args = append(args, v)
			where = append(where, fmt.Sprintf(cond, len(args)))
		}
	}
	if f.Like != "" {
		f.Like = "%" + f.Like + "%"
	}
	add("search like $%d", f.Like)
	add("area = $%d", f.Area)
	add("glyph = $%d", f.Glyph)
	add("package = $%d", f.Package)
	cond := ""
	if len(where) > 0 {
		cond = " where " + strings.Join(where, " and ")
	}
	order, ok := jointOrders[f.Sort]
	if !ok {
		order = jointOrders["tag"]
	}
	if err := q.db.QueryRow(ctx, "select count(*) from joints"+cond, args...).Scan(&total); err != nil {
		return nil, 0, fmt.Errorf("counting joints: %w", err)
	}
	found, err := q.db.Query(ctx, fmt.Sprintf("select * from joints%s order by %s limit %d offset %d", cond, order, f.Limit, f.Offset), args...)
	if err != nil {
		return nil, 0, fmt.Errorf("reading joints: %w", err)
	}
	rows, err = pgx.CollectRows(found, pgx.RowToStructByPos[Joint])
	if err != nil {
		return nil, 0, fmt.Errorf("reading joints: %w", err)
	}
	return rows, total, nil
}
