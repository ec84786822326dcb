package address

import (
	"strings"
	"testing"
	"time"
)

func TestCountriesByTheirNames(t *testing.T) {
	for text, want := range map[string]string{
		"US": "US", "us": "US", "USA": "US", "U.S.A.": "US", "United States": "US", "united states of america": "US", "Vereinigte Staaten": "US", "États-Unis": "US", "Estados Unidos": "US",
		"UK": "GB", "England": "GB", "United Kingdom": "GB", "Großbritannien": "GB", "Royaume-Uni": "GB", "Germany": "DE", "Deutschland": "DE", "Allemagne": "DE", "Alemania": "DE",
		"Switzerland": "CH", "Schweiz": "CH", "Österreich": "AT", "Côte d’Ivoire": "CI", "Ireland": "IE", "Canada": "CA", "España": "ES", "XX": "", "Atlantis": "", "": "", "ZZ": "", "EU": "",
	} {
		if got, ok := Country(text); got != want || ok != (want != "") {
			t.Errorf("%q is %q, want %q", text, got, want)
		}
	}
	if len(countries()) < 700 || CountryName("DE") != "Germany" || CountryName("XX") != "" {
		t.Errorf("%d names, Germany is %q", len(countries()), CountryName("DE"))
	}
}

func TestRegionsByTheirNames(t *testing.T) {
	for _, c := range []struct{ country, text, want string }{
		{"US", "Washington", "WA"}, {"US", "wa", "WA"}, {"US", "New York", "NY"}, {"AU", "WA", "WA"}, {"AU", "Western Australia", "WA"}, {"CA", "Québec", "QC"}, {"CA", "British Columbia", "BC"},
		{"CA", "Washington", ""}, {"DE", "Bayern", ""}, {"US", "", ""},
	} {
		if got, ok := Region(c.country, c.text); got != c.want || ok != (c.want != "") {
			t.Errorf("%s %q: %q, want %q", c.country, c.text, got, c.want)
		}
	}
}

func TestZonesOfAddresses(t *testing.T) {
	for _, c := range []struct{ country, region, postal, want string }{
		{"US", "WA", "", "America/Los_Angeles"}, {"us", "wa", "", "America/Los_Angeles"}, {"US", "TX", "", ""}, {"US", "", "", ""}, {"US", "OH", "", "America/New_York"}, {"US", "HI", "", "Pacific/Honolulu"},
		{"GB", "", "", "Europe/London"}, {"DE", "", "", "Europe/Berlin"}, {"DE", "Bayern", "80331", "Europe/Berlin"}, {"FR", "", "75001", "Europe/Paris"}, {"CH", "", "", "Europe/Zurich"},
		{"ES", "", "28001", "Europe/Madrid"}, {"ES", "", "35 001", "Atlantic/Canary"}, {"ES", "TF", "", "Atlantic/Canary"}, {"ES", "", "", ""}, {"PT", "", "9000-001", "Atlantic/Madeira"},
		{"PT", "", "1000-001", "Europe/Lisbon"}, {"AU", "QLD", "", "Australia/Brisbane"}, {"AU", "", "", ""}, {"CA", "NS", "", "America/Halifax"}, {"XX", "", "", ""}, {"", "", "", ""},
		{"US", "TX", "79901", "America/Denver"}, {"US", "TX", "75001", "America/Chicago"}, {"US", "FL", "32501-1234", "America/Chicago"}, {"US", "FL", "33101", "America/New_York"},
		{"US", "ID", "83814", "America/Los_Angeles"}, {"US", "OR", "", "America/Los_Angeles"}, {"US", "OR", "97914", "America/Boise"}, {"US", "ID", "8", ""},
	} {
		if got := Zone(c.country, c.region, c.postal); got != c.want {
			t.Errorf("%s %s %s: %q, want %q", c.country, c.region, c.postal, got, c.want)
		}
	}
	if !Divided("us", "tx") || Divided("US", "WA") || Divided("", "") {
		t.Error("which regions keep two kinds of clocks")
	}
	for key, zone := range zones() {
		if _, err := time.LoadLocation(zone); err != nil || len(key) < 2 || strings.ToUpper(key) != key {
			t.Errorf("%s: %v", key, err)
		}
	}
}
