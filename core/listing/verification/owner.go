package verification

import (
	"slices"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
	"uvent/core/fact/language"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// OwnerTask is the one thing that an owner is asked to do.
type OwnerTask string

const (
	TypeCode  OwnerTask = "code"  // type a code that has come, or will
	SendPaper OwnerTask = "paper" // send a paper
	TakeCall  OwnerTask = "call"  // say when a call can be taken, and type the code that it tells
	FilmIt    OwnerTask = "video" // film the place
	PayByCard OwnerTask = "card"  // confirm that a card of theirs is charged
)

// OwnerWords is a task in plain words, for somebody who has never heard of listings.
type OwnerWords struct {
	Title string // what to do
	Why   string // who asks, and what for
	What  string // what will come, when, and from where
	How   string // what to do, step by step
	Until string // until when
}

// Owner is a task with what it is about, and the language that it is told in.
type Owner struct {
	Task    OwnerTask
	Book    rulebook.Rulebook
	Record  record.Record
	Attempt *Attempt // whose code it is; nil: none has been asked for yet
	Papers  []string // kinds of which one will do
	From    string   // who asks
	CallAt  *time.Time
	Expires time.Time
	Now     time.Time
	In      language.Language
}

// PapersTaken are the kinds of paper that a directory takes for a listing as it stands: with an appeal, for access, or as its
// proof; nil: none is of use.
func (s *State) PapersTaken(book rulebook.Rulebook) []string {
	switch {
	case s.OpenCase(CaseSuspended) != nil:
		return book.Appeal.Papers
	case s.Control == HeldByAnother:
		return book.Access.Papers
	case s.VerifiedAt != nil:
		return nil
	}
	m, _ := book.Way(rulebook.Papers)
	return m.Papers
}

// Words writes the task.
func (o Owner) Words() OwnerWords {
	on, zone, in := o.Book.Name, ZoneOf(o.Record, o.Book), o.In
	w := OwnerWords{
		Why:   in.Say("why", "from", o.From, "name", o.Record.Name, "town", o.Record.Address.Locality, "directory", on),
		Until: in.Say("until", "day", in.Day(calendar.DateOf(o.Expires.In(zone)))),
	}
	say := func(key string, what ...any) {
		w.Title, w.What, w.How = in.Say(key+".title"), in.Say(key+".what", append(what, "directory", on)...), in.Say(key+".how")
	}
	switch {
	case o.Task == SendPaper:
		kinds := make([]string, len(o.Papers))
		for i, k := range o.Papers {
			kinds[i] = in.Say("kind." + k)
		}
		say("paper", "kinds", strings.Join(kinds, ", "), "name", nameOnPaper(o.Record, in), "address", o.Record.Address.Line())
	case o.Task == FilmIt:
		m, _ := o.Book.Way(rulebook.Video)
		say("video", "seconds", m.Film.MostSeconds)
	case o.Task == PayByCard:
		m, _ := o.Book.Way(rulebook.Card)
		say("card", "amount", m.Charge.Words())
		if m.Charge.PaidBack {
			w.What += " " + in.Say("card.back")
		}
	case o.Task == TakeCall && (o.Attempt == nil || !o.Attempt.Live()):
		say("call", "phone", contact.National(phoneOf(o.Record)))
		switch {
		case o.CallAt != nil && o.Attempt == nil:
			w.Title = in.Say("call.chosen.title")
			w.How = in.Say("call.chosen.how", "moment", in.Moment(*o.CallAt, o.Now, zone))
		case o.Attempt != nil:
			w.Title, w.How = in.Say("call.missed.title"), in.Say("call.missed.how")
		}
	default:
		w.Title, w.What = in.Say("code.title"), codeComes(o, zone)
		w.How = in.Say("code.how", "digits", o.Attempt.Digits, "directory", on)
		w.Until = in.Say("until.code", "day", in.Day(calendar.DateOf(o.Attempt.Expires.In(zone))))
		if m, ok := o.Book.Way(o.Attempt.Method); ok && m.Code.WorksFrom == rulebook.FromArrival {
			w.Until = in.Say("until.minutes", "long", span(m.Code.Works(), in))
		}
	}
	return w
}

// span writes how long a code works.
func span(d time.Duration, in language.Language) string {
	switch {
	case d >= 48*time.Hour:
		return in.Say("days", "count", int(d/(24*time.Hour)))
	case d >= 2*time.Hour:
		return in.Say("hours", "count", int(d/time.Hour))
	}
	return in.Say("minutes", "count", int(d/time.Minute))
}

// Heading names the task among those of other places: “Minnow Bay: the code on the card”.
func (o Owner) Heading() string {
	key := "thing." + string(o.Task)
	if o.Attempt != nil && o.Attempt.Digits > 0 && o.Attempt.Method != rulebook.Postcard {
		key = "thing.code." + string(o.Attempt.Method)
	}
	return o.In.Say(key, "place", o.Record.Label)
}

func codeComes(o Owner, zone *time.Location) string {
	a, in := o.Attempt, o.In
	with := []any{"directory", o.Book.Name, "to", a.To, "when", in.When(a.AskedAt, o.Now, zone), "moment", in.Moment(a.AskedAt, o.Now, zone)}
	says := in.Say("code."+string(a.Method), with...)
	switch {
	case a.Method != rulebook.Postcard || a.Window == nil:
	case a.ArrivedAt != nil:
		says += " " + in.Say("code.came", "when", in.When(*a.ArrivedAt, o.Now, zone))
	default:
		key := "code.due"
		if calendar.DateOf(o.Now.In(zone)).Compare(a.Window.Latest) > 0 {
			key = "code.late"
		}
		says += " " + in.Say(key, "earliest", in.Day(a.Window.Earliest), "latest", in.Day(a.Window.Latest))
	}
	return says
}

func nameOnPaper(r record.Record, in language.Language) string {
	if r.LegalName != "" && r.LegalName != r.Name {
		return in.Say("name.or", "name", r.Name, "legal", r.LegalName)
	}
	return in.Say("name.alone", "name", r.Name)
}

// Ended says to an owner how it came that a page for a code, a call, a paper or a video has nothing to do any more, and what
// they may do with a card.
func (o Owner) Ended(s *State) string {
	in, a := o.In, o.Attempt
	says := o.ended(s)
	switch {
	case says != "" && a.Method == rulebook.Postcard && a.State != AttemptUsedUp:
		return says + " " + in.Say("ended.card")
	case says != "":
		return says
	case s.VerifiedAt != nil:
		return in.Say("ended.verified")
	}
	return in.Say("ended.expired", "from", o.From)
}

// ended says how the attempt whose code was to be typed came to nothing; empty where that is not why.
func (o Owner) ended(s *State) string {
	zone, in, a := ZoneOf(o.Record, o.Book), o.In, o.Attempt
	if a == nil || a.UnderWay() {
		return ""
	}
	day := func(t time.Time) string { return in.Day(calendar.DateIn(t, zone)) }
	switch {
	case a.State == AttemptLapsed && s.VerifiedAt == nil:
		return in.Say("ended.lapsed", "day", day(a.Expires), "from", o.From)
	case a.State == AttemptUsedUp && s.VerifiedAt == nil:
		return in.Say("ended.used_up", "from", o.From)
	case a.State == AttemptReplaced && a.EndedAt != nil && s.VerifiedAt == nil:
		return in.Say("ended.replaced", "day", day(*a.EndedAt))
	case a.State == AttemptNeedless && a.EndedAt != nil:
		return in.Say("ended.needless", "day", day(*a.EndedAt))
	}
	return ""
}

func phoneOf(r record.Record) string {
	p, _ := r.PhoneFor(func(p record.Phone) bool { return p.Voice })
	return p.E164
}

// Call times are offered for some days, each on a half hour with ten minutes of opening
// left, and not before somebody could have read the page.
const (
	callDays    = 5
	callMinutes = 10
	callNotice  = 20 * time.Minute
	bookNotice  = 20 * time.Hour   // before a call that we choose the time of
	betweenCall = 30 * time.Minute // so that one person can take them
)

// CallTimes are when an owner can choose to be called: while the shop is open.
func CallTimes(r record.Record, now time.Time) (out []time.Time) {
	zone, known := r.Location()
	s, _, err := hours.Parse(r.Hours)
	if !known || err != nil || r.Hours == "" {
		return nil
	}
	holidays := calendar.HolidaysOf(r.Address.Country, r.Address.Region)
	local := s.In(zone, holidays)
	at := now.Add(callNotice).In(zone)
	at = at.Truncate(30 * time.Minute).Add(30 * time.Minute)
	for ; at.Before(now.AddDate(0, 0, callDays)); at = at.Add(30 * time.Minute) {
		if h := at.Hour(); h < 7 || h >= 21 {
			continue // nobody wants to be called at night
		}
		if day := calendar.DateOf(at); holidays.On(day) && !s.Said(day, true) {
			continue // nor on a holiday of which nobody has said that the shop is open
		}
		if from, to, ok := local.Stretch(at, callMinutes); ok && !from.After(at) && to.Sub(at) >= callMinutes*time.Minute {
			out = append(out, at)
		}
	}
	return out
}

// BookTime is the first time at which an owner who is told now can be called, half an hour off all other calls; false where
// the coming days have none.
func BookTime(r record.Record, now time.Time, others []time.Time) (time.Time, bool) {
	for _, at := range CallTimes(r, now) {
		near := slices.ContainsFunc(others, func(o time.Time) bool { return at.Sub(o).Abs() < betweenCall })
		if !near && at.Sub(now) >= bookNotice {
			return at, true
		}
	}
	return time.Time{}, false
}

// CallTime reports whether a time is one of those that are offered.
func CallTime(r record.Record, at, now time.Time) bool {
	return slices.ContainsFunc(CallTimes(r, now), func(t time.Time) bool { return t.Equal(at) })
}

// RingTime is when somebody at the location is best rung: the first half hour at which it has been open for an hour already, or
// else the first at which it is open. False where the record does not say when that is.
func RingTime(r record.Record, now time.Time) (best time.Time, known bool) {
	times := CallTimes(r, now)
	if len(times) == 0 {
		return best, false
	}
	for i, at := range times {
		if i >= 2 && at.Sub(times[i-2]) == time.Hour {
			return at, true
		}
	}
	return times[0], true
}
