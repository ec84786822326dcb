package records

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// EraseAfter is how long after a client was put away its papers and its people's data are erased.
const EraseAfter = 90 * 24 * time.Hour

// PutAway takes a location out of all counts and lists, until it is brought back. Its listings stay where they are.
func (d *Desk) PutAway(ctx context.Context, actor people.Actor, id uuid.UUID) (ledger.Location, error) {
	return d.moveLocation(ctx, actor, id, "location_put_away", func(q *db.Queries, l *ledger.Location) error {
		if l.PutAwayAt != nil {
			return problem.Conflictf("%s is put away already.", l.Label)
		}
		now := d.clock.Now()
		l.PutAwayAt = &now
		return q.PutLocationAway(ctx, db.PutLocationAwayParams{ID: id, At: now})
	})
}

// BringBack brings a location back that was put away; and its client, which cannot stay away with a location that is there.
func (d *Desk) BringBack(ctx context.Context, actor people.Actor, id uuid.UUID) (ledger.Location, error) {
	return d.moveLocation(ctx, actor, id, "location_brought_back", func(q *db.Queries, l *ledger.Location) error {
		if l.PutAwayAt == nil {
			return problem.Conflictf("%s is not put away.", l.Label)
		}
		l.PutAwayAt = nil
		if err := q.BringLocationBack(ctx, id); err != nil {
			return err
		}
		c, err := store.One(ledger.ClientOf)(q.LockClient(ctx, l.ClientID))
		if err != nil || c.PutAwayAt == nil {
			return err
		}
		if err := q.BringClientBack(ctx, c.ID); err != nil {
			return err
		}
		return d.ledger.Note(ctx, q, actor, "client_brought_back", c.ID, nil, struct{}{})
	})
}

func (d *Desk) moveLocation(
	ctx context.Context, actor people.Actor, id uuid.UUID, kind string, move func(*db.Queries, *ledger.Location) error,
) (l ledger.Location, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if l, err = store.One(ledger.LocationOf)(q.LockLocation(ctx, id)); err != nil {
			return problem.OrNotFound(err, "There is no such location.")
		}
		if err := move(q, &l); err != nil {
			return err
		}
		if err := d.stirred(ctx, q, id); err != nil {
			return err
		}
		return d.ledger.Note(ctx, q, actor, kind, l.ClientID, &id, struct{}{})
	})
	return l, err
}

// stirred has what some locations ask for reckoned anew, and those who look told.
func (d *Desk) stirred(ctx context.Context, q *db.Queries, ids ...uuid.UUID) error {
	if err := q.MarkTasksStale(ctx, ids); err != nil {
		return err
	}
	return store.Notify(ctx, q, store.Change{})
}

// PutClientAway puts a client away, with all its locations.
func (d *Desk) PutClientAway(ctx context.Context, actor people.Actor, id uuid.UUID) (ledger.Client, error) {
	return d.moveClient(ctx, actor, id, "client_put_away", func(q *db.Queries, c *ledger.Client) ([]uuid.UUID, error) {
		if c.PutAwayAt != nil {
			return nil, problem.Conflictf("%s is put away already.", c.Name)
		}
		now := d.clock.Now()
		c.PutAwayAt, c.ErasedAt = &now, nil
		if err := q.PutClientAway(ctx, db.PutClientAwayParams{ID: id, At: now}); err != nil {
			return nil, err
		}
		return q.PutLocationsOfAway(ctx, db.PutLocationsOfAwayParams{ClientID: id, At: now})
	})
}

// BringClientBack brings a client back, with the locations that were put away together with it.
func (d *Desk) BringClientBack(ctx context.Context, actor people.Actor, id uuid.UUID) (ledger.Client, error) {
	return d.moveClient(ctx, actor, id, "client_brought_back", func(q *db.Queries, c *ledger.Client) ([]uuid.UUID, error) {
		if c.PutAwayAt == nil {
			return nil, problem.Conflictf("%s is not put away.", c.Name)
		}
		was := *c.PutAwayAt
		c.PutAwayAt = nil
		if err := q.BringClientBack(ctx, id); err != nil {
			return nil, err
		}
		return q.BringLocationsOfBack(ctx, db.BringLocationsOfBackParams{ClientID: id, At: was})
	})
}

func (d *Desk) moveClient(
	ctx context.Context, actor people.Actor, id uuid.UUID, kind string, move func(*db.Queries, *ledger.Client) ([]uuid.UUID, error),
) (c ledger.Client, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if c, err = store.One(ledger.ClientOf)(q.LockClient(ctx, id)); err != nil {
			return problem.OrNotFound(err, "There is no such client.")
		}
		locations, err := move(q, &c)
		if err != nil {
			return err
		}
		if err := d.stirred(ctx, q, locations...); err != nil {
			return err
		}
		return d.ledger.Note(ctx, q, actor, kind, id, nil, map[string]any{"locations": locations})
	})
	return c, err
}

// Leaving is what putting something away means.
type Leaving struct {
	Locations int     // that go
	Held      []Count // listings that are held, and stay as they are, by directory
	Begun     bool    // something was begun, so that it cannot be deleted
	EraseDays int     // after so many days papers and people's data are erased; 0: they stay
}

// Count is how many of something there are on a directory.
type Count struct {
	Directory string
	Count     int
}

