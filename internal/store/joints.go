package store

import (
	"context"
	"fmt"
	"strings"

	"github.com/jackc/pgx/v5"
)

// JointFilter narrows and orders the register. Empty fields do not narrow, but what is retired is
// found only by its glyph; Like is a LIKE pattern without its outer
// wildcards.
type JointFilter struct {
	Like, Area, Glyph, Package string
	Sort                       string // a key of jointOrders
	Limit, Offset              int
}

// jointOrders are the orders there are indexes for.
var jointOrders = map[string]string{"tag": "tag", "-tag": "tag desc", "area": "area, tag", "make": "make, tag",
	"station": "glyph, updated_at desc, tag", "-updated": "updated_at desc, tag"}

// JointPage reads a page of the register and counts what the filter finds. Written by hand: one statement for every
// order would keep the database from using the index of any.
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
	// kept as joints come: counting all of them, or those of an area, takes longer than the page may
	kept := len(where) == 0 || len(where) == 1 && f.Area != ""
	if f.Glyph == "" {
		where = append(where, "glyph <> 'retired'")
	}
	cond := ""
	if len(where) > 0 {
		cond = " where " + strings.Join(where, " and ")
	}
	order, ok := jointOrders[f.Sort]
	if !ok {
		order = jointOrders["tag"]
	}
	page := fmt.Sprintf(" from joints%s order by %s limit %d offset %d", cond, order, f.Limit, f.Offset)
	if f.Like != "" && f.Offset == 0 { // one look through the texts finds and counts
		type counted struct {
			Joint
			Total int
		}
		list, err := readAll[counted](ctx, q, "select *, (count(*) over ())::int"+page, args...)
		for _, r := range list {
			rows, total = append(rows, r.Joint), r.Total
		}
		return rows, total, err
	}
	count := "select count(*)::int from joints" + cond
	if kept {
		count = "select coalesce(sum(total), 0)::int from area_totals"
		if f.Area != "" {
			count += " where area = $1"
		}
	}
	if err := q.db.QueryRow(ctx, count, args...).Scan(&total); err != nil {
		return nil, 0, fmt.Errorf("counting joints: %w", err)
	}
	rows, err = readAll[Joint](ctx, q, "select *"+page, args...)
	return rows, total, err
}

func readAll[T any](ctx context.Context, q *Queries, sql string, args ...any) ([]T, error) {
	found, err := q.db.Query(ctx, sql, args...)
	if err != nil {
		return nil, fmt.Errorf("reading joints: %w", err)
	}
	rows, err := pgx.CollectRows(found, pgx.RowToStructByPos[T])
	if err != nil {
		return nil, fmt.Errorf("reading joints: %w", err)
	}
	return rows, nil
}
