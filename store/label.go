package store

import (
	"context"
	"errors"

	"github.com/jackc/pgx/v5"
)

// Label is what a database says that our schema in it is for: the schema's
// comment. exists is false where there is no such schema yet.
func Label(ctx context.Context, url string) (label string, exists bool, err error) {
	err = once(ctx, url, func(c *pgx.Conn) error {
		return c.QueryRow(ctx, "select coalesce(obj_description(oid, 'pg_namespace'), '') from pg_namespace where nspname = $1", schema).Scan(&label)
	})
	if errors.Is(err, pgx.ErrNoRows) {
		return "", false, nil
	}
	return label, err == nil, err
}

// SetLabel makes our schema where there is none, and says what it is for.
func SetLabel(ctx context.Context, url, label string) error {
	return once(ctx, url, func(c *pgx.Conn) error {
		quoted, err := c.PgConn().EscapeString(label)
		if err != nil {
			return err
		}
		_, err = c.Exec(ctx, "create schema if not exists "+schema+"; comment on schema "+schema+" is '"+quoted+"'")
		return err
	})
}

// Drop removes our schema and everything in it.
func Drop(ctx context.Context, url string) error {
	return once(ctx, url, func(c *pgx.Conn) error {
		_, err := c.Exec(ctx, "drop schema if exists "+schema+" cascade")
		return err
	})
}

func once(ctx context.Context, url string, f func(c *pgx.Conn) error) error {
	c, err := pgx.Connect(ctx, url)
	if err != nil {
		return err
	}
	defer c.Close(context.WithoutCancel(ctx))
	return f(c)
}
