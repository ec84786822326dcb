package course

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

var day = calendar.Date{Year: 2026, Month: 12, Day: 14}

func book(t testing.TB, id string) *rulebook.Rulebook {
	t.Helper()
	b, err := rulebooks.Read(id)
	if err != nil {
		t.Fatal(err)
	}
	return &b
}

func shop(kind record.StateKind) record.Record {
	return record.Record{
		Name:    "Spokeshave Cycle Works",
		Kind:    record.Premises,
		State:   record.State{Kind: kind},
		Address: address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", PostalCode: "98990", Country: "US"},
	}
}

// public is a listing that shows.
func public(marked record.StateKind) verification.State {
	given := time.Date(2026, 11, 1, 12, 0, 0, 0, time.UTC)
	return verification.State{Control: verification.Held, Visibility: verification.Public, VerifiedAt: &given, GivenAt: &given, Marked: marked}
}

// What cannot be taken back comes a day after all else; what people are told by hand is told
// ahead; who takes all from others is left alone.
func TestClosingForGood(t *testing.T) {
	var all []Listing
	for _, id := range []string{"lanefolk", "waywren", "fernlook", "brasswire", "roadwhistle", "hithermap"} {
		all = append(all, Listing{Book: book(t, id), State: public(""), Source: id == "hithermap"})
	}
	var said []string
	for _, s := range Steps(shop(record.ClosedForGood), day, day.Add(-20), all) {
		said = append(said, fmt.Sprintf("%s %s %s %s", s.On, s.Act, s.Book.Name, s.After))
	}
	want := []string{
		"2026-12-04 tell Brasswire ",
		"2026-12-14 hide Hithermap ",
		"2026-12-14 mark Fernlook ",
		"2026-12-14 tell Lanefolk ",
		"2026-12-15 mark Waywren once all else is done",
	}
	if strings.Join(said, "\n") != strings.Join(want, "\n") {
		t.Errorf("the course is\n%s\nwant\n%s", strings.Join(said, "\n"), strings.Join(want, "\n"))
	}
	if late := Steps(shop(record.ClosedForGood), day, day, all[3:4]); len(late) != 1 || late[0].On != day ||
		!strings.Contains(late[0].Says, "4 to 6 business days: it will be late") {
		t.Errorf("on the day itself: %+v", late)
	}
	closed := public(record.ClosedForGood)
	steps := Steps(shop(record.Open), day, day.Add(-20), []Listing{{Book: book(t, "waywren"), State: closed}, {Book: book(t, "fernlook"), State: closed}})
	if len(steps) != 2 || steps[0].Act != Mark || steps[1].Act != Tell || !strings.Contains(steps[1].Says, "stays closed for good") {
		t.Errorf("to open again: %+v", steps)
	}
}

// A move goes by the gentlest order: what is looked at waits for what is looked at already,
// and an address may want a new proof.
func TestMoving(t *testing.T) {
	settling := public("")
	settling.Change = &verification.Change{Window: calendar.Window{Latest: day.Add(3)}}
	steps := Steps(shop(record.Open), day, day.Add(-20), []Listing{
		{Book: book(t, "fernlook"), State: public(""), Changed: []string{"phone", "address"}},
		{Book: book(t, "waywren"), State: settling, Changed: []string{"address"}},
		{Book: book(t, "lanefolk"), State: public(""), Changed: []string{"address"}},
		{Book: book(t, "skerry"), State: verification.Start(), Changed: []string{"address"}}, // nothing of ours is there
	})
	var said []string
	for _, s := range steps {
		said = append(said, fmt.Sprintf("%s %s %s %v %v %s", s.On, s.Act, s.Book.Name, s.Facts, s.Verifies, s.After))
	}
	want := []string{
		"2026-12-14 send Fernlook [phone] false ", "2026-12-14 give Lanefolk [address] false ",
		"2026-12-18 send Fernlook [address] true once what they look at is settled", "2026-12-18 send Waywren [address] false once what they look at is settled",
	}
	if strings.Join(said, "\n") != strings.Join(want, "\n") {
		t.Errorf("the course is\n%s\nwant\n%s", strings.Join(said, "\n"), strings.Join(want, "\n"))
	}
	if s, ok := Next(steps[:1], day, false); !ok || s.Act != Send {
		t.Errorf("on the day: %+v", s)
	}
	if s, ok := Next(steps[:1], day.Add(-1), false); ok {
		t.Errorf("a day before: %+v", s)
	}
}

