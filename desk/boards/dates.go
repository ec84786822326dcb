package boards

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/desk/records"
)

// SpecialDate is one date, or one span of dates, over the locations of a scope.
type SpecialDate struct {
	records.Span
	Names  []string // of the public holidays; none where it is no holiday
	Places []PlaceOnDate
}

// PlaceOnDate is what becomes of a location on a special date.
type PlaceOnDate struct {
	Location uuid.UUID
	Label    string
	Client   string
	Decided  bool            // the record says something of it
	Sittings []hours.Sitting // none: closed
}

// SpecialDates lists what the locations of a scope say of the public holidays
// of the next twelve months, each of its own country and region, and of other
// dates by name. The earliest comes first.
func (d *Desk) SpecialDates(ctx context.Context, s ledger.Scope) ([]SpecialDate, error) {
	clients, err := d.records.Clients(ctx)
	if err != nil {
		return nil, err
	}
	names := map[uuid.UUID]string{}
	for _, c := range clients {
		names[c.ID] = c.Name
	}
	locations, err := d.records.Locations(ctx, s)
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(locations, func(a, b ledger.Location) int {
		return cmp.Or(cmp.Compare(names[a.ClientID], names[b.ClientID]), cmp.Compare(a.Label, b.Label))
	})
	var out []SpecialDate
	at := map[records.Span]int{}
	add := func(span records.Span, name string, p PlaceOnDate) {
		i, known := at[span]
		if !known {
			i = len(out)
			at[span] = i
			out = append(out, SpecialDate{Span: span})
		}
		if name != "" && !slices.Contains(out[i].Names, name) {
			out[i].Names = append(out[i].Names, name)
		}
		out[i].Places = append(out[i].Places, p)
	}
	for _, l := range locations {
		zone, known := l.Record.Location()
		schedule, _, err := hours.Parse(l.Record.Hours)
		if !known || err != nil {
			continue // nothing is said of its hours at all
		}
		today := calendar.DateIn(d.clock.Now(), zone)
		place := PlaceOnDate{Location: l.ID, Label: l.Label, Client: names[l.ClientID], Decided: true}
		listed := map[records.Span]bool{}
		for _, h := range schedule.Holidays(today, calendar.HolidaysOf(l.Record.Address.Country, l.Record.Address.Region)) {
			p := place
			p.Decided, p.Sittings = h.Decided, h.Sittings
			listed[records.Span{From: h.Date, To: h.Date}] = true
			add(records.Span{From: h.Date, To: h.Date}, h.Name, p)
		}
		for _, sp := range schedule.Specials() {
			span := records.Span{From: sp.From, To: sp.To}
			if sp.To.Before(today) || listed[span] {
				continue
			}
			p := place
			p.Sittings = sp.Sittings
			add(span, "", p)
		}
	}
	slices.SortStableFunc(out, func(a, b SpecialDate) int { return cmp.Or(a.From.Compare(b.From), a.To.Compare(b.To)) })
	return out, nil
}

// openDate is a special date that is not decided for some locations.
type openDate struct {
	From, To calendar.Date
	Says     string // what is to be done
}

// OpenDates are those of a scope, the next first.
func (d *Desk) OpenDates(ctx context.Context, s ledger.Scope) (out []openDate, err error) {
	dates, err := d.SpecialDates(ctx, s)
	for _, date := range dates {
		open := 0
		for _, p := range date.Places {
			if !p.Decided {
				open++
			}
		}
		if open == 0 {
			continue
		}
		name := verification.Day(date.From)
		if len(date.Names) > 0 {
			name = date.Names[0] + ", " + name
		}
		locations := "1 location"
		if open > 1 {
			locations = fmt.Sprintf("%d locations", open)
		}
		out = append(out, openDate{date.From, date.To, "Decide " + name + " for " + locations})
	}
	return out, err
}
