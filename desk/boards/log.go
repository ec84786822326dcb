package boards

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/matters"
	"uvent/desk/people"
	"uvent/store"
	"uvent/store/db"
)

// LogFilter is what of the log is asked for; what is empty is not asked about.
type LogFilter struct {
	ledger.Scope
	Before *int64 // events before this one
	Actor  *string
	Kind   *string
	Text   *string    // that stands in what is kept of it, or in whom it is about
	From   *time.Time // and later
	To     *time.Time // and before
	Most   int
}

// LogLine is one thing that was done.
type LogLine struct {
	ID          int64
	At          time.Time
	Actor       string
	Kind        string
	Data        json.RawMessage
	ClientID    *uuid.UUID
	LocationID  *uuid.UUID
	DirectoryID *string
	ClientName  string
	Label       string // of the location
	Sealed      bool   // it is in the chain
	Says        string
	Directory   string // its name; empty for none
}

// MostLog is how many lines are told at once.
const MostLog = 500

// Log tells what was done, the newest first.
func (d *Desk) Log(ctx context.Context, f LogFilter) ([]LogLine, error) {
	if f.Most <= 0 || f.Most > MostLog {
		f.Most = MostLog
	}
	return store.Each(d.line)(
		d.store.Reading(
			ctx,
		).Log(
			ctx,
			db.LogParams{
				Before:     f.Before,
				Clients:    f.Clients,
				LocationID: f.Location,
				Actor:      f.Actor,
				Kind:       f.Kind,
				Text:       f.Text,
				FromAt:     f.From,
				ToAt:       f.To,
				Most:       int32(f.Most),
			},
		),
	)
}

// line is an event as people read it.
func (d *Desk) line(r db.LogRow) LogLine {
	l := LogLine{
		ID:          r.ID,
		At:          r.At,
		Actor:       r.Actor,
		Kind:        r.Kind,
		Data:        r.Data,
		ClientID:    r.ClientID,
		LocationID:  r.LocationID,
		DirectoryID: r.DirectoryID,
		ClientName:  r.ClientName,
		Label:       r.Label,
		Sealed:      r.Sealed,
	}
	if l.Says = d.logSays(l); r.DirectoryID != nil {
		l.Directory = d.shelf.DirectoryName(*r.DirectoryID)
	}
	return l
}

// LogKinds are the kinds of things that were ever done.
func (d *Desk) LogKinds(ctx context.Context) ([]LogKind, error) {
	return store.Each(func(kind string) LogKind { return LogKind{kind, logTitle(kind)} })(d.store.Reading(ctx).LogKinds(ctx))
}

// LogKind is a kind of what is done, and what it is called.
type LogKind struct{ ID, Title string }

// logSays says an event in words.
func (d *Desk) logSays(r LogLine) string {
	if r.DirectoryID != nil {
		book, err := d.shelf.Book(*r.DirectoryID)
		if err != nil {
			book = rulebook.Rulebook{Name: *r.DirectoryID}
		}
		if what, err := verification.Read(verification.Kind(r.Kind), r.Data); err == nil {
			if says := what.Tell(book); says != "" {
				return says
			}
		}
	}
	if says, known := worded(r.Kind, r.Data); known {
		return says
	}
	var data map[string]any
	what := logTitle(r.Kind)
	if json.Unmarshal(r.Data, &data) != nil {
		return what + "."
	}
	var parts []string
	for key, value := range data {
		switch v := value.(type) {
		case string:
			if _, err := uuid.Parse(v); v != "" && err != nil && len(v) < 80 {
				parts = append(parts, strings.ReplaceAll(key, "_", " ")+" "+v)
			}
		case float64, bool:
			parts = append(parts, fmt.Sprint(strings.ReplaceAll(key, "_", " "), " ", v))
		}
	}
	slices.Sort(parts)
	if len(parts) == 0 {
		return what + "."
	}
	return what + ": " + strings.Join(parts, ", ") + "."
}

// Snoozed lists what is put off in a scope.
func (d *Desk) Snoozed(ctx context.Context, s ledger.Scope) ([]matters.Snooze, error) {
	return store.Each(matters.SnoozeOf)(d.store.Reading(ctx).Snoozed(ctx, db.SnoozedParams{Now: d.clock.Now(), Clients: s.Clients, LocationID: s.Location}))
}

// Done lists what people have done in a scope since a day began by somebody's clock, the
// newest first.
func (d *Desk) Done(ctx context.Context, who people.Person, s ledger.Scope) ([]LogLine, error) {
	zone, err := time.LoadLocation(who.Zone)
	if err != nil {
		return nil, err
	}
	return store.Each(func(r db.DoneSinceRow) LogLine { return d.line(db.LogRow(r)) })(
		d.store.Reading(ctx).DoneSince(ctx, db.DoneSinceParams{Since: calendar.DateIn(d.clock.Now(), zone).In(zone), Clients: s.Clients, LocationID: s.Location}),
	)
}
