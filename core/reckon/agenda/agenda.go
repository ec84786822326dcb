// Package agenda tells what to do next: what only the specialist can move, what
// waits for an owner, and what waits for a directory.
package agenda

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"
	"uvent/core/fact/prose"

	"uvent/core/fact/calendar"
	"uvent/core/listing/course"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// Group is who can move a task.
type Group string

const (
	Mine      Group = "mine"
	Owner     Group = "owner"
	Directory Group = "directory"
)

// Act is what the task's button does.
type Act string

const (
	Search    Act = "search"
	Decide    Act = "decide"
	Verify    Act = "verify"
	EnterCode Act = "enter_code"
	AskAgain  Act = "ask_again"
	LookAgain Act = "look_again"
	OpenIt    Act = "open"
	Give      Act = "give"   // bring the values there by hand
	Begin     Act = "begin"  // several listings of a location
	Argue     Act = "argue"  // see what a case needs
	Hold      Act = "hold"   // say whether a value of the listing's own still holds
	Leave     Act = "leave"  // leave the listing with the place where the location was
	Follow    Act = "follow" // have the listing say that the location has closed, moved away, or is open
)

// Listing is one location on one directory, as far as the agenda asks.
type Listing struct {
	Label  string // of the location
	Owner  string // who can read the post there; empty when not known
	Record *record.Record
	Book   *rulebook.Rulebook
	State  verification.State
	Page   *OwnerPage // the last that the owner was asked by, unless it was used or withdrawn; nil for none
}

// OwnerPage is a private page by which an owner was asked for something.
type OwnerPage struct {
	ID      string
	Task    verification.OwnerTask
	MadeAt  time.Time
	Opened  bool
	Expires time.Time
	CallAt  *time.Time // when they are to be called

	Letters    int        // that were written about it
	LastLetter *time.Time // when the last of them was
}

// Task is one thing to do or to wait for.
type Task struct {
	Kind   Kind
	Cause  string // tells one of a kind from another of the same listing; empty where there is one at most
	Group  Group
	Act    Act
	Title  string
	Says   string
	Window *calendar.Window // what it waits for
	Until  *time.Time       // when something is lost; nil for no such moment
	Loss   float64          // what a day of waiting loses: the listing's weight, jumped as Until nears
	// Changes is the moment from which another group, act or loss may hold though nothing
	// happens; nil where none will. What Says and Title count in days may change before.
	Changes *time.Time
	// Since is from when it has been so, as far as is known.
	Since time.Time
}

// For tells what a listing asks for now; false when it asks for nothing. Then the task has nothing but the moment from which
// it may ask for something though nothing happens.
func For(l Listing, now time.Time) (Task, bool) {
	t, rest := wants(l, now)
	return t, rest == ""
}

// Resting tells why a listing asks for nothing; empty where it asks for something.
func Resting(l Listing, now time.Time) Rest {
	_, rest := wants(l, now)
	return rest
}

// since is from when a task has been what it is: what was waited for did not come by the end of its window, or else something
// happened to the listing.
func since(l Listing, t Task, now time.Time) time.Time {
	if t.Window != nil {
		if end := l.Book.Calendar.Place().EndOf(*t.Window); end.Before(now) {
			return end
		}
	}
	if l.State.ChangedAt.IsZero() {
		return now
	}
	return l.State.ChangedAt
}

func wants(l Listing, now time.Time) (t Task, rest Rest) {
	if l.Book.MayList(*l.Record) != "" {
		return Task{}, NotFor
	}
	if t, rest = next(l, now); rest == "" && t.Kind.MayDecide() && l.State.HasDecided(string(t.Kind), t.Cause) {
		t, rest = Task{}, Decided
	}
	if asked, is := ofOwner(l, t, now); is && rest == "" {
		t = asked
	}
	if l.State.FromOwner != nil {
		t, rest = sent(l, t), ""
	}
	if l.State.FromStaff != nil {
		t, rest = wrote(l, t), ""
	}
	if rest != "" {
		return Task{Changes: t.Changes}, rest
	}
	t.Loss, t.Since = loss(l, t, now), since(l, t, now)
	if c := changes(l, t, now); c != nil && (t.Changes == nil || c.Before(*t.Changes)) {
		t.Changes = c
	}
	return t, ""
}

