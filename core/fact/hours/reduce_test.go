package hours

import (
	"math/rand/v2"
	"reflect"
	"testing"
)

func weekOf(t *testing.T, text string) Week {
	t.Helper()
	s, _, err := Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	return s.Week()
}

func TestReduce(t *testing.T) {
	for _, c := range []struct {
		text         string
		able         Ability
		want         string
		shown, hides int
	}{
		{"Tu-Fr 09:00-12:00,13:00-18:00", Ability{2, false}, "Tu-Fr 09:00-12:00,13:00-18:00", 0, 0},
		{"Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00", Ability{1, false}, "Tu-Fr 09:00-18:00; Sa 09:00-16:00", 240, 0},
		{"Mo 08:00-10:00,10:30-12:00,14:00-18:00", Ability{2, false}, "Mo 08:00-12:00,14:00-18:00", 30, 0},
		{"Fr 18:00-02:00", Ability{1, true}, "Fr 18:00-26:00", 0, 0},
		{"Fr 18:00-02:00", Ability{1, false}, "Fr 18:00-24:00; Sa 00:00-02:00", 0, 0},
		{"Fr-Sa 18:00-02:00", Ability{1, false}, "Fr-Sa 18:00-24:00; Su 00:00-02:00", 0, 120}, // two hours left out, not sixteen shown
		{"Fr 18:00-02:00; Sa 03:00-10:00", Ability{1, false}, "Fr 18:00-24:00; Sa 00:00-10:00", 60, 0},
		{"24/7", Ability{1, false}, "24/7", 0, 0},
	} {
		truth := weekOf(t, c.text)
		got := truth.Reduce(c.able)
		if want := weekOf(t, c.want); !reflect.DeepEqual(got, want) {
			t.Errorf("%s becomes %v, want %v", c.text, got, want)
		}
		if d := Compare(got, truth); d.OpenWhileShut != c.shown || d.ShutWhileOpen != c.hides {
			t.Errorf("%s: %d minutes too many, %d too few", c.text, d.OpenWhileShut, d.ShutWhileOpen)
		}
	}
}

// Whatever the week: the form can express what comes of it, a week that it can
// express stays, and nothing is hidden but what passed midnight.
func TestReduceLaws(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 6))
	for range 5000 {
		var w Week
		for i := range w {
			for range r.IntN(4) {
				start := 15 * r.IntN(96)
				w[i] = append(w[i], Sitting{start, start + 15 + 15*r.IntN(40)})
			}
			w[i] = join(w[i])
		}
		a := Ability{1 + r.IntN(3), r.IntN(2) == 0}
		got := w.Reduce(a)
		for i, day := range got {
			if len(day) > a.SittingsPerDay {
				t.Fatalf("%v has %d sittings on day %d, %d are taken", w, len(day), i, a.SittingsPerDay)
			}
			for j, s := range day {
				if !a.PastMidnight && s.End > DayMinutes || j > 0 && s.Start <= day[j-1].End {
					t.Fatalf("%v becomes %v", w, got)
				}
			}
		}
		d := Compare(got, w)
		for i, hidden := range d.Hidden {
			for _, s := range hidden {
				if a.PastMidnight || s.Start != 0 || carries(w[(i+6)%7]) == 0 {
					t.Fatalf("%v hides %v on day %d: %v", got, s, i, w)
				}
			}
		}
		if d := Compare(got.Reduce(a), got); d.OpenWhileShut+d.ShutWhileOpen != 0 {
			t.Fatalf("reduced again, %v becomes %v", got, got.Reduce(a))
		}
		if d := Compare(w.Reduce(Ability{24, true}), w); d.OpenWhileShut+d.ShutWhileOpen != 0 {
			t.Fatalf("%v becomes %v where all can be expressed", w, w.Reduce(Ability{24, true}))
		}
	}
}
