package owners

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/fact/language"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// OwnerLink is a private page through which an owner does one thing.
type OwnerLink struct {
	ID          uuid.UUID
	Kind        string // a verification.OwnerTask
	LocationID  uuid.UUID
	DirectoryID string
	Attempt     string // whose code it is for
	SentTo      string // an email; empty: it was handed on
	MadeBy      string
	MadeFrom    string // an email
	MadeAt      time.Time
	Expires     time.Time
	OpenedAt    *time.Time
	DoneAt      *time.Time
	WithdrawnAt *time.Time
	CallAt      *time.Time // when the owner wants to be called
	RemindAt    *time.Time
	Instead     string     // the attempt under way that a call may end
	Reminded    int32      // letters that were written about it
	RemindedAt  *time.Time // the last of them
}

// LinkOf is a link as it is kept.
func LinkOf(row db.OwnerLink) OwnerLink { return OwnerLink(row) }

// How long owner links work at most.
var ownerDays = map[verification.OwnerTask]int{
	verification.TypeCode:  60,
	verification.SendPaper: 14,
	verification.TakeCall:  7,
	verification.FilmIt:    14,
	verification.PayByCard: 14,
}

// MadeLink is an owner link as it was made. Its address is told this once.
type MadeLink struct {
	OwnerLink
	Address string
	Words   verification.OwnerWords
	Mailed  bool
}

// ownerAddress is where a secret opens its page.
func (d *Desk) ownerAddress(secret string) string { return d.people.Address() + "/o/" + secret }

// secretOf names the secret that opens a link's page.
func secretOf(link OwnerLink) people.Secret {
	return people.Secret{For: "owner link", ID: link.ID.String()}
}

// LinkFor is what a page is made for.
type LinkFor struct {
	Task    verification.OwnerTask
	Mail    bool   // it is mailed to the owner, who is reminded
	Instead string // of a call: id of the attempt under way that it may end; empty: none

	call  *time.Time // when the owner is called; nil: they choose
	later bool       // it is written about with others that are asked for in the next moments
}

// MakeLink makes a private page for the owner of a location: for the code of the listing's
// latest attempt, for a paper, a video, or for a call.
func (d *Desk) MakeLink(ctx context.Context, who people.Person, at ledger.Place, of LinkFor) (out MadeLink, err error) {
	err = d.ledger.Change(ctx, who.Actor(), at, func(l *ledger.Listing) error {
		out, err = d.makeLink(ctx, l, who, of)
		return err
	})
	return out, err
}

func (d *Desk) makeLink(ctx context.Context, l *ledger.Listing, who people.Person, of LinkFor) (out MadeLink, err error) {
	task := of.Task
	p := db.AddOwnerLinkParams{
		ID:          uuid.New(),
		Kind:        string(task),
		LocationID:  l.Place.Location,
		DirectoryID: l.Place.Directory,
		MadeBy:      who.Name,
		MadeFrom:    who.Email,
		MadeAt:      l.Now,
		Expires:     l.Now.AddDate(0, 0, ownerDays[task]),
		Instead:     of.Instead,
	}
	if err := mayLink(l, task, &p); err != nil {
		return out, err
	}
	if a := l.State.EndedBy(rulebook.Call, l.Book); task == verification.TakeCall && a != nil && a.Method != rulebook.Call && a.ID != of.Instead {
		return out, problem.Conflictf(
			"A call would end what is under way there (%s). Say that it may, or wait for it.",
			strings.ToLower(verification.Title(a.Method)),
		)
	}
	if of.Mail {
		if p.SentTo = l.Client.OwnerEmail; p.SentTo == "" {
			return out, problem.Conflictf("%s has no owner’s email yet; add it under the client, or hand the address on yourself.", l.Client.Name)
		}
		p.RemindAt = &l.Now // the first letter, which tells of all that the owner is asked for at the time
		if of.later {
			p.RemindAt = new(l.Now.Add(time.Minute)) // in case that nobody comes to say that they are all asked
		}
	}
	if out.OwnerLink, err = store.One(LinkOf)(l.Q.AddOwnerLink(ctx, p)); err != nil {
		return out, err
	}
	if of.call != nil {
		if err := l.Q.SetOwnerCall(ctx, db.SetOwnerCallParams{ID: p.ID, CallAt: of.call}); err != nil {
			return out, err
		}
		out.CallAt = of.call
	}
	secret := d.people.SecretOf(secretOf(out.OwnerLink))
	if err := l.Q.AddOwnerToken(ctx, db.AddOwnerTokenParams{Hash: people.HashOf(secret), LinkID: p.ID}); err != nil {
		return out, err
	}
	out.Address, out.Mailed = d.ownerAddress(secret), of.Mail
	out.Words = ownerTask(l, out.OwnerLink, language.Of(l.Client.Language)).Words()
	return out, l.Add(ctx, verification.LinkMade{To: p.SentTo, Says: out.Words.Title})
}

