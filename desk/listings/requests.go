package listings

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/reach"
)

// put asks the directory. The event is its answer, yes or no; the error means
// that there was none.
func (d *Desk) put(ctx context.Context, book rulebook.Rulebook, c ledger.Call) (verification.Event, error) {
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
		if with, err = d.files.Video(ctx, q.Video); err != nil {
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
