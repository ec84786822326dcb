// Package cases tells what is to be done about trouble on a listing: the steps of a case
// in their order, and the first words of an appeal. All kinds of trouble have one shape;
// which steps there are depends on the kind and on the directory's rulebook.
package cases

import (
	"fmt"
	"slices"
	"strings"
	"uvent/core/fact/prose"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
)

// StepState is how far a step is.
type StepState string

const (
	Done  StepState = "done"
	Now   StepState = "now"   // it is our turn
	Waits StepState = "waits" // it is somebody else's
	Later StepState = "later"
	Left  StepState = "left" // it was not done, and the case has ended
)

// Act is where a step is done.
type Act string

const (
	InRecord Act = "record"
	BySend   Act = "send"
	InPapers Act = "papers"
	ByAppeal Act = "appeal"
	ByLook   Act = "look"
	ThereIt  Act = "listing" // on the listing's own page
)

// Step is one thing to do about a case.
type Step struct {
	Title  string
	Says   string
	State  StepState
	Act    Act
	Fact   string // the key of the record's fact that is concerned
	Window *calendar.Window
}

// Facts are what the steps of a case depend on.
type Facts struct {
	Case     verification.Case
	State    verification.State
	Book     *rulebook.Rulebook
	Suspects []risk.Suspect
	Unsent   int  // values that the record has otherwise than the directory was given
	Paper    bool // there is a paper of a kind that the directory takes, and nothing speaks against it
	Mended   bool // what they may have minded was changed in the record while the case was open
	Sent     bool // the directory was given changed values while the case was open
}

// Title names a kind of trouble.
func Title(kind verification.CaseKind) string {
	return map[verification.CaseKind]string{verification.CaseSuspended: "Suspended", verification.CaseRemoved: "No longer shows",
		verification.CaseDuplicate: "A second listing",
		verification.CaseHeld:      "Held by another", verification.CaseChange: "A change was refused"}[kind]
}

// Steps are those of a case, in their order. Of one that has ended only what was done is
// left.
func Steps(f Facts) []Step {
	var out []Step
	switch f.Case.Kind {
	case verification.CaseSuspended:
		if !f.Case.Open() {
			return ended(f)
		}
		out = suspended(f)
	case verification.CaseRemoved:
		out = []Step{{Title: "Look again", Says: "Pages are down now and then.", Act: ByLook, State: Now},
			{Title: "Search for it", Says: "It may have been merged into another, or taken down as a duplicate.", Act: ThereIt, State: Later}}
	case verification.CaseDuplicate:
		out = []Step{{Title: "Report it", State: Done, Act: ThereIt}, {Title: "Their answer", Act: ThereIt, State: Waits}}
		if r := f.State.Report(f.Case.Other); r != nil {
			out[1].Window, out[1].Says = &r.Window, r.Says
		}
	case verification.CaseHeld:
		out = held(f)
	case verification.CaseChange:
		out = []Step{{Title: "Mend the record", Says: f.Case.Notice, Act: InRecord, State: Now}, {Title: "Send it again", Act: BySend, State: Later}}
		if f.Unsent > 0 {
			out[0].State, out[1].State = Done, Now
		}
		if f.State.Change != nil {
			out[0].State, out[1].State, out[1].Window = Done, Waits, &f.State.Change.Window
		}
	}
	if !f.Case.Open() {
		closed(f.Case, out)
	}
	return out
}

// closed are the steps of a case that has ended: of one that was not won, those that were not done are left.
func closed(c verification.Case, steps []Step) {
	for i := range steps {
		s := &steps[i]
		switch s.Window = nil; {
		case c.Outcome == verification.Won:
			s.State = Done
		case s.State == Done:
		default:
			s.State = Left
		}
	}
}

