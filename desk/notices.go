package desk

import (
	"context"
	"errors"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
	"uvent/reach"
	"uvent/store/db"
)

// readMail reads what directories have written to us, acts on it, and tells how many
// letters there were. A letter that two servers read at once is acted on by one.
func (d *Desk) readMail(ctx context.Context) (read int, err error) {
	if d.reach.Outside() == "" {
		return 0, nil
	}
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
			taken, err := d.take(ctx, l)
			if err != nil || !taken {
				return read, err
			}
			read++
		}
	}
}

// sender is the directory that a letter comes from; nil where none is known by it.
func (d *Desk) sender(from string) *rulebook.Rulebook {
	books := d.Books()
	for i := range books {
		if f := books[i].Notices.From; f != "" && strings.EqualFold(f, from) {
			return &books[i]
		}
	}
	return nil
}

// take keeps a letter, finds the listing that it is about, and acts on it. False: it may be
// about a listing that is just being made, and is read again once that is answered.
func (d *Desk) take(ctx context.Context, l reach.Letter) (bool, error) {
	book := d.sender(l.From)
	var directory *string
	var about *uuid.UUID
	if book != nil {
		directory = &book.ID
		found, err := d.store.ListingByPage(ctx, db.ListingByPageParams{DirectoryID: book.ID, Body: l.Subject + "\n" + l.Body})
		if ignoreNoRows(err) != nil {
			return false, err
		}
		if err == nil {
			about = &found
		} else if making, err := d.store.BeingMade(ctx, book.ID); err != nil || making {
			return false, err
		}
	}
	var fresh bool
	keep := func(q *db.Queries) (err error) {
		fresh, err = q.AddNotice(ctx, db.AddNoticeParams{ID: l.ID, Number: l.Number, At: d.clock.Now(), Sender: l.From, Subject: l.Subject, Body: l.Body, DirectoryID: directory, LocationID: about})
		return err
	}
	if about == nil {
		return true, d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error { return keep(q) })
	}
	return true, d.change(ctx, Actor{Name: book.Name}, Place{*about, book.ID}, func(s *listing) error {
		if err := keep(s.q); err != nil || !fresh {
			return err
		}
		return d.actOn(ctx, s, l.Body)
	})
}

// actOn takes what a letter says of a listing: that it is suspended, or else that
// something was answered, which the directory is then asked about.
func (d *Desk) actOn(ctx context.Context, l *listing, body string) error {
	if words := l.book.Notices.Suspended; words != "" && strings.Contains(body, words) {
		return l.suspended(ctx, saidIn(body))
	}
	if err := l.add(ctx, verification.Event{Kind: verification.NoticeCame, Says: "They write: " + saidIn(body)}); err != nil {
		return err
	}
	var jobs []river.InsertManyParams
	for _, due := range l.state.Deadlines(l.book) {
		switch due.Kind {
		case verification.AskStatus, verification.AskAccess, verification.AskChange, verification.AskDuplicate, verification.AskAppeal:
			jobs = append(jobs, river.InsertManyParams{Args: dueJob{Location: l.Location, Directory: l.Directory, What: due.Kind}})
		}
	}
	if len(jobs) == 0 {
		return nil
	}
	_, err := d.jobs.InsertManyTx(ctx, l.tx, jobs)
	return err
}

// saidIn is what a letter says after its first line, which names the listing.
func saidIn(body string) string {
	if first, rest, more := strings.Cut(body, "\n"); more && strings.HasPrefix(first, "About ") {
		body = rest
	}
	return strings.TrimSpace(body)
}

// suspended opens the case of a listing that is suspended, with the likeliest cause as far
// as our own history tells.
func (l *listing) suspended(ctx context.Context, says string) error {
	if l.state.OpenCase(verification.CaseSuspended) != nil {
		return nil // known already
	}
	s, err := riskSubject(ctx, l.q, l.location)
	if err != nil {
		return err
	}
	rows, err := l.q.ListingEvents(ctx, db.ListingEventsParams{LocationID: &l.Location, DirectoryID: &l.Directory})
	if err != nil {
		return err
	}
	history, err := readEvents(rows)
	if err != nil {
		return err
	}
	e := verification.Event{Kind: verification.SuspendedThere, Says: says}
	if suspects, unnamed := risk.Suspects(&l.book, s, cases.Edits(history, verification.ZoneOf(l.location.Record, l.book)), says, l.now); len(suspects) > 0 && suspects[0].Share > unnamed {
		e.Cause = suspects[0].Cause
	}
	return l.add(ctx, e)
}

// Notice is a letter of a directory.
type Notice = db.Notice

// LooseNotices are letters of directories of which it could not be told which listing
// they are about, the newest first.
func (d *Desk) LooseNotices(ctx context.Context) ([]Notice, error) { return d.store.LooseNotices(ctx) }

// AssignNotice says which location a letter is about, and acts on it.
func (d *Desk) AssignNotice(ctx context.Context, actor Actor, id string, location uuid.UUID) error {
	n, err := d.store.Notice(ctx, id)
	if err != nil {
		return orNotFound(err, "There is no such letter.")
	}
	if n.DirectoryID == nil || n.LocationID != nil {
		return conflict("It is known already what this letter is about.")
	}
	return d.change(ctx, actor, Place{location, *n.DirectoryID}, func(l *listing) error {
		if n, err := l.q.Notice(ctx, id); err != nil || n.LocationID != nil {
			return err // somebody else was faster
		}
		if l.state.Control != verification.Held {
			return conflict("The listing of %s on %s is not held by us.", l.location.Label, l.book.Name)
		}
		if err := l.q.AssignNotice(ctx, db.AssignNoticeParams{ID: id, LocationID: &location}); err != nil {
			return err
		}
		return d.actOn(ctx, l, n.Body)
	})
}

// PutNoticeAside says that a letter needs nothing, or takes that back.
func (d *Desk) PutNoticeAside(ctx context.Context, id string, aside bool) error {
	n, err := d.store.PutNoticeAside(ctx, db.PutNoticeAsideParams{ID: id, PutAside: aside})
	if err == nil && n == 0 {
		return &Problem{Kind: NotFound, Detail: "There is no such letter."}
	}
	return err
}
