package hours

import (
	"errors"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/calendar"
)

// read lists texts and the normal form they print as; an empty form means that
// the text is in normal form already.
var read = [][2]string{
	{"24/7", ""},
	{"Mo-Su 00:00-24:00", "24/7"},
	{"00:00-24:00", "24/7"},
	{"open", "24/7"},
	{" 24/7 ", "24/7"},
	{`24/7 "ring the bell"`, ""},
	{"24/7; PH off", ""},
	{"24/7; Dec 25 off", ""},
	{"24/7; Mo 02:00-04:00", ""},
	{"Mo 09:00-17:00", ""},
	{"mo 9:00-17:00", "Mo 09:00-17:00"},
	{"MO 09:00-17:00", "Mo 09:00-17:00"},
	{"Mo-Fr 09:00-17:00", ""},
	{"Mo-Fr 09:00–17:00", "Mo-Fr 09:00-17:00"},
	{"Mo - Fr 09:00 - 17:00", "Mo-Fr 09:00-17:00"},
	{"Mo,Tu,We 09:00-17:00", "Mo-We 09:00-17:00"},
	{"Mo,Tu 09:00-17:00", ""},
	{"Mo-Tu 09:00-17:00", "Mo,Tu 09:00-17:00"},
	{"We,Mo 09:00-17:00", "Mo,We 09:00-17:00"},
	{"Mo,We,Fr 09:00-17:00", ""},
	{"Mo-We,Fr 09:00-17:00", ""},
	{"Fr-Mo 09:00-17:00", ""},
	{"Sa-Mo 09:00-17:00", ""},
	{"Su-Mo 09:00-17:00", "Su,Mo 09:00-17:00"},
	{"Su-Sa 09:00-17:00", "Mo-Su 09:00-17:00"},
	{"We-Tu 09:00-17:00", "Mo-Su 09:00-17:00"},
	{"Th-Tu 09:00-17:00", ""},
	{"Mo-Mo 09:00-17:00", "Mo 09:00-17:00"},
	{"09:00-17:00", "Mo-Su 09:00-17:00"},
	{"Mo-Su 09:00-17:00", ""},
	{"Mo-Su,PH 09:00-17:00", "Mo-Su 09:00-17:00"},
	{"Mo-Fr 09:00-12:00,13:00-18:00", ""},
	{"Mo-Fr 13:00-18:00,09:00-12:00", "Mo-Fr 09:00-12:00,13:00-18:00"},
	{"Mo-Fr 09:00-12:00, 13:00-18:00", "Mo-Fr 09:00-12:00,13:00-18:00"},
	{"Mo 06:00-08:00,12:00-14:00,18:00-22:00", ""},
	{"Mo 09:00-12:00,12:00-18:00", "Mo 09:00-18:00"},
	{"Mo 09:00-13:00,12:00-18:00", "Mo 09:00-18:00"},
	{"Mo 09:00-18:00,10:00-11:00", "Mo 09:00-18:00"},
	{"Tu-Fr 09:00-12:00,13:00-18:00; Th 09:00-12:00,13:00-20:00; Sa 09:00-16:00", ""},
	{"Mo-Fr 22:00-02:00", ""},
	{"Mo-Fr 22:00-26:00", "Mo-Fr 22:00-02:00"},
	{"Sa 20:00-04:00", ""},
	{"Sa 00:00-48:00", ""},
	{"Sa 10:00-34:00", ""},
	{"Sa 10:00-36:00", ""},
	{"Sa 23:59-24:00", ""},
	{"Sa 23:59-00:00", "Sa 23:59-24:00"},
	{"Sa 18:00-00:00", "Sa 18:00-24:00"},
	{"Sa 00:00-00:01", ""},
	{"Fr 20:00-02:00,09:00-12:00", "Fr 09:00-12:00,20:00-02:00"},
	{"Fr 20:00-24:00,23:00-25:00", "Fr 20:00-01:00"},
	{"Mo off", ""},
	{"Mo closed", "Mo off"},
	{"Mo OFF", "Mo off"},
	{"off", ""},
	{"closed", "off"},
	{"Mo-Su off", "off"},
	{`off "for repairs"`, ""},
	{"Mo-Fr 09:00-17:00; We off", ""},
	{"Mo-Fr 09:00-17:00; Sa,Su off", ""},
	{"Mo-Fr 09:00-17:00; Sa-Su closed", "Mo-Fr 09:00-17:00; Sa,Su off"},
	{
		"PH off",
		"",
	},
	{"ph off", "PH off"},
	{"PH 10:00-14:00", ""},
	{"Mo-Fr 09:00-17:00; PH off", ""},
	{"Mo-Fr,PH 09:00-17:00", ""},
	{"PH,Mo-Fr 09:00-17:00", "Mo-Fr,PH 09:00-17:00"},
	{"Su,PH off", ""},
	{"PH,Su off", "Su,PH off"},
	{"PH closed", "PH off"},
	{`PH off "except by call"`, ""},
	{"Dec PH off", ""},
	{"Jan off", ""},
	{"Jan-Mar off", ""},
	{"Nov-Feb 10:00-16:00", ""},
	{"jan-mar off", "Jan-Mar off"},
	{"Jan,Mar,Dec off", ""},
	{"Jan-Mar,Dec off", ""},
	{
		"Jun-Aug Mo-Fr 08:00-20:00",
		"",
	},
	{"Jun-Aug Mo-Su 08:00-20:00", "Jun-Aug 08:00-20:00"},
	{"Jun: Mo 08:00-20:00", "Jun Mo 08:00-20:00"},
	{"Jun: 08:00-20:00", "Jun 08:00-20:00"},
	{
		"Dec 25 off",
		"",
	},
	{"Dec 25: off", "Dec 25 off"},
	{"dec 5 off", "Dec 05 off"},
	{"Dec 24-26 off", ""},
	{"Dec 24-Jan 02 off", ""},
	{"Dec 24-Jan 2 off", "Dec 24-Jan 02 off"},
	{
		"Dec 24,26 off",
		"Dec 24,Dec 26 off",
	},
	{"Dec 24,Dec 26 off", ""},
	{"Dec 24-26,31 off", "Dec 24-26,Dec 31 off"},
	{"Jan 01,Dec 25 off", ""},
	{"Dec 24 10:00-14:00", ""},
	{"Feb 29 off", ""},
	{"Dec 24-24 off", "Dec 24 off"},
	{"Dec-Dec off", "Dec off"},
	{"Dec 24-Dec 26 off", "Dec 24-26 off"},
	{"Apr 30-May 01 off", ""},
	{"2026 Dec 24 off", ""},
	{"2026 Dec 24-26 off", ""},
	{"2026 Dec 24-2027 Jan 02 off", ""},
	{"2026 Dec 24-Jan 02 off", "2026 Dec 24-2027 Jan 02 off"},
	{
		"2026 Nov 26 off",
		"",
	},
	{"2026 Nov 27 10:00-16:00", ""},
	{"2026 Nov off", ""},
	{"2026 Nov-Dec off", ""},
	{"2026 Nov-2027 Feb off", ""},
	{"2026 Nov-Feb off", "2026 Nov-2027 Feb off"},
	{
		"2026 Nov 26,2026 Dec 25 off",
		"",
	},
	{"2026 Nov 26,27 off", "2026 Nov 26,2026 Nov 27 off"},
	{"2028 Feb 29 off", ""},
	{"2026 Dec 24-2026 Dec 26 off", "2026 Dec 24-26 off"},
	{"2026 Aug-Sep Sa 10:00-12:00", ""},
	{"2026 Dec 31 20:00-02:00", ""},
	{"2026 Jan 01-2027 Dec 31 Mo 10:00-12:00", ""},
	{"2026 Nov 20-Dec 05 off", ""},
	{
		`"by appointment"`,
		"",
	},
	{`Su "by appointment"`, ""},
	{`Mo-Fr 09:00-17:00 "ring twice"`, ""},
	{`Mo-Fr 09:00-17:00; Sa "by appointment"`, ""},
	{`Dec "ask us"`, ""},
	{`Mo "a;b,c - 24/7 || +"`, ""},
	{`Mo 09:00-10:00 "Zürich – 東京"`, ""},
	{`Mo 09:00-10:00 " padded "`, `Mo 09:00-10:00 "padded"`},
	{
		"Mo",
		"Mo 00:00-24:00",
	},
	{"Mo-Fr", "Mo-Fr 00:00-24:00"},
	{"Mo open", "Mo 00:00-24:00"},
	{"Jun-Aug", "Jun-Aug 00:00-24:00"},
	{"Dec 24 open", "Dec 24 00:00-24:00"},
	{"Sa,Su; Mo 09:00-10:00", "Sa,Su 00:00-24:00; Mo 09:00-10:00"},
	{"Mo-Fr 08:00-12:00, We 14:00-18:00", ""},
	{"Mo-Fr 08:00-12:00, We 14:00-18:00, Fr 14:00-16:00", ""},
	{"Mo-Fr 08:00-12:00, Mo-Su 20:00-22:00", ""},
	{"Mo 08:00-12:00, Dec 24 14:00-18:00", ""},
	{`Mo 08:00-12:00 "front door", Mo 14:00-18:00 "back door"`, ""},
	{"Mo 08:00-12:00, PH 14:00-18:00; Tu off", ""},
	{"Mo 08:00-12:00, Tu 00:00-24:00", ""},
	{"Mo 08:00-12:00, Jun-Aug Mo-Su 09:00-10:00", "Mo 08:00-12:00, Jun-Aug 09:00-10:00"},
	{"Mo-Fr 09:00-17:00;", "Mo-Fr 09:00-17:00"},
	{"Mo-Fr 09:00-17:00;Sa 10:00-14:00", "Mo-Fr 09:00-17:00; Sa 10:00-14:00"},
	{"Mo-Fr: 09:00-17:00", "Mo-Fr 09:00-17:00"},
	{"Mo-Th 11:00-23:00; Fr,Sa 11:00-01:00; Su 12:00-22:00", ""},
	{
		"Mo-Fr 07:30-19:00; Sa 08:15-13:45; Su,PH off",
		"",
	},
	{"May-Sep Mo-Su 10:00-18:00; Oct-Apr Sa,Su 10:00-16:00", "May-Sep 10:00-18:00; Oct-Apr Sa,Su 10:00-16:00"},
	{"Mo-Fr 09:00-17:00; 2026 Nov 26 off; 2026 Dec 24-26 off", ""},
	{"Mo-Sa 09:00-18:00; PH off; Dec 24 09:00-13:00; 2026 Nov 27 10:00-16:00", ""},
	{"Dec Mo-Sa 09:00-20:00; Dec 24 09:00-14:00; Dec 25,Dec 26 off", "Dec Mo-Sa 09:00-20:00; Dec 24 09:00-14:00; Dec 25,Dec 26 off"},
	{"Tu,Th 09:00-12:00,14:00-18:30; Sa 09:00-12:00", ""},
	{"Mo-Sa 00:00-24:00; Su 08:00-20:00", ""},
	{"Mo 00:00-24:00; Tu-Su 06:00-22:00", ""},
	{
		"Fr 18:00-03:00; Sa 18:00-03:00",
		"",
	},
	{"Fr,Sa 18:00-03:00; Su 12:00-20:00; PH 12:00-22:00", ""},
	{"Mar-Oct Th-Tu 11:00-17:00; Nov-Feb Sa,Su 11:00-15:00; Dec 24-Jan 06 off", ""},
	{"Mo-Fr 06:00-09:00,11:30-14:00,17:00-23:30; Sa 17:00-00:30", ""},
	{`Mo-Fr 09:00-17:00; Sa 09:00-12:00 "counter only"; Su off "machines run"`, ""},
	{"2027 Jan-Mar Mo,We 09:00-12:00; 2027 Apr 01-15 off", ""},
	{"Mo,Su 10:00-12:00", "Su,Mo 10:00-12:00"},
	{"Mo,Sa,Su 10:00-12:00", "Sa-Mo 10:00-12:00"},
	{
		"Mo,Tu,Su 10:00-12:00",
		"Su-Tu 10:00-12:00",
	},
	{"Tu-Su 10:00-12:00", ""},
	{"Mo,We-Su 10:00-12:00", "We-Mo 10:00-12:00"},
	{"Th 10:00-12:00; Th 14:00-16:00", ""},
	{"\tMo\n09:00-17:00", "Mo 09:00-17:00"},
	{"Mo 9:05-9:10", "Mo 09:05-09:10"},
	{"2999 Dec 31 off", ""},
	{"1900 Jan 01 off", ""},
}

