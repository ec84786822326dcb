package cases_test

import (
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

var start = time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)

func book(t *testing.T, id string) *rulebook.Rulebook {
	t.Helper()
	b, err := rulebooks.Read(id)
	if err != nil {
		t.Fatal(err)
	}
	return &b
}

// shape writes steps as "title:state", with a star where something is waited for.
func shape(steps []cases.Step) string {
	var out []string
	for _, s := range steps {
		one := s.Title + ":" + string(s.State)
		if s.Window != nil {
			one += "*"
		}
		out = append(out, one)
	}
	return strings.Join(out, ", ")
}

func TestSteps(t *testing.T) {
	fernlook, facts := book(t, "fernlook"), book(t, "candourbox")
	suspended := verification.Case{ID: "1", Kind: verification.CaseSuspended, OpenedAt: start}
	waits := suspended
	waits.Appeals = []verification.Appeal{{AskedAt: start}}
	refused := suspended
	refused.Appeals = []verification.Appeal{{AskedAt: start, AnsweredAt: &start, Says: "No."}}
	over := refused
	over.ClosedAt = &start
	minded := over
	minded.Outcome, minded.Causes = verification.Won, []verification.Cause{{Cause: "extra_words", Standing: true}}
	minded.Appeals = []verification.Appeal{{AskedAt: start, AnsweredAt: &start, Papers: "licence", Granted: true}}
	standing := []risk.Suspect{
		{Risk: risk.Risk{Standing: true, Says: "The name says “Best”.", Mend: "Give the name as it stands on the sign.", Facts: []string{"name"}}},
	}
	window := &calendar.Window{}
	for _, c := range []struct {
		name  string
		facts cases.Facts
		want  string
		first string
	}{
		{"all at hand", cases.Facts{Case: suspended, Book: fernlook, Paper: true}, "Mend what they may mind:done, Send what was mended:done, Have a paper at hand:done, Appeal:now, See that it shows:later", "Appeal"},
		{"a fault in the record", cases.Facts{Case: suspended, Book: fernlook, Paper: true, Suspects: standing}, "Mend what they may mind:now, Send what was mended:done, Have a paper at hand:done, Appeal:later, See that it shows:later", "Mend what they may mind"},
		{"a paper answers it", cases.Facts{Case: suspended, Book: fernlook, Paper: true, Suspects: []risk.Suspect{{Risk: risk.Risk{Standing: true, ByPaper: true, Says: "It claims to be open round the clock."}}}}, "Mend what they may mind:done, Send what was mended:done, Have a paper at hand:done, Appeal:now, See that it shows:later", "Appeal"},
		{"mended, not sent", cases.Facts{Case: suspended, Book: fernlook, Paper: true, Unsent: 2}, "Mend what they may mind:done, Send what was mended:now, Have a paper at hand:done, Appeal:later, See that it shows:later", "Send what was mended"},
		{"sent, looked at", cases.Facts{Case: suspended, Book: fernlook, Paper: true, State: verification.State{Change: &verification.Change{Facts: []string{"Name"}}}}, "Mend what they may mind:done, Send what was mended:waits*, Have a paper at hand:done, Appeal:later, See that it shows:later", "Send what was mended"},
		{"no paper", cases.Facts{Case: suspended, Book: fernlook}, "Mend what they may mind:done, Send what was mended:done, Have a paper at hand:now, Appeal:later, See that it shows:later", "Have a paper at hand"},
		{"appealed", cases.Facts{Case: waits, Book: fernlook, Paper: true}, "Mend what they may mind:done, Send what was mended:done, Have a paper at hand:done, Appeal:waits*, See that it shows:later", "Appeal"},
		{"refused once", cases.Facts{Case: refused, Book: fernlook, Paper: true}, "Mend what they may mind:done, Send what was mended:done, Have a paper at hand:done, Appeal again:now, See that it shows:later", "Appeal again"},
		{"ended", cases.Facts{Case: over, Book: fernlook, Paper: true}, "Mend what they may mind:done, Send what was mended:done, Have a paper at hand:left, Appeal:done, See that it shows:left", ""},
		{"ended, minded", cases.Facts{Case: minded, Book: fernlook}, "Mend what they may mind:left, Send what was mended:done, Have a paper at hand:done, Appeal:done, See that it shows:done", ""},
		{"ended, mended", cases.Facts{Case: minded, Book: fernlook, Mended: true}, "Mend what they may mind:done, Send what was mended:left, Have a paper at hand:done, Appeal:done, See that it shows:done", ""},
		{"ended, mended and sent", cases.Facts{Case: minded, Book: fernlook, Mended: true, Sent: true, Unsent: 3, Suspects: standing}, "Mend what they may mind:done, Send what was mended:done, Have a paper at hand:done, Appeal:done, See that it shows:done", ""},
		{"given up", cases.Facts{Case: verification.Case{Kind: verification.CaseSuspended, ClosedAt: &start, Outcome: verification.GivenUp}, Book: fernlook, Paper: true}, "Mend what they may mind:done, Send what was mended:done, Have a paper at hand:left, Appeal:left, See that it shows:left", ""},
		{"where no appeal is heard", cases.Facts{Case: suspended, Book: facts}, "Mend what they may mind:done, Send what was mended:done, Write to Candourbox:now", "Write to Candourbox"},
		{"gone", cases.Facts{Case: verification.Case{Kind: verification.CaseRemoved}, Book: fernlook}, "Look again:now, Search for it:later", "Look again"},
		{"a second listing", cases.Facts{Case: verification.Case{Kind: verification.CaseDuplicate, Other: "x"}, Book: fernlook, State: verification.State{Duplicates: []verification.Duplicate{{Ref: "x"}}}}, "Report it:done, Their answer:waits*", "Their answer"},
		{"held, not asked", cases.Facts{Case: verification.Case{Kind: verification.CaseHeld}, Book: facts}, "Ask its holder:now, Put it before Candourbox:later", "Ask its holder"},
		{"held, asked", cases.Facts{Case: verification.Case{Kind: verification.CaseHeld}, Book: facts, State: verification.State{Access: &verification.Access{Step: verification.HolderAsked, Window: window}}}, "Ask its holder:waits*, Put it before Candourbox:later", "Ask its holder"},
		{"held, silent", cases.Facts{Case: verification.Case{Kind: verification.CaseHeld}, Book: facts, State: verification.State{Access: &verification.Access{Step: verification.HolderSilent}}}, "Ask its holder:done, Put it before Candourbox:now", "Put it before Candourbox"},
		{"held, decided on", cases.Facts{Case: verification.Case{Kind: verification.CaseHeld}, Book: facts, State: verification.State{Access: &verification.Access{Step: verification.StaffAsked, Window: window}}}, "Ask its holder:done, Put it before Candourbox:waits*", "Put it before Candourbox"},
		{"a change refused", cases.Facts{Case: verification.Case{Kind: verification.CaseChange}, Book: fernlook}, "Mend the record:now, Send it again:later", "Mend the record"},
		{"mended since", cases.Facts{Case: verification.Case{Kind: verification.CaseChange}, Book: fernlook, Unsent: 1}, "Mend the record:done, Send it again:now", "Send it again"},
	} {
		steps := cases.Steps(c.facts)
		if got := shape(steps); got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.name, got, c.want)
		}
		first := ""
		if s := cases.First(steps); s != nil {
			first = s.Title
		}
		if first != c.first {
			t.Errorf("%s: first %q, want %q", c.name, first, c.first)
		}
		if cases.Title(c.facts.Case.Kind) == "" {
			t.Errorf("%s has no title", c.facts.Case.Kind)
		}
	}
}

