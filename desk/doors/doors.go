// Package doors is how the interfaces of directories are entered: with what, whether they answer, and for how long they are
// left alone while they do not.
package doors

import (
	"context"
	"errors"
	"log/slog"
	"math/rand/v2"
	"strings"
	"time"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/shelf"
	"uvent/reach"
	"uvent/sealing"
	"uvent/store"
	"uvent/store/db"
)

// Heard is told what a directory was asked: answer is yes, no, or nothing.
type Heard func(directory, answer string, took time.Duration)

// Note adds to the log what somebody did.
type Note func(ctx context.Context, q *db.Queries, actor people.Actor, kind string, data any) error

// Parts are what a desk is made of.
type Parts struct {
	Store *store.Store
	Reach *reach.Reach
	Clock reach.Clock
	Shelf *shelf.Desk
	Key   sealing.Key // that seals what the doors are entered with
	Note  Note
	Heard Heard // nil: nobody is told
	Log   *slog.Logger
}

// Desk keeps the doors. It is safe for concurrent use.
type Desk struct {
	store *store.Store
	reach *reach.Reach
	shelf *shelf.Desk
	clock reach.Clock
	key   sealing.Key
	note  Note
	heard Heard
	log   *slog.Logger
}

// New makes a desk.
func New(p Parts) *Desk {
	if p.Heard == nil {
		p.Heard = func(string, string, time.Duration) {}
	}
	return &Desk{store: p.Store, reach: p.Reach, shelf: p.Shelf, clock: p.Clock, key: p.Key, note: p.Note, heard: p.Heard, log: p.Log}
}

// How a directory that does not answer is left alone: not before so many askings in a row got nothing, then twice as long each
// time, and not by all servers to the same moment. It is asked once after that, by whoever comes first, who has so long.
const (
	bears      = 5
	firstAlone = 30 * time.Second
	longest    = 10 * time.Minute
	probing    = 20 * time.Second
)

// aloneFor is how long a directory is left alone after so many askings in a row that got nothing; chance is from 0 to 1.
func aloneFor(failures int, chance float64) time.Duration {
	if failures < bears {
		return 0
	}
	return reach.Pause(firstAlone, longest, failures-bears, chance)
}

// at is the directory whose interface an address is of; false where it is none's.
func (d *Desk) at(address string) (rulebook.Rulebook, bool) {
	for _, b := range d.shelf.Books() {
		if base := b.Connector.URL; base != "" && (address == d.reach.Address(base) || strings.HasPrefix(address, d.reach.Address(base)+"/")) {
			return b, true
		}
	}
	return rulebook.Rulebook{}, false
}

// Enter tells what an interface is entered with. A directory that is to be left alone is not asked (*reach.Unanswered).
func (d *Desk) Enter(ctx context.Context, address string) (reach.Entry, error) {
	book, known := d.at(address)
	if !known {
		return reach.Entry{}, nil
	}
	e := reach.Entry{Directory: book.ID}
	door, err := d.store.Door(ctx, book.ID)
	if problem.IgnoreNoRows(err) != nil {
		return e, &reach.Unanswered{Why: err}
	}
	if door.AloneUntil != nil {
		n, err := int64(0), error(nil)
		if door.AloneFor == 0 {
			n, err = d.store.TakeProbe(ctx, db.TakeProbeParams{DirectoryID: book.ID, Probes: probing.Seconds()})
		}
		if err != nil || n == 0 {
			wait := time.Duration(door.AloneFor * float64(time.Second))
			return e, &reach.Unanswered{Why: errors.Join(reach.ErrLeftAlone, err), After: max(wait, time.Second) + time.Duration(rand.Int64N(int64(time.Second)))}
		}
	}
	if e.Authorization, err = d.authorization(ctx, book.ID, book.Connector.URL); err != nil {
		why := &reach.Unanswered{Why: err}
		_ = errors.As(err, &why)
		if ctx.Err() == nil && !problem.Away(err) { // else it is not the directory's silence
			d.silent(ctx, book.ID, why)
		}
		return e, why
	}
	return e, nil
}

// Left hears what came of an asking.
func (d *Desk) Left(ctx context.Context, e reach.Entry, took time.Duration, err error) {
	if e.Directory == "" || ctx.Err() != nil { // whoever asked has not waited for it
		return
	}
	ctx = context.WithoutCancel(ctx)
	var nothing *reach.Unanswered
	switch {
	case errors.As(err, &nothing):
		d.heard(e.Directory, "nothing", took)
		d.silent(ctx, e.Directory, nothing)
		return
	case err != nil:
		d.heard(e.Directory, "no", took)
	default:
		d.heard(e.Directory, "yes", took)
	}
	was, err := d.store.DoorAnswered(ctx, e.Directory)
	if err = problem.IgnoreNoRows(err); err == nil && was {
		d.log.Info("a directory answers again", "directory", e.Directory)
		err = d.store.WakeCalls(ctx, e.Directory)
	}
	if err != nil {
		d.log.Error("it was not kept that a directory answers", "directory", e.Directory, "error", err)
	}
}

