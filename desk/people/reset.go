package people

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// resetFor is how long a letter lets somebody choose a new password.
const resetFor = time.Hour

// ForReset is what a secret is for that lets somebody choose a new password.
const ForReset = "password reset"

// ChangePassword takes another password in place of the one that somebody has. Their other browsers are not known any more.
func (d *Desk) ChangePassword(ctx context.Context, who Person, old, password string) error {
	if err := d.Confirm(ctx, who, old); err != nil {
		return err
	}
	return d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		return d.setPassword(ctx, q, tx, who, password, "password_changed", "your password was changed")
	})
}

func (d *Desk) setPassword(ctx context.Context, q *db.Queries, tx pgx.Tx, who Person, password, kind, says string) error {
	if m := weakness(password, who.Email, who.Name, d.firm(ctx, q, who.Client)); m != "" {
		return problem.Fields([]record.Problem{{Path: "new_password", Message: m}})
	}
	hash, err := d.hash(ctx, password)
	if err != nil {
		return err
	}
	now := time.Now()
	if err := q.SetPassword(ctx, db.SetPasswordParams{ID: who.ID, PasswordHash: hash}); err != nil {
		return err
	}
	if err := q.EndResets(ctx, db.EndResetsParams{PersonID: who.ID, UsedAt: &now}); err != nil {
		return err
	}
	if err := q.ForgetBrowsers(ctx, who.ID); err != nil {
		return err
	}
	return d.secured(ctx, q, tx, who, kind, says, map[string]string{})
}

// secured notes that how somebody signs in was changed, and writes to them: whoever did it may not have been they.
func (d *Desk) secured(ctx context.Context, q *db.Queries, tx pgx.Tx, who Person, kind, says string, about map[string]string) error {
	zone, err := time.LoadLocation(who.Zone)
	if err != nil {
		zone = time.UTC
	}
	now := d.clock.Now()
	m := reach.Mail{
		ID: "sign-in-" + uuid.NewString(), From: who.Email, As: "Uvent", To: who.Email, Subject: "Your sign-in to Uvent was changed",
		Body: fmt.Sprintf(
			"On %s, %s.\n\nIf that was not you, choose another password at once, and tell whoever administers Uvent:\n%s/forgot\n",
			now.In(zone).Format("Mon 2 January, 15:04"), says, d.Address(),
		),
	}
	if err := d.letters.Send(ctx, tx, m); err != nil {
		return err
	}
	return d.ledger.NoteAbout(ctx, q, who.Actor(), kind, about)
}

// AskReset has a letter sent to whoever signs in with an email, with an address at which they choose a new password. It
// tells nobody whether there is such a person.
func (d *Desk) AskReset(ctx context.Context, email, address string) error {
	email = strings.ToLower(strings.TrimSpace(email))
	if len(email) > mostEmail {
		return nil
	}
	if err := d.reserve(ctx, tryReset(email), tryResetFrom(address)); err != nil {
		return err
	}
	row, err := d.store.PersonByEmail(ctx, email)
	if err != nil {
		return problem.IgnoreNoRows(err)
	}
	p := personOf(row)
	return d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		secret := Secret{ForReset, uuid.NewString()}
		now := time.Now()
		if err := q.AddReset(ctx, db.AddResetParams{
			ID: uuid.MustParse(secret.ID), Hash: HashOf(d.SecretOf(secret)), PersonID: p.ID, At: now, Expires: now.Add(resetFor),
		}); err != nil {
			return err
		}
		body := fmt.Sprintf(
			"Somebody, probably you, wants a new password for Uvent.\n\nChoose it here, within an hour:\n%s\n\nIf it was not you, do nothing: the old one stays.\n",
			d.Address()+"/reset/"+Here,
		)
		m := reach.Mail{ID: "reset-" + secret.ID, From: p.Email, As: "Uvent", To: p.Email, Subject: "A new password for Uvent", Body: body}
		if err := d.letters.SendSecret(ctx, tx, m, secret); err != nil {
			return err
		}
		return d.ledger.NoteAbout(ctx, q, Uvent, "reset_asked", map[string]string{"person": p.Name})
	})
}

var errNoReset = &problem.Problem{Kind: problem.NotFound, Detail: "This address cannot be used any more. Ask for another letter."}

func (d *Desk) reset(ctx context.Context, q *db.Queries, secret string) (row db.LockResetRow, err error) {
	row, err = q.LockReset(ctx, HashOf(secret))
	switch {
	case err != nil && problem.IgnoreNoRows(err) == nil, err == nil && (row.UsedAt != nil || !time.Now().Before(row.Expires)):
		err = errNoReset
	}
	return row, err
}

// ResetOf tells whose password a secret lets choose, by their email.
func (d *Desk) ResetOf(ctx context.Context, secret string) (email string, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := d.reset(ctx, q, secret)
		email = row.Email
		return err
	})
	return email, err
}

// Reset takes the password that whoever has a secret chooses. A second factor stays.
func (d *Desk) Reset(ctx context.Context, secret, password string) (p Person, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		row, err := d.reset(ctx, q, secret)
		if err != nil {
			return err
		}
		who, err := q.Person(ctx, row.PersonID)
		if err != nil {
			return err
		}
		p = personOf(who)
		return d.setPassword(ctx, q, tx, p, password, "password_reset", "another password was chosen by the letter that was asked for")
	})
	return p, err
}

// ResetHere takes a new password for somebody from whoever runs this server, and takes their second factors off where
// that is wanted.
func (d *Desk) ResetHere(ctx context.Context, email, password string, factors bool) (p Person, err error) {
	if p, err = d.ByEmail(ctx, email); err != nil {
		return p, err
	}
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		if err := d.setPassword(ctx, q, tx, p, password, "password_reset", "whoever runs Uvent gave you another password"); err != nil || !factors {
			return err
		}
		if err := q.SetFactor(ctx, db.SetFactorParams{ID: p.ID}); err != nil {
			return err
		}
		if err := q.DropPasskeys(ctx, p.ID); err != nil {
			return err
		}
		if err := q.DropRecoveryCodes(ctx, p.ID); err != nil {
			return err
		}
		return d.secured(ctx, q, tx, p, "second_factor_dropped", "whoever runs Uvent took your second factor off", map[string]string{})
	})
	return p, err
}
