package desk

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/listing/verification"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/reach"
	"uvent/store/db"
)

// question is what a directory is asked. It is kept as it was first asked, so
// that asking again after a crash asks the same.
type question struct {
	Queries []reach.Query       `json:"queries,omitempty"`
	Ref     string              `json:"ref,omitempty"`
	Other   string              `json:"other,omitempty"` // another listing, that is a duplicate
	From    string              `json:"from,omitempty"`  // the directory to copy from
	Page    string              `json:"page,omitempty"`  // the listing's page there, or the name that its page should have
	Values  fit.Values          `json:"values,omitempty"`
	Given   fit.Values          `json:"given,omitempty"` // all that it has been given once it takes the values
	Facts   []string            `json:"facts,omitempty"` // keys of the values that are changed
	Text    string              `json:"text,omitempty"`  // of an appeal
	Papers  []reach.Evidence    `json:"papers,omitempty"`
	By      string              `json:"by,omitempty"` // who asks
	Paper   *reach.Evidence     `json:"paper,omitempty"`
	Video   string              `json:"video,omitempty"`  // the id of the paper that is one
	Photos  []reach.Photo       `json:"photos,omitempty"` // without their data
	Saying  *reach.Saying       `json:"saying,omitempty"`
	Role    *reach.Role         `json:"role,omitempty"`
	Attempt string              `json:"attempt,omitempty"`
	Method  rulebook.MethodName `json:"method,omitempty"`
	To      string              `json:"to,omitempty"`
	Contact string              `json:"contact,omitempty"`
	Signs   string              `json:"signs,omitempty"` // who attests that they may, where the directory wants it
	Code    string              `json:"code,omitempty"`  // forgotten once it is answered
}

// mostTries is how often a directory that does not answer is asked, over about
// two minutes.
const mostTries = 9

// ask records that a directory is asked something and enqueues the asking, all
// in the verb's transaction. The id is the request's idempotency key.
func (d *Desk) ask(ctx context.Context, l *listing, kind verification.Kind, q any, e verification.Event) (uuid.UUID, error) {
	id := uuid.New()
	e.Kind = kind
	if err := l.add(ctx, e); err != nil {
		return id, err
	}
	payload, err := json.Marshal(q)
	if err != nil {
		return id, err
	}
	if err := l.q.AddCall(ctx, db.AddCallParams{ID: id, LocationID: l.Location, DirectoryID: l.Directory, Kind: string(kind), Payload: payload}); err != nil {
		return id, err
	}
	_, err = d.jobs.InsertTx(ctx, l.tx, callJob{ID: id}, nil)
	return id, err
}

// free says why a directory cannot be asked something just now.
func (l *listing) free() error {
	if l.state.Busy != "" {
		return conflict("%s is being asked already; wait for its answer.", l.book.Name)
	}
	return nil
}

// Await waits until a directory has answered, for as long as a person would
// look at a button. False means that it has not answered yet.
func (d *Desk) Await(ctx context.Context, call uuid.UUID) (bool, error) {
	if call == uuid.Nil {
		return true, nil // nothing was asked: people do it themselves
	}
	for deadline := time.Now().Add(6 * time.Second); time.Now().Before(deadline); {
		c, err := d.store.Call(ctx, call)
		if err != nil || c.DoneAt != nil {
			return err == nil, err
		}
		if c.Tries > 0 && time.Until(deadline) < 4*time.Second {
			return false, nil
		}
		select {
		case <-ctx.Done():
			return false, ctx.Err()
		case <-time.After(15 * time.Millisecond):
		}
	}
	return false, nil
}

// Call is something that a directory is asked.
type Call struct {
	ID uuid.UUID // the request's idempotency key
	Place
	Kind    verification.Kind
	Payload []byte // JSON, as whoever asks has written it
}

// Put asks a directory what a call says. The event is its answer, yes or no; the error means
// that there was none, and it is asked again.
type Put func(ctx context.Context, book rulebook.Rulebook, c Call) (verification.Event, error)

// callJob asks a directory what a call says.
type callJob struct {
	ID uuid.UUID `json:"id"`
}

