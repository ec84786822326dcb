// Package course lays out what a location's closing, its moving or its opening again asks
// for on each directory: in which order, from when, and what has to be settled first.
package course

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
)

// Act is what a step does.
type Act string

const (
	Mark Act = "mark" // mark the listing, or take the mark back
	Hide Act = "hide" // take it out of public view
	Show Act = "show" // bring it back
	Send Act = "send" // give changed facts
	Tell Act = "tell" // tell people there in words
	Give Act = "give" // bring changed facts there by hand

	Leave Act = "leave" // leave it with the place where the location was, so that another is made
)

// ByProgram reports whether Uvent can do it.
func (a Act) ByProgram() bool { return a != Tell && a != Give && a != Leave }

// Listing is a location's listing on one directory.
type Listing struct {
	Book    *rulebook.Rulebook
	State   verification.State
	Changed []string // keys of what the directory was given otherwise than the record is to be
	Source  bool     // another directory takes over what this one shows
}

// Step is one thing to do on one directory.
type Step struct {
	Book     *rulebook.Rulebook
	Act      Act
	To       record.StateKind // of Mark, Hide and Tell: what the location is to be shown as; empty: open
	Facts    []string         // of Send and Give: keys
	On       calendar.Date    // from when it can be done, by the location's clock
	After    string           // what has to be settled first, in words; empty: nothing
	Says     string           // what it is, and what follows from it
	Final    bool             // it cannot be taken back there
	Verifies bool             // the directory wants a new proof afterwards
	Busy     bool             // it was asked for; the answer is awaited
}

// Shown is what a location in a state is to be shown as; empty: open.
func Shown(kind record.StateKind) record.StateKind {
	if kind == record.Open || kind == record.OpeningSoon {
		return ""
	}
	return kind
}

// Steps are what is to be done so that all listings say what the record is to say from a
// day on, told today, in order: what others take over comes first, what counts most before what counts
// less, what has to be settled first as soon as it is, and what cannot be taken back last,
// a day after all else.
func Steps(r record.Record, on, today calendar.Date, listings []Listing) []Step {
	var out []Step
	for _, l := range listings {
		out = append(out, stepsOf(r, on, today, l)...)
	}
	source := map[string]bool{}
	for _, l := range listings {
		source[l.Book.ID] = l.Source
	}
	slices.SortStableFunc(out, func(a, b Step) int {
		return cmp.Or(
			order(a.Final)-order(b.Final),
			a.On.Compare(b.On),
			order(a.After != "")-order(b.After != ""),
			order(source[b.Book.ID])-order(source[a.Book.ID]),
			b.Book.Weight-a.Book.Weight,
			strings.Compare(a.Book.Name, b.Book.Name),
		)
	})
	last := on
	for _, s := range out {
		if !s.Final && last.Before(s.On) {
			last = s.On
		}
	}
	others := slices.ContainsFunc(out, func(s Step) bool { return !s.Final })
	for i := range out {
		if s := &out[i]; s.Final && others {
			if next := last.Add(1); s.On.Before(next) {
				s.On = next
			}
			if s.After == "" {
				s.After = "once all else is done"
			}
		}
	}
	return out
}

func order(b bool) int {
	if b {
		return 1
	}
	return 0
}

// asking are the questions that steps are.
var asking = []verification.Kind{
	verification.MarkAsked{}.Kind(),
	verification.WithdrawAsked{}.Kind(),
	verification.BackAsked{}.Kind(),
	verification.SendAsked{}.Kind(),
}

// stepsOf are the steps on one directory.
func stepsOf(r record.Record, on, today calendar.Date, l Listing) (out []Step) {
	s, b := l.State, l.Book
	if b.Worked == rulebook.Fed || s.Control != verification.Held && s.GivenAt == nil {
		return nil // it takes all from others, or nothing of ours is there
	}
	busy := slices.Contains(asking, s.Busy)
	step, turns := turn(Wanted(r, b, s), on, today, l)
	if turns {
		step.Busy = busy
		out = append(out, step)
	}
	if s.Elsewhere(r, *b) {
		return append(out, leaving(r, on, l, turns))
	}
	if len(l.Changed) == 0 || Shown(r.State.Kind) != "" {
		return out // facts of a closed location are nobody's way
	}
	if b.Worked != rulebook.Connected {
		return append(out, Step{Book: b, Act: Give, Facts: l.Changed, On: on, Says: "Bring it there: " + titles(b, l.Changed) + "."})
	}
	var settling *rulebook.Edit
	day := on
	if s.Change != nil {
		settling = &rulebook.Edit{SetsOff: rulebook.OffReview}
		if next := s.Change.Window.Latest.Add(1); day.Before(next) {
			day = next
		}
	}
	for _, part := range risk.Order(b, l.Changed, settling) {
		step := Step{Book: b, Act: Send, Facts: part.Facts, On: day, Says: "Send " + titles(b, part.Facts) + ".", Busy: busy && len(out) == 0}
		if part.After != nil {
			step.After = "once what they look at is settled"
		}
		switch part.Meets.SetsOff {
		case rulebook.OffVerification:
			step.Verifies, step.Says = true, step.Says+" It wants a new verification, and does not show until then."
		case rulebook.OffReview:
			step.Says += " They look at it first."
		}
		if w := part.Meets.Window; w.Unit != "" {
			place := b.Calendar.Place()
			day = place.Window(w, day.At(12*60, place.Zone)).Latest.Add(1)
		}
		out = append(out, step)
	}
	return out
}

