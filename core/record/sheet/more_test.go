package sheet

import (
	"reflect"
	"testing"

	"uvent/core/record/record"
)

func TestSocialsAndTowns(t *testing.T) {
	r := record.Record{
		Socials: []record.Social{{Name: "Murmurhall", URL: "https://murmurhall.example/spoke", Show: true}, {URL: "https://lanefolk.example/spoke"}},
		Area: record.Area{
			Minutes: 40,
			Towns:   []record.Town{{Name: "Port Sable", Population: 18400, Minutes: 3}, {Name: "Quillcote", Population: 6900, Minutes: 12}},
		},
	}
	if s := getSocials(r); s != "Murmurhall https://murmurhall.example/spoke | https://lanefolk.example/spoke (hidden)" {
		t.Errorf("the profiles are %q", s)
	}
	back := record.Record{Area: r.Area}
	if says := setSocials(&back, getSocials(r)) + setTowns(&back, getTowns(r)); says != "" || !reflect.DeepEqual(back, r) {
		t.Errorf("%q: %+v", says, back)
	}
	if says := setTowns(
		&back,
		"quillcote | Fennick",
	); says != "" || len(back.Area.Towns) != 2 || back.Area.Towns[0].Population != 6900 || back.Area.Towns[1] != (record.Town{Name: "Fennick", ByHand: true}) ||
		r.Area.Towns[0].Name != "Port Sable" {
		t.Errorf("%q: %+v", says, back.Area)
	}
	if says := setSocials(&back, "Murmurhall spoke"); says == "" {
		t.Error("a profile without an address is taken")
	}
}
