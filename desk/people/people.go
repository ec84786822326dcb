package people

import (
	"context"
	"fmt"
	"strings"
	"time"
	"unicode"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

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
	Client   *uuid.UUID  // of which they are; nil: one of us
	Clients  []uuid.UUID // of which they see anything; nil: of all
	Ended    bool        // they cannot sign in any more
	Key      string      // the scope of the key that asks in their name; empty: they ask themselves

	SecondFactor bool   // they have an app's codes, or a passkey
	Codes        bool   // they have an app's codes
	MustFactor   bool   // their role asks for a second factor, and they have none
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
	sees := p.Clients
	if Role(p.Role) == OfClient {
		sees = []uuid.UUID{} // never all of them
	}
	if p.ClientID != nil {
		sees = []uuid.UUID{*p.ClientID}
	}
	return Person{
		ID:           p.ID,
		Email:        p.Email,
		Name:         p.Name,
		Initials:     p.Initials,
		Zone:         p.Zone,
		Role:         Role(p.Role),
		Client:       p.ClientID,
		Clients:      sees,
		Ended:        p.EndedAt != nil,
		SecondFactor: p.SecondFactor != "" || p.Factor != nil || p.Passkeys > 0,
		Codes:        p.SecondFactor != "" || p.Factor != nil,
		Digest:       p.DigestMinute,
	}
}

// Person finds somebody by id; a NotFound problem when there is no such person.
func (d *Desk) Person(ctx context.Context, id uuid.UUID) (Person, error) {
	row, err := d.store.Person(ctx, id)
	if err != nil {
		return Person{}, problem.OrNotFound(err, "There is no such person.")
	}
	return d.held(ctx, personOf(row))
}

// held is a person held to what their role asks.
func (d *Desk) held(ctx context.Context, p Person) (Person, error) {
	must, err := d.store.RoleTakesFactor(ctx, string(p.Role))
	p.MustFactor = must && !p.SecondFactor
	return p, err
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

// NobodyYet reports whether nobody may sign in.
func (d *Desk) NobodyYet(ctx context.Context) (bool, error) { return d.store.NobodyYet(ctx) }

// AddPerson adds somebody who may sign in; an administrator, where no role is named.
func (d *Desk) AddPerson(ctx context.Context, p Person, password string) (Person, error) {
	if p.Role == "" {
		p.Role = Administrator
	}
	if wrong := d.checkRole(ctx, p.Bounds()); wrong != nil {
		return Person{}, problem.Fields(wrong)
	}
	return d.addPerson(ctx, d.store.Queries, p, password)
}

func (d *Desk) addPerson(ctx context.Context, q *db.Queries, p Person, password string) (Person, error) {
	var wrong []record.Problem
	if m := contact.Email(p.Email); m != "" {
		wrong = append(wrong, record.Problem{Path: "email", Message: m})
	}
	switch name := strings.TrimSpace(p.Name); {
	case name == "":
		wrong = append(wrong, record.Problem{Path: "name", Message: "say who it is"})
	case len([]rune(name)) > mostName || strings.ContainsFunc(name, unwritten):
		wrong = append(wrong, record.Problem{Path: "name", Message: fmt.Sprintf("a name is one line of at most %d letters", mostName)})
	}
	if m := weakness(password, p.Email, p.Name, d.firm(ctx, q, p.Client)); m != "" {
		wrong = append(wrong, record.Problem{Path: "password", Message: m})
	}
	if _, err := time.LoadLocation(p.Zone); err != nil || p.Zone == "" {
		wrong = append(wrong, record.Problem{Path: "zone", Message: "it is no time zone; write it as America/Los_Angeles"})
	}
	if wrong != nil {
		return Person{}, problem.Fields(wrong)
	}
	hash, err := d.hash(ctx, password)
	if err != nil {
		return Person{}, err
	}
	row, err := q.AddPerson(
		ctx,
		db.AddPersonParams{
			Email:        strings.TrimSpace(p.Email),
			Name:         strings.TrimSpace(p.Name),
			Initials:     initials(p.Name),
			Zone:         p.Zone,
			PasswordHash: hash,
			Role:         string(p.Role),
			ClientID:     p.Client,
			Clients:      p.Bounds().Clients,
		},
	)
	return personOf(row), problem.Taken(err)
}

// mostName is how many letters a person's name has at most.
const mostName = 100

// unwritten are characters that nobody writes in a name: line breaks, and what turns the direction of what follows.
func unwritten(r rune) bool {
	return unicode.IsControl(r) || unicode.Is(unicode.Cf, r) && r != '\u200c' && r != '\u200d'
}

// firm is the name of the client that somebody is of.
func (d *Desk) firm(ctx context.Context, q *db.Queries, client *uuid.UUID) string {
	if client == nil {
		return ""
	}
	c, _ := q.Client(ctx, *client) // one that is not there has no name
	return c.Name
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
