package listings

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store/db"
)

// AskCode asks a directory to verify by a method that is open: to send a code, or to
// decide. A paper in which they are likely to mind something is not sent.
func (d *Desk) AskCode(ctx context.Context, actor people.Actor, at ledger.Place, method rulebook.MethodName) (call uuid.UUID, err error) {
	return d.askCode(ctx, actor, at, method, false)
}

// AskDespite asks as AskCode does, and sends a paper whatever speaks against it.
func (d *Desk) AskDespite(ctx context.Context, actor people.Actor, at ledger.Place, method rulebook.MethodName) (call uuid.UUID, err error) {
	return d.askCode(ctx, actor, at, method, true)
}

func (d *Desk) askCode(ctx context.Context, actor people.Actor, at ledger.Place, method rulebook.MethodName, despite bool) (call uuid.UUID, err error) {
	offered, err := d.Offered(ctx, at, 10*time.Second)
	if err != nil {
		return call, err
	}
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		ways, papers, err := WaysOf(ctx, l, offered)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(ways, func(w verification.Way) bool { return w.Method == method })
		if i < 0 {
			return problem.Conflictf("%s does not verify this way.", l.Book.Name)
		}
		call, err = d.AskWay(ctx, l, ways[i], papers, offered, despite)
		return err
	})
	return call, err
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
	return verification.Ways(verification.Question{Book: l.Book, Record: l.Where.Record, State: l.State, Now: l.Now, Offered: offered, Papers: files.PapersFor(papers, l.Where.Record, l.Now)}), papers, nil
}

// AskWay asks a directory to verify in a way that is open; what it offered is kept.
func (d *Desk) AskWay(ctx context.Context, l *ledger.Listing, w verification.Way, papers []files.Paper, offered map[rulebook.MethodName]string, despite bool) (uuid.UUID, error) {
	if !w.Open {
		return uuid.Nil, problem.Conflictf("%s", w.Says)
	}
	if len(w.Doubts) > 0 && !despite {
		return uuid.Nil, problem.Conflictf("%s is likely to refuse it. %s", l.Book.Name, strings.Join(w.Doubts, " "))
	}
	q := question{Ref: l.State.Ref, Attempt: uuid.NewString(), Method: w.Method, To: w.Target}
	if w.Method == rulebook.Postcard {
		to, contact := l.Where.Record.Post()
		q.To, q.Contact = to.Line(), contact
	}
	if l.Book.Worked.People() {
		return uuid.Nil, askedByHand(ctx, l, q, w.To)
	}
	kind := verification.CodeAsked
	if !w.Method.SendsCode() {
		kind, q.Paper = verification.ReviewAsked, files.Evidence(papers, w.Paper, l.Where.Record.LegalName)
		if w.Method == rulebook.Video {
			q.Paper, q.Video = nil, w.Paper
		}
	}
	return d.ledger.Ask(ctx, l, kind, q, verification.Event{Attempt: q.Attempt, Method: w.Method, To: w.To, Offered: slices.Sorted(maps.Keys(offered))})
}

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

// Arrived records that somebody at the location has the code in hand.
func (d *Desk) Arrived(ctx context.Context, actor people.Actor, at ledger.Place, attempt string) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if a, err := liveAttempt(l, attempt); err != nil || a.ArrivedAt != nil {
			return err
		}
		return l.Add(ctx, verification.Event{Kind: verification.CodeArrived, Attempt: attempt})
	})
}

// EnterCode gives a code to the directory. The same code sent twice at once is
// one entry, and both get its answer.
func (d *Desk) EnterCode(ctx context.Context, actor people.Actor, at ledger.Place, attempt, code string) (call uuid.UUID, err error) {
	code = strings.Join(strings.FieldsFunc(code, func(r rune) bool { return r == ' ' || r == '-' || r == '\u00a0' }), "")
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if l.State.Busy == verification.CodeEntered {
			call, err = sameEntry(ctx, l, attempt, code)
			return err
		}
		if err := l.Free(); err != nil {
			return err
		}
		if l.Book.Worked.People() {
			return problem.Conflictf("Codes for %s are entered on its own pages. Say here how it went.", l.Book.Name)
		}
		a, err := liveAttempt(l, attempt)
		if err != nil {
			return err
		}
		if len(code) != a.Digits || strings.Trim(code, "0123456789") != "" {
			return &problem.Problem{Kind: problem.Invalid, Detail: "That cannot be the code.", Fields: []record.Problem{
				{Path: "code", Message: fmt.Sprintf("The code has %d digits; this has %s.", a.Digits, counted(code))}}}
		}
		sent, err := ledger.SentID(ctx, l.Q, at, attempt)
		if err != nil {
			return err
		}
		call, err = d.ledger.Ask(ctx, l, verification.CodeEntered, question{Ref: sent, Attempt: attempt, Code: code}, verification.Event{Attempt: attempt})
		return err
	})
	return call, err
}

func counted(code string) string {
	digits := 0
	for _, r := range code {
		if r >= '0' && r <= '9' {
			digits++
		}
	}
	if digits != len(code) {
		return "something besides digits"
	}
	return fmt.Sprint(digits)
}

// sameEntry is the entry under way, when it is the same code for the same attempt.
func sameEntry(ctx context.Context, l *ledger.Listing, attempt, code string) (uuid.UUID, error) {
	c, err := l.Q.PendingCall(ctx, db.PendingCallParams{LocationID: l.Location, DirectoryID: l.Directory})
	if err != nil {
		return uuid.Nil, err
	}
	var q question
	if err := json.Unmarshal(c.Payload, &q); err != nil {
		return uuid.Nil, err
	}
	if q.Attempt != attempt || q.Code != code {
		return uuid.Nil, problem.Conflictf("Another code is with %s; wait for its answer.", l.Book.Name)
	}
	return c.ID, nil
}

// live finds an attempt whose code can still be entered, or says why not.
func liveAttempt(l *ledger.Listing, id string) (*verification.Attempt, error) {
	latest := l.State.Attempt()
	i := slices.IndexFunc(l.State.Attempts, func(a verification.Attempt) bool { return a.ID == id })
	if i < 0 {
		return nil, &problem.Problem{Kind: problem.NotFound, Detail: "This listing has no such attempt."}
	}
	a := &l.State.Attempts[i]
	zone := verification.ZoneOf(l.Where.Record, l.Book)
	switch {
	case a.State == verification.AttemptAccepted, l.State.VerifiedAt != nil:
		return nil, problem.Conflictf("This listing is verified already; no code is needed.")
	case a.State == verification.AttemptReplaced:
		return nil, problem.Conflictf("A newer code was asked for on %s; enter that one.", verification.When(latest.AskedAt, l.Now, zone))
	case a.State == verification.AttemptUsedUp:
		return nil, problem.Conflictf("No tries are left for this code. Ask for another.")
	case a.State == verification.AttemptLapsed, a.Live() && !l.Now.Before(a.Expires):
		return nil, problem.Conflictf("This code stopped working on %s. Ask for another.", verification.Day(calendar.DateIn(a.Expires, zone)))
	case !a.Live():
		return nil, problem.Conflictf("No code was sent for this attempt. Ask for another.")
	}
	return a, nil
}
