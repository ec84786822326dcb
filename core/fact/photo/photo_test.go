package photo

import (
	"bytes"
	_ "embed"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand/v2"
	"runtime"
	"strings"
	"testing"

	"github.com/gen2brain/avif"
)

// drawn is a picture with edges, different for each seed.
func drawn(w, h int, seed uint64) *image.RGBA {
	r := rand.New(rand.NewPCG(seed, 1))
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	fill := func(x0, y0, x1, y1 int, c color.RGBA) {
		for y := max(0, y0); y < min(h, y1); y++ {
			for x := max(0, x0); x < min(w, x1); x++ {
				img.SetRGBA(x, y, c)
			}
		}
	}
	for range 40 {
		x, y := r.IntN(w), r.IntN(h)
		fill(x, y, x+w/6+r.IntN(w/4), y+h/6+r.IntN(h/4), color.RGBA{uint8(r.IntN(256)), uint8(r.IntN(256)), uint8(r.IntN(256)), 255})
	}
	return img
}

func encoded(t testing.TB, img image.Image, as Format) []byte {
	t.Helper()
	data, err := Encode(img, as)
	if err != nil {
		t.Fatal(err)
	}
	return data
}

// hugePNG is a picture of a few kilobytes that would take 400 MB to hold.
func hugePNG() []byte {
	var head [13]byte
	binary.BigEndian.PutUint32(head[0:], 10_000)
	binary.BigEndian.PutUint32(head[4:], 10_000)
	head[8], head[9] = 8, 6
	var b bytes.Buffer
	b.WriteString("\x89PNG\r\n\x1a\n")
	chunk := func(kind string, data []byte) {
		binary.Write(&b, binary.BigEndian, uint32(len(data)))
		body := append([]byte(kind), data...)
		b.Write(body)
		binary.Write(&b, binary.BigEndian, crc32.ChecksumIEEE(body))
	}
	chunk("IHDR", head[:])
	chunk("IDAT", make([]byte, 3000))
	chunk("IEND", nil)
	return b.Bytes()
}

func TestWhatIsRefused(t *testing.T) {
	good := encoded(t, drawn(600, 400, 1), JPEG)
	tall := image.NewGray(image.Rect(0, 0, 40, 400))
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	for says, data := range map[string][]byte{
		"100":                  nil,
		"up to 50 million":     hugePNG(),
		"no picture":           []byte("Opening hours: Tuesday to Friday\n"),
		"may hold scripts":     []byte(`<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>`),
		"cut short or damaged": good[:len(good)/2],
		"up to 40 MB":          append(good, make([]byte, 60<<20)...),
		"moving picture":       []byte("\x00\x00\x00\x18ftyphevc\x00\x00\x00\x00"),
		"GIF":                  []byte("GIF89a......"), "TIFF": []byte("II*\x00...."), "PDF": []byte("%PDF-1.7\n"),
		"from its very beginning": good[:30],
		"only 40 by 400":          encoded(t, tall, PNG),
	} {
		if says == "100" {
			says, data = "no picture", []byte{}
		}
		_, img, err := Read(data)
		var no Refusal
		if err == nil || img != nil || !strings.Contains(err.Error(), says) {
			t.Errorf("want %q, got %v, %v", says, img != nil, err)
		} else if r, ok := err.(Refusal); ok {
			no = r
		} else {
			t.Errorf("%v is no refusal", err)
		}
		_ = no
	}
	runtime.ReadMemStats(&after)
	if grew := (after.TotalAlloc - before.TotalAlloc) >> 20; grew > 100 {
		t.Errorf("refusing took %d MB", grew)
	}
}

// withOrientation puts an EXIF block with an orientation and a place before a JPEG's picture.
func withOrientation(data []byte, turn byte) []byte {
	tiff := []byte("MM\x00*\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00" + string(turn) + "\x00\x00\x00\x00\x00\x00SECRET PLACE")
	body := append([]byte("Exif\x00\x00"), tiff...)
	segment := append([]byte{0xff, 0xe1, byte((len(body) + 2) >> 8), byte(len(body) + 2)}, body...)
	return append(append(append([]byte{}, data[:2]...), segment...), data[2:]...)
}

