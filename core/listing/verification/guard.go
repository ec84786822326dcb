package verification

import (
	"fmt"
	"math"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// Guard is what asking in another way would do to the attempt that is under way.
type Guard struct {
	Attempt string // that is under way
	Keeps   bool   // it goes on beside what is asked; otherwise it ends
	Title   string // in a question
	Says    string // what asking would do, in a sentence
	Lines   []GuardLine
	Window  *calendar.Window // when what is asked instead comes; nil: at once
}

// GuardLine sets side by side what comes of leaving it as it is, and of asking in the other way.
type GuardLine struct{ About, Leave, Ask string }

// nouns name what a method sends or has somebody look at.
var nouns = map[rulebook.MethodName]string{
	rulebook.Postcard: "postcard", rulebook.Call: "call", rulebook.Text: "text message", rulebook.Email: "email",
	rulebook.Papers: "paper", rulebook.Video: "video", rulebook.Card: "card payment", rulebook.Instant: "proof at once", rulebook.StaffSay: "word of their staff",
}

// UnderWay is the attempt that is waited for; nil for none.
func (s *State) UnderWay() *Attempt {
	if a := s.Attempt(); a != nil && s.VerifiedAt == nil && a.UnderWay() {
		return a
	}
	return nil
}

// EndedBy is the attempt under way that asking in a way would end; nil for none.
func (s *State) EndedBy(method rulebook.MethodName, book rulebook.Rulebook) *Attempt {
	for i := range s.Attempts {
		if a := &s.Attempts[i]; s.VerifiedAt == nil && a.UnderWay() && a.endedBy(method, book) {
			return a
		}
	}
	return nil
}

// guarded is what asking in a way would do to what is under way; nil where nothing is.
func guarded(book rulebook.Rulebook, r record.Record, s State, w Way, now time.Time) *Guard {
	a := s.EndedBy(w.Method, book)
	keeps := a == nil
	if keeps {
		if a = s.UnderWay(); a == nil {
			return nil
		}
	}
	zone, old, other := ZoneOf(r, book), nouns[a.Method], "the "+nouns[w.Method]
	if a.Method == w.Method {
		other = "another " + nouns[a.Method]
	}
	late := a.Window != nil && a.ArrivedAt == nil && calendar.DateOf(now.In(zone)).Compare(a.Window.Latest) > 0
	g := &Guard{Attempt: a.ID, Keeps: keeps, Window: w.Window}
	add := func(about, leave, ask string) { g.Lines = append(g.Lines, GuardLine{about, leave, ask}) }
	leave := publicBy(book, a.Window, a.ArrivedAt != nil, late, now, zone)
	ask := publicBy(book, w.Window, false, false, now, zone) + likely(w.Chance)
	if keeps {
		g.Title = fmt.Sprintf("The %s %s. Have %s as well?", old, standing(*a, late), other)
		g.Says = fmt.Sprintf("The %s %s, and goes on beside %s.", old, standing(*a, late), other)
		add("The "+old, goesOn(*a, late, now, zone), "the same: nothing of it is lost")
		add("If "+other+" fails", "–", "the "+old+" is still there")
		if a.State != AttemptReview && a.ArrivedAt == nil && a.Window != nil {
			add("When the "+old+" comes", "type its code", "type its code, or throw it away where "+other+" did it")
		}
		add("Public", leave, ask+"; else as without it")
		return g
	}
	g.Title = fmt.Sprintf("The %s %s. Have %s instead?", old, standing(*a, late), other)
	g.Says = fmt.Sprintf("The %s %s, and %s would end it.", old, standing(*a, late), other)
	if a.State == AttemptReview {
		add("The "+old, goesOn(*a, late, now, zone), "is not looked at any more")
	} else {
		asked := " is asked for"
		if !w.Method.SendsCode() {
			asked = " is sent"
		}
		add("The "+old, goesOn(*a, late, now, zone), "its code is void once "+other+asked)
		if a.ArrivedAt == nil && a.Window != nil {
			add("When the "+old+" comes", "type its code", "it comes all the same, and its code is refused")
		}
	}
	add("If that fails", "every other way is still there", again(book, r, s, *a, now))
	add("Public", leave, ask)
	return g
}

// goesOn says what an attempt under way still holds.
func goesOn(a Attempt, late bool, now time.Time, zone *time.Location) string {
	switch {
	case a.State != AttemptReview:
		return works(a, late, now, zone)
	case late:
		return "is looked at; they should have answered by " + Day(a.Window.Latest)
	case a.Window != nil:
		return "is looked at; they answer by " + Day(a.Window.Latest)
	}
	return "is looked at"
}

// standing is where an attempt stands, after its noun.
func standing(a Attempt, late bool) string {
	switch {
	case a.State == AttemptReview:
		return "is looked at there"
	case a.ArrivedAt != nil:
		return "is at hand"
	case late:
		return "is late"
	case a.Window == nil:
		return "was sent"
	}
	return "is on its way"
}

// works says until when a code can be entered.
func works(a Attempt, late bool, now time.Time, zone *time.Location) string {
	until := Day(calendar.DateOf(a.Expires.In(zone)))
	if a.Expires.Sub(now) < 24*time.Hour {
		until = When(a.Expires, now, zone) + " at " + Clock(a.Expires, zone)
	}
	says := "its code works until " + until
	switch {
	case late:
		says = fmt.Sprintf("should have come by %s; ", Day(a.Window.Latest)) + says
	case a.ArrivedAt == nil && a.Window != nil:
		says = fmt.Sprintf("is due %s to %s; ", Day(a.Window.Earliest), Day(a.Window.Latest)) + says
	}
	return says
}

// again says what it takes to have the same once more.
func again(book rulebook.Rulebook, r record.Record, s State, a Attempt, now time.Time) string {
	m, ok := book.Way(a.Method)
	if !ok {
		return "it cannot be had again"
	}
	another := "another " + nouns[a.Method]
	why := s.notYet(m, book, r, now)
	switch {
	case why != "":
		return another + " not yet: " + strings.ToLower(why[:1]) + strings.TrimSuffix(why[1:], ".")
	case m.AtOnce():
		return another + " can be asked for"
	}
	w, comes := book.Calendar.Place().Window(m.Window, now), "there"
	if !a.Method.SendsCode() {
		comes = "decided on"
	}
	return fmt.Sprintf("%s would be %s between %s and %s", another, comes, Day(w.Earliest), Day(w.Latest))
}

// publicBy says by when a listing is public whose proof ends with a window; nil: at once.
func publicBy(book rulebook.Rulebook, proof *calendar.Window, arrived, late bool, now time.Time, zone *time.Location) string {
	from := now
	switch {
	case late:
		return "not to be told: it is late"
	case proof != nil && !arrived:
		from = proof.Latest.At(12*60, zone)
	}
	return "by " + Day(book.Calendar.Place().Window(book.Publishing.Window, from).Latest) + " at the latest"
}

func likely(chance float64) string {
	return fmt.Sprintf(", if it works: %.0f of 10 do", math.Round(chance*10))
}
