package letters

import (
	"context"

	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/reach"
)

// Letter is a message to an owner.
type Letter struct {
	To, Subject, Body string
}

// Send has a message sent once the transaction is committed: in the background, and again
// when the mail server does not answer.
func (d *Desk) Send(ctx context.Context, tx pgx.Tx, m reach.Mail) error {
	_, err := d.jobs.InsertTx(ctx, tx, mailJob{m}, nil)
	return err
}

// mailJob sends a message. Sent again after a crash, it carries the same id.
type mailJob struct {
	Mail reach.Mail `json:"mail"`
}

// Kind names the job.
func (mailJob) Kind() string { return "mail" }

type mailWorker struct {
	river.WorkerDefaults[mailJob]
	desk *Desk
}

// Work hands the message to the mail server.
func (w *mailWorker) Work(ctx context.Context, job *river.Job[mailJob]) error {
	return w.desk.reach.Send(ctx, job.Args.Mail)
}
