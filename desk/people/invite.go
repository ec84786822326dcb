package people

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/fact/contact"
	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// invitedFor is how long an invitation can be taken up.
const invitedFor = 14 * 24 * time.Hour

// ForInvitation is what a secret is for by which somebody becomes one of us.
const ForInvitation = "invitation"

// Invitation is a private address at which somebody becomes one of us.
type Invitation struct {
	ID          uuid.UUID
	Email       string
	Role        Role
	ClientID    *uuid.UUID
	Clients     []uuid.UUID // of which alone they are to see anything; nil: of all
	InvitedBy   string
	At          time.Time
	Expires     time.Time
	UsedAt      *time.Time
	WithdrawnAt *time.Time
}

func invitationOf(row db.Invitation) Invitation {
	return Invitation{
		ID:          row.ID,
		Email:       row.Email,
		Role:        Role(row.Role),
		ClientID:    row.ClientID,
		Clients:     row.Clients,
		InvitedBy:   row.InvitedBy,
		At:          row.At,
		Expires:     row.Expires,
		UsedAt:      row.UsedAt,
		WithdrawnAt: row.WithdrawnAt,
	}
}

// Bounds are what somebody may do, and whose things they see.
type Bounds struct {
	Role    Role
	Client  *uuid.UUID  // of which they are; nil: one of us
	Clients []uuid.UUID // for which alone one of us works; nil: for all
}

// Bounds are the person's.
func (p Person) Bounds() Bounds {
	b := Bounds{Role: p.Role, Client: p.Client}
	if p.Client == nil {
		b.Clients = p.Clients
	}
	return b
}

// checkRole says what is wrong with a role and the clients that go with it.
func (d *Desk) checkRole(ctx context.Context, b Bounds) (wrong []record.Problem) {
	is := func(path, message string) { wrong = append(wrong, record.Problem{Path: path, Message: message}) }
	switch {
	case !slices.Contains(Roles, b.Role):
		is("role", "choose administrator, specialist, helper or client")
	case b.Role == OfClient && b.Client == nil:
		is("client", "say of which client")
	case b.Role != OfClient && b.Client != nil:
		is("client", "only the role of client goes with one")
	case b.Clients != nil && b.Role != Specialist && b.Role != Helper:
		is("clients", "only a specialist or a helper is limited to some clients")
	case b.Clients != nil && len(b.Clients) == 0:
		is("clients", "choose at least one client, or all of them")
	}
	of := func(path string, id uuid.UUID) {
		if _, err := d.store.Client(ctx, id); err != nil && wrong == nil {
			is(path, "there is no such client")
		}
	}
	if b.Client != nil {
		of("client", *b.Client)
	}
	for _, id := range b.Clients {
		of("clients", id)
	}
	return wrong
}

// Invite invites somebody by email. The address in it is told once.
func (d *Desk) Invite(ctx context.Context, who Person, email string, b Bounds) (i Invitation, address string, err error) {
	email = strings.ToLower(strings.TrimSpace(email))
	wrong := d.checkRole(ctx, b)
	if m := contact.Email(email); m != "" {
		wrong = append(wrong, record.Problem{Path: "email", Message: m})
	} else if _, err := d.store.PersonByEmail(ctx, email); err == nil {
		wrong = append(wrong, record.Problem{Path: "email", Message: "somebody signs in with it already"})
	}
	if wrong != nil {
		return i, "", problem.Fields(wrong)
	}
	secret := Secret{ForInvitation, uuid.NewString()}
	address = d.Address() + "/invitation/" + d.SecretOf(secret)
	now := d.clock.Now()
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		i, err = store.One(invitationOf)(
			q.AddInvitation(
				ctx,
				db.AddInvitationParams{
					ID:        uuid.MustParse(secret.ID),
					Hash:      HashOf(d.SecretOf(secret)),
					Email:     email,
					Role:      string(b.Role),
					ClientID:  b.Client,
					Clients:   b.Clients,
					InvitedBy: who.Name,
					At:        now,
					Expires:   now.Add(invitedFor),
				},
			),
		)
		if err != nil {
			return err
		}
		body := fmt.Sprintf(
			"%s invites you to Uvent, as %s.\n\nSay who you are here, until %s:\n%s\n",
			who.Name,
			b.Role,
			i.Expires.Format("Mon 2 January"),
			d.Address()+"/invitation/"+Here,
		)
		m := reach.Mail{ID: "invitation-" + secret.ID, From: who.Email, As: who.Name, To: email, Subject: "Come to Uvent", Body: body, Client: b.Client}
		if err := d.letters.SendSecret(ctx, tx, m, secret); err != nil {
			return err
		}
		return d.ledger.NoteAbout(ctx, q, who.Actor(), "invited", map[string]any{"email": email, "role": b.Role, "clients": b.Clients})
	})
	return i, address, err
}

// Invitations are those that can still be taken up, the newest first.
func (d *Desk) Invitations(ctx context.Context) ([]Invitation, error) {
	return store.Each(invitationOf)(d.store.OpenInvitations(ctx, d.clock.Now()))
}

// Uninvite takes an invitation back.
func (d *Desk) Uninvite(ctx context.Context, who Actor, id uuid.UUID) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		now := d.clock.Now()
		n, err := q.WithdrawInvitation(ctx, db.WithdrawInvitationParams{ID: id, WithdrawnAt: &now})
		if err == nil && n == 0 {
			return &problem.Problem{Kind: problem.NotFound, Detail: "There is no such open invitation."}
		}
		if err != nil {
			return err
		}
		return d.ledger.NoteAbout(ctx, q, who, "uninvited", map[string]string{"invitation": id.String()})
	})
}