func TestReadPrintsAndReadsBack(t *testing.T) {
	if len(read) < 150 {
		t.Fatalf("the table holds %d texts; at least 150 are wanted", len(read))
	}
	for _, row := range read {
		want := row[1]
		if want == "" {
			want = row[0]
		}
		first, _, err := Parse(row[0])
		if err != nil {
			t.Errorf("%q: %v", row[0], err)
			continue
		}
		if got := first.String(); got != want {
			t.Errorf("%q prints as %q, want %q", row[0], got, want)
			continue
		}
		again, _, err := Parse(want)
		if err != nil || !reflect.DeepEqual(first, again) {
			t.Errorf("%q reads back as another schedule: %+v, then %+v (%v)", want, first, again, err)
		}
	}
}

func TestRefusedAtItsColumn(t *testing.T) {
	for _, c := range []struct {
		text   string
		column int
		says   string
	}{
		{"", 1, "nothing is said"}, {"   ", 4, "nothing is said"}, {";", 1, "nothing before this semicolon"}, {"Mo 09:00-17:00;;", 16, "nothing before"},
		{"Mo-Fr 09:00-17:00 || \"by call\"", 19, "fallback"}, {"|| Mo", 1, "fallback"},
		{"SH off", 1, "school holidays"}, {"Mo-Fr 09:00-17:00; SH off", 20, "school holidays"}, {"Mo,SH 10:00-12:00", 4, "school holidays"},
		{"easter off", 1, "easter"}, {"week 1-10 Mo 10:00-12:00", 1, "week numbers"}, {"Mo sunrise-sunset", 4, "sunrise"}, {"Mo 08:00-sunset", 10, "sunset"},
		{"Mo dawn-dusk", 4, "dawn"}, {"Mo (sunrise+01:00)-12:00", 4, "reckoned"}, {"Mo 08:00-(sunset)", 10, "reckoned"}, {"Mo unknown", 4, "unknown"},
		{"Mo 08:00+", 9, "open end"}, {"Mo 08:00-12:00+", 15, "open end"}, {"Mo[1] 10:00-12:00", 3, "n-th weekday"}, {"Mo-Fr[-1] 10:00-12:00", 6, "n-th weekday"},
		{"Mo 10:00-16:00/01:30", 15, "repeat"}, {"PH -1 day off", 4, "counted from a public holiday"}, {"Mo 25:00-26:00", 4, "starts before 24:00"},
		{"Mo 24:00-25:00", 4, "starts before 24:00"}, {"Mo 09:00-49:00", 10, "48:00"}, {"Mo 09:60-10:00", 4, "minutes 00 to 59"}, {"Mo 09:00-09:00", 10, "ends when it starts"},
		{"Mo 09-17", 4, "hours and minutes"}, {"Mo 9-5", 4, "hours and minutes"}, {"Mo 09:00-17", 10, "hours and minutes"}, {"Mo 09:00", 9, "closing time"}, {"Mo 09:00-", 10, "closing time"},
		{"Mo 09:00-17:00 18:00-19:00", 16, "not expected"}, {"Mo 09:00-17:00,", 15, "not expected"}, {"Mo 09:00-17:00, off", 17, "cannot be off"}, {"Mo 09:00-17:00, We off", 20, "cannot be off"},
		{"Mo 09:00-17:00, 24/7", 17, "24/7"}, {"Mo 09:00-17:00, We \"x\"", 20, "stands alone"}, {"Mon 09:00-17:00", 1, "write Mo"}, {"Mo-Friday 09:00-17:00", 4, "weekday is wanted"},
		{"Foo 09:00-17:00", 1, "\"Foo\""}, {"Mo 09:00-17:00 \"open", 16, "closing quote"}, {"Mo \"\"", 4, "empty"}, {"Feb 30 off", 5, "29 days"}, {"2026 Feb 29 off", 10, "28 days"},
		{"Apr 31 off", 5, "30 days"}, {"Dec 0 off", 5, "no day"}, {"Dec 123 off", 5, "no day"}, {"Dec 26-24 off", 8, "comes before"}, {"Dec 24-Jan off", 8, "day to a day"},
		{"Dec-Jan 02 off", 5, "day to a day"}, {"Dec 24-2027 Jan 02 off", 1, "starts in none"}, {"2027 Jan 02-2026 Dec 24 off", 13, "ends before"}, {"2026 Mo 10:00-12:00", 6, "month is wanted"},
		{"2026 off", 6, "month is wanted"}, {"1800 Dec 24 off", 1, "out of range"}, {"Dec 24,PH off", 8, "one list"}, {"Dec 24,Mo off", 8, "one list"}, {"Dec 24-Foo 3 off", 8, "month is wanted"},
		{"Mo 2026 Dec 24 off", 4, "year stands before"}, {"Mo @ 10:00", 4, "\"@\""}, {"Mo-", 4, "weekday is wanted"}, {"Mo,,Tu 10:00-12:00", 4, "not expected"}, {"24/7 10:00-12:00", 6, "not expected"},
		{"Ä 09:00-17:00", 1, "\"Ä\""}, {"Mo \"ä\" x", 8, "\"x\""}, {strings.Repeat("Mo 09:00-10:00; ", 80), 1021, "longer"},
	} {
		_, _, err := Parse(c.text)
		var errs Errors
		if !errors.As(err, &errs) {
			t.Errorf("%q is read; want a refusal that says %q", c.text, c.says)
			continue
		}
		if errs[0].Column != c.column || !strings.Contains(errs[0].Message, c.says) {
			t.Errorf("%q: %v, want column %d and %q", c.text, errs[0], c.column, c.says)
		}
	}
}

