package files

import (
	"context"
	"slices"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/google/uuid"

	"uvent/core/fact/photo"
	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// PapersOf are the location's, with its client's.
func PapersOf(ctx context.Context, l *ledger.Listing) ([]Paper, error) {
	return store.Each(PaperOf)(l.Q.Papers(ctx, db.PapersParams{ClientID: l.Client.ID, LocationID: &l.Location}))
}

// PapersFor are papers with what a record speaks against each.
func PapersFor(papers []Paper, r record.Record, now time.Time) (out []verification.Paper) {
	for _, p := range papers {
		v := verification.Paper{ID: p.ID.String(), Kind: p.Kind, Film: p.Film}
		if p.Film.There() {
			out = append(out, v)
			continue
		}
		for _, f := range Minded(p, r, now) {
			v.Doubts = append(v.Doubts, f.Says)
		}
		out = append(out, v)
	}
	return out
}

// Minded is what a directory is likely to mind in a paper. A picture, of which no text can be read, is compared by people.
func Minded(p Paper, r record.Record, now time.Time) []paper.Finding {
	return slices.DeleteFunc(paper.Faults(paper.Against(SaidOf(p), r, now)), func(f paper.Finding) bool { return f.Fact == "text" })
}

// SaidOf is what a paper says of itself.
func SaidOf(p Paper) paper.Said {
	return paper.Said{Kind: p.Kind, Text: p.Words, Issued: p.Issued, Until: p.Until}
}

// Evidence is a paper of a business as a directory is given it; nil for none.
func Evidence(papers []Paper, id, legalName string) *reach.Evidence {
	for _, p := range papers {
		if p.ID.String() == id {
			return &reach.Evidence{Kind: p.Kind, Name: p.FileName, Text: p.Words, LegalName: legalName}
		}
	}
	return nil
}

// byOwner are papers by whose they are.
type byOwner map[uuid.UUID][]Paper

// Of are a location's, with its client's.
func (b byOwner) Of(l *ledger.Location) []Paper { return slices.Concat(b[l.ClientID], b[l.ID]) }

// AllPapers are all that there are.
func (d *Desk) AllPapers(ctx context.Context) (byOwner, error) {
	rows, err := store.Each(PaperOf)(d.store.AllPapers(ctx))
	return byWhose(rows, func(p Paper) (uuid.UUID, *uuid.UUID) { return p.ClientID, p.LocationID }), err
}

// photosBy are photos by whose they are: a location or a client.
type photosBy map[uuid.UUID][]Picture

// PhotosOf are the photos of some clients and their locations.
func PhotosOf(ctx context.Context, q *db.Queries, clients []uuid.UUID) (photosBy, error) {
	rows, err := store.Each(PictureOf)(q.PhotosOfClients(ctx, clients))
	return byWhose(rows, func(p Picture) (uuid.UUID, *uuid.UUID) { return p.ClientID, p.LocationID }), err
}

// byWhose groups what belongs to a location or, where it names none, to a client.
func byWhose[T any](rows []T, owner func(T) (client uuid.UUID, location *uuid.UUID)) map[uuid.UUID][]T {
	out := map[uuid.UUID][]T{}
	for _, row := range rows {
		whose, location := owner(row)
		if location != nil {
			whose = *location
		}
		out[whose] = append(out[whose], row)
	}
	return out
}

// Of are a location's photos with its client's, as the core reads them.
func (p photosBy) Of(location, client uuid.UUID) (out []fit.Photo) {
	for _, whose := range []uuid.UUID{location, client} {
		for _, row := range p[whose] {
			out = append(out, FactsOf(row))
		}
	}
	return out
}

// Owner is whose something is: a location's or, without one, its client's for
// all its locations.
type Owner struct {
	Client   uuid.UUID
	Location *uuid.UUID
}

// owner finds whose a photo or a paper is to be.
func (d *Desk) owner(ctx context.Context, s ledger.Scope) (Owner, error) {
	switch {
	case s.Location != nil:
		l, err := d.ledger.Location(ctx, *s.Location)
		return Owner{l.ClientID, s.Location}, err
	case len(s.Clients) == 1:
		c, err := d.ledger.Client(ctx, s.Clients[0])
		return Owner{Client: c.ID}, err
	}
	return Owner{}, &problem.Problem{Kind: problem.Invalid, Detail: "Say whose it is: a location or a client."}
}

// FactsOf is a photo as the core reads it.
func FactsOf(row Picture) fit.Photo {
	return fit.Photo{
		ID:          row.ID.String(),
		Group:       row.Kind,
		Size:        photo.Size{Width: int(row.Width), Height: int(row.Height)},
		Focus:       row.Focus,
		Caption:     row.Caption,
		Alternative: row.Alternative,
	}
}

// fileName is the last part of a file's name, without what could hurt in an
// archive or a header.
func fileName(name string) string {
	name = name[strings.LastIndexAny(name, `/\`)+1:]
	name = strings.Map(func(r rune) rune {
		if unicode.IsControl(r) || unicode.Is(unicode.Cf, r) || strings.ContainsRune(`"<>|:*?`, r) { // Cf turns the direction of what follows
			return -1
		}
		return r
	}, name)
	if len(name) > 120 {
		name = name[:120]
	}
	if !utf8.ValidString(name) || strings.Trim(name, ". ") == "" {
		return "photo"
	}
	return name
}
