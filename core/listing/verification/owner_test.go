package verification

import (
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

func TestOwnerWords(t *testing.T) {
	book := fernlook(t)
	shop := record.Record{
		Name:      "Spokeshave",
		LegalName: "Spokeshave LLC",
		Kind:      record.Premises,
		Address:   address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", Country: "US"},
		Phones:    []record.Phone{{E164: "+13605550142", Voice: true}},
		Hours:     "Tu-Fr 09:00-12:00",
	}
	at := func(m rulebook.MethodName) *Attempt {
		s := Start().After(book, Event{At: start, What: CodeAsked{Attempt: "a", Method: m, To: "there"}})
		s = s.After(book, Event{At: start, What: CodeSent{Attempt: "a", Terms: &Terms{Digits: 6, Tries: 3, Expires: start.AddDate(0, 0, 30)}}})
		return s.Attempt()
	}
	call := start.Add(time.Hour)
	for _, c := range []struct {
		name  string
		owner Owner
		says  []string
	}{
		{"postcard", Owner{Task: TypeCode, Attempt: at(rulebook.Postcard)}, []string{"Type the code", "between Thu 3 Dec and Fri 11 Dec", "please do not throw it away", "6 digits", "The code works until Thu 24 Dec."}},
		{"text", Owner{Task: TypeCode, Attempt: at(rulebook.Text)}, []string{"a text message with a code to there today at 09:12"}},
		{"email", Owner{Task: TypeCode, Attempt: at(rulebook.Email)}, []string{"among unwanted mail"}},
		{"call", Owner{Task: TakeCall}, []string{"Choose when you can take a call", "will call (360) 555-0142", "it is no advertising"}},
		{"call chosen", Owner{Task: TakeCall, CallAt: &call}, []string{"You will be called", "today at 10:12", "a pen"}},
		{"called", Owner{Task: TakeCall, Attempt: at(rulebook.Call)}, []string{"Type the code", "called there today and read out a code"}},
		{"paper", Owner{Task: SendPaper, Papers: []string{"registration", "licence", "utility_bill"}}, []string{"Send one paper", "“Spokeshave” or “Spokeshave LLC”", "18 Tern Street, Minnow Bay", "company registration, licence, utility bill"}},
	} {
		c.owner.Book, c.owner.Record, c.owner.From, c.owner.Now, c.owner.Expires = book, shop, "Ines Roake", start, start.AddDate(0, 0, 7)
		w := c.owner.Words()
		all := strings.Join([]string{w.Title, w.Why, w.What, w.How, w.Until}, "\n")
		for _, says := range append(c.says, "Ines Roake looks after how Spokeshave in Minnow Bay is shown on Fernlook.") {
			if !strings.Contains(all, says) {
				t.Errorf("%s: it does not say %q:\n%s", c.name, says, all)
			}
		}
	}
}

// Calls are offered only while the shop is open for long enough, and never at night.
func TestCallTimes(t *testing.T) {
	shop := record.Record{Address: address.Address{Region: "WA", Country: "US"}, Hours: "Tu-Fr 09:00-12:00,22:00-23:30; Sa 11:55-12:05"}
	times := CallTimes(shop, start) // Tuesday, 09:12; Thursday and Friday are holidays, of which the hours say nothing
	zone, _ := shop.Location()
	if len(times) != 4+6 {
		t.Errorf("%v", times)
	}
	open := shop
	open.Hours += "; 2026 Nov 27 09:00-12:00"
	if times := CallTimes(open, start); len(times) != 4+2*6 {
		t.Errorf("with the Friday said to be open: %v", times)
	}
	at, ok := BookTime(shop, start, nil)
	if local := at.In(zone); !ok || local.Day() != 25 || local.Hour() != 9 {
		t.Errorf("booked for %v", local)
	}
	if next, ok := BookTime(shop, start, []time.Time{at, at.Add(30 * time.Minute)}); !ok || next.Sub(at) != time.Hour {
		t.Errorf("beside others it is booked for %v", next.In(zone))
	}
	if _, ok := BookTime(shop, start, times); ok {
		t.Error("it is booked although every time is taken")
	}
	if got := GoodTimes(shop, start, nil); len(got) != 2 || !got[0].At.Equal(at) || got[1].At.In(zone).Day() != 25 || got[1].At.In(zone).Hour() != 10 {
		t.Errorf("of a shop that is open on one more day: %+v", got)
	}
	for _, others := range [][]time.Time{nil, {at}, times} {
		for i, g := range GoodTimes(open, start, others) {
			if !Bookable(open, g.At, start, others) || g.Why == "" || i > 0 && g.At.Equal(GoodTimes(open, start, others)[0].At) {
				t.Errorf("beside %v it is proposed for %v: %s", others, g.At.In(zone), g.Why)
			}
		}
	}
	if Bookable(shop, at.Add(time.Minute), start, nil) || Bookable(shop, at, start, []time.Time{at.Add(10 * time.Minute)}) ||
		Bookable(shop, at, at.Add(-time.Hour), nil) {
		t.Error("it can be booked off the half hour, beside another call, or an hour ahead")
	}
	for i, at := range times {
		local := at.In(zone)
		if h := local.Hour(); h < 9 || h > 11 || local.Sub(start) < callNotice || i > 0 && !times[i-1].Before(at) {
			t.Errorf("%v is offered", local)
		}
		if !CallTime(shop, at, start) || CallTime(shop, at.Add(time.Minute), start) {
			t.Errorf("%v is offered, and a minute later as well", local)
		}
	}
	shop.Hours = ""
	if CallTimes(shop, start) != nil {
		t.Error("times are offered where no hours are known")
	}
}