// Book has the owner called at a time in the shop's hours at which nobody else of ours is called, and tells them a day before;
// on the page that they are written to with, they may choose another. It is done in a transaction in which more is done.
func (d *Desk) Book(ctx context.Context, l *ledger.Listing, who people.Person) (at time.Time, err error) {
	_, err = d.book(ctx, l, who, LinkFor{}, func(others []time.Time) (_ time.Time, free bool) {
		at, free = verification.BookTime(l.Where.Record, l.Now, others)
		return at, free
	})
	return at, err
}

// BookAt is the same for a time that was chosen, which may end what of says.
func (d *Desk) BookAt(ctx context.Context, who people.Person, at ledger.Place, of LinkFor, call time.Time) (out MadeLink, err error) {
	err = d.ledger.Change(ctx, who.Actor(), at, func(l *ledger.Listing) error {
		out, err = d.book(ctx, l, who, of, func(others []time.Time) (time.Time, bool) {
			return call, verification.Bookable(l.Where.Record, call, l.Now, others)
		})
		return err
	})
	return out, err
}

func (d *Desk) book(
	ctx context.Context, l *ledger.Listing, who people.Person, of LinkFor, choose func(others []time.Time) (time.Time, bool),
) (out MadeLink, err error) {
	if err := store.LockCalls(ctx, l.Tx); err != nil {
		return out, err
	}
	pages, err := l.Q.OwnerPagesOf(ctx, []uuid.UUID{l.Place.Location})
	if err != nil {
		return out, err
	}
	for _, p := range pages {
		if p.DirectoryID == l.Place.Directory && p.Kind == string(verification.TakeCall) && p.Expires.After(l.Now) {
			return out, problem.Conflictf("Its owner was asked to take a call already. Wait for that, or withdraw the page.")
		}
	}
	others, err := l.Q.CallsToCome(ctx, l.Now)
	if err != nil {
		return out, err
	}
	at, free := choose(others)
	switch {
	case !free && at.IsZero():
		return out, problem.Conflictf("The record’s hours leave no time for a call in the next days.")
	case !free:
		return out, problem.Conflictf("Nobody can be called then: it has to be in the shop’s hours, a day ahead, and half an hour off all other calls.")
	}
	of.Task, of.Mail, of.call = verification.TakeCall, true, &at
	return d.makeLink(ctx, l, who, of)
}

// mayLink says why no page can be made for a task, and fills in what it is for.
func mayLink(l *ledger.Listing, task verification.OwnerTask, p *db.AddOwnerLinkParams) error {
	a := l.State.Attempt()
	switch task {
	case verification.TypeCode:
		if a == nil || !a.Live() || !a.Method.SendsCode() {
			return problem.Conflictf("No code is on its way; ask for one first.")
		}
		if l.Book.Worked.People() {
			return problem.Conflictf("Codes for %s are entered on its own pages.", l.Book.Name)
		}
		p.Attempt = a.ID
		if a.Expires.Before(p.Expires) {
			p.Expires = a.Expires
		}
	case verification.SendPaper:
		if len(l.State.PapersTaken(l.Book)) == 0 {
			return problem.Conflictf("%s takes no papers for this listing as it stands.", l.Book.Name)
		}
	case verification.TakeCall:
		switch m, ok := l.Book.Way(rulebook.Call); {
		case !ok || l.Book.Worked.People():
			return problem.Conflictf("%s does not verify by a call that is asked for from here.", l.Book.Name)
		case l.State.Control != verification.Held || l.State.VerifiedAt != nil:
			return problem.Conflictf("A call verifies a listing that is held and not verified yet.")
		case len(m.Kinds) > 0 && !slices.Contains(m.Kinds, l.Where.Record.Kind):
			return problem.Conflictf("%s does not call this kind of location.", l.Book.Name)
		case len(verification.CallTimes(l.Where.Record, l.Now)) == 0:
			return problem.Conflictf("The record’s hours leave no time for a call in the next days.")
		}
	case verification.FilmIt:
		if l.State.VerifiedAt != nil || files.FilmingFor(l.Book, l.Where.Record, nil, language.English) == nil {
			return problem.Conflictf("%s takes no video that is sent from here.", l.Book.Name)
		}
	case verification.PayByCard:
		switch _, ok := l.Book.Way(rulebook.Card); {
		case !ok || l.Book.Worked.People():
			return problem.Conflictf("%s does not verify by a card payment that is asked for from here.", l.Book.Name)
		case l.State.Control != verification.Held || l.State.VerifiedAt != nil:
			return problem.Conflictf("A card payment verifies a listing that is held and not verified yet.")
		case l.State.EndedBy(rulebook.Card, l.Book) != nil:
			return problem.Conflictf("A card payment would end what is under way there. Wait for that, or ask for it on the listing’s page.")
		}
	default:
		return &problem.Problem{Kind: problem.Invalid, Detail: "A page is for a code, a paper, a video, a call or a card payment."}
	}
	return nil
}