// Together is the task of beginning several listings of a location, the heaviest first.
func Together(label string, directories []string, loss float64) Task {
	return Task{
		Kind:  Several,
		Group: Mine,
		Act:   Begin,
		Title: fmt.Sprintf("Begin %d listings of %s", len(directories), label),
		Says:  some(directories) + ". Nothing is known of them yet.",
		Loss:  loss,
	}
}

// Unsent is the task of bringing listings of a location up to date with its record, the
// heaviest first.
func Unsent(label string, directories []string, loss float64) Task {
	title := label + " on " + directories[0] + " has not been given what the record says"
	says := "It has something else, or nothing yet."
	if n := len(directories); n > 1 {
		title = fmt.Sprintf("%d listings of %s have not been given what the record says", n, label)
		says = some(directories) + ". They have something else, or nothing yet."
	}
	return Task{Kind: Stale, Group: Mine, Act: Follow, Title: title, Says: says, Loss: loss}
}

// InDoubt is the task of saying whether values of a listing's own still hold, under which its record has changed.
func InDoubt(l Listing, values int) Task {
	t := Task{
		Kind:  OwnInDoubt,
		Group: Mine,
		Act:   Hold,
		Title: fmt.Sprintf("Does what %s says on %s still hold?", l.Label, l.Book.Name),
		Says:  "The record has changed under a value of the listing’s own.",
		Loss:  float64(l.Book.Weight),
	}
	if values > 1 {
		t.Says = fmt.Sprintf("The record has changed under %d values of the listing’s own.", values)
	}
	return t
}

// some are the first names of several.
func some(names []string) string {
	says := strings.Join(names[:min(3, len(names))], ", ")
	if more := len(names) - 3; more > 0 {
		says += fmt.Sprintf(" and %d more", more)
	}
	return says
}

// longOut is how long a listing is out of view before it is asked whether it still should be.
const longOut = 30 * 24 * time.Hour

func next(l Listing, now time.Time) (Task, Rest) {
	s, on := l.State, l.Label+" on "+l.Book.Name
	place, step := l.Book.Calendar.Place(), turned(l, now)
	switch {
	case s.Busy != "" && s.Trouble != "":
		return Task{Kind: Unanswered, Group: Directory, Act: OpenIt, Title: on + " is not answered", Says: s.Trouble}, ""
	case s.Busy != "":
		return Task{Kind: Asking, Group: Directory, Act: OpenIt, Title: on, Says: "Asked just now; the answer is on its way."}, ""
	case s.Control == verification.HeldByAnother:
		return access(l, place, now), ""
	case s.Control == verification.AskedFor && s.AnswerBy != nil:
		return answer(l, place, now), ""
	case s.Control != verification.Held:
		return begin(l), ""
	case step != nil && step.Act == course.Leave:
		return Task{
			Kind: AnotherPlace, Cause: brief(s.Stands.Line()), Group: Mine, Act: Leave, Title: l.Label + " wants another listing on " + l.Book.Name,
			Says: step.Says,
		}, ""
	case step != nil:
		return Task{Kind: Turned, Group: Mine, Act: Follow, Title: on + " is to be shown as " + verification.StateWord(step.To), Says: step.Says}, ""
	case s.Visibility == verification.Withdrawn:
		return withdrawn(l, now)
	case s.Visibility == verification.Suspended:
		return suspended(l, place, now), ""
	case s.Visibility == verification.Publishing:
		return publishing(l, place, now), ""
	case s.Visibility == verification.Removed:
		return Task{Kind: Gone, Group: Mine, Act: LookAgain, Title: on + " no longer shows", Says: "It was public and is gone from the page."}, ""
	case s.VerifiedAt == nil:
		return verify(l, place, now), ""
	case s.OpenCase(verification.CaseChange) != nil && s.Change == nil:
		c := s.OpenCase(verification.CaseChange)
		return Task{Kind: NotTaken, Cause: c.ID, Group: Mine, Act: Argue, Title: l.Book.Name + " did not take a change of " + l.Label, Says: c.Notice}, ""
	case s.Trouble != "":
		return Task{
			Kind:  Troubled,
			Cause: brief(s.Trouble),
			Group: Mine,
			Act:   OpenIt,
			Title: "What was last asked for " + on + " came to nothing",
			Says:  s.Trouble,
		}, ""
	}
	return second(l, now)
}

