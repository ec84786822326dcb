package httpapi_test

import (
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"

	"uvent/core/record/record"
	"uvent/e2e/rig"
	"uvent/httpapi/api"
)

func TestDraftsOverHTTP(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	at := "/api/drafts/" + url.PathEscape("location "+uuid.NewString())
	var d api.Draft
	if c.want(200, "GET", at, nil, &d); d.Body != "" {
		t.Errorf("there is a draft: %s", d.Body)
	}
	c.want(204, "PUT", at, api.Draft{Body: `{"half": "a wo`}, nil)
	if c.want(200, "GET", at, nil, &d); d.Body != `{"half": "a wo` {
		t.Errorf("it is %s", d.Body)
	}
	c.want(204, "DELETE", at, nil, nil)
	if c.want(200, "GET", at, nil, &d); d.Body != "" {
		t.Errorf("it is still there: %s", d.Body)
	}
	if p := c.problem(404, "PUT", "/api/drafts/novel", api.Draft{}); !strings.Contains(p.Detail, "nothing of this kind") {
		t.Errorf("%+v", p)
	}
}

func TestTwoWhoEditOverHTTP(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	at := "/api/locations/" + r.Add(t, rig.Shop("Minnow Bay")).Location.String()
	var l api.Location
	c.want(200, "GET", at, nil, &l)
	base, mine, theirs := l.Record, l.Record, l.Record
	mine.Email, mine.Parking, theirs.Email = "mine@spokeshave.example", "Behind.", "theirs@spokeshave.example"

	first, second := at+"/presence/"+uuid.NewString(), at+"/presence/"+uuid.NewString()
	var others []api.Present
	c.want(200, "PUT", first, map[string]bool{"editing": true}, nil)
	if c.want(200, "PUT", second, map[string]bool{"editing": false}, &others); len(others) != 1 || !others[0].You || !others[0].Editing ||
		others[0].Name != "Ines Roake" {
		t.Errorf("%+v", others)
	}
	c.want(204, "DELETE", first, nil, nil)
	if c.want(200, "PUT", second, map[string]bool{"editing": false}, &others); len(others) != 0 {
		t.Errorf("%+v", others)
	}
	c.problem(404, "PUT", "/api/locations/"+uuid.NewString()+"/presence/"+uuid.NewString(), map[string]bool{"editing": false})

	c.want(200, "PUT", at+"?version=1", theirs, nil)
	if p := c.problem(409, "PUT", at+"?version=1", mine); !strings.Contains(p.Detail, "Somebody saved this") {
		t.Errorf("%+v", p)
	}
	var m api.Merged
	c.want(200, "POST", at+"/merge", api.Edit{Base: base, Record: mine}, &m)
	if m.Location.Version != 2 || m.By != "Ines Roake" || m.Record.Parking != "Behind." || len(m.Conflicts) != 1 || m.Conflicts[0].Theirs != theirs.Email {
		t.Errorf("%+v", m)
	}
	c.want(200, "PUT", at+"?version=2", m.Record, nil)

	// A change from a date, and another that is taken back.
	on := openapi_types.Date{Time: time.Date(2026, 12, 1, 0, 0, 0, 0, time.UTC)}
	later := m.Record
	later.LegalName = "Later LLC"
	var kept struct{ ID uuid.UUID }
	c.want(201, "POST", at+"/plans", map[string]any{"on": on, "edit": api.Edit{Base: m.Record, Record: later}}, &kept)
	var plans []api.Planned
	if c.want(200, "GET", at+"/plans", nil, &plans); len(plans) != 1 || plans[0].Changes[0].After != "Later LLC" || plans[0].On != on || plans[0].Done {
		t.Errorf("%+v", plans)
	}
	c.want(204, "DELETE", at+"/plans/"+kept.ID.String(), nil, nil)
	c.problem(404, "DELETE", at+"/plans/"+kept.ID.String(), nil)
	if c.want(200, "GET", at+"/plans", nil, &plans); len(plans) != 0 {
		t.Errorf("%+v", plans)
	}
	on.Time = time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)
	if p := c.problem(422, "POST", at+"/plans", map[string]any{"on": on, "edit": api.Edit{Base: m.Record, Record: later}}); !strings.Contains(
		p.Detail,
		"from tomorrow on",
	) {
		t.Errorf("%+v", p)
	}
}

