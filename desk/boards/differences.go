package boards

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/reckon/differences"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/store/db"
)

// Standings of a difference.
const (
	StandingOpen     = "open"
	StandingSent     = "sent"     // a correction is on its way
	StandingAccepted = "accepted" // as it is
)

// keptDifference is a row of difference as it is written.
type keptDifference struct {
	Location    uuid.UUID       `json:"location_id"`
	Directory   string          `json:"directory_id"`
	Client      uuid.UUID       `json:"client_id"`
	Fact        string          `json:"fact"`
	Title       string          `json:"title"`
	Mark        string          `json:"mark"`
	Record      string          `json:"record"`
	Seen        string          `json:"seen"`
	Says        string          `json:"says"`
	Cannot      string          `json:"cannot"`
	People      float64         `json:"people"`
	Once        float64         `json:"once"`
	Rank        float64         `json:"rank"`
	Reckoned    string          `json:"reckoned"`
	Days        []calendar.Date `json:"days"`
	After       *time.Time      `json:"since_after"`
	Since       *time.Time      `json:"since"`
	Source      string          `json:"source"`
	Unseen      bool            `json:"unseen"`
	Parent      string          `json:"parent"`
	Follows     *calendar.Date  `json:"follows"`
	Overwritten *calendar.Date  `json:"overwritten"`
	Standing    string          `json:"standing"`
}

// differencesOf reckons where the pages of some locations do not mean what their records say.
func (d *Desk) differencesOf(
	ctx context.Context,
	q *db.Queries,
	locations []ledger.Location,
	states map[ledger.Place]verification.State,
	now time.Time,
) ([]byte, error) {
	ids := make([]uuid.UUID, len(locations))
	for i, l := range locations {
		ids[i] = l.ID
	}
	given, err := listings.LastGivenOf(ctx, q, ids)
	if err != nil {
		return nil, err
	}
	rows, err := q.AcceptancesOf(ctx, ids)
	if err != nil {
		return nil, err
	}
	accepted := map[ledger.Place]map[string]db.Acceptance{}
	for _, a := range rows {
		at := ledger.Place{Location: a.LocationID, Directory: a.DirectoryID}
		if accepted[at] == nil {
			accepted[at] = map[string]db.Acceptance{}
		}
		accepted[at][a.Fact] = a
	}
	books := d.shelf.Books()
	out := []keptDifference{}
	for _, l := range locations {
		var here []differences.Listing
		for i := range books {
			at := ledger.Place{Location: l.ID, Directory: books[i].ID}
			if st, begun := states[at]; begun {
				here = append(here, differences.Listing{Book: &books[i], State: st, Last: given[at]})
			}
		}
		today := l.Record.Today(now)
		for _, one := range differences.Of(l.Record, here, books, now) {
			k := keep(one, l, today)
			a, ok := accepted[ledger.Place{Location: l.ID, Directory: k.Directory}][k.Fact]
			switch {
			case ok && a.Seen == k.Seen && (!a.Until.Valid || !calendar.DateOf(a.Until.Time).Before(today)):
				k.Standing = StandingAccepted
			case one.Cannot != "": // nobody can mend it there
				k.Standing = StandingAccepted
			case one.Sent:
				k.Standing = StandingSent
			}
			out = append(out, k)
		}
	}
	return json.Marshal(out)
}

func keep(d differences.Difference, l ledger.Location, today calendar.Date) keptDifference {
	k := keptDifference{
		Location: l.ID, Directory: d.Book.ID, Client: l.ClientID, Fact: d.Fact, Title: d.Title, Mark: string(d.Mark), Record: d.Record, Seen: d.Seen,
		Says: d.Says, Cannot: d.Cannot, People: d.Cost.People, Once: d.Cost.Once, Rank: d.Cost.Order(today), Reckoned: d.Cost.From, Days: []calendar.Date{},
		After: d.After, Since: d.From, Source: d.Source, Unseen: d.Unseen, Parent: d.Parent, Standing: StandingOpen,
	}
	for _, day := range d.Days {
		k.Days = append(k.Days, day.Date)
	}
	if d.Follows != nil {
		k.Follows = &d.Follows.Latest
	}
	if d.Overwritten != nil {
		k.Overwritten = &d.Overwritten.Latest
	}
	return k
}

