package files_test

import (
	"archive/zip"
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/jpeg"
	"image/png"
	"io"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"uvent/core/fact/photo"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

func TestPhotosAreTakenInAndCut(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, at := r.Who.Actor(), r.Add(t, rig.Shop("Minnow Bay"))
	here := ledger.Scope{Location: &at.Location}
	front, err := r.Desk.Files.AddPhoto(
		ctx,
		who,
		here,
		files.PhotoFacts{Group: "exterior", Focus: photo.Middle},
		`C:\fotos\shop "front".jpg`,
		rig.Boxes(t, 1200, 800, 1),
	)
	rig.Must(t, err)
	if front.FileName != "shop front.jpg" || front.Width != 1200 || front.Focus != photo.Middle || len(front.Fits[0].Fits) != 1 || front.Like != uuid.Nil {
		t.Errorf("%+v", front)
	}
	_, err = r.Desk.Files.AddPhoto(ctx, who, here, files.PhotoFacts{Group: "interior", Focus: photo.Middle}, "again.jpg", rig.Boxes(t, 1200, 800, 1))
	rig.Refused(t, err, problem.Conflict, "This photo is here already: shop front.jpg, under exterior")
	_, img, err := photo.Read(rig.Boxes(t, 1200, 800, 1))
	rig.Must(t, err)
	smaller, err := photo.Encode(photo.Smaller(img, 600), photo.JPEG)
	rig.Must(t, err)
	like, err := r.Desk.Files.AddPhoto(ctx, who, here, files.PhotoFacts{Group: "interior", Focus: photo.Middle}, "smaller.jpg", smaller)
	rig.Must(t, err)
	if like.Like != front.ID || like.Width != 600 {
		t.Errorf("the same picture in another size is like %v", like.Like)
	}
	logo, err := r.Desk.Files.AddPhoto(
		ctx,
		who,
		ledger.OfClient(front.ClientID),
		files.PhotoFacts{Group: "logo", Focus: photo.Middle},
		"logo.jpg",
		rig.Boxes(t, 700, 700, 3),
	)
	rig.Must(t, err)
	rig.Must(t, r.Desk.Files.OrderPhotos(ctx, who, here, []uuid.UUID{logo.ID, like.ID, front.ID}))
	list, err := r.Desk.Files.Photos(ctx, here)
	if err != nil || len(list) != 3 || list[0].ID != logo.ID || list[0].LocationID != nil || list[2].ID != front.ID {
		t.Errorf("%+v, %v", list, err)
	}
	if list, err = r.Desk.Files.Photos(ctx, ledger.OfClient(front.ClientID)); err != nil || len(list) != 1 {
		t.Errorf("the client's own are %+v, %v", list, err)
	}

	// The focus decides what each shape shows.
	cutFor := func(id uuid.UUID) string {
		row, err := r.Store.PhotoByID(ctx, id)
		rig.Must(t, err)
		return row.CutFor
	}
	cuts := func() []byte {
		data, err := r.Desk.Files.CutOf(ctx, front.ID, "fernlook", "Cover")
		rig.Must(t, err)
		return data
	}
	if cutFor(front.ID) != "" {
		t.Error("it is cut before anybody wants it")
	}
	saved, err := r.Desk.Files.SavePhoto(
		ctx,
		who,
		front.ID,
		files.PhotoFacts{Group: "cover", Caption: " The front ", Alternative: "A green door", Focus: photo.Focus{X: .8, Y: .2, W: .1, H: .1}},
	)
	rig.Must(t, err)
	if w := saved.Fits[0].Fits[0].Window; saved.Caption != "The front" || w.Min.Y != 0 || w.Dx() != 1200 {
		t.Errorf("%+v", saved)
	}
	first, before := cuts(), cutFor(front.ID)
	if again := cuts(); len(first) == 0 || !bytes.Equal(first, again) {
		t.Error("what is cut is not kept")
	}
	_, err = r.Desk.Files.SavePhoto(
		ctx,
		who,
		front.ID,
		files.PhotoFacts{Group: "cover", Caption: "The front", Alternative: "A green door", Focus: photo.Focus{X: .8, Y: .9}},
	)
	rig.Must(t, err)
	if moved := cuts(); bytes.Equal(first, moved) || cutFor(front.ID) == before {
		t.Error("another focus leaves the cuts as they were")
	}

	var archive bytes.Buffer
	rig.Must(t, r.Desk.Files.PhotosZip(ctx, at.Location, &archive))
	z, err := zip.NewReader(bytes.NewReader(archive.Bytes()), int64(archive.Len()))
	rig.Must(t, err)
	var names []string
	for _, f := range z.File {
		names = append(names, f.Name)
		part, err := f.Open()
		rig.Must(t, err)
		data, err := io.ReadAll(part)
		rig.Must(t, err)
		if c, err := jpeg.DecodeConfig(bytes.NewReader(data)); strings.HasPrefix(f.Name, "fernlook/cover/") && (err != nil || c.Width != 1200 || c.Height != 675) {
			t.Errorf("%s is %+v, %v", f.Name, c, err)
		}
		if f.Name == "captions.csv" && !strings.Contains(string(data), "spokeshave-cycle-works-minnow-bay-cover-1.jpg,cover,The front,A green door") {
			t.Errorf("captions:\n%s", data)
		}
	}
	slices.Sort(names)
	want := []string{
		"captions.csv",
		"fernlook/cover/spokeshave-cycle-works-minnow-bay-cover-1.jpg",
		"fernlook/gallery/spokeshave-cycle-works-minnow-bay-interior-1.jpg",
		"fernlook/logo/spokeshave-cycle-works-minnow-bay-logo-1.jpg",
	}
	if len(names) != 7 || !slices.Equal(names[:4], want) {
		t.Errorf("the archive holds %q", names)
	}

	rig.Must(t, r.Desk.Files.RemovePhoto(ctx, who, like.ID, false))
	rig.Must(t, r.Desk.Files.RemovePhoto(ctx, who, like.ID, false))
	if list, _ = r.Desk.Files.Photos(ctx, here); len(list) != 2 {
		t.Errorf("taken out, there are %d", len(list))
	}
	_, err = r.Desk.Files.SavePhoto(ctx, who, like.ID, files.PhotoFacts{Group: "cover"})
	rig.Refused(t, err, problem.NotFound, "no such photo")
	rig.Must(t, r.Desk.Files.RemovePhoto(ctx, who, like.ID, true))
	if list, _ = r.Desk.Files.Photos(ctx, here); len(list) != 3 {
		t.Errorf("brought back, there are %d", len(list))
	}
	_, err = r.Desk.Files.SavePhoto(ctx, who, front.ID, files.PhotoFacts{Group: "passport"})
	rig.Refused(t, err, problem.Invalid, "no group of photos")
	_, err = r.Desk.Files.SavePhoto(ctx, who, front.ID, files.PhotoFacts{Group: "cover", Focus: photo.Focus{X: 2}, Caption: strings.Repeat("x", 501)})
	rig.Refused(t, err, problem.Invalid, "focus")
	_, err = r.Desk.Files.PhotoFile(ctx, front.ID, "secret")
	rig.Refused(t, err, problem.NotFound, "no such copy")
	rig.Refused(t, r.Desk.Files.OrderPhotos(ctx, who, here, []uuid.UUID{uuid.New()}), problem.NotFound, "not there")
	rig.Refused(t, r.Desk.Files.PhotosZip(ctx, r.Add(t, rig.Shop("Quillcote")).Location, io.Discard), problem.Conflict, "no photos yet")
}

func TestAPhotoForgetsWhereItWasTaken(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	var b bytes.Buffer
	rig.Must(t, png.Encode(&b, image.NewNRGBA(image.Rect(0, 0, 300, 300))))
	// A tEXt chunk after the header (PNG, section 11.3.3.3).
	body := []byte("tEXtComment\x00HERE AND NOW")
	chunk := binary.BigEndian.AppendUint32(nil, uint32(len(body)-4))
	chunk = binary.BigEndian.AppendUint32(append(chunk, body...), crc32.ChecksumIEEE(body))
	p, err := r.Desk.Files.AddPhoto(
		ctx,
		r.Who.Actor(),
		ledger.Scope{Location: &at.Location},
		files.PhotoFacts{Group: "logo", Focus: photo.Middle},
		"logo.png",
		slices.Insert(b.Bytes(), 33, chunk...),
	)
	rig.Must(t, err)
	kept, err := r.Desk.Files.PhotoFile(ctx, p.ID, "original")
	if err != nil || bytes.Contains(kept, []byte("HERE")) || p.Format != "png" {
		t.Errorf("it is still there, %v", err)
	}
}

// BenchmarkMissing looks at what 5,000 locations are still in want of.
func BenchmarkMissing(b *testing.B) {
	r, ctx := rig.Start(b), b.Context()
	r.BringIn(b, rig.ManyRows(5000))
	for b.Loop() {
		counts, err := r.Desk.Records.MissingCounts(ctx, ledger.Scope{})
		if rig.Must(b, err); len(counts) != 5000 {
			b.Fatalf("%d locations were looked at", len(counts))
		}
	}
}

// While one puts photos in order, another says what they show and their cuts are made: nobody
// waits for what waits for them.
func TestPhotosAreOrderedWhileTheyAreChanged(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, at := r.Who.Actor(), r.Add(t, rig.Shop("Minnow Bay"))
	here := ledger.Scope{Location: &at.Location}
	var ids []uuid.UUID
	for i := range uint64(3) {
		p, err := r.Desk.Files.AddPhoto(ctx, who, here, files.PhotoFacts{Group: "interior", Focus: photo.Middle}, "shop.jpg", rig.Boxes(t, 400, 300, i))
		rig.Must(t, err)
		ids = append(ids, p.ID)
	}
	g, ctx := errgroup.WithContext(ctx)
	for i := range 3 {
		g.Go(func() error {
			for n := range 20 {
				order := []uuid.UUID{ids[(i+n)%3], ids[(i+n+1)%3], ids[(i+n+2)%3]}
				if err := r.Desk.Files.OrderPhotos(ctx, who, here, order); err != nil {
					return err
				}
			}
			return nil
		})
		g.Go(func() error {
			for n := range 20 {
				if _, err := r.Desk.Files.SavePhoto(
					ctx,
					who,
					ids[i],
					files.PhotoFacts{Group: "interior", Focus: photo.Focus{X: float64(n) / 30, Y: .2, W: .1, H: .1}},
				); err != nil {
					return err
				}
			}
			return nil
		})
	}
	rig.Must(t, g.Wait())
}

// A photo as a phone makes it is taken in as JPEG; a file that would break what reads it breaks nothing.
func TestPhotosOfPhonesAndFilesThatBreak(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, at := r.Who.Actor(), r.Add(t, rig.Shop("Minnow Bay"))
	add := func(name string, data []byte) (files.Photo, error) {
		return r.Desk.Files.AddPhoto(ctx, who, ledger.Scope{Location: &at.Location}, files.PhotoFacts{Group: "exterior", Focus: photo.Middle}, name, data)
	}
	phone, err := os.ReadFile("../../core/fact/photo/testdata/phone.heic")
	rig.Must(t, err)
	p, err := add("IMG_0001.HEIC", phone)
	if err != nil || p.Format != "jpeg" || p.Width != 640 || p.Height != 480 || len(p.Fits[0].Fits) == 0 {
		t.Fatalf("%+v, %v", p, err)
	}
	bill, err := r.Desk.Files.AddPaper(ctx, who, ledger.Scope{Location: &at.Location}, "bill.HEIC", phone)
	if err != nil || bill.Format != "jpeg" {
		t.Errorf("as a paper: %+v, %v", bill, err)
	}
	_, err = add("half.heic", phone[:len(phone)*2/3])
	rig.Refused(t, err, problem.Invalid, "cut short or damaged")
	_, err = add("after.jpg", rig.Boxes(t, 1200, 800, 5))
	rig.Must(t, err)
}
