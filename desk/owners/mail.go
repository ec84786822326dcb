package owners

import (
	"context"
	"errors"
	"slices"
	"strings"
	"unicode/utf8"

	"uvent/core/fact/prose"
	"uvent/core/listing/verification"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// mostQuoted is how much of a letter is told with a matter, in characters.
const mostQuoted = 300

// Wrote takes what an owner has answered by mail: a paper that came with it is read as one that was sent on their page, a code
// in it is offered for entering, and anything else is told to whoever asked. It is false where the letter is of nobody who was
// asked for anything. A code is told nowhere but in the letter.
func (d *Desk) Wrote(
	ctx context.Context, letter reach.Letter, keep func(q *db.Queries, at ledger.Place) (fresh bool, err error),
) (taken bool, err error) {
	now := d.clock.Now()
	clients, err := d.store.OwnersWritingFrom(ctx, db.OwnersWritingFromParams{Address: letter.From, Now: now})
	if err != nil || len(clients) == 0 {
		return false, err
	}
	var open []thing
	for _, client := range clients {
		owes, err := d.owes(ctx, d.store.Queries, client, letter.From, now)
		if err != nil {
			return false, err
		}
		open = append(open, slices.DeleteFunc(owes.things, func(t thing) bool { return t.ended() > 0 })...)
	}
	if len(open) == 0 {
		return false, nil
	}
	text := prose.Newest(letter.Body)
	if i := slices.IndexFunc(open, func(t thing) bool { return t.Task == verification.SendPaper }); i >= 0 {
		for _, f := range letter.Files {
			in, err := d.files.ReadPaper(ctx, f.Name, f.Data)
			if errors.As(err, new(*problem.Problem)) {
				continue // it is no paper: a picture of a signature, say
			}
			if err != nil {
				return false, err
			}
			return true, d.wrotePaper(ctx, paperFor(open, in), in, keep)
		}
	}
	t, digits := open[0], 0
	for _, o := range open {
		if n := o.Digits; n > 0 && verification.CodeIn(text, n) != "" {
			t, digits = o, n
			break
		}
	}
	says := quoted(verification.WithoutCode(text, digits))
	if says == "" && len(letter.Files) > 0 {
		says = "A file, " + letter.Files[0].Name + ", which was not asked for."
	}
	return true, d.ledger.Change(ctx, ownerActor, t.at(), func(l *ledger.Listing) error {
		if fresh, err := keep(l.Q, t.at()); err != nil || !fresh {
			return err
		}
		return l.Add(ctx, verification.OwnerSaid{Task: t.Task, Says: says, Letter: letter.ID})
	})
}

// paperFor is the thing that a paper is for: one for which its kind is taken, or else the first for which any is.
func paperFor(open []thing, in files.Incoming) thing {
	first := -1
	for i, t := range open {
		if t.Task != verification.SendPaper {
			continue
		}
		if slices.Contains(t.about.Papers, in.Kind()) {
			return t
		}
		if first < 0 {
			first = i
		}
	}
	return open[first]
}

// wrotePaper keeps a paper that came by mail. The owner of one that is likely to be minded is written to at once.
func (d *Desk) wrotePaper(ctx context.Context, t thing, in files.Incoming, keep func(q *db.Queries, at ledger.Place) (bool, error)) error {
	return d.ledger.Change(ctx, ownerActor, t.at(), func(l *ledger.Listing) error {
		if fresh, err := keep(l.Q, t.at()); err != nil || !fresh {
			return err
		}
		e, err := d.takePaper(ctx, l, t, in, " by mail")
		if err != nil || len(e.Doubts) == 0 {
			return err
		}
		return l.Q.SetReminder(ctx, db.SetReminderParams{ID: t.ID, Reminded: t.link.Reminded, RemindedAt: t.link.RemindedAt, RemindAt: &l.Now})
	})
}

// quoted is the beginning of a letter, on one line.
func quoted(text string) string {
	text = strings.Join(strings.Fields(text), " ")
	if utf8.RuneCountInString(text) > mostQuoted {
		text = string([]rune(text)[:mostQuoted-1]) + "…"
	}
	return text
}

// Written is what an owner has written in the letter that a listing waits to be looked at for, and the code that it tells for the
// attempt that is waited for; empty where it tells none.
func (d *Desk) Written(ctx context.Context, s verification.State) (text, code string, err error) {
	f := s.FromOwner
	if f == nil || f.Letter == "" {
		return "", "", nil
	}
	body, err := d.store.LetterBody(ctx, f.Letter)
	if err != nil {
		return "", "", problem.IgnoreNoRows(err)
	}
	text = prose.Newest(body)
	if a := s.UnderWay(); a != nil && a.Live() {
		code = verification.CodeIn(text, a.Digits)
	}
	return text, code, nil
}
