// Package handover lays out how the listings of a client that leaves us go back to it: what a program can give its owner there,
// what people have to, and what is done.
package handover

import (
	"fmt"
	"strings"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
)

// Listing is one that is ours.
type Listing struct {
	Book  *rulebook.Rulebook
	State verification.State
	Owner string // the owner's email; empty where it is not known
}

// Step is how one listing goes back.
type Step struct {
	Role string // that the owner is given by a program; empty where people hand it over
	Says string
	Done bool
	Busy bool   // it was asked for; the answer is awaited
	Not  string // why it cannot be done yet; empty where it can
}

// Of is how a listing goes back; false where nothing of ours is there. What the owner has by now is done, whoever gave it: the
// highest role that the directory knows, or else that somebody has said that it was handed over.
func Of(l Listing) (Step, bool) {
	b, s := l.Book, l.State
	if b.Worked == rulebook.Fed || s.Control != verification.Held && s.GivenAt == nil {
		return Step{}, false
	}
	if h := s.Handed; h != nil {
		return Step{Role: h.Role, Done: true, Says: handed(*h)}, true
	}
	if b.Worked == rulebook.Connected && len(b.Access.Roles) > 0 {
		step := Step{Role: b.Access.Roles[len(b.Access.Roles)-1], Busy: s.Busy == verification.RoleAsked{}.Kind()}
		step.Says = fmt.Sprintf("Give %s the role of %s; it is the most that %s gives.", orOwner(l.Owner), step.Role, b.Name)
		switch {
		case l.Owner == "":
			step.Not = "The owner’s email is not known; add it under the client."
		case s.Busy != "" && !step.Busy:
			step.Not = b.Name + " is being asked for something else just now."
		case s.Control != verification.Held:
			step.Not = "It is not held by us there."
		}
		return step, true
	}
	return Step{Says: byPeople(b, orOwner(l.Owner))}, true
}

// byPeople says what people do where no program can.
func byPeople(b *rulebook.Rulebook, owner string) string {
	switch b.Worked {
	case rulebook.Written:
		return fmt.Sprintf("Write to %s that %s speaks for it from now on.", b.Staff, owner)
	case rulebook.File:
		return fmt.Sprintf("Leave it out of the file that is handed in next, and tell %s that %s sends its own.", b.Name, owner)
	case rulebook.ByHand:
		return fmt.Sprintf("On its own pages, make %s the one who holds it.", owner)
	}
	return fmt.Sprintf("It knows one holder. Have %s ask for it there, and grant that.", owner)
}

func handed(h verification.Handed) string {
	to := h.To
	if to == "" {
		to = "the owner"
	}
	if h.Role != "" {
		return fmt.Sprintf("%s has the role of %s since %s.", to, h.Role, verification.Day(h.On))
	}
	return fmt.Sprintf("Handed over to %s on %s.", to, verification.Day(h.On))
}

func orOwner(email string) string {
	if email == "" {
		return "the owner"
	}
	return email
}

// Place is a listing in a letter.
type Place struct {
	Label, Directory, Page string
	Step
}

// Letter is what a client is told as we leave: what it has now, where, and by which accounts.
func Letter(owner, client, from string, places []Place, accounts []string) string {
	var b strings.Builder
	if owner == "" {
		owner = "all"
	}
	fmt.Fprintf(&b, "Hello %s,\n\nthese are the listings of %s, and how they are yours from now on:\n", owner, client)
	label := ""
	for _, p := range places {
		if p.Label != label {
			label = p.Label
			fmt.Fprintf(&b, "\n%s\n", label)
		}
		line := "  " + p.Directory + ": still with us; it follows."
		if p.Done {
			line = "  " + p.Directory + ": " + p.Says
		}
		if p.Page != "" {
			line += " " + p.Page
		}
		b.WriteString(line + "\n")
	}
	if len(accounts) > 0 {
		b.WriteString("\nWe worked with these accounts, and do no more:\n  " + strings.Join(accounts, "\n  ") + "\n")
	}
	fmt.Fprintf(&b, "\n%s\n", from)
	return b.String()
}

// AskOwner is what an owner is written to whose own account may hold a listing: how they hand it over, and what becomes of it.
func AskOwner(owner, client string, b *rulebook.Rulebook, heldBy, account, from string) string {
	if owner == "" {
		owner = "all"
	}
	how := fmt.Sprintf("let go of it there, or make %s the one who holds it", account)
	if n := len(b.Access.Roles); n > 0 {
		how = fmt.Sprintf("give %s the role of %s", account, b.Access.Roles[n-1])
	}
	return fmt.Sprintf(`Hello %s,

%s on %s is held by %s. If that is an account of yours, please sign in with it there and %s. It stays yours: you can take it back at any time.
If it is somebody else’s, such as an agency’s that you have left, tell us who they are, and we ask them.

%s
`, owner, client, b.Name, heldBy, how, from)
}
