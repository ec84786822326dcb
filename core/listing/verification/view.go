package verification

import (
	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// View: a listing is taken out of public view and brought back, and shown as closed or moved.

type (
	// WithdrawAsked is that it is to go out of public view.
	WithdrawAsked struct {
		asking
		still
		Says string         `json:"says,omitempty"` // why
		Back *calendar.Date `json:"back,omitempty"` // the day on which it is to show again; nil: nobody has said
	}
	// WithdrawnThere is that it is out of view.
	WithdrawnThere struct {
		answering
		Says string `json:"says,omitempty"` // why
		To   string `json:"to,omitempty"`   // the state of the location that it shows no more for

		Back *calendar.Date `json:"back,omitempty"` // the day on which it is to show again
	}
	// BackAsked is that it is to show again.
	BackAsked struct{ asking }
	// BackThere is that it will.
	BackThere struct {
		answering
	}
	// ViewRefused is that neither was done.
	ViewRefused struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
	// MarkAsked is that it is to be shown as closed, moved or open.
	MarkAsked struct {
		asking
		still
		To string `json:"to,omitempty"` // a state of the location; empty: open
	}
	// MarkedThere is that it is.
	MarkedThere struct {
		answering
		To string `json:"to,omitempty"` // a state of the location; empty: open
	}
	// MarkRefused is that it is not.
	MarkRefused struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
	// ToldThere is that somebody told them in words.
	ToldThere struct {
		answering
		To string `json:"to,omitempty"` // a state of the location; empty: open
	}
)

var _ = family(
	of[WithdrawAsked],
	of[WithdrawnThere],
	of[BackAsked],
	of[BackThere],
	of[ViewRefused],
	of[MarkAsked],
	of[MarkedThere],
	of[MarkRefused],
	of[ToldThere],
)

// Kind names it.
func (WithdrawAsked) Kind() Kind { return "withdraw_asked" }

// Kind names it.
func (WithdrawnThere) Kind() Kind { return "withdrawn_there" }

// Kind names it.
func (BackAsked) Kind() Kind { return "back_asked" }

// Kind names it.
func (BackThere) Kind() Kind { return "back_there" }

// Kind names it.
func (ViewRefused) Kind() Kind { return "view_refused" }

// Kind names it.
func (MarkAsked) Kind() Kind { return "mark_asked" }

// Kind names it.
func (MarkedThere) Kind() Kind { return "marked_there" }

// Kind names it.
func (MarkRefused) Kind() Kind { return "mark_refused" }

// Kind names it.
func (ToldThere) Kind() Kind { return "told_there" }

// Tell says it in words.
func (e WithdrawAsked) Tell(rulebook.Rulebook) string {
	if e.Back != nil {
		return "Took it out of public view until " + Day(*e.Back) + ": " + e.Says
	}
	return "Took it out of public view: " + e.Says
}

// Tell says it in words.
func (WithdrawnThere) Tell(rulebook.Rulebook) string { return "It is out of public view." }

// Tell says it in words.
func (BackAsked) Tell(rulebook.Rulebook) string { return "Brought it back into public view." }

// Tell says it in words.
func (BackThere) Tell(rulebook.Rulebook) string { return "It will show again." }

// Tell says it in words.
func (e ViewRefused) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e MarkAsked) Tell(rulebook.Rulebook) string {
	return "Asked for it to be shown as " + stateWord(e.To) + "."
}

// Tell says it in words.
func (e MarkedThere) Tell(rulebook.Rulebook) string { return "It is shown as " + stateWord(e.To) + "." }

// Tell says it in words.
func (e MarkRefused) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e ToldThere) Tell(rulebook.Rulebook) string {
	return "Told them that it is " + stateWord(e.To) + "."
}

func (e WithdrawnThere) happen(s *State, c circumstances) {
	s.WithdrawnAt, s.BackOn, s.BackTried = &c.at, e.Back, false
	s.Withdrawal, s.Visibility, s.Marked = e.Says, Withdrawn, record.StateKind(e.To)
}

func (BackAsked) happen(s *State, _ circumstances) { s.BackTried = true }

func (BackThere) happen(s *State, c circumstances) {
	if s.Visibility == Withdrawn { // it shows as soon as it did when it was new
		w := c.book.Calendar.Place().Window(c.book.Publishing.Window, c.at)
		s.Withdrawal, s.WithdrawnAt, s.BackOn, s.Visibility, s.PublicBy, s.Marked = "", nil, nil, Publishing, &w, ""
	}
}

func (e ViewRefused) happen(s *State, _ circumstances) { s.Trouble = e.Says }

func (e MarkedThere) happen(s *State, _ circumstances) { s.Marked = record.StateKind(e.To) }

func (e MarkRefused) happen(s *State, _ circumstances) { s.Trouble = e.Says }

func (e ToldThere) happen(s *State, _ circumstances) { s.Marked = record.StateKind(e.To) }
