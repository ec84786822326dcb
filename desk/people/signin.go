package people

import (
	"context"
	"errors"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Credentials are what somebody signs in with.
type Credentials struct {
	Email, Password string
	Code            string // of the second factor, or a recovery code
	Browser         string // the secret of a browser in which they signed in before; empty: none
	Address         string // where the request came from
}

// SignIn finds the person with this email and password, and the code of their second factor where they have one. known is
// the secret by which their browser is known from then on.
func (d *Desk) SignIn(ctx context.Context, c Credentials) (p Person, known string, err error) {
	email := strings.ToLower(strings.TrimSpace(c.Email))
	if len(email) > mostEmail || len(c.Password) > mostPassword {
		return p, "", errNotTogether
	}
	mine, others := []try{tryAt(email, c.Address)}, []try{tryFrom(c.Address), tryAnywhere(email)}
	if c.Browser != "" {
		is, err := d.store.BrowserKnows(ctx, db.BrowserKnowsParams{Hash: HashOf(c.Browser), Email: email})
		if err != nil {
			return p, "", err
		}
		if is {
			mine, others, known = []try{tryInBrowser(HashOf(c.Browser))}, nil, c.Browser
		}
	}
	if err := d.reserve(ctx, append(mine, others...)...); err != nil {
		return p, "", err
	}
	row, err := d.store.PersonByEmail(ctx, email)
	if err != nil && !errors.Is(err, pgx.ErrNoRows) {
		return p, "", err
	}
	same, err := d.matches(ctx, c.Password, row.PasswordHash)
	if err != nil || !same {
		if err == nil {
			err = errNotTogether
		}
		return p, "", err
	}
	p = personOf(row)
	if err := d.checkFactor(ctx, p, c.Code); err != nil {
		if strings.TrimSpace(c.Code) == "" { // the password was right, and no code was tried
			err = errors.Join(err, d.takeBack(ctx, append(mine, others...)...))
		}
		return Person{}, "", err
	}
	if err := d.takeBack(ctx, others...); err != nil {
		return Person{}, "", err
	}
	if err := d.succeeded(ctx, mine...); err != nil {
		return Person{}, "", err
	}
	if known == "" {
		known, err = d.Known(ctx, p)
		return p, known, err
	}
	return p, known, d.store.KnowBrowser(ctx, db.KnowBrowserParams{Hash: HashOf(known), PersonID: p.ID, UsedAt: time.Now()})
}

// Known makes the secret by which a browser is known in which somebody has signed in.
func (d *Desk) Known(ctx context.Context, p Person) (secret string, err error) {
	secret, hash := NewToken()
	return secret, d.store.KnowBrowser(ctx, db.KnowBrowserParams{Hash: hash, PersonID: p.ID, UsedAt: time.Now()})
}

// SessionsEnded tells those who watch what changes to look whether they still may.
func (d *Desk) SessionsEnded(ctx context.Context) error {
	return store.Notify(ctx, d.store.Queries, store.Change{People: true})
}

var errNotTogether = &problem.Problem{Kind: problem.Denied, Detail: "Email and password do not belong together."}

// Confirm reports by its error whether somebody who is signed in knows their password: before what could lock them out,
// or let others in.
func (d *Desk) Confirm(ctx context.Context, who Person, password string) error {
	t := tryOf("password", who)
	if err := d.reserve(ctx, t); err != nil {
		return err
	}
	row, err := d.store.Person(ctx, who.ID)
	if err != nil {
		return err
	}
	same, err := d.matches(ctx, password, row.PasswordHash)
	if err != nil {
		return err
	}
	if !same {
		return problem.Fields([]record.Problem{{Path: "password", Message: "it is not your password"}})
	}
	return d.succeeded(ctx, t)
}

// ForgetOld deletes what has passed: sessions, tries, browsers that were not used for a year, letters that were not answered.
func (d *Desk) ForgetOld(ctx context.Context) error {
	now := time.Now()
	return errors.Join(
		d.store.ForgetOldSessions(ctx, now),
		d.store.ForgetOldTries(ctx, now.Add(-48*time.Hour)),
		d.store.ForgetOldBrowsers(ctx, now.AddDate(-1, 0, 0)),
		d.store.ForgetOldResets(ctx, now.AddDate(0, 0, -7)),
	)
}
