package boards

import (
	"context"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/language"
	"uvent/core/listing/giving"
	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/rule/compare"
	"uvent/core/rule/cost"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/matters"
	"uvent/desk/owners"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/desk/sightings"
	"uvent/store"
	"uvent/store/db"
)

// Cell is one location on one directory, in a view over many.
type Cell struct {
	ledger.Place
	Book     *rulebook.Rulebook
	State    verification.State
	Fit      records.Fitted // how the location fits there
	NotFor   string         // why the location cannot be listed there; empty when it can
	Task     *agenda.Task   // what it asks for now
	Matter   *Matter        // of the task, where it was read for Today
	Location *ledger.Location
	Client   *ledger.Client
}

// Begun lists the listings of a scope that were begun, by client, location and weight.
func (d *Desk) Begun(ctx context.Context, s ledger.Scope) ([]Cell, error) {
	return d.cells(ctx, s, func(_ string, begun, _ bool) bool { return begun })
}

// Cells lists every location in a scope on every directory, by client, location
// and weight.
func (d *Desk) Cells(ctx context.Context, s ledger.Scope) ([]Cell, error) {
	return d.cells(ctx, s, func(string, bool, bool) bool { return true })
}

// cells lists those that are kept, by whether they were begun and are wanted.
func (d *Desk) cells(ctx context.Context, s ledger.Scope, keep func(directory string, begun, wanted bool) bool) ([]Cell, error) {
	clients, err := d.records.Clients(ctx)
	if err != nil {
		return nil, err
	}
	locations, err := d.records.Locations(ctx, s)
	if err != nil {
		return nil, err
	}
	rows, err := d.store.Reading(ctx).Listings(ctx, db.ListingsParams{Clients: s.Clients, LocationID: s.Location})
	if err != nil {
		return nil, err
	}
	if err := d.records.KnowFits(ctx, s); err != nil {
		return nil, err
	}
	fits, err := d.records.FitsOf(ctx, s)
	if err != nil {
		return nil, err
	}
	states := map[ledger.Place]verification.State{}
	for _, r := range rows {
		states[ledger.Place{Location: r.LocationID, Directory: r.DirectoryID}] = r.State
	}
	ids := make([]uuid.UUID, len(locations))
	for i, l := range locations {
		ids[i] = l.ID
	}
	pages, err := matters.PagesOf(ctx, d.store.Reading(ctx), ids)
	if err != nil {
		return nil, err
	}
	of := map[uuid.UUID][]*ledger.Location{}
	for i := range locations {
		l := &locations[i]
		of[l.ClientID] = append(of[l.ClientID], l)
	}
	now := d.clock.Now()
	var out []Cell
	for i := range clients {
		c := &clients[i]
		for _, l := range of[c.ID] {
			out = append(out, d.cellsOf(c, l, fits[l.ID], states, pages, keep, now)...)
		}
	}
	return out, nil
}

// cellsOf are a location's on every directory that is kept.
func (d *Desk) cellsOf(
	c *ledger.Client,
	l *ledger.Location,
	fits map[string]records.Fitted,
	states map[ledger.Place]verification.State,
	pages map[ledger.Place]*agenda.OwnerPage,
	keep func(directory string, begun, wanted bool) bool,
	now time.Time,
) (out []Cell) {
	books := d.shelf.Books()
	for i := range books {
		b := &books[i]
		f := fits[b.ID]
		st, begun := states[ledger.Place{Location: l.ID, Directory: b.ID}]
		if !keep(b.ID, begun, f.Wanted) {
			continue
		}
		cell := Cell{Place: ledger.Place{Location: l.ID, Directory: b.ID}, Book: b, Fit: f, NotFor: f.Not, Location: l, Client: c, State: verification.Start()}
		if begun {
			cell.State = st
		}
		if begun || f.Wanted {
			asks := matters.AgendaListing(b, l, c, cell.State, pages[cell.Place])
			t, ok := agenda.For(asks, now)
			if !ok && f.Asks > 0 {
				t, ok = agenda.InDoubt(asks, f.Asks), true
			}
			if ok {
				cell.Task = &t
			}
		}
		out = append(out, cell)
	}
	return out
}

// inWork keeps what was begun or is wanted.
func inWork(_ string, begun, wanted bool) bool { return begun || wanted }

// pagePatience is how long a page waits to hear what a directory offers today.
// After that the rulebook alone must do; asking for a code waits longer.
const pagePatience = 60 * time.Millisecond

// FactLine is a fact of the record beside what was seen, with what a difference costs.
type FactLine struct {
	compare.Line
	Cost cost.Cost
}

// ListingView is all that the listing's page shows.
type ListingView struct {
	Cell
	Facts   []FactLine
	Ways    []verification.Way
	Missing []string // what keeps the directory from taking the record
	PageURL string
	Left    []LeftView
	Account string
	History []verification.Event
	Photos  int                  // photos that fit there, where a program can give them
	Copies  []listings.CopyOffer // the directories that it could be copied from
	Links   []owners.OwnerLink

	Filming    *files.Filming           // none: no video is sent there
	OwnerTasks []verification.OwnerTask // that the owner can be asked for now
	Changed    giving.Changes           // what it was given otherwise
	Caution    listings.Caution         // what sending that may set off
	Papers     []files.Compared         // that the directory would take as a proof
}

// LeftView is a listing that stays with a place where the location was.
type LeftView struct {
	verification.Left
	PageURL string // empty where no page is known
}

