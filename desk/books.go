package desk

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"

	"uvent/core/rule/rulebook"
)

// library is the rulebooks in force.
type library struct {
	books  []rulebook.Rulebook // heaviest first
	digest string              // tells other rulebooks from these
}

func newLibrary(books []rulebook.Rulebook) *library {
	books = slices.Clone(books)
	slices.SortStableFunc(books, func(a, b rulebook.Rulebook) int { return b.Weight - a.Weight })
	sum := sha256.New()
	for _, b := range books {
		fmt.Fprintf(sum, "%d %s\n", len(b.Source), b.Source)
	}
	return &library{books, hex.EncodeToString(sum.Sum(nil)[:12])}
}

// library are the rulebooks in force, with what tells them from others.
func (d *Desk) library() *library { return d.books.Load() }

// Books are the rulebooks in force, heaviest first. They must not be changed.
func (d *Desk) Books() []rulebook.Rulebook { return d.books.Load().books }

// Book finds a rulebook by its id.
func (d *Desk) Book(id string) (rulebook.Rulebook, error) {
	for _, b := range d.Books() {
		if b.ID == id {
			return b, nil
		}
	}
	return rulebook.Rulebook{}, &Problem{Kind: NotFound, Detail: fmt.Sprintf("There is no directory %q.", id)}
}

// DirectoryName is what a directory is called; its id where it is not known.
func (d *Desk) DirectoryName(id string) string {
	if b, err := d.Book(id); err == nil {
		return b.Name
	}
	return id
}

// PageOf is where people find a directory's own pages; empty for none.
func (d *Desk) PageOf(b rulebook.Rulebook) string { return d.reach.Address(b.Page) }
