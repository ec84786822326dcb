package owners

import (
	"context"
	"fmt"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// mailOwner writes to the owner with a page's address.
func (d *Desk) mailOwner(ctx context.Context, tx pgx.Tx, link OwnerLink, name string, w verification.OwnerWords, again bool) error {
	hello := "Hello"
	if name != "" {
		hello += " " + strings.Fields(name)[0]
	}
	subject, first := w.Title, w.Why
	if again {
		subject, first = "Reminder: "+w.Title, "this is still open. "+w.Why
	}
	body := fmt.Sprintf(
		"%s,\n\n%s\n\n%s\n%s\n\n%s\n\n%s\nYou need no account and no password; the address is yours alone.\n\n%s\n",
		hello,
		first,
		w.What,
		w.How,
		d.ownerAddress(people.Here),
		w.Until,
		link.MadeBy,
	)
	m := reach.Mail{ID: uuid.NewString(), From: link.MadeFrom, As: link.MadeBy, To: link.SentTo, Subject: subject, Body: body, Location: &link.LocationID}
	return d.letters.SendSecret(ctx, tx, m, secretOf(link))
}

// RemindOwners writes to the owners whose pages are still open, and enqueues the calls
// that they have chosen.
func (d *Desk) RemindOwners(ctx context.Context, q *db.Queries, tx pgx.Tx) error {
	due, err := store.Each(LinkOf)(q.TakeDueReminders(ctx, d.clock.Now()))
	if err != nil {
		return err
	}
	for _, link := range due {
		if err := d.remind(ctx, q, tx, link); err != nil {
			return err
		}
	}
	now := d.clock.Now()
	calls, err := q.TakeDueCalls(ctx, &now)
	for _, id := range calls {
		if _, err := d.jobs.InsertTx(ctx, tx, ownerCallJob{id}, nil); err != nil {
			return err
		}
	}
	return err
}

// remind writes to an owner again.
func (d *Desk) remind(ctx context.Context, q *db.Queries, tx pgx.Tx, link OwnerLink) error {
	book, err := d.shelf.Book(link.DirectoryID)
	if err != nil {
		return nil // the directory is no more
	}
	location, err := store.One(ledger.LocationOf)(q.Location(ctx, link.LocationID))
	if err != nil {
		return err
	}
	client, err := store.One(ledger.ClientOf)(q.Client(ctx, location.ClientID))
	if err != nil {
		return err
	}
	row, err := q.Listing(ctx, db.ListingParams{LocationID: link.LocationID, DirectoryID: link.DirectoryID})
	if err != nil || StateOfLink(link, row.State, d.clock.Now()) != LinkOpen {
		return problem.IgnoreNoRows(err)
	}
	hash := people.HashOf(d.people.SecretOf(secretOf(link))) // another than before, where the server has another key
	if err := q.AddOwnerToken(ctx, db.AddOwnerTokenParams{Hash: hash, LinkID: link.ID}); err != nil {
		return err
	}
	words := ownerOf(link, book, location.Record, row.State, d.clock.Now()).Words()
	return d.mailOwner(ctx, tx, link, client.OwnerName, words, true)
}