// ShownElsewhere are the other directories on which a listing's location shows by what we do, and where we may take it out of
// view.
func (d *Desk) ShownElsewhere(ctx context.Context, at ledger.Place) (out []rulebook.Rulebook, err error) {
	rows, err := d.store.Reading(ctx).ListingsOf(ctx, []uuid.UUID{at.Location})
	for _, r := range rows {
		shows := r.Visibility == string(verification.Public) || r.Visibility == string(verification.Publishing)
		if book, err := d.shelf.Book(
			r.DirectoryID,
		); err == nil && shows && r.DirectoryID != at.Directory && r.Control == string(verification.Held) &&
			!book.Worked.People() {
			out = append(out, book)
		}
	}
	return out, err
}

// toGive adds what a directory is still to be given, and what it could copy.
func (d *Desk) toGive(ctx context.Context, v *ListingView, s *fit.Subject) (err error) {
	if v.State.Control == verification.NoControl && v.NotFor == "" {
		v.Copies, err = listings.CopyOffers(ctx, d.store.Reading(ctx), d.shelf, s, v.Place, v.Book)
		return err
	}
	if v.State.Control != verification.Held || v.Book.Worked != rulebook.Connected {
		return nil
	}
	last, _, err := listings.LastGiven(ctx, d.store.Reading(ctx), v.Place)
	if err != nil {
		return err
	}
	v.Changed = giving.Listing{Book: v.Book, State: v.State, Last: last}.Due(s)
	if len(v.Changed) > 0 {
		subject, err := records.RiskSubject(ctx, d.store.Reading(ctx), *v.Location)
		if err != nil {
			return err
		}
		v.Caution = listings.Weigh(v.Book, subject, v.Changed.Keys(), v.State)
	}
	return nil
}

// Listing is one location on one directory, with everything about it.
func (d *Desk) Listing(ctx context.Context, at ledger.Place) (ListingView, error) {
	book, err := d.shelf.Book(at.Directory)
	if err != nil {
		return ListingView{}, err
	}
	location, err := d.ledger.Location(ctx, at.Location)
	if err != nil {
		return ListingView{}, err
	}
	client, err := store.One(ledger.ClientOf)(d.store.Reading(ctx).Client(ctx, location.ClientID))
	if err != nil {
		return ListingView{}, err
	}
	v := ListingView{Cell: Cell{Place: at, Book: &book, Location: &location, Client: &client, State: verification.Start()}, Account: d.reach.Account()}
	row, err := d.store.Reading(ctx).Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: at.Directory})
	if err == nil {
		v.State = row.State
	} else if problem.IgnoreNoRows(err) != nil {
		return v, err
	}
	offered, err := d.listings.Offered(ctx, at, pagePatience)
	if err != nil {
		return v, err
	}
	if v.History, err = d.ledger.Events(ctx, at); err != nil {
		return v, err
	}
	r, now := v.Location.Record, d.clock.Now()
	v.NotFor = book.MayList(r)
	pages, err := matters.PagesOf(ctx, d.store.Reading(ctx), []uuid.UUID{at.Location})
	if err != nil {
		return v, err
	}
	if t, ok := agenda.For(matters.AgendaListing(&book, &location, &client, v.State, pages[at]), now); ok {
		v.Task = &t
	}
	for _, l := range compare.Facts(r, book, v.State.Sighting, r.Today(now)) {
		v.Facts = append(v.Facts, FactLine{l, cost.OfLine(l, r, cost.Acting(book.Weight))})
	}
	s, err := records.FitSubject(ctx, d.store.Reading(ctx), location, now)
	if err != nil {
		return v, err
	}
	v.Missing = fit.Of(s, &book).Whys()
	if book.Connector.URL != "" && v.NotFor == "" {
		v.Photos = len(listings.PhotosFor(s, &book))
	}
	if err := d.toGive(ctx, &v, s); err != nil {
		return v, err
	}
	papers, err := store.Each(files.PaperOf)(d.store.Reading(ctx).Papers(ctx, db.PapersParams{ClientID: v.Location.ClientID, LocationID: &at.Location}))
	if err != nil {
		return v, err
	}
	past, err := d.ledger.Past(ctx)
	if err != nil {
		return v, err
	}
	if v.Links, err = store.Each(
		owners.LinkOf,
	)(
		d.store.Reading(ctx).OwnerLinks(ctx, db.OwnerLinksParams{LocationID: at.Location, DirectoryID: at.Directory}),
	); err != nil {
		return v, err
	}
	l := ledger.Listing{Place: at, Now: now, Where: location, Client: client, Book: book, State: v.State}
	v.OwnerTasks = owners.OwnerTasks(&l)
	v.Filming = files.FilmingFor(book, r, papers, language.English)
	proof, _ := book.Way(rulebook.Papers)
	v.Papers = files.CompareAll(papers, proof.Papers, r, now)
	v.Ways = verification.Ways(
		verification.Question{Book: book, Record: r, State: v.State, Now: now, Offered: offered, Papers: files.PapersFor(papers, r, now), Past: past[book.ID]},
	)
	v.PageURL = d.pageURL(book, v.State.Page)
	for _, l := range v.State.Left {
		v.Left = append(v.Left, LeftView{l, d.pageURL(book, l.Was.Page)})
	}
	return v, nil
}

// pageURL is where people open a page of a directory; empty where none is known.
func (d *Desk) pageURL(book rulebook.Rulebook, page string) string {
	if page == "" {
		return ""
	}
	return d.reach.PageURL(sightings.Home(book), page)
}
