package records_test

import (
	"os"
	"strings"
	"testing"

	"github.com/google/uuid"

	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

const roads = `{"type":"FeatureCollection","features":[
{"type":"Feature","geometry":{"type":"LineString","coordinates":[[-125,48],[-125,48.5],[-125,49]]},"properties":{"speed_kmh":60}},
{"type":"Feature","geometry":{"type":"Point","coordinates":[-125,48]},"properties":{"name":"South","population":100}},
{"type":"Feature","geometry":{"type":"Point","coordinates":[-125,48.3]},"properties":{"name":"Middle","population":500}},
{"type":"Feature","geometry":{"type":"Point","coordinates":[-125,49]},"properties":{"name":"North","population":900}}]}`

func names(towns []record.Town) string {
	var out []string
	for _, t := range towns {
		out = append(out, t.Name)
	}
	return strings.Join(out, " ")
}

func TestAreasAreReckonedByRoadOrElseByDistance(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	q := records.AreaQuestion{Pin: &record.Pin{Latitude: 48.1, Longitude: -125}, Town: "south", Minutes: 30}
	if a, err := r.Desk.Records.ReckonArea(ctx, q); err != nil || a.ByRoad || len(a.Others) != 0 || a.Warnings != nil {
		t.Errorf("where nothing is known: %+v, %v", a, err)
	}
	_, err := r.Desk.Records.AddRegion(ctx, who, "", roads)
	rig.Refused(t, err, problem.Invalid, "name")
	_, err = r.Desk.Records.AddRegion(ctx, who, "Coast", "{}")
	rig.Refused(t, err, problem.Invalid, "text")
	region, err := r.Desk.Records.AddRegion(ctx, who, "Coast", roads)
	if err != nil || region.Towns != 3 || region.Roads != 2 {
		t.Fatalf("%+v, %v", region, err)
	}
	_, err = r.Desk.Records.AddRegion(ctx, who, "coast", roads)
	rig.Refused(t, err, problem.Invalid, "another region has this name")

	// A minute is a kilometre here: South is 11 away, Middle 22, North 100.
	a, err := r.Desk.Records.ReckonArea(ctx, q)
	if err != nil || !a.ByRoad || names(a.Area.Towns) != "Middle South" || names(a.Others) != "North" || len(a.Outline) != 1 ||
		!strings.Contains(a.Warnings[0], "11 km from South") {
		t.Errorf("%+v, %v", a, err)
	}
	q.With, q.Without, q.Town = []string{"north"}, []string{"Middle"}, "Middle"
	a, err = r.Desk.Records.ReckonArea(ctx, q)
	if err != nil || names(a.Area.Towns) != "North South" || !a.Area.Towns[0].ByHand || strings.Join(a.Area.Without, "") != "Middle" ||
		names(a.Others) != "Middle" {
		t.Errorf("%+v, %v", a, err)
	}
	read, err := r.Desk.Records.ReadArea(ctx, a.GeoJSON)
	if err != nil || names(read.Towns) != "North South" || read.Minutes != 30 {
		t.Errorf("it comes back as %+v, %v", read, err)
	}
	_, err = r.Desk.Records.ReadArea(ctx, "[]")
	rig.Refused(t, err, problem.Invalid, "no GeoJSON FeatureCollection")

	// Far from every road: in a straight line, and it is said.
	q = records.AreaQuestion{Pin: &record.Pin{Latitude: 48.1, Longitude: -125.4}, Minutes: 60}
	a, err = r.Desk.Records.ReckonArea(ctx, q)
	if err != nil || a.ByRoad || a.SpeedKMH != 45 || names(a.Area.Towns) != "Middle South" || !strings.Contains(a.Warnings[0], "off every road") {
		t.Errorf("%+v, %v", a, err)
	}
	q.Pin = &record.Pin{Latitude: -125, Longitude: 48.1}
	q.Pin.Latitude = -89
	if a, err = r.Desk.Records.ReckonArea(ctx, q); err != nil || !strings.Contains(a.Warnings[0], "right way round") {
		t.Errorf("%+v, %v", a.Warnings, err)
	}
	_, err = r.Desk.Records.ReckonArea(ctx, records.AreaQuestion{Minutes: 999})
	rig.Refused(t, err, problem.Invalid, "up to 240 minutes")
	if m, err := r.Desk.Records.Map(ctx); err != nil || len(m) != 4 {
		t.Errorf("%d features, %v", len(m), err)
	}
	rig.Must(t, r.Desk.Records.DropRegion(ctx, who, region.ID))
	rig.Refused(t, r.Desk.Records.DropRegion(ctx, who, uuid.New()), problem.NotFound, "no such region")
	if m, err := r.Desk.Records.Map(ctx); err != nil || len(m) != 0 {
		t.Errorf("%d features are left, %v", len(m), err)
	}
}

// An extract of OpenStreetMap becomes a region in the background; one that is none is kept with the reason, until it is taken out.
func TestARegionIsMadeOfAnExtract(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	packed, err := os.ReadFile("../../core/fact/extract/testdata/reach.osm.pbf")
	rig.Must(t, err)
	state := func(id uuid.UUID) (out records.Region) {
		t.Helper()
		r.Eventually(t, func() bool {
			list, err := r.Desk.Records.Regions(ctx)
			rig.Must(t, err)
			for _, one := range list {
				if one.ID == id {
					out = one
				}
			}
			return out.State != records.RegionReading
		})
		return out
	}
	_, err = r.Desk.Records.AddExtract(ctx, who, " ", packed)
	rig.Refused(t, err, problem.Invalid, "name")
	region, err := r.Desk.Records.AddExtract(ctx, who, "Kettle Reach", packed)
	if err != nil || region.State != records.RegionReading {
		t.Fatalf("%+v, %v", region, err)
	}
	if made := state(region.ID); made.State != records.RegionReady || made.Towns != 3 || made.Unknown != 1 || made.Roads != 4 {
		t.Errorf("%+v", made)
	}
	a, err := r.Desk.Records.ReckonArea(ctx, records.AreaQuestion{Pin: &record.Pin{Latitude: 48.5, Longitude: -124.9}, Minutes: 20})
	if err != nil || !a.ByRoad || names(a.Area.Towns) != "Kettle Reach Small Rudder Upper Fenwater" {
		t.Errorf("%+v, %v", a, err)
	}
	if m, err := r.Desk.Records.Map(ctx); err != nil || len(m) != 8 {
		t.Errorf("%d features are drawn, %v", len(m), err)
	}
	cut, err := r.Desk.Records.AddExtract(ctx, who, "Cut short", packed[:len(packed)/2])
	rig.Must(t, err)
	if failed := state(cut.ID); failed.State != records.RegionFailed || !strings.Contains(failed.Trouble, "cannot be read to its end") {
		t.Errorf("%+v", failed)
	}
	rig.Must(t, r.Desk.Records.DropRegion(ctx, who, cut.ID))
	var left int
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from file where what = 'extract'").Scan(&left))
	if left != 0 {
		t.Errorf("%d extracts are kept", left)
	}
}
