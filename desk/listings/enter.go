package listings

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// Arrived records that somebody at the location has the code in hand.
func (d *Desk) Arrived(ctx context.Context, actor people.Actor, at ledger.Place, attempt string) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		a := l.State.Named(attempt)
		switch {
		case a == nil:
			return errNoAttempt
		case a.ArrivedAt != nil:
			return nil // somebody else has told
		case !a.Live() && a.Window == nil:
			return problem.Conflictf("No code was sent for this attempt. Ask for another.")
		}
		return l.Add(ctx, verification.CodeArrived{Attempt: attempt})
	})
}

// SeeFromOwner notes that somebody has seen what the owner of a listing sent.
func (d *Desk) SeeFromOwner(ctx context.Context, actor people.Actor, at ledger.Place) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if l.State.FromOwner == nil {
			return nil // somebody else has
		}
		return l.Add(ctx, verification.OwnerSeen{})
	})
}

// ReadFromStaff notes that somebody has read what a directory's staff have written, and that it is no answer yet.
func (d *Desk) ReadFromStaff(ctx context.Context, actor people.Actor, at ledger.Place) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if l.State.FromStaff == nil {
			return nil // somebody else has
		}
		return l.Add(ctx, verification.StaffRead{})
	})
}

// EnterCode gives a code to the directory. The same code sent twice at once is
// one entry, and both get its answer.
func (d *Desk) EnterCode(ctx context.Context, actor people.Actor, at ledger.Place, attempt, code string) (call uuid.UUID, err error) {
	code = strings.Join(strings.FieldsFunc(code, func(r rune) bool { return r == ' ' || r == '-' || r == '\u00a0' }), "")
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if l.State.Busy == (verification.CodeEntered{}).Kind() {
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
		call, err = d.ledger.Ask(ctx, l, verification.CodeEntered{Attempt: attempt}, entry{sent, attempt, code})
		return err
	})
	return call, err
}

// entry is a code that is given to the directory.
type entry struct {
	Ref     string `json:"ref"` // the directory's own key of what was sent
	Attempt string `json:"attempt"`
	Code    string `json:"code"` // forgotten once it is answered
}

var enteringCode = request[entry]{
	put: func(ctx context.Context, d *Desk, to to, q entry) (verification.What, error) {
		look, err := d.reach.EnterCode(ctx, to.url, to.key, q.Ref, q.Code)
		if look.InReview {
			return verification.SecondLook{Attempt: q.Attempt, Ref: q.Ref, Terms: until(look)}, err
		}
		return verification.CodeAccepted{Attempt: q.Attempt}, err
	},
	no: func(q entry, says string, r *reach.Refusal) verification.What {
		if r.Code == alreadyVerified {
			return verification.CodeAccepted{Attempt: q.Attempt}
		}
		return verification.CodeRefused{Attempt: q.Attempt, Says: says, TriesLeft: r.TriesLeft}
	},
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
	var q entry
	if err := json.Unmarshal(c.Payload, &q); err != nil {
		return uuid.Nil, err
	}
	if q.Attempt != attempt || q.Code != code {
		return uuid.Nil, problem.Conflictf("Another code is with %s; wait for its answer.", l.Book.Name)
	}
	return c.ID, nil
}

var errNoAttempt = &problem.Problem{Kind: problem.NotFound, Detail: "This listing has no such attempt."}

// live finds an attempt whose code can still be entered, or says why not.
func liveAttempt(l *ledger.Listing, id string) (*verification.Attempt, error) {
	a := l.State.Named(id)
	if a == nil {
		return nil, errNoAttempt
	}
	zone := verification.ZoneOf(l.Where.Record, l.Book)
	switch {
	case a.State == verification.AttemptAccepted, l.State.VerifiedAt != nil:
		return nil, problem.Conflictf("This listing is verified already; no code is needed.")
	case a.State == verification.AttemptReplaced:
		later := l.State.Latest()
		return nil, problem.Conflictf(
			"This is not the code that is waited for. Another was asked for later (%s, %s); only that one works. %s",
			strings.ToLower(verification.Title(later.Method)), verification.When(later.AskedAt, l.Now, zone), l.State.Late(*a, l.Now, zone),
		)
	case a.State == verification.AttemptUsedUp:
		return nil, problem.Conflictf("No tries are left for this code. Ask for another.")
	case a.State == verification.AttemptLapsed, a.Live() && !l.Now.Before(a.Expires):
		return nil, problem.Conflictf("This code stopped working on %s. Ask for another.", verification.Day(calendar.DateIn(a.Expires, zone)))
	case !a.Live():
		return nil, problem.Conflictf("No code was sent for this attempt. Ask for another.")
	}
	return a, nil
}
