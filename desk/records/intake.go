package records

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/core/rule/intake"
	"uvent/desk/ledger"
	"uvent/desk/letters"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// Intake is what is still missing of a location.
type Intake struct {
	Location ledger.Location
	Client   ledger.Client
	Missing  []intake.Want
	Ways     map[string][]verification.Way // by directory: what its phones, emails and post can do
	Letter   letters.Letter                // to the owner, as it would be sent
	Sent     *SentLetter                   // the last one
}

// SentLetter is one that was sent.
type SentLetter struct {
	At    time.Time
	Actor string
	To    string
}

// Missing says what is still missing of each location.
func (d *Desk) Missing(ctx context.Context, locations []ledger.Location) (map[uuid.UUID][]intake.Want, error) {
	photos, err := d.store.PhotoCounts(ctx)
	if err != nil {
		return nil, err
	}
	papers, err := d.store.PaperCounts(ctx)
	if err != nil {
		return nil, err
	}
	pics, docs := newCounts(), newCounts()
	for _, p := range photos {
		pics.add(p.ClientID, p.LocationID, p.Kind, p.Count)
	}
	for _, p := range papers {
		docs.add(p.ClientID, p.LocationID, p.Kind, p.Count)
	}
	out := map[uuid.UUID][]intake.Want{}
	for _, l := range locations {
		out[l.ID] = intake.Missing(intake.Subject{Record: l.Record, Held: intake.Held{Photos: pics.of(l), Papers: docs.of(l)}, Now: d.clock.Now()}, d.shelf.Books())
	}
	return out, nil
}

// counts are how many there are of each kind, by whose they are.
type counts map[uuid.UUID]map[string]int

func newCounts() counts { return counts{} }

func (c counts) add(client uuid.UUID, location *uuid.UUID, kind string, n int64) {
	whose := client
	if location != nil {
		whose = *location
	}
	if c[whose] == nil {
		c[whose] = map[string]int{}
	}
	c[whose][kind] += int(n)
}

// of counts a location's own and its client's.
func (c counts) of(l ledger.Location) map[string]int {
	out := map[string]int{}
	for _, whose := range []uuid.UUID{l.ID, l.ClientID} {
		for kind, n := range c[whose] {
			out[kind] += n
		}
	}
	return out
}

// MissingCounts says of how many things each location of a scope is still in want.
func (d *Desk) MissingCounts(ctx context.Context, s ledger.Scope) (map[uuid.UUID]int, error) {
	locations, err := d.Locations(ctx, s)
	if err != nil {
		return nil, err
	}
	missing, err := d.Missing(ctx, locations)
	out := map[uuid.UUID]int{}
	for id, list := range missing {
		out[id] = len(list)
	}
	return out, err
}

// Intake says what is still missing of a location, and how its owner would be
// asked for it.
func (d *Desk) Intake(ctx context.Context, who people.Actor, location uuid.UUID) (in Intake, err error) {
	if in.Location, err = d.ledger.Location(ctx, location); err != nil {
		return in, err
	}
	if in.Client, err = d.ledger.Client(ctx, in.Location.ClientID); err != nil {
		return in, err
	}
	missing, err := d.Missing(ctx, []ledger.Location{in.Location})
	if err != nil {
		return in, err
	}
	in.Missing = missing[location]
	past, err := d.ledger.Past(ctx)
	if err != nil {
		return in, err
	}
	in.Ways = map[string][]verification.Way{}
	for _, b := range d.shelf.Books() {
		if b.MayList(in.Location.Record) == "" {
			in.Ways[b.ID] = verification.Ways(
				verification.Question{Book: b, Record: in.Location.Record, State: verification.Start(), Now: d.clock.Now(), Past: past[b.ID]},
			)
		}
	}
	in.Letter = in.letter(who.Name, nil)
	var sent struct{ To string }
	switch e, err := d.store.LastEvent(ctx, db.LastEventParams{LocationID: &location, Kind: "intake_asked"}); {
	case err == nil:
		if err := json.Unmarshal(e.Data, &sent); err != nil {
			return in, err
		}
		in.Sent = &SentLetter{e.At, e.Actor, sent.To}
	case problem.IgnoreNoRows(err) != nil:
		return in, err
	}
	return in, nil
}

// letter asks the owner for things by their ids; nil: for all that owners have.
func (in Intake) letter(from string, ids []string) letters.Letter {
	var list []intake.Want
	for _, w := range in.Missing {
		if ids == nil && w.From == intake.Owner || slices.Contains(ids, w.ID) {
			list = append(list, w)
		}
	}
	subject, body := intake.Letter(in.Client.OwnerName, from, in.Location.Record.Name, in.Location.Label, list)
	return letters.Letter{To: in.Client.OwnerEmail, Subject: subject, Body: body}
}

// IntakeLetter is the letter that asks an owner for some of what is missing.
func (d *Desk) IntakeLetter(ctx context.Context, who people.Actor, location uuid.UUID, ids []string) (letters.Letter, error) {
	in, err := d.Intake(ctx, who, location)
	return in.letter(who.Name, ids), err
}

// AskOwner sends the owner the list of what is missing, by mail. It is sent in the
// background, and again when the mail server does not answer.
func (d *Desk) AskOwner(ctx context.Context, who people.Person, location uuid.UUID, ids []string) error {
	in, err := d.Intake(ctx, who.Actor(), location)
	if err != nil {
		return err
	}
	letter := in.letter(who.Name, ids)
	switch {
	case letter.To == "":
		return problem.Conflictf("%s has no owner’s email yet; add it under the client.", in.Client.Name)
	case len(ids) == 0:
		return &problem.Problem{Kind: problem.Invalid, Detail: "Choose what to ask for."}
	}
	return d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		m := reach.Mail{
			ID: uuid.NewString(), From: who.Email, As: who.Name, To: letter.To, Subject: letter.Subject, Body: letter.Body,
			Client: &in.Client.ID, Location: &location,
		}
		if err := d.letters.Send(ctx, tx, m); err != nil {
			return err
		}
		return d.ledger.Note(ctx, q, who.Actor(), "intake_asked", in.Client.ID, &location, map[string]any{"to": letter.To, "wants": ids, "mail": m.ID})
	})
}
