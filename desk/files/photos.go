package files

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/bounded"
	"uvent/core/fact/photo"
	"uvent/core/record/paper"
	"uvent/core/record/record"
	"uvent/core/rule/film"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Picture is a photo's file, and what people say of it.
type Picture struct {
	ID          uuid.UUID
	ClientID    uuid.UUID
	LocationID  *uuid.UUID // nil: the client's, for all its locations
	Kind        string     // its group
	Position    int32
	FileName    string
	Format      string
	Width       int32 // pixels
	Height      int32
	Bytes       int32
	Hash        int64   // of the picture, as package photo reckons it
	Sharpness   float64 // likewise
	Caption     string
	Alternative string
	Focus       photo.Focus
	CutFor      string // the shapes and the focus that its cuts are made for
	AddedBy     string
	AddedAt     time.Time
	RemovedAt   *time.Time
}

// PictureOf is a picture as it is kept.
func PictureOf(row db.Photo) Picture { return Picture(row) }

// Photo is one of a location's photos, or one of its client's for all of them.
type Photo struct {
	Picture
	Like uuid.UUID   // another photo of the client that shows the same picture; uuid.Nil for none
	Fits []PhotoFits // by directory, heaviest first
}

// PhotoFits is what becomes of a photo on a directory.
type PhotoFits struct {
	Book rulebook.Rulebook
	Fits []fit.PhotoFit
}

// Photos lists a location's photos and those of its client for all locations; or
// the client's alone.
func (d *Desk) Photos(ctx context.Context, s ledger.Scope) ([]Photo, error) {
	o, err := d.owner(ctx, s)
	if err != nil {
		return nil, err
	}
	rows, err := store.Each(PictureOf)(d.store.Photos(ctx, db.PhotosParams{ClientID: o.Client, LocationID: o.Location}))
	if err != nil {
		return nil, err
	}
	out := make([]Photo, len(rows))
	for i, r := range rows {
		out[i] = d.photo(r, rows)
	}
	return out, nil
}

// photo looks at a photo beside others and at each directory's rules.
func (d *Desk) photo(row Picture, others []Picture) Photo {
	p := Photo{Picture: row}
	for _, o := range others {
		if o.ID != row.ID && photo.Distance(uint64(o.Hash), uint64(row.Hash)) <= photo.SamePicture {
			p.Like = o.ID
			break
		}
	}
	for _, b := range d.shelf.Books() {
		p.Fits = append(p.Fits, PhotoFits{b, fit.Photos(FactsOf(row), b)})
	}
	return p
}

// AddPhoto takes a file in as a photo: what it is is told by its content, all
// that it holds besides the picture is left behind, and its copies are made.
func (d *Desk) AddPhoto(ctx context.Context, actor people.Actor, s ledger.Scope, f PhotoFacts, name string, data []byte) (p Photo, err error) {
	o, err := d.owner(ctx, s)
	if err != nil {
		return p, err
	}
	if err := f.check(); err != nil {
		return p, err
	}
	made, err := d.develop(ctx, data)
	if err != nil {
		return p, err
	}
	known, err := store.Each(PictureOf)(d.store.PhotosOfClient(ctx, o.Client))
	if err != nil {
		return p, err
	}
	for _, k := range known {
		mine := k.LocationID == nil || o.Location != nil && *k.LocationID == *o.Location
		if mine && k.Hash == int64(made.Hash) && int(k.Width) == made.Size.Width && int(k.Height) == made.Size.Height {
			return p, problem.Conflictf("This photo is here already: %s, under %s.", k.FileName, groupName(k.Kind))
		}
	}
	id := uuid.New()
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		row, err := store.One(PictureOf)(q.AddPhoto(ctx, db.AddPhotoParams{
			ID:          id,
			ClientID:    o.Client,
			LocationID:  o.Location,
			Kind:        f.Group,
			FileName:    fileName(name),
			Format:      string(made.Format),
			Width:       int32(made.Size.Width),
			Height:      int32(made.Size.Height),
			Bytes:       int32(len(made.Original)),
			Hash:        int64(made.Hash),
			Sharpness:   made.Sharpness,
			Focus:       f.Focus,
			Caption:     f.Caption,
			Alternative: f.Alternative,
			AddedBy:     actor.Name,
			AddedAt:     d.clock.Now(),
		}))
		if err != nil {
			return err
		}
		for what, data := range map[string][]byte{"original": made.Original, "screen": made.Screen, "small": made.Small} {
			if err := q.SaveFile(ctx, db.SaveFileParams{OwnerID: id, What: what, Data: data}); err != nil {
				return err
			}
		}
		p = d.photo(row, known)
		return d.ledger.Note(ctx, q, actor, "photo_added", o.Client, o.Location, map[string]any{"photo": id, "name": row.FileName, "group": f.Group})
	})
	return p, err
}

