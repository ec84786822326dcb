package people

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Key is what a program asks with, in somebody's name.
type Key struct {
	ID      uuid.UUID
	Name    string
	Scope   string
	At      time.Time
	UsedAt  *time.Time
	Expires time.Time
	EndedAt *time.Time
}

func keyOf(row db.ApiToken) Key {
	return Key{ID: row.ID, Name: row.Name, Scope: row.Scope, At: row.At, UsedAt: row.UsedAt, Expires: row.Expires, EndedAt: row.EndedAt}
}

// keyTouched is how exactly it is kept when a key was last used.
const keyTouched = time.Minute

// keyBegins marks a key, so that one that leaks into a file is found.
const keyBegins = "uvent_"

// How many days a key works: what is usual, and what it is at most.
const (
	keyDays     = 90
	mostKeyDays = 365
)

// MakeKey makes a key of a scope (see, edit or send) that works for some days; 0: as usual. The key itself is told once.
func (d *Desk) MakeKey(ctx context.Context, who Person, password, name, scope string, days int) (k Key, secret string, err error) {
	name = strings.TrimSpace(name)
	var wrong []record.Problem
	if name == "" || len(name) > 100 {
		wrong = append(wrong, record.Problem{Path: "name", Message: "say what it is for, in up to 100 letters"})
	}
	if scopes[scope] == nil {
		wrong = append(wrong, record.Problem{Path: "scope", Message: "choose see, edit or send"})
	}
	if days < 0 || days > mostKeyDays {
		wrong = append(wrong, record.Problem{Path: "days", Message: fmt.Sprintf("a key works for 1 to %d days", mostKeyDays)})
	}
	if wrong != nil {
		return k, "", problem.Fields(wrong)
	}
	if err := d.Confirm(ctx, who, password); err != nil {
		return k, "", err
	}
	now := d.clock.Now()
	expires := now.AddDate(0, 0, cmp.Or(days, keyDays))
	secret, _ = NewToken()
	secret = keyBegins + secret
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		k, err = store.One(keyOf)(q.AddToken(ctx, db.AddTokenParams{Hash: HashOf(secret), PersonID: who.ID, Name: name, Scope: scope, At: now, Expires: expires}))
		if err != nil {
			return err
		}
		return d.ledger.NoteAbout(ctx, q, who.Actor(), "key_made", map[string]string{"name": name, "scope": scope, "until": expires.Format(time.RFC3339)})
	})
	return k, secret, err
}

// Keys are somebody's, the newest first.
func (d *Desk) Keys(ctx context.Context, of uuid.UUID) ([]Key, error) {
	return store.Each(keyOf)(d.store.Tokens(ctx, of))
}

// EndKeys ends all of somebody's keys.
func (d *Desk) EndKeys(ctx context.Context, who Person, of uuid.UUID) error {
	p, err := d.Person(ctx, of)
	if err != nil {
		return err
	}
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		now := d.clock.Now()
		n, err := q.EndTokens(ctx, db.EndTokensParams{PersonID: of, EndedAt: &now})
		if err != nil {
			return err
		}
		return d.ledger.NoteAbout(ctx, q, who.Actor(), "access_ended", map[string]any{"person": p.Name, "keys": n})
	})
}

// EndKey ends one of somebody's keys.
func (d *Desk) EndKey(ctx context.Context, who Person, id uuid.UUID) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		now := d.clock.Now()
		n, err := q.EndToken(ctx, db.EndTokenParams{ID: id, PersonID: who.ID, EndedAt: &now})
		if err == nil && n == 0 {
			return &problem.Problem{Kind: problem.NotFound, Detail: "There is no such key of yours."}
		}
		if err != nil {
			return err
		}
		return d.ledger.NoteAbout(ctx, q, who.Actor(), "key_ended", map[string]string{"key": id.String()})
	})
}

// WithKey is the person in whose name a key asks, with its scope.
func (d *Desk) WithKey(ctx context.Context, secret string) (Person, error) {
	now := d.clock.Now()
	row, err := d.store.Token(ctx, db.TokenParams{Hash: HashOf(secret), Expires: now})
	if errors.Is(err, pgx.ErrNoRows) {
		return Person{}, &problem.Problem{Kind: problem.Denied, Detail: "This key is not known, or has ended."}
	}
	if err != nil {
		return Person{}, err
	}
	p, err := d.held(ctx, personOf(row.Person))
	if err != nil {
		return Person{}, err
	}
	p.Key = row.Scope
	if row.UsedAt == nil || now.Sub(*row.UsedAt) > keyTouched {
		err = d.store.TouchToken(ctx, db.TouchTokenParams{ID: row.TokenID, UsedAt: &now})
	}
	return p, err
}
