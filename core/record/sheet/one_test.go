package sheet

import (
	"errors"
	"reflect"
	"slices"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/record/table"
)

func TestOneLocationGoesOutAndComesBack(t *testing.T) {
	r, wrong := record.Normal(record.Record{
		Label:       "Old Wharf",
		StoreCode:   "NW-1",
		Name:        "=Nettlewick, \"Yarns\"",
		FormerNames: []string{"Wool Room"},
		Kind:        record.Both,
		State:       record.State{Kind: record.ClosedForATime, Until: "2026-12-31"},
		Opened:      "2009",
		Address:     address.Address{Street: "9 Old Wharf", Unit: "Suite B", Locality: "Port Sable", Region: "WA", PostalCode: "98991", Country: "US"},
		Mailing:     record.Mailing{Contact: "Perpetua Hale"},
		Pin:         &record.Pin{Latitude: 48.7025, Longitude: -124.9068},
		Phones:      []record.Phone{{E164: "+13605550109", Voice: true, Text: true}},
		Email:       "a@n.example",
		Website:     "https://n.example",
		Category:    "yarn_shop",
		Others:      []string{"craft_shop"},
		Attributes:  map[string]bool{"classes": true},
		Hours:       "Tu-Sa 10:00-17:30; PH off",
		Directions:  "Past the\nferry.",
		Words:       record.Words{Medium: "Wool; and more.", Keywords: []string{"yarn", "wool"}},
		Links: record.Links{
			Menu: "https://n.example/menu",
		},
		Socials:  []record.Social{{Name: "Murmurhall", URL: "https://m.example/n", Show: true}},
		Videos:   []string{"https://n.example/film"},
		Payments: []string{"cash"},
		Company:  record.Company{Registration: "7", Size: "2-10", Kind: "corporation", Industry: "Wool", Founded: "2009", Domains: []string{"n.example"}},
	})
	if wrong != nil {
		t.Fatal(wrong)
	}
	data, lost, err := WriteOne(r)
	if err != nil || lost != nil {
		t.Fatalf("lost %q, %v", lost, err)
	}
	if back, err := ReadOne(data, record.Record{}); err != nil || !reflect.DeepEqual(back, r) {
		t.Errorf("%+v, %v", record.Changes(r, back), err)
	}
	// What a CSV has no place for is named, and stays when it is read over the record.
	r.Area.Towns, r.Tags.On, r.Licences = []record.Town{{Name: "Quillcote", Population: 6900, Minutes: 12}}, true, []record.Licence{{Name: "Trade"}}
	r.Team, r.Offerings, r.Own = []record.Member{{Name: "Perpetua Hale"}}, []record.Section{{Title: "Yarn", Items: []record.Item{}}}, []string{"name"}
	data, lost, err = WriteOne(r)
	if err != nil || len(lost) != 6 || !slices.Contains(lost, "the offerings") {
		t.Errorf("lost %q, %v", lost, err)
	}
	if back, err := ReadOne(data, r); err != nil || !reflect.DeepEqual(back, r) {
		t.Errorf("%+v, %v", record.Changes(r, back), err)
	}
	if back, err := ReadOne(data, record.Record{}); err != nil || len(back.Area.Towns) != 1 || back.Area.Towns[0].Name != "Quillcote" || back.Tags.On {
		t.Errorf("%+v, %v", back, err)
	}

	var at *table.Error
	if _, err := ReadOne([]byte("name,opening_hours\nShop,ring the bell\n"), r); !errors.As(err, &at) || at.Line != 2 ||
		!strings.Contains(err.Error(), "opening_hours: no hours can be read") {
		t.Errorf("%v", err)
	}
	if _, err := ReadOne([]byte("name\nOne\nTwo\n"), r); !errors.Is(err, ErrNotOne) {
		t.Errorf("%v", err)
	}
	if _, err := ReadOne(nil, r); err == nil {
		t.Error("nothing is read")
	}
}