// developed is what is made of a file that is taken in.
type developed struct {
	Original, Screen, Small []byte
	Format                  photo.Format
	Size                    photo.Size
	Hash                    uint64
	Sharpness               float64
}

// Longer edges of the copies that screens show, in pixels.
const (
	screenEdge = 1400
	smallEdge  = 320
)

// sniffed and developing are done in processes of their own.
var (
	sniffed    = bounded.Of("sniff a photo", bounded.Usual, photo.Sniff)
	developing = bounded.Of("develop a photo", bounded.Usual, func(data []byte) (m developed, err error) {
		in, img, err := photo.Read(data)
		if err != nil {
			return m, err
		}
		m.Size = photo.Size{Width: img.Bounds().Dx(), Height: img.Bounds().Dy()}
		if m.Original, m.Format, err = photo.Clean(img, in.Format); err != nil {
			return m, err
		}
		work := photo.Smaller(img, photo.WorkEdge)
		m.Hash, m.Sharpness = photo.Hash(work), photo.Sharpness(work)
		if m.Screen, err = photo.Encode(photo.Smaller(work, screenEdge), photo.JPEG); err != nil {
			return m, err
		}
		m.Small, err = photo.Encode(photo.Smaller(work, smallEdge), photo.JPEG)
		return m, err
	})
)

func init() { bounded.Refusals(photo.Refusal(""), paper.Refusal(""), film.Refusal("")) }

// develop reads a picture and makes its copies, when there is room for it.
func (d *Desk) develop(ctx context.Context, data []byte) (m developed, err error) {
	first, err := sniffed(ctx, data)
	if err != nil {
		return m, refusedFile(err)
	}
	leave, err := d.darkroom(ctx, first)
	if err != nil {
		return m, err
	}
	defer leave()
	m, err = developing(ctx, data)
	return m, refusedFile(err)
}

// darkroom waits until there is room to work on a picture: several small ones at
// once, or one large one, so that memory stays bounded.
func (d *Desk) darkroom(ctx context.Context, in photo.Info) (leave func(), err error) {
	pixels := int64(in.Width) * int64(in.Height)
	return func() { d.pixels.Release(pixels) }, d.pixels.Acquire(ctx, pixels)
}

// refusedFile is why a file was not taken, as a problem of its field; other errors stay.
func refusedFile(err error) error {
	var no error
	switch {
	case errors.As(err, new(photo.Refusal)), errors.As(err, new(paper.Refusal)), errors.As(err, new(film.Refusal)):
		no = err
	case errors.Is(err, bounded.ErrBounds):
		no = errors.New("Reading this file takes more memory or time than any such file should. Save it anew, smaller, and bring that in.")
	default:
		return err
	}
	return &problem.Problem{Kind: problem.Invalid, Detail: no.Error(), Fields: []record.Problem{{Path: "file", Message: no.Error()}}}
}

func groupName(id string) string {
	for _, g := range fit.PhotoGroups {
		if g.ID == id {
			return strings.ToLower(g.Name)
		}
	}
	return id
}

// PhotoFacts are what people say of a photo.
type PhotoFacts struct {
	Group, Caption, Alternative string
	Focus                       photo.Focus
}

// mostCaption bounds a photo's texts, in characters.
const mostCaption = 500

// check tidies and checks what is said of a photo.
func (f *PhotoFacts) check() error {
	f.Caption, f.Alternative = strings.TrimSpace(f.Caption), strings.TrimSpace(f.Alternative)
	var wrong []record.Problem
	for path, text := range map[string]string{"caption": f.Caption, "alternative": f.Alternative} {
		if n := utf8.RuneCountInString(text); n > mostCaption {
			wrong = append(wrong, record.Problem{Path: path, Message: fmt.Sprintf("it has %d characters; %d are kept", n, mostCaption)})
		}
	}
	if !slices.ContainsFunc(fit.PhotoGroups, func(g struct{ ID, Name string }) bool { return g.ID == f.Group }) {
		wrong = append(wrong, record.Problem{Path: "group", Message: fmt.Sprintf("%q is no group of photos", f.Group)})
	}
	if !f.Focus.Good() {
		wrong = append(wrong, record.Problem{Path: "focus", Message: "it lies outside the photo"})
	}
	if wrong != nil {
		return problem.Fields(wrong)
	}
	return nil
}

