package outside

import (
	"bytes"
	"encoding/base64"
	"io"
	"mime"
	"mime/quotedprintable"
	"strings"
)

var mimeWords mime.WordDecoder

// decodeBody undoes a Content-Transfer-Encoding (RFC 2045, section 6).
func decodeBody(encoding string, body []byte) (string, error) {
	var r io.Reader = bytes.NewReader(body)
	switch strings.ToLower(encoding) {
	case "quoted-printable":
		r = quotedprintable.NewReader(r)
	case "base64":
		r = base64.NewDecoder(base64.StdEncoding, r)
	}
	out, err := io.ReadAll(r)
	return string(out), err
}
