package reach

import (
	"bufio"
	"io"
	"mime"
	"mime/multipart"
	"net/mail"
	"net/textproto"
	"strings"
)

// Bounce is that a letter of ours came back.
type Bounce struct {
	Of   string // the letter's id
	Says string // why, in the words of the mail server that would not have it
}

// mostReport bounds what is read of a report, in bytes.
const mostReport = 1 << 20

// bounced reads a message as a delivery status notification (RFC 3464 in RFC 6522) that says that a letter failed for good;
// nil where it is none.
func bounced(message string) *Bounce {
	m, err := mail.ReadMessage(strings.NewReader(message))
	if err != nil {
		return nil
	}
	kind, with, err := mime.ParseMediaType(m.Header.Get("Content-Type"))
	if err != nil || kind != "multipart/report" || !strings.EqualFold(with["report-type"], "delivery-status") {
		return nil
	}
	var b Bounce
	failed := false
	parts := multipart.NewReader(io.LimitReader(m.Body, mostReport), with["boundary"])
	for {
		part, err := parts.NextPart()
		if err != nil {
			break
		}
		kind, _, _ := mime.ParseMediaType(part.Header.Get("Content-Type"))
		switch kind {
		case "message/delivery-status":
			failed, b.Says = status(part)
		case "message/rfc822", "text/rfc822-headers":
			if of, err := textproto.NewReader(bufio.NewReader(part)).ReadMIMEHeader(); err == nil || len(of) > 0 {
				b.Of, _, _ = strings.Cut(strings.Trim(of.Get("Message-Id"), "<> "), "@")
			}
		}
	}
	if !failed || b.Of == "" {
		return nil
	}
	return &b
}

// status reads the groups of fields of a report: whether one says that it failed, and why.
func status(r io.Reader) (failed bool, says string) {
	groups := textproto.NewReader(bufio.NewReader(r))
	for {
		group, err := groups.ReadMIMEHeader()
		if strings.EqualFold(group.Get("Action"), "failed") {
			failed = true
			_, diagnosis, _ := strings.Cut(group.Get("Diagnostic-Code"), ";") // smtp; 550 5.1.1 …
			if says = Plain(strings.TrimSpace(diagnosis)); says == "" {
				says = Plain("It came back: " + group.Get("Status") + ".")
			}
		}
		if err != nil || len(group) == 0 {
			return failed, says
		}
	}
}
