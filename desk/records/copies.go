package records

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/hours"
	"uvent/core/record/geojson"
	"uvent/core/record/icalendar"
	"uvent/core/record/jsonld"
	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/core/record/vcard"
	"uvent/desk/problem"
)

// Copy is a location's record in an open format.
type Copy struct {
	Format    string // its id
	Title     string // its name
	About     string
	MediaType string
	Extension string // of a file, with its point
	Text      string
	Lost      []string // what of it the format has no place for, in words
	KeptBack  []string // what of the record it does not tell, in words; nothing of the whole
}

// format is an open format that a record goes out and comes back in.
type format struct {
	id, title, about, mediaType, extension string
	write                                  func(r record.Record, now time.Time) (data []byte, lost []string, err error)
	read                                   func(data []byte, over record.Record) (record.Record, error)
}

var formats = []format{
	{"jsonld", "JSON-LD", "schema.org LocalBusiness, as a website would carry it", "application/ld+json", ".jsonld",
		func(r record.Record, _ time.Time) ([]byte, []string, error) { return jsonld.Write(r) }, jsonld.Read},
	{"geojson", "GeoJSON", "a feature for maps, with every fact (RFC 7946)", "application/geo+json", ".geojson",
		func(r record.Record, _ time.Time) ([]byte, []string, error) {
			data, err := geojson.Write(r)
			return data, nil, err
		}, geojson.Read},
	{"vcard", "vCard", "a card for address books (RFC 6350)", "text/vcard", ".vcf",
		func(r record.Record, _ time.Time) ([]byte, []string, error) {
			data, lost := vcard.Write(r)
			return data, lost, nil
		}, vcard.Read},
	{"icalendar", "iCalendar", "the special dates, for calendars (RFC 5545)", "text/calendar", ".ics",
		func(r record.Record, now time.Time) ([]byte, []string, error) {
			data, err := icalendar.Write(r, now)
			return data, []string{"anything but special dates"}, err
		}, icalendar.Read},
	{"csv", "CSV", "a row for spreadsheets, as docs/csv.md describes it (RFC 4180)", "text/csv", ".csv",
		func(r record.Record, _ time.Time) ([]byte, []string, error) { return sheet.WriteOne(r) }, sheet.ReadOne},
	{"opening_hours", "opening_hours", "the hours as OpenStreetMap has them", "text/plain", ".txt",
		func(r record.Record, _ time.Time) ([]byte, []string, error) {
			return []byte(r.Hours), []string{"anything but the hours"}, nil
		}, readHours},
}

// readHours lays an opening_hours text over a record.
func readHours(data []byte, over record.Record) (record.Record, error) {
	schedule, _, err := hours.Parse(strings.TrimSpace(string(data)))
	if err != nil {
		return over, err
	}
	over.Hours = schedule.String()
	return over, nil
}

// Copies writes a location's record in every open format: as anybody may see it, or the whole.
func (d *Desk) Copies(ctx context.Context, location uuid.UUID, whole bool) ([]Copy, error) {
	l, err := d.ledger.Location(ctx, location)
	if err != nil {
		return nil, err
	}
	r, kept, now := l.Record, []string(nil), d.clock.Now()
	if !whole {
		r, kept = r.Public(now), r.KeptBack()
	}
	out := make([]Copy, len(formats))
	for i, f := range formats {
		data, lost, err := f.write(r, now)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", f.id, err)
		}
		out[i] = Copy{f.id, f.title, f.about, f.mediaType, f.extension, string(data), lost, kept}
	}
	return out, nil
}

// ReadCopy tells what a location's record would be with a document laid over
// it. Nothing is saved, so that a person can look at it first.
func (d *Desk) ReadCopy(ctx context.Context, location uuid.UUID, id, text string) (record.Record, error) {
	l, err := d.ledger.Location(ctx, location)
	if err != nil {
		return record.Record{}, err
	}
	i := slices.IndexFunc(formats, func(f format) bool { return f.id == id })
	if i < 0 {
		return record.Record{}, &problem.Problem{Kind: problem.NotFound, Detail: fmt.Sprintf("There is no format %q.", id)}
	}
	r, err := formats[i].read([]byte(text), l.Record)
	if err != nil {
		return r, &problem.Problem{Kind: problem.Invalid, Detail: problem.Sentence(err.Error()), Fields: []record.Problem{{Path: "text", Message: err.Error()}}}
	}
	r, _ = record.Normal(r) // what is wrong with it is told when it is saved
	return r, nil
}
