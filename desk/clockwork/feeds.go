package clockwork

import (
	"cmp"
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/reckon/agenda"
	"uvent/core/record/icalendar"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Feed is a private address at which a calendar reads somebody's deadlines.
type Feed struct {
	ID         uuid.UUID
	ClientID   *uuid.UUID
	LocationID *uuid.UUID
	At         time.Time
}

func feedOf(row db.Feed) Feed {
	return Feed{ID: row.ID, ClientID: row.ClientID, LocationID: row.LocationID, At: row.At}
}

// MakeFeed makes a feed of a location, of a client, or of all that somebody sees. Its address is told once.
func (d *Desk) MakeFeed(ctx context.Context, who people.Person, client, location *uuid.UUID) (f Feed, address string, err error) {
	if ok, err := d.reaches(ctx, who, client, location); err != nil || !ok {
		if err == nil {
			err = &problem.Problem{Kind: problem.NotFound, Detail: "There is no such thing, or it is not yours."}
		}
		return f, "", err
	}
	if location != nil {
		client = nil
	}
	secret, hash := people.NewToken()
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if f, err = store.One(feedOf)(
			q.AddFeed(ctx, db.AddFeedParams{Hash: hash, PersonID: who.ID, ClientID: client, LocationID: location, At: d.clock.Now()}),
		); err != nil {
			return err
		}
		return d.Ledger.NoteAbout(ctx, q, who.Actor(), "feed_made", map[string]string{"feed": f.ID.String()})
	})
	return f, d.People.Address() + "/api/calendar/" + secret, err
}

// reaches reports whether somebody may see what a feed is of.
func (d *Desk) reaches(ctx context.Context, who people.Person, client, location *uuid.UUID) (bool, error) {
	var clients, things []uuid.UUID
	if client != nil {
		clients = append(clients, *client)
	}
	if location != nil {
		things = append(things, *location)
	}
	return d.People.Reaches(ctx, who, clients, things)
}

// Feeds are somebody's, the oldest first.
func (d *Desk) Feeds(ctx context.Context, who people.Person) ([]Feed, error) {
	return store.Each(feedOf)(d.store.Feeds(ctx, who.ID))
}

// EndFeed ends one of somebody's feeds: its address tells nothing any more.
func (d *Desk) EndFeed(ctx context.Context, who people.Person, id uuid.UUID) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		now := d.clock.Now()
		n, err := q.EndFeed(ctx, db.EndFeedParams{ID: id, PersonID: who.ID, EndedAt: &now})
		if err == nil && n == 0 {
			return &problem.Problem{Kind: problem.NotFound, Detail: "There is no such feed of yours."}
		}
		if err != nil {
			return err
		}
		return d.Ledger.NoteAbout(ctx, q, who.Actor(), "feed_ended", map[string]string{"feed": id.String()})
	})
}

// ReadFeed writes the deadlines of a feed as iCalendar.
func (d *Desk) ReadFeed(ctx context.Context, secret string) ([]byte, error) {
	f, err := d.store.Feed(ctx, people.HashOf(secret))
	if err != nil {
		return nil, problem.OrNotFound(err, "There is no such feed, or it has ended.")
	}
	p, err := d.People.Person(ctx, f.PersonID)
	if err != nil {
		return nil, err
	}
	s := ledger.Scope{Clients: p.Clients, Location: f.LocationID}
	if f.ClientID != nil {
		s = ledger.OfClient(*f.ClientID)
	}
	// Whatever they could see when they made it, it tells what they may see now.
	if reaches, err := d.reaches(ctx, p, f.ClientID, f.LocationID); err != nil || !reaches || p.MustFactor {
		return nil, problem.OrNotFound(cmp.Or(err, pgx.ErrNoRows), "There is no such feed, or it has ended.")
	}
	list, err := d.deadlines(ctx, s)
	return icalendar.WriteDeadlines("Uvent, for "+p.Name, list, d.clock.Now()), err
}

// deadlines are those of a scope's tasks: when something is lost, and when a wait ends;
// and the last day on which special dates can still be decided.
func (d *Desk) deadlines(ctx context.Context, s ledger.Scope) (out []icalendar.Deadline, err error) {
	if err := d.Boards.KnowTasks(ctx, s); err != nil {
		return nil, err
	}
	rows, err := d.store.DatedTasks(ctx, db.DatedTasksParams{Now: d.clock.Now(), Clients: s.Clients, LocationID: s.Location})
	if err != nil {
		return nil, err
	}
	cells, err := d.Boards.TaskCells(ctx, rows)
	if err != nil {
		return nil, err
	}
	for _, c := range cells {
		t := c.Task
		one := icalendar.Deadline{Title: t.Title, Says: t.Says, Address: d.People.Address() + "/verification/l/" + c.Place.Location.String() + "/" + c.Directory}
		if t.Group == agenda.Directory {
			one.Title = c.Book.Name + " answers about " + c.Location.Label
		}
		key := c.Place.Location.String() + "-" + c.Directory
		switch {
		case t.Until != nil:
			one.UID, one.At = fmt.Sprintf("until-%d-%s@uvent.example", t.Until.Unix(), key), t.Until
		case t.Window != nil:
			one.UID, one.On = fmt.Sprintf("by-%d-%s@uvent.example", t.Window.From.Unix(), key), t.Window.Latest
		default:
			continue
		}
		out = append(out, one)
	}
	dates, err := d.Boards.OpenDates(ctx, s)
	for _, o := range dates {
		out = append(
			out,
			icalendar.Deadline{
				UID:     fmt.Sprintf("dates-%s-%s@uvent.example", o.From, o.To),
				Title:   o.Says,
				Says:    "Their opening hours on that day are not said yet.",
				On:      o.From.Add(-1),
				Address: d.People.Address() + "/special-dates",
			},
		)
	}
	return out, err
}
