package forecast

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/rule/intake"
	"uvent/core/rule/rulebook"
)

// Subject is a listing of which it is asked what is left to wait for.
type Subject struct {
	Book     *rulebook.Rulebook
	State    verification.State
	Ways     []verification.Way // the likeliest first
	Past     map[rulebook.MethodName]verification.Past
	Wants    []intake.Want // what its location is in want of
	Broken   bool          // the record has something that cannot go there as it is
	Location string        // a key of it, and of its client
	Client   string
}

// Pace is how fast people do what is theirs to do.
type Pace struct {
	Place  calendar.Place // ours
	Begin  calendar.Rule  // until we begin with a listing
	Enter  calendar.Rule  // from a code's coming until it is entered
	Answer calendar.Rule  // until an owner sends what they have at hand
	Fee    bool           // a fee is paid where that makes something faster
}

// Usual is the pace that is thought of where nothing else is said.
func Usual(place calendar.Place) Pace {
	return Pace{Place: place, Begin: business(0, 5), Enter: calendar.Rule{Max: 1, Unit: calendar.Days}, Answer: business(1, 5)}
}

func business(from, to int) calendar.Rule {
	return calendar.Rule{Min: from, Max: to, Unit: calendar.BusinessDays}
}

// handedOver is how often, of those who hold a listing, one is thought to hand it over.
const handedOver = 0.4

// granted is how often a directory's people are thought to grant what is put before them:
// an appeal, or a listing that its holder did not hand over.
const granted = 0.6

// Of lays out what is left of a listing's way to the public. Why says what keeps it from
// ever getting there as things stand; done that it is public already.
func Of(s Subject, pace Pace) (l Listing, done bool, why string) {
	place, st := s.Book.Calendar.Place(), s.State
	l.Weight = float64(s.Book.Weight)
	add := func(name string, rule calendar.Rule, more ...func(*Step)) {
		step := Step{Name: name, Rule: rule, Place: place}
		for _, m := range more {
			m(&step)
		}
		l.Steps = append(l.Steps, step)
	}
	since := func(t *time.Time) func(*Step) {
		return func(s *Step) {
			if t != nil {
				s.Began = *t
			}
		}
	}
	chance := func(c float64) func(*Step) { return func(s *Step) { s.Chance = c } }
	ours := func(s *Step) { s.Place = pace.Place }

	switch st.Visibility {
	case verification.Public:
		return l, true, ""
	case verification.Withdrawn:
		return l, false, "It is withdrawn by us."
	case verification.Suspended, verification.Removed:
		if s.Book.Appeal.Most == 0 {
			return l, false, s.Book.Name + " hears no appeal."
		}
		add("writing the appeal", pace.Begin, ours)
		add("the answer to the appeal", s.Book.Appeal.Window, chance(granted))
		return l, false, ""
	}
	if st.VerifiedAt != nil {
		add("its showing", s.Book.Publishing.Window, since(st.VerifiedAt))
		return l, false, ""
	}
	if s.Book.Worked == rulebook.Fed {
		if len(s.Book.Copies) == 0 {
			return l, false, s.Book.Name + " takes it from elsewhere."
		}
		add("handing it in where it is taken from", pace.Begin, ours)
		add("its being taken over", s.Book.Copies[0].Window)
		return l, false, ""
	}
	switch st.Control {
	case verification.HeldByAnother:
		if s.Book.Access.Window.Unit == "" {
			return l, false, "Somebody else holds it, and " + s.Book.Name + " has no way to ask for it."
		}
		add("the holder’s answer", s.Book.Access.Window, since(st.AccessAt))
		if e := s.Book.Access.Escalate; e.Unit != "" {
			add("the directory’s word on who holds it", e, chance(granted), func(x *Step) { x.Maybe = 1 - handedOver })
		}
	case verification.Held, verification.AskedFor:
		if st.AnswerBy != nil {
			add("its staff’s answer", s.Book.Review.Window, since(st.GivenAt))
		}
	default:
		l.Needs = s.needs(pace)
		add("our beginning", pace.Begin, ours)
		if s.Book.Worked == rulebook.Written {
			add("its staff’s answer", s.Book.Review.Window)
		}
	}
	if why := s.proof(&l, pace, add, since, chance); why != "" {
		return l, false, why
	}
	if look := s.Book.SecondLook; look.Chance > 0 {
		add("a second look", look.Window, func(x *Step) { x.Maybe = look.Chance })
	}
	add("its showing", s.Book.Publishing.Window)
	return l, false, ""
}

