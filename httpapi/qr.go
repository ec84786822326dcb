package httpapi

import (
	"bytes"
	"encoding/base64"
	"image"
	"image/color"
	"image/draw"
	"image/png"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
)

// A picture's edge and the quiet zone around the code (ISO/IEC 18004: four modules), in pixels.
const (
	qrEdge  = 240
	qrQuiet = 20
)

// qrCode is a QR code of a text, as a PNG in base64.
func qrCode(text string) (string, error) {
	code, err := qr.Encode(text, qr.M, qr.Auto)
	if err != nil {
		return "", err
	}
	if code, err = barcode.Scale(code, qrEdge-2*qrQuiet, qrEdge-2*qrQuiet); err != nil {
		return "", err
	}
	img := image.NewGray(image.Rect(0, 0, qrEdge, qrEdge))
	draw.Draw(img, img.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.Draw(img, code.Bounds().Add(image.Pt(qrQuiet, qrQuiet)), code, code.Bounds().Min, draw.Src)
	var out bytes.Buffer
	if err := png.Encode(&out, img); err != nil {
		return "", err
	}
	return base64.StdEncoding.EncodeToString(out.Bytes()), nil
}