// SavePhoto changes what is said of a photo.
func (d *Desk) SavePhoto(ctx context.Context, actor people.Actor, id uuid.UUID, f PhotoFacts) (p Photo, err error) {
	if err := f.check(); err != nil {
		return p, err
	}
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		before, err := store.One(PictureOf)(q.LockPhoto(ctx, id))
		if err != nil || before.RemovedAt != nil {
			return problem.OrNotFound(errors.Join(err, removed(before)), "There is no such photo.")
		}
		row, err := store.One(PictureOf)(q.SavePhoto(ctx, db.SavePhotoParams{ID: id, Kind: f.Group, Caption: f.Caption, Alternative: f.Alternative, Focus: f.Focus}))
		if err != nil {
			return err
		}
		known, err := store.Each(PictureOf)(q.PhotosOfClient(ctx, row.ClientID))
		if err != nil {
			return err
		}
		p = d.photo(row, known)
		return d.ledger.Note(
			ctx,
			q,
			actor,
			"photo_saved",
			row.ClientID,
			row.LocationID,
			map[string]any{"photo": id, "before": photoSaid(before), "after": photoSaid(row)},
		)
	})
	return p, err
}

func removed(row Picture) error {
	if row.RemovedAt != nil {
		return pgx.ErrNoRows
	}
	return nil
}

func photoSaid(p Picture) map[string]any {
	return map[string]any{"group": p.Kind, "caption": p.Caption, "alternative": p.Alternative, "focus": p.Focus}
}

// OrderPhotos puts a client's photos into an order.
func (d *Desk) OrderPhotos(ctx context.Context, actor people.Actor, s ledger.Scope, ids []uuid.UUID) error {
	o, err := d.owner(ctx, s)
	if err != nil {
		return err
	}
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if err := q.LockPhotos(ctx, ids); err != nil {
			return err
		}
		for i, id := range ids {
			n, err := q.PlacePhoto(ctx, db.PlacePhotoParams{ID: id, ClientID: o.Client, Position: int32(i + 1)})
			if err != nil {
				return err
			}
			if n == 0 {
				return &problem.Problem{Kind: problem.NotFound, Detail: "One of these photos is not there."}
			}
		}
		return d.ledger.Note(ctx, q, actor, "photos_ordered", o.Client, o.Location, ids)
	})
}

// RemovePhoto takes a photo out, or brings one back that was.
func (d *Desk) RemovePhoto(ctx context.Context, actor people.Actor, id uuid.UUID, back bool) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := store.One(PictureOf)(q.LockPhoto(ctx, id))
		if err != nil {
			return problem.OrNotFound(err, "There is no such photo.")
		}
		if (row.RemovedAt == nil) == back {
			return nil // it is so already
		}
		kind := "photo_restored"
		now := d.clock.Now()
		at := &now
		if back {
			at = nil
		} else {
			kind = "photo_removed"
		}
		if _, err := q.RemovePhoto(ctx, db.RemovePhotoParams{ID: id, RemovedAt: at}); err != nil {
			return err
		}
		return d.ledger.Note(ctx, q, actor, kind, row.ClientID, row.LocationID, map[string]any{"photo": id, "name": row.FileName})
	})
}

// PhotoFile is one of a photo's files: original, screen or small.
func (d *Desk) PhotoFile(ctx context.Context, id uuid.UUID, what string) ([]byte, error) {
	if !slices.Contains([]string{"original", "screen", "small"}, what) {
		return nil, &problem.Problem{Kind: problem.NotFound, Detail: "A photo has no such copy."}
	}
	data, err := d.store.File(ctx, db.FileParams{OwnerID: id, What: what})
	return data, problem.OrNotFound(err, "There is no such photo.")
}

// WindowOf is a part of a photo as parts of its width and height.
func (p Photo) WindowOf(r image.Rectangle) photo.Focus {
	w, h := float64(p.Width), float64(p.Height)
	return photo.Focus{X: float64(r.Min.X) / w, Y: float64(r.Min.Y) / h, W: float64(r.Dx()) / w, H: float64(r.Dy()) / h}
}

// cutsOf names the shapes and the focus that a photo's cuts are made for.
func (d *Desk) cutsOf(row Picture) string {
	b, err := json.Marshal(struct {
		Focus photo.Focus
		Cuts  []cut
	}{row.Focus, d.cuts(row)})
	if err != nil {
		panic(err) // numbers and names
	}
	return string(b)
}
