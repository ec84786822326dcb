package desk

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/film"
	"uvent/core/rule/rulebook"
	"uvent/reach"
	"uvent/store/db"
)

// OwnerLink is a private page through which an owner does one thing.
type OwnerLink = db.OwnerLink

// How long owner links work at most.
var ownerDays = map[verification.OwnerTask]int{verification.TypeCode: 60, verification.SendPaper: 14, verification.TakeCall: 7, verification.FilmIt: 14}

// MadeLink is an owner link as it was made. Its address is told this once.
type MadeLink struct {
	OwnerLink
	Address string
	Words   verification.OwnerWords
	Mailed  bool
}

// newToken is a secret that opens a page, and what is kept of it.
func newToken() (secret string, hash []byte) {
	b := make([]byte, 16)
	rand.Read(b)
	secret = base64.RawURLEncoding.EncodeToString(b)
	return secret, hashOf(secret)
}

func hashOf(secret string) []byte {
	h := sha256.Sum256([]byte(secret))
	return h[:]
}

// ownerAddress is where a secret opens its page.
func (d *Desk) ownerAddress(secret string) string { return d.Address() + "/o/" + secret }

// MakeLink makes a private page for the owner of a location: for the code of the listing's
// latest attempt, for a paper, or for a call. It is mailed to the owner, if it is to be,
// and the owner is reminded then.
func (d *Desk) MakeLink(ctx context.Context, who Person, at Place, task verification.OwnerTask, mail bool) (out MadeLink, err error) {
	secret, hash := newToken()
	err = d.change(ctx, who.Actor(), at, func(l *listing) error {
		p := db.AddOwnerLinkParams{ID: uuid.New(), Kind: string(task), LocationID: at.Location, DirectoryID: at.Directory, MadeBy: who.Name, MadeFrom: who.Email, MadeAt: l.now, Expires: l.now.AddDate(0, 0, ownerDays[task])}
		if err := l.mayLink(task, &p); err != nil {
			return err
		}
		if mail {
			if p.SentTo = l.client.OwnerEmail; p.SentTo == "" {
				return conflict("%s has no owner’s email yet; add it under the client, or hand the address on yourself.", l.client.Name)
			}
			remind := l.now.AddDate(0, 0, 3)
			if a := l.state.Attempt(); task == verification.TypeCode && a.Window != nil {
				remind = maxTime(remind, a.Window.Earliest.At(10*60, verification.ZoneOf(l.location.Record, l.book)))
			}
			if remind.Before(p.Expires) {
				p.RemindAt = &remind
			}
		}
		if out.OwnerLink, err = l.q.AddOwnerLink(ctx, p); err != nil {
			return err
		}
		if err := l.q.AddOwnerToken(ctx, db.AddOwnerTokenParams{Hash: hash, LinkID: p.ID}); err != nil {
			return err
		}
		out.Address, out.Mailed = d.ownerAddress(secret), mail
		out.Words = l.owner(out.OwnerLink).Words()
		if mail {
			if err := d.mailOwner(ctx, l.tx, out.OwnerLink, l.client.OwnerName, out.Words, out.Address, false); err != nil {
				return err
			}
		}
		return l.add(ctx, verification.Event{Kind: verification.LinkMade, To: p.SentTo, Says: out.Words.Title})
	})
	return out, err
}