// Kind names the job.
func (callJob) Kind() string { return "call" }

type callWorker struct {
	river.WorkerDefaults[callJob]
	desk *Desk
}

// Timeout bounds one asking.
func (*callWorker) Timeout(*river.Job[callJob]) time.Duration { return 20 * time.Second }

// NextRetry waits a quarter of a second, then twice as long each time, up to
// half a minute.
func (*callWorker) NextRetry(job *river.Job[callJob]) time.Time {
	return time.Now().Add(min(250*time.Millisecond<<(job.Attempt-1), 30*time.Second))
}

// Work asks, and records the answer with all that follows from it. Whether it
// was recorded is told by the call's row alone, so asking twice records once.
func (w *callWorker) Work(ctx context.Context, job *river.Job[callJob]) error {
	d := w.desk
	c, err := d.store.Call(ctx, job.Args.ID)
	if err != nil || c.DoneAt != nil {
		return err
	}
	at := Place{c.LocationID, c.DirectoryID}
	book, err := d.Book(at.Directory)
	if err != nil {
		return err
	}
	call := Call{ID: c.ID, Place: at, Kind: verification.Kind(c.Kind), Payload: c.Payload}
	answer, asked := d.putting(ctx, book, call)
	if asked != nil {
		return d.unanswered(ctx, call, asked)
	}
	return d.finish(ctx, call, book, answer)
}

func (d *Desk) finish(ctx context.Context, c Call, book rulebook.Rulebook, e verification.Event) error {
	return d.change(ctx, Actor{Name: book.Name}, c.Place, func(l *listing) error {
		n, err := l.q.FinishCall(ctx, db.FinishCallParams{ID: c.ID, DoneAt: &l.now})
		if err != nil || n == 0 {
			return err // recorded already, by this job's other run
		}
		return l.add(ctx, e)
	})
}

// unanswered counts a try that got no answer, and gives up after enough.
func (d *Desk) unanswered(ctx context.Context, c Call, why error) error {
	book, err := d.Book(c.Directory)
	if err != nil {
		return err
	}
	tries, err := d.store.CountCallTry(ctx, c.ID)
	switch {
	case errors.Is(err, pgx.ErrNoRows):
		return nil // answered meanwhile
	case err != nil:
		return err
	case tries >= mostTries:
		e := verification.Event{Kind: verification.CallGivenUp, Says: fmt.Sprintf("%s did not answer in %d tries. It may have been done all the same; search again to see.", book.Name, tries)}
		return d.finish(ctx, c, book, e)
	case tries == 2: // one lost answer is no news
		says := fmt.Sprintf("%s does not answer. Uvent keeps asking; you need do nothing.", book.Name)
		if err := d.change(ctx, Uvent, c.Place, func(l *listing) error {
			if l.state.Busy == "" {
				return nil
			}
			return l.add(ctx, verification.Event{Kind: verification.CallUnanswered, Says: says})
		}); err != nil {
			return err
		}
	}
	return why
}