func TestProgressive(t *testing.T) {
	data := encoded(t, drawn(100, 100, 1), JPEG)
	if progressive(data) {
		t.Error("a JPEG of one pass is taken for a progressive one")
	}
	if i := bytes.Index(data, []byte("\xff\xc0")); !progressive(bytes.Replace(data, data[i:i+2], []byte("\xff\xc2"), 1)) || !progressive(data[:30]) {
		t.Error("a progressive JPEG is not told")
	}
	large := append([]byte{}, data...)
	i := bytes.Index(large, []byte("\xff\xc0"))
	large[i+1] = 0xc2
	binary.BigEndian.PutUint16(large[i+5:], 8000)
	binary.BigEndian.PutUint16(large[i+7:], 8000)
	if _, err := Sniff(large); err == nil || !strings.Contains(err.Error(), "progressive") {
		t.Errorf("64 million pixels in passes: %v", err)
	}
}

//go:embed testdata/phone.heic
var phone []byte // of 640 by 480 pixels, made with libheif from a drawn shop front

// Pictures as phones and new programs make them come in, as JPEG.
func TestFormatsThatDirectoriesDoNotTake(t *testing.T) {
	var small bytes.Buffer
	if err := avif.Encode(&small, drawn(160, 120, 1), avif.Options{Speed: 10, Quality: 60}); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		data []byte
		as   Format
		size Size
	}{{phone, HEIC, Size{640, 480}}, {small.Bytes(), AVIF, Size{160, 120}}} {
		in, img, err := Read(c.data)
		if err != nil || in.Format != c.as || in.Size != c.size {
			t.Fatalf("%+v, %v", in, err)
		}
		if data, as, err := Clean(img, in.Format); err != nil || as != JPEG || !bytes.HasPrefix(data, []byte("\xff\xd8")) {
			t.Errorf("%s is kept as %s, %v", c.as, as, err)
		}
		if _, _, err := Read(c.data[:len(c.data)/2]); err == nil {
			t.Errorf("half of %s is read", c.as)
		}
		if _, _, err := Read(c.data[:24]); err == nil {
			t.Errorf("the head of %s is read", c.as)
		}
	}
}

// A picture that is larger than is kept is read smaller.
func TestLargePicturesAreKeptSmaller(t *testing.T) {
	large := image.NewGray(image.Rect(0, 0, 9000, 5000))
	for i := range large.Pix {
		large.Pix[i] = byte(i / 9000 / 20)
	}
	in, img, err := Read(withOrientation(encoded(t, large, JPEG), 6))
	if err != nil || in.Size != (Size{img.Bounds().Dx(), img.Bounds().Dy()}) || in.Width*in.Height > MostKept || in.Width*in.Height < MostKept*99/100 ||
		in.Height <= in.Width {
		t.Fatalf("%+v, %v", in, err)
	}
	if r, _, _, _ := img.At(in.Width-1, in.Height/2).RGBA(); r>>8 > 3 { // its top, at the right now
		t.Errorf("it is not the same picture: %d", r>>8)
	}
}

