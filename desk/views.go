package desk

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"uvent/core/listing/course"
	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/store/db"
)

// Cell is one location on one directory, in a view over many.
type Cell struct {
	Place
	Book     *rulebook.Rulebook
	State    verification.State
	Fit      Fitted       // how the location fits there
	NotFor   string       // why the location cannot be listed there; empty when it can
	Task     *agenda.Task // what it asks for now
	Location *db.Location
	Client   *db.Client
}

// Begun lists the listings of a scope that were begun, by client, location and weight.
func (d *Desk) Begun(ctx context.Context, s Scope) ([]Cell, error) {
	return d.cells(ctx, s, func(_ string, begun, _ bool) bool { return begun })
}

// Cells lists every location in a scope on every directory, by client, location
// and weight.
func (d *Desk) Cells(ctx context.Context, s Scope) ([]Cell, error) {
	return d.cells(ctx, s, func(string, bool, bool) bool { return true })
}

// cells lists those that are kept, by whether they were begun and are wanted.
func (d *Desk) cells(ctx context.Context, s Scope, keep func(directory string, begun, wanted bool) bool) ([]Cell, error) {
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
	if err := d.fitted(ctx, s); err != nil {
		return nil, err
	}
	fits, err := d.fitsOf(ctx, s)
	if err != nil {
		return nil, err
	}
	states := map[Place]verification.State{}
	for _, r := range rows {
		states[Place{r.LocationID, r.DirectoryID}] = r.State
	}
	of := map[uuid.UUID][]*db.Location{}
	for i := range locations {
		l := &locations[i]
		of[l.ClientID] = append(of[l.ClientID], l)
	}
	now := d.clock.Now()
	var out []Cell
	for i := range clients {
		c := &clients[i]
		for _, l := range of[c.ID] {
			out = append(out, d.cellsOf(c, l, fits[l.ID], states, keep, now)...)
		}
	}
	return out, nil
}

// cellsOf are a location's on every directory that is kept.
func (d *Desk) cellsOf(c *db.Client, l *db.Location, fits map[string]Fitted, states map[Place]verification.State, keep func(directory string, begun, wanted bool) bool, now time.Time) (out []Cell) {
	books := d.Books()
	for i := range books {
		b := &books[i]
		f := fits[b.ID]
		st, begun := states[Place{l.ID, b.ID}]
		if !keep(b.ID, begun, f.Wanted) {
			continue
		}
		cell := Cell{Place: Place{l.ID, b.ID}, Book: b, Fit: f, NotFor: f.Not, Location: l, Client: c, State: verification.Start()}
		if begun {
			cell.State = st
		}
		if begun || f.Wanted {
			if t, ok := agenda.For(agendaListing(b, l, c, cell.State), now); ok {
				cell.Task = &t
			}
		}
		out = append(out, cell)
	}
	return out
}

// inWork keeps what was begun or is wanted.
func inWork(_ string, begun, wanted bool) bool { return begun || wanted }

// fitsOf reads how the locations of a scope fit each directory.
func (d *Desk) fitsOf(ctx context.Context, s Scope) (map[uuid.UUID]map[string]Fitted, error) {
	rows, err := d.store.Fits(ctx, db.FitsParams{ClientID: s.Client, LocationID: s.Location})
	if err != nil {
		return nil, err
	}
	return readFits(rows)
}

func readFits(rows []db.LocationFit) (map[uuid.UUID]map[string]Fitted, error) {
	out := make(map[uuid.UUID]map[string]Fitted, len(rows))
	for _, r := range rows {
		cells := map[string]Fitted{}
		if err := json.Unmarshal(r.Cells, &cells); err != nil {
			return nil, err
		}
		out[r.LocationID] = cells
	}
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
	Photos  int        // photos that fit there, where a program can give them
	Left    fit.Values // what did not come along when the listing was copied
	Links   []OwnerLink

	Filming    *Filming                 // none: no video is sent there
	OwnerTasks []verification.OwnerTask // that the owner can be asked for now
	Changed    []Changed                // what it was given otherwise
	Caution    Caution                  // what sending that may set off
	Papers     []Compared               // that the directory would take as a proof
}