// ended are the steps of a suspension that is over, by what was done while the case was open, whatever has happened since.
func ended(f Facts) []Step {
	c := f.Case
	done := func(is bool) StepState {
		if is {
			return Done
		}
		return Left
	}
	minded := slices.ContainsFunc(c.Causes, func(k verification.Cause) bool { return k.Standing && !k.Words })
	mend := Step{Title: "Mend what they may mind", Act: InRecord, State: done(f.Mended || !minded), Says: "Nothing in the record spoke against it."}
	switch {
	case f.Mended:
		mend.Says = "It was changed in the record."
	case minded:
		mend.Says = "It stayed as it was."
	}
	send := Step{Title: "Send what was mended", Act: BySend, State: done(f.Sent || !f.Mended), Says: "Nothing was mended that had to be sent."}
	switch {
	case f.Sent:
		send.Says = "They were given what the record said then."
	case f.Mended:
		send.Says = "They were not given it."
	}
	out := []Step{mend, send}
	if len(f.Book.Appeal.Papers) > 0 {
		with := slices.ContainsFunc(c.Appeals, func(a verification.Appeal) bool { return a.Papers != "" })
		p := Step{Title: "Have a paper at hand", Act: InPapers, State: done(with), Says: "None went with an appeal."}
		if with {
			p.Says = "It went with the appeal."
		}
		out = append(out, p)
	}
	if n := len(c.Appeals); n > 0 {
		appeal := Step{Title: "Appeal", Act: ByAppeal, State: Done, Says: fmt.Sprintf("Argued %s.", prose.Count(n, "time"))}
		if last := c.Appeals[n-1].Says; last != "" {
			appeal.Says += " They said: " + last
		}
		out = append(out, appeal)
	} else if f.Book.Appeal.Most > 0 {
		out = append(out, Step{Title: "Appeal", Act: ByAppeal, State: Left, Says: "It was not argued."})
	}
	return append(out, Step{Title: "See that it shows", Act: ByLook, State: done(c.Outcome == verification.Won)})
}

func suspended(f Facts) (out []Step) {
	mend := Step{Title: "Mend what they may mind", State: Done, Act: InRecord, Says: "Nothing in the record speaks against it."}
	for _, x := range f.Suspects {
		if x.Standing && x.ByPaper && f.Paper {
			mend.Says = "A paper answers what they may mind."
		}
		if x.Standing && !(x.ByPaper && f.Paper) && !x.Words {
			mend.State, mend.Says = Now, x.Mend
			if len(x.Facts) > 0 {
				mend.Fact = x.Facts[0]
			}
			break
		}
	}
	out = append(out, mend)
	send := Step{Title: "Send what was mended", Act: BySend, State: Done, Says: "They have what the record says."}
	if f.Unsent > 0 {
		send.State, send.Says = Now, fmt.Sprintf("%d values are not sent yet.", f.Unsent)
		if f.Unsent == 1 {
			send.Says = "1 value is not sent yet."
		}
	}
	if c := f.State.Change; c != nil {
		send.State, send.Says, send.Window = Waits, "They look at "+strings.Join(c.Facts, ", ")+" first.", &c.Window
	}
	out = append(out, send)
	a := f.Book.Appeal
	if a.Most == 0 {
		return append(
			out,
			Step{Title: "Write to " + f.Book.Name, Says: "It hears no appeals. Once what they mind is mended, ask them to look again.", State: Now, Act: ThereIt},
		)
	}
	if len(a.Papers) > 0 {
		p := Step{Title: "Have a paper at hand", Act: InPapers, State: Now, Says: "There is none that shows the business at its address and agrees with the record."}
		if f.Paper {
			p.State, p.Says = Done, "It agrees with the record."
		}
		out = append(out, p)
	}
	n := len(f.Case.Appeals)
	appeal := Step{
		Title: "Appeal",
		Act:   ByAppeal,
		State: Now,
		Says:  fmt.Sprintf("%s; %s, %d in all.", strings.ToUpper(a.How[:1])+a.How[1:], rulebook.Span(a.Window), a.Most),
	}
	if n == 1 && a.Most > 1 && f.Case.Waiting() == nil {
		appeal.Title, appeal.Says = "Appeal again", fmt.Sprintf("They said: %s %d of %d appeals are left.", f.Case.Appeals[0].Says, a.Most-n, a.Most)
	}
	if w := f.Case.Waiting(); w != nil {
		appeal.State, appeal.Window, appeal.Says = Waits, &w.Window, "Before their people."
	}
	for _, s := range out {
		if s.State != Done && appeal.State == Now {
			appeal.State = Later
		}
	}
	return append(out, appeal, Step{Title: "See that it shows", Act: ByLook, State: Later})
}

func held(f Facts) []Step {
	ask := Step{Title: "Ask its holder", Act: ThereIt, State: Now}
	people := Step{Title: "Put it before " + f.Book.Name, Act: ThereIt, State: Later}
	a := f.State.Access
	switch {
	case a == nil:
	case a.Step == verification.HolderAsked:
		ask.State, ask.Window = Waits, a.Window
	case a.Step == verification.StaffAsked:
		ask.State, people.State, people.Window = Done, Waits, a.Window
	default:
		ask.State, ask.Says, people.State = Done, a.Says, Now
	}
	if f.Book.Access.Escalate.Unit == "" {
		return []Step{ask}
	}
	return []Step{ask, people}
}

// First is the step of a case that is to be done or waited for now; nil where there is
// none.
func First(steps []Step) *Step {
	for _, state := range []StepState{Now, Waits} {
		for i := range steps {
			if steps[i].State == state {
				return &steps[i]
			}
		}
	}
	return nil
}