func maxTime(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

// mayLink says why no page can be made for a task, and fills in what it is for.
func (l *listing) mayLink(task verification.OwnerTask, p *db.AddOwnerLinkParams) error {
	a := l.state.Attempt()
	switch task {
	case verification.TypeCode:
		if a == nil || !a.Live() || !a.Method.SendsCode() {
			return conflict("No code is on its way; ask for one first.")
		}
		if l.book.Worked.People() {
			return conflict("Codes for %s are entered on its own pages.", l.book.Name)
		}
		p.Attempt = a.ID
		if a.Expires.Before(p.Expires) {
			p.Expires = a.Expires
		}
	case verification.SendPaper:
		if m, ok := l.book.Way(rulebook.Papers); (!ok || len(m.Papers) == 0) && len(l.book.Access.Papers) == 0 {
			return conflict("%s takes no papers.", l.book.Name)
		}
	case verification.TakeCall:
		switch m, ok := l.book.Way(rulebook.Call); {
		case !ok || l.book.Worked.People():
			return conflict("%s does not verify by a call that is asked for from here.", l.book.Name)
		case l.state.Control != verification.Held || l.state.VerifiedAt != nil:
			return conflict("A call verifies a listing that is held and not verified yet.")
		case len(m.Kinds) > 0 && !slices.Contains(m.Kinds, l.location.Record.Kind):
			return conflict("%s does not call this kind of location.", l.book.Name)
		case len(verification.CallTimes(l.location.Record, l.now)) == 0:
			return conflict("The record’s hours leave no time for a call in the next days.")
		}
	case verification.FilmIt:
		if filming(l.book, l.location.Record, nil) == nil {
			return conflict("%s takes no video that is sent from here.", l.book.Name)
		}
	default:
		return &Problem{Kind: Invalid, Detail: "A page is for a code, a paper, a video or a call."}
	}
	return nil
}

// ownerTasks are what the owner can be asked for now.
func ownerTasks(l *listing) (out []verification.OwnerTask) {
	if l.state.VerifiedAt != nil {
		return nil
	}
	for _, task := range []verification.OwnerTask{verification.TypeCode, verification.SendPaper, verification.TakeCall, verification.FilmIt} {
		if l.mayLink(task, &db.AddOwnerLinkParams{Expires: l.now}) == nil {
			out = append(out, task)
		}
	}
	return out
}

// owner is a link with what it is about.
func (l *listing) owner(link OwnerLink) verification.Owner {
	return ownerOf(link, l.book, l.location.Record, l.state, l.now)
}

func ownerOf(link OwnerLink, book rulebook.Rulebook, r record.Record, s verification.State, now time.Time) verification.Owner {
	o := verification.Owner{Task: verification.OwnerTask(link.Kind), Book: book, Record: r, From: link.MadeBy, CallAt: link.CallAt, Expires: link.Expires, Now: now}
	for i := range s.Attempts {
		if s.Attempts[i].ID == link.Attempt {
			o.Attempt = &s.Attempts[i]
		}
	}
	return o
}

// mailOwner writes to the owner with a page's address.
func (d *Desk) mailOwner(ctx context.Context, tx pgx.Tx, link OwnerLink, name string, w verification.OwnerWords, address string, again bool) error {
	hello := "Hello"
	if name != "" {
		hello += " " + strings.Fields(name)[0]
	}
	subject, first := w.Title, w.Why
	if again {
		subject, first = "Reminder: "+w.Title, "this is still open. "+w.Why
	}
	body := fmt.Sprintf("%s,\n\n%s\n\n%s\n%s\n\n%s\n\n%s\nYou need no account and no password; the address is yours alone.\n\n%s\n", hello, first, w.What, w.How, address, w.Until, link.MadeBy)
	m := reach.Mail{ID: uuid.NewString(), From: link.MadeFrom, As: link.MadeBy, To: link.SentTo, Subject: subject, Body: body}
	return d.post(ctx, tx, m)
}

// WithdrawLink shuts a page for good.
func (d *Desk) WithdrawLink(ctx context.Context, actor Actor, id uuid.UUID) error {
	var at Place
	err := d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		link, err := q.LockOwnerLink(ctx, id)
		at = Place{link.LocationID, link.DirectoryID}
		return orNotFound(err, "There is no such link.")
	})
	if err != nil {
		return err
	}
	return d.change(ctx, actor, at, func(l *listing) error {
		n, err := l.q.WithdrawOwnerLink(ctx, db.WithdrawOwnerLinkParams{ID: id, WithdrawnAt: &l.now})
		if err != nil || n == 0 {
			return err // it was done or withdrawn already
		}
		return l.add(ctx, verification.Event{Kind: verification.LinkWithdrawn})
	})
}

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
}

// errNoLink is the same for a page that never was and one that is guessed at.
var errNoLink = &Problem{Kind: NotFound, Detail: "This address opens nothing. Perhaps it was cut short; open it from the message again."}