// put asks the directory. The event is its answer, yes or no; the error means
// that there was none.
func (d *Desk) put(ctx context.Context, book rulebook.Rulebook, c Call) (verification.Event, error) {
	url, key := book.Connector.URL, c.ID.String()
	var e verification.Event
	var q question
	err := json.Unmarshal(c.Payload, &q)
	if err != nil {
		return e, err
	}
	var no verification.Kind
	switch c.Kind {
	case verification.SearchAsked:
		e, err = d.putSearch(ctx, book, c.Location, q.Queries)
		no = verification.CallGivenUp
	case verification.ClaimAsked:
		var l reach.Listing
		l, err = d.reach.Claim(ctx, url, key, q.Ref, q.facts())
		e, no = verification.Event{Kind: verification.ClaimGranted, Ref: l.Ref, Page: l.Page}, verification.ClaimRefused
	case verification.CreateAsked:
		var l reach.Listing
		facts := q.facts()
		if q.Page != "" {
			facts["page_name"] = q.Page
		}
		l, err = d.reach.Create(ctx, url, key, facts)
		e, no = verification.Event{Kind: verification.Created, Ref: l.Ref, Page: l.Page, Values: q.Values}, verification.CreateRefused
	case verification.CopyAsked:
		var l reach.Listing
		l, err = d.reach.Copy(ctx, url, key, q.From, q.Page, q.Values.Facts())
		e, no = verification.Event{Kind: verification.Copied, Ref: l.Ref, Page: l.Page}, verification.CopyRefused
	case verification.PhotosAsked:
		err = d.putPhotos(ctx, book, c.ID.String(), q)
		e, no = verification.Event{Kind: verification.PhotosGiven, Photos: len(q.Photos)}, verification.PhotosRefused
	case verification.CodeAsked:
		var sent reach.Sent
		sent, err = d.reach.AskCode(ctx, url, key, q.Ref, string(q.Method), q.To, q.Contact)
		e, no = verification.Event{Kind: verification.CodeSent, Attempt: q.Attempt, Ref: sent.ID,
			Terms: &verification.Terms{Digits: sent.Digits, Tries: sent.Tries, Expires: sent.Expires}}, verification.CodeAskRefused
	case verification.CodeEntered:
		var look reach.Review
		look, err = d.reach.EnterCode(ctx, url, key, q.Ref, q.Code)
		e, no = verification.Event{Kind: verification.CodeAccepted}, verification.CodeRefused
		if look.InReview {
			e = verification.Event{Kind: verification.SecondLook, Ref: q.Ref, Terms: &verification.Terms{Expires: look.AnswerBy}}
		}
	case verification.DuplicateAsked:
		var asked reach.Review
		asked, err = d.reach.Duplicate(ctx, url, key, q.Ref, q.Other)
		e, no = verification.Event{Kind: verification.DuplicateBegun, Ref: q.Other, Terms: &verification.Terms{Expires: asked.AnswerBy}}, verification.RequestFailed
		q.Attempt = asked.ID
	case verification.SendAsked:
		e, err = d.putChange(ctx, book, key, q)
		no = verification.SendRefused
	case verification.SuggestAsked:
		e, err = d.putSuggestion(ctx, book, key, q)
		no = verification.SendRefused
	case verification.AppealAsked:
		var asked reach.Review
		asked, err = d.reach.Appeal(ctx, url, key, q.Ref, q.Text, q.Papers)
		e, no = verification.Event{Kind: verification.AppealBegun, Ref: asked.ID, Text: q.Text, To: q.To, By: q.By, Terms: &verification.Terms{Expires: asked.AnswerBy}}, verification.AppealFailed
	case verification.WithdrawAsked, verification.BackAsked:
		away := c.Kind == verification.WithdrawAsked
		err = d.reach.Withdraw(ctx, url, key, q.Ref, away)
		if e, no = (verification.Event{Kind: verification.BackThere}), verification.ViewRefused; away {
			e = verification.Event{Kind: verification.WithdrawnThere, Says: q.Text, To: q.To}
		}
	case verification.MarkAsked:
		state := q.To
		if state == "" {
			state = string(record.Open)
		}
		err = d.reach.Mark(ctx, url, key, q.Ref, state)
		e, no = verification.Event{Kind: verification.MarkedThere, To: q.To}, verification.MarkRefused
	case verification.SayAsked:
		e, err = d.putSaying(ctx, book, key, q)
		no = verification.SayRefused
	case verification.RoleAsked:
		err = d.reach.SetRole(ctx, url, key, q.Ref, *q.Role)
		e, no = verification.Event{Kind: verification.RoleGiven}, verification.RoleRefused
	case verification.AccessAsked, verification.EscalateAsked:
		var asked reach.Review
		if no = verification.RequestFailed; c.Kind == verification.AccessAsked {
			asked, err = d.reach.AskAccess(ctx, url, key, q.Ref)
			e.Kind = verification.AccessBegun
		} else {
			asked, err = d.reach.Escalate(ctx, url, key, q.Ref, q.Paper)
			e.Kind = verification.EscalateBegun
		}
		e.Ref, e.Terms = asked.ID, &verification.Terms{Expires: asked.AnswerBy}
	case verification.ReviewAsked:
		var look reach.Review
		var with *reach.Video
		if with, err = d.video(ctx, q.Video); err != nil {
			return e, err
		}
		look, err = d.reach.AskReview(ctx, url, key, q.Ref, string(q.Method), q.Paper, with)
		e, no = verification.Event{Kind: verification.ReviewBegun, Ref: look.ID, Terms: &verification.Terms{Expires: look.AnswerBy}}, verification.ReviewFailed
		if look.VerifiedAt != nil {
			e = verification.Event{Kind: verification.ReviewPassed}
		}
	}
	var refused *reach.Refusal
	if errors.As(err, &refused) {
		e = verification.Event{Kind: no, Ref: q.Ref, Says: says(refused), HeldBy: refused.HeldBy, TriesLeft: refused.TriesLeft}
		if refused.Code == "taken" {
			e.Taken = q.Page
		}
		if refused.Code == "already_verified" {
			e = verification.Event{Kind: verification.CodeAccepted}
		}
		err = nil
	}
	e.Attempt = q.Attempt
	return e, err
}

