package shelf

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"

	"uvent/core/rule/rulebook"
	"uvent/desk/problem"
)

// Library is the rulebooks in force.
type Library struct {
	Books  []rulebook.Rulebook // heaviest first
	Digest string              // tells other rulebooks from these
}

func newLibrary(books []rulebook.Rulebook) *Library {
	books = slices.Clone(books)
	slices.SortStableFunc(books, func(a, b rulebook.Rulebook) int { return b.Weight - a.Weight })
	sum := sha256.New()
	for _, b := range books {
		fmt.Fprintf(sum, "%d %s\n", len(b.Source), b.Source)
	}
	return &Library{books, hex.EncodeToString(sum.Sum(nil)[:12])}
}

// Library are the rulebooks in force, with what tells them from others.
func (d *Desk) Library() *Library { return d.books.Load() }

// Books are the rulebooks in force, heaviest first. They must not be changed.
func (d *Desk) Books() []rulebook.Rulebook { return d.books.Load().Books }

// Book finds a rulebook by its id.
func (d *Desk) Book(id string) (rulebook.Rulebook, error) {
	for _, b := range d.Books() {
		if b.ID == id {
			return b, nil
		}
	}
	return rulebook.Rulebook{}, &problem.Problem{Kind: problem.NotFound, Detail: fmt.Sprintf("There is no directory %q.", id)}
}

// DirectoryName is what a directory is called; its id where it is not known.
func (d *Desk) DirectoryName(id string) string {
	if b, err := d.Book(id); err == nil {
		return b.Name
	}
	return id
}
