package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"uvent/e2e/rig"
)

// History and copies are at hand whichever part of the record is shown.
func TestHistoryIsAtHandEverywhere(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(s.Open(s.at("/record/l/"+at.Location.String())), s.See("Trading name"))
	for _, part := range []string{"Hours", "Service area", "Photos", "Still missing"} {
		s.do(s.Press(part), s.Press("History"), s.See("The location was added"), s.Press("Close"), s.NotSee("The location was added"))
	}
	// What each directory can do with the week follows what is typed.
	s.do(
		s.Press("Hours"),
		s.See("Takes them as they are."),
		s.Type("As text", "Mo 08:00-09:00,10:00-11:00,12:00-13:00,14:00-15:00,16:00-17:00"),
		s.See("Takes 4 sittings a day: 1 hour a week shown open while shut."),
	)
}

func TestACopyGoesOutAndComesBackAsADraft(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(s.Open(s.at("/record/l/"+at.Location.String())), s.See("Trading name"), s.Press("Copies"), s.See("It has no place for what the phones can do"))
	s.do(s.Tick("The whole record"), s.See("It has no place for what we call the location"))
	s.do(s.Press("opening_hours"), s.See("It has no place for anything but the hours"), s.Press("CSV"), s.See("store_code"))
	s.do(s.Press("GeoJSON"), s.See("Nothing is lost."), s.Press("JSON-LD"), s.See("LocalBusiness"))
	text := now[string](s, `document.querySelector("pre.file").innerText`)
	file := filepath.Join(t.TempDir(), "shop.jsonld")
	s.do(os.WriteFile(file, []byte("{"), 0o600), s.Upload("copy-file", file), s.See("The document cannot be read as JSON-LD"))
	s.do(
		os.WriteFile(file, []byte(strings.Replace(text, `"name": "Spokeshave Cycle Works"`, `"name": "Spokeshave"`, 1)), 0o600),
		s.Upload("copy-file", file),
		s.See("Read. Look at it, then save the record."),
	)
	s.do(s.See("not saved yet"), s.Press("Save record"), s.See("The record is saved."))
	l, err := s.rig.Desk.Ledger.Location(t.Context(), at.Location)
	if s.do(err); l.Record.Name != "Spokeshave" || l.Record.Hours != rig.Shop("").Hours || l.Record.Label != "Minnow Bay" {
		t.Errorf("saved as %+v", l.Record)
	}
}
