package forecast

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/rule/intake"
	"uvent/core/rule/rulebook"
)

// told writes a step: its name, its window, and what else is known of it.
func told(s Step) string {
	out := fmt.Sprintf("%s %d–%d %s", s.Name, s.Rule.Min, s.Rule.Max, s.Rule.Unit)
	if s.Place.Zone == pacific {
		out += ", our days"
	}
	if !s.Began.IsZero() {
		out += fmt.Sprintf(", %d ago", int(now.Sub(s.Began).Hours()/24))
	}
	if s.Chance > 0 {
		out += fmt.Sprintf(", won %.2f", s.Chance)
	}
	if s.Silent {
		out += ", silent"
	}
	if s.Maybe > 0 {
		out += fmt.Sprintf(", comes %.2f", s.Maybe)
	}
	if s.Shared != "" {
		out += ", shared as " + s.Shared
	}
	return out
}

func steps(all []Step) string {
	out := make([]string, len(all))
	for i, s := range all {
		out[i] = told(s)
	}
	return strings.Join(out, "\n")
}

// book is of a directory in another zone than ours, with each window a length of its own.
func book(change func(*rulebook.Rulebook)) *rulebook.Rulebook {
	b := &rulebook.Rulebook{
		Name: "Fernlook", Weight: 40, Worked: rulebook.Connected, Calendar: rulebook.Calendar{Country: "US", Zone: "America/New_York"},
		Methods: []rulebook.Method{
			{Method: rulebook.Postcard, Window: post(6, 12), Chance: 0.7}, {Method: rulebook.Call, Chance: 0.9},
			{Method: rulebook.Papers, Window: days(2, 6), Chance: 0.5}, {Method: rulebook.Instant},
		},
		Publishing: rulebook.Publishing{Window: post(1, 3)},
	}
	if change != nil {
		change(b)
	}
	return b
}

// ago is so many days before now.
func ago(days int) *time.Time {
	t := now.AddDate(0, 0, -days)
	return &t
}

func open(m rulebook.MethodName, chance float64) verification.Way {
	return verification.Way{Method: m, Open: true, Chance: chance}
}

