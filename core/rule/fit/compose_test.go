package fit

import (
	"slices"
	"strings"
	"testing"
	"time"

	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

func text(t *testing.T, v Values, key string) Value {
	t.Helper()
	value, ok := v.Find(key)
	if !ok {
		t.Errorf("no %s is given", key)
	}
	return value
}

var now = time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)

func TestCompose(t *testing.T) {
	r, book := spokeshave(), read(t, "fernlook")
	v := Of(Read(r, nil, now), book).Values()
	f := v.Facts()
	if f["street"] != "18 Tern Street, Suite B" || f["category"] != "Bike repair service" || f["phone"] != "+13605550142" || f["hide_street"] != false ||
		f["hours"] != r.Hours {
		t.Errorf("%+v", f)
	}
	if a := text(t, v, "address"); a.Label != "Address" || a.From != "Contact, address" || a.Text != "18 Tern Street, Suite B, Minnow Bay, WA 98994" {
		t.Errorf("%+v", a)
	}
	if d := text(t, v, "special_dates"); d.Text != "Thu 26 Nov closed" {
		t.Errorf("%+v", d)
	}
	// The form's own order.
	if v[0].Key != "name" || v[1].Key != "category" || v[2].Key != "address" {
		t.Errorf("%+v", v[:3])
	}

	// Links say where a visitor came from, unless that makes them too long.
	r.Tags = record.Tags{On: true, Medium: "listing"}
	if w := text(t, Of(Read(r, nil, now), book).Values(), "website"); w.Text != "https://y.example?utm_source=fernlook&utm_medium=listing" ||
		w.Says[0] != "With campaign tags for Fernlook." {
		t.Errorf("%+v", w)
	}
	r.Website = "https://y.example/" + strings.Repeat("x", 175)
	if w := text(t, Of(Read(r, nil, now), book).Values(), "website"); w.Text != r.Website || !strings.Contains(w.Says[0], "Goes without campaign tags") {
		t.Errorf("%+v", w)
	}

	// Hours are what the form takes.
	if h := text(
		t,
		Of(Read(r, nil, now), read(t, "murmurhall")).Values(),
		"hours",
	); h.Data["hours"] != "Tu-Fr 09:00-18:00" || len(h.Says) != 3 || !strings.Contains(h.Says[0], "4 hours a week shown open while shut") ||
		!strings.Contains(h.Says[1], "on 1 day of the next twelve months: Thu 26 Nov.") {
		t.Errorf("%+v", h)
	}
	if h := text(t, Of(Read(r, nil, now), read(t, "brasswire")).Values(), "hours"); h.Text != "Tue–Fri 9–12, 13–18; Thu 26 Nov 2026 closed" || h.Says != nil {
		t.Errorf("%+v", h)
	}

	// One button is chosen: one that leads somewhere, best to a booking.
	if b := text(t, Of(Read(r, nil, now), read(t, "guildbench")).Values(), "button"); b.Text != "visit" ||
		!strings.Contains(b.Says[0], "Of visit, contact, join: it leads to https://y.example/") {
		t.Errorf("%+v", b)
	}
	booked, book2 := r, *read(t, "murmurhall")
	booked.Links.Booking = "https://y.example/book"
	book2.Facts = append(slices.Clone(book2.Facts), rulebook.Fact{Fact: "button"})
	if b := text(t, Of(Read(booked, nil, now), &book2).Values(), "button"); b.Text != "book" {
		t.Errorf("%+v", b)
	}

	// A business that only goes to its customers shows no street.
	r.Kind = record.GoesToCustomers
	if a := text(t, Of(Read(r, nil, now), book).Values(), "address"); a.Data["hide_street"] != true || !strings.Contains(a.Says[0], "not shown") {
		t.Errorf("%+v", a)
	}

	// What is not taken is not given.
	book.Facts, book.Form = book.Facts[:2], nil
	if v := Of(Read(r, nil, now), book).Values(); len(v) != 2 {
		t.Errorf("%+v", v)
	}
}

