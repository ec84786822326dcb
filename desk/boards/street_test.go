package boards_test

import (
	"bytes"
	"encoding/json"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
	"uvent/rulebooks"
)

// Nobody who reads something public learns where a business is that goes to its customers: no copy of its record, no
// page, preview, letter, file or feed tells its street, its postal code or its pin; and what a directory is told that
// would show a street, does not hold it.
func TestAStreetThatNobodyIsToComeToIsNowhere(t *testing.T) {
	all, err := rulebooks.All()
	rig.Must(t, err)
	var ids []string
	for _, b := range all {
		ids = append(ids, b.ID)
	}
	r := rig.Start(t, ids...)
	ctx, who := t.Context(), r.Who.Actor()
	van := rig.Workshop("Minnow Bay")
	van.Kind, van.Category = record.GoesToCustomers, "chimney_sweep"
	van.Address.Street, van.Address.PostalCode = "417 Quernstone Row", "98977"
	van.Pin = &record.Pin{Latitude: 48.612345, Longitude: -124.954321}
	van.Directions, van.Parking = "Down Quernstone Row, the last gate.", "In Quernstone Row."
	van.Area = record.Area{Minutes: 30, Towns: []record.Town{{Name: "Fennick", Minutes: 12}}}
	here := r.Add(t, van)
	looked := map[string]int{}
	clean := func(what, text string) {
		t.Helper()
		looked[what]++
		if text == "" {
			t.Errorf("%s is empty", what)
		}
		for _, secret := range []string{"Quernstone", "98977", "48.6123", "124.9543"} {
			if strings.Contains(text, secret) {
				t.Errorf("%s tells %q:\n%s", what, secret, text)
			}
		}
	}
	plain := func(v any) string {
		b, err := json.Marshal(v)
		rig.Must(t, err)
		return string(b)
	}

	copies, err := r.Desk.Records.Copies(ctx, here.Location, false)
	rig.Must(t, err)
	for _, c := range copies {
		if c.Format != "icalendar" || c.Text != "" {
			clean("a copy", c.Text)
		}
	}
	for _, b := range all {
		at := rig.On(here, b.ID)
		v, err := r.Desk.Boards.FitOf(ctx, at)
		rig.Must(t, err)
		if v.Fit.Not != "" {
			continue
		}
		p, err := r.Desk.Boards.Preview(ctx, at)
		rig.Must(t, err)
		clean("a preview", plain(p))
		if b.HidesAddress(van) {
			continue // it is told, so that it can send post, and shows it to nobody
		}
		clean("what a directory is given", plain(v.Values))
		clean("what a program gives it", plain(v.Values.Facts()))
		if b.Worked.People() {
			w, err := r.Desk.Listings.Worksheet(ctx, who, at)
			rig.Must(t, err)
			clean("a worksheet", plain(w.Lines))
			if w.Letter != nil {
				clean("a letter", w.Letter.Body)
			}
		}
		if b.Worked == rulebook.File {
			var file bytes.Buffer
			_, err := r.Desk.Listings.HandInFile(ctx, ledger.Scope{Location: &here.Location}, b.ID, &file)
			rig.Must(t, err)
			clean("a file", file.String())
		}
	}

	// On the pages themselves: one that hides streets, and those that do not.
	for _, b := range all {
		if b.Worked != rulebook.Connected || b.MayList(van) != "" {
			continue
		}
		at := rig.On(here, b.ID)
		if s := r.Held(t, at); s.Trouble != "" {
			t.Errorf("%s: %s", b.Name, s.Trouble)
			continue
		}
		if _, ok := b.Way("text"); ok {
			r.Verified(t, at)
		}
		r.Move(t, 30*24*time.Hour)
		v, err := r.Desk.Boards.Listing(ctx, at)
		rig.Must(t, err)
		if v.PageURL == "" {
			t.Errorf("%s has no page", b.Name)
			continue
		}
		answer, err := http.Get(v.PageURL)
		rig.Must(t, err)
		body, err := io.ReadAll(answer.Body)
		rig.Must(t, err)
		answer.Body.Close()
		if clean("a page", string(body)); strings.Contains(string(body), van.Name) {
			looked["a page that shows"]++
		}
	}
	_, address, err := r.Desk.MakeFeed(ctx, r.Who, nil, nil)
	rig.Must(t, err)
	feed, err := r.Desk.ReadFeed(ctx, address[strings.LastIndex(address, "/")+1:])
	rig.Must(t, err)
	clean("a feed", string(feed))
	for _, what := range []string{"a copy", "a preview", "what a directory is given", "a worksheet", "a letter", "a file", "a page that shows", "a feed"} {
		if looked[what] == 0 {
			t.Errorf("nothing was looked at of %s", what)
		}
	}
	t.Logf("looked at %v", looked)
}
