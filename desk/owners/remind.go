package owners

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/fact/calendar"
	"uvent/core/fact/language"
	"uvent/core/listing/verification"
	"uvent/desk/people"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// RemindOwners writes to owners: one letter each, about all that is asked of them and has to be written about by now. It
// enqueues the calls that they have chosen.
func (d *Desk) RemindOwners(ctx context.Context, q *db.Queries, tx pgx.Tx) error {
	now := d.clock.Now()
	due, err := q.OwnersToWriteTo(ctx, now)
	if err != nil {
		return err
	}
	for _, owner := range due {
		mine, err := store.LockOwner(ctx, tx, owner.ClientID, owner.SentTo)
		if err != nil {
			return err
		}
		if mine { // else another server writes
			if err := d.write(ctx, q, tx, owner.ClientID, owner.SentTo, now); err != nil {
				return err
			}
			if err := q.ForgetReminders(ctx, db.ForgetRemindersParams{ClientID: owner.ClientID, SentTo: owner.SentTo, Now: now}); err != nil {
				return err
			}
		}
	}
	calls, err := q.TakeDueCalls(ctx, &now)
	for _, id := range calls {
		if _, err := d.jobs.InsertTx(ctx, tx, ownerCallJob{id}, nil); err != nil {
			return err
		}
	}
	return err
}

// write writes to an owner about what is open, if any of it is to be written about by now, and says when it will be again.
func (d *Desk) write(ctx context.Context, q *db.Queries, tx pgx.Tx, client uuid.UUID, to string, now time.Time) error {
	owes, err := d.owes(ctx, q, client, to, now)
	if err != nil {
		return err
	}
	writes := slices.ContainsFunc(owes.things, func(t thing) bool { return t.due(now) && t.toTell() })
	tell, first := owes.things[:0:0], true
	for _, t := range owes.things {
		fresh := t.toTell() && t.link.Reminded == 0 && t.link.RemindAt != nil // which waits a moment for others, and goes with this letter
		if t.due(now) || writes && fresh {
			first = first && t.link.Reminded == 0
			if err := q.SetReminder(ctx, t.told(now)); err != nil {
				return err
			}
		}
		if t.toTell() && (t.due(now) || t.link.Reminded == 0 || t.comes(now)) {
			tell = append(tell, t)
		}
	}
	if !writes {
		return nil
	}
	return d.mailOwner(ctx, q, tx, owes, tell, !first)
}

// due reports whether a thing is to be written about by now.
func (t thing) due(now time.Time) bool { return t.link.RemindAt != nil && !t.link.RemindAt.After(now) }

// toTell reports whether there is something to be told of a thing: it is open, or its owner does not know yet when they are called.
func (t thing) toTell() bool {
	return t.State == LinkOpen || t.State == LinkWaiting && t.link.Reminded == 0
}

// told is when a thing is written about again, after it was written about or is not to be told any more.
func (t thing) told(now time.Time) db.SetReminderParams {
	l := t.link
	out := db.SetReminderParams{ID: l.ID, Reminded: l.Reminded, RemindedAt: l.RemindedAt}
	switch {
	case t.toTell():
		out.Reminded, out.RemindedAt = l.Reminded+1, &now
		out.RemindAt = t.nextLetter(now)
	case t.State == LinkWaiting && l.CallAt != nil: // a call that is missed is written about
		out.RemindAt = new(maxTime(now, *l.CallAt).Add(afterCall))
	}
	return out
}

// afterCall is how long after a call was to come its owner is written to, where nobody typed its code.
const afterCall = 2 * time.Hour

func maxTime(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

// nextLetter is when a thing is written about again: after a pause, not before a card is due, and not when the page is shut.
func (t thing) nextLetter(now time.Time) *time.Time {
	next := verification.NextLetter(int(t.link.Reminded)+1, now)
	if next == nil {
		return nil
	}
	if a := t.about.Attempt; t.Task == verification.TypeCode && a != nil && a.Window != nil {
		if from := a.Window.Earliest.At(10*60, verification.ZoneOf(t.about.Record, t.about.Book)); from.After(*next) {
			next = &from
		}
	}
	if !next.Before(t.link.Expires) {
		return nil
	}
	return next
}

// comes reports whether what a thing waits for is at hand, or may be by now.
func (t thing) comes(now time.Time) bool {
	a := t.about.Attempt
	return t.Task != verification.TypeCode || a == nil || a.Window == nil ||
		calendar.DateIn(now, verification.ZoneOf(t.about.Record, t.about.Book)).Compare(a.Window.Earliest) >= 0
}

// mailOwner writes to the owner, with the address of the page on which all of it is done.
func (d *Desk) mailOwner(ctx context.Context, q *db.Queries, tx pgx.Tx, owes owes, tell []thing, again bool) error {
	link := tell[0].link
	hash := people.HashOf(d.people.SecretOf(secretOf(link))) // another than before, where the server has another key
	if err := q.AddOwnerToken(ctx, db.AddOwnerTokenParams{Hash: hash, LinkID: link.ID}); err != nil {
		return err
	}
	subject, body := letter(owes, tell, again, d.ownerAddress(people.Here), d.letters.Answers() != "")
	m := reach.Mail{
		ID:       uuid.NewString(),
		From:     link.MadeFrom,
		As:       link.MadeBy,
		To:       link.SentTo,
		Subject:  subject,
		Body:     body,
		ReplyTo:  d.letters.Answers(),
		Location: &link.LocationID,
	}
	return d.letters.SendSecret(ctx, tx, m, secretOf(link))
}

// letter is what an owner is written.
func letter(owes owes, tell []thing, again bool, address string, read bool) (subject, body string) {
	in, w := owes.in, tell[0].Words
	hello := in.Say("hello.nobody")
	if owes.first != "" {
		hello = in.Say("hello", "name", owes.first)
	}
	subject, first := w.Title, w.Why
	if len(tell) > 1 {
		subject = heading(in, len(tell), owes.first)
		first = in.Say("why.several", "from", tell[0].link.MadeBy, "name", owes.client.Name)
	}
	if again {
		subject, first = in.Say("letter.reminder", "title", subject), in.Say("letter.still", "why", first)
	}
	says := []string{hello, first}
	for _, t := range tell {
		if t.Sent != nil && len(t.Sent.Told) > 0 {
			says = append(says, in.Say("letter.minded", "thing", t.Heading, "told", strings.Join(t.Sent.Told, " "), "directory", t.Directory))
		}
	}
	if len(tell) == 1 {
		says = append(says, w.What+"\n"+w.How+"\n"+address, w.Until)
	} else {
		says = append(says, in.Say("letter.several", "count", in.Number(len(tell))))
		for i, t := range tell {
			says = append(says, fmt.Sprintf("%d. %s (%s)\n   %s\n   %s", i+1, t.Heading, t.Directory, t.Words.What, t.Words.Until))
		}
		says = append(says, in.Say("letter.more")+"\n"+address)
	}
	alone := in.Say("letter.alone")
	if read {
		alone += " " + in.Say("letter.reply")
	}
	says = append(says, alone, tell[0].link.MadeBy)
	return subject, strings.Join(says, "\n\n") + "\n"
}

// heading is how a page begins: “Three things, Dov”.
func heading(in language.Language, open int, first string) string {
	key := "page.thing"
	if open != 1 {
		key = "page.things"
	}
	if first == "" {
		key += "_nobody"
	}
	return in.Say(key, "count", in.Number(open), "name", first)
}
