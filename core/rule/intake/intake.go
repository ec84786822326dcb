// Package intake says what is still missing of a location's record before
// directories can be given it: what each thing would open, who has it, and how
// long it takes to get.
package intake

import (
	"slices"
	"strconv"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// Held is what there is of a location besides its record.
type Held struct {
	Photos map[string]int // by group
	Papers map[string]int // by kind
}

// Subject is a location of which it is asked what is missing.
type Subject struct {
	Record record.Record
	Held   Held
	Now    time.Time
}

// Who has what is missing.
type Who string

const (
	Owner Who = "owner"
	Us    Who = "us"
)

// Want is something that is missing.
type Want struct {
	ID     string
	Title  string
	From   Who
	Part   string   // of the record's form, where it is filled in
	Blocks []string // names of directories that ask for it
	Opens  string   // what it does besides, as a phrase; empty for nothing
	Ask    string   // how to ask the owner for it, in plain words
	Takes  Takes
	By     calendar.Date // when it can be had at the latest, if it is begun now; zero for at once
	Fee    calendar.Date // the same for a fee; zero where a fee makes nothing faster
}

// Takes is how long something takes to get.
type Takes struct {
	Minutes int           // of somebody's work
	Wait    calendar.Rule // until it is there; none means at once
	Fee     calendar.Rule // the same for a fee; none where a fee makes nothing faster
}

// Missing lists what is missing: what directories ask for before what only helps,
// and of those what takes longest first, since it has to be begun first.
func Missing(s Subject, books []rulebook.Rulebook) []Want {
	place := calendar.Place{Zone: time.UTC, Holidays: calendar.HolidaysOf(s.Record.Address.Country, s.Record.Address.Region)}
	if zone, ok := s.Record.Location(); ok {
		place.Zone = zone
	}
	out := []Want{}
	for _, w := range wants {
		if !w.missing(s) {
			continue
		}
		want := Want{ID: w.id, Title: w.title, From: w.from, Part: w.part, Opens: w.opens, Ask: w.ask, Takes: w.takes}
		for _, b := range books {
			if b.MayList(s.Record) == "" && w.required(b) {
				want.Blocks = append(want.Blocks, b.Name)
			}
		}
		if w.takes.Wait.Unit != "" {
			want.By = place.Window(w.takes.Wait, s.Now).Latest
		}
		if w.takes.Fee.Unit != "" {
			want.Fee = place.Window(w.takes.Fee, s.Now).Latest
		}
		out = append(out, want)
	}
	slices.SortStableFunc(out, func(a, b Want) int {
		if d := len(b.Blocks) - len(a.Blocks); d != 0 {
			return d
		}
		return b.By.Number() - a.By.Number()
	})
	return out
}

func (w want) required(b rulebook.Rulebook) bool {
	rule, taken := b.Takes(w.fact)
	return taken && rule.Required
}

// undecided lists the public holidays of the next weeks on which the hours say nothing.
func undecided(s Subject) bool {
	schedule, _, err := hours.Parse(s.Record.Hours)
	zone, known := s.Record.Location()
	if err != nil || s.Record.Hours == "" || !known {
		return false
	}
	const soon = 45 // days
	today := calendar.DateOf(s.Now.In(zone))
	for _, h := range schedule.Holidays(today, calendar.HolidaysOf(s.Record.Address.Country, s.Record.Address.Region)) {
		if !h.Decided && h.Date.Number()-today.Number() <= soon {
			return true
		}
	}
	return false
}

// Letter asks an owner for what is missing, as a short list to read and answer.
// owner, from and business are names.
func Letter(owner, from, business, label string, list []Want) (subject, body string) {
	subject = "What we still need for " + business + ", " + label
	var b strings.Builder
	hello := "Hello"
	if owner != "" {
		hello += " " + strings.Fields(owner)[0]
	}
	b.WriteString(hello + ",\n\nto have " + business + " in " + label + " found in the right place, we still need from you:\n\n")
	for i, w := range list {
		b.WriteString(strconv.Itoa(i+1) + ". " + w.Ask + "\n")
		if len(w.Blocks) > 0 {
			b.WriteString("   Without it we cannot begin on " + strings.Join(w.Blocks, ", ") + ".\n")
		}
	}
	b.WriteString("\nA reply to this mail will do; photos and papers can be attached.\n\n" + from + "\n")
	return subject, b.String()
}
