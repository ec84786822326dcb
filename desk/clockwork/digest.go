package clockwork

import (
	"context"
	"fmt"
	"strings"
	"uvent/core/fact/prose"

	"github.com/jackc/pgx/v5"

	"uvent/core/fact/calendar"
	"uvent/core/reckon/agenda"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// sendDigests writes to those whose hour has come. What is said and that it was sent are
// kept in one transaction, by person and day, so that it is sent once by however many
// servers; and where it says what the last one said, it is not sent at all.
func (d *Desk) sendDigests(ctx context.Context) error {
	due, err := d.store.DigestsDue(ctx, d.clock.Now())
	if err != nil {
		return err
	}
	for _, row := range due {
		p, err := d.People.Person(ctx, row.ID)
		if err != nil {
			return err
		}
		body, of, err := d.digest(ctx, p)
		if err != nil {
			return err
		}
		hash := people.HashOf(of)
		if err := d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
			last, err := q.LastDigest(ctx, p.ID)
			if problem.IgnoreNoRows(err) != nil {
				return err
			}
			changed := string(last) != string(hash) && body != ""
			n, err := q.AddDigest(ctx, db.AddDigestParams{PersonID: p.ID, OnDate: row.Today, Hash: hash, Sent: changed})
			if err != nil || n == 0 || !changed {
				return err // another server was faster, or there is no news
			}
			day := row.Today.Time.Format("2006-01-02")
			m := reach.Mail{
				ID:      "digest-" + p.ID.String() + "-" + day,
				From:    d.Ledger.Account(),
				As:      "Uvent",
				To:      p.Email,
				Subject: "Today in Uvent, " + row.Today.Time.Format("Mon 2 January"),
				Body:    "Good morning, " + p.Name + ".\n\n" + body + "\n" + d.People.Address() + "/today\n",
			}
			return d.Letters.Send(ctx, tx, m)
		}); err != nil {
			return err
		}
	}
	return nil
}

// mostInDigest tasks are written out.
const mostInDigest = 20

// digest says what somebody can move, and how much waits, and which tasks that is of; empty
// where there is nothing.
func (d *Desk) digest(ctx context.Context, p people.Person) (body, of string, err error) {
	s := ledger.Scope{Clients: p.Clients}
	today, err := d.Boards.Today(ctx, s, boards.TodayPage{Group: agenda.Mine})
	if err != nil {
		return "", "", err
	}
	n := today.Counts
	dates, err := d.datesDue(ctx, s)
	if err != nil {
		return "", "", err
	}
	if len(dates)+n[agenda.Mine]+n[agenda.Owner]+n[agenda.Directory] == 0 {
		return "", "", nil
	}
	var b strings.Builder
	for _, said := range dates {
		fmt.Fprintf(&b, "- %s.\n", said)
	}
	written := today.Rows[:min(mostInDigest, len(today.Rows))]
	for _, c := range written {
		fmt.Fprintf(&b, "- %s. %s\n", c.Task.Title, c.Task.Says)
	}
	if more := n[agenda.Mine] - len(written); more > 0 {
		fmt.Fprintf(&b, "and %d more.\n", more)
	}
	body = fmt.Sprintf(
		"%s only you can move, %d with owners, %d with directories.\n\n%s",
		prose.Count(len(dates)+n[agenda.Mine], "thing"),
		n[agenda.Owner],
		n[agenda.Directory],
		b.String(),
	)
	of, err = d.store.TasksSum(ctx, db.TasksSumParams{Now: d.clock.Now(), Clients: s.Clients})
	if len(dates) > 0 {
		of += dates[len(dates)-1] // that one has come is news; that one has passed is none
	}
	return body, of, err
}

// datesDue are the special dates of the next two weeks that somebody has to decide, in words.
func (d *Desk) datesDue(ctx context.Context, s ledger.Scope) (out []string, err error) {
	dates, err := d.Boards.OpenDates(ctx, s)
	for _, o := range dates {
		if !calendar.DateOf(d.clock.Now()).Add(14).Before(o.From) {
			out = append(out, o.Says)
		}
	}
	return out, err
}
