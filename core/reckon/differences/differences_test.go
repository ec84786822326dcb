package differences

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/listing/shown"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/record/sighting"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

var now = time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)

func shop() record.Record {
	return record.Record{
		Name: "Spokeshave Cycle Works", Kind: record.Premises, Category: "bicycle_repair", Hours: "Tu-Fr 09:00-12:00,13:00-18:00; 2026 Dec 24 off",
		Address: address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", PostalCode: "98990", Country: "US"},
		Phones:  []record.Phone{{E164: "+13605550121", Voice: true}}, Website: "https://spokeshave.example",
	}
}

func books(t *testing.T) []rulebook.Rulebook {
	t.Helper()
	all, err := rulebooks.All()
	if err != nil {
		t.Fatal(err)
	}
	return all
}

// showing is a public listing whose page was seen to show a phone, between so many days ago; only its phone is spoken of.
func showing(t *testing.T, all []rulebook.Rulebook, id, phone string, after, from int) Listing {
	t.Helper()
	i := slices.IndexFunc(all, func(b rulebook.Rulebook) bool { return b.ID == id })
	if i < 0 {
		t.Fatalf("there is no %s", id)
	}
	seen, before := now.AddDate(0, 0, -from), now.AddDate(0, 0, -after)
	st := verification.State{Control: verification.Held, Visibility: verification.Public, SeenAt: &now, LookedAt: &now}
	st.Sighting = &sighting.Sighting{Phone: phone, More: sighting.More{Only: []string{"phone"}}}
	st.Shown = map[string]shown.Fact{"phone": {After: &before, From: seen}}
	return Listing{Book: &all[i], State: st}
}

func described(list []Difference) string {
	var out []string
	for _, d := range list {
		text := fmt.Sprintf("%s %s %s of %s", d.Book.ID, d.Fact, d.Mark, d.Source)
		if d.Parent != "" {
			text += " from " + d.Parent
		}
		if d.Follows != nil {
			text += " by " + d.Follows.Latest.String()
		}
		if d.Sent {
			text += ", sent"
		}
		out = append(out, text)
	}
	slices.Sort(out)
	return strings.Join(out, "\n")
}

// A wrong phone that a supplier spreads is told with its source, and with the days by which its copies follow.
func TestASupplierSpreadsAPhone(t *testing.T) {
	all := books(t)
	const wrong = "+13605550112"
	got := described(Of(shop(), []Listing{
		showing(t, all, "hithermap", wrong, 30, 28), showing(t, all, "plotline", wrong, 38, 36), showing(t, all, "roadwhistle", wrong, 28, 26),
		showing(t, all, "fernlook", "+13605550121", 30, 20), showing(t, all, "waywren", "+13605550199", 30, 20),
	}, all, now))
	lines := strings.Split(got, "\n")
	if len(lines) != 4 || lines[1] != "plotline phone ≠ of plotline" || lines[3] != "waywren phone ≠ of waywren" ||
		!strings.HasPrefix(
			lines[0],
			"hithermap phone ≠ of plotline from plotline by 2026-12-",
		) || !strings.HasPrefix(lines[2], "roadwhistle phone ≠ of plotline from plotline by 2026-12-") {
		t.Errorf("%s", got)
	}
}

// What was not sent is ours; what was sent and shows otherwise is theirs; what was sent since anybody looked is on its way.
func TestWhoseItIs(t *testing.T) {
	all := books(t)
	was := shop()
	was.Phones[0].E164 = "+13605550177"
	fernlook := showing(t, all, "fernlook", "+13605550177", 30, 20)
	given := func(r record.Record) fit.Values { return fit.Of(fit.Read(r, nil, now), fernlook.Book).Values() }
	sent, looked := now.Add(time.Hour), now.Add(-time.Hour)
	for _, c := range []struct {
		name string
		of   func(l *Listing)
		want string
	}{
		{"the record changed", func(l *Listing) { l.Last = given(was) }, "fernlook phone ≠ of ourselves"},
		{"it was given, and shows otherwise", func(l *Listing) { l.Last = given(shop()); l.State.SentAt = &looked }, "fernlook phone ≠ of fernlook"},
		{"it was sent since", func(l *Listing) { l.Last = given(shop()); l.State.SentAt = &sent }, "fernlook phone ≠ of fernlook, sent"},
		{"they look at it", func(l *Listing) {
			l.Last = given(shop())
			l.State.Change = &verification.Change{Keys: []string{"phone"}}
		}, "fernlook phone ≠ of fernlook, sent"},
		{"nothing is known of what it was given", func(*Listing) {}, "fernlook phone ≠ of fernlook"},
		{"a value of its own", func(l *Listing) { l.State.Own = []fit.Own{{Key: "phone", Text: "(360) 555-0177"}} }, ""},
		{"it is not public", func(l *Listing) { l.State.Visibility = verification.Withdrawn }, ""},
	} {
		l := fernlook
		c.of(&l)
		if got := described(Of(shop(), []Listing{l}, all, now)); got != c.want {
			t.Errorf("%s: %q, want %q", c.name, got, c.want)
		}
	}
}

// A date that was sent is on its way, though it goes with the hours; one that the directory drops is its own.
func TestADateThatWasSent(t *testing.T) {
	all := books(t)
	l := showing(t, all, "fernlook", "", 30, 20)
	usual := shop()
	usual.Hours = "Tu-Fr 09:00-12:00,13:00-18:00"
	l.State.Sighting = &sighting.Sighting{Hours: usual.Hours, More: sighting.More{Only: []string{"hours", "special_dates"}}}
	before, after := now.Add(-time.Hour), now.Add(time.Hour)
	for want, of := range map[string]func(){
		"fernlook special_dates ≠ of ourselves":      func() { l.Last = fit.Of(fit.Read(usual, nil, now), l.Book).Values() },
		"fernlook special_dates ≠ of fernlook, sent": func() { l.Last = fit.Of(fit.Read(shop(), nil, now), l.Book).Values(); l.State.SentAt = &after },
		"fernlook special_dates ≠ of fernlook":       func() { l.Last = fit.Of(fit.Read(shop(), nil, now), l.Book).Values(); l.State.SentAt = &before },
	} {
		if of(); described(Of(shop(), []Listing{l}, all, now)) != want {
			t.Errorf("%s, want %s", described(Of(shop(), []Listing{l}, all, now)), want)
		}
		l.State.SentAt = nil
	}
}

// Where people work on a directory and nobody has looked, what was ticked as given stands for the page.
func TestWhatWasTickedAsGiven(t *testing.T) {
	all := books(t)
	i := slices.IndexFunc(all, func(b rulebook.Rulebook) bool { return b.ID == "lanefolk" })
	was := shop()
	was.Phones[0].E164 = "+13605550177"
	l := Listing{Book: &all[i], State: verification.State{Control: verification.Held}, Last: fit.Of(fit.Read(was, nil, now), &all[i]).Values()}
	if got := described(Of(shop(), []Listing{l}, all, now)); got != "lanefolk phone ≠ of ourselves" {
		t.Errorf("%s", got)
	}
	l.Last = fit.Of(fit.Read(shop(), nil, now), &all[i]).Values()
	if got := described(Of(shop(), []Listing{l}, all, now)); got != "" {
		t.Errorf("what was given as the record says differs: %s", got)
	}
}
