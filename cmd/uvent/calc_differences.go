package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/fact/hours/said"
	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/core/record/sighting"
	"uvent/core/record/table"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

// differencesQuestion is a record beside what was seen, both as facts by the names of columns (docs/csv.md), with
// special_dates as in calc page.
type differencesQuestion struct {
	Record map[string]json.RawMessage `json:"record"`
	Seen   map[string]json.RawMessage `json:"seen"`
	place
	Now time.Time `json:"now"`
}

type differencesAnswer struct {
	Lines []differenceLine `json:"lines"`
}

type differenceLine struct {
	Fact   string         `json:"fact"`
	Record string         `json:"record"`
	Seen   string         `json:"seen"`
	Mark   compare.Mark   `json:"mark"`
	Says   string         `json:"says"`
	Cost   differenceCost `json:"cost"`
}

type differenceCost struct {
	OpenWhileShut int `json:"open_while_shut_minutes"` // of a usual week
	ShutWhileOpen int `json:"shut_while_open_minutes"` // of a usual week
	WrongDays     int `json:"wrong_days"`              // of the twelve months from now, besides
}

// columnOf names facts as columns do, where these have another name for them.
var columnOf = map[string]string{
	"state": "state_of_business", "other_phones": "phone_2", "text.tagline": "tagline", "text.short": "short_description", "text.medium": "description",
	"text.long": "long_description", "text.story": "story", "areas": "service_area", "booking": "booking_link", "ordering": "ordering_link",
	"quote": "quote_link", "menu": "menu_link", "gift_card": "gift_card_link", "app": "app_link", "socials": "social_profiles",
	"registration": "registration_number",
}

func (q differencesQuestion) answer() (any, error) {
	zone, holidays, err := q.read()
	switch {
	case err != nil:
		return nil, err
	case q.Now.IsZero():
		return nil, errors.New("now: a time is wanted, as in 2026-11-24T09:12:00-08:00")
	}
	told, ours, err := cells("record", q.Record)
	if err != nil {
		return nil, err
	}
	shown, theirs, err := cells("seen", q.Seen)
	if err != nil {
		return nil, err
	}
	r, err := recordOf(told, ours, q.Country)
	if err != nil {
		return nil, fmt.Errorf("record: %w", err)
	}
	s, err := sightingOf(shown, theirs, q.Country)
	if err != nil {
		return nil, fmt.Errorf("seen: %w", err)
	}
	a := differencesAnswer{Lines: []differenceLine{}}
	for _, l := range compare.Where(r, anyBook(), &s, calendar.DateIn(q.Now, zone), holidays) {
		_, saidState := told["state_of_business"]
		_, seenState := shown["state_of_business"]
		if l.Mark == "" || l.Fact == "state" && !saidState && !seenState {
			continue
		}
		if column := columnOf[l.Fact]; column != "" {
			l.Fact = column
		}
		a.Lines = append(a.Lines, differenceLine{l.Fact, l.Record, l.Seen, l.Mark, l.Says, differenceCost{l.OpenWhileShut, l.ShutWhileOpen, len(l.Days)}})
	}
	return a, nil
}

// cells are facts as texts, with the special dates apart. Photos are not compared by where they are.
func cells(where string, in map[string]json.RawMessage) (out map[string]string, dates []specialDate, err error) {
	out = map[string]string{}
	for _, key := range slices.Sorted(maps.Keys(in)) {
		var text string
		switch {
		case key == "special_dates":
			if err := json.Unmarshal(in[key], &dates); err != nil {
				return nil, nil, fmt.Errorf("%s: special_dates: write them as [{\"from\": \"2026-12-24\", \"to\": \"2026-12-26\", \"hours\": \"\"}]: %w", where, err)
			}
		case key == "photos":
		case json.Unmarshal(in[key], &text) != nil:
			return nil, nil, fmt.Errorf("%s: %s: a text is wanted", where, key)
		default:
			out[key] = text
		}
	}
	return out, dates, nil
}

// recordOf reads a record as a row of a table is read.
func recordOf(facts map[string]string, dates []specialDate, country string) (record.Record, error) {
	keys := slices.Sorted(maps.Keys(facts))
	if err := sheet.CheckColumns(keys, keys); err != nil {
		return record.Record{}, err
	}
	row := table.Row{Line: 1}
	for _, k := range keys {
		row.Cells = append(row.Cells, facts[k])
	}
	applied := sheet.NewReader(keys, keys).In(country).Apply(row, record.Record{Kind: record.Premises})
	r := applied.Record
	for _, p := range applied.Problems {
		if facts[p.Key] != "" {
			return r, fmt.Errorf("%s: %s", p.Key, p.Reason)
		}
	}
	return r, withDates(&r.Hours, dates)
}

func sightingOf(facts map[string]string, dates []specialDate, country string) (sighting.Sighting, error) {
	s, err := sighting.FromColumns(facts)
	if err != nil {
		return s, err
	}
	if _, _, err := hours.Parse(s.Hours); err != nil {
		if read := said.Read(s.Hours, said.In{Country: country}); read.Read && len(read.Left) == 0 {
			s.Hours = read.Schedule.String()
		}
	}
	return s, withDates(&s.Hours, dates)
}

// withDates lays special dates over opening hours.
func withDates(text *string, dates []specialDate) error {
	if len(dates) == 0 {
		return nil
	}
	schedule, _, err := hours.Parse(*text)
	if err != nil && *text != "" {
		return nil // beside hours that cannot be read dates say nothing
	}
	for i, d := range dates {
		if d.To == (calendar.Date{}) {
			d.To = d.From
		}
		sp := hours.Special{From: d.From, To: d.To}
		if times := strings.TrimSpace(d.Hours); times != "" {
			day, _, err := hours.Parse(times)
			if err != nil {
				return fmt.Errorf("special_dates: %d: hours: %w", i, err)
			}
			sp.Sittings = day.On(d.From, calendar.Holidays{})
		}
		if d.To.Before(d.From) {
			return fmt.Errorf("special_dates: %d: to comes before from", i)
		}
		schedule = schedule.WithSpecial(sp)
	}
	*text = schedule.String()
	return nil
}

// anyBook is of a directory of which nothing is known: it takes and shows all facts.
func anyBook() rulebook.Rulebook {
	b := rulebook.Rulebook{Name: "The page", Areas: rulebook.Areas{Most: 1 << 20}}
	b.Listing.Kinds = []record.Kind{record.Premises, record.GoesToCustomers, record.Both}
	for _, k := range rulebook.Keys {
		b.Facts = append(b.Facts, rulebook.Fact{Fact: k.ID})
		b.Reads = append(b.Reads, rulebook.Read{Fact: k.ID})
	}
	for _, which := range []string{"tagline", "short", "medium", "long", "story"} {
		b.Texts = append(b.Texts, rulebook.Prose{Text: which})
		b.Reads = append(b.Reads, rulebook.Read{Fact: "text." + which})
	}
	for _, key := range append([]string{rulebook.AreasKey}, compare.Besides...) {
		b.Reads = append(b.Reads, rulebook.Read{Fact: key})
	}
	return b
}
