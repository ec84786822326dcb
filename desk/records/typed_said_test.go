package records_test

import (
	"testing"

	"uvent/desk/records"
	"uvent/e2e/rig"
)

// The box for hours reads them as people write them, and says what it chose; what is opening_hours is taken as that.
func TestHoursAsTheyAreTyped(t *testing.T) {
	r := rig.Start(t)
	for text, want := range map[string]struct {
		text string
		said bool
		sure bool
	}{
		"Mon-Fri 9am-5pm":     {"Mo-Fr 09:00-17:00", true, true},
		"9-5":                 {"Mo-Su 09:00-17:00", true, false},
		"mo-fr 09:00-17:00":   {"Mo-Fr 09:00-17:00", false, false},
		"Mo-Fr 09:00-17:00+x": {"Mo-Fr 09:00-17:00+x", false, false},
	} {
		h, err := r.Desk.Records.ReadHours(records.TypedHours{Text: text, Country: "US", Region: "WA"})
		if err != nil || h.Text != want.text || (h.Said != nil) != want.said || want.said && h.Said.Sure != want.sure {
			t.Errorf("%q: %+v, %v", text, h, err)
		}
	}
}
