package outside

import (
	"bytes"
	"context"
	"crypto/sha256"
	"image"
	"image/color"
	"image/jpeg"
	"net/http"

	"github.com/jackc/pgx/v5"
)

// photoWays are how a directory treats photos.
type photoWays struct {
	loses, blurs int             // of a hundred, told by the photo
	tagged       map[string]bool // places that count only what is marked as such
}

// givePhoto takes a photo in, or seems to.
func givePhoto(d *directory, r request) (reply, error) {
	l, refused, err := allowed(d, r, editor)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var in struct {
		Place, ID, Caption, Alternative, Tag string
		Data                                 []byte
	}
	if !r.read(&in) || in.ID == "" {
		return no(http.StatusBadRequest, "bad_request", "The photo cannot be read."), nil
	}
	img, err := jpeg.Decode(bytes.NewReader(in.Data))
	if err != nil {
		return no(http.StatusUnprocessableEntity, "bad_photo", "We take photos as JPEG."), nil
	}
	taken := reply{http.StatusOK, map[string]any{}}
	luck := int(sha256.Sum256([]byte(l.Ref + in.ID + in.Place))[2]) * 100 / 256
	switch {
	case luck < d.photos.loses:
		return taken, nil // it says yes, and keeps nothing
	case luck < d.photos.loses+d.photos.blurs:
		var b bytes.Buffer
		if err := jpeg.Encode(&b, coarse(img, 24), &jpeg.Options{Quality: 60}); err != nil {
			return reply{}, err
		}
		in.Data = b.Bytes()
	}
	_, err = r.tx.Exec(r.Context(), `insert into photo (ref, id, place, caption, tag, data, at) values ($1, $2, $3, $4, $5, $6, $7)
		on conflict (ref, id, place) do update set caption = $4, tag = $5, data = $6, at = $7`, l.Ref, in.ID, in.Place, in.Caption, in.Tag, in.Data, r.now)
	return taken, err
}

// coarse is a picture as if it had been made tiny and large again.
func coarse(img image.Image, wide int) image.Image {
	b := img.Bounds()
	step := max(1, b.Dx()/wide)
	out := image.NewRGBA(image.Rect(0, 0, b.Dx(), b.Dy()))
	at := func(x, y int) (r, g, bl float64) {
		cr, cg, cb, _ := img.At(b.Min.X+min(x, b.Dx()-1), b.Min.Y+min(y, b.Dy()-1)).RGBA()
		return float64(cr >> 8), float64(cg >> 8), float64(cb >> 8)
	}
	for y := range b.Dy() {
		for x := range b.Dx() {
			left, top := x/step*step, y/step*step
			fx, fy := float64(x-left)/float64(step), float64(y-top)/float64(step)
			mix := func(pick func(x, y int) float64) uint8 {
				a := pick(left, top)*(1-fx) + pick(left+step, top)*fx
				c := pick(left, top+step)*(1-fx) + pick(left+step, top+step)*fx
				return uint8(a*(1-fy) + c*fy)
			}
			out.SetRGBA(x, y, color.RGBA{
				mix(func(x, y int) float64 { r, _, _ := at(x, y); return r }),
				mix(func(x, y int) float64 { _, g, _ := at(x, y); return g }),
				mix(func(x, y int) float64 { _, _, c := at(x, y); return c }), 255,
			})
		}
	}
	return out
}

// shownPhoto is one on a public page.
type shownPhoto struct{ URL, Place, Caption string }

// shownPhotos are the photos that a listing's page shows.
func (o *Outside) shownPhotos(ctx context.Context, d *directory, ref string) ([]shownPhoto, error) {
	rows, err := o.pool.Query(ctx, "select id, place, caption, tag from photo where ref = $1 order by at, id", ref)
	if err != nil {
		return nil, err
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[struct{ ID, Place, Caption, Tag string }])
	var out []shownPhoto
	for _, p := range list {
		if d.photos.tagged[p.Place] && p.Tag == "" {
			continue
		}
		out = append(out, shownPhoto{"/" + d.slug + "/photo/" + ref + "/" + p.Place + "/" + p.ID, p.Place, p.Caption})
	}
	return out, err
}

// photoFile serves a photo of a public page.
func (o *Outside) photoFile(w http.ResponseWriter, r *http.Request) {
	var data []byte
	err := o.pool.QueryRow(
		r.Context(),
		"select data from photo where ref = $1 and place = $2 and id = $3",
		r.PathValue("ref"),
		r.PathValue("place"),
		r.PathValue("id"),
	).Scan(&data)
	if err != nil {
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Type", "image/jpeg")
	w.Write(data)
}
