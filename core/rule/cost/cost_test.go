package cost

import (
	"math"
	"math/rand/v2"
	"testing"

	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

var today = calendar.Date{Year: 2026, Month: 11, Day: 24}

// The table has a share for every fact that a directory may take, each between none and all, with its reason.
func TestTheTable(t *testing.T) {
	for _, k := range rulebook.Keys {
		s := Of(k.ID)
		for _, kind := range []record.Kind{record.Premises, record.GoesToCustomers, record.Both} {
			if p := s.For(kind); p < 0 || p > 1 {
				t.Errorf("%s misleads %v of the people", k.ID, p)
			}
		}
		if len(s.Why) < 10 {
			t.Errorf("%s has the reason %q", k.ID, s.Why)
		}
	}
	if Of("text.medium").Fact != "text." || Of("nothing").Fact != "" || Of("phone").For(record.GoesToCustomers) <= Of("phone").For(record.Premises) {
		t.Errorf("%+v, %+v", Of("text.medium"), Of("nothing"))
	}
}

func TestWhatLinesCost(t *testing.T) {
	shop := record.Record{Kind: record.Premises, Hours: "Mo-Fr 09:00-17:00"} // 40 hours
	for _, c := range []struct {
		line         compare.Line
		people, once float64
	}{
		{compare.Line{Fact: "phone", Mark: compare.Unequal, Wrong: 1}, 21, 0}, // 70 act a week
		{compare.Line{Fact: "phone", Mark: compare.Missing, Wrong: 1}, 10.5, 0},
		{compare.Line{Fact: "phone", Mark: compare.Equal}, 0, 0},
		{compare.Line{Fact: "phone", Mark: compare.NotTaken}, 0, 0},
		{compare.Line{Fact: "hours", Mark: compare.Unequal, OpenWhileShut: 120, ShutWhileOpen: 120, Wrong: 0.1}, 3.5, 0},
		{compare.Line{Fact: "hours", Mark: compare.Unequal, OpenWhileShut: 9000, Wrong: 1}, 35, 0},
		{compare.Line{Fact: "attributes", Mark: compare.Unequal, Wrong: 0.5}, 1.75, 0},
		{compare.Line{Fact: "special_dates", Mark: compare.Unequal, Wrong: 1, Days: []compare.Day{{Date: today.Add(2)}, {Date: today.Add(31)}}}, 0, 10},
		{compare.Line{Fact: "special_dates", Mark: compare.NotTaken, Days: []compare.Day{{Date: today.Add(2)}}}, 0, 5},
	} {
		got := OfLine(c.line, shop, Acting(50))
		if math.Abs(got.People-c.people) > 1e-9 || math.Abs(got.Once-c.once) > 1e-9 || (got.From == "") != (c.people+c.once == 0) {
			t.Errorf("%+v costs %+v, want %v a week and %v once", c.line, got, c.people, c.once)
		}
	}
	near := OfLine(compare.Line{Fact: "special_dates", Days: []compare.Day{{Date: today.Add(2)}}}, shop, 70).Order(today)
	far := OfLine(compare.Line{Fact: "special_dates", Days: []compare.Day{{Date: today.Add(60)}}}, shop, 70).Order(today)
	if near <= far {
		t.Errorf("a date in two days stands at %v, one in two months at %v", near, far)
	}
}

// More people, and more that is wrong, never cost less; and no difference misleads more than act on the listing.
func TestMoreNeverCostsLess(t *testing.T) {
	r := rand.New(rand.NewPCG(18, 1))
	for range 3000 {
		key := rulebook.Keys[r.IntN(len(rulebook.Keys))].ID
		rec := record.Record{Kind: []record.Kind{record.Premises, record.GoesToCustomers, record.Both}[r.IntN(3)], Hours: "Mo-Fr 09:00-17:00"}
		acting, more := r.Float64()*100, r.Float64()*50
		l := compare.Line{Fact: key, Mark: compare.Unequal, Wrong: r.Float64()}
		if key == "hours" {
			l.OpenWhileShut = r.IntN(3000)
		}
		worse := l
		worse.Wrong = l.Wrong + (1-l.Wrong)*r.Float64()
		worse.OpenWhileShut += r.IntN(2) * l.OpenWhileShut
		a, b, c := OfLine(l, rec, acting).People, OfLine(l, rec, acting+more).People, OfLine(worse, rec, acting).People
		if b < a || c < a-1e-12 || a > acting || a < 0 {
			t.Fatalf("%+v: %v of %v people, %v with %v more, %v when worse", l, a, acting, b, more, c)
		}
	}
}

func TestPeopleInWords(t *testing.T) {
	for want, aWeek := range map[string]float64{
		"about 25 people a week": 23.4, "about 4 people a week": 4.2, "about one person a week": 1.1, "about 26 people a year": 0.5, "hardly anybody": 0.01,
	} {
		if got := Around(aWeek); got != want {
			t.Errorf("%v is %q, want %q", aWeek, got, want)
		}
	}
}
