package sightings

import (
	"context"
	"slices"
	"strings"

	"uvent/core/fact/hours"
	"uvent/core/fact/hours/said"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/record/sighting"
	"uvent/core/rule/reading"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
)

// Telling is what somebody tells that a page shows.
type Telling struct {
	Source verification.Source
	Facts  map[string]string // typed: by the names of columns (docs/csv.md); an empty one is not shown there
	Text   string            // pasted: the page's words
}

// mostPasted is how long a pasted page may be, in bytes.
const mostPasted = 200_000

// Tell keeps what somebody saw on a page: typed fact by fact, or pasted and read. Of facts that were not told nothing is
// changed.
func (d *Desk) Tell(ctx context.Context, actor people.Actor, at ledger.Place, t Telling) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		var s sighting.Sighting
		var err error
		switch t.Source {
		case verification.Typed:
			s, err = typed(t.Facts, l.Where.Record)
		case verification.Pasted:
			s, err = pasted(t.Text, l)
		default:
			err = &problem.Problem{Kind: problem.Invalid, Detail: "What a page shows is typed or pasted."}
		}
		if err != nil {
			return err
		}
		return l.Add(ctx, verification.Told{Source: t.Source, Sighting: s})
	})
}

// typed reads facts that were typed, as files are read. Those that are named count as looked at, though they are empty.
func typed(facts map[string]string, r record.Record) (sighting.Sighting, error) {
	filled := map[string]string{}
	for key, text := range facts {
		filled[key] = strings.TrimSpace(text)
	}
	s, err := sighting.FromColumns(filled)
	switch {
	case err != nil:
		return s, &problem.Problem{Kind: problem.Invalid, Detail: "It cannot be kept: " + err.Error() + "."}
	case len(facts) == 0:
		return s, &problem.Problem{Kind: problem.Invalid, Detail: "Say at least one fact, or that it is not shown."}
	}
	if _, _, err := hours.Parse(s.Hours); s.Hours != "" && err != nil {
		if read := said.Read(s.Hours, said.In{Country: r.Address.Country}); read.Read && len(read.Left) == 0 {
			s.Hours = read.Schedule.String()
		}
	}
	for key := range facts {
		s.Only = append(s.Only, sighting.FactsOf(key)...)
	}
	slices.Sort(s.Only)
	s.Only = slices.Compact(s.Only)
	return s, nil
}

// pasted reads what somebody copied from a page: a line of it each a paragraph, the first its heading.
func pasted(text string, l *ledger.Listing) (sighting.Sighting, error) {
	if len(text) > mostPasted {
		return sighting.Sighting{}, &problem.Problem{Kind: problem.Invalid, Detail: "That is more than one page. Copy the part about this business."}
	}
	r := l.Where.Record
	read := reading.Read(reading.Marked(text), reading.In{Country: r.Address.Country, Region: r.Address.Region, Today: r.Today(l.Now)})
	if read.Reads != reading.Listing {
		return sighting.Sighting{}, &problem.Problem{
			Kind:   problem.Invalid,
			Detail: "No business can be read in it. Copy its name with its address or phone, or type in what shows.",
		}
	}
	s := read.Sighting
	for _, f := range sighting.Facts {
		if !f.Empty(s) { // what was not copied may stand there all the same
			s.Only = append(s.Only, f.Key)
		}
	}
	if slices.Contains(s.Only, "hours") && len(s.Dates()) > 0 {
		s.Only = append(s.Only, "special_dates")
	}
	return s, nil
}
