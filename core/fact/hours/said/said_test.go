package said

import (
	"bufio"
	"fmt"
	"math/rand/v2"
	"os"
	"strings"
	"testing"
	"unicode/utf8"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
)

// Of the hours in testdata nearly all are read as they are meant, and no wrong reading is called sure.
func TestWrittenHours(t *testing.T) {
	file, err := os.Open("testdata/written.tsv")
	if err != nil {
		t.Fatal(err)
	}
	defer file.Close()
	all, read, sure, wrong := 0, 0, 0, 0
	for lines := bufio.NewScanner(file); lines.Scan(); {
		if strings.HasPrefix(lines.Text(), "#") {
			continue
		}
		cells := strings.Split(lines.Text(), "\t")
		text := strings.NewReplacer(`\n`, "\n", `\t`, "\t").Replace(cells[1])
		got := Read(text, In{Country: cells[0]})
		all++
		says := "-"
		if got.Read {
			says = got.Schedule.String()
		}
		if says == cells[2] {
			read++
		} else {
			t.Logf("%q (%s) is read as %s, want %s", text, cells[0], says, cells[2])
		}
		if got.Sure {
			if sure++; says != cells[2] || len(cells) > 3 {
				wrong++
				t.Errorf("%q (%s) is surely %s, want %s", text, cells[0], says, cells[2:])
			}
		} else if len(cells) == 3 {
			t.Errorf("%q (%s) is not sure: %+v", text, cells[0], got)
		}
	}
	if all < 300 || read*100 < all*95 {
		t.Errorf("%d of %d are read", read, all)
	}
	fmt.Printf("written hours: %d of %d read as meant, %d of them for sure, %d wrong\n", read, all, sure, wrong)
}

// week draws a week of whole and half hours, a few different days in it.
func week(r *rand.Rand) (w hours.Week) {
	var kinds [3][]hours.Sitting
	for i := range kinds {
		at := 0
		for range r.IntN(3) {
			start := at + 30*r.IntN(24)
			end := start + 30 + 30*r.IntN(30)
			if start >= hours.DayMinutes || end > start+hours.DayMinutes {
				break
			}
			kinds[i] = append(kinds[i], hours.Sitting{Start: start, End: end})
			if at = end + 30; at >= hours.DayMinutes {
				break
			}
		}
	}
	for d := range w {
		w[d] = kinds[r.IntN(len(kinds))]
	}
	return w
}

// What Uvent prints and shows of a week, and of dates, is read as the same.
func TestWhatIsPrintedIsReadAlike(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 8))
	for n := range 400 {
		s := hours.Schedule{}.WithWeek(week(r))
		if len(s.Rules) == 0 {
			continue
		}
		if n%2 == 1 {
			s = dated(r, s)
			for _, country := range []string{"US", "DE", "FR", "ES"} {
				if got := Read(s.Words(), In{Country: country}); len(got.Left) > 0 || got.Schedule.String() != s.String() {
					t.Fatalf("%q in %q is read as %q (%+v), not %q", s.Words(), country, got.Schedule, got.Left, s)
				}
			}
			continue
		}
		for _, country := range []string{"", "US", "DE", "FR", "ES"} {
			for _, text := range []string{s.String(), s.Words(), strings.ReplaceAll(s.Words(), "; ", "\n")} {
				got := Read(text, In{Country: country})
				if !got.Read || len(got.Left) > 0 || fmt.Sprint(got.Schedule.Week()) != fmt.Sprint(s.Week()) {
					t.Fatalf("%q in %q is read as %q (%+v), not %q", text, country, got.Schedule, got.Left, s)
				}
			}
		}
	}
}