var ownerTasks = []verification.OwnerTask{
	verification.TypeCode, verification.SendPaper, verification.TakeCall, verification.FilmIt, verification.PayByCard,
}

// OwnerTasks are what the owner can be asked for now.
func OwnerTasks(l *ledger.Listing) (out []verification.OwnerTask) {
	for _, task := range ownerTasks {
		if mayLink(l, task, &db.AddOwnerLinkParams{Expires: l.Now}) == nil {
			out = append(out, task)
		}
	}
	return out
}

// ownerTask is a link with what it is about.
func ownerTask(l *ledger.Listing, link OwnerLink, in language.Language) verification.Owner {
	return ownerOf(link, l.Book, l.Where.Record, l.State, l.Now, in)
}

func ownerOf(link OwnerLink, book rulebook.Rulebook, r record.Record, s verification.State, now time.Time, in language.Language) verification.Owner {
	return verification.Owner{
		Task: verification.OwnerTask(link.Kind), Book: book, Record: r, Attempt: s.Named(link.Attempt), Papers: s.PapersTaken(book),
		From: link.MadeBy, CallAt: link.CallAt, Expires: link.Expires, Now: now, In: in,
	}
}

// Asked is one thing that an owner is asked for.
type Asked struct {
	ledger.Place
	Task verification.OwnerTask
}

// mostAsked is how many things are asked for at once.
const mostAsked = 200

// AskMany asks the owners of listings for something each, and writes one letter to each of them, whatever it is about. Told are
// those that cannot be asked for, and why; the others are asked for.
func (d *Desk) AskMany(ctx context.Context, who people.Person, items []Asked) (asked int, refused map[Asked]string, err error) {
	if len(items) > mostAsked {
		return 0, nil, &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("Up to %d things can be asked for at once.", mostAsked)}
	}
	refused = map[Asked]string{}
	var made []uuid.UUID
	for _, item := range items {
		link, err := d.MakeLink(ctx, who, item.Place, LinkFor{Task: item.Task, Mail: true, later: true})
		var p *problem.Problem
		switch {
		case errors.As(err, &p):
			refused[item] = p.Detail
		case err != nil:
			return 0, nil, err
		default:
			made = append(made, link.ID)
		}
	}
	return len(made), refused, d.store.RemindNow(ctx, db.RemindNowParams{Now: d.clock.Now(), Ids: made})
}

// WithdrawLink shuts a page for good.
func (d *Desk) WithdrawLink(ctx context.Context, actor people.Actor, id uuid.UUID) error {
	var at ledger.Place
	err := d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		link, err := store.One(LinkOf)(q.LockOwnerLink(ctx, id))
		at = ledger.Place{Location: link.LocationID, Directory: link.DirectoryID}
		return problem.OrNotFound(err, "There is no such link.")
	})
	if err != nil {
		return err
	}
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		n, err := l.Q.WithdrawOwnerLink(ctx, db.WithdrawOwnerLinkParams{ID: id, WithdrawnAt: &l.Now})
		if err != nil || n == 0 {
			return err // it was done or withdrawn already
		}
		return l.Add(ctx, verification.LinkWithdrawn{})
	})
}

// EndPages shuts all private pages of a client's owner, and tells how many there were.
func (d *Desk) EndPages(ctx context.Context, actor people.Actor, client uuid.UUID) (ended int, err error) {
	pages, err := d.store.OpenOwnerPages(ctx, db.OpenOwnerPagesParams{ClientID: client, Now: d.clock.Now()})
	for _, id := range pages {
		if err := d.WithdrawLink(ctx, actor, id); err != nil {
			return ended, err
		}
		ended++
	}
	return ended, err
}
