package listings

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/letters"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// PageOf is where people find a directory's own pages; empty for none.
func (d *Desk) PageOf(b rulebook.Rulebook) string { return d.reach.Address(b.Page) }

// Values are what a directory is given, with what hangs on other directories said.
func (d *Desk) Values(ctx context.Context, s *fit.Subject, f fit.Fit, book *rulebook.Rulebook, at ledger.Place) (fit.Values, error) {
	out := f.Values()
	other, err := d.shelf.Book(book.Hours.AgreeWith)
	i := slices.IndexFunc(out, func(v fit.Value) bool { return v.Key == "hours" })
	if err != nil || i < 0 {
		return out, nil // there is no other, or nothing is given
	}
	row, err := d.store.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: other.ID})
	if problem.IgnoreNoRows(err) != nil {
		return nil, err
	}
	says := fmt.Sprintf("They must be the same as on %s.", other.Name)
	if seen := row.State.Sighting; seen != nil {
		for _, l := range compare.Facts(s.Record, other, seen, s.Today) {
			if l.Fact == "hours" && l.Mark == compare.Unequal {
				says = fmt.Sprintf("They must be the same as on %s, which shows %s. Put that right first.", other.Name, l.Seen)
			}
		}
	}
	out[i].Says = append(out[i].Says, says)
	return out, nil
}

// Worksheet is the values for a directory that people work on, in its form's order.
type Worksheet struct {
	Book    rulebook.Rulebook
	Label   string // of the location
	Page    string // where it is worked on; empty where it is done in writing
	Lines   []WorksheetLine
	Missing []fit.Item      // what the directory takes and the record does not say
	At      string          // the listing's page there, as far as it was noted
	GivenAt *time.Time      // when values were last brought there
	Letter  *letters.Letter // the same as a letter, where its staff enter them
}

// WorksheetLine is one value to give.
type WorksheetLine struct {
	fit.Value
	Given  bool   // in this worksheet
	Before string // what was given the last time, where that was something else; else empty
	New    bool   // it was not given the last time
}

// Worksheet lays the worksheet out, with what was given already.
func (d *Desk) Worksheet(ctx context.Context, who people.Actor, at ledger.Place) (w Worksheet, err error) {
	book, l, s, err := d.records.SubjectAt(ctx, at)
	if err != nil {
		return w, err
	}
	if why := book.MayList(l.Record); why != "" {
		return w, problem.Conflictf("%s", why)
	}
	w.Book, w.Label, w.Page = book, l.Label, d.PageOf(book)
	held := fit.Of(s, &book)
	for _, i := range held.Items {
		if i.State == fit.Missing || i.State == fit.Broken {
			w.Missing = append(w.Missing, i)
		}
	}
	given := map[string]string{}
	row, err := d.store.Worksheet(ctx, db.WorksheetParams{LocationID: at.Location, DirectoryID: at.Directory})
	if err == nil {
		w.At = row.Page
		err = json.Unmarshal(row.Given, &given)
	}
	if problem.IgnoreNoRows(err) != nil {
		return w, err
	}
	last, givenAt, err := LastGiven(ctx, d.store.Queries, at)
	if err != nil {
		return w, err
	}
	w.GivenAt = givenAt
	values, err := d.Values(ctx, s, held, &book, at)
	if err != nil {
		return w, err
	}
	for _, v := range values {
		line := WorksheetLine{Value: v, Given: given[v.Key] == v.Text}
		if before, ok := last.Find(v.Key); w.GivenAt != nil {
			line.New = !ok
			if ok && before.Text != v.Text {
				line.Before = before.Text
			}
		}
		w.Lines = append(w.Lines, line)
	}
	if book.Worked == rulebook.Written {
		w.Letter = letterTo(book, l, values, last, who.Name)
	}
	return w, nil
}

// LastGiven are the values that a directory was given the last time, by people or by a
// program.
func LastGiven(ctx context.Context, q *db.Queries, at ledger.Place) (fit.Values, *time.Time, error) {
	row, err := q.LastGiven(ctx, db.LastGivenParams{LocationID: &at.Location, DirectoryID: &at.Directory})
	if err != nil {
		return nil, nil, problem.IgnoreNoRows(err)
	}
	var e struct{ Values fit.Values }
	return e.Values, &row.At, json.Unmarshal(row.Data, &e)
}

// LastGivenOf are the values that the listings of some locations were given last.
func LastGivenOf(ctx context.Context, q *db.Queries, locations []uuid.UUID) (map[ledger.Place]fit.Values, error) {
	rows, err := q.LastGivens(ctx, locations)
	out := make(map[ledger.Place]fit.Values, len(rows))
	for _, row := range rows {
		var e struct{ Values fit.Values }
		if err := json.Unmarshal(row.Data, &e); err != nil {
			return nil, err
		}
		out[ledger.Place{Location: *row.LocationID, Directory: *row.DirectoryID}] = e.Values
	}
	return out, err
}