// begin is about a listing that is not ours yet.
func begin(l Listing) Task {
	s, on := l.State, l.Label+" on "+l.Book.Name
	switch {
	case s.SearchedAt == nil && l.Book.Worked != rulebook.File:
		return Task{
			Kind:  ToSearch,
			Group: Mine,
			Act:   Search,
			Title: "Look for " + on,
			Says:  "Search before anything is created. " + troubleOr(s, "Not searched yet."),
		}
	case l.Book.Worked == rulebook.Written:
		return Task{Kind: ToWrite, Group: Mine, Act: Give, Title: "Write to " + l.Book.Name + " about " + l.Label, Says: troubleOr(s, found(s))}
	case l.Book.Worked == rulebook.ByHand:
		return Task{
			Kind:  ToBring,
			Group: Mine,
			Act:   Give,
			Title: "Bring " + l.Label + " to " + l.Book.Name,
			Says:  troubleOr(s, found(s)+" A worksheet has the values."),
		}
	case l.Book.Worked == rulebook.File:
		return Task{
			Kind:  ToHandIn,
			Group: Mine,
			Act:   Give,
			Title: "Hand " + l.Label + " in to " + l.Book.Name,
			Says:  troubleOr(s, "It takes a file of all locations."),
		}
	}
	return Task{Kind: ToDecide, Group: Mine, Act: Decide, Title: "Claim or create " + on, Says: troubleOr(s, found(s))}
}

// withdrawn is about a listing that we took out of view: it is asked after once it has been out for long, and then is once
// more after as long again, if somebody decided that it stays.
func withdrawn(l Listing, now time.Time) (Task, Rest) {
	since := l.State.ChangedAt
	if l.State.WithdrawnAt != nil {
		since = *l.State.WithdrawnAt
	}
	if on := l.State.BackOn; on != nil {
		zone := l.Book.Calendar.Place().Zone
		if next := on.At(9*60, zone); now.Before(next) {
			return Task{Changes: &next}, OnPurpose
		}
		return Task{
			Kind: OutOfView, Cause: "back " + on.String(), Group: Mine, Act: OpenIt, Title: l.Label + " on " + l.Book.Name + " should show again",
			Says: troubleOr(l.State, fmt.Sprintf("It was to come back on %s, and has not. Bring it back, or say that it stays out.", verification.Day(*on))),
		}, ""
	}
	times := int(now.Sub(since) / longOut)
	next := since.Add(time.Duration(times+1) * longOut)
	if times < 1 {
		return Task{Changes: &next}, OnPurpose
	}
	days := int(now.Sub(since).Hours() / 24)
	return Task{
		Kind: OutOfView, Cause: fmt.Sprint(since.Unix(), " ", times), Group: Mine, Act: OpenIt, Changes: &next,
		Title: fmt.Sprintf("%s on %s has been out of view for %s", l.Label, l.Book.Name, prose.Count(days, "day")),
		Says:  fmt.Sprintf("“%s” Bring it back, or say that it stays out.", l.State.Withdrawal),
	}, ""
}

// sent is about what an owner has sent, and nobody has seen. What is ours to do there anyhow and may be late, or is a case,
// stays what it is, and says so first.
func sent(l Listing, other Task) Task {
	f := l.State.FromOwner
	if other.Group == Mine && (other.Until != nil || other.Act == Argue) {
		word := "The owner has sent " + f.What + ". "
		if f.Says != "" {
			word = "The owner says: “" + f.Says + "” "
		}
		other.Says = word + other.Says
		return other
	}
	if f.Says != "" {
		return Task{
			Kind: OwnerSent, Group: Mine, Act: OpenIt, Title: "The owner has answered about " + l.Label + " on " + l.Book.Name,
			Says: strings.Join(append([]string{"They say: “" + f.Says + "”"}, f.Doubts...), " "),
		}
	}
	says := "Nothing that we can read speaks against it."
	if len(f.Doubts) > 0 {
		says = strings.Join(f.Doubts, " ")
	}
	return Task{Kind: OwnerSent, Group: Mine, Act: OpenIt, Title: "The owner has sent " + f.What + " for " + l.Label + " on " + l.Book.Name, Says: says}
}