func TestEveryRuleIsReported(t *testing.T) {
	_, _, err := Parse("Mo 09:00-17:00; Tu 9-5; We 10:00-12:00; SH off")
	var errs Errors
	if !errors.As(err, &errs) || len(errs) != 2 || errs[0].Column != 20 || errs[1].Column != 41 {
		t.Fatalf("got %v, want one mistake at column 20 and one at 41", err)
	}
}

func TestOverlapIsJoinedWithAWarning(t *testing.T) {
	_, warnings, err := Parse("Mo 09:00-13:00,12:00-18:00; Tu 09:00-12:00,12:00-13:00")
	if err != nil || len(warnings) != 1 || warnings[0].Column != 16 {
		t.Fatalf("got %v and %v, want one warning at column 16: sittings that touch need none", warnings, err)
	}
}

// randomWeek makes a usual week with up to three sittings a day.
func randomWeek(r *rand.Rand) (w Week) {
	for d := range w {
		for range r.IntN(4) {
			start := r.IntN(DayMinutes/15) * 15
			w[d] = append(w[d], Sitting{start, min(start+15+r.IntN(60)*15, 2*DayMinutes)})
		}
		if w[d] = join(w[d]); len(w[d]) == 0 {
			w[d] = nil
		}
	}
	return w
}

