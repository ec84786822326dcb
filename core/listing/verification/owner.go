package verification

import (
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/contact"
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
