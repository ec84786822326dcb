package listings

import (
	"context"
	"slices"

	"uvent/core/listing/verification"
	"uvent/core/rule/fit"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
)

// OwnValues is what a listing is given otherwise than its record says, and where it may be.
type OwnValues struct {
	Rules  []fit.OwnRule
	Items  []fit.Item // those with a value of the listing's own
	Photos []fit.Photo
}

// OwnValues lists a listing's own values. It tells nothing of a directory that does not list the location.
func (d *Desk) OwnValues(ctx context.Context, at ledger.Place) (out OwnValues, err error) {
	book, l, s, err := d.records.SubjectAt(ctx, at)
	if err != nil || book.MayList(l.Record) != "" {
		return out, err
	}
	for _, i := range fit.Of(s, &book).Items {
		if i.Own != nil {
			out.Items = append(out.Items, i)
		}
	}
	out.Rules, out.Photos = s.OwnRules(&book), s.Photos
	return out, nil
}

// Tried is what would become of a listing's field with a value of its own.
type Tried struct {
	Item fit.Item
	// Agrees and Agreed are how much of what people see of the location says its name, address and phone as its
	// record does, with the value and as it is now: 0 to 1.
	Agrees, Agreed float64
}

// TryOwn says what would become of a field with a value of the listing's own.
func (d *Desk) TryOwn(ctx context.Context, at ledger.Place, key, text string) (out Tried, err error) {
	book, _, s, err := d.records.SubjectAt(ctx, at)
	if err != nil {
		return out, err
	}
	own, wrong := s.MakeOwn(&book, key, text)
	if wrong != "" {
		return out, &problem.Problem{Kind: problem.Invalid, Detail: wrong}
	}
	with := s.WithOwn(book.ID, own)
	out.Item, _ = fit.Of(with, &book).Find(key)
	books := d.shelf.Books()
	out.Agrees, out.Agreed = with.Agreement(books), s.Agreement(books)
	return out, nil
}

// SetOwn has a listing be given another value than its record says, with the reason.
func (d *Desk) SetOwn(ctx context.Context, actor people.Actor, at ledger.Place, key, text, why string) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error { return setOwn(ctx, l, key, text, why) })
}

// mostWhy bounds the reason for a value, in characters.
const mostWhy = 300

func setOwn(ctx context.Context, l *ledger.Listing, key, text, why string) error {
	if not := l.Book.MayList(l.Where.Record); not != "" {
		return problem.Conflictf("%s", not)
	}
	why = fit.Plain(why)
	switch {
	case why == "":
		return &problem.Problem{Kind: problem.Invalid, Detail: "Say why it is another here, for whoever asks later."}
	case len([]rune(why)) > mostWhy:
		return &problem.Problem{Kind: problem.Invalid, Detail: "The reason is longer than 300 characters."}
	}
	s, err := records.FitSubject(ctx, l.Q, l.Where, l.Now)
	if err != nil {
		return err
	}
	own, wrong := s.MakeOwn(&l.Book, key, text)
	if wrong != "" {
		return &problem.Problem{Kind: problem.Invalid, Detail: wrong}
	}
	own.Why = why
	before, _ := fit.Of(s, &l.Book).Find(key)
	after, _ := fit.Of(s.WithOwn(l.Book.ID, own), &l.Book).Find(key)
	return l.Add(ctx, verification.OwnSet{Value: own, Label: after.Title, Words: after.Value.Text, Was: before.Value.Text})
}

// HoldOwn notes that a value of the listing's own still holds, though the record has changed.
func (d *Desk) HoldOwn(ctx context.Context, actor people.Actor, at ledger.Place, key string) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		was, s, err := ownOf(ctx, l, key)
		if err != nil {
			return err
		}
		own, wrong := s.MakeOwn(&l.Book, key, was.Own.Text)
		if wrong != "" {
			return problem.Conflictf("It cannot stay as it is. %s", wrong)
		}
		own.Why = was.Own.Why
		return l.Add(ctx, verification.OwnSet{Value: own, Label: was.Title, Words: was.Value.Text, Holds: true})
	})
}

// DropOwn has a listing be given what its record says again.
func (d *Desk) DropOwn(ctx context.Context, actor people.Actor, at ledger.Place, key string) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error { return dropOwn(ctx, l, key) })
}

func dropOwn(ctx context.Context, l *ledger.Listing, key string) error {
	was, _, err := ownOf(ctx, l, key)
	if err != nil {
		return err
	}
	return l.Add(ctx, verification.OwnDropped{Key: key, Label: was.Title, Was: was.Value.Text})
}

// ownOf is a field with a value of the listing's own, and the location. It may be that the directory does not ask
// for the field any more.
func ownOf(ctx context.Context, l *ledger.Listing, key string) (fit.Item, *fit.Subject, error) {
	i := slices.IndexFunc(l.State.Own, func(o fit.Own) bool { return o.Key == key })
	if i < 0 {
		return fit.Item{}, nil, &problem.Problem{Kind: problem.NotFound, Detail: "It has no value of its own there; it is given what the record says."}
	}
	s, err := records.FitSubject(ctx, l.Q, l.Where, l.Now)
	if err != nil {
		return fit.Item{}, nil, err
	}
	item, ok := fit.Of(s, &l.Book).Find(key)
	if !ok || item.Own == nil {
		item = fit.Item{Key: key, Title: key, Own: &fit.Departure{Own: l.State.Own[i]}}
	}
	if item.Value.Text == "" {
		item.Value.Text = l.State.Own[i].Text
	}
	return item, s, nil
}
