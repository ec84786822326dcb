package letters

import (
	"context"
	"errors"
	"strings"

	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/desk/people"
	"uvent/reach"
)

// Letter is a message to an owner.
type Letter struct {
	To, Subject, Body string
}

// Send has a message sent once the transaction is committed: in the background, and again
// when the mail server does not answer.
func (d *Desk) Send(ctx context.Context, tx pgx.Tx, m reach.Mail) error {
	_, err := d.jobs.InsertTx(ctx, tx, mailJob{Mail: m}, nil)
	return err
}

// SendSecret has a message sent in which a secret is told. The secret is put in when the message is sent: it waits
// nowhere.
func (d *Desk) SendSecret(ctx context.Context, tx pgx.Tx, m reach.Mail, s people.Secret) error {
	_, err := d.jobs.InsertTx(ctx, tx, mailJob{m, &s}, nil)
	return err
}

// mailJob sends a message. Sent again after a crash, it carries the same id.
type mailJob struct {
	Mail   reach.Mail     `json:"mail"`
	Secret *people.Secret `json:"secret,omitempty"` // that stands in its body
}

// Kind names the job.
func (mailJob) Kind() string { return "mail" }

type mailWorker struct {
	river.WorkerDefaults[mailJob]
	desk *Desk
}

// Work hands the message to the mail server. One that it will not take stands in the log, and is not sent again.
func (w *mailWorker) Work(ctx context.Context, job *river.Job[mailJob]) error {
	m := job.Args.Mail
	if s := job.Args.Secret; s != nil {
		m.Body = strings.ReplaceAll(m.Body, people.Here, w.desk.key.Token(s.For, s.ID))
	}
	err := w.desk.reach.Send(ctx, m)
	var no *reach.Refusal
	if errors.As(err, &no) {
		about := map[string]string{"to": m.To, "subject": m.Subject, "says": no.Detail}
		if noted := w.desk.log.NoteAbout(ctx, w.desk.store.Queries, people.Uvent, "letter_refused", about); noted != nil {
			return noted
		}
		return river.JobCancel(err)
	}
	return err
}
