package desk

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
	"uvent/core/record/paper"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/reach"
	"uvent/store/db"
)

// AskCode asks a directory to verify by a method that is open: to send a code, or to
// decide. A paper in which they are likely to mind something is not sent.
func (d *Desk) AskCode(ctx context.Context, actor Actor, at Place, method rulebook.MethodName) (call uuid.UUID, err error) {
	return d.askCode(ctx, actor, at, method, false)
}

// AskDespite asks as AskCode does, and sends a paper whatever speaks against it.
func (d *Desk) AskDespite(ctx context.Context, actor Actor, at Place, method rulebook.MethodName) (call uuid.UUID, err error) {
	return d.askCode(ctx, actor, at, method, true)
}

func (d *Desk) askCode(ctx context.Context, actor Actor, at Place, method rulebook.MethodName, despite bool) (call uuid.UUID, err error) {
	offered, err := d.offered(ctx, at, 10*time.Second)
	if err != nil {
		return call, err
	}
	err = d.change(ctx, actor, at, func(l *listing) error {
		ways, papers, err := l.ways(ctx, offered)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(ways, func(w verification.Way) bool { return w.Method == method })
		if i < 0 {
			return conflict("%s does not verify this way.", l.book.Name)
		}
		call, err = d.askWay(ctx, l, ways[i], papers, offered, despite)
		return err
	})
	return call, err
}

// ways are how a listing that is held can be verified now, with the location's papers.
func (l *listing) ways(ctx context.Context, offered map[rulebook.MethodName]string) ([]verification.Way, []db.Paper, error) {
	if err := l.free(); err != nil {
		return nil, nil, err
	}
	switch {
	case l.state.Control != verification.Held:
		return nil, nil, conflict("Claim or create the listing first.")
	case l.state.VerifiedAt != nil:
		return nil, nil, conflict("This listing is verified already.")
	}
	papers, err := l.papers(ctx)
	if err != nil {
		return nil, nil, err
	}
	return verification.Ways(verification.Question{Book: l.book, Record: l.location.Record, State: l.state, Now: l.now, Offered: offered, Papers: papersFor(papers, l.location.Record, l.now)}), papers, nil
}

// askWay asks a directory to verify in a way that is open; what it offered is kept.
func (d *Desk) askWay(ctx context.Context, l *listing, w verification.Way, papers []db.Paper, offered map[rulebook.MethodName]string, despite bool) (uuid.UUID, error) {
	if !w.Open {
		return uuid.Nil, conflict("%s", w.Says)
	}
	if len(w.Doubts) > 0 && !despite {
		return uuid.Nil, conflict("%s is likely to refuse it. %s", l.book.Name, strings.Join(w.Doubts, " "))
	}
	q := question{Ref: l.state.Ref, Attempt: uuid.NewString(), Method: w.Method, To: w.Target}
	if w.Method == rulebook.Postcard {
		to, contact := l.location.Record.Post()
		q.To, q.Contact = to.Line(), contact
	}
	if l.book.Worked.People() {
		return uuid.Nil, l.askedByHand(ctx, q, w.To)
	}
	kind := verification.CodeAsked
	if !w.Method.SendsCode() {
		kind, q.Paper = verification.ReviewAsked, evidence(papers, w.Paper, l.location.Record.LegalName)
		if w.Method == rulebook.Video {
			q.Paper, q.Video = nil, w.Paper
		}
	}
	return d.ask(ctx, l, kind, q, verification.Event{Attempt: q.Attempt, Method: w.Method, To: w.To, Offered: slices.Sorted(maps.Keys(offered))})
}

// papers are the location's, with its client's.
func (l *listing) papers(ctx context.Context) ([]db.Paper, error) {
	return l.q.Papers(ctx, db.PapersParams{ClientID: l.client.ID, LocationID: &l.Location})
}

// papersFor are papers with what a record speaks against each.
func papersFor(papers []db.Paper, r record.Record, now time.Time) (out []verification.Paper) {
	for _, p := range papers {
		v := verification.Paper{ID: p.ID.String(), Kind: p.Kind, Film: p.Film}
		if p.Film.There() {
			out = append(out, v)
			continue
		}
		for _, f := range paper.Faults(paper.Against(saidOf(p), r, now)) {
			if f.Fact != "text" { // a picture is compared by people
				v.Doubts = append(v.Doubts, f.Says)
			}
		}
		out = append(out, v)
	}
	return out
}

func saidOf(p db.Paper) paper.Said {
	return paper.Said{Kind: p.Kind, Text: p.Words, Issued: p.Issued, Until: p.Until}
}

// evidence is a paper of a business as a directory is given it; nil for none.
func evidence(papers []db.Paper, id, legalName string) *reach.Evidence {
	for _, p := range papers {
		if p.ID.String() == id {
			return &reach.Evidence{Kind: p.Kind, Name: p.FileName, Text: p.Words, LegalName: legalName}
		}
	}
	return nil
}

// errUnanswered is that a directory did not answer in time.
var errUnanswered = errors.New("the directory does not answer")

// offered is what the directory offers a listing today, as verification.Ways
// takes it; nil when it does not answer in time.
func (d *Desk) offered(ctx context.Context, at Place, patience time.Duration) (map[rulebook.MethodName]string, error) {
	out, err := d.offers(ctx, at, patience)
	if errors.Is(err, errUnanswered) {
		return nil, nil // the rulebook alone must do
	}
	return out, err
}

