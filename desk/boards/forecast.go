package boards

import (
	"context"
	"slices"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/reckon/forecast"
	"uvent/core/rule/intake"
	"uvent/desk/files"
	"uvent/desk/ledger"
)

// Forecast is when the wanted listings of a scope will be public.
type Forecast struct {
	forecast.Forecast
	Left   []Cell   // those that are not public yet, as in Forecast.Listings
	Never  []Cell   // those that never will be, as things stand
	Why    []string // for each of those
	Fee    bool     // whether a fee is paid where that makes something faster
	FeeFor int      // how many listings wait for something that a fee makes faster
}

// mostDraws bounds how long a forecast takes: about a second.
const mostDraws = 4_000_000

// Forecast forecasts a scope; with a fee paid where that makes something faster, if it
// is asked for so.
func (d *Desk) Forecast(ctx context.Context, s ledger.Scope, fee bool) (out Forecast, err error) {
	cells, err := d.cells(ctx, s, inWork)
	if err != nil {
		return out, err
	}
	past, err := d.ledger.Past(ctx)
	if err != nil {
		return out, err
	}
	var locations []ledger.Location
	for i, c := range cells {
		if i == 0 || cells[i-1].Place.Location != c.Place.Location {
			locations = append(locations, *c.Location)
		}
	}
	wants, err := d.records.Missing(ctx, locations)
	if err != nil {
		return out, err
	}
	papers, err := d.files.AllPapers(ctx)
	if err != nil {
		return out, err
	}
	out.Fee = fee
	var left []forecast.Listing
	now := d.clock.Now()
	for i := range cells {
		c := &cells[i]
		if c.NotFor != "" || !c.Fit.Wanted && c.State.Control == verification.NoControl {
			continue
		}
		place := calendar.Place{
			Zone:     verification.ZoneOf(c.Location.Record, *c.Book),
			Holidays: calendar.HolidaysOf(c.Location.Record.Address.Country, c.Location.Record.Address.Region),
		}
		pace := forecast.Usual(place)
		pace.Fee = fee
		q := forecast.Subject{
			Book:     c.Book,
			State:    c.State,
			Past:     past[c.Book.ID],
			Wants:    wants[c.Place.Location],
			Broken:   c.Fit.Blocks > 0,
			Location: c.Place.Location.String(),
			Client:   c.Client.ID.String(),
		}
		if c.State.VerifiedAt == nil {
			q.Ways = verification.Ways(
				verification.Question{
					Book:   *c.Book,
					Record: c.Location.Record,
					State:  c.State,
					Now:    now,
					Papers: files.PapersFor(papers.Of(c.Location), c.Location.Record, now),
					Past:   past[c.Book.ID],
				},
			)
		}
		l, done, why := forecast.Of(q, pace)
		switch {
		case done:
		case why != "":
			out.Never, out.Why = append(out.Never, *c), append(out.Why, why)
		default:
			out.Left, left = append(out.Left, *c), append(left, l)
			if slices.ContainsFunc(q.Wants, func(w intake.Want) bool { return w.Fee != (calendar.Date{}) && slices.Contains(w.Blocks, c.Book.Name) }) &&
				c.State.Control == verification.NoControl {
				out.FeeFor++
			}
		}
	}
	runs := min(2000, max(100, mostDraws/max(1, len(left))))
	out.Forecast = forecast.Run(now, left, runs, 1)
	return out, nil
}
