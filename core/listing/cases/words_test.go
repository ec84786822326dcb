package cases_test

import (
	"reflect"
	"strings"
	"testing"
	"time"

	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/risk"
)

// What the steps say: how many values wait, what is meant, how many appeals are left.
func TestWhatStepsSay(t *testing.T) {
	suspended := verification.Case{Kind: verification.CaseSuspended}
	refused := suspended
	refused.Appeals = []verification.Appeal{{AnsweredAt: &start, Says: "Not enough."}}
	suspects := func(s ...risk.Risk) (out []risk.Suspect) {
		for _, r := range s {
			out = append(out, risk.Suspect{Risk: r})
		}
		return out
	}
	name := risk.Risk{Standing: true, Says: "The name says “Best”.", Mend: "Give the name as it stands on the sign.", Facts: []string{"name", "hours"}}
	nowhere := risk.Risk{Standing: true, Says: "Another business has the phone.", Mend: "Find out whose it is."}
	for _, c := range []struct {
		facts cases.Facts
		at    int
		says  string
		fact  string
	}{
		{cases.Facts{Case: suspended}, 0, "Nothing in the record speaks against it.", ""},
		{cases.Facts{Case: suspended, Suspects: suspects(name)}, 0, "Give the name as it stands on the sign.", "name"},
		{cases.Facts{Case: suspended, Suspects: suspects(nowhere, name)}, 0, "Find out whose it is.", ""},
		{cases.Facts{Case: suspended, Suspects: append([]risk.Suspect{{Risk: risk.Risk{Standing: true, Says: "Nothing of it stands there."}, Words: true}}, suspects(name)...)}, 0, "Give the name as it stands on the sign.", "name"},
		{cases.Facts{Case: suspended}, 1, "They have what the record says.", ""},
		{cases.Facts{Case: suspended, Unsent: 1}, 1, "1 value is not sent yet.", ""},
		{cases.Facts{Case: suspended, Unsent: 2}, 1, "2 values are not sent yet.", ""},
		{cases.Facts{Case: suspended, State: verification.State{Change: &verification.Change{Facts: []string{"Name", "Hours"}}}}, 1, "They look at Name, Hours first.", ""},
		{cases.Facts{Case: suspended}, 2, "There is none that shows", ""},
		{cases.Facts{Case: suspended, Paper: true}, 2, "It agrees with the record.", ""},
		{cases.Facts{Case: suspended, Paper: true}, 3, ", 2 in all.", ""},
		{cases.Facts{Case: refused, Paper: true}, 3, "They said: Not enough. 1 of 2 appeals are left.", ""},
		{cases.Facts{Case: verification.Case{Kind: verification.CaseChange, Notice: "Not taken."}}, 0, "Not taken.", ""},
		{cases.Facts{Case: verification.Case{Kind: verification.CaseHeld}, State: verification.State{Access: &verification.Access{Step: verification.HolderRefused, Says: "It is ours."}}},
			0, "It is ours.", ""},
	} {
		c.facts.Book = book(t, "fernlook")
		if step := cases.Steps(c.facts)[c.at]; !strings.HasSuffix(step.Says, c.says) && !strings.HasPrefix(step.Says, c.says) || step.Fact != c.fact {
			t.Errorf("%q says %q of %q, want %q of %q", step.Title, step.Says, step.Fact, c.says, c.fact)
		}
	}
}

// Where nothing had to be mended, the draft tells how it came about.
func TestDraftOfWhatWasOurOwnDoing(t *testing.T) {
	said := cases.Said{
		Record:   record.Record{Name: "Saltgrass", LegalName: "Saltgrass"},
		Suspects: []risk.Suspect{{Risk: risk.Risk{Says: "Name and address were changed at once."}}},
	}
	if text := cases.Draft(
		said,
	); !strings.Contains(text, "We think that this came about by our own edits: Name and address were changed at once.") ||
		strings.Contains(text, "legal name") {
		t.Errorf("%s", text)
	}
	said.Suspects[0].Standing = true
	if text := cases.Draft(said); strings.Contains(text, "our own edits") {
		t.Errorf("what stands in the record is called an edit: %s", text)
	}
	said.Mended = []string{"the name"}
	if text := cases.Draft(said); !strings.Contains(text, "We have changed since: the name.") {
		t.Errorf("%s", text)
	}
}

// Changes that were sent: who asked, what, whether somebody looks at it first, and when it was settled.
func TestEdits(t *testing.T) {
	at := func(hours int, by string, what verification.What) verification.Event {
		return verification.Event{At: start.Add(time.Duration(hours) * time.Hour), Actor: by, What: what}
	}
	zone := time.FixedZone("there", -8*3600)
	got := cases.Edits([]verification.Event{
		at(0, "directory", verification.ChangePassed{}), // of nothing that was sent
		at(1, "Ines", verification.SendAsked{Facts: []string{"name"}}),
		at(2, "directory", verification.Sent{Met: &verification.Met{Reviewed: []string{"name"}}}),
		at(3, "directory", verification.ChangeFailed{}),
		at(4, "Oren", verification.SuggestAsked{Facts: []string{"phone"}}),
		at(5, "directory", verification.Sent{Met: &verification.Met{}}),
		at(6, "Oren", verification.SendAsked{Facts: []string{"hours"}}),
		at(7, "directory", verification.Sent{}),
		at(8, "directory", verification.ChangePassed{}),
	}, zone)
	when := func(hours int) time.Time { return start.Add(time.Duration(hours) * time.Hour) }
	want := []risk.Edit{
		{At: when(2).In(zone), By: "Ines", Changed: []string{"name"}, Settled: when(3), Looked: true},
		{At: when(5).In(zone), By: "Oren", Changed: []string{"phone"}},
		{At: when(7).In(zone), By: "Oren", Changed: []string{"hours"}, Settled: when(8)},
	}
	if !reflect.DeepEqual(got, want) {
		t.Errorf("%+v\nwant %+v", got, want)
	}
}

// The most frequent come first, of equals by name.
func TestHowCasesEndedIsInOrder(t *testing.T) {
	ended := func(directory, cause string, outcome verification.Outcome) cases.Ended {
		return cases.Ended{
			Directory: directory,
			Case:      verification.Case{Kind: verification.CaseSuspended, Cause: cause, OpenedAt: start, ClosedAt: &start, Outcome: outcome},
		}
	}
	got := cases.TookOf([]cases.Ended{
		ended("Skerry", "b", verification.Won), ended("Skerry", "a", verification.GivenUp),
		ended("Waywren", "a", verification.GivenUp), ended("Waywren", "a", verification.GivenUp),
		ended("Fernlook", "z", verification.LostIt), ended("Fernlook", "z", verification.LostIt), ended("Fernlook", "z", verification.Won),
		ended("Brasswire", "z", verification.Won), ended("Brasswire", "z", verification.LostIt),
	})
	var order []string
	for _, k := range got {
		order = append(order, k.Directory+" "+k.Cause)
	}
	if want := []string{"Fernlook z", "Brasswire z", "Waywren a", "Skerry a", "Skerry b"}; !reflect.DeepEqual(order, want) {
		t.Errorf("%v, want %v", order, want)
	}
}
