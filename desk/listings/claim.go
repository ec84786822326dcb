package listings

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"uvent/core/fact/address"
	"uvent/core/listing/verification"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/reach"
)

// Claim asks for control of a listing that the last search found.
func (d *Desk) Claim(ctx context.Context, actor people.Actor, at ledger.Place, ref string) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := mayTake(l); err != nil {
			return err
		}
		i := slices.IndexFunc(l.State.Candidates, func(c verification.Candidate) bool { return c.Ref == ref })
		if i < 0 {
			return problem.Conflictf("The last search did not find that listing; search again.")
		}
		s, err := records.FitSubject(ctx, l.Q, l.Where, l.Now)
		if err != nil {
			return err
		}
		first, err := firstValues(&l.Book, fit.Of(s, &l.Book).Values())
		if err != nil {
			return err
		}
		call, err = d.ledger.Ask(ctx, l, verification.ClaimAsked{Ref: ref}, claim{Ref: ref, At: l.Where.Record.Address, opening: opening{first, signer(l)}})
		return err
	})
	return call, err
}

// opening is what a directory is told when a listing is claimed or created.
type opening struct {
	Values fit.Values `json:"values,omitempty"`
	Signs  string     `json:"signs,omitempty"` // who attests that they may, where the directory wants it
}

func (o opening) facts() map[string]any {
	out := o.Values.Facts()
	if o.Signs != "" {
		out["attested_by"] = o.Signs
	}
	return out
}

type claim struct {
	Ref string          `json:"ref"`
	At  address.Address `json:"at"` // where the record has the location
	opening
}

var claiming = request[claim]{
	put: func(ctx context.Context, d *Desk, to to, q claim) (verification.What, error) {
		l, err := d.reach.Claim(ctx, to.url, to.key, q.Ref, q.facts())
		return verification.ClaimGranted{Ref: l.Ref, Page: l.Page, At: &q.At}, err
	},
	no: func(q claim, says string, r *reach.Refusal) verification.What {
		return verification.ClaimRefused{Ref: q.Ref, Says: says, HeldBy: r.HeldBy}
	},
}

// signs is who attests that they may speak for the business: whoever claims or creates.
// Empty where the directory does not ask.
func signer(l *ledger.Listing) string {
	if l.Book.Account.Attests {
		return l.Actor.Name
	}
	return ""
}

// mayTake says why a listing can be neither claimed nor created now.
func mayTake(l *ledger.Listing) error {
	if err := l.Free(); err != nil {
		return err
	}
	switch {
	case l.State.Control == verification.Held:
		return problem.Conflictf("We hold this listing already.")
	case l.Book.Connector.URL == "":
		return connected(l)
	case l.State.SearchedAt == nil:
		return problem.Conflictf("Search %s first: it may have this location already.", l.Book.Name)
	}
	return nil
}

// connected says that a directory cannot be asked by a program, where it cannot.
func connected(l *ledger.Listing) error {
	if l.Book.Connector.URL == "" {
		return problem.Conflictf("%s has no interface: it is worked %s.", l.Book.Name, l.Book.Worked.Words())
	}
	return nil
}

// firstValues are those of a location's values that the directory must have before anything else, or what
// is missing of them.
func firstValues(book *rulebook.Rulebook, all fit.Values) (out fit.Values, err error) {
	for _, f := range book.Account.First {
		if f.Fact == "" {
			continue // the record cannot hold it
		}
		v, ok := all.Find(f.Fact)
		if !ok {
			return nil, problem.Conflictf("%s wants %s first, and the record has none.", book.Name, f.Says)
		}
		out = append(out, v)
	}
	return out, nil
}
