package boards

import (
	"context"
	"strings"

	"github.com/google/uuid"

	"uvent/core/listing/handover"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/store"
	"uvent/store/db"
)

// Handover is how a client that leaves us gets back what is its own.
type Handover struct {
	Client   ledger.Client
	Listings []HandedListing
	Pages    []uuid.UUID // private pages of the owner that still work
	Accounts []records.Account
	Letter   string
}

// HandedListing is a listing of ours, and how it goes back.
type HandedListing struct {
	ledger.Place
	Label, DirectoryName, PageURL string
	handover.Step
}

// Handover lays out how a client gets back what is its own: by location, the directories that count most first.
func (d *Desk) Handover(ctx context.Context, who people.Person, client uuid.UUID) (out Handover, err error) {
	q := d.store.Reading(ctx)
	if out.Client, err = store.One(ledger.ClientOf)(q.Client(ctx, client)); err != nil {
		return out, problem.OrNotFound(err, "There is no such client.")
	}
	locations, err := d.records.Locations(ctx, ledger.Scope{Clients: []uuid.UUID{client}})
	if err != nil {
		return out, err
	}
	ids := make([]uuid.UUID, len(locations))
	for i, l := range locations {
		ids[i] = l.ID
	}
	states, err := ledger.StatesOf(ctx, q, ids)
	if err != nil {
		return out, err
	}
	with := map[string]bool{} // directories on which something of theirs is ours
	books := d.shelf.Books()  // the heaviest first
	var places []handover.Place
	for _, l := range locations {
		for _, b := range books {
			at := ledger.Place{Location: l.ID, Directory: b.ID}
			st, begun := states[at]
			step, ours := handover.Of(handover.Listing{Book: &b, State: st, Owner: out.Client.OwnerEmail})
			if !begun || !ours {
				continue
			}
			with[b.ID] = true
			one := HandedListing{Place: at, Label: l.Label, DirectoryName: b.Name, PageURL: d.pageURL(b, st.Page), Step: step}
			out.Listings = append(out.Listings, one)
			places = append(places, handover.Place{Label: one.Label, Directory: b.Name, Page: one.PageURL, Step: step})
		}
	}
	if out.Pages, err = q.OpenOwnerPages(ctx, db.OpenOwnerPagesParams{ClientID: client, Now: d.clock.Now()}); err != nil {
		return out, err
	}
	var accounts []records.Account
	if !who.Limited() { // they are all clients', and for those who see all
		if accounts, err = d.records.Accounts(ctx); err != nil {
			return out, err
		}
	}
	var said []string
	for _, a := range accounts {
		if with[a.DirectoryID] && !a.Gone {
			out.Accounts = append(out.Accounts, a)
			said = append(said, d.shelf.DirectoryName(a.DirectoryID)+": "+a.Email)
		}
	}
	first, _, _ := strings.Cut(out.Client.OwnerName, " ")
	out.Letter = handover.Letter(first, out.Client.Name, who.Name, places, said)
	return out, nil
}
