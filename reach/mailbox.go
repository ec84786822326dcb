package reach

import (
	"bytes"
	"context"
	"fmt"
	"mime"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/wneessen/go-mail"
)

// Letter is an email that came for an account.
type Letter struct {
	Number  int64 // grows from one to the next
	ID      string
	At      time.Time
	From    string // the address alone
	Subject string
	Body    string
	Answers []string // what letters stand for of ours that it answers (In-Reply-To and References of RFC 5322, 3.6.4), as Mail.ID
	Auto    bool     // a program wrote it: somebody is away (RFC 3834)
	Files   []Attached
	Bounce  *Bounce // it says that a letter of ours came back; nil: it does not
}

// Attached is a file that came with a letter.
type Attached struct {
	Name string
	Data []byte
}

// mostAttached are the files of one letter that are looked at.
const mostAttached = 6

// Answers is the address at which what people answer is read by Mailbox; empty where nothing is read.
func (r *Reach) Answers() string {
	if r.box == nil && r.outside == "" || !strings.Contains(r.account, "@") {
		return ""
	}
	return r.account
}

// Mailbox reads what came for our account after a letter's number, oldest first. One that
// cannot be read is told with what is known of it, so that it is not asked for for ever.
func (r *Reach) Mailbox(ctx context.Context, after int64) ([]Letter, error) {
	if r.box != nil {
		return r.box.read(ctx, after)
	}
	if r.outside == "" {
		return nil, nil
	}
	var list []struct {
		Number  int64
		Message string // RFC 5322
	}
	address := fmt.Sprintf("%s/mailboxes/%s?after=%d", r.outside, url.PathEscape(r.account), after)
	if err := r.Ask(ctx, http.MethodGet, address, "", nil, &list); err != nil {
		return nil, err
	}
	out := make([]Letter, len(list))
	for i, m := range list {
		out[i] = numbered(m.Number, m.Message)
	}
	return out, nil
}

// numbered is a message that has its place in a mailbox.
func numbered(number int64, message string) Letter {
	l := letter(message)
	if l.Number = number; l.ID == "" {
		l.ID = fmt.Sprint(number)
	}
	return l
}

func letter(message string) (l Letter) {
	l.Bounce = bounced(message)
	msg, err := mail.EMLToMsgFromString(message)
	if err != nil {
		l.Subject, l.Body = "A letter that cannot be read", err.Error()
		return l
	}
	if from := msg.GetFrom(); len(from) > 0 {
		l.From = strings.ToLower(from[0].Address)
	}
	l.ID = strings.Trim(msg.GetMessageID(), "<>")
	if s := msg.GetGenHeader(mail.HeaderSubject); len(s) > 0 {
		if l.Subject, err = (&mime.WordDecoder{}).DecodeHeader(s[0]); err != nil {
			l.Subject = s[0]
		}
	}
	for _, header := range []mail.Header{mail.HeaderInReplyTo, mail.HeaderReferences} {
		for _, line := range msg.GetGenHeader(header) {
			for _, id := range strings.Fields(line) {
				local, _, _ := strings.Cut(strings.Trim(id, "<>"), "@")
				l.Answers = append(l.Answers, local)
			}
		}
	}
	if a := msg.GetGenHeader("Auto-Submitted"); len(a) > 0 && !strings.EqualFold(strings.TrimSpace(a[0]), "no") {
		l.Auto = true
	}
	if d := msg.GetGenHeader(mail.HeaderDate); len(d) > 0 {
		l.At, _ = time.Parse(time.RFC1123Z, d[0])
	}
	for _, p := range msg.GetParts() {
		if p.GetContentType() == mail.TypeTextPlain {
			if text, err := p.GetContent(); err == nil {
				l.Body = strings.TrimSpace(strings.ReplaceAll(string(text), "\r\n", "\n"))
				break
			}
		}
	}
	for _, f := range append(msg.GetAttachments(), msg.GetEmbeds()...) {
		var data bytes.Buffer
		if len(l.Files) == mostAttached {
			break
		}
		if _, err := f.Writer(&data); err == nil && data.Len() > 0 {
			l.Files = append(l.Files, Attached{Name: f.Name, Data: data.Bytes()})
		}
	}
	return l
}
