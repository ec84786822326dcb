package verification

import (
	"math"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/rule/rulebook"
)

// Due is what is to be done when a deadline comes.
type Due string

// What falls due.
const (
	CodeLapses   Due = "attempt_expired" // a code stops working
	Look         Due = "look"            // the public page is looked at again
	AskStatus    Due = "ask_status"      // the directory is asked how a review stands
	AskDuplicate Due = "ask_duplicate"   // how reports of duplicates stand
	AskChange    Due = "ask_change"      // how its review of changed facts stands
	AskAccess    Due = "ask_access"      // how a request for access stands
	AskAppeal    Due = "ask_appeal"      // how an appeal stands
	BringBack    Due = "bring_back"      // what we took out of public view is to show again
)

// Deadline is a moment at which something falls due by the clock.
type Deadline struct {
	Kind Due
	At   time.Time
}

// A page that is public is looked at every so many days, at night, so that many are
// looked at together.
const (
	publicEvery = 7
	atNight     = 4 * 60 // minutes since midnight
)

// inTheMorning is when what was taken out of public view is brought back on its day, in minutes since midnight.
const inTheMorning = 6 * 60

// bounceAfter is when it is asked whether an email with a code came back.
const bounceAfter = 5 * time.Minute

// mayBounce reports whether it is still to be asked whether the email with a code came back.
func (a Attempt) mayBounce(book rulebook.Rulebook) bool {
	return a.Live() && a.Method == rulebook.Email && a.CheckedAt == nil && !book.Worked.People()
}

// first keeps of deadlines of one kind the one that comes first: what is done then looks at all that it is about.
func first(all []Deadline, d Deadline) []Deadline {
	for i := range all {
		if all[i].Kind == d.Kind {
			if d.At.Before(all[i].At) {
				all[i] = d
			}
			return all
		}
	}
	return append(all, d)
}

// Lapsed are the attempts whose codes have stopped working by a moment, and of which that is not noted.
func (s State) Lapsed(now time.Time) (out []Attempt) {
	for _, a := range s.Attempts {
		if a.Live() && !now.Before(a.Expires) {
			out = append(out, a)
		}
	}
	return out
}

// ToAskAfter are the attempts of which the directory is to be asked how they stand.
func (s State) ToAskAfter(book rulebook.Rulebook) (out []Attempt) {
	for _, a := range s.Attempts {
		if a.State == AttemptReview || a.mayBounce(book) {
			out = append(out, a)
		}
	}
	return out
}

// Deadlines are what the state waits for by the clock.
func (s State) Deadlines(book rulebook.Rulebook) []Deadline {
	var out []Deadline
	every := time.Duration(book.Publishing.LookEveryHours) * time.Hour
	for _, a := range s.Attempts {
		if a.Live() {
			out = first(out, Deadline{CodeLapses, a.Expires})
		}
		switch {
		case a.State == AttemptReview && a.CheckedAt != nil && s.VerifiedAt == nil:
			out = first(out, Deadline{AskStatus, a.CheckedAt.Add(every)})
		case a.mayBounce(book):
			out = first(out, Deadline{AskStatus, a.AskedAt.Add(bounceAfter)})
		}
	}
	for _, d := range s.Duplicates {
		if d.Step == Reported { // all of them are asked after at once
			out = append(out, Deadline{AskDuplicate, d.CheckedAt.Add(every)})
			break
		}
	}
	if s.Change != nil {
		out = append(out, Deadline{AskChange, s.Change.CheckedAt.Add(every)})
	}
	if c := s.OpenCase(CaseSuspended); c != nil && c.Waiting() != nil {
		out = append(out, Deadline{AskAppeal, c.Waiting().CheckedAt.Add(every)})
	}
	if s.Access.Waiting() && s.Access.CheckedAt != nil {
		out = append(out, Deadline{AskAccess, s.Access.CheckedAt.Add(every)})
	}
	if s.Visibility == Public && s.LookedAt != nil && s.Page != "" {
		out = append(out, Deadline{Look, s.nextLook(book)})
	}
	if s.Visibility == Withdrawn && s.BackOn != nil && !s.BackTried {
		out = append(out, Deadline{BringBack, s.BackOn.At(inTheMorning, book.Calendar.Place().Zone)})
	}
	if s.Visibility == Publishing {
		from := s.PublicBy.From
		if s.LookedAt != nil && s.LookedAt.After(from) {
			from = *s.LookedAt
		}
		out = append(out, Deadline{Look, from.Add(every)})
	}
	return out
}

// nextLook is when a public page is looked at again: after the days that the schedule gives it, or every week; and the night
// after something was sent to it that has not been looked for since.
func (s State) nextLook(book rulebook.Rulebook) time.Time {
	zone := book.Calendar.Place().Zone
	days := float64(publicEvery)
	if s.LookDays > 0 {
		days = s.LookDays
	}
	for _, at := range []*time.Time{s.SentAt, s.GivenAt, s.PhotosAt} {
		if at != nil && at.After(*s.LookedAt) {
			return calendar.DateOf(at.In(zone)).Add(1).At(atNight, zone)
		}
	}
	if days < 1 { // more often than every night
		return s.LookedAt.Add(time.Duration(days * 24 * float64(time.Hour)))
	}
	return calendar.DateOf(s.LookedAt.In(zone)).Add(int(math.Round(days))).At(atNight, zone)
}

// Sent reports whether something was sent to it within a time.
func (s State) Sent(now time.Time, within time.Duration) bool {
	for _, at := range []*time.Time{s.SentAt, s.GivenAt, s.PhotosAt} {
		if at != nil && now.Sub(*at) < within {
			return true
		}
	}
	return false
}