// wrote is about what a directory's staff have written, and nobody has read. What may be late, or is a case, stays what it is.
func wrote(l Listing, other Task) Task {
	f := l.State.FromStaff
	if other.Group == Mine && (other.Until != nil || other.Act == Argue || other.Kind == OwnerSent) {
		other.Says = l.Book.Name + " has written, too. " + other.Says
		return other
	}
	first, _, more := strings.Cut(f.Says, "\n")
	if more {
		first += " …"
	}
	return Task{
		Kind: StaffWrote, Cause: f.At.UTC().Format(time.RFC3339), Group: Mine, Act: OpenIt, Title: l.Book.Name + " has written about " + l.Label,
		Says: "“" + first + "” Read it, and say what it means.",
	}
}

// turned is the step by which a listing that shows is to say that the location is closed, has
// moved away, or is open again; nil where it says so.
func turned(l Listing, now time.Time) *course.Step {
	steps := course.Steps(*l.Record, course.Day(l.Book, now), course.Day(l.Book, now), []course.Listing{{Book: l.Book, State: l.State}})
	if len(steps) == 0 || steps[0].Busy {
		return nil
	}
	return &steps[0]
}

// suspended is about a listing that its directory has taken out of public view.
func suspended(l Listing, place calendar.Place, now time.Time) Task {
	on := l.Label + " on " + l.Book.Name
	c := l.State.OpenCase(verification.CaseSuspended)
	if c == nil {
		return final(l)
	}
	notice, _, _ := strings.Cut(c.Notice, "\n")
	t := Task{Kind: SuspendedNow, Cause: c.ID, Group: Mine, Act: Argue, Title: on + " is suspended", Says: notice}
	left := l.Book.Appeal.Most - len(c.Appeals)
	switch a := c.Waiting(); {
	case a != nil && place.State(a.Window, now) == calendar.Late:
		t.Kind, t.Window, t.Title = AppealLate, &a.Window, l.Book.Name+" has not answered the appeal for "+l.Label
		t.Says = fmt.Sprintf("They should have by %s.", verification.Day(a.Window.Latest))
	case a != nil:
		t.Kind, t.Group, t.Window = Appealed, Directory, &a.Window
		t.Says = fmt.Sprintf("The appeal is before their people; they answer by %s.", verification.Day(a.Window.Latest))
	case len(c.Appeals) > 0:
		t.Kind, t.Title, t.Says = AppealLost, "Appeal again for "+on, fmt.Sprintf("They said: %s %s left.", c.Says, prose.Count(left, "appeal"))
	}
	return t
}

// final is about a listing that stays suspended: it was argued to the end, or given up.
func final(l Listing) Task {
	t := Task{
		Kind:  SuspendedYet,
		Group: Mine,
		Act:   OpenIt,
		Title: l.Label + " stays suspended on " + l.Book.Name,
		Says:  "No case is open. Decide what becomes of it.",
	}
	for i := len(l.State.Cases) - 1; i >= 0; i-- {
		c := l.State.Cases[i]
		if c.Kind != verification.CaseSuspended {
			continue
		}
		t.Cause, t.Act = c.ID, Argue
		if t.Says = "No appeal is left. Decide what becomes of it."; c.Outcome == verification.GivenUp {
			t.Says = fmt.Sprintf("The case was given up: %s Decide what becomes of it.", c.Says)
		}
		break
	}
	return t
}

// second is about another listing of the same business, once ours is public.
func second(l Listing, now time.Time) (Task, Rest) {
	on, rest := l.Label+" on "+l.Book.Name, InOrder
	for _, c := range l.State.Seconds() {
		d := l.State.Report(c.Ref)
		switch {
		case l.State.HasDecided(string(Second), brief(c.Ref)):
			rest = Decided
		case d == nil || d.Step == verification.Stays:
			t := Task{
				Kind:  Second,
				Cause: brief(c.Ref),
				Group: Mine,
				Act:   OpenIt,
				Title: on + " has a second listing",
				Says:  fmt.Sprintf("“%s”, %s. Have it merged, or say that it is another business.", c.Shown.Name, c.Shown.Address.Line()),
			}
			if d != nil {
				t.Says = fmt.Sprintf("“%s”, %s, stays: %s", c.Shown.Name, c.Shown.Address.Line(), d.Says)
			}
			return t, ""
		case d.Step == verification.Reported:
			t := Task{
				Kind:   SecondTold,
				Cause:  c.Ref,
				Group:  Directory,
				Act:    OpenIt,
				Title:  on,
				Window: &d.Window,
				Says:   fmt.Sprintf("A second listing was reported; they answer by %s.", verification.Day(d.Window.Latest)),
			}
			if l.Book.Calendar.Place().State(d.Window, now) == calendar.Late {
				t.Kind, t.Group, t.Title = SecondLate, Mine, l.Book.Name+" has not answered about the second listing of "+l.Label
			}
			return t, ""
		}
	}
	return Task{}, rest
}

