package owners

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/fact/language"
	"uvent/core/listing/verification"
	"uvent/core/rule/film"
	"uvent/core/rule/rulebook"
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

// OwnerPage is all that a private page shows: what one owner is asked for, over places and directories. It tells nothing of
// other listings, of the record, or of who else works on it; one that was handed on to somebody has its one thing alone.
type OwnerPage struct {
	Business  string
	Heading   string // Three things, Dov
	Says      string // what there is to it where nothing is open
	From      string // who asks
	FromEmail string
	In        language.Language
	Things    []Thing // what is lost most by waiting first; what has ended last
}

// Thing is one thing that an owner is asked for.
type Thing struct {
	ID        uuid.UUID
	Task      verification.OwnerTask
	State     OwnerState
	Heading   string // what it is, and of which place
	Words     verification.OwnerWords
	Directory string // its name
	Zone      string
	Until     string      // until when, where there is such an end
	Soon      bool        // that is within days
	Digits    int         // of the code; 0: none can be typed yet
	Tries     int         // that are left; 0 where none is counted
	Said      string      // what the directory said to the last code
	Amount    string      // that a card is charged
	To        string      // where a card goes
	Ended     string      // how it ended
	Instead   string      // what may be said instead of doing it: NoCard or NoCall; empty: nothing
	Times     []time.Time // to choose from
	Shots     []film.Shot // to film, one after another
	CallAt    *time.Time
	Sent      *verification.FromOwner // what was sent through it, and what may not be enough in it
}

// thing is one with what it is made of.
type thing struct {
	Thing
	link  OwnerLink
	about verification.Owner
	loss  float64
}

// at is where it is asked for.
func (t thing) at() ledger.Place {
	return ledger.Place{Location: t.link.LocationID, Directory: t.link.DirectoryID}
}

// owes are all that an owner is asked for.
type owes struct {
	client ledger.Client
	first  string // the owner's first name
	in     language.Language
	things []thing
}

// keptDays is how long what has ended stands on a page.
const keptDays = 14

// soon is how near an end has to be for it to be told first.
const soon = 4 * 24 * time.Hour

// errNoLink is the same for a page that never was and one that is guessed at.
var errNoLink = &problem.Problem{Kind: problem.NotFound, Detail: "This address opens nothing. Perhaps it was cut short; open it from the message again."}

func (d *Desk) ownerLink(ctx context.Context, secret string) (OwnerLink, error) {
	link, err := store.One(LinkOf)(d.store.OwnerLinkByToken(ctx, people.HashOf(secret)))
	if errors.Is(err, pgx.ErrNoRows) {
		return link, errNoLink
	}
	return link, err
}

// owes are what an owner of a client who is written to at an address is asked for.
func (d *Desk) owes(ctx context.Context, q *db.Queries, client uuid.UUID, to string, now time.Time) (out owes, err error) {
	links, err := store.Each(LinkOf)(q.OwnerLinksTo(ctx, db.OwnerLinksToParams{SentTo: to, ClientID: client, Since: now.AddDate(0, 0, -keptDays)}))
	if err != nil {
		return out, err
	}
	return d.owed(ctx, q, client, links, "", now)
}

