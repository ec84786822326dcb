package files

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/bounded"
	"uvent/core/fact/photo"
	"uvent/core/record/link"
	"uvent/core/rule/fit"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// cut is a photo in one directory's shape.
type cut struct {
	Directory string
	Label     string
	Crop      photo.Crop
	As        photo.Format
	Most      int // kilobytes that it may weigh
}

func (c cut) what() string { return "cut " + c.Directory + "/" + c.Label }

// cuts are the shapes that a photo is wanted in.
func (d *Desk) cuts(row Picture) (out []cut) {
	for _, b := range d.shelf.Books() {
		for _, f := range fit.Photos(FactsOf(row), b) {
			out = append(out, cut{b.ID, f.Rule.Label, f.Rule.Crop, f.Rule.Format(), f.Rule.MostKilobytes})
		}
	}
	return out
}

// makeCuts makes a photo's cuts for every directory when the first of them is asked for, and keeps
// them: of thousands of photos most are never brought anywhere.
func (d *Desk) makeCuts(ctx context.Context, id uuid.UUID) (map[string][]byte, error) {
	row, err := store.One(PictureOf)(d.store.PhotoByID(ctx, id))
	if err != nil {
		return nil, problem.IgnoreNoRows(err)
	}
	wanted, out := d.cuts(row), map[string][]byte{}
	if row.CutFor == d.cutsOf(row) {
		for _, c := range wanted {
			data, err := d.store.File(ctx, db.FileParams{OwnerID: id, What: c.what()})
			if err != nil {
				return nil, err
			}
			out[c.what()] = data
		}
		return out, nil
	}
	data, err := d.store.File(ctx, db.FileParams{OwnerID: id, What: "original"})
	if err != nil {
		return nil, err
	}
	if out, err = d.cutAll(ctx, cutting{data, row.Focus, wanted}); err != nil {
		return nil, err
	}
	return out, d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		now, err := store.One(PictureOf)(q.LockPhoto(ctx, id))
		if err != nil || d.cutsOf(now) != d.cutsOf(row) {
			return err // it has another focus meanwhile
		}
		if err := q.DropCuts(ctx, id); err != nil {
			return err
		}
		for what, data := range out {
			if err := q.SaveFile(ctx, db.SaveFileParams{OwnerID: id, What: what, Data: data}); err != nil {
				return err
			}
		}
		return q.PhotoCut(ctx, db.PhotoCutParams{ID: id, CutFor: d.cutsOf(row)})
	})
}

// CutOf is a photo cut for a place of a directory's; nil where it does not go there.
func (d *Desk) CutOf(ctx context.Context, id uuid.UUID, directory, label string) ([]byte, error) {
	cuts, err := d.makeCuts(ctx, id)
	return cuts[cut{Directory: directory, Label: label}.what()], err
}

// cutting is what is cut out of a photo, and cuts of it are made in a process of their own.
type cutting struct {
	Original []byte
	Focus    photo.Focus
	Wanted   []cut
}

var cutOut = bounded.Of("cut a photo", bounded.Usual, func(c cutting) (map[string][]byte, error) {
	_, img, err := photo.Read(c.Original)
	if err != nil {
		return nil, err
	}
	work, out := photo.Smaller(img, photo.WorkEdge), map[string][]byte{}
	for _, one := range c.Wanted {
		if out[one.what()], err = photo.EncodeWithin(one.Crop.Cut(work, c.Focus), one.As, one.Most*1000); err != nil {
			return nil, err
		}
	}
	return out, nil
})

func (d *Desk) cutAll(ctx context.Context, c cutting) (map[string][]byte, error) {
	in, err := sniffed(ctx, c.Original)
	if err != nil {
		return nil, err
	}
	leave, err := d.darkroom(ctx, in)
	if err != nil {
		return nil, err
	}
	defer leave()
	return cutOut(ctx, c)
}

// PhotosZip writes a location's photos as an archive: the originals, each
// directory's cuts in a folder of its own, and a list of captions and alternative
// texts.
func (d *Desk) PhotosZip(ctx context.Context, location uuid.UUID, w io.Writer) error {
	l, err := d.ledger.Location(ctx, location)
	if err != nil {
		return err
	}
	photos, err := d.Photos(ctx, ledger.Scope{Location: &location})
	if err != nil {
		return err
	}
	if len(photos) == 0 {
		return problem.Conflictf("This location has no photos yet.")
	}
	z := zip.NewWriter(w)
	add := func(name string, data []byte) error {
		// Pictures do not get smaller by packing.
		part, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store, Modified: d.clock.Now()})
		if err != nil {
			return err
		}
		_, err = part.Write(data)
		return err
	}
	list := [][]string{{"file", "group", "caption", "alternative text"}}
	count := map[string]int{}
	for _, p := range photos {
		count[p.Kind]++
		name := fmt.Sprintf("%s-%s-%d", link.Slug(l.Record.Name+" "+l.Label), strings.ReplaceAll(p.Kind, "_", "-"), count[p.Kind])
		original, err := d.store.File(ctx, db.FileParams{OwnerID: p.ID, What: "original"})
		if err != nil {
			return err
		}
		file := name + ".jpg"
		if p.Format == string(photo.PNG) {
			file = name + ".png"
		}
		list = append(list, []string{file, groupName(p.Kind), p.Caption, p.Alternative})
		if err := add("originals/"+file, original); err != nil {
			return err
		}
		cuts, err := d.makeCuts(ctx, p.ID)
		if err != nil {
			return err
		}
		for _, c := range d.cuts(p.Picture) {
			if err := add(c.Directory+"/"+link.Slug(c.Label)+"/"+name+c.As.Extension(), cuts[c.what()]); err != nil {
				return err
			}
		}
	}
	var b bytes.Buffer
	c := csv.NewWriter(&b)
	if err := c.WriteAll(list); err != nil {
		return err
	}
	return errors.Join(add("captions.csv", b.Bytes()), z.Close())
}
