package boards_test

import (
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"testing"
	"time"

	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// Whoever asks what becomes of a location on a directory is told the same: beside the record, beside
// its hours, on the listing, in Coverage, in the worksheet.
func TestNoTwoPanelsDisagree(t *testing.T) {
	r := rig.Start(t, "fernlook", "waywren", "skerry", "hithermap", "murmurhall", "candourbox", "sound-chamber", "lanefolk", "guildbench", "plotline", "brasswire")
	ctx, who := t.Context(), r.Who.Actor()
	weeks := []string{
		"Mo-Fr 09:00-18:00",
		"Tu-Fr 09:00-12:00,13:00-18:00; 2026 Nov 26 off; 2026 Dec 31 09:00-12:00",
		"Th-Sa 18:00-02:00; PH off",
		"24/7",
		"Mo-Fr 08:00-10:00,10:30-12:00,14:00-18:00; Jul-Aug off; 2026 Oct 01 off",
	}
	var all []ledger.Location
	for i, week := range weeks {
		s := rig.Shop(fmt.Sprintf("Minnow Bay %d", i))
		s.Hours = week
		s.Words = record.Words{Short: "Bicycles, mended by the ferry.", Medium: "We mend bicycles. " + fmt.Sprint(make([]int, 80*i))}
		s.Others = []string{"bicycle_shop", "bakery"}[:i%3]
		l, err := r.Desk.Ledger.Location(ctx, r.Add(t, s).Location)
		rig.Must(t, err)
		all = append(all, l)
	}
	for _, own := range []struct{ directory, key, text string }{
		{"fernlook", "name", "Spokeshave Wheels"}, {"murmurhall", "hours", "Tu-Fr 09:00-17:00"}, {"waywren", "phone", "+13605550177"}, {"brasswire", "category", "Bicycles, dealers"},
	} {
		rig.Must(t, r.Desk.Listings.SetOwn(ctx, who, ledger.Place{Location: all[1].ID, Directory: own.directory}, own.key, own.text, "so it is there"))
	}
	cells := func() map[string]map[string]records.Fitted {
		t.Helper()
		c, err := r.Desk.Boards.Coverage(ctx, ledger.Scope{}, boards.ByPlace, 0, 100)
		rig.Must(t, err)
		out := map[string]map[string]records.Fitted{}
		for _, row := range c.Rows {
			var of map[string]records.Fitted
			rig.Must(t, json.Unmarshal(row.Fits, &of))
			out[row.Location.String()] = of
		}
		return out
	}
	owns := 0
	ask := func() (asked, wrong int) {
		t.Helper()
		covered := cells()
		for _, l := range all {
			rec := l.Record
			beside, err := r.Desk.Records.HeldByAll(ctx, l)
			rig.Must(t, err)
			hours, err := r.Desk.Records.ReadHours(records.TypedHours{Text: rec.Hours, Country: rec.Address.Country, Region: rec.Address.Region, Zone: rec.Zone})
			rig.Must(t, err)
			ofHours := map[string]fit.Item{}
			for _, h := range hours.Fits {
				ofHours[h.Book.ID] = h.Item
			}
			for _, h := range beside {
				at := ledger.Place{Location: l.ID, Directory: h.Book.ID}
				v, err := r.Desk.Boards.FitOf(ctx, at)
				rig.Must(t, err)
				f := v.Fit
				if !reflect.DeepEqual(f, h.Fit) {
					t.Errorf("%s on %s is %+v beside the record, and %+v there", l.Label, h.Book.ID, h.Fit, f)
				}
				cell := covered[l.ID.String()][h.Book.ID]
				own, asks := f.Own()
				if cell.Own != own || cell.Asks != asks {
					t.Errorf("%s on %s: Coverage counts %d values of its own, of which %d ask; there are %d and %d", l.Label, h.Book.ID, cell.Own, cell.Asks, own, asks)
				}
				owns += own
				if cell.Not != f.Not || cell.Percent != f.Percent || cell.Blocks != len(f.Blocks()) || cell.Wrong != f.Wrong() ||
					math.Abs(cell.People-f.Cost().People) > 1e-9 {
					t.Errorf("%s on %s: Coverage says %+v", l.Label, h.Book.ID, cell)
				}
				asked++
				if wrong += cell.Wrong; f.Not != "" {
					continue
				}
				week, _ := f.Find("hours")
				dates, _ := f.Find("special_dates")
				want := week.Mark
				if dates.Mark == compare.Unequal {
					want = compare.Unequal
				}
				if got := ofHours[h.Book.ID]; got.Mark != want || len(got.Cost.Days) != len(week.Cost.Days)+len(dates.Cost.Days) {
					t.Errorf("%s on %s: beside its hours %s, on the listing %s", l.Label, h.Book.ID, got.Mark, want)
				}
				if h.Book.Worked != rulebook.ByHand {
					continue
				}
				w, err := r.Desk.Listings.Worksheet(ctx, who, at)
				rig.Must(t, err)
				for n, line := range w.Lines {
					if given := f.Values()[n]; line.Text != given.Text || line.Key != given.Key {
						t.Errorf("%s on %s: the worksheet gives %+v, want %+v", l.Label, h.Book.ID, line, given)
					}
				}
			}
		}
		return asked, wrong
	}
	asked, before := ask()
	t.Logf("%d listings asked about, %d facts shown otherwise than they are", asked, before)
	if asked < len(all)*10 || before == 0 || owns != 4 {
		t.Errorf("%d asked, %d wrong", asked, before)
	}
	// A date that is past costs nothing any more, and everybody knows.
	r.Move(t, 45*24*time.Hour)
	if _, after := ask(); after >= before {
		t.Errorf("%d were wrong, and %d are once the dates are past", before, after)
	}
}