func TestCategories(t *testing.T) {
	r := spokeshave()
	for _, c := range []struct{ book, ours, theirs, says string }{
		{"fernlook", "bicycle_repair", "Bike repair service", ""},
		{"hithermap", "bicycle_repair", "Bikes", "They list under it also: Bicycle shop, Electric bicycle shop."},
		{"waywren", "bicycle_tours", "Cycle shop", "Waywren has no category for Bicycle tours; Cycle shop, which it has for Bicycle shop, is nearest."},
		{"skerry", "kayak_rental", "Bicycle store", "which it has for Bicycle shop, is nearest"},
		{"sound-chamber", "notary", "Other members", "no category for Notary; it goes under Other members"},
	} {
		r.Category = c.ours
		v := text(t, Of(Read(r, nil, now), read(t, c.book)).Values(), "category")
		if v.Text != c.theirs || !strings.Contains(strings.Join(v.Says, " "), c.says) || c.says == "" && v.Says != nil {
			t.Errorf("%s on %s: %q, %q", c.ours, c.book, v.Text, v.Says)
		}
	}
	// Others go as far as they have a place of their own there.
	r.Category, r.Others = "bicycle_repair", []string{"bicycle_shop", "electric_bicycle_shop", "bakery", "notary"}
	v := text(t, Of(Read(r, nil, now), read(t, "waywren")).Values(), "category")
	if !slices.Equal(v.Parts, []string{"Cycle repairs", "Cycle shop", "Bakery"}) || !strings.Contains(v.Says[0], "other categories, 1 does not go") {
		t.Errorf("%+v", v)
	}
}

func TestListsAreNarrowed(t *testing.T) {
	r := spokeshave()
	r.Words.Keywords = []string{"bikes", strings.Repeat("k", 25), "wheels", "spokes"}
	r.Socials = []record.Social{{Name: "Murmurhall", URL: "https://murmurhall.example/spokeshave", Show: true}, {Name: "Hidden", URL: "https://hidden.example"}}
	r.Payments, r.Licences = []string{"cash", "cheque"}, []record.Licence{{Name: "Trade", Number: "BX-1"}}
	r.Attributes = map[string]bool{"free_wifi": true, "rentals": false, "live_music": true}
	r.Offerings = []record.Section{
		{Title: "Repairs", Items: []record.Item{{Name: "Puncture", Price: "18"}, {Name: strings.Repeat("w", 90), Price: "2"}}},
		{Title: "Empty"},
	}
	chamber := Of(Read(r, nil, now), read(t, "sound-chamber")).Values()
	if k := text(t, chamber, "keywords"); k.Text != "bikes, wheels, spokes" || k.Says[0] != "1 of 4 does not go, with more than 24 characters." {
		t.Errorf("%+v", k)
	}
	if s := text(t, chamber, "socials"); s.Tick != "Show on profile" || s.Text != "https://murmurhall.example/spokeshave" {
		t.Errorf("%+v", s)
	}
	waywren := Of(Read(r, nil, now), read(t, "waywren")).Values()
	if a := text(t, waywren, "attributes"); a.Text != "Rentals: no\nFree Wi-Fi: yes" && a.Text != "Free Wi-Fi: yes\nRentals: no" {
		t.Errorf("%+v", a)
	}
	if p := text(t, waywren, "payments"); p.Text != "Cash, Cheque" {
		t.Errorf("%+v", p)
	}
	if o := text(t, Of(Read(r, nil, now), read(t, "candourbox")).Values(), "offerings"); o.Text != "Repairs\nPuncture: 18 USD" {
		t.Errorf("%+v", o)
	}
	book := &rulebook.Rulebook{Facts: []rulebook.Fact{{Fact: "keywords", Most: 2, MostCharacters: 3}}}
	if f := Of(Read(r, nil, now), book); f.Items != nil && f.Items[0].State == Good {
		t.Errorf("%+v", f)
	}
}

// What comes along when one directory copies from another, and what does not.
func TestCopy(t *testing.T) {
	r := spokeshave()
	r.LegalName, r.Company.Registration = "Spokeshave LLC", "604 117 220"
	r.Socials = []record.Social{{Name: "Lanefolk", URL: "https://lanefolk.example/b/spoke", Show: true}}
	r.Payments, r.Words.Long = []string{"cash"}, "We mend bicycles of every age."
	s, from, to := Read(r, nil, now), read(t, "fernlook"), read(t, "skerry")
	held := Of(s, from).Values()
	keys := func(v Values) (out string) {
		for _, one := range v {
			out += one.Key + " "
		}
		return out
	}
	// Website, category and socials are left out; the others Fernlook does not hold.
	c := Copy(s, held, from, to)
	if keys(c.Left) != "website category text.long payments socials " || keys(c.Brought) != "legal_name registration name address phone hours special_dates " {
		t.Errorf("brought %s, left %s", keys(c.Brought), keys(c.Left))
	}
	// What the other has comes, not what the record says by now.
	held[slices.IndexFunc(held, func(v Value) bool { return v.Key == "phone" })].Text = "(360) 555-0100"
	if phone, _ := Copy(s, held, from, to).Brought.Find("phone"); phone.Text != "(360) 555-0100" {
		t.Errorf("%+v", phone)
	}
	if c := Copy(s, held, read(t, "waywren"), to); keys(c.Brought) != "legal_name registration " {
		t.Errorf("it does not copy from there, and brings %s", keys(c.Brought))
	}
}
