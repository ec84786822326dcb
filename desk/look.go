package desk

import (
	"context"
	"errors"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/reach"
	"uvent/store/db"
)

func ignoreNoRows(err error) error {
	if errors.Is(err, pgx.ErrNoRows) {
		return nil
	}
	return err
}

// home is where a directory's pages are reckoned from.
func home(b rulebook.Rulebook) string {
	if b.Connector.URL != "" {
		return b.Connector.URL
	}
	return b.Page
}

// begun is a listing that there is, with its directory's rulebook.
func (d *Desk) begun(ctx context.Context, at Place) (book rulebook.Rulebook, st verification.State, err error) {
	if book, err = d.Book(at.Directory); err != nil {
		return book, st, err
	}
	row, err := d.store.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: at.Directory})
	return book, row.State, orNotFound(err, "This location has no listing there yet.")
}

// Look reads the listing's public page now and records what it shows.
func (d *Desk) Look(ctx context.Context, actor Actor, at Place) error {
	book, st, err := d.begun(ctx, at)
	if err != nil {
		return err
	}
	if st.Page == "" {
		return conflict("The listing has no public page yet; claim or create it first.")
	}
	seen, err := d.reach.Look(ctx, home(book), st.Page)
	var unanswered *reach.Unanswered
	switch {
	case errors.As(err, &unanswered):
		return conflict("%s’s page does not answer just now. Try again in a while.", book.Name)
	case err != nil:
		return conflict("%s’s page cannot be read: %v.", book.Name, err)
	}
	told := reach.Told{}
	if gone := seen == nil && st.Visibility == verification.Public; gone && st.Control == verification.Held && book.Connector.URL != "" {
		// Why it does not show, if they say; without an answer it is only gone.
		if told, err = d.reach.Told(ctx, book.Connector.URL, st.Ref); err != nil {
			told = reach.Told{}
		}
	}
	return d.change(ctx, actor, at, func(l *listing) error {
		e := verification.Event{Kind: verification.NotSeen}
		if seen != nil {
			e = verification.Event{Kind: verification.SeenPublic, Sighting: seen}
		}
		if told.Suspended != "" {
			if err := l.suspended(ctx, told.Suspended); err != nil {
				return err
			}
		}
		return l.add(ctx, e)
	})
}

// AskStatus asks a directory how what is asked of it stands: its review of the latest
// attempt, or the request for a listing that somebody else holds.
func (d *Desk) AskStatus(ctx context.Context, actor Actor, at Place) error {
	book, st, err := d.begun(ctx, at)
	if err != nil {
		return err
	}
	a := st.Attempt()
	if st.Access.Waiting() {
		return d.askAccess(ctx, actor, at)
	}
	if a != nil && a.Live() && a.Method == rulebook.Email && !book.Worked.People() {
		return d.askBounced(ctx, actor, at, book, a.ID)
	}
	if a == nil || a.State != verification.AttemptReview {
		return conflict("Nothing is in review there.")
	}
	e := verification.Event{Kind: verification.StillInReview, Attempt: a.ID}
	standing, err := d.reach.Status(ctx, book.Connector.URL, a.ReviewID)
	switch {
	case err != nil: // it is asked again the next time
	case standing.State == "accepted":
		e.Kind = verification.ReviewPassed
	case standing.State == "refused":
		e.Kind, e.Says = verification.ReviewFailed, standing.Says
		if e.Says == "" {
			e.Says = book.Name + " said no."
		}
	}
	if e.Kind != verification.StillInReview {
		actor = Actor{Name: book.Name}
	}
	return d.change(ctx, actor, at, func(l *listing) error {
		if now := l.state.Attempt(); now == nil || now.ID != a.ID || now.State != verification.AttemptReview {
			return nil // decided or replaced meanwhile
		}
		return l.add(ctx, e)
	})
}

// askBounced asks a directory whether the email with a code came back.
func (d *Desk) askBounced(ctx context.Context, actor Actor, at Place, book rulebook.Rulebook, attempt string) error {
	sent, err := sentID(ctx, d.store.Queries, at, attempt)
	if err != nil {
		return err
	}
	e := verification.Event{Kind: verification.StillInReview, Attempt: attempt}
	if standing, err := d.reach.Status(ctx, book.Connector.URL, sent); err == nil && standing.State == "bounced" {
		e.Kind, e.Says, actor = verification.CodeBounced, standing.Says+" Mend the address, or choose another way.", Actor{Name: book.Name}
	}
	return d.change(ctx, actor, at, func(l *listing) error {
		if now := l.state.Attempt(); now == nil || now.ID != attempt || !now.Live() {
			return nil
		}
		return l.add(ctx, e)
	})
}

// dueJob does what fell due on a listing by the job's clock.
type dueJob struct {
	Location  uuid.UUID         `json:"location"`
	Directory string            `json:"directory"`
	What      verification.Kind `json:"what"`
}

// Kind names the job.
func (dueJob) Kind() string { return "due" }

type dueWorker struct {
	river.WorkerDefaults[dueJob]
	desk *Desk
}

// Work looks at a page again, asks how a review stands, or lets a code lapse.
func (w *dueWorker) Work(ctx context.Context, job *river.Job[dueJob]) error {
	at := Place{job.Args.Location, job.Args.Directory}
	if job.Args.What == verification.Look {
		err := w.desk.Look(ctx, Uvent, at)
		var p *Problem
		if errors.As(err, &p) {
			return w.desk.change(ctx, Uvent, at, func(l *listing) error {
				return l.add(ctx, verification.Event{Kind: verification.LookUnanswered, Says: p.Detail})
			})
		}
		return err
	}
	if ask, ok := map[verification.Kind]func(context.Context, Actor, Place) error{
		verification.AskDuplicate: w.desk.askDuplicates, verification.AskChange: w.desk.askChange, verification.AskAppeal: w.desk.askAppeal,
	}[job.Args.What]; ok {
		return ask(ctx, Uvent, at)
	}
	if job.Args.What == verification.AskStatus || job.Args.What == verification.AskAccess {
		err := w.desk.AskStatus(ctx, Uvent, at)
		if p := (*Problem)(nil); errors.As(err, &p) {
			return nil // it was answered meanwhile
		}
		return err
	}
	return w.desk.change(ctx, Uvent, at, func(l *listing) error {
		a := l.state.Attempt()
		if a == nil || !a.Live() || l.now.Before(a.Expires) {
			return nil // replaced or accepted meanwhile
		}
		return l.add(ctx, verification.Event{Kind: verification.AttemptExpired, Attempt: a.ID})
	})
}
