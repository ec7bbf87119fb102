package store

import (
	"context"

	"github.com/jackc/pgx/v5"
)

type actorKey struct{}

// WithActor names whoever asks, for the audit log: what is changed with this context is written down under that name.
func WithActor(ctx context.Context, who string) context.Context {
	return context.WithValue(ctx, actorKey{}, who)
}

// nameActor tells a connection who it works for before it is handed out; a connection that worked for somebody else is
// told anew.
func nameActor(ctx context.Context, c *pgx.Conn) (bool, error) {
	who, _ := ctx.Value(actorKey{}).(string)
	data := c.PgConn().CustomData()
	if was, _ := data["actor"].(string); was == who {
		return true, nil
	}
	if _, err := c.Exec(ctx, "select set_config('dynacor.actor', $1, false)", who); err != nil {
		return false, nil // the connection is thrown away, another is taken
	}
	data["actor"] = who
	return true, nil
}