func TestReadTurnsUprightAndForgetsTheRest(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 200, 100))
	for y := range 100 {
		for x := range 200 {
			if x < 100 && y < 50 {
				img.SetRGBA(x, y, color.RGBA{255, 0, 0, 255}) // red at the top left
			} else {
				img.SetRGBA(x, y, color.RGBA{0, 0, 255, 255})
			}
		}
	}
	data := encoded(t, img, JPEG)
	red := func(img image.Image, x, y int) bool {
		r, _, b, _ := img.At(img.Bounds().Min.X+x, img.Bounds().Min.Y+y).RGBA()
		return r > b
	}
	// Where the red corner comes to stand (EXIF 2.32, table 6).
	for turn, at := range map[byte][2]int{1: {10, 10}, 2: {190, 10}, 3: {190, 90}, 4: {10, 90}, 5: {10, 10}, 6: {90, 10}, 7: {90, 190}, 8: {10, 190}} {
		in, got, err := Read(withOrientation(data, turn))
		if err != nil {
			t.Fatal(err)
		}
		want := Size{200, 100}
		if turn >= 5 {
			want = Size{100, 200}
		}
		if b := got.Bounds(); in.Size != want || b.Dx() != want.Width || b.Dy() != want.Height || !red(got, at[0], at[1]) {
			t.Errorf("orientation %d: %v, %v", turn, in, b)
		}
		clean, format, err := Clean(got, in.Format)
		if err != nil || format != JPEG || bytes.Contains(clean, []byte("SECRET PLACE")) || bytes.Contains(clean, []byte("Exif")) {
			t.Errorf("orientation %d: what the file held besides is still there, %v", turn, err)
		}
	}
	if _, err := png.Decode(bytes.NewReader(encoded(t, img, PNG))); err != nil {
		t.Error(err)
	}
	if _, err := Encode(img, WebP); err == nil {
		t.Error("WebP is written")
	}
}

func TestCropKeepsTheFocus(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for range 3000 {
		of := Size{50 + r.IntN(4000), 50 + r.IntN(4000)}
		c := Crop{16 + r.IntN(2000), 16 + r.IntN(2000), r.IntN(2) == 0}
		f := Focus{X: r.Float64(), Y: r.Float64()}
		f.W, f.H = (1-f.X)*r.Float64(), (1-f.Y)*r.Float64()
		win := c.Window(of, f)
		if !win.In(image.Rect(0, 0, of.Width, of.Height)) || win.Empty() {
			t.Fatalf("%v of %v: %v", c, of, win)
		}
		if win.Dx() != of.Width && win.Dy() != of.Height {
			t.Fatalf("%v of %v could be larger: %v", c, of, win)
		}
		if shape := float64(c.Width) / float64(c.Height); math.Abs(float64(win.Dx())-shape*float64(win.Dy())) > shape+1 {
			t.Fatalf("%v of %v has another shape: %v", c, of, win)
		}
		point := Focus{X: f.X, Y: f.Y}
		if x, y := int(point.X*float64(of.Width)), int(point.Y*float64(of.Height)); !(image.Point{x, y}).In(c.Window(of, point).Inset(-2)) {
			t.Fatalf("the focus (%d, %d) lies outside %v", x, y, win)
		}
		if !c.Circle && c.Cuts(of, point) {
			t.Fatalf("%v of %v cuts a point %v: %v", c, of, point, win)
		}
	}
	square, circle := Crop{100, 100, false}, Crop{100, 100, true}
	for _, c := range []struct {
		focus          Focus
		square, circle bool
	}{
		{Focus{.4, .4, .2, .2}, false, false}, {Focus{.3, .02, .4, .96}, false, true}, {Focus{0, .4, 1, .2}, true, true}, {Focus{.9, .1, 0, 0}, false, true}, {Middle, false, false},
	} {
		if got := square.Cuts(Size{300, 200}, c.focus); got != c.square {
			t.Errorf("the square cuts %v: %v", c.focus, got)
		}
		if got := circle.Cuts(Size{300, 200}, c.focus); got != c.circle {
			t.Errorf("the circle cuts %v: %v", c.focus, got)
		}
	}
	img := drawn(900, 600, 2)
	if b := (Crop{300, 300, false}).Cut(img, Middle).Bounds(); b.Dx() != 300 || b.Dy() != 300 {
		t.Errorf("cut to %v", b)
	}
	if b := (Crop{1600, 800, false}).Cut(img, Middle).Bounds(); b.Dx() != 900 || b.Dy() != 450 {
		t.Errorf("a small picture is blown up to %v", b)
	}
	strip := (Crop{900, 300, false}).Cut(img, Middle).(*image.RGBA)
	scaled := image.NewRGBA(strip.Bounds())
	draw.Draw(scaled, scaled.Bounds(), image.White, image.Point{}, draw.Src)
	careful.Scale(scaled, scaled.Bounds(), img, image.Rect(0, 150, 900, 450), draw.Over, nil)
	if !bytes.Equal(strip.Pix, scaled.Pix) {
		t.Error("what is cut and keeps its size is not what scaling would leave")
	}
	if !(Focus{.5, .5, .5, .5}).Good() || (Focus{.6, .5, .5, .5}).Good() || (Focus{X: -.1}).Good() {
		t.Error("a focus is judged wrongly")
	}
}

