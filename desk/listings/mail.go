package listings

import (
	"context"
	"errors"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/sightings"
	"uvent/reach"
	"uvent/store/db"
)

// OwnerMail takes what an owner has written, where it is an owner's; keep keeps the letter in a transaction, at a listing, and
// tells whether it is new.
type OwnerMail func(ctx context.Context, l reach.Letter, keep func(q *db.Queries, at ledger.Place) (fresh bool, err error)) (taken bool, err error)

// ReadMail reads what directories and owners have written to us, acts on it, and tells how many
// letters there were. A letter that two servers read at once is acted on by one.
func (d *Desk) ReadMail(ctx context.Context, ofOwner OwnerMail) (read int, err error) {
	for {
		last, err := d.store.LastNotice(ctx)
		if err != nil {
			return read, err
		}
		letters, err := d.reach.Mailbox(ctx, last)
		var unanswered *reach.Unanswered
		if errors.As(err, &unanswered) || err == nil && len(letters) == 0 {
			return read, nil // it is read the next time
		}
		if err != nil {
			return read, err
		}
		for _, l := range letters {
			taken, err := d.take(ctx, l, ofOwner)
			if err != nil || !taken {
				return read, err
			}
			read++
		}
	}
}

// sender is the directory that a letter comes from; nil where none is known by it.
func (d *Desk) sender(from string) *rulebook.Rulebook {
	books := d.shelf.Books()
	for i := range books {
		if f := books[i].Notices.From; f != "" && strings.EqualFold(f, from) {
			return &books[i]
		}
	}
	return nil
}

// take keeps a letter, finds the listing that it is about, and acts on it. False: it may be
// about a listing that is just being made, and is read again once that is answered.
func (d *Desk) take(ctx context.Context, l reach.Letter, ofOwner OwnerMail) (bool, error) {
	if l.Bounce != nil {
		if _, err := d.letters.Bounce(ctx, *l.Bounce); err != nil {
			return false, err
		}
	}
	book := d.sender(l.From)
	var directory *string
	var about *uuid.UUID
	if book != nil {
		directory = &book.ID
		var err error
		if about, err = d.about(ctx, book.ID, l); err != nil {
			return false, err
		}
		if about == nil {
			if making, err := d.store.BeingMade(ctx, book.ID); err != nil || making {
				return false, err
			}
		}
	}
	var fresh bool
	keep := func(q *db.Queries) (err error) {
		fresh, err = q.AddNotice(
			ctx,
			db.AddNoticeParams{
				ID:          l.ID,
				Number:      l.Number,
				At:          d.clock.Now(),
				Sender:      l.From,
				Subject:     l.Subject,
				Body:        l.Body,
				DirectoryID: directory,
				LocationID:  about,
			},
		)
		return err
	}
	if book == nil && l.Bounce == nil && !l.Auto {
		taken, err := ofOwner(ctx, l, func(q *db.Queries, at ledger.Place) (bool, error) {
			directory, about = &at.Directory, &at.Location
			err := keep(q)
			return fresh, err
		})
		if err != nil || taken {
			return true, err
		}
		directory, about = nil, nil
	}
	if about == nil {
		return true, d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error { return keep(q) })
	}
	return true, d.ledger.Change(ctx, people.Actor{Name: book.Name}, ledger.Place{Location: *about, Directory: book.ID}, func(s *ledger.Listing) error {
		if err := keep(s.Q); err != nil || !fresh {
			return err
		}
		return d.actOn(ctx, s, l.Body, l.Auto)
	})
}