// DifferenceFilter is which differences of a scope are asked for.
type DifferenceFilter struct {
	Standings []string
	Directory string // empty: of all
	Fact      string
	Search    string
	Most      int // how many at most; 0: MostDifferences
}

// DifferenceRow is a difference with where it is.
type DifferenceRow struct {
	ledger.Place
	Label, ClientName string
	Client            uuid.UUID
	Book              *rulebook.Rulebook // nil: the directory is there no more
	Kept              db.DifferencesRow
	Window            *calendar.Window // when a correction that is sent now would show
}

// Differences is a scope's.
type Differences struct {
	Open, Pages int
	People      float64 // a week who are misled
	Agree       float64 // the weighted share of public pages on which name, address and phone agree, 0 to 1
	Parts       []Agreement
	Rows        []DifferenceRow
	More        bool // there are more than these
}

// Agreement is how a directory's pages agree with the record on name, address and phone.
type Agreement struct {
	Book                 *rulebook.Rulebook
	Pages                int
	Name, Address, Phone int // on how many
}

// MostDifferences is how many a page holds.
const MostDifferences = 500

// Differences lists where pages of a scope do not mean what the record says, the dearest first.
func (d *Desk) Differences(ctx context.Context, s ledger.Scope, f DifferenceFilter) (out Differences, err error) {
	if err := d.KnowTasks(ctx, s); err != nil {
		return out, err
	}
	most := MostDifferences
	if f.Most > 0 {
		most = min(f.Most, most)
	}
	named := func(text string) *string {
		if text == "" {
			return nil
		}
		return &text
	}
	q := d.store.Reading(ctx)
	g, inner := errgroup.WithContext(ctx)
	var rows []db.DifferencesRow
	var agreement []db.ConsistencyRow
	g.Go(func() (err error) {
		rows, err = q.Differences(inner, db.DifferencesParams{
			Standings: f.Standings, Clients: s.Clients, LocationID: s.Location, Directory: named(f.Directory), Fact: named(f.Fact), Search: named(f.Search),
			Most: int32(most + 1),
		})
		return err
	})
	g.Go(func() error {
		sums, err := q.DifferenceSums(inner, db.DifferenceSumsParams{Clients: s.Clients, LocationID: s.Location})
		out.Open, out.Pages, out.People = int(sums.Differences), int(sums.Pages), sums.People
		return err
	})
	g.Go(func() (err error) {
		agreement, err = q.Consistency(inner, db.ConsistencyParams{Clients: s.Clients, LocationID: s.Location})
		return err
	})
	if err := g.Wait(); err != nil {
		return out, err
	}
	if out.More = len(rows) > most; out.More {
		rows = rows[:most]
	}
	books := map[string]*rulebook.Rulebook{}
	all := d.shelf.Books()
	for i := range all {
		books[all[i].ID] = &all[i]
	}
	now := d.clock.Now()
	for _, r := range rows {
		row := DifferenceRow{
			Place:      ledger.Place{Location: r.LocationID, Directory: r.DirectoryID},
			Label:      r.Label,
			ClientName: r.ClientName,
			Client:     r.ClientID,
			Book:       books[r.DirectoryID],
			Kept:       r,
		}
		if row.Book != nil {
			w := differences.Mended(row.Book, r.Fact, now)
			row.Window = &w
		}
		out.Rows = append(out.Rows, row)
	}
	var weight, agrees float64
	for _, a := range agreement {
		b := books[a.DirectoryID]
		if b == nil {
			continue
		}
		one := Agreement{b, int(a.Pages), int(a.Name), int(a.Address), int(a.Phone)}
		out.Parts = append(out.Parts, one)
		weight += 3 * float64(b.Weight*one.Pages)
		agrees += float64(b.Weight * (one.Name + one.Address + one.Phone))
	}
	out.Agree = 1
	if weight > 0 {
		out.Agree = agrees / weight
	}
	return out, nil
}
