package letters

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/fact/contact"
	"uvent/core/record/record"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// State is what came of a letter.
type State string

// The states. Taken means that the next mail server has it; from there it may still come back.
const (
	Queued  State = "queued"
	Taken   State = "taken"
	Refused State = "refused"
	Bounced State = "bounced"
	GivenUp State = "given_up" // no mail server took it for as long as it is tried
)

// Letter is what is written to somebody.
type Letter struct {
	To, Subject, Body string
}

// Written is a letter that was written to somebody, and what came of it.
type Written struct {
	ID       string
	Number   int64 // grows from one to the next
	To       string
	Subject  string
	State    State
	Says     string // the mail server's word
	Tries    int
	At       time.Time
	Aside    bool // somebody has said that it needs nothing
	Client   string
	Location *uuid.UUID
	Label    string
}

// Send has a message sent once the transaction is committed: in the background, and again
// when the mail server does not answer.
func (d *Desk) Send(ctx context.Context, tx pgx.Tx, m reach.Mail) error {
	return d.queue(ctx, tx, m, nil)
}

// Answers is the address at which what people answer to letters is read; empty where nothing is.
func (d *Desk) Answers() string { return d.reach.Answers() }

// SendSecret has a message sent in which a secret is told. The secret is put in when the message is sent: it waits
// nowhere.
func (d *Desk) SendSecret(ctx context.Context, tx pgx.Tx, m reach.Mail, s people.Secret) error {
	return d.queue(ctx, tx, m, &s)
}

func (d *Desk) queue(ctx context.Context, tx pgx.Tx, m reach.Mail, s *people.Secret) error {
	q := d.store.WithTx(tx)
	if m.Client == nil && m.Location != nil {
		l, err := d.log.Location(ctx, *m.Location)
		if err != nil {
			return err
		}
		m.Client = &l.ClientID
	}
	mail, err := json.Marshal(m)
	if err != nil {
		return err
	}
	var secret []byte
	if s != nil {
		if secret, err = json.Marshal(s); err != nil {
			return err
		}
	}
	if err := q.AddLetter(ctx, db.AddLetterParams{
		ID: m.ID, ClientID: m.Client, LocationID: m.Location, Recipient: m.To, Subject: m.Subject, Mail: mail, Secret: secret, WrittenAt: d.clock.Now(),
	}); err != nil {
		return err
	}
	_, err = d.jobs.InsertTx(ctx, tx, mailJob{m.ID}, nil)
	return err
}

// mailJob sends a letter. Sent again after a crash, it carries the same id.
type mailJob struct {
	ID string `json:"id"`
}

// Kind names the job.
func (mailJob) Kind() string { return "mail" }

// InsertOpts has it tried for as long as patience lasts.
func (mailJob) InsertOpts() river.InsertOpts { return river.InsertOpts{MaxAttempts: 10_000} }

type mailWorker struct {
	river.WorkerDefaults[mailJob]
	desk *Desk
}

// How long a letter is tried, by real time (RFC 5321, section 4.5.4.1, has four to five days), and how long it is waited
// between two tries, at first and at most.
const (
	patience  = 4 * 24 * time.Hour
	firstWait = time.Second
	mostWait  = 30 * time.Minute
)

// NextRetry is when a mail server is asked again.
func (*mailWorker) NextRetry(job *river.Job[mailJob]) time.Time {
	return time.Now().Add(reach.Pause(firstWait, mostWait, job.Attempt-1, rand.Float64()))
}

// Work hands the letter to the mail server, and keeps its word. One that it will not take is not sent again.
func (w *mailWorker) Work(ctx context.Context, job *river.Job[mailJob]) error {
	d := w.desk
	row, err := d.store.Letter(ctx, job.Args.ID)
	if err != nil || State(row.State) != Queued {
		return problem.IgnoreNoRows(err)
	}
	m, err := d.whole(row)
	if err != nil {
		return err
	}
	err = d.reach.Send(ctx, m)
	var no *reach.Refusal
	switch {
	case err == nil:
		_, err = d.store.LetterIs(ctx, db.LetterIsParams{ID: m.ID, State: string(Taken)})
		return err
	case errors.As(err, &no):
		return d.ends(ctx, row, Refused, no.Detail)
	case time.Since(row.RealAt) >= patience:
		return d.ends(ctx, row, GivenUp, fmt.Sprintf("No mail server took it in %d tries. The last: %s", row.Tries+1, reach.Plain(err.Error())))
	}
	return errors.Join(err, d.store.LetterTried(ctx, db.LetterTriedParams{ID: m.ID, Says: reach.Plain(err.Error())}))
}

