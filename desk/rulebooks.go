package desk

import (
	"context"
	"fmt"
	"slices"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/store"
	"uvent/store/db"
)

// MoreBooks is where rulebooks come from besides those that ship, such as a folder.
type MoreBooks interface {
	// Stamp tells one state of it from another.
	Stamp() string
	// Read gives those that are good, and what is wrong with the others.
	Read() (books []rulebook.Rulebook, bad []string)
}

// shelf is where rulebooks come from: those that ship, more of them, and what was
// written here over them.
type shelf struct {
	files []rulebook.Rulebook
	more  MoreBooks // nil for none
	mu    sync.Mutex
	read  string   // what was read last
	bad   []string // what is wrong with those that are not in force
}

// WithBooks adds rulebooks that are read anew whenever their stamp changes; one that
// has mistakes is not in force.
func (d *Desk) WithBooks(ctx context.Context, more MoreBooks) error {
	d.shelf.mu.Lock()
	d.shelf.more = more
	d.shelf.mu.Unlock()
	return d.Reshelve(ctx)
}

// BadRulebooks are the mistakes in rulebooks that are for that reason not in force.
func (d *Desk) BadRulebooks() []string {
	d.shelf.mu.Lock()
	defer d.shelf.mu.Unlock()
	return slices.Clone(d.shelf.bad)
}

// Reshelve reads rulebooks that came from outside, or were written or changed here, by
// this server or another.
func (d *Desk) Reshelve(ctx context.Context) error {
	stamp, err := d.store.RulebookStamp(ctx)
	if err != nil {
		return err
	}
	d.shelf.mu.Lock()
	defer d.shelf.mu.Unlock()
	read := fmt.Sprint(stamp)
	if d.shelf.more != nil {
		read += " " + d.shelf.more.Stamp()
	}
	if read == d.shelf.read {
		return nil
	}
	rows, err := d.store.RulebooksInForce(ctx)
	if err != nil {
		return err
	}
	books := slices.Clone(d.shelf.files)
	put := func(b rulebook.Rulebook) {
		if i := slices.IndexFunc(books, func(o rulebook.Rulebook) bool { return o.ID == b.ID }); i >= 0 {
			books[i] = b
			return
		}
		books = append(books, b)
	}
	var bad []string
	if d.shelf.more != nil {
		var found []rulebook.Rulebook
		found, bad = d.shelf.more.Read()
		for _, b := range found {
			put(b)
		}
	}
	for _, r := range rows {
		b, problems := rulebook.Parse(r.ID+".yaml", []byte(r.Source))
		if problems != nil { // it was good when it was saved; a later Uvent may ask for more
			bad = append(bad, problems[0].Error())
			continue
		}
		put(b)
	}
	for _, b := range bad {
		d.log.Error("a rulebook is not in force", "problem", b)
	}
	d.books.Store(newLibrary(books))
	d.shelf.read, d.shelf.bad = read, bad
	return nil
}

// Checked is what a rulebook's text comes to, before it is saved.
type Checked struct {
	Problems []rulebook.Problem
	Book     rulebook.Rulebook // where there are no problems
	New      bool              // no directory has its id yet
}

// Tried is a rulebook's text, tried on a location.
type Tried struct {
	Checked
	Trial *Trial // nil where there are problems, or no location was named
}

// Trial is a location held against a rulebook that is being written, and against the
// one in force.
type Trial struct {
	Location Location
	Fit      fit.Fit
	Values   fit.Values
	Before   *fit.Fit // by the rulebook in force; nil where there is none
}

// mostRulebook bounds a rulebook's text, in bytes.
const mostRulebook = 256 << 10

// Check checks a text as a rulebook.
func (d *Desk) Check(text string) (c Checked, err error) {
	if len(text) > mostRulebook {
		return c, &Problem{Kind: Invalid, Detail: fmt.Sprintf("A rulebook has %d KB at most.", mostRulebook>>10)}
	}
	if c.Book, c.Problems = rulebook.Parse("rulebook.yaml", []byte(text)); c.Problems == nil {
		_, unknown := d.Book(c.Book.ID)
		c.New = unknown != nil
	}
	return c, nil
}

// CheckRulebook checks a text as a rulebook and tries it on a location.
func (d *Desk) CheckRulebook(ctx context.Context, text string, location *uuid.UUID) (c Tried, err error) {
	if c.Checked, err = d.Check(text); err != nil || c.Problems != nil || location == nil {
		return c, err
	}
	l, err := d.Location(ctx, *location)
	if err != nil {
		return c, err
	}
	s, err := fitSubject(ctx, d.store.Queries, l)
	if err != nil {
		return c, err
	}
	c.Trial = &Trial{Location: l, Fit: fit.Of(s, &c.Book)}
	if c.Trial.Fit.Not == "" {
		c.Trial.Values = fit.Compose(s, &c.Book)
	}
	if old, err := d.Book(c.Book.ID); err == nil {
		before := fit.Of(s, &old)
		c.Trial.Before = &before
	}
	return c, nil
}

// SaveRulebook puts a rulebook in force, as a new version of its directory's or as a
// new directory. id is the directory that is changed; empty for a new one.
func (d *Desk) SaveRulebook(ctx context.Context, by, id, text string) (rulebook.Rulebook, error) {
	c, err := d.Check(text)
	if err != nil {
		return c.Book, err
	}
	switch {
	case c.Problems != nil:
		return c.Book, &Problem{Kind: Invalid, Detail: "The rulebook has mistakes: " + c.Problems[0].Error()}
	case id != "" && c.Book.ID != id:
		return c.Book, conflict("The id must stay %s; a directory keeps its key. For another directory, add a new one.", id)
	case id == "" && !c.New:
		return c.Book, conflict("There is a directory %q already. Change that one, or choose another id.", c.Book.ID)
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if _, err := q.AddRulebook(ctx, db.AddRulebookParams{ID: c.Book.ID, Source: text, SavedBy: by, SavedAt: d.clock.Now()}); err != nil {
			return err
		}
		return store.Notify(ctx, q, store.Change{Books: true})
	})
	if err == nil {
		err = d.Reshelve(ctx)
	}
	return c.Book, err
}

// RulebookVersion is a rulebook as it was at some time.
type RulebookVersion struct {
	Version int // 0 for the file that ships
	Source  string
	SavedBy string
	SavedAt *time.Time
}

// RulebookVersions lists the versions of a directory's rulebook, newest first.
func (d *Desk) RulebookVersions(ctx context.Context, id string) ([]RulebookVersion, error) {
	if _, err := d.Book(id); err != nil {
		return nil, err
	}
	rows, err := d.store.RulebookVersions(ctx, id)
	if err != nil {
		return nil, err
	}
	var out []RulebookVersion
	for _, r := range rows {
		out = append(out, RulebookVersion{int(r.Version), r.Source, r.SavedBy, &r.SavedAt})
	}
	for _, b := range d.shelf.files {
		if b.ID == id {
			out = append(out, RulebookVersion{Source: b.Source, SavedBy: "the file"})
		}
	}
	return out, nil
}