// Listing is one location on one directory, with everything about it.
func (d *Desk) Listing(ctx context.Context, at Place) (ListingView, error) {
	book, err := d.Book(at.Directory)
	if err != nil {
		return ListingView{}, err
	}
	location, err := d.Location(ctx, at.Location)
	if err != nil {
		return ListingView{}, err
	}
	client, err := d.store.Client(ctx, location.ClientID)
	if err != nil {
		return ListingView{}, err
	}
	v := ListingView{Cell: Cell{Place: at, Book: &book, Location: &location, Client: &client, State: verification.Start()}, Account: d.reach.Account()}
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
	r, now := v.Location.Record, d.clock.Now()
	v.NotFor = book.MayList(r)
	if t, ok := agenda.For(agendaListing(&book, &location, &client, v.State), now); ok {
		v.Task = &t
	}
	v.Facts = compare.Facts(r, book, v.State.Sighting)
	s, err := fitSubject(ctx, d.store.Queries, location)
	if err != nil {
		return v, err
	}
	v.Missing = fit.Of(s, &book).Whys()
	if book.Connector.URL != "" && v.NotFor == "" {
		v.Photos = len(photosFor(s, &book))
	}
	if v.State.Control == verification.Held && book.Worked == rulebook.Connected {
		last, _, err := lastGiven(ctx, d.store.Queries, at)
		if err != nil {
			return v, err
		}
		v.Changed = changed(book, fit.Compose(s, &book), last, v.Facts)
		if len(v.Changed) > 0 {
			subject, err := riskSubject(ctx, d.store.Queries, location)
			if err != nil {
				return v, err
			}
			v.Caution = caution(&book, subject, keysOfChanged(v.Changed), v.State)
		}
	}
	if from, err := d.Book(v.State.CopiedFrom); err == nil && v.State.Control == verification.Held {
		v.Left = fit.LeftBehind(s, &from, &book)
	}
	papers, err := d.store.Papers(ctx, db.PapersParams{ClientID: v.Location.ClientID, LocationID: &at.Location})
	if err != nil {
		return v, err
	}
	past, err := d.past(ctx)
	if err != nil {
		return v, err
	}
	if v.Links, err = d.store.OwnerLinks(ctx, db.OwnerLinksParams{LocationID: at.Location, DirectoryID: at.Directory}); err != nil {
		return v, err
	}
	l := listing{Place: at, now: now, location: location, client: client, book: book, state: v.State}
	v.OwnerTasks = ownerTasks(&l)
	v.Filming = filming(book, r, papers)
	proof, _ := book.Way(rulebook.Papers)
	v.Papers = compared(papers, proof.Papers, r, now)
	v.Ways = verification.Ways(verification.Question{Book: book, Record: r, State: v.State, Now: now, Offered: offered, Papers: papersFor(papers, r, now), Past: past[book.ID]})
	if v.State.Page != "" {
		v.PageURL = d.reach.PageURL(home(book), v.State.Page)
	}
	return v, nil
}

// offeredSays is what the directory offered when one of its ways was asked for.
func offeredSays(e verification.Event) string {
	if len(e.Offered) == 0 {
		return ""
	}
	titles := make([]string, len(e.Offered))
	for i, m := range e.Offered {
		titles[i] = strings.ToLower(verification.Title(m))
	}
	return " Offered then: " + strings.Join(titles, ", ") + "."
}

