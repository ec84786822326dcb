package verification

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
	"uvent/core/fact/language"
	"uvent/core/record/paper"
	"uvent/core/record/record"
	"uvent/core/rule/film"
	"uvent/core/rule/rulebook"
)

// Way is a method of verification as it stands for a listing now.
type Way struct {
	Method rulebook.MethodName
	Title  string
	Open   bool
	Says   string           // open: what will happen and when; shut: why
	To     string           // where the code goes, as people write it
	Target string           // the same for the connector: an E.164 number or an email; empty for post
	Window *calendar.Window // when the code comes; none when at once
	There  bool             // it is gone on the directory's own pages; how it went is told

	Chance float64 // that one try comes to something, 0 to 1
	Days   float64 // until it has, on the average: days of a try, over the chance
	Why    string  // how these were reckoned

	Paper  string   // the id of the paper that would be sent
	Doubts []string // what they are likely to mind in it, in sentences

	Charge string // what a card is charged; empty: nothing is paid

	Guard *Guard // of an open way: what it would do to the attempt that is under way; nil: nothing is
}

// Paper is one that proves something, and what speaks against it.
type Paper struct {
	ID, Kind string
	Doubts   []string
	Film     film.Shown // of a video
}

// Question is a listing of which it is asked how it can be verified.
type Question struct {
	Book    rulebook.Rulebook
	Record  record.Record
	State   State
	Now     time.Time
	Offered map[rulebook.MethodName]string // why the directory does not offer a method today, by method; nil: it has not been asked
	Papers  []Paper                        // that there are, the newest last
	Past    map[rulebook.MethodName]Past   // our own tries on this directory
}

var titles = map[rulebook.MethodName]string{
	rulebook.Postcard: "Postcard", rulebook.Call: "Call to the shop phone", rulebook.Text: "Text message", rulebook.Email: "Email",
	rulebook.Papers: "Papers", rulebook.Video: "Video", rulebook.Card: "Card payment", rulebook.Instant: "At once", rulebook.StaffSay: "Their staff",
}

// Title names a method for people.
func Title(m rulebook.MethodName) string { return titles[m] }

// Ways lists the directory's methods for a location: open ones first, and of
// those first the one that is likely to have verified the listing soonest.
func Ways(q Question) []Way {
	var out []Way
	book, r, s, now := q.Book, q.Record, q.State, q.Now
	for _, m := range book.Methods {
		w := Way{Method: m.Method, Title: titles[m.Method]}
		w.fill(book, m, r, now, q.Papers)
		w.reckon(book, m, now, q.Past[m.Method])
		if w.Open && q.Offered != nil && !book.Worked.People() {
			if why, listed := q.Offered[m.Method]; !listed || why != "" {
				w.Open, w.Says = false, book.Name+" does not offer it today."
				if why != "" {
					w.Says = why
				}
			}
		}
		if why := s.notYet(m, book, r, now); w.Open && why != "" {
			w.Open, w.Says = false, why
		}
		if w.Open {
			w.Guard = guarded(book, r, s, w, now)
		}
		out = append(out, w)
	}
	slices.SortStableFunc(out, func(a, b Way) int {
		if a.Open != b.Open {
			if a.Open {
				return -1
			}
			return 1
		}
		return cmp.Compare(a.Days, b.Days)
	})
	return out
}

func (w *Way) fill(book rulebook.Rulebook, m rulebook.Method, r record.Record, now time.Time, papers []Paper) {
	if len(m.Kinds) > 0 && !slices.Contains(m.Kinds, r.Kind) {
		w.Says = fmt.Sprintf("Not for this kind of location: %s.", r.Kind.Words())
		return
	}
	switch m.Method {
	case rulebook.Postcard:
		w.postcard(book, m, r, now)
	case rulebook.Call:
		w.phone(m, r, now, func(p record.Phone) bool { return p.Voice }, "No phone in the record is answered.")
	case rulebook.Text:
		w.phone(m, r, now, func(p record.Phone) bool { return p.Text }, "No phone in the record takes text messages.")
	case rulebook.Email:
		w.email(m, r)
	default:
		w.review(book, m, now, papers)
	}
}

