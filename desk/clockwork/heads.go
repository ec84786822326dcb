package clockwork

import (
	"context"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"

	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// Heads is where the heads of the log go out to, one a day.
type Heads struct {
	Append func(line string) error // to a file that is only added to; nil: none
	Letter string                  // an email; empty: none
}

// ForHeads is what the key signs the heads of the log for.
const ForHeads = "log head"

// sendHead sends the day's head of the log out, once it is sealed: by letter once, whichever server does it, and into the
// file of each. sent is the day of which this server has the head in its file.
func (d *Desk) sendHead(ctx context.Context, sent time.Time) (time.Time, error) {
	now := time.Now().UTC()
	day := now.Truncate(24 * time.Hour)
	if d.heads.Append == nil && d.heads.Letter == "" || !sent.Before(day) {
		return sent, nil
	}
	line, position, err := d.Ledger.Head(ctx, d.key.Signer(ForHeads), now)
	if err != nil || line == "" {
		return sent, err
	}
	on := pgtype.Date{Time: day, Valid: true}
	if err := d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		n, err := q.KeepHead(ctx, db.KeepHeadParams{Day: on, Position: position, Head: line})
		if err != nil || n == 0 || d.heads.Letter == "" {
			return err // another server was faster
		}
		m := reach.Mail{
			ID: "log-head-" + day.Format("2006-01-02"), From: d.Ledger.Account(), As: "Uvent", To: d.heads.Letter,
			Subject: "The log of Uvent on " + day.Format("2 January 2006"),
			Body: fmt.Sprintf("The log has %d sealed events. Keep this line where nobody can change it; it shows later whether the log is still the same:\n\n%s\n\n"+
				"uvent log verify --head FILE holds the log against a file of such lines.\n", position, line),
		}
		return d.Letters.Send(ctx, tx, m)
	}); err != nil {
		return sent, err
	}
	if line, err = d.store.HeadOf(ctx, on); err != nil {
		return sent, problem.IgnoreNoRows(err)
	}
	if d.heads.Append != nil {
		err = d.heads.Append(line)
	}
	return day, err
}
