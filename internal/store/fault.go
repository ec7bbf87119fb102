package store

import (
	"context"
	"errors"
	"net"
	"strings"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/puddle/v2"
)

// Unavailable reports whether an error says that the database could not take a request just now, so that the same
// request may succeed later: it does not answer, is starting or stopping, is out of connections, memory or disk, or
// gave up waiting.
func Unavailable(err error) bool {
	if errors.Is(err, context.DeadlineExceeded) || errors.Is(err, context.Canceled) {
		return true
	}
	var pg *pgconn.PgError
	if errors.As(err, &pg) {
		switch {
		case strings.HasPrefix(pg.Code, "08"), // connection
			strings.HasPrefix(pg.Code, "40"), // rolled back: serialization, deadlock
			strings.HasPrefix(pg.Code, "53"), // out of disk, memory, connections
			strings.HasPrefix(pg.Code, "57"), // stopped by the operator, starting, statement timeout
			strings.HasPrefix(pg.Code, "58"), // its own system fails
			pg.Code == "25P03",               // idle in transaction for too long
			pg.Code == "25006",               // read only: a standby
			pg.Code == "55P03":               // lock not to be had in time
			return true
		}
		return false
	}
	var connect *pgconn.ConnectError
	var network net.Error
	return errors.As(err, &connect) || errors.As(err, &network) || pgconn.Timeout(err) || pgconn.SafeToRetry(err) ||
		errors.Is(err, net.ErrClosed) || errors.Is(err, puddle.ErrClosedPool)
}

// Unique reports whether an error says that such a row is there already.
func Unique(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.Code == "23505"
}
