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
	"uvent/desk/sightings"
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
		with, err := d.pageKind(ctx, l, u)
		if err != nil {
			return err
		}
		call, err = d.ledger.Ask(
			ctx,
			l,
			verification.SuggestAsked{To: v.Label, Page: u.String(), With: string(with), Facts: []string{fact}},
			suggestion{l.State.Ref, fit.Values{v}, u.String(), []string{fact}},
		)
		return err
	})
	return call, err
}

// pageKind is whose public page it is: the business's own, by its site, or that of a listing of ours.
func (d *Desk) pageKind(ctx context.Context, l *ledger.Listing, page *url.URL) (rulebook.PageKind, error) {
	if own, err := url.Parse(l.Where.Record.Website); err == nil && own.Host != "" && sameHost(own, page) {
		return rulebook.OwnSite, nil
	}
	rows, err := l.Q.WholeListingsOf(ctx, []uuid.UUID{l.Location})
	if err != nil {
		return "", err
	}
	for _, row := range rows {
		book, err := d.shelf.Book(row.DirectoryID)
		if err == nil && row.State.Page != "" && d.reach.PageURL(sightings.Home(book), row.State.Page) == page.String() {
			return rulebook.OtherListing, nil
		}
	}
	return rulebook.OtherPage, nil
}

func sameHost(a, b *url.URL) bool {
	bare := func(u *url.URL) string { return strings.TrimPrefix(strings.ToLower(u.Hostname()), "www.") }
	return bare(a) == bare(b)
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
