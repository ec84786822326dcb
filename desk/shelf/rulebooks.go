package shelf

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/bounded"
	"uvent/core/rule/rulebook"
	"uvent/desk/problem"
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

// WithBooks adds rulebooks that are read anew whenever their stamp changes; one that
// has mistakes is not in force.
func (d *Desk) WithBooks(ctx context.Context, more MoreBooks) error {
	d.mu.Lock()
	d.more = more
	d.mu.Unlock()
	return d.Reshelve(ctx)
}

// BadRulebooks are the mistakes in rulebooks that are for that reason not in force.
func (d *Desk) BadRulebooks() []string {
	d.mu.Lock()
	defer d.mu.Unlock()
	return slices.Clone(d.bad)
}

// Reshelve reads rulebooks that came from outside, or were written or changed here, by
// this server or another.
func (d *Desk) Reshelve(ctx context.Context) error {
	stamp, err := d.store.RulebookStamp(ctx)
	if err != nil {
		return err
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	read := fmt.Sprint(stamp)
	if d.more != nil {
		read += " " + d.more.Stamp()
	}
	if read == d.read {
		return nil
	}
	rows, err := d.store.RulebooksInForce(ctx)
	if err != nil {
		return err
	}
	books := slices.Clone(d.files)
	put := func(b rulebook.Rulebook) {
		if i := slices.IndexFunc(books, func(o rulebook.Rulebook) bool { return o.ID == b.ID }); i >= 0 {
			books[i] = b
			return
		}
		books = append(books, b)
	}
	var bad []string
	if d.more != nil {
		var found []rulebook.Rulebook
		found, bad = d.more.Read()
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
	if err := d.keepTexts(ctx, books); err != nil {
		return err
	}
	d.books.Store(newLibrary(books))
	d.read, d.bad = read, bad
	return nil
}

// keepTexts keeps the text of each rulebook by its version, before anything happens under it, so
// that the log can be replayed. What happened before versions were kept is taken to have happened
// under the first that are.
func (d *Desk) keepTexts(ctx context.Context, books []rulebook.Rulebook) error {
	ids, versions, sources := make([]string, len(books)), make([]string, len(books)), make([]string, len(books))
	for i, b := range books {
		ids[i], versions[i], sources[i] = b.ID, b.Version(), b.Source
	}
	if err := d.store.KeepRulebookTexts(ctx, db.KeepRulebookTextsParams{Versions: versions, Sources: sources}); err != nil {
		return err
	}
	return d.store.AssumeBooks(ctx, db.AssumeBooksParams{Directories: ids, Versions: versions})
}

// Versions reads rulebooks as they were, by version.
func (d *Desk) Versions(ctx context.Context) (map[string]rulebook.Rulebook, error) {
	rows, err := d.store.RulebookTexts(ctx)
	out := make(map[string]rulebook.Rulebook, len(rows))
	for _, r := range rows {
		if b, problems := rulebook.Parse(r.Version, []byte(r.Source)); problems == nil {
			out[r.Version] = b
		}
	}
	return out, err
}

// Checked is what a rulebook's text comes to, before it is saved.
type Checked struct {
	Problems []rulebook.Problem
	Book     rulebook.Rulebook // where there are no problems
	New      bool              // no directory has its id yet
}

// tried reads a text as a rulebook where it can take no more than its bounds, and tells whether it could be read.
var tried = bounded.Of("rulebook", bounded.Limits{Time: 5 * time.Second, Memory: 500 << 20}, func(text string) (bool, error) {
	_, problems := rulebook.Parse("rulebook.yaml", []byte(text))
	return problems == nil, nil
})

// Check checks a text as a rulebook.
func (d *Desk) Check(ctx context.Context, text string) (c Checked, err error) {
	if len(text) > rulebook.MostBytes {
		return c, &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("A rulebook has %d KB at most.", rulebook.MostBytes>>10)}
	}
	if _, err := tried(ctx, text); err != nil {
		if errors.Is(err, bounded.ErrBounds) {
			err = &problem.Problem{Kind: problem.Invalid, Detail: "The rulebook takes too long to read. Write it with less nesting."}
		}
		return c, err
	}
	if c.Book, c.Problems = rulebook.Parse("rulebook.yaml", []byte(text)); c.Problems == nil {
		_, unknown := d.Book(c.Book.ID)
		c.New = unknown != nil
	}
	return c, nil
}

// SaveRulebook puts a rulebook in force, as a new version of its directory's or as a
// new directory. id is the directory that is changed; empty for a new one. moved is asked first where the directory's
// own interface is at another address from then on, and may refuse that.
func (d *Desk) SaveRulebook(ctx context.Context, by, id, text string, moved func(q *db.Queries, from, to string) error) (rulebook.Rulebook, error) {
	c, err := d.Check(ctx, text)
	if err != nil {
		return c.Book, err
	}
	var before rulebook.Rulebook
	if id != "" {
		if before, err = d.Book(id); err != nil {
			return c.Book, err
		}
	}
	switch {
	case c.Problems != nil:
		return c.Book, &problem.Problem{Kind: problem.Invalid, Detail: "The rulebook has mistakes: " + c.Problems[0].Error()}
	case id != "" && c.Book.ID != id:
		return c.Book, problem.Conflictf("The id must stay %s; a directory keeps its key. For another directory, add a new one.", id)
	case id == "" && !c.New:
		return c.Book, problem.Conflictf("There is a directory %q already. Change that one, or choose another id.", c.Book.ID)
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if from, to := before.Connector.URL, c.Book.Connector.URL; from != to {
			if err := moved(q, from, to); err != nil {
				return err
			}
		}
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
	for _, b := range d.files {
		if b.ID == id {
			out = append(out, RulebookVersion{Source: b.Source, SavedBy: "the file"})
		}
	}
	return out, nil
}