func (d *Desk) ownerLink(ctx context.Context, secret string) (OwnerLink, error) {
	link, err := d.store.OwnerLinkByToken(ctx, hashOf(secret))
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
	at := Place{link.LocationID, link.DirectoryID}
	if link.OpenedAt == nil {
		err := d.change(ctx, ownerActor, at, func(l *listing) error {
			n, err := l.q.OpenOwnerLink(ctx, db.OpenOwnerLinkParams{ID: link.ID, OpenedAt: &l.now})
			if err != nil || n == 0 {
				return err
			}
			return l.add(ctx, verification.Event{Kind: verification.LinkOpened})
		})
		if err != nil {
			return out, err
		}
	}
	book, st, err := d.begun(ctx, at)
	if err != nil {
		return out, err
	}
	location, err := d.Location(ctx, at.Location)
	if err != nil {
		return out, err
	}
	now := d.clock.Now()
	o := ownerOf(link, book, location.Record, st, now)
	out = OwnerPage{Task: o.Task, State: StateOfLink(link, st, now), Business: location.Record.Name + ", " + location.Record.Address.Locality, Zone: verification.ZoneOf(location.Record, book).String(), CallAt: link.CallAt}
	if o.Attempt != nil || o.Task != verification.TypeCode {
		out.Words = o.Words()
	}
	if o.Attempt != nil && out.State == LinkOpen {
		out.Digits, out.Tries, out.Said = o.Attempt.Digits, o.Attempt.TriesLeft, o.Attempt.Says
	}
	if f := filming(book, location.Record, nil); o.Task == verification.FilmIt && f != nil {
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
		return link, s, conflict("This page is for something else.")
	}
	_, st, err := d.begun(ctx, Place{link.LocationID, link.DirectoryID})
	if err != nil {
		return link, s, err
	}
	if st := StateOfLink(link, st, d.clock.Now()); st != LinkOpen && st != LinkWaiting {
		return link, s, conflict("This page is shut. Nothing more has to be done here.")
	}
	return link, st, nil
}

// ownerActor is the owner, as the history names them.
var ownerActor = Actor{Name: "The owner"}

// OwnerCode gives the code that an owner has typed to the directory.
func (d *Desk) OwnerCode(ctx context.Context, secret, code string) error {
	link, _, err := d.openLink(ctx, secret, verification.TypeCode, verification.TakeCall)
	if err != nil {
		return err
	}
	at := Place{link.LocationID, link.DirectoryID}
	call, err := d.EnterCode(ctx, ownerActor, at, link.Attempt, code)
	if err != nil {
		return err
	}
	if done, err := d.Await(ctx, call); err != nil || !done {
		return err // its answer is shown when it comes
	}
	_, st, err := d.begun(ctx, at)
	if err != nil || st.VerifiedAt == nil && st.Verification != verification.InReview {
		return err
	}
	return d.finishLink(ctx, link)
}

func (d *Desk) finishLink(ctx context.Context, link OwnerLink) error {
	return d.change(ctx, ownerActor, Place{link.LocationID, link.DirectoryID}, func(l *listing) error {
		_, err := l.q.FinishOwnerLink(ctx, db.FinishOwnerLinkParams{ID: link.ID, DoneAt: &l.now})
		return err
	})
}

// OwnerPaper takes in the paper that an owner has sent.
func (d *Desk) OwnerPaper(ctx context.Context, secret, name string, data []byte) error {
	link, _, err := d.openLink(ctx, secret, verification.SendPaper)
	if err != nil {
		return err
	}
	if _, err := d.AddPaper(ctx, ownerActor, Scope{Location: &link.LocationID}, name, data); err != nil {
		return err
	}
	return d.finishLink(ctx, link)
}

// OwnerVideo takes in the video that an owner has sent.
func (d *Desk) OwnerVideo(ctx context.Context, secret, name string, data []byte, seen film.Seen) error {
	link, _, err := d.openLink(ctx, secret, verification.FilmIt)
	if err != nil {
		return err
	}
	if _, err := d.AddVideo(ctx, ownerActor, link.LocationID, name, data, seen); err != nil {
		return err
	}
	return d.finishLink(ctx, link)
}