func TestTheWayThatIsLeft(t *testing.T) {
	const (
		begin = "our beginning 0–5 business_days, our days"
		shows = "its showing 1–3 business_days"
		card  = "the postcard 6–12 business_days, won 0.70, silent"
		enter = "the entering of the code 0–1 days, our days"
	)
	held := verification.State{Control: verification.Held}
	trying := func(a verification.Attempt) verification.State {
		a.AskedAt = *ago(3)
		return verification.State{Control: verification.Held, Attempts: []verification.Attempt{a}}
	}
	reviewed := func(b *rulebook.Rulebook) { b.Review.Window = days(3, 9) }
	byHolder := verification.State{Control: verification.HeldByAnother, AccessAt: ago(4)}
	for _, c := range []struct {
		name  string
		book  func(*rulebook.Rulebook)
		state verification.State
		ways  []verification.Way
		want  []string
		why   string
	}{
		{"nothing is begun", nil, verification.Start(), []verification.Way{open(rulebook.Postcard, 0.7)}, []string{begin, card, enter, shows}, ""},
		{"written to its staff", func(b *rulebook.Rulebook) { b.Worked, b.Methods, b.Review.Window = rulebook.Written, nil, days(3, 9) }, verification.Start(), nil,
			[]string{begin, "its staff’s answer 3–9 days", shows}, ""},
		{"its staff has it", reviewed, verification.State{Control: verification.AskedFor, GivenAt: ago(2), AnswerBy: &calendar.Window{}}, []verification.Way{open(rulebook.Instant, 1)},
			[]string{"its staff’s answer 3–9 days, 2 ago", shows}, ""},
		{"held", nil, held, []verification.Way{open(rulebook.Call, 0.9)}, []string{enter, shows}, ""},
		{"papers", nil, held, []verification.Way{{Method: rulebook.Postcard, Says: "Not yet."}, open(rulebook.Papers, 0.5)}, []string{"the word on the papers 2–6 days, won 0.50", shows}, ""},
		{"no way is open", nil, held, []verification.Way{{Method: rulebook.Postcard, Says: "No address."}, {Method: rulebook.Call, Says: "No phone."}}, nil, "No address."},
		{"shut for the night", nil, held, []verification.Way{{Method: rulebook.Postcard, To: "Tern Street"}, {Method: rulebook.Call, To: "an open shop"}}, []string{enter, shows}, ""},
		{"no way at all", nil, held, nil, nil, "It offers no way to verify."},
		{"believed", func(b *rulebook.Rulebook) { b.Methods = nil }, held, nil, []string{shows}, ""},
		{"a second look", func(b *rulebook.Rulebook) { b.SecondLook = rulebook.SecondLook{Chance: 0.25, Window: days(2, 6)} }, held,
			[]verification.Way{open(rulebook.Instant, 1)}, []string{"a second look 2–6 days, comes 0.25", shows}, ""},
		{"in the post", nil, trying(verification.Attempt{Method: rulebook.Postcard, State: verification.AttemptSent}), nil,
			[]string{"the postcard 6–12 business_days, 3 ago, won 0.72, silent", enter, shows}, ""},
		{"asked for", nil, trying(verification.Attempt{Method: rulebook.Postcard, State: verification.AttemptAsked}), nil,
			[]string{"the postcard 6–12 business_days, 3 ago, won 0.72, silent", enter, shows}, ""},
		{"come", nil, trying(verification.Attempt{Method: rulebook.Postcard, State: verification.AttemptSent, ArrivedAt: ago(1)}), nil, []string{enter, shows}, ""},
		{"rung", nil, trying(verification.Attempt{Method: rulebook.Call, State: verification.AttemptAsked}), nil, []string{enter, shows}, ""},
		{"looked at again", func(b *rulebook.Rulebook) { b.SecondLook.Window = days(2, 6) },
			trying(verification.Attempt{Method: rulebook.Postcard, State: verification.AttemptReview, Digits: 6, CheckedAt: ago(1)}), nil,
			[]string{"a second look 2–6 days, 1 ago", enter, shows}, ""},
		{"papers are read", nil, trying(verification.Attempt{Method: rulebook.Papers, State: verification.AttemptReview}), nil,
			[]string{"the word on the papers 2–6 days, 3 ago, won 0.50", shows}, ""},
		{"refused before", nil, trying(verification.Attempt{Method: rulebook.Papers, State: verification.AttemptRefused}), []verification.Way{open(rulebook.Call, 0.9)},
			[]string{enter, shows}, ""},
		{"verified", nil, verification.State{Control: verification.Held, VerifiedAt: ago(2)}, nil, []string{"its showing 1–3 business_days, 2 ago"}, ""},
		{"withdrawn", nil, verification.State{Visibility: verification.Withdrawn}, nil, nil, "It is withdrawn by us."},
		{"suspended", func(b *rulebook.Rulebook) { b.Appeal = rulebook.Appeal{Most: 1, Window: days(4, 20)} }, verification.State{Visibility: verification.Suspended, VerifiedAt: ago(9)}, nil,
			[]string{"writing the appeal 0–5 business_days, our days", "the answer to the appeal 4–20 days, won 0.60"}, ""},
		{"removed for good", nil, verification.State{Visibility: verification.Removed}, nil, nil, "Fernlook hears no appeal."},
		{"fed", func(b *rulebook.Rulebook) {
			b.Worked, b.Copies = rulebook.Fed, []rulebook.Copying{{Window: days(7, 30)}, {Window: days(1, 1)}}
		}, verification.Start(), nil,
			[]string{"handing it in where it is taken from 0–5 business_days, our days", "its being taken over 7–30 days"}, ""},
		{"fed by nobody known", func(b *rulebook.Rulebook) { b.Worked = rulebook.Fed }, verification.Start(), nil, nil, "Fernlook takes it from elsewhere."},
		{"another’s", func(b *rulebook.Rulebook) { b.Access.Window = days(3, 7) }, byHolder, []verification.Way{open(rulebook.Instant, 1)},
			[]string{"the holder’s answer 3–7 days, 4 ago", shows}, ""},
		{"another’s, who may be overruled", func(b *rulebook.Rulebook) { b.Access.Window, b.Access.Escalate = days(3, 7), days(5, 15) }, byHolder, []verification.Way{open(rulebook.Instant, 1)},
			[]string{"the holder’s answer 3–7 days, 4 ago", "the directory’s word on who holds it 5–15 days, won 0.60, comes 0.60", shows}, ""},
		{"another’s for good", nil, byHolder, nil, nil, "Somebody else holds it, and Fernlook has no way to ask for it."},
	} {
		past := map[rulebook.MethodName]verification.Past{rulebook.Postcard: {Won: 3, Lost: 1}} // a chance of (4 × 0.7 + 3) / 8
		l, done, why := Of(Subject{Book: book(c.book), State: c.state, Ways: c.ways, Past: past}, Usual(here))
		if want := strings.Join(c.want, "\n"); done || why != c.why || why == "" && steps(l.Steps) != want || l.Weight != 40 || len(l.Needs) > 0 {
			t.Errorf("%s: done %v, why %q\n%s\nwant\n%s", c.name, done, why, steps(l.Steps), want)
		}
	}
	if _, done, _ := Of(Subject{Book: book(nil), State: verification.State{Visibility: verification.Public}}, Usual(here)); !done {
		t.Error("what is public has something left")
	}
}

