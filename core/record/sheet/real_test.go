package sheet

import (
	"strings"
	"testing"

	"uvent/core/record/record"
	"uvent/core/record/table"
)

// theirs is a file as a client sends it.
const theirs = "Shop;Code;Str.;Address;Town;State;Postcode;Country;Tel;URL;Category;Hours;Lat;Lng\n" +
	"Café Möwe;'0012;;22 Tern Street;Minnow Bay;Washington;98990;USA;360 555 0149 ext 2;cafe-moewe.example;Coffee;Mon-Fri 8am-6pm, Sat 9-2;48,5;-122,6\n" +
	"Brindle Bakehouse;7;;3 Corn Street;Wexcombe;;WX1 2AB;UK;020 7946 0114;www.brindle.example/wex;Bakeries;ring the bell;;\n" +
	"Shop;Code;Str.;Address;Town;State;Postcode;Country;Tel;URL;Category;Hours;Lat;Lng\n" +
	";;;;;;;;;;;;;\n" +
	"Rookery Tyres;8;;9\u00a0Jetty\u200e Road;Quillcote;WA;98991;U.S.A.;1.360555E+10;;;Mo-Fr 9-18;;\n" +
	"Backerei Falk;9;;Hafenweg 3;Wiekhafen;;25999;Deutschland;030 901820;;Bakery;Mo-Fr 6-18 Uhr, Sa 6-13 Uhr;;\n" +
	"Total;4;;;;;;;;;;;;\n"

// What people write is read as what it means, and what was changed is told; what cannot be read is
// left out, and the row comes in.
func TestCellsAsPeopleWriteThem(t *testing.T) {
	s := mustRead(t, theirs)
	if len(s.Skipped) != 2 || s.Skipped[0].Line != 4 || s.Skipped[0].Says != "it repeats the names of the columns" ||
		!strings.Contains(s.Skipped[1].Says, "Total") {
		t.Errorf("%+v", s.Skipped)
	}
	reader := NewReader(s.Header, Match(s))
	var got []Applied
	for _, row := range s.Rows {
		got = append(got, reader.Apply(row, record.Record{}))
	}
	for i, want := range []struct {
		country, region, phone, website, category, hours, code string
		left                                                   string // the column that was left out
	}{
		{"US", "WA", "+13605550149", "https://cafe-moewe.example", "cafe", "Mo-Fr 08:00-18:00; Sa 09:00-14:00", "0012", ""},
		{"GB", "", "+442079460114", "https://www.brindle.example/wex", "bakery", "", "7", "Hours"},
		{"US", "WA", "", "", "", "Mo-Fr 09:00-18:00", "8", "Tel"},
		{"DE", "", "+4930901820", "", "bakery", "Mo-Fr 06:00-18:00; Sa 06:00-13:00", "9", ""},
	} {
		r, left := got[i].Record, ""
		for _, p := range got[i].Problems {
			if left = p.Column; !p.Left || p.Reason == "" {
				t.Errorf("row %d: %+v", i, p)
			}
		}
		if got[i].Waits() || r.Address.Country != want.country || r.Address.Region != want.region || r.MainPhone() != want.phone || r.Website != want.website ||
			r.Category != want.category || r.Hours != want.hours || r.StoreCode != want.code || left != want.left {
			t.Errorf("row %d is %+v with %+v", i, r, got[i].Problems)
		}
	}
	if r := got[0].Record; r.Pin == nil || r.Pin.Latitude != 48.5 || r.Pin.Longitude != -122.6 {
		t.Errorf("the pin is %+v", r.Pin)
	}
	if r := got[2].Record; r.Address.Street != "9 Jetty Road" {
		t.Errorf("the street is %q", r.Address.Street)
	}
	said := map[string]string{}
	for _, r := range got[0].Readings {
		said[r.Column] = r.From + " → " + r.To
	}
	for column, want := range map[string]string{"Country": "USA → United States", "State": "Washington → WA", "Tel": "360 555 0149 ext 2 → +13605550149, without its extension", "Hours": "Mon-Fri 8am-6pm, Sat 9-2 → Mon–Fri 8–18; Sat 9–14", "URL": "cafe-moewe.example → https://cafe-moewe.example"} {
		if said[column] != want {
			t.Errorf("%s: %q, want %q", column, said[column], want)
		}
	}
	// Without a name it waits.
	if a := reader.Apply(
		table.Row{Line: 9, Cells: []string{"", "1", "", "1 A", "B", "WA", "", "US"}},
		record.Record{},
	); !a.Waits() || a.Problems[0].Column != "Shop" ||
		a.Problems[0].Left {
		t.Errorf("%+v", a)
	}
}

// One cell read by itself.
func TestUnderstand(t *testing.T) {
	for _, c := range []struct {
		key, cell, country, want string
		sure                     bool
	}{
		{"opened", "24.12.1987", "DE", "1987-12-24", true}, {"opened", "3/4/1987", "US", "1987-03-04", true}, {"opened", "3/4/1987", "GB", "1987-04-03", true}, {"opened", "3/4/1987", "", "1987-04-03", false},
		{"opened", "25/4/1987", "", "1987-04-25", true}, {"opened", "May 2, 1987", "US", "1987-05-02", true}, {"opened", "1987-05", "", "1987-05", true},
		{"website", "x.example/a", "", "https://x.example/a", true}, {"website", "see our page", "", "see our page", true}, {"website", "http://x.example", "", "http://x.example", true},
		{"phone", "(360) 555-0142 x12", "US", "+13605550142", true}, {"phone", "12", "US", "12", true}, {"country", "Atlantis", "", "Atlantis", true},
		{"opening_hours", "9-5", "US", "Mo-Su 09:00-17:00", false}, {"opening_hours", "mo-fr 09:00-17:00", "", "mo-fr 09:00-17:00", true}, {"latitude", "48,5", "", "48.5", true},
	} {
		if got := understand(c.key, c.cell, c.country); got.text != c.want || got.sure != c.sure || got.says != "" {
			t.Errorf("%s %q: %+v, want %q", c.key, c.cell, got, c.want)
		}
	}
}