// errNoInvitation is what a wrong, used or old address is told.
var errNoInvitation = &problem.Problem{Kind: problem.NotFound, Detail: "This invitation cannot be used any more. Ask for another one."}

func (d *Desk) invitation(ctx context.Context, q *db.Queries, secret string) (Invitation, error) {
	row, err := q.Invitation(ctx, HashOf(secret))
	if err != nil {
		if problem.IgnoreNoRows(err) == nil {
			err = errNoInvitation
		}
		return Invitation{}, err
	}
	i := invitationOf(row)
	if i.UsedAt != nil || i.WithdrawnAt != nil || !d.clock.Now().Before(i.Expires) {
		return i, errNoInvitation
	}
	return i, nil
}

// InvitedWith tells what a secret invites to.
func (d *Desk) InvitedWith(ctx context.Context, secret string) (i Invitation, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error { i, err = d.invitation(ctx, q, secret); return err })
	return i, err
}

// Newcomer is what somebody says who takes an invitation up.
type Newcomer struct {
	Email    string // where the invitation does not say it, as that of the first
	Name     string
	Password string
	Zone     string // IANA
}

// Join takes an invitation up.
func (d *Desk) Join(ctx context.Context, secret string, who Newcomer) (p Person, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		i, err := d.invitation(ctx, q, secret)
		if err != nil {
			return err
		}
		if i.Email == "" {
			if err := d.stillNobody(ctx, q, tx); err != nil {
				return err
			}
			i.Email = strings.ToLower(strings.TrimSpace(who.Email))
			if m := contact.Email(i.Email); m != "" {
				return problem.Fields([]record.Problem{{Path: "email", Message: m}})
			}
		}
		if p, err = d.addPerson(
			ctx,
			q,
			Person{Email: i.Email, Name: who.Name, Zone: who.Zone, Role: i.Role, Client: i.ClientID, Clients: i.Clients},
			who.Password,
		); err != nil {
			return err
		}
		now := d.clock.Now()
		if err := q.UseInvitation(ctx, db.UseInvitationParams{ID: i.ID, UsedAt: &now}); err != nil {
			return err
		}
		return d.ledger.NoteAbout(ctx, q, p.Actor(), "joined", map[string]string{"email": i.Email, "role": string(i.Role), "invited_by": i.InvitedBy})
	})
	return p, err
}

// ChangeRole gives a person another role, or other clients to work for.
func (d *Desk) ChangeRole(ctx context.Context, who Actor, id uuid.UUID, b Bounds) (p Person, err error) {
	if wrong := d.checkRole(ctx, b); wrong != nil {
		return p, problem.Fields(wrong)
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := q.SetRole(ctx, db.SetRoleParams{ID: id, Role: string(b.Role), ClientID: b.Client, Clients: b.Clients})
		if err != nil {
			return problem.OrNotFound(err, "There is no such person.")
		}
		p = personOf(row)
		return d.stillAdministered(ctx, q, who, "role_changed", map[string]any{"person": p.Name, "role": b.Role, "clients": b.Clients})
	})
	return p, err
}

// stillAdministered records what was done to a person, unless nobody is left who could
// administer.
func (d *Desk) stillAdministered(ctx context.Context, q *db.Queries, who Actor, kind string, data any) error {
	if n, err := q.Administrators(ctx); err != nil || n == 0 {
		if err == nil {
			err = problem.Conflictf("Somebody has to administer; make another person administrator first.")
		}
		return err
	}
	if err := store.Notify(ctx, q, store.Change{People: true}); err != nil {
		return err
	}
	return d.ledger.NoteAbout(ctx, q, who, kind, data)
}

// TakeOver ends a person's access and gives what was theirs to another: the accounts that
// they held and the drafts that they left. It tells how many of each.
func (d *Desk) TakeOver(ctx context.Context, who Actor, from, to uuid.UUID) (accounts, drafts int64, err error) {
	if from == to {
		return 0, 0, problem.Conflictf("Name somebody else to take it over.")
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		heir, err := q.Person(ctx, to)
		if err != nil {
			return problem.OrNotFound(err, "There is no such person to take it over.")
		}
		if Role(heir.Role) == OfClient {
			return problem.Conflictf("%s is of a client and cannot take over.", heir.Name)
		}
		if heir.Clients != nil {
			return problem.Conflictf("%s works for some clients only and cannot take over.", heir.Name)
		}
		gone, err := q.EndPerson(ctx, db.EndPersonParams{ID: from, Now: d.clock.Now()})
		if err != nil {
			return problem.OrNotFound(err, "There is no such person.")
		}
		if accounts, err = q.MoveAccounts(ctx, db.MoveAccountsParams{PersonID: &from, PersonID_2: &to, Holder: heir.Name}); err != nil {
			return err
		}
		if drafts, err = q.MoveDrafts(ctx, db.MoveDraftsParams{PersonID: from, PersonID_2: to}); err != nil {
			return err
		}
		return d.stillAdministered(ctx, q, who, "taken_over", map[string]any{"from": gone.Name, "to": heir.Name, "accounts": accounts, "drafts": drafts})
	})
	return accounts, drafts, err
}