// facts are what a directory is told when a listing is claimed or created.
func (q question) facts() map[string]any {
	out := q.Values.Facts()
	if q.Signs != "" {
		out["attested_by"] = q.Signs
	}
	return out
}

// refusals are our words for what directories refuse.
var refusals = map[string]string{
	"wrong_code":    "This is not the code that was sent.",
	"other_listing": "This code was sent for another listing.",
	"expired":       "This code has stopped working. Ask for another.",
	"used_up":       "No tries are left for this code. Ask for another.",
	"replaced":      "A newer code was sent; enter that one.",
	"not_offered":   "The directory does not offer this way for this listing today.",
	"not_yours":     "The directory says that this listing is not held by our account.",
}

func says(r *reach.Refusal) string {
	text, ok := refusals[r.Code]
	if !ok {
		return r.Detail
	}
	if r.TriesLeft != nil && (r.Code == "wrong_code" || r.Code == "other_listing") {
		switch *r.TriesLeft {
		case 0:
			text += " No tries are left; ask for another code."
		case 1:
			text += " One try is left."
		default:
			text += fmt.Sprintf(" %d tries are left.", *r.TriesLeft)
		}
	}
	return text
}

// putSearch searches and weighs what was found against the record.
func (d *Desk) putSearch(ctx context.Context, book rulebook.Rulebook, location uuid.UUID, queries []reach.Query) (verification.Event, error) {
	var found []reach.Listing
	for _, q := range queries {
		list, err := d.reach.Search(ctx, book.Connector.URL, q)
		if err != nil {
			return verification.Event{}, err
		}
		for _, l := range list {
			if !slices.ContainsFunc(found, func(o reach.Listing) bool { return o.Ref == l.Ref }) {
				found = append(found, l)
			}
		}
	}
	row, err := d.store.Location(ctx, location)
	if err != nil {
		return verification.Event{}, err
	}
	ours := match.Of(row.Record)
	if ours.Before, err = formerAddresses(ctx, d.store.Queries, location); err != nil {
		return verification.Event{}, err
	}
	e := verification.Event{Kind: verification.Searched, Candidates: []verification.Candidate{}}
	for _, l := range found {
		theirs := match.Business{Name: l.Shown.Name, Address: l.Shown.Address, Website: l.Shown.Website}
		if l.Shown.Phone != "" {
			theirs.Phones = []string{l.Shown.Phone}
		}
		r := match.Compare(ours, theirs)
		if r.Verdict == match.Different {
			continue
		}
		c := verification.Candidate{Ref: l.Ref, Page: l.Page, Shown: l.Shown, Score: r.Score, Verdict: r.Verdict, Reasons: r.Reasons, Status: verification.FreeToClaim}
		switch l.Holder {
		case "you":
			c.Status = verification.Ours
		case "another":
			c.Status = verification.HeldElse
		}
		e.Candidates = append(e.Candidates, c)
	}
	slices.SortStableFunc(e.Candidates, func(a, b verification.Candidate) int { return cmp.Compare(b.Score, a.Score) })
	return e, nil
}