// access is about a listing that somebody else holds.
func access(l Listing, place calendar.Place, now time.Time) Task {
	s, on := l.State, l.Label+" on "+l.Book.Name
	a := s.Access
	t := Task{Kind: Elsewhere, Group: Mine, Act: OpenIt, Title: on + " is held by someone else", Says: "Held by " + s.HeldBy + ". Ask them for access."}
	if a == nil {
		return t
	}
	t.Says = a.Says
	switch {
	case a.Waiting():
		t.Window = a.Window
		who := s.HeldBy
		if a.Step == verification.StaffAsked {
			who = l.Book.Name
		}
		if t.Says = fmt.Sprintf("Asked %s; %s should answer.", verification.When(a.AskedAt, now, verification.ZoneOf(*l.Record, *l.Book)), who); a.Window == nil {
			break
		}
		if t.Kind, t.Group, t.Title = AccessAsked, Directory, on; place.State(*a.Window, now) == calendar.Late {
			t.Kind, t.Group, t.Title = AccessLate, Mine, who+" has not answered about "+on
		}
		t.Says = fmt.Sprintf("%s should answer by %s.", who, verification.Day(a.Window.Latest))
	case a.Step == verification.StaffRefused:
		t.Kind, t.Title, t.Says = AccessNo, l.Book.Name+" will not hand "+on+" over", troubleOr(s, a.Says)
	case l.Book.Access.Escalate.Unit != "":
		t.Kind, t.Title = AccessNo, "Put "+on+" before the people of "+l.Book.Name
	}
	return t
}

// answer waits for a directory's staff.
func answer(l Listing, place calendar.Place, now time.Time) Task {
	s := l.State
	t := Task{
		Kind:   StaffAsked,
		Group:  Directory,
		Act:    OpenIt,
		Title:  l.Label + " on " + l.Book.Name,
		Window: s.AnswerBy,
		Says: fmt.Sprintf(
			"Written to them %s; they answer by %s.",
			verification.When(*s.GivenAt, now, verification.ZoneOf(*l.Record, *l.Book)),
			verification.Day(s.AnswerBy.Latest),
		),
	}
	if place.State(*s.AnswerBy, now) == calendar.Late {
		t.Kind, t.Group, t.Act, t.Title = StaffLate, Mine, Give, l.Book.Name+" has not answered about "+l.Label
		t.Says = fmt.Sprintf("They should have by %s. Look whether it shows, or write again.", verification.Day(s.AnswerBy.Latest))
	}
	return t
}

func troubleOr(s verification.State, otherwise string) string {
	if s.Trouble != "" {
		return s.Trouble
	}
	return otherwise
}

func found(s verification.State) string {
	switch n := len(s.Candidates); n {
	case 0:
		return "Searched: nothing like it is there."
	case 1:
		return "Searched: one listing may be it."
	default:
		return fmt.Sprintf("Searched: %d listings may be it.", n)
	}
}

func publishing(l Listing, place calendar.Place, now time.Time) Task {
	s := l.State
	t := Task{
		Kind:   ToShow,
		Window: s.PublicBy,
		Act:    LookAgain,
		Group:  Directory,
		Title:  l.Label + " on " + l.Book.Name,
		Says: fmt.Sprintf(
			"Verified %s; public by %s.",
			verification.When(s.PublicBy.From, now, verification.ZoneOf(*l.Record, *l.Book)),
			verification.Day(s.PublicBy.Latest),
		),
	}
	if place.State(*s.PublicBy, now) == calendar.Late {
		days := calendar.DateOf(now.In(place.Zone)).Number() - calendar.DateOf(s.PublicBy.From.In(place.Zone)).Number()
		t.Kind, t.Group = ShowLate, Mine
		t.Title = fmt.Sprintf("%s was verified %s ago and isn’t public on %s", l.Label, prose.Count(days, "day"), l.Book.Name)
		t.Says = fmt.Sprintf("Their window ended on %s. Look again, or ask them.", verification.Day(s.PublicBy.Latest))
	}
	return t
}