// owed is what links ask for, told in a language; empty: the owner's.
func (d *Desk) owed(ctx context.Context, q *db.Queries, client uuid.UUID, links []OwnerLink, in language.Language, now time.Time) (out owes, err error) {
	if out.client, err = store.One(ledger.ClientOf)(q.Client(ctx, client)); err != nil {
		return out, err
	}
	if out.in = in; !in.Known() {
		out.in = language.Of(out.client.Language)
	}
	out.first, _, _ = strings.Cut(strings.TrimSpace(out.client.OwnerName), " ")
	locations, directories := make([]uuid.UUID, len(links)), make([]string, len(links))
	for i, l := range links {
		locations[i], directories[i] = l.LocationID, l.DirectoryID
	}
	where, err := store.Each(ledger.LocationOf)(q.LocationsByID(ctx, locations))
	if err != nil {
		return out, err
	}
	listings, err := q.ListingsAt(ctx, db.ListingsAtParams{Locations: locations, Directories: directories})
	if err != nil {
		return out, err
	}
	tasks, err := q.TasksAt(ctx, db.TasksAtParams{Locations: locations, Directories: directories})
	if err != nil {
		return out, err
	}
	for _, link := range links {
		at := slices.IndexFunc(where, func(l ledger.Location) bool { return l.ID == link.LocationID })
		listing := slices.IndexFunc(listings, func(l db.Listing) bool { return l.LocationID == link.LocationID && l.DirectoryID == link.DirectoryID })
		book, err := d.shelf.Book(link.DirectoryID)
		if at < 0 || listing < 0 || err != nil {
			continue // the location or the directory is no more
		}
		t := thing{link: link, about: ownerOf(link, book, where[at].Record, listings[listing].State, now, out.in)}
		for _, task := range tasks {
			if task.LocationID == link.LocationID && task.DirectoryID == link.DirectoryID {
				t.loss = task.Loss
			}
		}
		t.tell(listings[listing].State, now)
		out.things = append(out.things, t)
	}
	slices.SortStableFunc(out.things, func(a, b thing) int {
		return cmp.Or(cmp.Compare(a.ended(), b.ended()), cmp.Compare(b.loss, a.loss), a.link.Expires.Compare(b.link.Expires))
	})
	return out, nil
}

// ended puts what has nothing to be done any more behind what has.
func (t thing) ended() int {
	if t.State == LinkOpen || t.State == LinkWaiting {
		return 0
	}
	return 1
}

// tell fills in what a thing shows.
func (t *thing) tell(s verification.State, now time.Time) {
	o, link := t.about, t.link
	zone := verification.ZoneOf(o.Record, o.Book)
	t.Thing = Thing{
		ID: link.ID, Task: o.Task, State: StateOfLink(link, s, now), Heading: o.Heading(), Directory: o.Book.Name, Zone: zone.String(), CallAt: link.CallAt,
	}
	if o.Attempt != nil || o.Task != verification.TypeCode {
		t.Words = o.Words()
	}
	until := link.Expires
	if a := o.Attempt; a != nil && a.Live() && a.Expires.Before(until) {
		until = a.Expires
	}
	t.Until, t.Soon = o.In.Until(until, zone), until.Sub(now) < soon
	switch t.State {
	case LinkOpen, LinkWaiting:
	case LinkDone:
		t.Ended = o.In.Say("ended.done", "moment", o.In.Moment(*link.DoneAt, now, zone))
	case LinkShut:
		t.Ended = o.In.Say("ended.withdrawn", "from", link.MadeBy)
	default:
		t.Ended = o.Ended(&s)
	}
	if t.ended() > 0 {
		return
	}
	if f := s.FromOwner; f != nil && f.Task == o.Task && !f.At.Before(link.MadeAt) {
		t.Sent = f
	}
	if a := o.Attempt; a != nil && a.Live() {
		t.Digits, t.Tries, t.Said, t.To = a.Digits, a.TriesLeft, a.Says, a.To
		if t.Said != "" {
			t.Said = strings.TrimSpace(t.Said + " " + s.Mistaken(*a, now, zone))
		}
		switch {
		case t.Sent != nil && t.Sent.Says != "":
		case a.Method == rulebook.Postcard && t.comes(now):
			t.Instead = NoCard
		case o.Task == verification.TakeCall:
			t.Instead = NoCall
		}
	} else if o.Task == verification.TakeCall {
		t.Times = verification.CallTimes(o.Record, now)
	}
	if m, ok := o.Book.Way(rulebook.Card); ok && o.Task == verification.PayByCard {
		t.Amount = m.Charge.Words()
	}
	if m, ok := o.Book.Way(rulebook.Video); ok && o.Task == verification.FilmIt {
		t.Shots = film.Shots(o.Record, m.Film, o.In)
	}
}

