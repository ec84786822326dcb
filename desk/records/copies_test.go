package records_test

import (
	"bytes"
	"reflect"
	"strings"
	"testing"

	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
)

// A record comes back as it was from every format that it is taken out in: laid over itself, nothing changes, and
// a format that loses nothing needs nothing to be laid over.
func TestARecordComesBackFromEveryCopy(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	rec := rig.Workshop("Minnow Bay")
	rec.Hours = "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00; 2026 Dec 24 09:00-12:00; 2026 Dec 25 off; PH off"
	rec.Phones = append(rec.Phones, record.Phone{E164: "+13605550143", Text: true})
	rec.Socials = []record.Social{{Name: "Lanefolk", URL: "https://lanefolk.example/b/spoke", Show: true}}
	rec.Payments, rec.Directions = []string{"cash"}, "Past the pier,\nthen left."
	at := r.Add(t, rec)
	l, err := r.Desk.Ledger.Location(ctx, at.Location)
	rig.Must(t, err)
	copies, err := r.Desk.Records.Copies(ctx, at.Location, true)
	rig.Must(t, err)
	seen := map[string]bool{}
	for _, c := range copies {
		seen[c.Format] = true
		back, err := r.Desk.Records.ReadCopy(ctx, at.Location, c.Format, c.Text)
		if err != nil || !reflect.DeepEqual(back, l.Record) {
			t.Errorf("%s, %v: %+v", c.Format, err, record.Changes(l.Record, back))
		}
	}
	for _, format := range []string{"jsonld", "geojson", "vcard", "icalendar", "csv"} {
		if !seen[format] {
			t.Errorf("no copy as %s", format)
		}
	}
	for _, write := range []func(*bytes.Buffer) error{
		func(b *bytes.Buffer) error { return r.Desk.Records.Export(ctx, ledger.Scope{}, sheet.Write, b) },
		func(b *bytes.Buffer) error { return r.Desk.Records.Export(ctx, ledger.Scope{}, sheet.WriteXLSX, b) },
	} {
		var b bytes.Buffer
		rig.Must(t, write(&b))
		// Over nothing, but for what a table has no place for.
		back, err := sheet.ReadOne(b.Bytes(), record.Record{Licences: l.Record.Licences, Offerings: l.Record.Offerings, Own: l.Record.Own, Team: l.Record.Team})
		if back, _ = record.Normal(back); err != nil || len(record.Changes(l.Record, back)) > 0 {
			t.Errorf("%v: %+v", err, record.Changes(l.Record, back))
		}
	}
}

// What is taken out for the public tells of a location that goes to customers neither street nor pin,
// in no format, and nothing of its people that is private.
func TestCopiesForThePublicKeepWhatIsPrivate(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	rec := rig.Workshop("Minnow Bay")
	rec.Kind, rec.Pin = record.GoesToCustomers, &record.Pin{Latitude: 48.7131, Longitude: -124.8172}
	rec.Team = []record.Member{{Name: "Perpetua Hale", Email: "perpetua@private.example", Phone: "+13605550177"}}
	rec.Hours = "Mo-Fr 09:00-17:00; PH off"
	at := r.Add(t, rec)
	secrets := []string{rec.Address.Street, rec.Address.PostalCode, "48.7131", "124.8172", "perpetua@private", "0177"}
	for _, whole := range []bool{false, true} {
		copies, err := r.Desk.Records.Copies(ctx, at.Location, whole)
		rig.Must(t, err)
		told, dated := 0, 0
		for _, c := range copies {
			for _, secret := range secrets {
				if strings.Contains(c.Text, secret) {
					if told++; !whole {
						t.Errorf("%s tells %s: %s", c.Format, secret, c.Text)
					}
				}
			}
			if (len(c.KeptBack) > 0) == whole {
				t.Errorf("%s: kept back %q", c.Format, c.KeptBack)
			}
			if strings.Contains(strings.NewReplacer("-", "", " ", "").Replace(c.Text), "20261225") || strings.Contains(c.Text, "2026 Dec 25") {
				dated++
			}
		}
		if whole && told < 8 || !whole && dated < 4 { // schema.org’s words, GeoJSON, CSV, the calendar, opening_hours
			t.Errorf("whole %v: %d secrets are told, %d formats name the holiday", whole, told, dated)
		}
	}
}