// about is the location that a directory's letter is about: the one whose letter it answers, or else the one whose page it names,
// or else, of those about which its staff were asked, the only one that it names. Nil where none of them is.
func (d *Desk) about(ctx context.Context, directory string, l reach.Letter) (*uuid.UUID, error) {
	text := l.Subject + "\n" + l.Body
	asked, err := d.store.LettersAbout(ctx, db.LettersAboutParams{DirectoryID: directory, Letters: l.Answers})
	if err != nil || len(asked) == 1 {
		return first(asked), err
	}
	paged, err := d.store.ListingByPage(ctx, db.ListingByPageParams{DirectoryID: directory, Body: text})
	if err == nil {
		return &paged, nil
	}
	if problem.IgnoreNoRows(err) != nil {
		return nil, err
	}
	named, err := d.store.NamedAmongAsked(ctx, db.NamedAmongAskedParams{DirectoryID: directory, Body: text})
	if err != nil || len(named) == 1 {
		return first(named), err
	}
	return nil, nil
}

func first(ids []uuid.UUID) *uuid.UUID {
	if len(ids) == 0 {
		return nil
	}
	return &ids[0]
}

// actOn takes what a letter says of a listing: that it is suspended; what its staff answer to what they were written to, where
// that is plain, and a person reads it where it is not; or else that something was answered, which the directory is then asked
// about. What a program wrote is no answer.
func (d *Desk) actOn(ctx context.Context, l *ledger.Listing, body string, auto bool) error {
	if words := l.Book.Notices.Suspended; words != "" && strings.Contains(body, words) {
		return sightings.Suspended(ctx, l, saidIn(body))
	}
	asked := l.State.AnswerBy != nil && !auto
	says, page := verification.AnswerIn(l.Book, body)
	if err := l.Add(ctx, verification.NoticeCame{Says: saidIn(body), Unread: asked && says == ""}); err != nil {
		return err
	}
	if asked && says != "" {
		return l.Add(ctx, answerOf(says, page, saidIn(body)))
	}
	var jobs []river.InsertManyParams
	for _, due := range l.State.Deadlines(l.Book) {
		switch due.Kind {
		case verification.AskStatus, verification.AskAccess, verification.AskChange, verification.AskDuplicate, verification.AskAppeal:
			jobs = append(jobs, river.InsertManyParams{Args: DueJob{Location: l.Location, Directory: l.Directory, What: due.Kind}})
		}
	}
	if len(jobs) == 0 {
		return nil
	}
	_, err := d.jobs.InsertManyTx(ctx, l.Tx, jobs)
	return err
}

// answerOf is the event that a letter of a directory's staff is.
func answerOf(says verification.StaffSays, page, body string) verification.What {
	if says == verification.TheyRefused {
		return verification.RefusedThere{Says: body}
	}
	return verification.TakenIn{Page: page}
}

// mostSaid is how much is kept of what a letter says, in characters; the whole of it is kept with the letter.
const mostSaid = 2000

// saidIn is what a letter says after its first line, where that names the listing.
func saidIn(body string) string {
	if first, rest, more := strings.Cut(body, "\n"); more && strings.HasPrefix(first, "About ") {
		body = rest
	}
	body = strings.TrimSpace(body)
	if said := []rune(body); len(said) > mostSaid {
		return string(said[:mostSaid]) + " …"
	}
	return body
}

// AssignNotice says which location a letter is about, and acts on it.
func (d *Desk) AssignNotice(ctx context.Context, actor people.Actor, id string, location uuid.UUID) error {
	n, err := d.store.Notice(ctx, id)
	if err != nil {
		return problem.OrNotFound(err, "There is no such letter.")
	}
	if n.DirectoryID == nil || n.LocationID != nil {
		return problem.Conflictf("It is known already what this letter is about.")
	}
	return d.ledger.Change(ctx, actor, ledger.Place{Location: location, Directory: *n.DirectoryID}, func(l *ledger.Listing) error {
		if n, err := l.Q.Notice(ctx, id); err != nil || n.LocationID != nil {
			return err // somebody else was faster
		}
		if l.State.Control != verification.Held {
			return problem.Conflictf("The listing of %s on %s is not held by us.", l.Where.Label, l.Book.Name)
		}
		if err := l.Q.AssignNotice(ctx, db.AssignNoticeParams{ID: id, LocationID: &location}); err != nil {
			return err
		}
		return d.actOn(ctx, l, n.Body, false)
	})
}
