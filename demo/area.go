package demo

import (
	"context"
	_ "embed"

	"uvent/core/fact/geo"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/outside/visit"
)

// Map is the made-up coast, its roads and its towns: GeoJSON.
//
//go:embed tamarack.geojson
var Map string

// mapOut brings in the coast, the roads and the towns, and says how far those go
// who go to their customers.
func (l *layer) mapOut(ctx context.Context) error {
	if _, err := l.desk.Records.AddRegion(ctx, l.who.Actor(), "Tamarack Sound", Map); err != nil {
		return err
	}
	network, err := geo.Read([]byte(Map))
	if err != nil {
		return err
	}
	towns := make([]visit.Town, len(network.Towns))
	for i, t := range network.Towns {
		towns[i] = visit.Town{Town: t.Name, Latitude: t.At.Latitude, Longitude: t.At.Longitude, People: t.Population}
	}
	if err := l.world.People(ctx, towns); err != nil {
		return err
	}
	for _, a := range []struct {
		place   string
		minutes int
		with    []string
		without []string
	}{
		{"Mossback Chimney & Gutter/Alder Landing", 30, []string{"Larkspur Falls"}, []string{"Cinder Point"}},
		{"Spokeshave Cycle Works/Port Sable", 15, nil, nil},
	} {
		at, err := l.desk.Ledger.Location(ctx, l.places[a.place].Location)
		if err != nil {
			return err
		}
		r := at.Record
		reckoned, err := l.desk.Records.ReckonArea(
			ctx,
			records.AreaQuestion{Pin: r.Pin, Town: r.Address.Locality, Minutes: a.minutes, With: a.with, Without: a.without},
		)
		if err != nil {
			return err
		}
		r.Area = reckoned.Area
		if err := l.rewrite(ctx, at, r); err != nil {
			return err
		}
	}
	return nil
}

// rewrite saves another record for a location.
func (l *layer) rewrite(ctx context.Context, at ledger.Location, r record.Record) error {
	_, err := l.desk.Records.SaveLocation(ctx, l.who.Actor(), at.ID, at.Version, r)
	return err
}
