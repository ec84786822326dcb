package listings

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/reach"
)

// table is every kind of thing that a directory is asked: a row each, by what asking it is in the
// log. Each has a file with its verb, its question, how that is put, and what its yes and its no
// are.
var table = rows(
	row(verification.SearchAsked{}, searching),
	row(verification.ClaimAsked{}, claiming),
	row(verification.CreateAsked{}, creating),
	row(verification.CopyAsked{}, copying),
	row(verification.CodeAsked{}, askingCode),
	row(verification.CodeEntered{}, enteringCode),
	row(verification.ReviewAsked{}, askingReview),
	row(verification.PhotosAsked{}, givingPhotos),
	row(verification.SendAsked{}, sending),
	row(verification.SuggestAsked{}, suggesting),
	row(verification.Asked{Of: say}, telling),
	row(verification.RoleAsked{}, givingRole),
	row(verification.WithdrawAsked{}, hiding),
	row(verification.BackAsked{}, showing),
	row(verification.MarkAsked{}, marking),
	row(verification.DuplicateAsked{}, reportingDuplicate),
	row(verification.AccessAsked{}, askingAccess),
	row(verification.EscalateAsked{}, escalating),
	row(verification.AppealAsked{}, appealing),
)

// request is how a question of some type is put to a directory.
type request[Question any] struct {
	// put asks it. What it gives is the yes; an error that is no *reach.Refusal means that nobody
	// has answered, and it is asked again.
	put func(ctx context.Context, d *Desk, to to, q Question) (verification.What, error)
	// no is what a refusal means.
	no func(q Question, says string, r *reach.Refusal) verification.What
}

// to is where a question goes.
type to struct {
	url  string // of the directory's interface
	key  string // the idempotency key
	book rulebook.Rulebook
	at   ledger.Place
}

type asker func(ctx context.Context, d *Desk, to to, payload []byte) (verification.What, error)

type tableRow struct {
	kind verification.Kind
	ask  asker
}

func rows(all ...tableRow) map[verification.Kind]asker {
	out := map[verification.Kind]asker{}
	for _, r := range all {
		out[r.kind] = r.ask
	}
	return out
}

func row[Question any](asked verification.What, r request[Question]) tableRow {
	return tableRow{asked.Kind(), func(ctx context.Context, d *Desk, to to, payload []byte) (verification.What, error) {
		var q Question
		if err := json.Unmarshal(payload, &q); err != nil {
			return nil, err
		}
		what, err := r.put(ctx, d, to, q)
		if refused := (*reach.Refusal)(nil); errors.As(err, &refused) {
			return r.no(q, says(refused), refused), nil
		}
		return what, err
	}}
}

// put asks a directory what a call says.
func (d *Desk) put(ctx context.Context, book rulebook.Rulebook, c ledger.Call) (verification.What, error) {
	ask, known := table[c.Kind]
	if !known {
		return nil, fmt.Errorf("directories are not asked for %q", c.Kind)
	}
	return ask(ctx, d, to{book.Connector.URL, c.ID.String(), book, c.Place}, c.Payload)
}

// until are terms of which only the day of an answer is known.
func until(r reach.Review) *verification.Terms { return &verification.Terms{Expires: r.AnswerBy} }

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
