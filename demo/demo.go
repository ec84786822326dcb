// Package demo lays the demo world: the clients and locations of a made-up
// agency on Tamarack Sound, and six weeks of work already under way. It is laid
// by doing that work, through the desk and the outside, not by writing rows.
package demo

import (
	"context"
	_ "embed"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"

	"uvent/core/record/record"
	"uvent/desk/clockwork"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/records"
	"uvent/outside/visit"
)

// Account is the one by which directories know the demo's agency.
const Account = "listings@halyardstreet.example"

// Password opens every account of the demo.
const Password = "harbour-lantern-thimble"

// People are those who may sign in: who works at the agency, and the owner of Nettlewick
// Yarns.
var People = []people.Person{
	{Name: "Ines Roake", Email: "ines@halyardstreet.example", Zone: "America/Los_Angeles", Role: people.Administrator},
	{Name: "Tobias Finch", Email: "tobias@halyardstreet.example", Zone: "America/New_York", Role: people.Specialist},
	{Name: "Wren Alcott", Email: "wren@halyardstreet.example", Zone: "America/Los_Angeles", Role: people.Helper},
	{Name: "Perpetua Hale", Email: "perpetua@nettlewick.example", Zone: "America/Los_Angeles", Role: people.OfClient},
}

var pacific = func() *time.Location {
	zone, err := time.LoadLocation("America/Los_Angeles")
	if err != nil {
		panic(err)
	}
	return zone
}()

var (
	// Begins is when the world's clock starts, before anything has been done.
	Begins = time.Date(2026, time.October, 12, 9, 0, 0, 0, pacific)
	// Now is when a visitor arrives.
	Now = time.Date(2026, time.November, 24, 9, 12, 0, 0, pacific)
)

//go:embed locations.csv
var locationsCSV []byte

//go:embed shared.json
var sharedJSON []byte // what each client says for all its locations

var clients = []records.ClientFacts{
	{Name: "Spokeshave Cycle Works", LegalName: "Spokeshave Cycle Works LLC", OwnerName: "Dov Marsh", OwnerEmail: "dov@spokeshave.example"},
	{Name: "Mossback Chimney & Gutter", LegalName: "Mossback Home Services LLC", OwnerName: "Ida Renn", OwnerEmail: "ida.renn@tidemail.example"},
	{Name: "Nettlewick Yarns", LegalName: "Nettlewick Fibre Arts Inc.", OwnerName: "Perpetua Hale", OwnerEmail: "perpetua@nettlewick.example"},
	{Name: "Sablecote Veterinary", LegalName: "Sablecote Animal Health PLLC", OwnerName: "Noor Castellan", OwnerEmail: "noor@sablecote.example"},
	{Name: "Saltgrass Laundry", LegalName: "Saltgrass Laundry Ltd.", OwnerName: "Bram Ottley", OwnerEmail: "bram@saltgrasslaundry.example"},
}

// Lay lays the world on an empty desk, whose jobs must be running, and an empty
// outside at the given address. The clock ends at Now.
func Lay(ctx context.Context, d *clockwork.Desk, outside string) error {
	l := layer{desk: d, world: visit.World{Base: outside}, places: map[string]ledger.Place{}, clients: map[string]uuid.UUID{}}
	var err error
	if l.who, err = d.People.AddPerson(ctx, People[0], Password); err != nil {
		return err
	}
	if err := l.bringIn(ctx); err != nil {
		return err
	}
	for _, p := range People[1:] {
		if p.Role == people.OfClient {
			of := l.clients[nettlewick]
			p.Client = &of
		}
		if _, err := d.People.AddPerson(ctx, p, Password); err != nil {
			return err
		}
	}
	for _, lay := range []func(context.Context) error{l.mapOut, l.introduce, l.file, l.furnish, l.enrol} {
		if err := lay(ctx); err != nil {
			return err
		}
	}
	for _, s := range inOrder() {
		if err := l.moveTo(ctx, s.at()); err != nil {
			return err
		}
		at, known := l.places[s.client+"/"+s.label]
		if !known {
			return fmt.Errorf("the demo has no location %s/%s", s.client, s.label)
		}
		if s.on != "" {
			at.Directory = s.on
		}
		for _, do := range s.does {
			if err := do(ctx, &l, at); err != nil {
				return fmt.Errorf("the demo, %s on %s at %s: %w", s.label, at.Directory, s.when, err)
			}
		}
	}
	return l.moveTo(ctx, Now)
}

// layer is a world as it is being laid.
type layer struct {
	desk   *clockwork.Desk
	world  visit.World
	who    people.Person
	places map[string]ledger.Place // client/label -> the location on Fernlook

	clients map[string]uuid.UUID // by name
}

func (l *layer) moveTo(ctx context.Context, t time.Time) error {
	if l.desk.Now().After(t) { // on a slow machine a step takes longer than the story gives it
		return nil
	}
	return l.desk.MoveClock(ctx, clockwork.Move{To: &t})
}

// bringIn adds the clients and imports their locations.
func (l *layer) bringIn(ctx context.Context) error {
	names := map[uuid.UUID]string{}
	var shared map[string]record.Record
	if err := json.Unmarshal(sharedJSON, &shared); err != nil {
		return fmt.Errorf("the demo's shared.json: %w", err)
	}
	for _, f := range clients {
		f.Shared = shared[f.Name]
		c, err := l.desk.Records.AddClient(ctx, l.who.Actor(), f)
		if err != nil {
			return err
		}
		names[c.ID], l.clients[c.Name] = c.Name, c.ID
	}
	in, err := l.desk.Imports.Start(ctx, l.who, nil, "locations.csv", locationsCSV)
	if err != nil {
		return err
	}
	if in.Counts.Fine < in.Counts.Rows {
		return fmt.Errorf("the demo's locations.csv: %+v", in.Counts)
	}
	if _, err := l.desk.Imports.BringIn(ctx, l.who.Actor(), in.ID); err != nil {
		return err
	}
	locations, err := l.desk.Records.Locations(ctx, ledger.Scope{})
	for _, loc := range locations {
		l.places[names[loc.ClientID]+"/"+loc.Label] = ledger.Place{Location: loc.ID, Directory: "fernlook"}
	}
	return err
}
