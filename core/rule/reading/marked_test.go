package reading

import (
	"fmt"
	"strings"
	"testing"
)

// Hours as schema.org's documents write them, also as it does not say that they should.
func TestMarkedHours(t *testing.T) {
	day := func(d, opens, closes string) string {
		return fmt.Sprintf(`{"dayOfWeek":%s,"opens":%q,"closes":%q}`, d, opens, closes)
	}
	dated := func(from, through, opens, closes string) string {
		return fmt.Sprintf(`{"validFrom":%q,"validThrough":%q,"opens":%q,"closes":%q}`, from, through, opens, closes)
	}
	monday := `"https://schema.org/Monday"`
	for want, specs := range map[string][]string{
		"Mo 09:00-12:00,13:00-17:00":                          {day(monday, "09:00", "12:00"), day(`"Mo"`, "13:00", "17:00")},
		"Fr 20:00-02:00":                                      {day(`"friday"`, "20:00:00", "02:00:00")},
		"Su 00:00-24:00":                                      {day(`"Sun"`, "00:00", "23:59:59")},
		"Tu 09:00-10:00":                                      {day(`"Tuesday"`, "9:00 AM", "10:00 a.m."), day(`"Wednesday"`, "never", "10:00"), day(`"Thursday"`, "00:00", "00:00")},
		"Mo,We 08:00-20:00":                                   {day(`["http://schema.org/Monday", "Wednesday"]`, "T08:00", "20:00+01:00")},
		"Mo 09:00-17:00; 2026 Nov 26 off":                     {day(monday, "09:00", "17:00"), dated("2026-11-26", "2026-11-26", "00:00", "00:00")},
		"Mo 09:00-17:00; 2026 Dec 24-26 10:00-14:00":          {day(monday, "09:00", "17:00"), dated("2026-12-24T00:00:00-08:00", "2026-12-26", "10:00", "14:00")},
		"Mo 09:00-17:00; 2026 Dec 31 10:00-12:00,13:00-14:00": {day(monday, "09:00", "17:00"), dated("2026-12-31", "", "10:00", "12:00"), dated("2026-12-31", "", "13:00", "14:00")},
		"Mo 09:00-17:00; PH off":                              {day(monday, "09:00", "17:00"), day(`"PublicHolidays"`, "00:00", "00:00")},
		"Mo 09:00-17:00; 2026 Jun 01-Aug 31 Sa 10:00-14:00":   {day(monday, "09:00", "17:00"), `{"dayOfWeek":"Saturday","validFrom":"2026-06-01","validThrough":"2026-08-31","opens":"10:00","closes":"14:00"}`},
		"": {`{"opens":"09:00","closes":"17:00"}`, dated("2026-12-26", "2026-12-24", "10:00", "14:00"), dated("", "2026-12-24", "10:00", "14:00")},
	} {
		r := Read(
			[]byte(
				`<script type="application/ld+json">{"@type":"Store","name":"x","telephone":"1","openingHoursSpecification":[`+strings.Join(specs, ",")+`]}</script>`,
			),
			In{Today: today},
		)
		if r.Reads != Listing || r.Sighting.Hours != want {
			t.Errorf("%v reads as %q, want %q", specs, r.Sighting.Hours, want)
		}
	}
}

// Who runs a page, who wrote it and who is near is not what it is about.
func TestWhatAPageIsAbout(t *testing.T) {
	page := func(ld string) []byte {
		return []byte(`<html><head><script>var a = "<p>";</script><script type="application/ld+json">` + ld + `</script></head><body>…</body></html>`)
	}
	whole := `"telephone":"+13605550142","address":{"streetAddress":"1 Quay","addressLocality":"Port Sable","addressRegion":"WA"}`
	for want, ld := range map[string]string{
		"Café Teredo": `{"@type":"WebPage","name":"Teredo on Lists","publisher":{"@type":"Organization","name":"Lists",` + whole + `},"mainEntity":{"@type":"LocalBusiness","name":"Caf\u00e9 Teredo",` + whole + `}}`,
		"Teredo":      `{"@graph":[{"@id":"#b","@type":"Bakery","name":"Teredo",` + whole + `},{"@type":"WebPage","about":{"@id":"#b"}}]}`,
		"Tagged":      `<!-- {"@type":"schema:Bakery","schema:name":"Tagged","schema:telephone":"1 360 555 0142"}; -->`,
		"":            `{"@type":"Organization","name":"Lists","url":"https://lists.example"}`,
	} {
		r := Read(page(ld), In{Today: today})
		if r.Sighting.Name != want || (r.Reads == Listing) != (want != "") {
			t.Errorf("%s reads as %s %q, want %q", ld, r.Reads, r.Sighting.Name, want)
		}
	}
	for _, bad := range []string{"", "{", `{"name":""}`, "[]", `{"name":4}`, strings.Repeat(`{"a":`, 5000)} {
		if r := Read(page(bad), In{Today: today}); r.Reads == Listing {
			t.Errorf("%.40s reads as %+v", bad, r.Sighting)
		}
	}
}
