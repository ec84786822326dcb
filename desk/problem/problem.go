// Package problem is what cannot be done, in words for the person who asked.
package problem

import (
	"fmt"
	"strings"
	"time"

	"uvent/core/record/record"
)

// Kind sorts problems by what the caller can do about them.
type Kind int

const (
	Invalid   Kind = iota // the input must be mended
	NotFound              // there is no such thing
	Conflict              // not as things stand
	TooMany               // wait before asking again
	Denied                // the sign-in is wrong
	Forbidden             // not to this person, or not yet
	TooLarge              // more than is taken
	Busy                  // too much is going on; ask again soon
)

// Problem is a request that cannot be done, in words for the person who asked.
type Problem struct {
	Kind   Kind
	Detail string
	Fields []record.Problem // the input's faults, where Kind is Invalid
	After  time.Duration    // when to ask again, where Kind is TooMany or Busy
}

// Error is the problem in words.
func (p *Problem) Error() string { return p.Detail }

// Fields is the problem of facts that must be mended.
func Fields(fields []record.Problem) *Problem {
	if len(fields) == 1 {
		return &Problem{Kind: Invalid, Detail: "One fact cannot be kept as it is.", Fields: fields}
	}
	return &Problem{Kind: Invalid, Detail: fmt.Sprintf("%d facts cannot be kept as they are.", len(fields)), Fields: fields}
}

// Conflictf is the problem that something cannot be done as things stand.
func Conflictf(format string, a ...any) *Problem {
	return &Problem{Kind: Conflict, Detail: fmt.Sprintf(format, a...)}
}

// Sentence writes an error as a sentence.
func Sentence(s string) string { return strings.ToUpper(s[:1]) + s[1:] + "." }