// letterTo writes the values to a directory's staff: all of them the first time, and
// only what has changed after that.
func letterTo(book rulebook.Rulebook, l ledger.Location, values, last fit.Values, from string) *letters.Letter {
	out := &letters.Letter{To: book.Staff, Subject: letterSubject(l, last)}
	var b strings.Builder
	b.WriteString("Dear colleagues,\n\nplease add this business:\n\n")
	if last != nil {
		b.Reset()
		b.WriteString("Dear colleagues,\n\nplease change this entry. It should read:\n\n")
	}
	for _, v := range values {
		before, known := last.Find(v.Key)
		if v.Text == "" || strings.HasPrefix(v.Key, "photos.") || last != nil && known && before.Text == v.Text && v.Key != "name" && v.Key != "address" {
			continue
		}
		lines := strings.Split(v.Text, "\n")
		fmt.Fprintf(&b, "%s: %s\n", v.Label, lines[0])
		for _, more := range lines[1:] {
			fmt.Fprintf(&b, "  %s\n", more)
		}
	}
	fmt.Fprintf(&b, "\nKind regards\n%s\n", from)
	out.Body = b.String()
	return out
}

func letterSubject(l ledger.Location, last fit.Values) string {
	what := "New entry"
	if last != nil {
		what = "Change"
	}
	return fmt.Sprintf("%s: %s, %s", what, l.Record.Name, l.Record.Address.Locality)
}

// Ticks are changes of a worksheet that a window sends at once, numbered by it from one up. The window may
// have given up an earlier request that is still on its way, and says all of it again in a later one.
type Ticks struct {
	Window uuid.UUID
	Number int64
	Values []Tick
	Page   *string // the listing's page there; nil: as it was
}

// Tick is that a value was given, as it was, or is not any more.
type Tick struct {
	Key, Text string
	Given     bool
}

// TickValues notes which values were given. What a window sent before something that was heard of it
// already changes nothing.
func (d *Desk) TickValues(ctx context.Context, actor people.Actor, at ledger.Place, t Ticks) error {
	if _, err := d.shelf.Book(at.Directory); err != nil {
		return err
	}
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if _, err := q.LockLocation(ctx, at.Location); err != nil {
			return problem.OrNotFound(err, "There is no such location.")
		}
		given, heard := map[string]string{}, map[uuid.UUID]int64{}
		row, err := q.LockWorksheet(ctx, db.LockWorksheetParams{LocationID: at.Location, DirectoryID: at.Directory})
		if err == nil {
			err = errors.Join(json.Unmarshal(row.Given, &given), json.Unmarshal(row.Heard, &heard))
		}
		if problem.IgnoreNoRows(err) != nil {
			return err
		}
		if heard[t.Window] >= t.Number {
			return nil
		}
		heard[t.Window] = t.Number
		for _, v := range t.Values {
			if v.Given {
				given[v.Key] = v.Text
			} else {
				delete(given, v.Key)
			}
		}
		if t.Page != nil {
			if row.Page, err = pageAddress(*t.Page); err != nil {
				return err
			}
		}
		save := db.SaveWorksheetParams{LocationID: at.Location, DirectoryID: at.Directory, Page: row.Page, ChangedBy: actor.Name, ChangedAt: d.clock.Now()}
		if save.Given, err = json.Marshal(given); err != nil {
			return err
		}
		if save.Heard, err = json.Marshal(heard); err != nil {
			return err
		}
		if err := q.SaveWorksheet(ctx, save); err != nil {
			return err
		}
		return store.Notify(ctx, q, store.Change{Location: &at.Location, Listing: true}) // others who have it open see it
	})
}

// Give records that people brought the values to a directory, as they are now, and
// ends the worksheet. Where its staff enter them, letter is what is sent to them.
func (d *Desk) Give(ctx context.Context, actor people.Actor, at ledger.Place, page, letter string) error {
	page, err := pageAddress(page)
	if err != nil {
		return err
	}
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := mayGive(l); err != nil {
			return err
		}
		s, err := records.FitSubject(ctx, l.Q, l.Where, l.Now)
		if err != nil {
			return err
		}
		if whys := fit.Of(s, &l.Book).Whys(); whys != nil {
			return problem.Conflictf("%s", strings.Join(whys, " "))
		}
		e := verification.Given{How: verification.ByWorksheet, Page: page, Values: fit.Of(s, &l.Book).Values()}
		if l.Book.Worked == rulebook.Written {
			if letter = strings.TrimSpace(letter); letter == "" {
				return &problem.Problem{Kind: problem.Invalid, Detail: "The letter is empty."}
			}
			e.How, e.To = verification.ByLetter, l.Book.Staff
			last, _, err := LastGiven(ctx, l.Q, at)
			if err != nil {
				return err
			}
			m := reach.Mail{
				ID: uuid.NewString(), From: d.reach.Account(), As: actor.Name, To: l.Book.Staff, Subject: letterSubject(l.Where, last), Body: letter,
				Location: &at.Location,
			}
			if err := d.letters.Send(ctx, l.Tx, m); err != nil {
				return err
			}
		}
		if err := l.Add(ctx, e); err != nil {
			return err
		}
		return l.Q.DropWorksheet(ctx, db.DropWorksheetParams{LocationID: at.Location, DirectoryID: at.Directory})
	})
}

// mayGive says why values cannot be brought to a directory by hand now.
func mayGive(l *ledger.Listing) error {
	switch {
	case !l.Book.Worked.People() && l.Book.Worked != rulebook.File:
		return problem.Conflictf("%s is not worked by hand: it is %s.", l.Book.Name, l.Book.Worked.Words())
	case l.State.Control == verification.HeldByAnother:
		return problem.Conflictf("The listing is held by %s; ask them first.", l.State.HeldBy)
	case l.State.SearchedAt == nil && l.State.Control != verification.Held && l.Book.Worked != rulebook.File:
		return problem.Conflictf("Look for it on %s first: it may be there already.", l.Book.Name)
	}
	return nil
}
