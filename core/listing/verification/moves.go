package verification

import (
	"slices"

	"uvent/core/fact/calendar"
	"uvent/core/rule/rulebook"
)

// What several kinds of events do to a state.

// begin begins an attempt, which takes the place of those under way that cannot go on beside it.
func (s *State) begin(c circumstances, attempt string, method rulebook.MethodName, to string) {
	for i := range s.Attempts {
		if a := &s.Attempts[i]; (a.UnderWay() || a.State == AttemptAsked) && a.endedBy(method, c.book) {
			a.end(AttemptReplaced, c, "")
		}
	}
	s.Attempts = append(s.Attempts, Attempt{ID: attempt, Method: method, To: to, AskedAt: c.at, AskedBy: c.by, State: AttemptAsked})
}

// review puts an attempt before somebody who decides, until the day that the directory names.
func (s *State) review(c circumstances, attempt, id string, terms *Terms) {
	a := s.Named(attempt)
	if a == nil || terms == nil || a.State != AttemptAsked && a.State != AttemptSent {
		return
	}
	w := c.until(*terms)
	a.State, a.Entering, a.ReviewID, a.CheckedAt, a.Window = AttemptReview, false, id, &c.at, &w
}

// proved is a listing of which it has been proved that we may speak for it.
func (s *State) proved(c circumstances) {
	if s.VerifiedAt != nil {
		return
	}
	for i := range s.Attempts {
		if a := &s.Attempts[i]; a.UnderWay() || a.State == AttemptAsked {
			a.end(AttemptNeedless, c, "")
		}
	}
	w := c.book.Calendar.Place().Window(c.book.Publishing.Window, c.at)
	s.VerifiedAt, s.PublicBy, s.Visibility = &c.at, &w, Publishing
}

// take is what a granted claim and a created listing have in common.
func (s *State) take(c circumstances, ref, page, says string) {
	s.Ref, s.Page, s.Access = ref, page, nil
	s.hold(c, says)
}

// heldByHand is a listing that people have made, or taken over, on the directory's
// pages. Where it asks for no proof it is verified by that.
func (s *State) heldByHand(c circumstances) {
	s.hold(c, "")
	if len(c.book.Methods) == 0 {
		s.proved(c)
	}
}

// hold is a listing that is ours from now on; says is the last word on whose it was before.
func (s *State) hold(c circumstances, says string) {
	if s.Control != Held {
		s.end(CaseHeld, "", Won, c, says)
	}
	s.Control, s.HeldBy, s.HeldSince = Held, "", &c.at
	if s.Visibility == Absent {
		s.Visibility = Hidden
	}
}

// shownAt notes a listing's page, where one is named.
func (s *State) shownAt(page string) {
	if page != "" {
		s.Page = page
	}
}

// Named is the attempt with an id; nil for none.
func (s *State) Named(id string) *Attempt {
	for i := range s.Attempts {
		if s.Attempts[i].ID == id {
			return &s.Attempts[i]
		}
	}
	return nil
}

// endedBy reports whether asking in a way ends an attempt that is under way: what the same way has sent is always replaced.
func (a Attempt) endedBy(method rulebook.MethodName, book rulebook.Rulebook) bool {
	return !book.Together || a.Method == method
}

func (a *Attempt) end(state AttemptState, c circumstances, says string) {
	a.State, a.EndedAt = state, &c.at
	if says != "" {
		a.Says = says
	}
}

// appeal is the one that is before the directory's people; nil for none.
func (s *State) appeal() *Appeal {
	if k := s.OpenCase(CaseSuspended); k != nil {
		return k.Waiting()
	}
	return nil
}

// waitFor puts a request for access before somebody, until the day that the directory names.
func (s *State) waitFor(c circumstances, id string, terms *Terms, who AccessStep) {
	a := Access{ID: id, Step: who, AskedAt: c.at, CheckedAt: &c.at}
	if terms != nil {
		w := c.until(*terms)
		a.Window = &w
	}
	s.Access = &a
}

// hear takes a no to a request for access: the holder's, or that of the directory's people.
func (s *State) hear(c circumstances, says string, holder, staff AccessStep) {
	if s.Access == nil {
		return
	}
	a := *s.Access
	a.Says, a.CheckedAt = says, &c.at
	if a.Step == StaffAsked {
		a.Step = staff
	} else {
		a.Step = holder
	}
	s.Access = &a
}

// reported takes the answer to a report of a duplicate.
func (s *State) reported(c circumstances, ref, says string, step DuplicateStep) {
	s.Duplicates = slices.Clone(s.Duplicates)
	if d := s.Report(ref); d != nil && d.Step == Reported {
		d.CheckedAt, d.Says, d.Step = c.at, says, step
	}
}

// lookedAt are those of some facts that somebody there looks at before they are taken.
func lookedAt(book rulebook.Rulebook, keys []string) []string {
	return slices.DeleteFunc(slices.Clone(keys), func(key string) bool {
		return !slices.ContainsFunc(book.Edits, func(e rulebook.Edit) bool {
			return e.SetsOff == rulebook.OffReview && slices.Contains(e.Facts, key)
		})
	})
}

// until is the wait for an answer, to the day that the directory names.
func (c circumstances) until(t Terms) calendar.Window {
	zone := c.book.Calendar.Place().Zone
	return calendar.Window{From: c.at, Earliest: calendar.DateIn(c.at, zone), Latest: calendar.DateIn(t.Expires, zone)}
}