// dated adds to a week what holds on some dates.
func dated(r *rand.Rand, s hours.Schedule) hours.Schedule {
	from := calendar.Date{Year: 2026, Month: 11, Day: 1}.Add(r.IntN(60))
	closed := hours.Special{From: from, To: from.Add([]int{0, 0, 3, 40}[r.IntN(4)])}
	if r.IntN(2) == 0 {
		closed.Sittings = []hours.Sitting{{Start: 10 * 60, End: 14 * 60}}
	}
	s = s.WithSpecial(closed)
	for _, rule := range []string{"PH off", "Dec 24 09:00-12:00", "Jul-Aug off", "Dec 24-Jan 02 off"} {
		if r.IntN(3) == 0 {
			more, _, _ := hours.Parse(s.String() + "; " + rule)
			s = more
		}
	}
	return s
}

// How it is written changes nothing: dashes, spaces, capitals, direction marks.
func TestHowItIsWrittenChangesNothing(t *testing.T) {
	want := Read("Mon-Fri 9am-5pm, Sat 10am-2pm", In{Country: "US"})
	for _, text := range []string{
		"MON–FRI 9AM–5PM, SAT 10AM–2PM", "mon - fri 9 am - 5 pm ; sat 10 am - 2 pm", "Mon to Fri 9 a.m. to 5 p.m.\nSat 10 a.m. to 2 p.m.",
		"\u200eMon\u00a0—\u00a0Fri: 9.00am ~ 5.00pm | Sat: 10.00am ~ 2.00pm", "Mon thru Fri 9a-5p / Sat 10a-2p", "Monday until Friday from 9am till 5pm & Saturdays from 10am till 2pm",
	} {
		if got := Read(text, In{Country: "US"}); got.Schedule.String() != want.Schedule.String() || !got.Sure {
			t.Errorf("%q: %s, %+v", text, got.Schedule, got)
		}
	}
}

// Each phrase means one thing in its language, and says so in a line that can be read.
func TestTheWordsOfALanguage(t *testing.T) {
	for text, says := range map[string]string{
		"= xx: Made up\nmonday: mo\nclosed: mo": "line 3: \"mo\" is listed twice", "= xx: Made up\nmonday: Mo": "not folded",
		"= xx: Made up\nsomeday: mo": "line 2: \"someday\" is no meaning", "monday: mo": "line 1:",
	} {
		if _, err := lexicon(text); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%q: %v", text, err)
		}
	}
	for _, l := range languages {
		if len(l.senses) < 150 || l.longest < 3 {
			t.Errorf("%s has %d phrases, the longest of %d words", l.name, len(l.senses), l.longest)
		}
	}
}

func FuzzRead(f *testing.F) {
	for _, text := range []string{"Mon–Fri 9–12:30, 13:30–18; Sat 20–2", "closed Sundays, otherwise 8 to 6", "24.12.-26.12. geschlossen", "7j/7 de 8h à minuit", "9-5|9-5|x", "L a V 9h", "M T W"} {
		f.Add(text, "US")
		f.Add(text, "")
	}
	f.Fuzz(func(t *testing.T, text, country string) {
		got := Read(text, In{Country: country})
		if got.Sure && (len(got.Left) > 0 || !got.Read) {
			t.Errorf("%q is sure, and %+v is left", text, got.Left)
		}
		for _, l := range got.Left {
			if l.From < 0 || l.To < l.From || l.To > utf8.RuneCountInString(text) || l.Says == "" {
				t.Errorf("%+v is left of %q", l, text)
			}
		}
		if again := Read(text, In{Country: country}); again.Schedule.String() != got.Schedule.String() || again.Sure != got.Sure {
			t.Errorf("%q is read in two ways", text)
		}
		if got.Read {
			if again, _, err := hours.Parse(got.Schedule.String()); err != nil || again.String() != got.Schedule.String() {
				t.Errorf("%q comes to %q, which is none: %v", text, got.Schedule, err)
			}
		}
	})
}

// A reading of a line of hours, of which there is one in each row of a file.
func BenchmarkRead(b *testing.B) {
	for b.Loop() {
		Read("Mon-Fri 9am-12:30pm, 1:30-6pm; Sat 10-2; closed Sundays and bank holidays", In{Country: "GB"})
	}
}