func blurred(img image.Image, edge int) image.Image {
	b := img.Bounds()
	small := scaled(img, b, edge, edge*b.Dy()/b.Dx(), quick)
	return scaled(small, small.Bounds(), b.Dx(), b.Dy(), careful)
}

// Whatever the picture: it is told from others, known again when it is encoded
// anew, scaled or softened, and softer means less sharp.
func TestHashAndSharpness(t *testing.T) {
	var hashes []uint64
	for seed := range uint64(30) {
		img := drawn(640, 480, seed)
		hash := Hash(img)
		again, err := jpeg.Decode(bytes.NewReader(encoded(t, Smaller(img, 200), JPEG)))
		if err != nil {
			t.Fatal(err)
		}
		soft := blurred(img, 40)
		for name, other := range map[string]image.Image{"smaller and encoded anew": again, "softened": soft} {
			if d := Distance(hash, Hash(other)); d > SamePicture {
				t.Errorf("picture %d %s lies %d away", seed, name, d)
			}
		}
		if sharp, blur := Sharpness(img), Sharpness(soft); sharp < Blurred || blur > Blurred || blur >= sharp {
			t.Errorf("picture %d: sharpness %.0f, softened %.0f", seed, sharp, blur)
		}
		for other, h := range hashes {
			if d := Distance(hash, h); d <= SamePicture {
				t.Errorf("pictures %d and %d lie only %d apart", seed, other, d)
			}
		}
		hashes = append(hashes, hash)
	}
	if s := Sharpness(image.NewRGBA(image.Rect(0, 0, 1, 1))); s != 0 {
		t.Errorf("a dot has sharpness %g", s)
	}
}

func FuzzRead(f *testing.F) {
	f.Add(encoded(f, drawn(60, 60, 1), JPEG))
	f.Add(encoded(f, drawn(60, 60, 1), PNG))
	f.Add(withOrientation(encoded(f, drawn(60, 60, 1), JPEG), 6))
	f.Add(hugePNG())
	f.Add([]byte("RIFF\x00\x00\x00\x00WEBPVP8 "))
	f.Fuzz(func(t *testing.T, data []byte) {
		in, img, err := Read(data)
		if err != nil {
			if _, ok := err.(Refusal); !ok {
				t.Fatalf("%v is no refusal", err)
			}
			return
		}
		if b := img.Bounds(); b.Dx() != in.Width || b.Dy() != in.Height {
			t.Fatalf("it says %v and is %v", in.Size, b)
		}
	})
}

// A picture is made as light as is asked, with less detail first and smaller only then; what cannot be is told.
func TestAPictureAsLightAsIsAsked(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 400, 300))
	r := rand.New(rand.NewPCG(3, 9))
	for i := range img.Pix {
		img.Pix[i] = byte(r.IntN(256)) // noise weighs most
	}
	whole, err := Encode(img, JPEG)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		as      Format
		most    int
		smaller bool
	}{{JPEG, len(whole), false}, {JPEG, len(whole) - 1, false}, {JPEG, 9000, true}, {PNG, 60000, true}} {
		data, err := EncodeWithin(img, c.as, c.most)
		if err != nil || len(data) > c.most {
			t.Errorf("%s within %d weighs %d, %v", c.as, c.most, len(data), err)
			continue
		}
		in, got, err := Read(data)
		if err != nil || in.Format != c.as || (got.Bounds().Dx() < 400) != c.smaller {
			t.Errorf("%s within %d is %v, %+v, %v", c.as, c.most, got.Bounds(), in, err)
		}
	}
	if _, err := EncodeWithin(img, JPEG, 20); err == nil {
		t.Error("a picture of 20 bytes is made")
	}
}
