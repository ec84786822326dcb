package verification

import (
	"encoding/json"
	"strings"

	"uvent/core/rule/rulebook"
)

// A request that changes nothing of where the listing stands has these kinds: what is asked, that
// it was done, and that it was not. Of names the request: "say" has say_asked and say_refused.
type (
	// Asked is that the directory is asked.
	Asked struct {
		asking
		still
		Of   string `json:"-"`
		To   string `json:"to,omitempty"`
		Says string `json:"says,omitempty"` // what for, in a sentence
	}
	// Done is its yes.
	Done struct {
		answering
		still
		Of   string `json:"-"`
		Says string `json:"says,omitempty"`
	}
	// RefusedIt is its no.
	RefusedIt struct {
		answering
		Of   string `json:"-"`
		Says string `json:"says,omitempty"`
	}
)

// done is what the kinds that mean done are called; where one is not named, it ends in _done.
var done = map[string]Kind{"say": "said_there"}

// Kind names it.
func (e Asked) Kind() Kind { return Kind(e.Of + "_asked") }

// Kind names it.
func (e Done) Kind() Kind {
	if k, ok := done[e.Of]; ok {
		return k
	}
	return Kind(e.Of + "_done")
}

// Kind names it.
func (e RefusedIt) Kind() Kind { return Kind(e.Of + "_refused") }

// Tell says it in words.
func (e Asked) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e Done) Tell(rulebook.Rulebook) string {
	if e.Says == "" {
		return "It was taken."
	}
	return e.Says
}

// Tell says it in words.
func (e RefusedIt) Tell(rulebook.Rulebook) string { return e.Says }

func (e RefusedIt) happen(s *State, _ circumstances) { s.Trouble = e.Says }

// readRequest reads the kinds of a request of its own; nil for a kind that is none.
func readRequest(kind Kind) func([]byte) (What, error) {
	name := string(kind)
	for of, k := range done {
		if k == kind {
			name = of + "_done"
		}
	}
	of, step, ok := cutLast(name, "_")
	if !ok {
		return nil
	}
	switch step {
	case "asked":
		return readAs(func(e *Asked) { e.Of = of })
	case "done":
		return readAs(func(e *Done) { e.Of = of })
	case "refused":
		return readAs(func(e *RefusedIt) { e.Of = of })
	}
	return nil
}

func cutLast(s, sep string) (before, after string, found bool) {
	i := strings.LastIndex(s, sep)
	if i < 0 {
		return s, "", false
	}
	return s[:i], s[i+len(sep):], true
}

func readAs[W What](name func(*W)) func([]byte) (What, error) {
	return func(data []byte) (What, error) {
		var e W
		err := json.Unmarshal(data, &e)
		name(&e)
		return e, err
	}
}
