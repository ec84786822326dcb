package agenda

import (
	"fmt"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/contact"
	"uvent/core/listing/verification"
)

// asks are what an owner is asked for, in words.
var asks = map[verification.OwnerTask]string{
	verification.TypeCode:  "the code",
	verification.SendPaper: "a paper",
	verification.TakeCall:  "a time for a call",
	verification.FilmIt:    "a video",
	verification.PayByCard: "a card payment",
}

// pressing is how long before something is lost it is not left to its owner any more.
const pressing = 48 * time.Hour

// ofOwner is about an owner who was asked for what is wanted next; false where that is nothing of theirs. While the page that
// asks them works it is theirs to move, and once it has ended without an answer they are to be rung, unless somebody has.
func ofOwner(l Listing, t Task, now time.Time) (Task, bool) {
	p := l.Page
	if p == nil {
		return t, false
	}
	waits := t.Kind == ToVerify || t.Kind == ToAskAgain || t.Kind == Unproved
	if p.Task == verification.TypeCode { // of a code that works no more nobody has to type anything
		waits = t.Kind == CodeAtHand || t.Kind == CodeDue && p.since(t.Window)
	}
	if !waits || t.Until != nil && t.Until.Sub(now) < pressing {
		return t, false // what is lost soon is ours to see to, whoever was asked
	}
	owner, what, zone := l.Owner, asks[p.Task], verification.ZoneOf(*l.Record, *l.Book)
	if owner == "" {
		owner = "The owner"
	}
	silent := verification.Silent(p.Letters, p.LastLetter)
	out := Task{Cause: p.ID, Act: OpenIt, Until: t.Until}
	asked := verification.Day(calendar.DateOf(p.MadeAt.In(zone)))
	switch {
	case p.CallAt != nil && p.CallAt.After(now):
		out.Kind, out.Group, out.Title = OwnerAsked, Owner, fmt.Sprintf("%s is called for %s on %s", owner, l.Label, l.Book.Name)
		out.Says = fmt.Sprintf(
			"On %s at %s; until then another time may be chosen.",
			verification.Day(calendar.DateOf(p.CallAt.In(zone))),
			verification.Clock(*p.CallAt, zone),
		)
		out.Changes = p.CallAt
	case p.Expires.After(now) && (silent == nil || silent.After(now)):
		out.Kind, out.Group, out.Title = OwnerAsked, Owner, fmt.Sprintf("%s was asked for %s for %s on %s", owner, what, l.Label, l.Book.Name)
		out.Says = fmt.Sprintf("Asked on %s, and has not opened the page.", asked)
		if p.Opened {
			out.Says = fmt.Sprintf("Asked on %s; the page was opened, and nothing came yet.", asked)
		}
		if out.Changes = &p.Expires; silent != nil && silent.Before(p.Expires) {
			out.Changes = silent
		}
		if t.Until != nil && t.Until.Add(-pressing).Before(*out.Changes) {
			out.Changes = new(t.Until.Add(-pressing))
		}
	case l.State.HasDecided(string(OwnerSilent), p.ID):
		return t, false
	default:
		out.Kind, out.Group, out.Title = OwnerSilent, Mine, fmt.Sprintf("%s has not answered about %s on %s", owner, l.Label, l.Book.Name)
		out.Says = fmt.Sprintf("Asked for %s on %s, and the page has ended. ", what, asked)
		if p.Expires.After(now) {
			out.Says = fmt.Sprintf("Asked for %s on %s and written to %d times. ", what, asked, p.Letters)
		}
		out.Says += ring(l, now) + ", or choose another way."
	}
	return out, true
}

// since reports whether an owner was asked, or reminded, since what they are asked for may have come.
func (p *OwnerPage) since(w *calendar.Window) bool {
	asked := calendar.DateOf(p.MadeAt)
	if p.LastLetter != nil {
		asked = calendar.DateOf(*p.LastLetter)
	}
	return w != nil && !asked.Before(w.Earliest)
}

// ring says how an owner is best reached by phone.
func ring(l Listing, now time.Time) string {
	phone := l.Record.MainPhone()
	if phone == "" {
		return "Ring them"
	}
	phone = contact.National(phone)
	at, known := verification.RingTime(*l.Record, now)
	if !known {
		return "Ring " + phone
	}
	zone := verification.ZoneOf(*l.Record, *l.Book)
	return fmt.Sprintf("Ring %s, best %s at %s", phone, verification.When(at, now, zone), verification.Clock(at, zone))
}