func TestDraft(t *testing.T) {
	since := calendar.Date{Year: 2026, Month: 10, Day: 12}
	s := cases.Said{
		Record: record.Record{
			Name:      "Saltgrass Laundry",
			LegalName: "Saltgrass Laundry Ltd.",
			Address:   address.Address{Street: "3 Causeway", Locality: "Saltgrass", Region: "BC", PostalCode: "V0O 1G4", Country: "CA"},
		},
		Case:   verification.Case{Notice: "The hours could not be confirmed.\nYou may appeal.", Appeals: []verification.Appeal{{Says: "Send a paper."}}},
		Mended: []string{"hours, from “24/7” to “Mo-Su 06:00-23:00”"},
		Shows:  []string{"the utility bill"},
		Papers: []string{"the company registration"},
		Since:  &since,
	}
	text := cases.Draft(s)
	for _, want := range []string{"Saltgrass Laundry, 3 Causeway, Saltgrass, BC V0O 1G4", "“The hours could not be confirmed.”", "verified on Mon 12 Oct", "to “Mo-Su 06:00-23:00”", "Saltgrass Laundry Ltd.\n", "the utility bill, which shows", "Attached: the company registration.", "“Send a paper.”"} {
		if !strings.Contains(text, want) {
			t.Errorf("it does not say %q:\n%s", want, text)
		}
	}
	for most := 60; most < 500; most += 7 {
		s.Most = most
		if got := cases.Draft(s); utf8.RuneCountInString(got) > most || got == "" {
			t.Fatalf("within %d characters: %q", most, got)
		}
	}
	bare := cases.Draft(cases.Said{Record: s.Record})
	if strings.Contains(bare, "Attached") || strings.Contains(bare, "wrote") || strings.Contains(bare, "verified") {
		t.Errorf("it says what is not so: %s", bare)
	}
}