// review fills in a way that somebody there decides on.
func (w *Way) review(book rulebook.Rulebook, m rulebook.Method, now time.Time, papers []Paper) {
	if book.Worked.People() || m.Method == rulebook.Video && m.Film.MostSeconds == 0 {
		w.there(book, m, now)
		return
	}
	when := "At once."
	if !m.AtOnce() {
		window := book.Calendar.Place().Window(m.Window, now)
		w.Window, when = &window, fmt.Sprintf("Their answer comes by %s.", Day(window.Latest))
	}
	switch m.Method {
	case rulebook.Papers:
		best := Best(papers, m.Papers)
		if best == nil {
			names := make([]string, len(m.Papers))
			for i, kind := range m.Papers {
				names[i] = strings.ToLower(paper.Title(kind))
			}
			w.Says, w.Window = fmt.Sprintf("It takes one of these, and there is none yet: %s.", strings.Join(names, ", ")), nil
			return
		}
		w.Open, w.To, w.Paper, w.Doubts = true, "the "+strings.ToLower(paper.Title(best.Kind)), best.ID, best.Doubts
		w.Says = fmt.Sprintf("With %s. %s", w.To, when)
		if len(w.Doubts) > 0 {
			w.Says += " " + strings.Join(w.Doubts, " ")
		}
	case rulebook.Video:
		i := lastOf(papers, VideoKind)
		if i < 0 {
			w.Window, w.Says = nil, "There is no video yet. It has to be one take of up to "+fmt.Sprint(m.Film.MostSeconds)+" seconds that shows "+strings.Join(
				m.Film.Shown(),
				"; ",
			)+"."
			return
		}
		w.Open, w.To, w.Paper, w.Doubts = true, "the video", papers[i].ID, papers[i].Film.Doubts(m.Film, language.English)
		w.Says = strings.Join(append([]string{"With the video. " + when}, w.Doubts...), " ")
	case rulebook.Card:
		w.Open, w.To, w.Charge, w.Says = true, "a card", m.Charge.Words(), fmt.Sprintf("%s is charged to a card in the business’s name", m.Charge.Words())
		if m.Charge.PaidBack {
			w.Says += " and paid back"
		}
		w.Says += "; whoever pays confirms it. " + when
	case rulebook.StaffSay:
		w.Open, w.To, w.Says = true, "their staff", "Somebody there looks into it. "+when
	default:
		w.Open, w.To, w.Says = true, "the account", "For an account that they know. "+when
	}
	if m.Note != "" {
		w.Says += " " + m.Note
	}
}

// VideoKind is the kind of paper that a video is.
const VideoKind = "video"

// lastOf is the newest paper of a kind; -1 for none.
func lastOf(papers []Paper, kind string) int {
	for i := len(papers) - 1; i >= 0; i-- {
		if papers[i].Kind == kind {
			return i
		}
	}
	return -1
}

// Best is the paper of the kinds that are taken in which least is likely to be minded; of
// equals the one of the kind that stands first, and of those the newest. Nil for none.
func Best(papers []Paper, kinds []string) (best *Paper) {
	for _, kind := range kinds {
		var newest *Paper
		for i := range papers {
			if papers[i].Kind == kind && (newest == nil || len(papers[i].Doubts) <= len(newest.Doubts)) {
				newest = &papers[i]
			}
		}
		if newest != nil && (best == nil || len(newest.Doubts) < len(best.Doubts)) {
			best = newest
		}
	}
	return best
}

// there says of a way without a code that it is gone on the directory's own pages.
func (w *Way) there(book rulebook.Rulebook, m rulebook.Method, now time.Time) {
	w.There, w.Says = true, "On their own pages; say here how it went."
	if m.Note != "" {
		w.Says = m.Note + " " + w.Says
	}
	if !m.AtOnce() {
		window := book.Calendar.Place().Window(m.Window, now)
		w.Says = fmt.Sprintf("Their answer comes by %s. ", Day(window.Latest)) + w.Says
	}
}

func (w *Way) postcard(book rulebook.Rulebook, m rulebook.Method, r record.Record, now time.Time) {
	to, who := r.Post()
	if to.Street == "" {
		w.Says = "The record has no address to send it to."
		return
	}
	place := book.Calendar.Place()
	window := place.Window(m.Window, now)
	w.Open, w.Window, w.To = true, &window, to.Line()
	if who != "" {
		w.To = who + ", " + w.To
	}
	w.Says = fmt.Sprintf("To %s. There between %s and %s.", w.To, Day(window.Earliest), Day(window.Latest))
}

func (w *Way) phone(m rulebook.Method, r record.Record, now time.Time, can func(record.Phone) bool, none string) {
	p, ok := r.PhoneFor(can)
	if !ok {
		w.Says = none
		if len(r.Phones) == 0 {
			w.Says = "The record has no phone."
		}
		return
	}
	w.To, w.Target = contact.National(p.E164), p.E164
	if m.Needs.OpenMinutes > 0 {
		if why := notAnswered(r, now, m.Needs.OpenMinutes); why != "" {
			w.Says = why
			return
		}
	}
	w.Open, w.Says = true, fmt.Sprintf("To %s, at once.", w.To)
}

