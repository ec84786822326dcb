package people

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/pquerna/otp/totp"

	"uvent/core/fact/contact"
	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/store/db"
)

// Actor is who does something.
type Actor struct {
	ID   uuid.UUID
	Name string
}

// Uvent acts where nobody asked: by the clock.
var Uvent = Actor{Name: "Uvent"}

// Person is somebody who works here.
type Person struct {
	ID       uuid.UUID
	Email    string
	Name     string
	Initials string
	Zone     string // IANA
	Role     Role
	Client   *uuid.UUID // of which they are; nil: one of us
	Ended    bool       // they cannot sign in any more
	Key      string     // the scope of the key that asks in their name; empty: they ask themselves

	SecondFactor bool
	Digest       *int32 // the minute of the day at which they are written to; nil: never
}

// Key is the actor's id; nil for one that is no person.
func (a Actor) Key() *uuid.UUID {
	if a.ID == uuid.Nil {
		return nil
	}
	return &a.ID
}

// Actor is the person as the one who does something.
func (p Person) Actor() Actor { return Actor{p.ID, p.Name} }

func personOf(p db.Person) Person {
	return Person{
		ID:           p.ID,
		Email:        p.Email,
		Name:         p.Name,
		Initials:     p.Initials,
		Zone:         p.Zone,
		Role:         Role(p.Role),
		Client:       p.ClientID,
		Ended:        p.EndedAt != nil,
		SecondFactor: p.SecondFactor != "",
		Digest:       p.DigestMinute,
	}
}

// Signing in is limited: so many failures by one email or from one address in
// so long a time.
const (
	failuresByEmail   = 5
	failuresByAddress = 30
	failureWindow     = 15 * time.Minute
	leastPassword     = 10
)

// SignIn finds the person with this email and password, and the code of their second
// factor where they have one. address is where the request came from.
func (d *Desk) SignIn(ctx context.Context, email, password, code, address string) (Person, error) {
	now := time.Now() // guards against guessing run on real time, whatever a demo's clock says
	byEmail, byAddress := "email "+strings.ToLower(strings.TrimSpace(email)), "address "+address
	for key, most := range map[string]int64{byEmail: failuresByEmail, byAddress: failuresByAddress} {
		if err := d.mayTry(ctx, key, most, now); err != nil {
			return Person{}, err
		}
	}
	p, err := d.store.PersonByEmail(ctx, strings.TrimSpace(email))
	if err != nil && !errors.Is(err, pgx.ErrNoRows) {
		return Person{}, err
	}
	known := d.cost.matches(password, p.PasswordHash)
	if known && p.SecondFactor != "" && strings.TrimSpace(code) == "" {
		return Person{}, &problem.Problem{
			Kind:   problem.Denied,
			Detail: "Give the code of your second factor too.",
			Fields: []record.Problem{{Path: "code", Message: "the six digits that your app shows now"}},
		}
	}
	if !known || p.SecondFactor != "" && !totp.Validate(strings.TrimSpace(code), p.SecondFactor) {
		for _, key := range []string{byEmail, byAddress} {
			if err := d.store.AddSignInFailure(ctx, db.AddSignInFailureParams{Key: key, At: now}); err != nil {
				return Person{}, err
			}
		}
		if known {
			return Person{}, &problem.Problem{
				Kind:   problem.Denied,
				Detail: "That is not the code that your app shows now.",
				Fields: []record.Problem{{Path: "code", Message: "the six digits that your app shows now"}},
			}
		}
		return Person{}, &problem.Problem{Kind: problem.Denied, Detail: "Email and password do not belong together."}
	}
	err = d.store.ForgetSignInFailures(ctx, db.ForgetSignInFailuresParams{Key: byEmail, At: now.Add(-failureWindow)})
	return personOf(p), err
}

// mayTry says no to whoever has guessed wrong too often.
func (d *Desk) mayTry(ctx context.Context, key string, most int64, now time.Time) error {
	n, err := d.store.CountSignInFailures(ctx, db.CountSignInFailuresParams{Key: key, At: now.Add(-failureWindow)})
	if err == nil && n >= most {
		err = &problem.Problem{Kind: problem.TooMany, Detail: fmt.Sprintf("Too many tries. Wait %d minutes, then try again.", int(failureWindow.Minutes()))}
	}
	return err
}

// Person finds somebody by id; a NotFound problem when there is no such person.
func (d *Desk) Person(ctx context.Context, id uuid.UUID) (Person, error) {
	p, err := d.store.Person(ctx, id)
	return personOf(p), problem.OrNotFound(err, "There is no such person.")
}

// People lists everybody, by name.
func (d *Desk) People(ctx context.Context) ([]Person, error) {
	rows, err := d.store.People(ctx)
	out := make([]Person, len(rows))
	for i, p := range rows {
		out[i] = personOf(p)
	}
	return out, err
}

// AddPerson adds somebody who may sign in; an administrator, where no role is named.
func (d *Desk) AddPerson(ctx context.Context, p Person, password string) (Person, error) {
	if p.Role == "" {
		p.Role = Administrator
	}
	if wrong := d.checkRole(ctx, p.Role, p.Client); wrong != nil {
		return Person{}, problem.Fields(wrong)
	}
	return d.addPerson(ctx, d.store.Queries, p, password)
}

func (d *Desk) addPerson(ctx context.Context, q *db.Queries, p Person, password string) (Person, error) {
	var wrong []record.Problem
	if m := contact.Email(p.Email); m != "" {
		wrong = append(wrong, record.Problem{Path: "email", Message: m})
	}
	if strings.TrimSpace(p.Name) == "" {
		wrong = append(wrong, record.Problem{Path: "name", Message: "say who it is"})
	}
	if len(password) < leastPassword {
		wrong = append(wrong, record.Problem{Path: "password", Message: fmt.Sprintf("a password has at least %d characters", leastPassword)})
	}
	if _, err := time.LoadLocation(p.Zone); err != nil || p.Zone == "" {
		wrong = append(wrong, record.Problem{Path: "zone", Message: "it is no time zone; write it as America/Los_Angeles"})
	}
	if wrong != nil {
		return Person{}, problem.Fields(wrong)
	}
	row, err := q.AddPerson(
		ctx,
		db.AddPersonParams{
			Email:        strings.TrimSpace(p.Email),
			Name:         strings.TrimSpace(p.Name),
			Initials:     initials(p.Name),
			Zone:         p.Zone,
			PasswordHash: d.cost.hash(password),
			Role:         string(p.Role),
			ClientID:     p.Client,
		},
	)
	return personOf(row), problem.Taken(err)
}

func initials(name string) string {
	out := ""
	for _, w := range strings.Fields(name) {
		out += string([]rune(w)[:1])
	}
	return strings.ToUpper(out)
}

// ByEmail finds somebody who may sign in.
func (d *Desk) ByEmail(ctx context.Context, email string) (Person, error) {
	p, err := d.store.PersonByEmail(ctx, strings.TrimSpace(email))
	if err == nil && p.EndedAt != nil {
		err = pgx.ErrNoRows
	}
	return personOf(p), problem.OrNotFound(err, "There is nobody who signs in as "+email+".")
}