func TestAWeekPrintedIsTheSameWeekRead(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	dated, _, err := Parse(`Mo-Fr 01:00-02:00; Tu,PH 03:00-04:00; Jun-Aug Mo 10:00-12:00; 2026 Nov 26 off; Dec 25 off`)
	if err != nil {
		t.Fatal(err)
	}
	for range 3000 {
		w := randomWeek(r)
		s := dated.WithWeek(w)
		if !reflect.DeepEqual(s.Week(), w) {
			t.Fatalf("drawn %v, but %q is the week %v", w, s, s.Week())
		}
		again, _, err := Parse(s.String())
		if err != nil || !reflect.DeepEqual(again, s) {
			t.Fatalf("%q reads back as %q (%v)", s, again, err)
		}
		thanksgiving := calendar.Date{Year: 2026, Month: time.November, Day: 26}
		if len(s.On(thanksgiving, calendar.HolidaysOf("US", "WA"))) != 0 {
			t.Fatalf("%q forgot the special date", s)
		}
	}
}

func TestDrawingKeepsWhatIsSaidOfDays(t *testing.T) {
	s, _, err := Parse(`Mo-Fr 09:00-17:00 "ring twice"; Sa,Su "by appointment"`)
	if err != nil {
		t.Fatal(err)
	}
	w := s.Week()
	w[5] = []Sitting{{600, 720}}
	want := `Mo-Fr 09:00-17:00 "ring twice"; Sa 10:00-12:00; Su "by appointment"`
	if got := s.WithWeek(w).String(); got != want {
		t.Errorf("got %s, want %s", got, want)
	}
}

