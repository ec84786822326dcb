package listings

import (
	"context"
	"net/url"
	"slices"
	"strings"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
)

// Suggest asks a directory that changes its panels itself to show what the record says
// of one fact, with the address of a public page that shows it.
func (d *Desk) Suggest(ctx context.Context, actor people.Actor, at ledger.Place, fact, evidence string) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := MayWork(l); err != nil {
			return err
		}
		switch {
		case l.Book.Worked != rulebook.Suggestions:
			return problem.Conflictf("%s takes changes as they are; send them.", l.Book.Name)
		case l.State.Change != nil:
			return problem.Conflictf("%s is still looking at the last suggestion: %s. Wait for its answer.", l.Book.Name, strings.Join(l.State.Change.Facts, ", "))
		}
		u, bad := url.Parse(strings.TrimSpace(evidence))
		if bad != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" {
			return problem.Fields([]record.Problem{{Path: "evidence", Message: "give the address of a public page that shows it, as https://…"}})
		}
		s, err := records.FitSubject(ctx, l.Q, l.Where, l.Now)
		if err != nil {
			return err
		}
		v, ok := fit.Of(s, &l.Book).Values().Find(fact)
		if !ok || len(v.Data) == 0 {
			return problem.Conflictf("The record has no such value for %s.", l.Book.Name)
		}
		call, err = d.ledger.Ask(
			ctx,
			l,
			verification.SuggestAsked{To: v.Label, Page: u.String(), Facts: []string{fact}},
			suggestion{l.State.Ref, fit.Values{v}, u.String(), []string{fact}},
		)
		return err
	})
	return call, err
}

type suggestion struct {
	Ref    string     `json:"ref"`
	Values fit.Values `json:"values"`
	Page   string     `json:"page"` // that shows them, in public
	Facts  []string   `json:"facts"`
}

var suggesting = request[suggestion]{
	put: func(ctx context.Context, d *Desk, to to, q suggestion) (verification.What, error) {
		asked, err := d.reach.Suggest(ctx, to.url, to.key, q.Ref, q.Values.Facts(), q.Page)
		met := verification.Met{Reviewed: namesOf(q.Values)(keysOf(q.Values))}
		return verification.Sent{Ref: asked.ID, Values: q.Values, Facts: q.Facts, Met: &met, Says: "A reviewer is looking at it.", Terms: until(asked)}, err
	},
	no: noChange[suggestion],
}

func keysOf(values fit.Values) (out []string) {
	for key := range values.Facts() {
		out = append(out, key)
	}
	slices.Sort(out)
	return out
}
