package listings

import (
	"fmt"
	"strings"

	"uvent/core/listing/course"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// accessSays is how a request for access stands, in words; what has to be done, where it
// cannot be asked for through the directory.
func accessSays(e verification.Event, name string) string {
	switch e.Kind {
	case verification.AccessAsked:
		return "Asked its holder for the listing."
	case verification.AccessBegun:
		return name + " has passed the request on."
	case verification.StillNoAccess:
		return "Asked: there is no answer yet."
	case verification.EscalateAsked:
		return fmt.Sprintf("Put it before the people of %s, with %s.", name, e.To)
	case verification.EscalateBegun:
		return "They are looking into it."
	}
	return e.Says
}

// offeredSays is what the directory offered when one of its ways was asked for.
func offeredSays(e verification.Event) string {
	if len(e.Offered) == 0 {
		return ""
	}
	titles := make([]string, len(e.Offered))
	for i, m := range e.Offered {
		titles[i] = strings.ToLower(verification.Title(m))
	}
	return " Offered then: " + strings.Join(titles, ", ") + "."
}

// Describe says an event in words, for the listing's history.
func Describe(e verification.Event, book rulebook.Rulebook) string {
	switch e.Kind {
	case verification.SearchAsked:
		return strings.TrimSpace("Searched " + book.Name + ". " + e.Says)
	case verification.Searched:
		switch len(e.Candidates) {
		case 0:
			return "Found nothing like it."
		case 1:
			return "Found one listing that may be it."
		}
		return fmt.Sprintf("Found %d listings that may be it.", len(e.Candidates))
	case verification.ClaimAsked:
		return "Claimed a listing that was there."
	case verification.ClaimGranted:
		return "The claim was granted."
	case verification.CreateAsked:
		return "Created a listing from the record."
	case verification.Created:
		return "The listing was taken in."
	case verification.CodeAsked:
		return fmt.Sprintf("Asked for a code: %s to %s.", verification.Title(e.Method), e.To) + offeredSays(e)
	case verification.CodeSent:
		return "The code was sent."
	case verification.CodeArrived:
		return "The code is in hand."
	case verification.CodeEntered:
		return "Entered a code."
	case verification.CodeAccepted:
		return "The code was right: verified."
	case verification.AttemptExpired:
		return "The code stopped working."
	case verification.ReviewAsked:
		return fmt.Sprintf("Asked for verification: %s, with %s.", strings.ToLower(verification.Title(e.Method)), e.To) + offeredSays(e)
	case verification.ReviewBegun:
		return "They are looking into it."
	case verification.SecondLook:
		return "The code was right; they take a second look."
	case verification.StillInReview:
		return "Asked: they are still looking into it."
	case verification.ReviewPassed:
		return "They said yes: verified."
	case verification.CopyAsked:
		return "Asked it to copy the listing from another directory."
	case verification.Copied:
		return "Copied, as far as it carries."
	case verification.PhotosAsked:
		return fmt.Sprintf("Gave it %d photos.", e.Photos)
	case verification.PhotosGiven:
		return "The photos were taken."
	case verification.Given:
		switch e.How {
		case verification.ByLetter:
			return fmt.Sprintf("Wrote to %s, with %d values.", e.To, len(e.Values))
		case verification.ByFile:
			return "Handed it in with a file."
		}
		return fmt.Sprintf("Gave %d values by hand.", len(e.Values))
	case verification.DuplicateAsked:
		return "Reported a second listing."
	case verification.DuplicateBegun:
		return "They are looking into the second listing."
	case verification.DuplicateWaiting:
		return "Asked: there is no answer on the second listing yet."
	case verification.LinkMade:
		if e.To == "" {
			return "Made a private page for the owner: " + e.Says + "."
		}
		return "Wrote to " + e.To + " with a private page: " + e.Says + "."
	case verification.LinkOpened:
		return "Opened the private page."
	case verification.LinkWithdrawn:
		return "Withdrew the private page."
	case verification.SendAsked:
		return "Sent what has changed."
	case verification.SuggestAsked:
		return "Suggested another " + strings.ToLower(e.To) + ", which " + e.Page + " shows."
	case verification.RoleAsked:
		return "Gave " + e.To + " the role of " + e.Says + "."
	case verification.WithdrawAsked:
		return "Took it out of public view: " + e.Says
	case verification.MarkAsked:
		return "Asked for it to be shown as " + course.Word(record.StateKind(e.To)) + "."
	case verification.MarkedThere:
		return "It is shown as " + course.Word(record.StateKind(e.To)) + "."
	case verification.ToldThere:
		return "Told them that it is " + course.Word(record.StateKind(e.To)) + "."
	case verification.WithdrawnThere:
		return "It is out of public view."
	case verification.BackAsked:
		return "Brought it back into public view."
	case verification.BackThere:
		return "It will show again."
	case verification.SuspendedThere:
		return "Suspended. " + e.Says
	case verification.AppealAsked:
		if e.To == "" {
			return "Appealed, without a paper."
		}
		return "Appealed, with the " + e.To + "."
	case verification.AppealBegun:
		return "The appeal is before their people."
	case verification.AppealWaiting:
		return "Asked: they have not decided on the appeal."
	case verification.AppealGranted:
		return "The appeal is granted. " + e.Says
	case verification.AppealRefused:
		return "The appeal is refused. " + e.Says
	case verification.CaseDropped:
		return strings.TrimSpace("Gave the case up. " + e.Says)
	case verification.RoleGiven:
		return "It was taken."
	case verification.ChangePassed:
		return "What it looked at has been taken."
	case verification.ChangeWaiting:
		return "Asked: it is still looking at the change."
	case verification.AccessAsked, verification.AccessBegun, verification.StillNoAccess, verification.EscalateAsked, verification.EscalateBegun:
		return accessSays(e, book.Name)
	case verification.TakenIn:
		return "Its staff have taken it in."
	case verification.VerifiedThere:
		return "Verified on their own pages."
	case verification.SeenPublic:
		return "Looked: the listing is public."
	case verification.NotSeen:
		return "Looked: the listing does not show."
	}
	return e.Says
}
