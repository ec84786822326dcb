package desk

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"uvent/core/agenda"
	"uvent/core/compare"
	"uvent/core/fit"
	"uvent/core/rulebook"
	"uvent/core/verification"
	"uvent/store/db"
)

// Cell is one location on one directory, in a view over many.
type Cell struct {
	Place
	Book     rulebook.Rulebook
	State    verification.State
	NotFor   string       // why the location cannot be listed there; empty when it can
	Task     *agenda.Task // what it asks for now
	Location db.Location
	Client   db.Client
}

// Cells lists every location in a scope on every directory, by client, location
// and weight.
func (d *Desk) Cells(ctx context.Context, s Scope) ([]Cell, error) {
	clients, err := d.Clients(ctx)
	if err != nil {
		return nil, err
	}
	locations, err := d.Locations(ctx, s)
	if err != nil {
		return nil, err
	}
	rows, err := d.store.Listings(ctx, db.ListingsParams{ClientID: s.Client, LocationID: s.Location})
	if err != nil {
		return nil, err
	}
	states := map[Place]verification.State{}
	for _, r := range rows {
		states[Place{r.LocationID, r.DirectoryID}] = r.State
	}
	of := map[uuid.UUID][]db.Location{}
	for _, l := range locations {
		of[l.ClientID] = append(of[l.ClientID], l)
	}
	now := d.Now()
	var out []Cell
	for _, c := range clients {
		for _, l := range of[c.ID] {
			for _, b := range d.books {
				cell := Cell{Place: Place{l.ID, b.ID}, Book: b, NotFor: b.MayList(l.Record), Location: l, Client: c, State: verification.Start()}
				if st, ok := states[cell.Place]; ok {
					cell.State = st
				}
				if t, ok := agenda.For(agendaListing(cell), now); ok {
					cell.Task = &t
				}
				out = append(out, cell)
			}
		}
	}
	return out, nil
}

func agendaListing(c Cell) agenda.Listing {
	owner := c.Location.Record.Mailing.Contact
	if owner == "" {
		owner = c.Client.OwnerName
	}
	return agenda.Listing{Label: c.Location.Label, Owner: owner, Record: c.Location.Record, Book: c.Book, State: c.State}
}

// Today lists what is to be done or waited for in a scope, the soonest loss first.
func (d *Desk) Today(ctx context.Context, s Scope) ([]Cell, error) {
	cells, err := d.Cells(ctx, s)
	if err != nil {
		return nil, err
	}
	var out []Cell
	for _, c := range cells {
		if c.Task != nil {
			out = append(out, c)
		}
	}
	agenda.Sort(out, func(c Cell) agenda.Task { return *c.Task })
	return out, nil
}

// pagePatience is how long a page waits to hear what a directory offers today.
// After that the rulebook alone must do; asking for a code waits longer.
const pagePatience = 60 * time.Millisecond

// ListingView is all that the listing's page shows.
type ListingView struct {
	Cell
	Facts   []compare.Line
	Ways    []verification.Way
	Missing []string // what keeps the directory from taking the record
	PageURL string
	Account string
	History []verification.Event
}

// Listing is one location on one directory, with everything about it.
func (d *Desk) Listing(ctx context.Context, at Place) (ListingView, error) {
	book, err := d.Book(at.Directory)
	if err != nil {
		return ListingView{}, err
	}
	v := ListingView{Cell: Cell{Place: at, Book: book, State: verification.Start()}, Account: d.reach.Account()}
	if v.Location, err = d.Location(ctx, at.Location); err != nil {
		return v, err
	}
	if v.Client, err = d.store.Client(ctx, v.Location.ClientID); err != nil {
		return v, err
	}
	row, err := d.store.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: at.Directory})
	if err == nil {
		v.State = row.State
	} else if ignoreNoRows(err) != nil {
		return v, err
	}
	offered, err := d.offered(ctx, at, pagePatience)
	if err != nil {
		return v, err
	}
	if v.History, err = d.events(ctx, at); err != nil {
		return v, err
	}
	r, now := v.Location.Record, d.Now()
	v.NotFor = book.MayList(r)
	if t, ok := agenda.For(agendaListing(v.Cell), now); ok {
		v.Task = &t
	}
	v.Facts = compare.Facts(r, book, v.State.Sighting)
	v.Missing = fit.Missing(r, book)
	v.Ways = verification.Ways(book, r, v.State, now, offered)
	if v.State.Page != "" {
		v.PageURL = d.reach.PageURL(book.Connector.URL, v.State.Page)
	}
	return v, nil
}

// Describe says an event in words, for the listing's history.
func Describe(e verification.Event, book rulebook.Rulebook) string {
	switch e.Kind {
	case verification.SearchAsked:
		return "Searched " + book.Name + "."
	case verification.Searched:
		switch len(e.Candidates) {
		case 0:
			return "Found nothing like it."
		case 1:
			return "Found one listing that may be it."
		}
		return fmt.Sprintf("Found %d listings that may be it.", len(e.Candidates))
	case verification.ClaimAsked:
		return "Claimed a listing that was there."
	case verification.ClaimGranted:
		return "The claim was granted."
	case verification.CreateAsked:
		return "Created a listing from the record."
	case verification.Created:
		return "The listing was taken in."
	case verification.CodeAsked:
		return fmt.Sprintf("Asked for a code: %s to %s.", verification.Title(e.Method), e.To)
	case verification.CodeSent:
		return "The code was sent."
	case verification.CodeArrived:
		return "The code is in hand."
	case verification.CodeEntered:
		return "Entered a code."
	case verification.CodeAccepted:
		return "The code was right: verified."
	case verification.AttemptExpired:
		return "The code stopped working."
	case verification.SeenPublic:
		return "Looked: the listing is public."
	case verification.NotSeen:
		return "Looked: the listing does not show."
	}
	return e.Says
}