func verify(l Listing, place calendar.Place, now time.Time) Task {
	s, on := l.State, l.Label+" on "+l.Book.Name
	zone := verification.ZoneOf(*l.Record, *l.Book)
	a := s.Attempt()
	if a == nil {
		t := Task{Kind: ToVerify, Group: Mine, Act: Verify, Title: "Verify " + on, Says: troubleOr(s, "Held, not verified. Nothing shows until it is.")}
		if s.Visibility == verification.Public {
			t.Kind, t.Says = Unproved, troubleOr(s, "It shows, and nobody has proved that it is ours: it can be lost to whoever does.")
		}
		return t
	}
	if a.State == verification.AttemptReview && a.Window != nil {
		t := Task{
			Kind:   InReview,
			Group:  Directory,
			Act:    OpenIt,
			Title:  on,
			Window: a.Window,
			Says:   fmt.Sprintf("In review by %s; they answer by %s.", l.Book.Name, verification.Day(a.Window.Latest)),
		}
		if place.State(*a.Window, now) == calendar.Late {
			t.Kind, t.Group, t.Title, t.Says = ReviewLate, Mine, l.Book.Name+" has not decided on "+l.Label, fmt.Sprintf(
				"They should have by %s. Ask them, or choose another way.",
				verification.Day(a.Window.Latest),
			)
		}
		return t
	}
	if !a.Live() {
		t := Task{Kind: ToAskAgain, Cause: a.ID, Group: Mine, Act: AskAgain, Title: "Ask for another code for " + on}
		switch a.State {
		case verification.AttemptLapsed:
			t.Says = fmt.Sprintf("The code by %s stopped working on %s.", how(a.Method), verification.Day(calendar.DateOf(a.Expires.In(zone))))
		case verification.AttemptUsedUp:
			t.Says = fmt.Sprintf("No tries are left for the code by %s.", how(a.Method))
		default:
			t.Says = troubleOr(s, cmp.Or(a.Says, "The last one came to nothing."))
		}
		return t
	}
	t := Task{Kind: CodeAtHand, Cause: a.ID, Act: EnterCode, Window: a.Window, Until: &a.Expires, Title: "Enter the code for " + on}
	stops := fmt.Sprintf("The code stops working %s.", in(a.Expires, now, zone))
	owner := l.Owner
	if owner == "" {
		owner = "the owner"
	}
	switch {
	case a.ArrivedAt != nil:
		t.Group, t.Says = Mine, fmt.Sprintf("The %s came %s. %s", how(a.Method), verification.When(*a.ArrivedAt, now, zone), stops)
	case place.State(*a.Window, now) == calendar.Before:
		t.Kind, t.Group, t.Title = CodeComes, Directory, on
		t.Says = fmt.Sprintf("Postcard asked for %s; there from %s.", verification.When(a.AskedAt, now, zone), verification.Day(a.Window.Earliest))
	case place.State(*a.Window, now) == calendar.Due:
		t.Kind, t.Group, t.Title = CodeDue, Owner, "Postcard for "+on
		t.Says = fmt.Sprintf("Due by %s. Has %s got it?", verification.Day(a.Window.Latest), owner)
	default:
		t.Kind, t.Group, t.Act, t.Title = CodeLate, Mine, AskAgain, "The postcard for "+on+" is late"
		t.Says = fmt.Sprintf("It was due by %s. Ask %s, then ask for another.", verification.Day(a.Window.Latest), owner)
	}
	return t
}

func how(m rulebook.MethodName) string {
	switch m {
	case rulebook.Postcard:
		return "postcard"
	case rulebook.Call:
		return "call"
	case rulebook.Text:
		return "text"
	}
	return "email"
}

// Sort puts what loses most by waiting first; equal tasks by title.
func Sort[T any](tasks []T, of func(T) Task) {
	slices.SortStableFunc(tasks, func(a, b T) int {
		return cmp.Or(cmp.Compare(of(b).Loss, of(a).Loss), cmp.Compare(of(a).Title, of(b).Title))
	})
}