// What must be had first is waited for side by side, and what is one thing for many once.
func TestWhatMustBeHadFirst(t *testing.T) {
	wants := []intake.Want{
		{ID: "name", Title: "Trading name", From: intake.Owner, Part: "contact", Blocks: []string{"Fernlook"}},
		{ID: "registration", Title: "Registration number", From: intake.Owner, Part: "identity", Blocks: []string{"Skerry", "Fernlook"},
			Takes: intake.Takes{Wait: days(7, 30), Fee: post(1, 3)}},
		{ID: "category", Title: "Main category", From: intake.Us, Part: "categories", Blocks: []string{"Fernlook"}},
		{ID: "photos", Title: "Photos", From: intake.Owner, Blocks: []string{"Skerry"}},
	}
	s := Subject{
		Book:     book(func(b *rulebook.Rulebook) { b.Methods = nil }),
		State:    verification.Start(),
		Wants:    wants,
		Broken:   true,
		Location: "minnow",
		Client:   "marsh",
	}
	needs := func(s Subject, pace Pace) string {
		l, _, _ := Of(s, pace)
		return steps(l.Needs)
	}
	pace := Usual(here)
	name := "trading name 1–5 business_days, our days, shared as minnow name\n"
	category := "\nmain category 0–5 business_days, our days, shared as minnow category"
	if got, want := needs(s, pace), name+"registration number 7–30 days, our days, shared as marsh registration"+category; got != want {
		t.Errorf("%s\nwant\n%s", got, want)
	}
	pace.Fee = true
	if got, want := needs(s, pace), name+"registration number 1–3 business_days, our days, shared as marsh registration"+category; got != want {
		t.Errorf("%s\nwant\n%s", got, want)
	}
	s.Wants = wants[3:]
	if got, want := needs(s, pace), "the mending of the record 0–5 business_days, our days, shared as minnow record"; got != want {
		t.Errorf("%s\nwant\n%s", got, want)
	}
	if s.Broken = false; needs(s, pace) != "" {
		t.Errorf("%s", needs(s, pace))
	}
	s.State.Control, s.Broken = verification.Held, true
	if needs(s, pace) != "" {
		t.Errorf("what is held already waits for %s", needs(s, pace))
	}
}
