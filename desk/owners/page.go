package owners

import (
	"context"
	"errors"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/core/rule/film"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// OwnerState is how a private page stands.
type OwnerState string

const (
	LinkOpen      OwnerState = "open"
	LinkWaiting   OwnerState = "waiting" // the call that was chosen is still to come
	LinkDone      OwnerState = "done"
	LinkExpired   OwnerState = "expired"
	LinkShut      OwnerState = "withdrawn"
	LinkNotNeeded OwnerState = "not_needed" // it was settled another way
)

// StateOfLink is how an owner link stands.
func StateOfLink(l OwnerLink, s verification.State, now time.Time) OwnerState {
	i := slices.IndexFunc(s.Attempts, func(a verification.Attempt) bool { return a.ID == l.Attempt })
	switch {
	case l.WithdrawnAt != nil:
		return LinkShut
	case l.DoneAt != nil:
		return LinkDone
	case !now.Before(l.Expires):
		return LinkExpired
	case l.Kind != string(verification.SendPaper) && s.VerifiedAt != nil, l.Kind == string(verification.TypeCode) && (i < 0 || !s.Attempts[i].Live()):
		return LinkNotNeeded
	case l.Kind == string(verification.TakeCall) && l.CallAt != nil && i < 0:
		return LinkWaiting
	}
	return LinkOpen
}

// OwnerPage is all that a private page shows. It tells nothing of other listings, of the
// record, or of who else works on it.
type OwnerPage struct {
	Task     verification.OwnerTask
	State    OwnerState
	Words    verification.OwnerWords
	Business string
	Zone     string
	Digits   int
	Tries    int // that are left; 0 where none is counted
	Said     string
	Times    []time.Time // to choose from
	Shots    []film.Shot // to film, one after another
	CallAt   *time.Time
	Sent     *verification.FromOwner // what was sent through it and may not be enough
}

// errNoLink is the same for a page that never was and one that is guessed at.
var errNoLink = &problem.Problem{Kind: problem.NotFound, Detail: "This address opens nothing. Perhaps it was cut short; open it from the message again."}

func (d *Desk) ownerLink(ctx context.Context, secret string) (OwnerLink, error) {
	link, err := store.One(LinkOf)(d.store.OwnerLinkByToken(ctx, people.HashOf(secret)))
	if errors.Is(err, pgx.ErrNoRows) {
		return link, errNoLink
	}
	return link, err
}

// OwnerPage opens a private page.
func (d *Desk) OwnerPage(ctx context.Context, secret string) (out OwnerPage, err error) {
	link, err := d.ownerLink(ctx, secret)
	if err != nil {
		return out, err
	}
	at := ledger.Place{Location: link.LocationID, Directory: link.DirectoryID}
	if link.OpenedAt == nil {
		err := d.ledger.Change(ctx, ownerActor, at, func(l *ledger.Listing) error {
			n, err := l.Q.OpenOwnerLink(ctx, db.OpenOwnerLinkParams{ID: link.ID, OpenedAt: &l.Now})
			if err != nil || n == 0 {
				return err
			}
			return l.Add(ctx, verification.LinkOpened{})
		})
		if err != nil {
			return out, err
		}
	}
	book, st, err := d.ledger.Begun(ctx, at)
	if err != nil {
		return out, err
	}
	location, err := d.ledger.Location(ctx, at.Location)
	if err != nil {
		return out, err
	}
	now := d.clock.Now()
	o := ownerOf(link, book, location.Record, st, now)
	out = OwnerPage{
		Task:     o.Task,
		State:    StateOfLink(link, st, now),
		Business: location.Record.Name + ", " + location.Record.Address.Locality,
		Zone:     verification.ZoneOf(location.Record, book).String(),
		CallAt:   link.CallAt,
	}
	if o.Attempt != nil || o.Task != verification.TypeCode {
		out.Words = o.Words()
	}
	if o.Attempt != nil && out.State == LinkOpen {
		out.Digits, out.Tries, out.Said = o.Attempt.Digits, o.Attempt.TriesLeft, o.Attempt.Says
	}
	if f := st.FromOwner; f != nil && f.Task == o.Task && !f.At.Before(link.MadeAt) && out.State == LinkOpen {
		out.Sent = f
	}
	if f := files.FilmingFor(book, location.Record, nil); o.Task == verification.FilmIt && f != nil {
		out.Shots = f.Shots
	}
	if o.Task == verification.TakeCall && o.Attempt == nil && out.State == LinkOpen || out.State == LinkWaiting {
		out.Times = verification.CallTimes(location.Record, now)
	}
	return out, nil
}

// openLink is a private page's link while its task can still be done.
func (d *Desk) openLink(ctx context.Context, secret string, task ...verification.OwnerTask) (link OwnerLink, s verification.State, err error) {
	if link, err = d.ownerLink(ctx, secret); err != nil {
		return link, s, err
	}
	if !slices.Contains(task, verification.OwnerTask(link.Kind)) {
		return link, s, problem.Conflictf("This page is for something else.")
	}
	_, st, err := d.ledger.Begun(ctx, ledger.Place{Location: link.LocationID, Directory: link.DirectoryID})
	if err != nil {
		return link, s, err
	}
	if st := StateOfLink(link, st, d.clock.Now()); st != LinkOpen && st != LinkWaiting {
		return link, s, problem.Conflictf("This page is shut. Nothing more has to be done here.")
	}
	return link, st, nil
}

// ownerActor is the owner, as the history names them.
var ownerActor = people.Actor{Name: "The owner"}
