package sheet

import (
	"reflect"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

// What columns are called elsewhere, and columns without a name that tells.
func TestColumnsByTheirNamesAndByWhatTheyHold(t *testing.T) {
	for _, c := range []struct{ file, want string }{
		{"Firma;Straße;Nr.;PLZ;Ort;Land;Telefon;Öffnungszeiten\nBäckerei Falk;Hafenweg;3;25999;Wiekhafen;Deutschland;030 23125 101;Mo-Fr 6-18 Uhr\n", "name street house_number postal_code locality country phone opening_hours"},
		{"Enseigne,Rue,CP Ville,Pays,Tél.,Horaires\nFournil,12 rue du Port,29999 Kermouet,France,01 99 00 12 34,lun-ven 8h-19h\n", "name street town_line country phone opening_hours"},
		{"Nombre,Dirección,Código postal,Ciudad,País,Teléfono,Horario\nPan,Calle Mayor 3,28999,Villaseca,España,912 34 56 78,L-V 9-14\n", "name street postal_code locality country phone opening_hours"},
		{"No;Store;Address;Contact;Link;When\n1;Spokeshave;18 Tern Street, Minnow Bay, WA 98990;dov@spokeshave.example;spokeshave.example;Mon-Fri 9-5\n2;Rookery;9 Jetty Road, Quillcote, WA 98991;a@rookery.example;www.rookery.example;Sat 9-2\n", "store_code name street email website opening_hours"},
		{"Store #,Name,Str.,No.,City\nS-1,Shop,Tern Street,18,Minnow Bay\nS-2,Shop,Jetty Road,9,Quillcote\n", "store_code name street house_number locality"},
		{"Store phone,Business website,Mgr bonus,Store Name (public),Mon,Tue\n360 555 0101,a.example,500,Shop,9-5,9-5\n", "phone website . name monday tuesday"},
		{"Name,Where,Point\nShop,\"18 Tern Street, Minnow Bay, WA 98990\",\"48.61, -124.95\"\n", "name whole_address pin"},
		{"Spokeshave,18 Tern Street,Minnow Bay,WA,98990,USA,360 555 0142\nRookery,9 Jetty Road,Quillcote,WA,98991,USA,360 555 0143\n", "name street locality region postal_code country phone"},
	} {
		tab := mustRead(t, c.file)
		var got []string
		for _, key := range Match(tab) {
			if key == "" {
				key = "."
			}
			got = append(got, key)
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%q:\n%s, want\n%s", c.file[:30], strings.Join(got, " "), c.want)
		}
		if CheckColumns(tab.Header, Match(tab)) != nil {
			t.Errorf("%q: what is matched is refused", c.file[:30])
		}
	}
}

// One fact in two columns, and several in one.
func TestFactsThatAreApartOrTogether(t *testing.T) {
	for _, c := range []struct {
		file string
		want record.Record
	}{
		{"Name;Str.;Nr.;PLZ Ort;Land;Telefon\nFalk;Hafenweg;3a;25999 Wiekhafen;Deutschland;030 23125 101 / 030 23125 102\n",
			record.Record{Name: "Falk", Phones: phonesOf("+493023125101", "+493023125102"), Address: addressOf("Hafenweg 3a", "", "Wiekhafen", "", "25999", "DE")}},
		{"Name,Street,No,City,State,Zip\nShop,Tern Street,18,Minnow Bay,Washington,98990\n", record.Record{Name: "Shop", Address: addressOf("18 Tern Street", "", "Minnow Bay", "WA", "98990", "US")}},
		{"Name,Address\nShop,\"18 Tern Street, Suite B, Minnow Bay, WA 98990\"\n", record.Record{Name: "Shop", Address: addressOf("18 Tern Street", "Suite B", "Minnow Bay", "WA", "98990", "US")}},
		{"Name,Street,City,Phone,Tel 2\nShop,3 Corn Street,\"Wexcombe, WX1 2AB\",01632 960114 or 01632 960115,01632 960116\n",
			record.Record{Name: "Shop", Phones: phonesOf("+441632960114", "+441632960116", "+441632960115"), Address: addressOf("3 Corn Street", "", "Wexcombe", "", "WX1 2AB", "GB")}},
		{"Name,Street,City,Zip,Country,Coordinates,Mon,Tue,Wed,Thu,Fri,Sat,Sun\nShop,18 Tern Street,Minnow Bay,98990,USA,\"48.61, -124.95\",9-17,9-17,9-12 / 13-17,9-17,9-17,closed,closed\n",
			record.Record{Name: "Shop", Pin: &record.Pin{Latitude: 48.61, Longitude: -124.95}, Hours: "Mo,Tu,Th,Fr 09:00-17:00; We 09:00-12:00,13:00-17:00; Sa,Su off", Zone: "America/Los_Angeles",
				Address: addressOf("18 Tern Street", "", "Minnow Bay", "", "98990", "US")}},
	} {
		tab := mustRead(t, c.file)
		a := NewReader(tab.Header, Match(tab)).Apply(tab.Rows[0], record.Record{Zone: c.want.Zone})
		c.want.Kind = record.Premises
		want, wrong := record.Normal(c.want)
		if wrong != nil || a.Problems != nil || !reflect.DeepEqual(a.Record, want) {
			t.Errorf("%q: %v %v\n%+v, want\n%+v", c.file, wrong, a.Problems, a.Record, want)
		}
	}
}

// A row that does not tell its country is in the one that all others are in, which is said as a guess.
func TestTheCountryOfTheOthers(t *testing.T) {
	tab := mustRead(t, "name,street,town,zip,country\nA,Hafenweg 1,Wiekhafen,25999,Germany\nB,Hafenweg 2,Wiekhafen,25999,\n")
	r := NewReader(tab.Header, Match(tab))
	if a := r.Apply(tab.Rows[1], record.Record{}); !a.Waits() || a.Problems[0].Key != "country" {
		t.Errorf("%+v", a)
	}
	if got := r.CommonCountry(tab.Rows); got != "DE" {
		t.Errorf("all are in %q", got)
	}
	a := r.In("DE").Apply(tab.Rows[1], record.Record{})
	if a.Waits() || a.Record.Address.Country != "DE" || len(a.Readings) != 1 || a.Readings[0].Sure || a.Readings[0].To != "Germany" {
		t.Errorf("%+v", a)
	}
	two := mustRead(t, "name,street,town,zip,country\nA,Hafenweg 1,Wiekhafen,25999,Germany\nB,1 A,B,,Canada\n")
	if got := NewReader(two.Header, Match(two)).CommonCountry(two.Rows); got != "" {
		t.Errorf("two countries are %q", got)
	}
}

// What is no value is left out and said.
func TestErrorsAndFormulas(t *testing.T) {
	tab := mustRead(
		t,
		"name,street,town,state,country,phone,website,email,store code\nShop,1 A,B,WA,US,#REF!,=HYPERLINK(A1),\"=\"\"a@b.example\"\"\",\"=\"\"0012\"\"\"\n",
	)
	a := NewReader(tab.Header, Match(tab)).Apply(tab.Rows[0], record.Record{})
	if len(a.Problems) != 2 || !strings.Contains(a.Problems[0].Reason, "shows an error") || !strings.Contains(a.Problems[1].Reason, "formula") || a.Waits() ||
		a.Record.Email != "a@b.example" || a.Record.StoreCode != "0012" {
		t.Errorf("%+v", a)
	}
}

func phonesOf(numbers ...string) (out []record.Phone) {
	for _, n := range numbers {
		out = append(out, record.Phone{E164: n, Voice: true})
	}
	return out
}

func addressOf(street, unit, locality, region, postalCode, country string) address.Address {
	return address.Address{Street: street, Unit: unit, Locality: locality, Region: region, PostalCode: postalCode, Country: country}
}

// Half a pin is none: it is left out, and said.
func TestHalfAPin(t *testing.T) {
	tab := mustRead(t, "name,street,town,state,country,lat,lng\nA,1 A,B,WA,US,48.5,\nB,1 A,B,WA,US,48.5,north\n")
	for _, row := range tab.Rows {
		a := NewReader(tab.Header, Match(tab)).Apply(row, record.Record{})
		if a.Waits() || a.Record.Pin != nil || len(a.Problems) == 0 || !a.Problems[0].Left {
			t.Errorf("%+v", a)
		}
	}
}
