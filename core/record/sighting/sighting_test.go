package sighting

import (
	"encoding/json"
	"maps"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"uvent/core/record/record"
)

// some draws what a page may show.
func some(r *rand.Rand) (s Sighting) {
	word := func() string {
		return []string{"Tern Cycles", "18 Quay", "WA", "https://tern.example/a", "65 USD"}[r.IntN(5)]
	}
	for _, c := range columns {
		switch {
		case r.IntN(3) == 0 || c.key == "phone_3":
		case c.key == "latitude":
			s.Pin = &record.Pin{Latitude: 48.5, Longitude: -123.25}
		case c.key == "longitude":
		case c.key == "attributes":
			s.Attributes = map[string]bool{"Wi-Fi": true, "Car park": false}
		case c.key == "social_profiles":
			s.Socials = []Social{{Name: "Murmurhall", URL: "https://murmurhall.example/t"}, {URL: "https://lanefolk.example/t"}}
		case c.key == "state_of_business":
			s.State = record.Moved
		default:
			c.set(&s, word())
		}
	}
	s.Hours = []string{"", "Mo-Fr 09:00-18:00", "by the tide"}[r.IntN(3)]
	return s
}

// What is written by columns is read as the same.
func TestColumnsAreReadAsTheyAreWritten(t *testing.T) {
	r := rand.New(rand.NewPCG(18, 3))
	for range 2000 {
		s := some(r)
		back, err := FromColumns(s.Columns())
		if err != nil || !reflect.DeepEqual(s.Columns(), back.Columns()) || back.Hours != s.Hours {
			t.Fatalf("%+v comes back as %+v, %v", s, back, err)
		}
	}
	if _, err := FromColumns(map[string]string{"fax": "1"}); err == nil || !strings.Contains(err.Error(), "fax") {
		t.Errorf("a fax: %v", err)
	}
	s, err := FromColumns(map[string]string{"opening_hours": "Mo-Fr 09:00-18:00; 2026 Dec 24 off"})
	if err != nil || s.Columns()["opening_hours"] != "Mo-Fr 09:00-18:00" || len(s.Dates()) != 1 {
		t.Errorf("%+v, %v", s, err)
	}
}

// Each column holds a fact, and each fact can be taken from one sighting to another, and no other with it.
func TestEveryFactCanBeTaken(t *testing.T) {
	var keys []string
	for _, f := range Facts {
		keys = append(keys, f.Key)
	}
	for _, c := range append(slices.Clone(columns), column{key: hoursColumn}) {
		for _, fact := range FactsOf(c.key) {
			if fact != "special_dates" && !slices.Contains(keys, fact) {
				t.Errorf("the column %s holds %s, which is no fact", c.key, fact)
			}
		}
	}
	r := rand.New(rand.NewPCG(18, 4))
	for range 300 {
		full := some(r)
		for _, f := range Facts {
			var one Sighting
			f.Take(&one, full)
			if f.Empty(one) != f.Empty(full) {
				t.Fatalf("%s is not taken", f.Key)
			}
			for _, o := range Facts {
				if o.Key != f.Key && !o.Empty(one) {
					t.Fatalf("%s is taken with %s", o.Key, f.Key)
				}
			}
		}
	}
}

// What is kept is read again as it was, and the seven facts that were ever kept are in their places.
func TestASightingIsKept(t *testing.T) {
	r := rand.New(rand.NewPCG(18, 5))
	for range 300 {
		s := some(r)
		data, err := json.Marshal(s)
		var back Sighting
		if err == nil {
			err = json.Unmarshal(data, &back)
		}
		if err != nil || !reflect.DeepEqual(s.Columns(), back.Columns()) {
			t.Fatalf("%+v is kept as %s, %v", s, data, err)
		}
	}
	data, err := json.Marshal(Sighting{Name: "Tern"})
	var fields map[string]any
	if err == nil {
		err = json.Unmarshal(data, &fields)
	}
	if got := slices.Sorted(maps.Keys(fields)); err != nil || strings.Join(got, " ") != "address category email hours name phone website" {
		t.Errorf("%v, %v", got, err)
	}
	if !(Sighting{}).Says("phone") || (Sighting{More: More{Only: []string{"name"}}}).Says("phone") {
		t.Error("who spoke of what is mistaken")
	}
}