// Describe says an event in words, for the listing's history.
func Describe(e verification.Event, book rulebook.Rulebook) string {
	switch e.Kind {
	case verification.SearchAsked:
		return strings.TrimSpace("Searched " + book.Name + ". " + e.Says)
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
		return fmt.Sprintf("Asked for a code: %s to %s.", verification.Title(e.Method), e.To) + offeredSays(e)
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
	case verification.ReviewAsked:
		return fmt.Sprintf("Asked for verification: %s, with %s.", strings.ToLower(verification.Title(e.Method)), e.To) + offeredSays(e)
	case verification.ReviewBegun:
		return "They are looking into it."
	case verification.SecondLook:
		return "The code was right; they take a second look."
	case verification.StillInReview:
		return "Asked: they are still looking into it."
	case verification.ReviewPassed:
		return "They said yes: verified."
	case verification.CopyAsked:
		return "Asked it to copy the listing from another directory."
	case verification.Copied:
		return "Copied, as far as it carries."
	case verification.PhotosAsked:
		return fmt.Sprintf("Gave it %d photos.", e.Photos)
	case verification.PhotosGiven:
		return "The photos were taken."
	case verification.Given:
		switch e.How {
		case verification.ByLetter:
			return fmt.Sprintf("Wrote to %s, with %d values.", e.To, len(e.Values))
		case verification.ByFile:
			return "Handed it in with a file."
		}
		return fmt.Sprintf("Gave %d values by hand.", len(e.Values))
	case verification.DuplicateAsked:
		return "Reported a second listing."
	case verification.DuplicateBegun:
		return "They are looking into the second listing."
	case verification.DuplicateWaiting:
		return "Asked: there is no answer on the second listing yet."
	case verification.LinkMade:
		if e.To == "" {
			return "Made a private page for the owner: " + e.Says + "."
		}
		return "Wrote to " + e.To + " with a private page: " + e.Says + "."
	case verification.LinkOpened:
		return "Opened the private page."
	case verification.LinkWithdrawn:
		return "Withdrew the private page."
	case verification.SendAsked:
		return "Sent what has changed."
	case verification.SuggestAsked:
		return "Suggested another " + strings.ToLower(e.To) + ", which " + e.Page + " shows."
	case verification.RoleAsked:
		return "Gave " + e.To + " the role of " + e.Says + "."
	case verification.WithdrawAsked:
		return "Took it out of public view: " + e.Says
	case verification.MarkAsked:
		return "Asked for it to be shown as " + course.Word(record.StateKind(e.To)) + "."
	case verification.MarkedThere:
		return "It is shown as " + course.Word(record.StateKind(e.To)) + "."
	case verification.ToldThere:
		return "Told them that it is " + course.Word(record.StateKind(e.To)) + "."
	case verification.WithdrawnThere:
		return "It is out of public view."
	case verification.BackAsked:
		return "Brought it back into public view."
	case verification.BackThere:
		return "It will show again."
	case verification.SuspendedThere:
		return "Suspended. " + e.Says
	case verification.AppealAsked:
		if e.To == "" {
			return "Appealed, without a paper."
		}
		return "Appealed, with the " + e.To + "."
	case verification.AppealBegun:
		return "The appeal is before their people."
	case verification.AppealWaiting:
		return "Asked: they have not decided on the appeal."
	case verification.AppealGranted:
		return "The appeal is granted. " + e.Says
	case verification.AppealRefused:
		return "The appeal is refused. " + e.Says
	case verification.CaseDropped:
		return strings.TrimSpace("Gave the case up. " + e.Says)
	case verification.RoleGiven:
		return "It was taken."
	case verification.ChangePassed:
		return "What it looked at has been taken."
	case verification.ChangeWaiting:
		return "Asked: it is still looking at the change."
	case verification.AccessAsked, verification.AccessBegun, verification.StillNoAccess, verification.EscalateAsked, verification.EscalateBegun:
		return accessSays(e, book.Name)
	case verification.TakenIn:
		return "Its staff have taken it in."
	case verification.VerifiedThere:
		return "Verified on their own pages."
	case verification.SeenPublic:
		return "Looked: the listing is public."
	case verification.NotSeen:
		return "Looked: the listing does not show."
	}
	return e.Says
}