// Where a directory takes the new place for another location, the listing is to say that it has moved, and then to be left; it
// is given nothing of the new place.
func TestAMoveThatWantsAnotherListing(t *testing.T) {
	b := book(t, "waywren")
	r := shop(record.Open)
	st := public("")
	stands := r.Address
	st.Stands = &stands
	said := func() (out []string) {
		for _, s := range Steps(r, day, day, []Listing{{Book: b, State: st, Changed: []string{"address"}}}) {
			out = append(out, fmt.Sprintf("%s %s %s", s.Act, s.To, s.After))
		}
		return out
	}
	if got := said(); len(got) != 1 || !strings.HasPrefix(got[0], "send") {
		t.Errorf("at the same place: %v", got)
	}
	r.Address.Street = "4 Anvil Lane"
	if got := said(); len(got) != 1 || !strings.HasPrefix(got[0], "send") {
		t.Errorf("in the same town: %v", got)
	}
	r.Address.Locality = "Quillcote"
	if got := said(); strings.Join(got, ", ") != "hide moved , leave  once it says that the location has moved" {
		t.Errorf("in another town: %v", got)
	}
	then := func(w verification.What) { st = st.After(*b, verification.Event{At: day.At(12*60, time.UTC), What: w}) }
	then(verification.WithdrawnThere{To: string(record.Moved)})
	if got := said(); strings.Join(got, ", ") != "leave  " {
		t.Errorf("once it says so: %v", got)
	}
	then(verification.LeftThere{To: r.Address})
	if got := said(); got != nil || st.Control != verification.NoControl || len(st.Left) != 1 || st.Left[0].Stood() != stands {
		t.Errorf("once it is left: %v, %+v", got, st)
	}
	then(verification.TakenUp{Ref: st.Left[0].Was.Ref})
	if got := said(); strings.Join(got, ", ") != "leave  " || st.Left != nil {
		t.Errorf("taken up: %v, %+v", got, st)
	}
	then(verification.SamePlace{At: r.Address})
	if got := said(); len(got) < 1 || !strings.HasPrefix(got[0], "show") {
		t.Errorf("of the same place: %v", got)
	}
}

// Whatever the states, doing the steps ends with nothing to do, and undoing them too, where
// it can be undone.
func TestStepsLeadThere(t *testing.T) {
	random := rand.New(rand.NewPCG(4, 2))
	kinds := []record.StateKind{record.Open, record.ClosedForATime, record.ClosedForGood, record.Moved}
	ids := []string{"fernlook", "waywren", "skerry", "murmurhall", "candourbox", "lanefolk", "old-wharf-merchants", "plotline"}
	books := map[string]*rulebook.Rulebook{}
	for _, id := range ids {
		books[id] = book(t, id)
	}
	for range 400 {
		b := books[ids[random.IntN(len(ids))]]
		st := public("")
		st.Visibility = []verification.Visibility{verification.Public, verification.Publishing, verification.Hidden}[random.IntN(3)]
		var way []string
		for range 4 {
			r := shop(kinds[random.IntN(len(kinds))])
			way = append(way, string(r.State.Kind))
			for n := 0; ; n++ {
				steps := Steps(r, day, day.Add(-20), []Listing{{Book: b, State: st}})
				if len(steps) == 0 || b.Turn(st.Marked).Final {
					break
				}
				if n == 3 || len(steps) != 1 {
					t.Fatalf("%s, %v: %+v", b.ID, way, steps)
				}
				to := string(steps[0].To)
				what := map[Act]verification.What{Mark: verification.MarkedThere{To: to}, Hide: verification.WithdrawnThere{To: to}, Show: verification.BackThere{}, Tell: verification.ToldThere{To: to}}[steps[0].Act]
				st = st.After(*b, verification.Event{What: what})
			}
		}
	}
}

func TestWords(t *testing.T) {
	r := shop(record.ClosedForATime)
	r.State.Until = "2027-01-03"
	text := Words(r, book(t, "lanefolk"), "https://lanefolk.example/x", day)
	for _, part := range []string{"Dear colleagues at Lanefolk", "Spokeshave Cycle Works, 18 Tern Street, Minnow Bay, WA 98990, is closed for a time from Mon 14 Dec to Sun 3 Jan, and open again on Mon 4 Jan.", "https://lanefolk.example/x"} {
		if !strings.Contains(text, part) {
			t.Errorf("%q is not in\n%s", part, text)
		}
	}
	r = shop(record.Moved)
	r.State.To = "4 Anvil Lane, Port Sable, WA"
	if text := Words(r, book(t, "lanefolk"), "", day); !strings.Contains(text, "is moved away from Mon 14 Dec, to 4 Anvil Lane") {
		t.Error(text)
	}
	if text := Words(shop(record.Open), book(t, "lanefolk"), "", day); !strings.Contains(text, "is open again from Mon 14 Dec. Please") {
		t.Error(text)
	}
}