// Leaves tells what putting a client or a location away would mean.
func (d *Desk) Leaves(ctx context.Context, s ledger.Scope) (out Leaving, err error) {
	locations, err := d.Locations(ctx, s)
	if err != nil {
		return out, err
	}
	ids, versions := make([]uuid.UUID, len(locations)), make([]int32, len(locations))
	for i, l := range locations {
		ids[i], versions[i] = l.ID, l.Version
	}
	begun, err := d.store.BegunLocations(ctx, db.BegunLocationsParams{Ids: ids, Versions: versions})
	if err != nil {
		return out, err
	}
	held, err := d.store.HeldOf(ctx, ids)
	if err != nil {
		return out, err
	}
	for _, h := range held {
		out.Held = append(out.Held, Count{h.DirectoryID, int(h.Count)})
	}
	out.Locations, out.Begun = len(ids), len(begun) > 0 || s.Location == nil && len(ids) > 0
	if s.Location == nil {
		out.EraseDays = int(EraseAfter / (24 * time.Hour))
	}
	return out, nil
}

// Gone is something that was put away: a location, or a client without any.
type Gone struct {
	ID         uuid.UUID
	ClientID   uuid.UUID
	ClientName string
	Label      string // of a location
	OfClient   bool   // it is a client
	At         time.Time
	EraseAt    *time.Time // when its client's papers and people's data are erased
	ErasedAt   *time.Time // when they were
}

// EraseAt is when the papers and the people's data of a client that was put away are erased; nil where they are not.
func EraseAt(away, erased *time.Time) *time.Time {
	if away == nil || erased != nil {
		return nil
	}
	at := away.Add(EraseAfter)
	return &at
}

// awayPage is how many of what is put away are listed at once.
const awayPage = 100

// Away lists what is put away, the latest first, after one, and whether there is more.
func (d *Desk) Away(ctx context.Context, s ledger.Scope, search string, after *Gone) (out []Gone, more bool, err error) {
	q := db.AwayParams{Clients: s.Clients, Search: search, Most: awayPage + 1}
	if after != nil {
		q.Before, q.BeforeID = &after.At, &after.ID
	}
	rows, err := d.store.Away(ctx, q)
	if err != nil {
		return nil, false, err
	}
	if more = len(rows) > awayPage; more {
		rows = rows[:awayPage]
	}
	for _, r := range rows {
		out = append(out, Gone{
			ID: r.ID, ClientID: r.ClientID, ClientName: r.ClientName, Label: r.Label, OfClient: r.OfClient, At: *r.At,
			EraseAt: EraseAt(r.ClientAwayAt, r.ErasedAt), ErasedAt: r.ErasedAt,
		})
	}
	return out, more, nil
}

// erased is what the log keeps of what was erased.
type erased struct {
	Papers []erasedPaper `json:"papers"`
	People int64         `json:"people"` // who signed in for the client
}

type erasedPaper struct {
	Paper  uuid.UUID `json:"paper"`
	Kind   string    `json:"kind"`
	Digest string    `json:"sha256"` // of its file
}

// EraseLeft erases the papers and the people's data of clients that left long enough ago. The log keeps one line of each
// client, with a digest of each paper.
func (d *Desk) EraseLeft(ctx context.Context) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		now := d.clock.Now()
		ids, err := q.ClientsToErase(ctx, now.Add(-EraseAfter))
		if err != nil {
			return err
		}
		for _, id := range ids {
			if err := d.erase(ctx, q, id, now); err != nil {
				return err
			}
		}
		return nil
	})
}

func (d *Desk) erase(ctx context.Context, q *db.Queries, id uuid.UUID, now time.Time) error {
	papers, err := q.PapersToErase(ctx, id)
	if err != nil {
		return err
	}
	line := erased{Papers: make([]erasedPaper, len(papers))}
	for i, p := range papers {
		line.Papers[i] = erasedPaper{p.ID, p.Kind, p.Digest}
	}
	if line.People, err = q.ErasePeople(ctx, db.ErasePeopleParams{ClientID: &id, At: now}); err != nil {
		return err
	}
	for _, erase := range []func() error{
		func() error { return q.EraseFiles(ctx, id) },
		func() error { return q.ErasePapers(ctx, db.ErasePapersParams{ClientID: id, At: now}) },
		func() error { return q.EraseLimits(ctx, id) },
		func() error { return q.EraseDrafts(ctx, &id) },
		func() error { return q.EraseInvitations(ctx, db.EraseInvitationsParams{Client: id, At: now}) },
		func() error { return q.EraseOwnerLinks(ctx, db.EraseOwnerLinksParams{ClientID: id, At: now}) },
		func() error { return q.EraseLetters(ctx, &id) },
		func() error { return q.EraseMatters(ctx, id) },
		func() error { return q.EraseImports(ctx, &id) },
		func() error { return q.EraseRemarks(ctx, id) },
		func() error { return q.ErasePlans(ctx, id) },
		func() error { return q.EraseRecords(ctx, id) },
	} {
		if err := erase(); err != nil {
			return err
		}
	}
	if err := q.EraseClient(ctx, db.EraseClientParams{ID: id, At: now}); err != nil {
		return err
	}
	return d.ledger.Note(ctx, q, people.Uvent, "client_erased", id, nil, line)
}
