// Package verification derives where a listing stands from what happened to
// it: who holds it (control), whether we have proved that we may (verification)
// and whether the public can see it (visibility). The three are kept apart.
package verification

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"uvent/core/rule/rulebook"
)

// Kind is what sort of thing happened, as the log names it.
type Kind string

// Event is one thing that happened to a listing.
type Event struct {
	At    time.Time
	Actor string // a person's name, or the directory's, or "Uvent"
	What
}

// What is what happened: a small type for each kind, in files by family. Those of requests come
// in threes: that something is asked, and the directory's yes and no.
type What interface {
	Kind() Kind
	// Tell says it in words, for people who read the listing's history.
	Tell(book rulebook.Rulebook) string
	// happen moves a state on. What does not fit the state, such as an answer for an attempt that
	// has ended, changes nothing but what it says itself.
	happen(s *State, c circumstances)
	// effect is what it means for the question that a directory is being asked.
	effect() effect
}

// circumstances are those under which something happened.
type circumstances struct {
	at   time.Time
	by   string
	book rulebook.Rulebook
}

type effect int

const (
	answers effect = iota // the directory is asked nothing any more
	asks                  // it is being asked
	beside                // it comes while the directory may be asked something
)

// Each kind embeds one of these, which says what it is to the question that is being asked.
type (
	asking    struct{}
	answering struct{}
	passing   struct{}
)

func (asking) effect() effect    { return asks }
func (answering) effect() effect { return answers }
func (passing) effect() effect   { return beside }

// still is for what changes nothing of the state itself.
type still struct{}

func (still) happen(*State, circumstances) {}

// Terms are the conditions of a code as the directory gave them on the day, or until when it
// answers.
type Terms struct {
	Digits  int       `json:"digits"`
	Tries   int       `json:"tries"`
	Expires time.Time `json:"expires"`
}

// readers read what is kept of each kind.
var readers = map[Kind]func(data []byte) (What, error){}

// family registers kinds, so that they can be read.
func family(kinds ...func() (Kind, func([]byte) (What, error))) struct{} {
	for _, k := range kinds {
		kind, read := k()
		if readers[kind] != nil {
			panic("two kinds are called " + kind)
		}
		readers[kind] = read
	}
	return struct{}{}
}

func of[W What]() (Kind, func([]byte) (What, error)) {
	var none W
	return none.Kind(), func(data []byte) (What, error) {
		var w W
		err := json.Unmarshal(data, &w)
		return w, err
	}
}

// Read reads what is kept of an event: JSON, as json.Marshal writes a What. A kind that ends as
// those of a Request do is one of these; any other that is not known is an error.
func Read(kind Kind, data []byte) (What, error) {
	read := readers[kind]
	if read == nil {
		read = readRequest(kind)
	}
	if read == nil {
		return nil, fmt.Errorf("there is no kind of event %q", kind)
	}
	w, err := read(data)
	if err != nil {
		return nil, fmt.Errorf("an event of the kind %s: %w", kind, err)
	}
	return w, nil
}

// Kinds are all that can happen to a listing, but for what is asked of and answered by a Request.
func Kinds() []Kind { return slices.Sorted(maps.Keys(readers)) }

// plus joins a sentence of ours and what a directory says.
func plus(ours, theirs string) string { return strings.TrimSpace(ours + " " + theirs) }