// owedBeside are what the page of a link shows: with a link that was mailed, all that the same owner is asked for.
func (d *Desk) owedBeside(ctx context.Context, link OwnerLink, in language.Language, now time.Time) (owes, error) {
	location, err := d.ledger.Location(ctx, link.LocationID)
	if err != nil {
		return owes{}, err
	}
	links := []OwnerLink{link}
	if link.SentTo != "" {
		since := db.OwnerLinksToParams{SentTo: link.SentTo, ClientID: location.ClientID, Since: now.AddDate(0, 0, -keptDays)}
		beside, err := store.Each(LinkOf)(d.store.OwnerLinksTo(ctx, since))
		if err != nil {
			return owes{}, err
		}
		for _, l := range beside {
			if l.ID != link.ID {
				links = append(links, l)
			}
		}
	}
	return d.owed(ctx, d.store.Queries, location.ClientID, links, in, now)
}

// OwnerPage opens a private page, in its owner's language or another.
func (d *Desk) OwnerPage(ctx context.Context, secret, in string) (out OwnerPage, err error) {
	link, err := d.ownerLink(ctx, secret)
	if err != nil {
		return out, err
	}
	now := d.clock.Now()
	owes, err := d.owedBeside(ctx, link, language.Language(in), now)
	if err != nil {
		return out, err
	}
	out = OwnerPage{Business: owes.client.Name, From: link.MadeBy, FromEmail: link.MadeFrom, In: owes.in}
	open := 0
	for _, t := range owes.things {
		out.Things = append(out.Things, t.Thing)
		if t.ended() == 0 {
			open++
		}
		if t.link.OpenedAt == nil && (t.ended() == 0 || t.link.ID == link.ID) {
			if err := d.opened(ctx, t.link); err != nil {
				return out, err
			}
		}
	}
	if len(owes.things) == 1 {
		r := owes.things[0].about.Record
		out.Business = r.Name + ", " + r.Address.Locality
	}
	switch {
	case open > 0:
		out.Heading = heading(owes.in, open, owes.first)
	case slices.ContainsFunc(out.Things, func(t Thing) bool { return t.State == LinkDone }):
		out.Heading, out.Says = owes.in.Say("page.none"), owes.in.Say("page.none_says")
	default:
		out.Heading, out.Says = owes.in.Say("page.nothing"), owes.in.Say("page.nothing_says", "from", out.From)
	}
	return out, nil
}

// opened notes that an owner has opened the page on which a thing stands.
func (d *Desk) opened(ctx context.Context, link OwnerLink) error {
	return d.ledger.Change(ctx, ownerActor, ledger.Place{Location: link.LocationID, Directory: link.DirectoryID}, func(l *ledger.Listing) error {
		n, err := l.Q.OpenOwnerLink(ctx, db.OpenOwnerLinkParams{ID: link.ID, OpenedAt: &l.Now})
		if err != nil || n == 0 {
			return err
		}
		return l.Add(ctx, verification.LinkOpened{})
	})
}

// openLink is a thing on a private page, while it can still be done.
func (d *Desk) openLink(ctx context.Context, by Through, task ...verification.OwnerTask) (t thing, err error) {
	link, err := d.ownerLink(ctx, by.Secret)
	if err != nil {
		return t, err
	}
	owes, err := d.owedBeside(ctx, link, language.Language(by.In), d.clock.Now())
	if err != nil {
		return t, err
	}
	i := slices.IndexFunc(owes.things, func(t thing) bool { return t.ID == by.Thing })
	if i < 0 {
		return t, errNoLink
	}
	t = owes.things[i]
	switch {
	case !slices.Contains(task, t.Task):
		return t, problem.Conflictf("This page is for something else.")
	case t.ended() > 0:
		return t, problem.Conflictf("%s", cmp.Or(t.Ended, "This page is shut. Nothing more has to be done here."))
	}
	return t, nil
}

// ownerActor is the owner, as the history names them.
var ownerActor = people.Actor{Name: "The owner"}
