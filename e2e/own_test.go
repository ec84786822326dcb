package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"uvent/desk/ledger"
	"uvent/e2e/rig"
)

// One listing is given another name than the record says: what that costs is said before, it can be undone, it
// shows wherever the listing stands, and a change of the record asks whether it still holds.
func TestAValueOfItsOwnOnScreen(t *testing.T) {
	s := open(t)
	rec := rig.Shop("Minnow Bay")
	at := s.rig.Add(t, rec)
	s.rig.Held(t, at)
	given := s.at("/verification/l/" + at.Location.String() + "/fernlook?look=fit")
	s.do(s.Open(given), s.Press("Another here: Name"), s.Type("Name, on Fernlook alone", "Spokeshave Wheels"))
	s.do(
		s.See("Not learnt there: Spokeshave Cycle Works."),
		s.See("Of what people see of this location, 0 % would say name, address and phone as the record does"),
	)
	s.do(s.Type("Why it is another here", "the sign says so"), s.Press("Keep it"), s.See("Its own:"), s.See("The record would give “Spokeshave Cycle Works”."))
	s.do(s.Press("Undo"), s.NotSee("Its own:"))
	s.do(s.Press("Another here: Name"), s.Type("Name, on Fernlook alone", "Spokeshave Wheels"), s.Type("Why it is another here", "the sign says so"))
	s.do(s.Press("Keep it"), s.See("Its own:"), s.See("1 value to send"))
	s.do(s.Press("Another here: Hours"), s.Type("Hours, on Fernlook alone", "whenever"), s.See("The hours cannot be read"), s.Key("Escape"))

	rec.Name = "Spokeshave House"
	_, err := s.rig.Desk.Records.SaveLocation(t.Context(), s.rig.Who.Actor(), at.Location, 1, rec)
	s.do(err, s.See("The record has changed since. Does it still hold?"))
	s.do(s.Open(s.at("/coverage?show=fit")), s.See("*1"))
	s.do(s.Open(given), s.Press("It still holds"), s.NotSee("Does it still hold?"))
	s.do(s.Press("Record and page"), s.See("Name: its own “Spokeshave Wheels” still holds."))
	s.do(s.Press("What it is given"), s.Press("Give what the record says"), s.NotSee("Its own:"))

	file := filepath.Join(t.TempDir(), "own.csv")
	write := func(row string) error {
		return os.WriteFile(file, []byte("client,location,directory,field,value,reason\nClient of Minnow Bay,Minnow Bay,fernlook,"+row+"\n"), 0o600)
	}
	s.do(s.Open(s.at("/record/import")), s.See("Values of listings’ own"), write("colour,red,so"), s.Upload("own-file", file))
	s.do(s.See("Nothing was changed"), s.See("line 2"), s.See("has no field “colour”"))
	s.do(write("name,Spokeshave Wheels,so"), s.Upload("own-file", file), s.See("1 value changed."))
	v, err := s.rig.Desk.Listings.OwnValues(t.Context(), ledger.Place{Location: at.Location, Directory: "fernlook"})
	if s.do(err); len(v.Items) != 1 || v.Items[0].Value.Text != "Spokeshave Wheels" {
		t.Errorf("%+v", v.Items)
	}
}
