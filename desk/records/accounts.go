package records

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/fact/contact"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Account is one by which a directory knows us, and what is wrong with it.
type Account struct {
	ID          uuid.UUID
	DirectoryID string
	Email       string
	Holder      string     // who can sign in with it
	PersonID    *uuid.UUID // the holder, where they work here
	Class       string
	Confirmed   bool // its email
	Personal    bool // a person's own account stands behind it
	Note        string
	Gone        bool // its holder is nobody here any more
	ChangedBy   string
	ChangedAt   time.Time
	Warnings    []string
}

func accountOf(row db.Account) Account {
	return Account{
		ID:          row.ID,
		DirectoryID: row.DirectoryID,
		Email:       row.Email,
		Holder:      row.Holder,
		PersonID:    row.PersonID,
		Class:       row.Class,
		Confirmed:   row.Confirmed,
		Personal:    row.Personal,
		Note:        row.Note,
		Gone:        row.Gone,
		ChangedBy:   row.ChangedBy,
		ChangedAt:   row.ChangedAt,
	}
}

// Accounts lists the accounts by directory, with what speaks against each: a holder who
// is nobody any more, an email that was not confirmed, a class too small for what it holds.
func (d *Desk) Accounts(ctx context.Context) ([]Account, error) {
	out, err := store.Each(accountOf)(d.store.Accounts(ctx))
	if err != nil {
		return nil, err
	}
	held, err := d.heldBy(ctx)
	if err != nil {
		return nil, err
	}
	people, err := d.people.People(ctx)
	if err != nil {
		return nil, err
	}
	here := map[uuid.UUID]bool{}
	for _, p := range people {
		here[p.ID] = true
	}
	for i, r := range out {
		book, err := d.shelf.Book(r.DirectoryID)
		if err != nil {
			continue
		}
		out[i].Warnings = warnings(r, book, held[r.DirectoryID], r.PersonID != nil && !here[*r.PersonID])
	}
	return out, nil
}

func warnings(a Account, book rulebook.Rulebook, held int, left bool) (out []string) {
	if a.Gone || left {
		out = append(out, fmt.Sprintf("%s is nobody here any more. Whoever can still sign in must hand the account over, or %s must be asked.", a.Holder, book.Name))
	}
	if book.Account.EmailConfirmed && !a.Confirmed {
		out = append(out, "Its email is not confirmed, and "+book.Name+" wants that first.")
	}
	if book.Account.Personal && !a.Personal {
		out = append(out, "No person’s own account stands behind it, and "+book.Name+" wants one.")
	}
	if want := book.Account.Class(held); want != "" && a.Class != want {
		out = append(out, fmt.Sprintf("%d locations call for the class %s.", held, want))
	}
	return out
}

// heldBy counts the listings that are held, by directory.
func (d *Desk) heldBy(ctx context.Context) (map[string]int, error) {
	rows, err := d.store.HeldByDirectory(ctx)
	out := map[string]int{}
	for _, r := range rows {
		out[r.DirectoryID] = int(r.Count)
	}
	return out, err
}

// AccountFacts are what is kept of an account.
type AccountFacts struct {
	Directory string
	Email     string
	Holder    string
	Person    *uuid.UUID
	Class     string
	Confirmed bool
	Personal  bool
	Note      string
	Gone      bool
}

// SaveAccount adds an account, or changes the one with the id.
func (d *Desk) SaveAccount(ctx context.Context, actor people.Actor, id *uuid.UUID, f AccountFacts) (out Account, err error) {
	book, err := d.shelf.Book(f.Directory)
	if err != nil {
		return out, err
	}
	var wrong []record.Problem
	f.Holder, f.Class = strings.TrimSpace(f.Holder), strings.TrimSpace(f.Class)
	if f.Holder == "" {
		wrong = append(wrong, record.Problem{Path: "holder", Message: "Say who can sign in with it."})
	}
	if f.Email = strings.ToLower(strings.TrimSpace(f.Email)); contact.Email(f.Email) != "" {
		wrong = append(wrong, record.Problem{Path: "email", Message: "Give the email that it signs in with, such as listings@agency.example."})
	}
	if len(f.Note) > 1000 {
		wrong = append(wrong, record.Problem{Path: "note", Message: "A note has 1,000 characters at most."})
	}
	if wrong != nil {
		return out, problem.Fields(wrong)
	}
	held, err := d.heldBy(ctx)
	if err != nil {
		return out, err
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		key := uuid.New()
		if id != nil {
			old, err := q.AccountByID(ctx, *id)
			if err != nil {
				return problem.OrNotFound(err, "There is no such account.")
			}
			if old.DirectoryID != f.Directory {
				return problem.Conflictf("An account stays with its directory; add another for %s.", book.Name)
			}
			key = *id
		}
		out, err = store.One(accountOf)(
			q.SaveAccount(ctx, db.SaveAccountParams{ID: key, DirectoryID: f.Directory, Email: f.Email, Holder: f.Holder, PersonID: f.Person, Class: f.Class,
				Confirmed: f.Confirmed, Personal: f.Personal, Note: f.Note, Gone: f.Gone, ChangedBy: actor.Name, ChangedAt: d.clock.Now()}),
		)
		if err != nil {
			return problem.Taken(err)
		}
		return store.Notify(ctx, q, store.Change{})
	})
	out.Warnings = warnings(out, book, held[f.Directory], false)
	return out, err
}

// DropAccount takes an account out of the list.
func (d *Desk) DropAccount(ctx context.Context, id uuid.UUID) error {
	n, err := d.store.DropAccount(ctx, id)
	if err == nil && n == 0 {
		return &problem.Problem{Kind: problem.NotFound, Detail: "There is no such account."}
	}
	return err
}