func TestPlacesAndLinksOverHTTP(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	roads := `{"type":"FeatureCollection","features":[{"type":"Feature","geometry":{"type":"LineString","coordinates":[[-125,48],[-125,49]]},"properties":{"speed_kmh":60}},
		{"type":"Feature","geometry":{"type":"Point","coordinates":[-125,48]},"properties":{"name":"South","population":100}}]}`
	var region api.Region
	c.want(201, "POST", "/api/regions", map[string]string{"name": "Coast", "text": roads}, &region)
	if p := c.problem(422, "POST", "/api/regions", map[string]string{"name": "Sea", "text": "[]"}); (*p.Fields)[0].Path != "text" {
		t.Errorf("%+v", p)
	}
	var regions []api.Region
	if c.want(200, "GET", "/api/regions", nil, &regions); len(regions) != 1 || regions[0].Towns != 1 || regions[0].Roads != 1 {
		t.Errorf("%+v", regions)
	}
	var drawn struct {
		Type     string
		Features []struct{ Geometry struct{ Type string } }
	}
	if c.want(200, "GET", "/api/map", nil, &drawn); drawn.Type != "FeatureCollection" || len(drawn.Features) != 2 ||
		drawn.Features[0].Geometry.Type != "LineString" {
		t.Errorf("%+v", drawn)
	}
	var a api.AreaReckoned
	c.want(
		200,
		"POST",
		"/api/area",
		api.AreaQuestion{Pin: &record.Pin{Latitude: 48.1, Longitude: -125}, Town: "South", Minutes: 20, With: []string{}, Without: []string{}},
		&a,
	)
	if !a.ByRoad || len(a.Area.Towns) != 1 || a.Area.Towns[0].Minutes != 11.1 || len(a.Outline) != 1 || len(a.Outline[0][0]) != 2 || len(a.Warnings) != 1 {
		t.Errorf("%+v", a)
	}
	var read record.Area
	if c.want(200, "POST", "/api/area/read", map[string]string{"text": a.Geojson}, &read); len(read.Towns) != 1 || read.Minutes != 20 {
		t.Errorf("%+v", read)
	}
	c.problem(422, "POST", "/api/area/read", map[string]string{"text": "{}"})
	if c.want(200, "POST", "/api/area", api.AreaQuestion{With: []string{}, Without: []string{}}, &a); len(a.Area.Towns) != 0 {
		t.Errorf("without a pin: %+v", a)
	}
	c.want(204, "DELETE", "/api/regions/"+region.Id.String(), nil, nil)
	c.problem(404, "DELETE", "/api/regions/"+region.Id.String(), nil)

	rig.Must(t, r.World.Site(t.Context(), "spokeshave.example/gift", 404, ""))
	var answers []api.LinkAnswer
	c.want(200, "POST", "/api/link-checks", []string{"https://spokeshave.example", "https://spokeshave.example/gift", "http://127.0.0.1:5432/"}, &answers)
	if len(answers) != 3 || !answers[0].Good || answers[1].Good || answers[2].Good || !strings.Contains(answers[2].Says, "private network") {
		t.Errorf("%+v", answers)
	}
	c.problem(422, "POST", "/api/link-checks", make([]string, 51))
	var tagged []api.TaggedLink
	c.want(
		200,
		"POST",
		"/api/tagged-links",
		map[string]any{"address": "https://spokeshave.example/?utm_medium=card", "tags": record.Tags{On: true, Medium: "listing", Campaign: "bay"}},
		&tagged,
	)
	if len(tagged) != 1 || tagged[0].Address != "https://spokeshave.example/?utm_medium=card&utm_source=fernlook&utm_campaign=bay" {
		t.Errorf("%+v", tagged)
	}
}
