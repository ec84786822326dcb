package listings

import (
	"context"
	"net/url"
	"strings"
	"time"
	"uvent/core/record/sighting"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/match"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
)

// FoundThere is what a person found on a directory that no program can search.
type FoundThere string

const (
	NothingThere FoundThere = "nothing"
	FreeThere    FoundThere = "free"
	OursThere    FoundThere = "ours"
	ElseThere    FoundThere = "held_by_another"
)

// Found records what a person's own search came to. page is the listing's page there,
// heldBy who holds it, as far as they were seen.
func (d *Desk) Found(ctx context.Context, actor people.Actor, at ledger.Place, what FoundThere, page, heldBy string) error {
	page, err := pageAddress(page)
	if err != nil {
		return err
	}
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if why := l.Book.MayList(l.Where.Record); why != "" {
			return problem.Conflictf("%s", why)
		}
		if l.State.Control == verification.Held {
			return problem.Conflictf("We hold this listing already.")
		}
		searched := verification.Searched{}
		var also verification.What
		c := verification.Candidate{
			Ref:     page,
			Page:    page,
			Verdict: match.Probably,
			Reasons: []string{"Found by " + actor.Name + "."},
			Shown:   sighting.Sighting{Name: l.Where.Record.Name},
		}
		switch what {
		case NothingThere:
		case FreeThere:
			c.Status = verification.FreeToClaim
			searched.Candidates = append(searched.Candidates, c)
		case OursThere:
			also = verification.TakenIn{Page: page}
		case ElseThere:
			if heldBy = strings.TrimSpace(heldBy); heldBy == "" {
				heldBy = "somebody else"
			}
			also = verification.ClaimRefused{HeldBy: heldBy, Ref: page, Says: l.Book.Name + " shows it as held by " + heldBy + "."}
		default:
			return &problem.Problem{Kind: problem.Invalid, Detail: "Say what was found: nothing, free, ours or held_by_another."}
		}
		if err := l.Add(ctx, searched); err != nil || also == nil {
			return err
		}
		return l.Add(ctx, also)
	})
}

// pageAddress checks a page's address as a person gave it; empty is allowed.
func pageAddress(text string) (string, error) {
	text = strings.TrimSpace(text)
	if text == "" || strings.HasPrefix(text, "/") && !strings.HasPrefix(text, "//") {
		return text, nil
	}
	if !strings.Contains(text, "://") {
		text = "https://" + text
	}
	u, err := url.Parse(text)
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" {
		return "", &problem.Problem{Kind: problem.Invalid, Detail: "That is no address of a page. Write it as https://pierbook.example/shop."}
	}
	return u.String(), nil
}

// AnswerThere is what a directory said to a person, on its pages or by letter.
type AnswerThere string

const (
	TookIn   AnswerThere = "taken_in"
	Verified AnswerThere = "verified"
	Refused  AnswerThere = "refused"
	Shows    AnswerThere = "public"
	ShowsNot AnswerThere = "not_public"
)

// Answered records what a directory answered to a person.
func (d *Desk) Answered(ctx context.Context, actor people.Actor, at ledger.Place, what AnswerThere, page, says string) error {
	page, err := pageAddress(page)
	if err != nil {
		return err
	}
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		held := l.State.Control == verification.Held
		switch {
		case what == TookIn && l.State.Control != verification.AskedFor && !held:
			return problem.Conflictf("Nothing was given to %s yet.", l.Book.Name)
		case what == Verified && !held:
			return problem.Conflictf("The listing is not held yet; claim it or bring it there first.")
		case what == Verified && l.State.VerifiedAt != nil:
			return problem.Conflictf("This listing is verified already.")
		case (what == Shows || what == ShowsNot) && l.State.VerifiedAt == nil && !held && l.Book.Worked != rulebook.Fed:
			return problem.Conflictf("The listing is not held yet; claim it or bring it there first.")
		}
		if says = strings.TrimSpace(says); says == "" && what == Refused {
			says = l.Book.Name + " said no."
		}
		switch what {
		case TookIn:
			return l.Add(ctx, verification.TakenIn{Page: page, Says: says})
		case Verified:
			return l.Add(ctx, verification.VerifiedThere{Page: page, Says: says})
		case Refused:
			return l.Add(ctx, verification.RefusedThere{Page: page, Says: says})
		case Shows:
			return l.Add(ctx, verification.SeenPublic{Page: page, Says: says})
		case ShowsNot:
			return l.Add(ctx, verification.NotSeen{Page: page, Says: says})
		}
		return &problem.Problem{Kind: problem.Invalid, Detail: "Say what they answered: taken_in, verified, refused, public or not_public."}
	})
}

// askedByHand records that a person asked for a code on the directory's own pages.
func askedByHand(ctx context.Context, l *ledger.Listing, attempt string, w verification.Way) error {
	m, ok := l.Book.Way(w.Method)
	if !ok {
		return problem.Conflictf("%s does not verify this way.", l.Book.Name)
	}
	if err := l.Add(ctx, verification.CodeAsked{Attempt: attempt, Method: w.Method, To: w.To}); err != nil {
		return err
	}
	return l.Add(ctx, verification.CodeSent{Attempt: attempt, Terms: terms(m, l.Now, l.Book.Calendar.Place())})
}

// terms are a code's as the rulebook has them, where no program can ask.
func terms(m rulebook.Method, now time.Time, place calendar.Place) *verification.Terms {
	return &verification.Terms{Digits: m.Code.Digits, Tries: m.Code.Tries, Expires: m.Lapses(now, place)}
}