// whole is a letter as it is sent.
func (d *Desk) whole(row db.Letter) (m reach.Mail, err error) {
	if err := json.Unmarshal(row.Mail, &m); err != nil || row.Secret == nil {
		return m, err
	}
	var s people.Secret
	if err := json.Unmarshal(row.Secret, &s); err != nil {
		return m, err
	}
	m.Body = strings.ReplaceAll(m.Body, people.Here, d.key.Token(s.For, s.ID))
	return m, nil
}

// ends keeps that a letter did not arrive, in the log too.
func (d *Desk) ends(ctx context.Context, row db.Letter, state State, says string) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		n, err := q.LetterIs(ctx, db.LetterIsParams{ID: row.ID, State: string(state), Says: says})
		if err != nil || n == 0 {
			return err
		}
		about := map[string]string{"to": row.Recipient, "subject": row.Subject, "says": says}
		kind := "letter_" + string(state)
		if err := store.Notify(ctx, q, store.Change{}); err != nil {
			return err
		}
		if row.ClientID == nil {
			return d.log.NoteAbout(ctx, q, people.Uvent, kind, about)
		}
		return d.log.Note(ctx, q, people.Uvent, kind, *row.ClientID, row.LocationID, about)
	})
}

// Bounce takes in that a letter of ours came back, and tells whether it was one of ours.
func (d *Desk) Bounce(ctx context.Context, b reach.Bounce) (bool, error) {
	row, err := d.store.Letter(ctx, b.Of)
	if err != nil {
		return false, problem.IgnoreNoRows(err)
	}
	return true, d.ends(ctx, row, Bounced, b.Says)
}

// mostTold is how many letters are told at once.
const mostTold = 100

// Letters are those that were written, the newest first, before a number; troubled are those alone that did not arrive and
// that nobody has put aside. clients are those that they are about; nil for all. more is that there are older ones.
func (d *Desk) Letters(ctx context.Context, before *int64, troubled bool, clients []uuid.UUID) (_ []Written, more bool, err error) {
	rows, err := d.store.Letters(ctx, db.LettersParams{Before: before, Troubled: troubled, Clients: clients, Most: mostTold + 1})
	if more = len(rows) > mostTold; more {
		rows = rows[:mostTold]
	}
	out := make([]Written, len(rows))
	for i, r := range rows {
		out[i] = Written{r.ID, r.Number, r.Recipient, r.Subject, State(r.State), r.Says, int(r.Tries), r.WrittenAt, r.Aside, r.ClientName, r.LocationID, r.Label}
	}
	return out, more, err
}

// Aside says that a letter that did not arrive needs nothing, or takes that back.
func (d *Desk) Aside(ctx context.Context, id string, aside bool) error {
	n, err := d.store.PutLetterAside(ctx, db.PutLetterAsideParams{ID: id, Aside: aside})
	if err == nil && n == 0 {
		err = &problem.Problem{Kind: problem.NotFound, Detail: "There is no such letter that did not arrive."}
	}
	return err
}

// Again sends a letter that did not arrive once more, to another address where one is given: a new letter, and the old one
// is put aside.
func (d *Desk) Again(ctx context.Context, who people.Actor, id, to string) error {
	return d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		row, err := q.Letter(ctx, id)
		if err != nil {
			return problem.OrNotFound(err, "There is no such letter.")
		}
		if n, err := q.PutLetterAside(ctx, db.PutLetterAsideParams{ID: id, Aside: true}); err != nil || n == 0 {
			if err == nil {
				err = problem.Conflictf("This letter is on its way, or was taken; it is not sent twice.")
			}
			return err
		}
		var m reach.Mail
		if err := json.Unmarshal(row.Mail, &m); err != nil {
			return err
		}
		if m.Body == "" {
			return problem.Conflictf("What stood in this letter is not kept any more. Write it anew.")
		}
		m.ID = uuid.NewString()
		if to = strings.TrimSpace(to); to != "" {
			if wrong := contact.Email(to); wrong != "" {
				return problem.Fields([]record.Problem{{Path: "to", Message: wrong}})
			}
			m.To = to
		}
		var s *people.Secret
		if row.Secret != nil {
			s = new(people.Secret)
			if err := json.Unmarshal(row.Secret, s); err != nil {
				return err
			}
		}
		if err := d.queue(ctx, tx, m, s); err != nil {
			return err
		}
		return d.log.NoteAbout(ctx, q, who, "letter_again", map[string]string{"to": m.To, "subject": m.Subject})
	})
}

// ForgetOld deletes what stands in letters of long ago.
func (d *Desk) ForgetOld(ctx context.Context) error { return d.store.ForgetOldLetters(ctx) }
