package verification

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
	"uvent/core/record/paper"
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
)

// OwnerWords is a task in plain words, for somebody who has never heard of listings.
type OwnerWords struct {
	Title string // what to do
	Why   string // who asks, and what for
	What  string // what will come, when, and from where
	How   string // what to do, step by step
	Until string // until when
}

// Owner is a task with what it is about.
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
	on, zone := o.Book.Name, ZoneOf(o.Record, o.Book)
	w := OwnerWords{
		Why: fmt.Sprintf(
			"%s looks after how %s in %s is shown on %s. %s wants to know that it is really yours before it shows it.",
			o.From,
			o.Record.Name,
			o.Record.Address.Locality,
			on,
			on,
		),
		Until: fmt.Sprintf("This page works until %s.", Day(calendar.DateOf(o.Expires.In(zone)))),
	}
	switch {
	case o.Task == SendPaper:
		names := make([]string, len(o.Papers))
		for i, k := range o.Papers {
			names[i] = strings.ToLower(paper.Title(k))
		}
		w.Title = "Send one paper"
		w.What = fmt.Sprintf("One of these will do: %s. It must show %s and, except on a registration or a licence, %s. A bill must not be older than three months.",
			strings.Join(names, ", "), nameOnPaper(o.Record), o.Record.Address.Line())
		w.How = "Take a photo of the whole page, or choose a PDF."
	case o.Task == FilmIt:
		m, _ := o.Book.Way(rulebook.Video)
		w.Title = "Film the place in one take"
		w.What = fmt.Sprintf("%s wants to see that the business is really there: one video of up to %d seconds, without a pause.", on, m.Film.MostSeconds)
		w.How = "Read the list first, then film it in this order with your phone, and send it here."
	case o.Task == TakeCall && o.Attempt == nil:
		w.Title = "Choose when you can take a call"
		w.What = fmt.Sprintf("%s will call %s and read out a code. The voice is a machine’s; it is no advertising.", on, contact.National(phoneOf(o.Record)))
		w.How = "Choose a time at which somebody is at the phone with a pen. Then come back to this page with the code."
		if o.CallAt != nil {
			w.Title = "You will be called"
			w.How = fmt.Sprintf(
				"The call comes %s at %s. Have a pen at hand, write the code down, and type it here.",
				When(*o.CallAt, o.Now, zone),
				Clock(*o.CallAt, zone),
			)
		}
	default:
		w.Title, w.What = "Type the code", codeComes(o, zone)
		w.How = fmt.Sprintf("The code has %d digits. Type it below; it goes to %s at once.", o.Attempt.Digits, on)
		w.Until = fmt.Sprintf("The code works until %s.", Day(calendar.DateOf(o.Attempt.Expires.In(zone))))
		if m, ok := o.Book.Way(o.Attempt.Method); ok && m.Code.WorksFrom == rulebook.FromArrival {
			w.Until = fmt.Sprintf("The code works for %s.", m.Code.Words())
		}
	}
	return w
}

func codeComes(o Owner, zone *time.Location) string {
	a, on := o.Attempt, o.Book.Name
	switch a.Method {
	case rulebook.Postcard:
		s := fmt.Sprintf("A postcard from %s goes to %s.", on, a.To)
		if a.Window != nil {
			when := "It should be there"
			if calendar.DateOf(o.Now.In(zone)).Compare(a.Window.Latest) > 0 {
				when = "It should have come"
			}
			s += " " + when + fmt.Sprintf(" between %s and %s. It looks like advertising; please do not throw it away.", Day(a.Window.Earliest), Day(a.Window.Latest))
		}
		return s
	case rulebook.Call:
		return fmt.Sprintf("%s called %s %s and read out a code.", on, a.To, When(a.AskedAt, o.Now, zone))
	case rulebook.Text:
		return fmt.Sprintf("%s sent a text message with a code to %s %s at %s.", on, a.To, When(a.AskedAt, o.Now, zone), Clock(a.AskedAt, zone))
	}
	return fmt.Sprintf(
		"%s sent an email with a code to %s %s at %s. It may lie among unwanted mail.",
		on,
		a.To,
		When(a.AskedAt, o.Now, zone),
		Clock(a.AskedAt, zone),
	)
}

func nameOnPaper(r record.Record) string {
	if r.LegalName != "" && r.LegalName != r.Name {
		return fmt.Sprintf("“%s” or “%s”", r.Name, r.LegalName)
	}
	return fmt.Sprintf("“%s”", r.Name)
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