func FuzzParse(f *testing.F) {
	for _, row := range read {
		f.Add(row[0])
	}
	f.Fuzz(func(t *testing.T, text string) {
		s, warnings, err := Parse(text)
		for _, w := range warnings {
			if w.Column < 1 || w.Column > len([]rune(text))+1 {
				t.Fatalf("%q: warning at column %d", text, w.Column)
			}
		}
		if err != nil {
			for _, e := range err.(Errors) {
				if e.Column < 1 || e.Column > len([]rune(text))+1 || e.Message == "" {
					t.Fatalf("%q: %v", text, e)
				}
			}
			return
		}
		again, _, err := Parse(s.String())
		if err != nil || !reflect.DeepEqual(s, again) {
			t.Fatalf("%q prints as %q, which reads as %q (%v)", text, s, again, err)
		}
		for d := range 14 {
			for _, sit := range s.On(calendar.Date{Year: 2026, Month: time.December, Day: 20 + d}.Add(0), calendar.HolidaysOf("US", "WA")) {
				if sit.Start < 0 || sit.Start >= DayMinutes || sit.End <= sit.Start || sit.End > 2*DayMinutes {
					t.Fatalf("%q has the sitting %v", text, sit)
				}
			}
		}
	})
}

// Columns are counted in characters, whatever their size, also of a text that is
// no UTF-8.
func TestColumnsCountCharacters(t *testing.T) {
	for text, column := range map[string]int{
		`Mo "früh und spät" x`: 20, "Mo – Fr 9": 9, "Mo-Fr 09:00–17:00 ü": 19, "ÄÖÜ": 1, "Mo \u00a0 x": 6, "24/7 \xff": 6, "\xff\xfe Mo": 1, `"offen`: 1, "Mo || Tu": 4,
	} {
		_, _, err := Parse(text)
		errs, ok := err.(Errors)
		if !ok || errs[0].Column != column {
			t.Errorf("%q: %v, want column %d", text, err, column)
		}
	}
	long := strings.Repeat("ü", maxLength)
	if _, _, err := Parse(long); err == nil || strings.Contains(err.Error(), "longer than") {
		t.Errorf("%d characters are too long: %v", maxLength, err)
	}
	if _, _, err := Parse(long + "ü"); err == nil || !strings.Contains(err.Error(), "longer than") {
		t.Errorf("%d characters are not too long: %v", maxLength+1, err)
	}
}