// Wanted is what a listing is to show of its location: what the record says of it; or that it has moved, where the directory
// takes the place that the record names for another location.
func Wanted(r record.Record, b *rulebook.Rulebook, s verification.State) record.StateKind {
	if s.Elsewhere(r, *b) {
		return record.Moved
	}
	return Shown(r.State.Kind)
}

// leaving is the step by which a listing stays with the place where the location was; turns is that it does not say yet that
// the location has moved.
func leaving(r record.Record, on calendar.Date, l Listing, turns bool) Step {
	step := Step{Book: l.Book, Act: Leave, On: on, Says: fmt.Sprintf(
		"%s takes %s for another location: leave this listing with %s, and have another made.",
		l.Book.Name,
		cmp.Or(r.Address.Locality, "the new place"),
		l.State.Stands.Line(),
	)}
	if l.Book.Moving.Another == rulebook.AnotherStreet {
		step.Says = fmt.Sprintf("%s takes another house for another location: leave this listing with %s, and have another made.", l.Book.Name, l.State.Stands.Line())
	}
	if turns {
		step.After = "once it says that the location has moved"
	}
	return step
}

// turn is the step by which the public learns that the location has closed, has moved
// away, or is open again; false where it knows.
func turn(to record.StateKind, on, today calendar.Date, l Listing) (Step, bool) {
	s, b := l.State, l.Book
	if to == s.Marked {
		return Step{}, false
	}
	how, what := b.Turn(to), verification.StateWord(to)
	if to == "" {
		how = b.Turn(s.Marked)
		if how.Final && s.Visibility != verification.Withdrawn {
			return Step{Book: b, Act: Tell, On: on, Says: "It stays " + verification.StateWord(s.Marked) + " there. Ask their people, or have a new listing made."}, true
		}
	}
	step := Step{Book: b, To: to, On: on, Final: how.Final && to != ""}
	note := ""
	if how.Note != "" && to != "" {
		note = " " + how.Note
	}
	switch {
	case s.Visibility == verification.Withdrawn && to == "":
		step.Act, step.Says = Show, "Bring it back into public view."
	case how.By == rulebook.ByMark && to == "":
		step.Act, step.Says = Mark, "Take the mark back, so that it is open again."
	case how.By == rulebook.ByMark:
		step.Act, step.Says = Mark, "Mark it "+what+"."+note
	case how.By == rulebook.ByView && (s.Visibility == verification.Public || s.Visibility == verification.Publishing):
		step.Act, step.Says = Hide, "It has no mark for it: take it out of public view."+note
	case how.By == rulebook.ByView:
		return Step{}, false // it does not show
	default:
		step.Act, step.On = Tell, ahead(b, on)
		step.Says = fmt.Sprintf("Tell them that it is %s.", what)
		switch span := rulebook.Span(b.Review.Window); {
		case !b.Review.Reviewed():
		case step.On.Before(today):
			step.On, step.Says = today, step.Says+" They take "+span+": it will be late."
		case step.On.Before(on):
			step.Says += " They take " + span + ", so tell them ahead."
		}
		step.Says += note
	}
	return step, true
}

// ahead is the last day on which people there can be told, to have it shown on a day.
func ahead(b *rulebook.Rulebook, on calendar.Date) calendar.Date {
	if !b.Review.Reviewed() {
		return on
	}
	place := b.Calendar.Place()
	for day, n := on, 0; n < 120; day, n = day.Add(-1), n+1 {
		if place.Holidays.Business(day) && !on.Before(place.Window(b.Review.Window, day.At(9*60, place.Zone)).Latest) {
			return day
		}
	}
	return on
}

func titles(b *rulebook.Rulebook, keys []string) string {
	out := make([]string, len(keys))
	for i, k := range keys {
		out[i] = strings.ToLower(b.FieldTitle(k))
	}
	return strings.Join(out, ", ")
}

// Words are what somebody writes to a directory's people, so that they show what the
// record is to say from a day on.
func Words(r record.Record, b *rulebook.Rulebook, page string, on calendar.Date) string {
	what := "is " + verification.StateWord(Shown(r.State.Kind)) + " from " + verification.Day(on)
	switch r.State.Kind {
	case record.ClosedForATime:
		if until, err := calendar.ParseDate(r.State.Until); err == nil {
			what += fmt.Sprintf(" to %s, and open again on %s", verification.Day(until), verification.Day(until.Add(1)))
		}
	case record.Moved:
		if r.State.To != "" {
			what += ", to " + r.State.To
		}
	}
	out := fmt.Sprintf("Dear colleagues at %s,\n\n%s, %s, %s. Please show it so.\n", b.Name, r.Name, r.Address.Line(), what)
	if page != "" {
		out += "\nOur entry: " + page + "\n"
	}
	return out
}

// Next is the first of a listing's steps that a program can do on a day; one that cannot be
// taken back only where that is said. False where there is none.
func Next(steps []Step, today calendar.Date, final bool) (Step, bool) {
	for _, s := range steps {
		if s.Act.ByProgram() && !s.Busy && !today.Before(s.On) && (s.After == "" && !s.Final || s.Final && final) {
			return s, true
		}
	}
	return Step{}, false
}

// Day is the day at a directory.
func Day(b *rulebook.Rulebook, now time.Time) calendar.Date {
	return calendar.DateOf(now.In(b.Calendar.Place().Zone))
}