// silent counts an asking that got nothing, and has the directory left alone where it says so, or after several.
func (d *Desk) silent(ctx context.Context, directory string, why *reach.Unanswered) {
	if why.Status == unauthorized { // what it is entered with may have ended early; the next who asks has it renewed
		if err := d.store.ExpireCredential(ctx, directory); err != nil {
			d.log.Error("a credential was not renewed", "directory", directory, "error", err)
		}
	}
	failures, err := d.store.DoorSilent(ctx, db.DoorSilentParams{DirectoryID: directory, Says: reach.Plain(why.Why.Error()), Probes: probing.Seconds()})
	wait := max(aloneFor(int(failures), rand.Float64()), why.After)
	if err == nil && wait > 0 {
		if failures == bears {
			d.log.Warn("a directory does not answer and is left alone for a while", "directory", directory, "error", why)
		}
		err = d.store.LeaveAlone(ctx, db.LeaveAloneParams{DirectoryID: directory, Seconds: wait.Seconds()})
	}
	if err != nil {
		d.log.Error("it was not kept that a directory does not answer", "directory", directory, "error", err)
	}
}

// unauthorized is the status of an interface that does not know us (RFC 9110, section 15.5.2).
const unauthorized = 401

// TryNow has a directory that is left alone asked at once what waits for it.
func (d *Desk) TryNow(ctx context.Context, directory string) error {
	book, err := d.shelf.Book(directory)
	if err != nil {
		return err
	}
	if book.Connector.URL == "" {
		return problem.Conflictf("%s has no interface that could be asked.", book.Name)
	}
	if _, err := d.store.TryNow(ctx, directory); err != nil {
		return err
	}
	return d.store.WakeCalls(ctx, directory)
}

// Door is how a directory's interface answers, and with what it is entered.
type Door struct {
	Directory string
	Name      string
	StandIn   bool          // it ships with Uvent, and knows us by our account
	Answered  bool          // it has at some time
	Ago       time.Duration // since it did last
	Silent    time.Duration // for which it has not answered; 0: it answers
	Alone     time.Duration // for which it is still left alone
	Says      string        // why there was no answer
	Waiting   int           // things that it is asked and has not answered
	Oldest    time.Duration // for which the oldest of them waits
	Entered   *Credential   // nil: with nothing
}

// Doors are those of all connected directories, the heaviest first.
func (d *Desk) Doors(ctx context.Context) ([]Door, error) {
	rows, err := d.store.Doors(ctx)
	if err != nil {
		return nil, err
	}
	waits, err := d.store.WaitingCalls(ctx)
	if err != nil {
		return nil, err
	}
	entered, err := d.credentials(ctx)
	if err != nil {
		return nil, err
	}
	var out []Door
	for _, b := range d.shelf.Books() {
		if b.Connector.URL == "" {
			continue
		}
		door := Door{Directory: b.ID, Name: b.Name, StandIn: strings.HasPrefix(b.Connector.URL, "outside:"), Entered: entered[b.ID]}
		for _, r := range rows {
			if r.DirectoryID == b.ID {
				door.Answered, door.Ago, door.Silent, door.Alone, door.Says = r.Answered, lasts(r.AnsweredAgo), lasts(r.SilentFor), lasts(r.AloneFor), r.Says
			}
		}
		for _, w := range waits {
			if w.DirectoryID == b.ID {
				door.Waiting, door.Oldest = int(w.Calls), lasts(w.Oldest)
			}
		}
		out = append(out, door)
	}
	return out, nil
}

// Waiting is something that a directory is asked and has not answered.
type Waiting struct {
	Location uuid.UUID
	Label    string
	Client   string
	Kind     verification.Kind
	Tries    int
	Waits    time.Duration
}

// mostWaiting is how many are told at once.
const mostWaiting = 50

// Waiting tells what a directory is asked and has not answered, the oldest first, after a key; next is that of the last, and
// empty where there are no more.
func (d *Desk) Waiting(ctx context.Context, directory, after string) (out []Waiting, next string, err error) {
	if _, err := d.shelf.Book(directory); err != nil {
		return nil, "", err
	}
	var from waitingKey
	if after != "" {
		if from, err = readWaitingKey(after); err != nil {
			return nil, "", err
		}
	}
	rows, err := d.store.WaitingFor(ctx, db.WaitingForParams{DirectoryID: directory, AfterAt: from.at, AfterID: from.id, Most: mostWaiting + 1})
	if err != nil {
		return nil, "", err
	}
	if len(rows) > mostWaiting {
		rows = rows[:mostWaiting]
		last := rows[mostWaiting-1]
		next = waitingKey{last.AskedAt, last.ID}.String()
	}
	for _, r := range rows {
		out = append(out, Waiting{r.LocationID, r.Label, r.ClientName, verification.Kind(r.Kind), int(r.Tries), lasts(r.Waits)})
	}
	return out, next, nil
}

// waitingKey is by what those that wait are in order.
type waitingKey struct {
	at time.Time
	id uuid.UUID
}

func (k waitingKey) String() string { return k.at.Format(time.RFC3339Nano) + " " + k.id.String() }

func readWaitingKey(said string) (k waitingKey, err error) {
	at, id, _ := strings.Cut(said, " ")
	k.at, err = time.Parse(time.RFC3339Nano, at)
	if err == nil {
		k.id, err = uuid.Parse(id)
	}
	if err != nil {
		return k, &problem.Problem{Kind: problem.Invalid, Detail: "This is no key of the list."}
	}
	return k, nil
}

func lasts(seconds float64) time.Duration { return time.Duration(seconds * float64(time.Second)) }