// OwnerTime notes when an owner wants to be called. It can be changed until the call.
func (d *Desk) OwnerTime(ctx context.Context, secret string, t time.Time) error {
	link, _, err := d.openLink(ctx, secret, verification.TakeCall)
	if err != nil {
		return err
	}
	return d.change(ctx, ownerActor, Place{link.LocationID, link.DirectoryID}, func(l *listing) error {
		if !verification.CallTime(l.location.Record, t, l.now) {
			return conflict("That time is not open any more. Choose another.")
		}
		if err := l.q.SetOwnerCall(ctx, db.SetOwnerCallParams{ID: link.ID, CallAt: &t}); err != nil {
			return err
		}
		zone := verification.ZoneOf(l.location.Record, l.book)
		return l.add(ctx, verification.Event{Kind: verification.CallChosen, Says: fmt.Sprintf("Wants to be called %s at %s.", verification.When(t, l.now, zone), verification.Clock(t, zone))})
	})
}

// ownerCallJob asks for the call that an owner has chosen the time of.
type ownerCallJob struct {
	Link uuid.UUID `json:"link"`
}

// Kind names the job.
func (ownerCallJob) Kind() string { return "owner_call" }

type ownerCallWorker struct {
	river.WorkerDefaults[ownerCallJob]
	desk *Desk
}

// Work asks for the call, and has the page take its code.
func (w *ownerCallWorker) Work(ctx context.Context, job *river.Job[ownerCallJob]) error {
	d := w.desk
	var link OwnerLink
	err := d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) (err error) {
		link, err = q.LockOwnerLink(ctx, job.Args.Link)
		return err
	})
	if err != nil {
		return err
	}
	at := Place{link.LocationID, link.DirectoryID}
	_, err = d.AskCode(ctx, Uvent, at, rulebook.Call)
	attempt := ""
	if p := (*Problem)(nil); errors.As(err, &p) {
		// It cannot be called now: the owner chooses again.
		return d.change(ctx, Uvent, at, func(l *listing) error {
			if err := l.q.SetOwnerCall(ctx, db.SetOwnerCallParams{ID: link.ID}); err != nil {
				return err
			}
			return l.add(ctx, verification.Event{Kind: verification.CallChosen, Says: "The call could not be asked for. " + p.Detail})
		})
	}
	if err != nil {
		return err
	}
	_, st, err := d.begun(ctx, at)
	if err != nil {
		return err
	}
	if a := st.Attempt(); a != nil {
		attempt = a.ID
	}
	return d.store.SetOwnerAttempt(ctx, db.SetOwnerAttemptParams{ID: link.ID, Attempt: attempt})
}

// remindOwners writes to the owners whose pages are still open, and enqueues the calls
// that they have chosen.
func (d *Desk) remindOwners(ctx context.Context, q *db.Queries, tx pgx.Tx) error {
	due, err := q.TakeDueReminders(ctx, d.clock.Now())
	if err != nil {
		return err
	}
	for _, link := range due {
		if err := d.remind(ctx, q, tx, link); err != nil {
			return err
		}
	}
	now := d.clock.Now()
	calls, err := q.TakeDueCalls(ctx, &now)
	for _, id := range calls {
		if _, err := d.jobs.InsertTx(ctx, tx, ownerCallJob{id}, nil); err != nil {
			return err
		}
	}
	return err
}

// remind writes to an owner again, with a secret of its own.
func (d *Desk) remind(ctx context.Context, q *db.Queries, tx pgx.Tx, link OwnerLink) error {
	book, err := d.Book(link.DirectoryID)
	if err != nil {
		return nil // the directory is no more
	}
	location, err := q.Location(ctx, link.LocationID)
	if err != nil {
		return err
	}
	client, err := q.Client(ctx, location.ClientID)
	if err != nil {
		return err
	}
	row, err := q.Listing(ctx, db.ListingParams{LocationID: link.LocationID, DirectoryID: link.DirectoryID})
	if err != nil || StateOfLink(link, row.State, d.clock.Now()) != LinkOpen {
		return ignoreNoRows(err)
	}
	secret, hash := newToken()
	if err := q.AddOwnerToken(ctx, db.AddOwnerTokenParams{Hash: hash, LinkID: link.ID}); err != nil {
		return err
	}
	words := ownerOf(link, book, location.Record, row.State, d.clock.Now()).Words()
	return d.mailOwner(ctx, tx, link, client.OwnerName, words, d.ownerAddress(secret), true)
}
