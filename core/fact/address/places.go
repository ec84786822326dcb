package address

import (
	_ "embed"
	"slices"
	"strings"
	"sync"

	"golang.org/x/text/language"
	"golang.org/x/text/language/display"
)

//go:embed zones.txt
var zoneLines string

//go:embed regions.txt
var regionLines string

// lines reads a list of a key and what belongs to it.
func lines(text string) map[string]string {
	out := map[string]string{}
	for line := range strings.Lines(text) {
		if key, rest, ok := strings.Cut(strings.TrimSpace(line), " "); ok && key[0] != '#' {
			out[key] = rest
		}
	}
	return out
}

var (
	zones   = sync.OnceValue(func() map[string]string { return lines(zoneLines) })
	regions = sync.OnceValue(func() map[string]string {
		out := map[string]string{}
		for key, names := range lines(regionLines) {
			country, code, _ := strings.Cut(key, "-")
			for _, name := range append(strings.Split(names, ","), code) {
				out[country+" "+Fold(name)] = code
			}
		}
		return out
	})
	countries = sync.OnceValue(func() map[string]string {
		out := map[string]string{}
		for _, r := range allRegions() {
			out[Fold(r.String())] = r.String()
			tags := []language.Tag{language.English, language.German, language.French, language.Spanish}
			if at, err := language.Compose(r); err == nil {
				its, _ := at.Base() // the language that most there speak
				tags = append(tags, language.Make(its.String()))
			}
			for _, tag := range tags {
				if in := display.Regions(tag); in != nil && Fold(in.Name(r)) != "" {
					out[Fold(in.Name(r))] = r.String()
				}
			}
		}
		for name, code := range otherNames {
			out[Fold(name)] = code
		}
		return out
	})
)

// otherNames are what people write for a country besides its code and its name in CLDR.
var otherNames = map[string]string{
	"USA":                            "US",
	"U.S.A.":                         "US",
	"U.S.":                           "US",
	"United States of America":       "US",
	"America":                        "US",
	"Vereinigte Staaten von Amerika": "US",
	"EE. UU.":                        "US",
	"EEUU":                           "US",
	"UK":                             "GB",
	"U.K.":                           "GB",
	"Great Britain":                  "GB",
	"England":                        "GB",
	"Scotland":                       "GB",
	"Wales":                          "GB",
	"Northern Ireland":               "GB",
	"Britain":                        "GB",
	"Großbritannien":                 "GB",
	"CAN":                            "CA",
	"GBR":                            "GB",
	"DEU":                            "DE",
	"GER":                            "DE",
	"FRA":                            "FR",
	"ESP":                            "ES",
	"AUT":                            "AT",
	"CHE":                            "CH",
	"AUS":                            "AU",
	"IRL":                            "IE",
	"NLD":                            "NL",
	"BEL":                            "BE",
	"BRD":                            "DE",
	"Bundesrepublik Deutschland":     "DE",
	"Holland":                        "NL",
	"Republic of Ireland":            "IE",
	"Éire":                           "IE",
	// Distinguishing signs of vehicles (United Nations, Convention on Road Traffic), where they are no code.
	"D": "DE",
	"A": "AT",
	"F": "FR",
	"E": "ES",
	"I": "IT",
	"B": "BE",
	"L": "LU",
	"S": "SE",
	"N": "NO",
	"P": "PT",
}

// allRegions are the countries of ISO 3166-1.
func allRegions() (out []language.Region) {
	for a := 'A'; a <= 'Z'; a++ {
		for b := 'A'; b <= 'Z'; b++ {
			if r, err := language.ParseRegion(string(a) + string(b)); err == nil && r.IsCountry() && r.Canonicalize() == r {
				out = append(out, r)
			}
		}
	}
	return out
}

// Country is the code (ISO 3166-1 alpha-2) of a country by its code, its name in English, German,
// French, Spanish or its own language (CLDR), or what people call it; false where there is none.
func Country(text string) (code string, ok bool) {
	code, ok = countries()[Fold(text)]
	return code, ok
}

// CountryName is what a country is called in English; empty for no country.
func CountryName(code string) string {
	if r, err := language.ParseRegion(code); err == nil && r.IsCountry() {
		return display.English.Regions().Name(r)
	}
	return ""
}

// Region is the code of a country's region by its name or its code, as ISO 3166-2 has it after the
// hyphen; false where the country's regions are not listed, or this one is not among them.
func Region(country, text string) (code string, ok bool) {
	code, ok = regions()[country+" "+Fold(text)]
	return code, ok
}

// Zone is the time zone (IANA) in which nearly all of a country keeps its clocks, or of its region,
// or of the area of a postal code; nothing where that is not known or is divided.
func Zone(country, region, postalCode string) string {
	country, region, postalCode = strings.ToUpper(country), strings.ToUpper(region), strings.ReplaceAll(postalCode, " ", "")
	all := zones()
	if zone := all[country+"/"+postalCode[:min(3, len(postalCode))]]; zone != "" && len(postalCode) >= 3 {
		return zone
	}
	if zone := all[country+"-"+region]; zone != "" {
		return zone
	}
	if zone := all[country+"/"+postalCode[:min(2, len(postalCode))]]; zone != "" {
		return zone
	}
	if region == "" && postalCode == "" && slices.Contains(byPostalCode, country) {
		return ""
	}
	return all[country]
}

// Divided reports whether a region keeps two kinds of clocks, so that only a position tells which.
func Divided(country, region string) bool {
	return slices.Contains(divided, strings.ToUpper(country+"-"+region))
}

// divided are the regions through which the border of two zones goes (IANA time zone database).
var divided = strings.Fields(
	"US-AK US-FL US-ID US-IN US-KS US-KY US-MI US-ND US-NE US-OR US-SD US-TN US-TX CA-BC CA-NU CA-ON CA-QC CA-SK AU-SA AU-WA BR-AM",
)

// byPostalCode are countries of which a part keeps other clocks than the rest.
var byPostalCode = []string{"ES", "PT"}
