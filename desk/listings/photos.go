package listings

import (
	"context"
	"fmt"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/reach"
)

// GivePhotos gives a directory the photos that fit there, each cut to its place.
func (d *Desk) GivePhotos(ctx context.Context, actor people.Actor, at ledger.Place) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := MayWork(l); err != nil {
			return err
		}
		s, err := records.FitSubject(ctx, l.Q, l.Where, l.Now)
		if err != nil {
			return err
		}
		photos := PhotosFor(s, &l.Book)
		if len(photos) == 0 {
			return problem.Conflictf("No photo fits %s. See what it is given, and why.", l.Book.Name)
		}
		call, err = d.ledger.Ask(ctx, l, verification.PhotosAsked{Photos: len(photos)}, pictures{l.State.Ref, photos})
		return err
	})
	return call, err
}

// PhotosFor are the photos that a directory takes, in the order of its form.
func PhotosFor(s *fit.Subject, book *rulebook.Rulebook) (out []reach.Photo) {
	places, _ := fit.Of(s, book).Values().Facts()["photos"].(map[string]any)
	for _, rule := range book.Photos {
		list, _ := places[rule.Groups[0]].([]any)
		for _, p := range list {
			facts := p.(map[string]any)
			out = append(
				out,
				reach.Photo{Place: rule.Groups[0], ID: facts["id"].(string), Caption: facts["caption"].(string), Alternative: facts["alternative"].(string), Tag: rule.Tag},
			)
		}
	}
	return out
}

// putPhotos gives the photos of a question, each with a key of its own, so that one that
// was given before a crash is not given twice.
func (d *Desk) putPhotos(ctx context.Context, book rulebook.Rulebook, key string, q pictures) error {
	for i, p := range q.Photos {
		id, err := uuid.Parse(p.ID)
		if err != nil {
			return err
		}
		for _, rule := range book.Photos {
			if rule.Groups[0] == p.Place {
				if p.Data, err = d.files.CutOf(ctx, id, book.ID, rule.Label); err != nil {
					return err
				}
			}
		}
		if p.Data == nil {
			continue // taken out, or of another group, meanwhile
		}
		if err := d.reach.GivePhoto(ctx, book.Connector.URL, fmt.Sprintf("%s-%d", key, i), q.Ref, p); err != nil {
			return err
		}
	}
	return nil
}

type pictures struct {
	Ref    string        `json:"ref"`
	Photos []reach.Photo `json:"photos"` // without their data
}

var givingPhotos = request[pictures]{
	put: func(ctx context.Context, d *Desk, to to, q pictures) (verification.What, error) {
		return verification.PhotosGiven{Photos: len(q.Photos)}, d.putPhotos(ctx, to.book, to.key, q)
	},
	no: func(_ pictures, says string, _ *reach.Refusal) verification.What {
		return verification.PhotosRefused{Says: says}
	},
}