// proof lays out what is left of verifying.
func (s Subject) proof(
	l *Listing,
	pace Pace,
	add func(string, calendar.Rule, ...func(*Step)),
	since func(*time.Time) func(*Step),
	chance func(float64) func(*Step),
) (why string) {
	if len(s.Book.Methods) == 0 {
		return ""
	}
	enter := func() { add("the entering of the code", pace.Enter, func(x *Step) { x.Place = pace.Place }) }
	if a := s.State.Attempt(); a != nil && (a.Live() || a.State == verification.AttemptAsked || a.State == verification.AttemptReview) {
		m, _ := s.Book.Way(a.Method)
		wait := named(a.Method)
		switch {
		case a.ArrivedAt != nil && a.Live():
		case a.State == verification.AttemptReview && a.Digits > 0:
			add("a second look", s.Book.SecondLook.Window, since(a.CheckedAt))
		case a.State == verification.AttemptReview || !m.Method.SendsCode():
			add(wait, m.Window, since(&a.AskedAt), chance(verification.Chance(m, s.Past[m.Method])))
		case !m.AtOnce():
			add(wait, m.Window, since(&a.AskedAt), chance(verification.Chance(m, s.Past[m.Method])), silent)
		}
		if m.Method.SendsCode() {
			enter()
		}
		return ""
	}
	i := slices.IndexFunc(s.Ways, func(w verification.Way) bool { return w.Open })
	if i < 0 {
		// Shut today, such as a call outside the hours, is not shut for good.
		i = slices.IndexFunc(s.Ways, func(w verification.Way) bool { return w.Method == rulebook.Call && w.To != "" })
	}
	if i < 0 {
		for _, w := range s.Ways {
			return w.Says
		}
		return "It offers no way to verify."
	}
	w := s.Ways[i]
	m, _ := s.Book.Way(w.Method)
	switch {
	case !m.AtOnce() && m.Method.SendsCode():
		add(named(m.Method), m.Window, chance(w.Chance), silent)
	case !m.AtOnce():
		add(named(m.Method), m.Window, chance(w.Chance))
	}
	if m.Method.SendsCode() {
		enter()
	}
	return ""
}

func silent(s *Step) { s.Silent = true }

func named(m rulebook.MethodName) string {
	switch m {
	case rulebook.Papers:
		return "the word on the papers"
	case rulebook.Video:
		return "the word on the video"
	case rulebook.StaffSay:
		return "its staff’s word"
	}
	return "the " + strings.ToLower(verification.Title(m))
}

// needs are what must be had before anything is begun, each of which takes its time. A
// number of the company is one thing for all its locations.
func (s Subject) needs(pace Pace) (out []Step) {
	for _, w := range s.Wants {
		if !slices.Contains(w.Blocks, s.Book.Name) {
			continue
		}
		step := Step{Name: strings.ToLower(w.Title[:1]) + w.Title[1:], Rule: w.Takes.Wait, Place: pace.Place, Shared: fmt.Sprint(s.Location, " ", w.ID)}
		if pace.Fee && w.Takes.Fee.Unit != "" {
			step.Rule = w.Takes.Fee
		}
		switch {
		case step.Rule.Unit != "":
		case w.From == intake.Owner:
			step.Rule = pace.Answer
		default:
			step.Rule = pace.Begin
		}
		if w.Part == "identity" {
			step.Shared = fmt.Sprint(s.Client, " ", w.ID)
		}
		out = append(out, step)
	}
	if len(out) == 0 && s.Broken {
		out = append(out, Step{Name: "the mending of the record", Rule: pace.Begin, Place: pace.Place, Shared: s.Location + " record"})
	}
	return out
}
