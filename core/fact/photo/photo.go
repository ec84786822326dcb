// Package photo reads pictures that people bring, checks them, cuts them to a
// directory's shapes and tells them apart: rule R10. Pictures are read within a
// budget of pixels, so that a small file cannot take all memory.
package photo

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"math"
	"slices"

	"github.com/bep/imagemeta"
	"github.com/gen2brain/avif"
	"github.com/gen2brain/heic"
	"golang.org/x/image/webp"
)

// Format is how a picture is encoded.
type Format string

const (
	JPEG Format = "jpeg"
	PNG  Format = "png"
	WebP Format = "webp"
	HEIC Format = "heic" // High Efficiency Image File Format (ISO/IEC 23008-12), as phones make it
	AVIF Format = "avif" // AV1 Image File Format
)

// Limits of a picture that is brought in.
const (
	MostBytes       = 40 << 20
	MostPixels      = 120_000_000
	MostProgressive = 50_000_000 // pixels of a JPEG that is built up in passes, or of another format, which take more memory to read
	MostKept        = 36_000_000 // pixels: a larger picture is kept smaller
	LeastEdge       = 50         // pixels
)

// Refusal is why a file is not taken, and what to do.
type Refusal string

func (r Refusal) Error() string { return string(r) }

// Size is a width and a height in pixels.
type Size struct {
	Width  int `json:"width" yaml:"width"`
	Height int `json:"height" yaml:"height"`
}

// Info is what a file says of itself before it is decoded.
type Info struct {
	Format Format `json:"format"`
	Size          // as it is to be looked at: turned as the camera was held
	turn   int    // EXIF's orientation, 1 to 8
}

// signatures of files that people take for photos, and what to do with them.
var signatures = []struct {
	at     int
	begins string
	says   string
}{
	{4, "ftyphevc", "This is a moving picture, as phones make them. Take the photo out of it, or save it as JPEG."},
	{0, "GIF8", "This is a GIF, which directories do not take. Save it as JPEG or PNG."},
	{0, "BM", "This is a BMP picture. Save it as JPEG or PNG."},
	{0, "II*\x00", tiff},
	{0, "MM\x00*", tiff},
	{0, "%PDF-", "This is a PDF. Bring papers in under Papers; a photo must be JPEG, PNG or WebP."},
	{0, "8BPS", "This is a layered picture. Save it as JPEG or PNG."},
	{0, "PK\x03\x04", "This is an archive. Take the photos out of it first."},
}

const (
	tiff = "This is a TIFF picture or a camera’s raw file. Save it as JPEG."
)

// Sniff tells what a file is by its content, whatever its name, without decoding
// it. The error is a Refusal.
func Sniff(data []byte) (Info, error) {
	if len(data) > MostBytes {
		return Info{}, Refusal(fmt.Sprintf("The file has %d MB; up to %d MB are taken. Save it smaller.", len(data)>>20, MostBytes>>20))
	}
	for _, s := range signatures {
		if len(data) >= s.at && bytes.HasPrefix(data[s.at:], []byte(s.begins)) {
			return Info{}, Refusal(s.says)
		}
	}
	head := data[:min(len(data), 1024)]
	if bytes.Contains(bytes.ToLower(head), []byte("<svg")) {
		return Info{}, Refusal("This is an SVG drawing, which may hold scripts. Save it as PNG.")
	}
	in, config, err := configOf(data)
	if err != nil {
		return in, err
	}
	switch {
	case config.Width < 1 || config.Height < 1 || config.Width > MostPixels || config.Height > MostPixels || config.Width*config.Height > MostPixels:
		return in, Refusal(
			fmt.Sprintf("The picture has %d by %d pixels; up to %d million are taken. Save it smaller.", config.Width, config.Height, MostPixels/1_000_000),
		)
	case in.Format == JPEG && config.Width*config.Height > MostProgressive && progressive(data):
		return in, Refusal(
			fmt.Sprintf(
				"The picture has %d by %d pixels and is a progressive JPEG, of which up to %d million are taken. Save it smaller, or not as progressive.",
				config.Width,
				config.Height,
				MostProgressive/1_000_000,
			),
		)
	case in.Format != JPEG && config.Width*config.Height > MostProgressive:
		return in, Refusal(
			fmt.Sprintf(
				"The picture has %d by %d pixels; of its format up to %d million are taken. Save it smaller, or as JPEG.",
				config.Width,
				config.Height,
				MostProgressive/1_000_000,
			),
		)
	case config.Width < LeastEdge || config.Height < LeastEdge:
		return in, Refusal(fmt.Sprintf("The picture has only %d by %d pixels; no directory takes one so small.", config.Width, config.Height))
	}
	in.Size = Size{config.Width, config.Height}
	if in.turn >= 5 { // on its side
		in.Size = Size{config.Height, config.Width}
	}
	return in, nil
}

