package rounds

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"

	"uvent/core/fact/calendar"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/store/db"
)

// SendDates begins a round that gives some directories what holds on dates, wherever the pages of a scope are known to show
// other hours and nothing is on its way.
func (d *Desk) SendDates(ctx context.Context, actor people.Actor, s ledger.Scope, span records.Span, directories []string) (id uuid.UUID, err error) {
	if span.To.Before(span.From) {
		return id, &problem.Problem{Kind: problem.Invalid, Detail: "The last date comes before the first."}
	}
	day := func(d calendar.Date) pgtype.Date { return pgtype.Date{Time: d.In(time.UTC), Valid: true} }
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		rows, err := q.DifferingOn(ctx, db.DifferingOnParams{
			Directories: directories, First: day(span.From), Last: day(span.To), Clients: s.Clients, LocationID: s.Location, Most: mostRound + 1,
		})
		switch {
		case err != nil:
			return err
		case len(rows) == 0:
			return problem.Conflictf("No page there shows other hours on that date any more, or what is right is on its way.")
		case len(rows) > mostRound:
			rows = rows[:mostRound] // the dearest; the others can be sent behind them
		}
		items := make([]RoundItem, len(rows))
		for i, r := range rows {
			items[i] = RoundItem{Place: ledger.Place{Location: r.LocationID, Directory: r.DirectoryID}, Facts: []string{"special_dates", "hours"}}
		}
		id, err = d.beginRound(ctx, q, tx, actor, ToSend, items)
		return err
	})
	return id, err
}
