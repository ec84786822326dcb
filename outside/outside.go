// Package outside holds the stand-ins for the world around Uvent: directories
// with their interfaces and public pages, the post, phones, mailboxes, and the
// clock. It is a server of its own and speaks HTTP and SMTP alone.
package outside

import (
	"context"
	_ "embed"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
)

//go:embed schema.sql
var schemaSQL string

// schema is where the stand-ins keep their tables, away from anybody else's.
const schema = "outside"

// Outside is the stand-ins' server.
type Outside struct {
	pool *pgxpool.Pool
	mail *mailer
	log  *slog.Logger
	// moving keeps what falls due in its order: one at a time.
	moving   sync.Mutex
	stumbled sync.Map // requests that have failed once
}

// Open connects to a database and makes the stand-ins' tables in a schema of
// their own. The clock of a new world starts at start and stands still while
// the outside is down, or runs with the real one when start is zero. mailAddr
// is where the mailboxes' SMTP server listens; 127.0.0.1:0 for any free port.
func Open(ctx context.Context, databaseURL, mailAddr string, start time.Time, log *slog.Logger) (*Outside, error) {
	config, err := pgxpool.ParseConfig(databaseURL)
	if err != nil {
		return nil, err
	}
	config.ConnConfig.RuntimeParams["search_path"] = schema
	pool, err := pgxpool.NewWithConfig(ctx, config)
	if err != nil {
		return nil, err
	}
	o := &Outside{pool: pool, log: log}
	ahead := int64(0)
	if !start.IsZero() {
		ahead = time.Until(start).Microseconds()
	}
	err = pgx.BeginFunc(ctx, pool, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "create schema if not exists "+schema); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, schemaSQL); err != nil {
			return err
		}
		now := time.Now()
		begun, err := tx.Exec(ctx, "insert into clock (ahead, demo, seen) values ($1, $2, $3) on conflict do nothing",
			ahead, !start.IsZero(), now.Add(time.Duration(ahead)*time.Microsecond))
		if err == nil && begun.RowsAffected() == 0 {
			err = resumeClock(ctx, tx, now)
		}
		return err
	})
	if err == nil {
		o.mail, err = startMail(mailAddr, o)
	}
	if err != nil {
		pool.Close()
		return nil, fmt.Errorf("the outside's database: %w", err)
	}
	return o, nil
}

// Drop removes the stand-ins' world from a database.
func Drop(ctx context.Context, databaseURL string) error {
	c, err := pgx.Connect(ctx, databaseURL)
	if err != nil {
		return err
	}
	defer c.Close(context.WithoutCancel(ctx))
	_, err = c.Exec(ctx, "drop schema if exists "+schema+" cascade")
	return err
}

// Close ends the mail server and the connections.
func (o *Outside) Close() {
	o.mail.close()
	o.pool.Close()
}

// Run does what falls due as the clock runs, until the context ends.
func (o *Outside) Run(ctx context.Context) {
	for {
		if err := errors.Join(o.catchUp(ctx), o.markClock(ctx)); err != nil && ctx.Err() == nil {
			o.log.Error("what was due could not be done", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(250 * time.Millisecond):
		}
	}
}

// Handler serves the stand-ins' pages and interfaces.
func (o *Outside) Handler() http.Handler {
	mux := http.NewServeMux()
	o.clockRoutes(mux)
	o.worldRoutes(mux)
	o.siteRoutes(mux)
	for i := range directories {
		o.directoryRoutes(mux, &directories[i])
	}
	return mux
}

func (o *Outside) tx(ctx context.Context, f func(tx pgx.Tx) error) error {
	return pgx.BeginFunc(ctx, o.pool, f)
}
