package listings

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// Insisting is what whoever asks has seen, and asks all the same.
type Insisting struct {
	Despite bool   // a paper is sent whatever speaks against it
	Instead string // id of the attempt under way, which ends; empty: none may end
	Payer   string // whose card is charged, who has confirmed that: a name; empty: nothing may be charged
}

// AskCode asks a directory to verify by a method that is open: to send a code, or to
// decide. A paper in which they are likely to mind something is not sent, and nothing that is under way is ended.
func (d *Desk) AskCode(ctx context.Context, actor people.Actor, at ledger.Place, method rulebook.MethodName) (call uuid.UUID, err error) {
	return d.AskInsisting(ctx, actor, at, method, Insisting{})
}

// AskInsisting asks as AskCode does, whatever has been seen.
func (d *Desk) AskInsisting(
	ctx context.Context, actor people.Actor, at ledger.Place, method rulebook.MethodName, seen Insisting,
) (call uuid.UUID, err error) {
	offered, err := d.Offered(ctx, at, 10*time.Second)
	if err != nil {
		return call, err
	}
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		call, err = d.AskIn(ctx, l, method, offered, seen)
		return err
	})
	return call, err
}

// AskIn asks as AskInsisting does, in a transaction in which more is done. offered is what the directory offers the listing
// today.
func (d *Desk) AskIn(
	ctx context.Context, l *ledger.Listing, method rulebook.MethodName, offered map[rulebook.MethodName]string, seen Insisting,
) (call uuid.UUID, err error) {
	ways, papers, err := WaysOf(ctx, l, offered)
	if err != nil {
		return call, err
	}
	i := slices.IndexFunc(ways, func(w verification.Way) bool { return w.Method == method })
	if i < 0 {
		return call, problem.Conflictf("%s does not verify this way.", l.Book.Name)
	}
	return d.AskWay(ctx, l, ways[i], papers, offered, seen)
}

// WaysOf are how a listing that is held can be verified now, with the location's papers.
func WaysOf(ctx context.Context, l *ledger.Listing, offered map[rulebook.MethodName]string) ([]verification.Way, []files.Paper, error) {
	if err := l.Free(); err != nil {
		return nil, nil, err
	}
	switch {
	case l.State.Control != verification.Held:
		return nil, nil, problem.Conflictf("Claim or create the listing first.")
	case l.State.VerifiedAt != nil:
		return nil, nil, problem.Conflictf("This listing is verified already.")
	}
	papers, err := files.PapersOf(ctx, l)
	if err != nil {
		return nil, nil, err
	}
	return verification.Ways(
		verification.Question{
			Book:    l.Book,
			Record:  l.Where.Record,
			State:   l.State,
			Now:     l.Now,
			Offered: offered,
			Papers:  files.PapersFor(papers, l.Where.Record, l.Now),
		},
	), papers, nil
}

// AskWay asks a directory to verify in a way that is open; what it offered is kept.
func (d *Desk) AskWay(
	ctx context.Context,
	l *ledger.Listing,
	w verification.Way,
	papers []files.Paper,
	offered map[rulebook.MethodName]string,
	seen Insisting,
) (uuid.UUID, error) {
	if !w.Open {
		return uuid.Nil, problem.Conflictf("%s", w.Says)
	}
	if len(w.Doubts) > 0 && !seen.Despite {
		return uuid.Nil, problem.Conflictf("%s is likely to refuse it. %s", l.Book.Name, strings.Join(w.Doubts, " "))
	}
	if g := w.Guard; g != nil && !g.Keeps && g.Attempt != seen.Instead {
		return uuid.Nil, problem.Conflictf("%s Say that it may, or leave it as it is.", g.Says)
	}
	if w.Charge != "" {
		if seen.Payer == "" {
			return uuid.Nil, problem.Conflictf("%s is charged to a card. Whoever pays has to confirm that: say whose card it is, or ask the owner.", w.Charge)
		}
		w.To = fmt.Sprintf("the card of %s (%s)", seen.Payer, w.Charge)
	}
	attempt, then := uuid.NewString(), slices.Sorted(maps.Keys(offered))
	if l.Book.Worked.People() {
		return uuid.Nil, askedByHand(ctx, l, attempt, w)
	}
	if !w.Method.SendsCode() {
		q := proof{Ref: l.State.Ref, Attempt: attempt, Method: w.Method}
		if w.Method == rulebook.Video {
			q.Video = w.Paper
		} else {
			q.Paper = files.Evidence(papers, w.Paper, l.Where.Record.LegalName)
		}
		return d.ledger.Ask(ctx, l, verification.ReviewAsked{Attempt: attempt, Method: w.Method, To: w.To, Offered: then}, q)
	}
	q := code{Ref: l.State.Ref, Attempt: attempt, Method: w.Method, To: w.Target}
	if w.Method == rulebook.Postcard {
		to, contact := l.Where.Record.Post()
		q.To, q.Contact = to.Line(), contact
	}
	return d.ledger.Ask(ctx, l, verification.CodeAsked{Attempt: attempt, Method: w.Method, To: w.To, Offered: then}, q)
}

// code is that a code is to be sent.
type code struct {
	Ref     string              `json:"ref"`
	Attempt string              `json:"attempt"`
	Method  rulebook.MethodName `json:"method"`
	To      string              `json:"to"`
	Contact string              `json:"contact,omitempty"`
}

var askingCode = request[code]{
	put: func(ctx context.Context, d *Desk, to to, q code) (verification.What, error) {
		sent, err := d.reach.AskCode(ctx, to.url, to.key, q.Ref, string(q.Method), q.To, q.Contact)
		return verification.CodeSent{Attempt: q.Attempt, Ref: sent.ID, Terms: &verification.Terms{Digits: sent.Digits, Tries: sent.Tries, Expires: sent.Expires}}, err
	},
	no: func(q code, says string, r *reach.Refusal) verification.What {
		if r.Code == alreadyVerified {
			return verification.CodeAccepted{Attempt: q.Attempt}
		}
		return verification.CodeAskRefused{Attempt: q.Attempt, Says: says}
	},
}

// alreadyVerified is what a directory says that needs no proof any more.
const alreadyVerified = "already_verified"

// ErrUnanswered is that a directory did not answer in time.
var ErrUnanswered = errors.New("the directory does not answer")

// Offered is what the directory offers a listing today, as verification.Ways
// takes it; nil when it does not answer in time.
func (d *Desk) Offered(ctx context.Context, at ledger.Place, patience time.Duration) (map[rulebook.MethodName]string, error) {
	out, err := d.Offers(ctx, at, patience)
	if errors.Is(err, ErrUnanswered) {
		return nil, nil // the rulebook alone must do
	}
	return out, err
}

// Offers is the same, with an error when the directory does not answer.
func (d *Desk) Offers(ctx context.Context, at ledger.Place, patience time.Duration) (map[rulebook.MethodName]string, error) {
	book, err := d.shelf.Book(at.Directory)
	if err != nil {
		return nil, err
	}
	row, err := d.store.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: at.Directory})
	if err != nil || row.State.Control != verification.Held || row.State.VerifiedAt != nil {
		return nil, problem.IgnoreNoRows(err)
	}
	if book.Connector.URL == "" {
		return nil, nil
	}
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	methods, err := d.reach.Offers(ctx, book.Connector.URL, row.State.Ref)
	if err != nil {
		return nil, ErrUnanswered
	}
	out := map[rulebook.MethodName]string{}
	for _, m := range methods {
		out[rulebook.MethodName(m)] = ""
	}
	return out, nil
}