func TestTook(t *testing.T) {
	ended := func(cause string, outcome verification.Outcome, days int) cases.Ended {
		at := start.AddDate(0, 0, days)
		return cases.Ended{
			Directory: "Fernlook",
			Case:      verification.Case{Kind: verification.CaseSuspended, Cause: cause, OpenedAt: start, ClosedAt: &at, Outcome: outcome},
		}
	}
	open := cases.Ended{Directory: "Fernlook", Case: verification.Case{Kind: verification.CaseSuspended, Cause: "extra_words", OpenedAt: start}}
	got := cases.TookOf(
		[]cases.Ended{
			ended("second_edit", verification.GivenUp, 1),
			ended("extra_words", verification.Won, 3),
			ended("extra_words", verification.LostIt, 8),
			ended("extra_words", verification.Won, 4),
			ended("extra_words", verification.Won, 30),
			open,
		},
	)
	if len(got) != 2 || got[0].Cause != "extra_words" || got[0].Won != 3 || got[0].Lost != 1 || got[0].MedianDays != 6 || got[1].GivenUp != 1 ||
		got[1].MedianDays != 1 {
		t.Errorf("%+v", got)
	}
}

func TestChase(t *testing.T) {
	b := book(t, "fernlook")
	r := record.Record{Name: "Spokeshave Cycle Works", Address: address.Address{Street: "63 Mill Lane", Locality: "Quillcote", Region: "WA"}}
	w := b.Calendar.Place().Window(calendar.Rule{Min: 1, Max: 3, Unit: calendar.BusinessDays}, start)
	for _, c := range []struct {
		name  string
		state verification.State
		says  string
	}{
		{"publishing", verification.State{Visibility: verification.Publishing, PublicBy: &w}, "was verified on Tue 24 Nov. It should have been public by Mon 30 Nov, and is not: https://fernlook.example/x"},
		{"a review", verification.State{Attempts: []verification.Attempt{{Method: rulebook.Papers, State: verification.AttemptReview, AskedAt: start, Window: &w}}}, "to be verified (Papers). Your answer was due by Mon 30 Nov"},
		{"staff", verification.State{GivenAt: &start, AnswerBy: &w}, "We wrote to you on Tue 24 Nov about Spokeshave"},
		{"a change", verification.State{Change: &verification.Change{AskedAt: start, Window: w}}, "we sent changes of our listing"},
		{"nothing", verification.State{}, ""},
	} {
		if got := cases.Chase(r, b, c.state, "https://fernlook.example/x", start); got != "" {
			t.Errorf("%s, on the first day: %s", c.name, got)
		}
		if got := cases.Chase(r, b, c.state, "https://fernlook.example/x", start.AddDate(0, 0, 10)); !strings.Contains(got, c.says) || (c.says == "") != (got == "") {
			t.Errorf("%s: %q", c.name, got)
		}
	}
}
