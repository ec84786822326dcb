package verification

import (
	"strings"
	"uvent/core/fact/prose"

	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// Changes: facts and photos that a directory is given anew, and how it meets them.

type (
	// SendAsked is that changed facts are given.
	SendAsked struct {
		asking
		still
		Facts []string `json:"facts,omitempty"` // keys of those that are changed
	}
	// SuggestAsked is that another value is suggested.
	SuggestAsked struct {
		asking
		still
		To    string   `json:"to,omitempty"`    // what the value is called
		Page  string   `json:"page,omitempty"`  // the public page that shows it
		With  string   `json:"with,omitempty"`  // whose page that is, as rulebook.PageKind has it
		Facts []string `json:"facts,omitempty"` // keys of those that are changed
	}
	// Sent is that they have it, and met it so.
	Sent struct {
		answering
		Ref    string     `json:"ref,omitempty"`    // the directory's own key of its review
		Values fit.Values `json:"values,omitempty"` // all that it has been given by now
		Facts  []string   `json:"facts,omitempty"`  // keys of those that are changed
		Met    *Met       `json:"met,omitempty"`
		Says   string     `json:"says,omitempty"`  // in words, for people
		Terms  *Terms     `json:"terms,omitempty"` // where somebody there looks at some of them first
	}
	// SendRefused is that they were not taken.
	SendRefused struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
	// ChangePassed is what was looked at has been taken.
	ChangePassed struct {
		passing
	}
	// ChangeFailed is that it has not.
	ChangeFailed struct {
		passing
		Says string `json:"says,omitempty"` // in words, for people
	}
	// ChangeWaiting is that asked: they are still looking.
	ChangeWaiting struct {
		passing
	}
	// PhotosAsked is that photos are given.
	PhotosAsked struct {
		asking
		still
		Photos int `json:"photos,omitempty"` // how many
	}
	// PhotosGiven is that they were taken.
	PhotosGiven struct {
		answering
		Photos int `json:"photos,omitempty"` // how many
	}
	// PhotosRefused is that they were not.
	PhotosRefused struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
)

var _ = family(
	of[SendAsked],
	of[SuggestAsked],
	of[Sent],
	of[SendRefused],
	of[ChangePassed],
	of[ChangeFailed],
	of[ChangeWaiting],
	of[PhotosAsked],
	of[PhotosGiven],
	of[PhotosRefused],
)

// Kind names it.
func (SendAsked) Kind() Kind { return "send_asked" }

// Kind names it.
func (SuggestAsked) Kind() Kind { return "suggest_asked" }

// Kind names it.
func (Sent) Kind() Kind { return "sent" }

// Kind names it.
func (SendRefused) Kind() Kind { return "send_refused" }

// Kind names it.
func (ChangePassed) Kind() Kind { return "change_passed" }

// Kind names it.
func (ChangeFailed) Kind() Kind { return "change_failed" }

// Kind names it.
func (ChangeWaiting) Kind() Kind { return "change_waiting" }

// Kind names it.
func (PhotosAsked) Kind() Kind { return "photos_asked" }

// Kind names it.
func (PhotosGiven) Kind() Kind { return "photos_given" }

// Kind names it.
func (PhotosRefused) Kind() Kind { return "photos_refused" }

// Tell says it in words.
func (SendAsked) Tell(rulebook.Rulebook) string { return "Sent what has changed." }

// Tell says it in words.
func (e SuggestAsked) Tell(rulebook.Rulebook) string {
	return "Suggested another " + strings.ToLower(e.To) + ", which " + e.Page + " shows."
}

// Tell says it in words.
func (e Sent) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e SendRefused) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (ChangePassed) Tell(rulebook.Rulebook) string { return "What it looked at has been taken." }

// Tell says it in words.
func (e ChangeFailed) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e ChangeWaiting) Tell(rulebook.Rulebook) string {
	return "Asked: it is still looking at the change."
}

// Tell says it in words.
func (e PhotosAsked) Tell(rulebook.Rulebook) string {
	return "Gave it " + prose.Count(e.Photos, "photo") + "."
}

// Tell says it in words.
func (PhotosGiven) Tell(rulebook.Rulebook) string { return "The photos were taken." }

// Tell says it in words.
func (e PhotosRefused) Tell(rulebook.Rulebook) string { return e.Says }

func (e Sent) happen(s *State, c circumstances) {
	s.SentAt = &c.at
	s.stands(e.Values)
	if e.Met == nil {
		return
	}
	if e.Terms != nil && len(e.Met.Reviewed) > 0 {
		s.Change = &Change{ID: e.Ref, Keys: lookedAt(c.book, e.Facts), Facts: e.Met.Reviewed, AskedAt: c.at, CheckedAt: c.at, Window: c.until(*e.Terms)}
	}
	if e.Met.Again && s.VerifiedAt != nil {
		s.VerifiedAt, s.PublicBy, s.Attempts, s.Visibility = nil, nil, nil, Hidden
	}
}

func (e SendRefused) happen(s *State, _ circumstances) { s.Trouble = e.Says }

func (ChangePassed) happen(s *State, c circumstances) {
	s.Change = nil
	s.end(CaseChange, "", Won, c, "")
}

func (e ChangeFailed) happen(s *State, c circumstances) {
	s.Change, s.Trouble = nil, e.Says
	s.open(Case{Kind: CaseChange, Notice: e.Says}, c)
}

func (ChangeWaiting) happen(s *State, c circumstances) {
	if s.Change != nil {
		ch := *s.Change
		ch.CheckedAt, s.Change = c.at, &ch
	}
}

func (e PhotosGiven) happen(s *State, c circumstances) { s.PhotosAt, s.Photos = &c.at, e.Photos }

func (e PhotosRefused) happen(s *State, _ circumstances) { s.Trouble = e.Says }

// Met is how a directory met changed facts, by what they are called.
type Met struct {
	Taken    []string          `json:"taken,omitempty"`
	Reviewed []string          `json:"reviewed,omitempty"`
	Refused  map[string]string `json:"refused,omitempty"` // and why
	Again    bool              `json:"again,omitempty"`   // a new proof is wanted
}
