package address

import "testing"

func TestRead(t *testing.T) {
	for _, c := range []struct {
		text, country string
		want          Address
	}{
		{"18 Tern Street, Minnow Bay, WA 98990", "", Address{"18 Tern Street", "", "Minnow Bay", "WA", "98990", "US"}},
		{"18 Tern Street, Suite B, Minnow Bay, WA 98990-1234, USA", "", Address{"18 Tern Street", "Suite B", "Minnow Bay", "WA", "98990-1234", "US"}},
		{"18 Tern Street\nMinnow Bay WA 98990", "", Address{"18 Tern Street", "", "Minnow Bay", "WA", "98990", "US"}},
		{"18 Tern Street, Minnow Bay, Washington, 98990, United States", "", Address{"18 Tern Street", "", "Minnow Bay", "WA", "98990", "US"}},
		{"118 Fennick Road, Fennick, BC V0O 1F2", "", Address{"118 Fennick Road", "", "Fennick", "BC", "V0O 1F2", "CA"}},
		{"118 Fennick Road, Fennick, British Columbia v0o1f2, Canada", "", Address{"118 Fennick Road", "", "Fennick", "BC", "V0O1F2", "CA"}},
		{"4 Corn Street, Wexcombe, WX1 2AB", "", Address{"4 Corn Street", "", "Wexcombe", "", "WX1 2AB", "GB"}},
		{"The Old Mill, 4 Corn Street, Wexcombe WX1 2AB, UK", "", Address{"4 Corn Street", "The Old Mill", "Wexcombe", "", "WX1 2AB", "GB"}},
		{"Hafenweg 3, 25999 Wiekhafen", "DE", Address{"Hafenweg 3", "", "Wiekhafen", "", "25999", "DE"}},
		{"Hafenweg 3, D-25999 Wiekhafen, Deutschland", "", Address{"Hafenweg 3", "", "Wiekhafen", "", "D-25999", "DE"}},
		{"12 rue du Port, 29999 Kermouet, France", "", Address{"12 rue du Port", "", "Kermouet", "", "29999", "FR"}},
		{"9 Palm Row, Santa Velda, CA 90999", "", Address{"9 Palm Row", "", "Santa Velda", "CA", "90999", "US"}},
		{"9 Palm Row, Santa Velda, CA", "US", Address{"9 Palm Row", "", "Santa Velda", "CA", "", "US"}},
		{"7 Reef Lane, Coralton NSW 2999, Australia", "", Address{"7 Reef Lane", "", "Coralton", "NSW", "2999", "AU"}},
		{"3 Causeway, Saltgrass", "CA", Address{"3 Causeway", "", "Saltgrass", "", "", "CA"}},
		{"Grachtkade 8, 1999 AB Waterdam, Nederland", "", Address{"Grachtkade 8", "", "Waterdam", "", "1999 AB", "NL"}},
		{"12500 Long Road, Upper Moraine, MT 59999", "", Address{"12500 Long Road", "", "Upper Moraine", "MT", "59999", "US"}},
	} {
		if got, ok := Read(c.text, c.country); !ok || got != c.want {
			t.Errorf("%q in %q: %+v, %v; want %+v", c.text, c.country, got, ok, c.want)
		}
	}
	for _, text := range []string{"", "Minnow Bay", "USA", ", ,"} {
		if a, ok := Read(text, ""); ok {
			t.Errorf("%q is read as %+v", text, a)
		}
	}
}

func FuzzReadAddress(f *testing.F) {
	f.Add("18 Tern Street, Suite B, Minnow Bay, WA 98990", "US")
	f.Add("Hafenweg 3\n25999 Wiekhafen", "")
	f.Fuzz(func(t *testing.T, text, country string) {
		if a, ok := Read(text, country); ok && (a.Street == "" || a.Locality == "") {
			t.Errorf("%q: %+v", text, a)
		}
	})
}

func TestACountryInItsOwnLanguage(t *testing.T) {
	for name, want := range map[string]string{"Nederland": "NL", "Österreich": "AT", "Sverige": "SE", "Italia": "IT", "日本": "JP", "Ελλάδα": "GR", "Georgia": "GE"} {
		if code, ok := Country(name); !ok || code != want {
			t.Errorf("%s is %q", name, code)
		}
	}
}
