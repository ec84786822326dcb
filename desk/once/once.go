// Package once has what is asked for twice with one key done once, and answered twice.
package once

import (
	"bytes"
	"context"
	"encoding/hex"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"

	"uvent/desk/problem"
	"uvent/sealing"
	"uvent/store"
	"uvent/store/db"
)

// Desk keeps what was asked for, and what was answered. It is safe for concurrent use.
type Desk struct {
	store *store.Store
	key   sealing.Key
}

// New makes a desk. key keeps what is asked for, which may hold a password, from being guessed by whoever reads the database.
func New(s *store.Store, key sealing.Key) *Desk { return &Desk{s, key} }

// Asking is something that is asked for.
type Asking struct {
	Who  string // a person, or whoever knows a secret, hashed
	Key  string // which they have chosen for it
	What []byte // a digest of it: another thing does not go by the same key
}

// Answer is what was answered.
type Answer struct {
	Status  int
	Headers map[string]string
	Body    []byte
}

// States of what was asked for before.
var (
	// ErrOther is that the key was taken for something else.
	ErrOther = errors.New("the key was taken for another request")
	// ErrUnderWay is that it is being done; soon there is an answer.
	ErrUnderWay = errors.New("it is being done")
	// ErrUnknown is that something of it was done, and what was answered is not known.
	ErrUnknown = errors.New("it was begun, and what was answered is not known")
)

// How long a request may be about to do what it was asked for before another does it in its place, and how long one that has
// done something may take to answer.
const (
	beginsWithin  = 5 * time.Second
	answersWithin = 30 * time.Second
)

// Turn is the right to do it.
type Turn struct{ turn *store.Turn }

// Begin takes a turn at what is asked for: the context that comes back is that in which to do it. Where it was answered
// before there is no turn, and the answer; else the error is one of the above.
func (d *Desk) Begin(ctx context.Context, a Asking) (context.Context, *Turn, *Answer, error) {
	t := &store.Turn{Who: a.Who, Key: a.Key, ID: uuid.New()}
	what := []byte(d.key.Token("once", hex.EncodeToString(a.What)))
	mine := func() (context.Context, *Turn, *Answer, error) { return store.InTurn(ctx, t), &Turn{t}, nil, nil }
	n, err := d.store.BeginOnce(ctx, db.BeginOnceParams{Who: a.Who, Key: a.Key, Asked: what, Turn: t.ID})
	if err != nil {
		return ctx, nil, nil, err
	}
	if n == 1 {
		return mine()
	}
	row, err := d.store.AskedOnce(ctx, db.AskedOnceParams{Who: a.Who, Key: a.Key, After: answersWithin.Seconds()})
	switch {
	case problem.IgnoreNoRows(err) == nil && err != nil: // it was let go of in between
		return ctx, nil, nil, ErrUnderWay
	case err != nil:
		return ctx, nil, nil, err
	case !bytes.Equal(row.Asked, what):
		return ctx, nil, nil, ErrOther
	case row.Status != nil:
		answer := Answer{Status: int(*row.Status), Body: row.Body}
		return ctx, nil, &answer, json.Unmarshal(row.Headers, &answer.Headers)
	case row.Done && row.Old:
		return ctx, nil, nil, ErrUnknown
	case row.Done:
		return ctx, nil, nil, ErrUnderWay
	}
	n, err = d.store.TakeOnceOver(ctx, db.TakeOnceOverParams{Who: a.Who, Key: a.Key, Turn: t.ID, After: beginsWithin.Seconds()})
	if err != nil || n == 0 {
		return ctx, nil, nil, errors.Join(err, ErrUnderWay)
	}
	return mine()
}

// Keep keeps what was answered in a turn.
func (d *Desk) Keep(ctx context.Context, t *Turn, a Answer) error {
	headers, err := json.Marshal(a.Headers)
	if err != nil {
		return err
	}
	status := int32(a.Status)
	return d.store.KeepOnce(
		ctx,
		db.KeepOnceParams{Who: t.turn.Who, Key: t.turn.Key, Turn: t.turn.ID, Status: &status, Headers: headers, Body: append([]byte{}, a.Body...)},
	)
}

// LetGo ends a turn in which nothing was answered that would be answered again. Where nothing was done, it can be asked for
// anew.
func (d *Desk) LetGo(ctx context.Context, t *Turn) error {
	return d.store.LetOnceGo(ctx, db.LetOnceGoParams{Who: t.turn.Who, Key: t.turn.Key, Turn: t.turn.ID})
}

// ForgetOld deletes what was asked for more than a day ago.
func (d *Desk) ForgetOld(ctx context.Context) error { return d.store.ForgetOldOnce(ctx) }