func configOf(data []byte) (in Info, config image.Config, err error) {
	in.turn = 1
	switch {
	case bytes.HasPrefix(data, []byte("\xff\xd8\xff")):
		in.Format, in.turn = JPEG, orientation(data, imagemeta.JPEG)
		config, err = jpeg.DecodeConfig(bytes.NewReader(data))
	case bytes.HasPrefix(data, []byte("\x89PNG\r\n\x1a\n")):
		in.Format = PNG
		config, err = png.DecodeConfig(bytes.NewReader(data))
	case len(data) > 12 && string(data[:4]) == "RIFF" && string(data[8:12]) == "WEBP":
		in.Format, in.turn = WebP, orientation(data, imagemeta.WebP)
		config, err = webp.DecodeConfig(bytes.NewReader(data))
	case brand(data, "heic", "heix", "heim", "heis", "mif1"):
		in.Format = HEIC // which is turned as it is read
		config, err = heic.DecodeConfig(bytes.NewReader(data))
	case brand(data, "avif"):
		in.Format = AVIF
		config, err = avif.DecodeConfig(bytes.NewReader(data))
	default:
		return in, config, Refusal("This is no picture that can be read, whatever its name says. Photos are JPEG, PNG, WebP, HEIC or AVIF.")
	}
	if err != nil {
		return in, config, Refusal("The picture is damaged from its very beginning. Save or copy it again.")
	}
	return in, config, nil
}

// brand reports whether a file of boxes (ISO/IEC 14496-12, section 4.3) is first of all one of some kinds.
func brand(data []byte, kinds ...string) bool {
	return len(data) > 12 && string(data[4:8]) == "ftyp" && slices.Contains(kinds, string(data[8:12]))
}

// Extension is how names of files in the format end, with the point.
func (f Format) Extension() string {
	if f == JPEG {
		return ".jpg"
	}
	return "." + string(f)
}

// orientation is how the camera was held: EXIF's tag, 1 to 8; 1 is upright.
func orientation(data []byte, format imagemeta.ImageFormat) int {
	turn := 1
	_, err := imagemeta.Decode(imagemeta.Options{
		R: bytes.NewReader(data), ImageFormat: format, Sources: imagemeta.EXIF,
		ShouldHandleTag: func(t imagemeta.TagInfo) bool { return t.Tag == "Orientation" },
		HandleTag: func(t imagemeta.TagInfo) error {
			if n, ok := t.Value.(uint16); ok && n >= 1 && n <= 8 {
				turn = int(n)
			}
			return imagemeta.ErrStopWalking
		},
	})
	if err != nil {
		return 1
	}
	return turn
}

// progressive reports whether a JPEG is built up in passes: its frame begins with
// the marker SOF2 (ITU-T T.81, section B.1.1.3).
func progressive(data []byte) bool {
	for at := 2; at+4 <= len(data) && data[at] == 0xff; {
		marker := data[at+1]
		if marker >= 0xc0 && marker <= 0xcf && marker != 0xc4 && marker != 0xc8 && marker != 0xcc {
			return marker == 0xc2
		}
		at += 2 + int(data[at+2])<<8 + int(data[at+3])
	}
	return true // it is not known, so the smaller budget holds
}

// Read sniffs and decodes a picture, upright, and no larger than MostKept. The error is a Refusal.
func Read(data []byte) (Info, image.Image, error) {
	in, err := Sniff(data)
	if err != nil {
		return in, nil, err
	}
	var img image.Image
	switch in.Format {
	case JPEG:
		img, err = jpeg.Decode(bytes.NewReader(data))
	case PNG:
		img, err = png.Decode(bytes.NewReader(data))
	case WebP:
		img, err = webp.Decode(bytes.NewReader(data))
	case HEIC:
		img, err = heic.Decode(bytes.NewReader(data))
	case AVIF:
		img, err = avif.Decode(bytes.NewReader(data))
	}
	if err != nil || img == nil {
		return in, nil, Refusal("The picture is cut short or damaged: it cannot be read to its end. Save or copy it again.")
	}
	b := img.Bounds()
	if pixels := b.Dx() * b.Dy(); pixels > MostKept {
		img = Smaller(img, int(float64(max(b.Dx(), b.Dy()))*math.Sqrt(MostKept/float64(pixels))))
	}
	img = upright(img, in.turn)
	in.Size = Size{img.Bounds().Dx(), img.Bounds().Dy()}
	return in, img, nil
}

// Clean encodes a picture anew, so that nothing of what the file held besides it
// remains: no place, no camera, no date. PNG stays PNG; all else becomes JPEG.
func Clean(img image.Image, from Format) ([]byte, Format, error) {
	as := JPEG
	if from == PNG {
		as = PNG
	}
	data, err := Encode(img, as)
	return data, as, err
}

// quality of a JPEG that is encoded anew: hardly to be told from the original.
const quality = 92

// leastQuality is how far a JPEG may lose of itself to become lighter; then it becomes smaller.
const leastQuality = 56

// EncodeWithin writes a picture so that it weighs at most so many bytes: a JPEG with less detail, and where that is
// not enough, smaller.
func EncodeWithin(img image.Image, as Format, most int) ([]byte, error) {
	for {
		for q := quality; q >= leastQuality; q -= 12 {
			data, err := encode(img, as, q)
			if err != nil || len(data) <= most {
				return data, err
			}
		}
		size := img.Bounds()
		if size.Dx() < 8 || size.Dy() < 8 {
			return nil, fmt.Errorf("no picture weighs as little as %d bytes", most)
		}
		img = Smaller(img, max(size.Dx(), size.Dy())*4/5)
	}
}

// Encode writes a picture as JPEG or PNG.
func Encode(img image.Image, as Format) ([]byte, error) { return encode(img, as, quality) }

func encode(img image.Image, as Format, quality int) ([]byte, error) {
	var b bytes.Buffer
	var err error
	switch as {
	case JPEG:
		err = jpeg.Encode(&b, img, &jpeg.Options{Quality: quality})
	case PNG:
		err = (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, img)
	default:
		err = errors.New("pictures are written as JPEG or PNG")
	}
	return b.Bytes(), err
}
