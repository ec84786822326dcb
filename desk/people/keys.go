package people

import (
	"context"
	"errors"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/pquerna/otp/totp"

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
	EndedAt *time.Time
}

func keyOf(row db.ApiToken) Key {
	return Key{ID: row.ID, Name: row.Name, Scope: row.Scope, At: row.At, UsedAt: row.UsedAt, EndedAt: row.EndedAt}
}

// keyTouched is how exactly it is kept when a key was last used.
const keyTouched = time.Minute

// keyBegins marks a key, so that one that leaks into a file is found.
const keyBegins = "uvent_"

// MakeKey makes a key of a scope: see, edit or send. The key itself is told once.
func (d *Desk) MakeKey(ctx context.Context, who Person, name, scope string) (k Key, secret string, err error) {
	name = strings.TrimSpace(name)
	var wrong []record.Problem
	if name == "" || len(name) > 100 {
		wrong = append(wrong, record.Problem{Path: "name", Message: "say what it is for, in up to 100 letters"})
	}
	if scopes[scope] == nil {
		wrong = append(wrong, record.Problem{Path: "scope", Message: "choose see, edit or send"})
	}
	if wrong != nil {
		return k, "", problem.Fields(wrong)
	}
	secret, _ = NewToken()
	secret = keyBegins + secret
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		k, err = store.One(keyOf)(q.AddToken(ctx, db.AddTokenParams{Hash: HashOf(secret), PersonID: who.ID, Name: name, Scope: scope, At: d.clock.Now()}))
		if err != nil {
			return err
		}
		return d.ledger.NoteAbout(ctx, q, who.Actor(), "key_made", map[string]string{"name": name, "scope": scope})
	})
	return k, secret, err
}

// Keys are somebody's, the newest first.
func (d *Desk) Keys(ctx context.Context, who Person) ([]Key, error) {
	return store.Each(keyOf)(d.store.Tokens(ctx, who.ID))
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
	row, err := d.store.Token(ctx, HashOf(secret))
	if errors.Is(err, pgx.ErrNoRows) {
		return Person{}, &problem.Problem{Kind: problem.Denied, Detail: "This key is not known, or has ended."}
	}
	if err != nil {
		return Person{}, err
	}
	p := Person{ID: row.ID_2, Email: row.Email, Name: row.Name, Initials: row.Initials, Zone: row.Zone, Role: Role(row.Role), Client: row.ClientID, Key: row.Scope}
	now := d.clock.Now()
	if row.UsedAt == nil || now.Sub(*row.UsedAt) > keyTouched {
		err = d.store.TouchToken(ctx, db.TouchTokenParams{ID: row.ID, UsedAt: &now})
	}
	return p, err
}

// SecondFactor begins a second factor (RFC 6238) and tells its secret, as an otpauth
// address. It counts once a code of it was given back.
func (d *Desk) SecondFactor(who Person) (secret, address string, err error) {
	if who.SecondFactor {
		return "", "", problem.Conflictf("There is a second factor already; take it off first.")
	}
	key, err := totp.Generate(totp.GenerateOpts{Issuer: "Uvent", AccountName: who.Email})
	if err != nil {
		return "", "", err
	}
	return key.Secret(), key.URL(), nil
}

// KeepSecondFactor keeps a second factor, once its code shows that it is at hand.
func (d *Desk) KeepSecondFactor(ctx context.Context, who Person, secret, code string) error {
	if !totp.Validate(strings.TrimSpace(code), secret) {
		return problem.Fields([]record.Problem{{Path: "code", Message: "it is not the code that the app shows now"}})
	}
	return d.setSecondFactor(ctx, who, secret, "second_factor_set")
}

// DropSecondFactor takes the second factor off, given a code of it.
func (d *Desk) DropSecondFactor(ctx context.Context, who Person, code string) error {
	key, now := "second factor "+who.ID.String(), time.Now()
	if err := d.mayTry(ctx, key, failuresByEmail, now); err != nil {
		return err
	}
	p, err := d.store.Person(ctx, who.ID)
	if err != nil {
		return err
	}
	if p.SecondFactor == "" || !totp.Validate(strings.TrimSpace(code), p.SecondFactor) {
		if err := d.store.AddSignInFailure(ctx, db.AddSignInFailureParams{Key: key, At: now}); err != nil {
			return err
		}
		return problem.Fields([]record.Problem{{Path: "code", Message: "it is not the code that the app shows now"}})
	}
	return d.setSecondFactor(ctx, who, "", "second_factor_dropped")
}

func (d *Desk) setSecondFactor(ctx context.Context, who Person, secret, kind string) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if err := q.SetSecondFactor(ctx, db.SetSecondFactorParams{ID: who.ID, SecondFactor: secret}); err != nil {
			return err
		}
		return d.ledger.NoteAbout(ctx, q, who.Actor(), kind, map[string]string{})
	})
}
