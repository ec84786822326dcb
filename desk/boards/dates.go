package boards

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/listing/verification"
	"uvent/core/reckon/differences"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/store/db"
)

// SpecialDate is one date, or one span of dates, over the locations of a scope.
type SpecialDate struct {
	records.Span
	Names  []string // of the public holidays; none where it is no holiday
	Places []PlaceOnDate

	Directories []DirectoryOnDate // on which its places have pages that were looked at
}

// DirectoryOnDate is how a directory's pages stand to what the records say of a date.
type DirectoryOnDate struct {
	Book    *rulebook.Rulebook
	Pages   int // of the places of which the record says something
	Differ  int // show other hours, and nothing is on its way
	Sent    int // show other hours, and a correction is on its way
	Cannot  bool
	LastDay *calendar.Date   // on which a correction can be sent so that it surely shows in time
	Late    bool             // that day is past
	Window  *calendar.Window // when a correction that is sent now shows
	People  float64          // who read other hours on that day
}

// Agree is how many pages show what holds.
func (o DirectoryOnDate) Agree() int {
	if o.Cannot {
		return 0
	}
	return o.Pages - o.Differ - o.Sent
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

// ShownDates are a scope's special dates, with how the directories' pages stand to each.
func (d *Desk) ShownDates(ctx context.Context, s ledger.Scope) ([]SpecialDate, error) {
	if err := d.KnowTasks(ctx, s); err != nil {
		return nil, err
	}
	out, err := d.SpecialDates(ctx, s)
	if err != nil {
		return nil, err
	}
	q := d.store.Reading(ctx)
	pages, err := q.SeenPages(ctx, db.SeenPagesParams{Clients: s.Clients, LocationID: s.Location})
	if err != nil {
		return nil, err
	}
	wrong, err := q.DateDifferences(ctx, db.DateDifferencesParams{Clients: s.Clients, LocationID: s.Location})
	if err != nil {
		return nil, err
	}
	of := map[uuid.UUID][]string{} // directories by location
	for _, p := range pages {
		of[p.LocationID] = append(of[p.LocationID], p.DirectoryID)
	}
	differ := map[calendar.Date]map[ledger.Place]db.DateDifferencesRow{}
	silent := map[ledger.Place]db.DateDifferencesRow{} // pages that show no hours at all
	for _, w := range wrong {
		if len(w.Days) == 0 {
			silent[ledger.Place{Location: w.LocationID, Directory: w.DirectoryID}] = w
		}
		for _, day := range w.Days {
			date := calendar.DateOf(day.Time)
			if differ[date] == nil {
				differ[date] = map[ledger.Place]db.DateDifferencesRow{}
			}
			differ[date][ledger.Place{Location: w.LocationID, Directory: w.DirectoryID}] = w
		}
	}
	books, now := d.shelf.Books(), d.clock.Now()
	for i := range out {
		out[i].Directories = shownOn(out[i], of, differ, silent, books, now)
	}
	return out, nil
}

// shownOn is how pages stand to one date, by directory, the weightiest first.
func shownOn(
	date SpecialDate,
	of map[uuid.UUID][]string,
	differ map[calendar.Date]map[ledger.Place]db.DateDifferencesRow,
	silent map[ledger.Place]db.DateDifferencesRow,
	books []rulebook.Rulebook,
	now time.Time,
) (out []DirectoryOnDate) {
	at := map[string]*DirectoryOnDate{}
	for i := range books {
		at[books[i].ID] = &DirectoryOnDate{Book: &books[i], Cannot: !compare.Taken(&books[i], "special_dates")}
	}
	for _, p := range date.Places {
		if !p.Decided {
			continue
		}
		for _, id := range of[p.Location] {
			on := at[id]
			if on == nil {
				continue
			}
			on.Pages++
			at := ledger.Place{Location: p.Location, Directory: id}
			w, is := silent[at]
			for day := date.From; !is && !date.To.Before(day); day = day.Add(1) {
				w, is = differ[day][at]
			}
			switch {
			case !is:
				continue
			case w.Standing == StandingSent:
				on.Sent++
			default:
				on.Differ++
			}
			on.People += w.Once / float64(max(1, len(w.Days)))
		}
	}
	for i := range books {
		on := at[books[i].ID]
		if on.Pages == 0 {
			continue
		}
		if !on.Cannot {
			window := differences.Mended(on.Book, "special_dates", now)
			on.Window = &window
			if last, ok := differences.LastDay(on.Book, "special_dates", date.From); ok {
				on.LastDay, on.Late = &last, last.Before(calendar.DateIn(now, on.Book.Calendar.Place().Zone))
			} else {
				on.Late = true
			}
		}
		out = append(out, *on)
	}
	slices.SortStableFunc(out, func(a, b DirectoryOnDate) int { return b.Book.Weight - a.Book.Weight })
	return out
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