// offers is the same, with an error when the directory does not answer.
func (d *Desk) offers(ctx context.Context, at Place, patience time.Duration) (map[rulebook.MethodName]string, error) {
	book, err := d.Book(at.Directory)
	if err != nil {
		return nil, err
	}
	row, err := d.store.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: at.Directory})
	if err != nil || row.State.Control != verification.Held || row.State.VerifiedAt != nil {
		return nil, ignoreNoRows(err)
	}
	if book.Connector.URL == "" {
		return nil, nil
	}
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	methods, err := d.reach.Offers(ctx, book.Connector.URL, row.State.Ref)
	if err != nil {
		return nil, errUnanswered
	}
	out := map[rulebook.MethodName]string{}
	for _, m := range methods {
		out[rulebook.MethodName(m)] = ""
	}
	return out, nil
}

// Arrived records that somebody at the location has the code in hand.
func (d *Desk) Arrived(ctx context.Context, actor Actor, at Place, attempt string) error {
	return d.change(ctx, actor, at, func(l *listing) error {
		if a, err := l.live(attempt); err != nil || a.ArrivedAt != nil {
			return err
		}
		return l.add(ctx, verification.Event{Kind: verification.CodeArrived, Attempt: attempt})
	})
}

// EnterCode gives a code to the directory. The same code sent twice at once is
// one entry, and both get its answer.
func (d *Desk) EnterCode(ctx context.Context, actor Actor, at Place, attempt, code string) (call uuid.UUID, err error) {
	code = strings.Join(strings.FieldsFunc(code, func(r rune) bool { return r == ' ' || r == '-' || r == '\u00a0' }), "")
	err = d.change(ctx, actor, at, func(l *listing) error {
		if l.state.Busy == verification.CodeEntered {
			call, err = l.sameEntry(ctx, attempt, code)
			return err
		}
		if err := l.free(); err != nil {
			return err
		}
		if l.book.Worked.People() {
			return conflict("Codes for %s are entered on its own pages. Say here how it went.", l.book.Name)
		}
		a, err := l.live(attempt)
		if err != nil {
			return err
		}
		if len(code) != a.Digits || strings.Trim(code, "0123456789") != "" {
			return &Problem{Kind: Invalid, Detail: "That cannot be the code.", Fields: []record.Problem{
				{Path: "code", Message: fmt.Sprintf("The code has %d digits; this has %s.", a.Digits, counted(code))}}}
		}
		sent, err := sentID(ctx, l.q, at, attempt)
		if err != nil {
			return err
		}
		call, err = d.ask(ctx, l, verification.CodeEntered, question{Ref: sent, Attempt: attempt, Code: code}, verification.Event{Attempt: attempt})
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
func (l *listing) sameEntry(ctx context.Context, attempt, code string) (uuid.UUID, error) {
	c, err := l.q.PendingCall(ctx, db.PendingCallParams{LocationID: l.Location, DirectoryID: l.Directory})
	if err != nil {
		return uuid.Nil, err
	}
	var q question
	if err := json.Unmarshal(c.Payload, &q); err != nil {
		return uuid.Nil, err
	}
	if q.Attempt != attempt || q.Code != code {
		return uuid.Nil, conflict("Another code is with %s; wait for its answer.", l.book.Name)
	}
	return c.ID, nil
}

// live finds an attempt whose code can still be entered, or says why not.
func (l *listing) live(id string) (*verification.Attempt, error) {
	latest := l.state.Attempt()
	i := slices.IndexFunc(l.state.Attempts, func(a verification.Attempt) bool { return a.ID == id })
	if i < 0 {
		return nil, &Problem{Kind: NotFound, Detail: "This listing has no such attempt."}
	}
	a := &l.state.Attempts[i]
	zone := verification.ZoneOf(l.location.Record, l.book)
	switch {
	case a.State == verification.AttemptAccepted, l.state.VerifiedAt != nil:
		return nil, conflict("This listing is verified already; no code is needed.")
	case a.State == verification.AttemptReplaced:
		return nil, conflict("A newer code was asked for on %s; enter that one.", verification.When(latest.AskedAt, l.now, zone))
	case a.State == verification.AttemptUsedUp:
		return nil, conflict("No tries are left for this code. Ask for another.")
	case a.State == verification.AttemptLapsed, a.Live() && !l.now.Before(a.Expires):
		return nil, conflict("This code stopped working on %s. Ask for another.", verification.Day(calendar.DateIn(a.Expires, zone)))
	case !a.Live():
		return nil, conflict("No code was sent for this attempt. Ask for another.")
	}
	return a, nil
}

// sentID is the directory's own key of an attempt's code.
func sentID(ctx context.Context, q *db.Queries, at Place, attempt string) (string, error) {
	rows, err := q.ListingEvents(ctx, db.ListingEventsParams{LocationID: &at.Location, DirectoryID: &at.Directory})
	if err != nil {
		return "", err
	}
	for _, r := range rows {
		var e verification.Event
		if r.Kind == string(verification.CodeSent) && json.Unmarshal(r.Data, &e) == nil && e.Attempt == attempt {
			return e.Ref, nil
		}
	}
	return "", conflict("No code was sent for this attempt. Ask for another.")
}