// notAnswered says why a call now would find nobody for long enough.
func notAnswered(r record.Record, now time.Time, minutes int) string {
	zone, known := r.Location()
	s, _, err := hours.Parse(r.Hours)
	if !known || err != nil {
		return "The call comes while the shop is open, and the record does not say when that is."
	}
	local := s.In(zone, calendar.HolidaysOf(r.Address.Country, r.Address.Region))
	from, to, found := local.Stretch(now, minutes)
	switch {
	case !found:
		return fmt.Sprintf("The call comes at once, and the shop is never open for %d minutes.", minutes)
	case from.After(now):
		return fmt.Sprintf(
			"The call comes at once, and nobody would pick up. Next open %s %s–%s.",
			When(from, now, zone),
			from.In(zone).Format("15:04"),
			Clock(to, zone),
		)
	}
	return ""
}

func (w *Way) email(m rulebook.Method, r record.Record) {
	switch {
	case r.Email == "":
		w.Says = "The record has no email."
	case m.Needs.EmailOnDomain && r.Website == "":
		w.Says = "The email must be on the website's domain, and the record has no website."
	case m.Needs.EmailOnDomain && !contact.SameDomain(r.Email, r.Website):
		w.Says = "The email is not on the website's domain."
	default:
		w.Open, w.To, w.Target, w.Says = true, r.Email, r.Email, fmt.Sprintf("To %s, within minutes.", r.Email)
	}
}

// notYet says why another code by this method cannot be asked for now.
func (s State) notYet(m rulebook.Method, book rulebook.Rulebook, r record.Record, now time.Time) string {
	count, last := 0, time.Time{}
	for _, a := range s.Attempts {
		if a.Method == m.Method && a.State != AttemptRefused {
			count, last = count+1, a.AskedAt
		}
	}
	zone := ZoneOf(r, book)
	after := last.Add(m.Again.After())
	switch {
	case count == 0:
		return ""
	case m.Again.Most > 0 && count >= m.Again.Most:
		return fmt.Sprintf("%s has sent %d this way and sends no more.", book.Name, count)
	case now.Before(after):
		return fmt.Sprintf("Asked already; again from %s, %s.", When(after, now, zone), Clock(after, zone))
	}
	return ""
}

// Day writes a date for people: "Thu 3 Dec".
func Day(d calendar.Date) string {
	return strings.TrimSpace(d.In(time.UTC).Format("Mon 2 Jan"))
}

// Clock writes the time of a moment in a zone, which it names: "17:00 PST".
func Clock(t time.Time, zone *time.Location) string { return t.In(zone).Format("15:04 MST") }

// ZoneOf is the zone in which moments of a listing are written: the location's
// own, or else the directory's.
func ZoneOf(r record.Record, book rulebook.Rulebook) *time.Location {
	if zone, known := r.Location(); known {
		return zone
	}
	return book.Calendar.Place().Zone
}

// When writes the day of a moment in a zone: "today", "tomorrow" or "Thu 3 Dec".
func When(t, now time.Time, zone *time.Location) string {
	day, today := calendar.DateOf(t.In(zone)), calendar.DateOf(now.In(zone))
	switch day.Number() - today.Number() {
	case 0:
		return "today"
	case 1:
		return "tomorrow"
	}
	return Day(day)
}

// BestWay is the first that is open and of which nothing is likely to be minded, or why
// there is none.
func BestWay(ways []Way) (Way, string) {
	why := "It offers no way to verify."
	for i, w := range ways {
		switch {
		case w.Open && len(w.Doubts) == 0:
			return w, ""
		case w.Open:
			return w, strings.Join(w.Doubts, " ")
		case i == 0:
			why = w.Says
		}
	}
	return Way{}, why
}

// BestUnattended is the best way that can be asked for with nobody there: nothing is paid, since a card is somebody's, and a
// call is one only where its owner can be told before. Where others are left out, why there is none tells of them.
func BestUnattended(ways []Way, told bool) (Way, string) {
	paid, called := false, false
	left := slices.DeleteFunc(slices.Clone(ways), func(w Way) bool {
		paid = paid || w.Open && w.Method == rulebook.Card
		called = called || w.Open && w.Method == rulebook.Call && !told
		return w.Method == rulebook.Card || w.Method == rulebook.Call && !told
	})
	best, why := BestWay(left)
	switch {
	case why == "" || best.Open:
	case called:
		why = "A call is booked with the owner, whose email is not known yet. Add it under the client, or ask for the call while somebody is there."
	case paid:
		why = "A card payment would do: whoever pays does it on the listing’s page."
	}
	return best, why
}
