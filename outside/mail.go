package outside

import (
	"bytes"
	"context"
	"errors"
	"io"
	"net"
	"net/http"
	netmail "net/mail"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/emersion/go-smtp"
	"github.com/jackc/pgx/v5"
	"github.com/wneessen/go-mail"
)

// mailer is the world's mail: a server that takes whatever is sent to whomever
// and keeps it in the inbox, and a client that directories send through.
type mailer struct {
	server *smtp.Server
	addr   *net.TCPAddr
}

func startMail(addr string, o *Outside) (*mailer, error) {
	l, err := net.Listen("tcp", addr)
	if err != nil {
		return nil, err
	}
	s := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &envelope{o: o}, nil }))
	s.Domain, s.MaxMessageBytes, s.MaxRecipients = "post.example", 24<<20, 50
	s.ReadTimeout, s.WriteTimeout = 10*time.Second, 10*time.Second
	go func() { _ = s.Serve(l) }() // it ends with the listener
	return &mailer{s, l.Addr().(*net.TCPAddr)}, nil
}

func (m *mailer) close() { _ = m.server.Close() }

// MailAddr is where the SMTP server listens.
func (o *Outside) MailAddr() string { return o.mail.addr.String() }

// send hands a message to the mail server. Its id becomes the Message-ID, so
// that one sent twice is kept once.
func (m *mailer) send(ctx context.Context, id string, a arrival) error {
	msg := mail.NewMsg()
	if err := errors.Join(msg.From(a.Sender), msg.To(a.Place)); err != nil {
		return err
	}
	msg.SetMessageIDWithValue(id + "@post.example")
	if a.Answers != "" {
		msg.SetGenHeader(mail.HeaderInReplyTo, "<"+a.Answers+">")
	}
	msg.Subject(a.Title)
	msg.SetBodyString(mail.TypeTextPlain, a.Body)
	c, err := mail.NewClient(m.addr.IP.String(), mail.WithPort(m.addr.Port), mail.WithTLSPolicy(mail.NoTLS), mail.WithHELO("directory.example"))
	if err != nil {
		return err
	}
	return c.DialAndSendWithContext(ctx, msg)
}

// envelope is one message as it comes in (RFC 5321).
type envelope struct {
	o    *Outside
	from string
	to   []string
}

// Whoever has one of these names is not reached: nobody has the one, and letters to the other are taken and come back.
const (
	gone     = "gone"
	returned = "returned"
)

func localPart(address string) string {
	local, _, _ := strings.Cut(strings.ToLower(address), "@")
	return local
}

func (e *envelope) Rcpt(to string, _ *smtp.RcptOptions) error {
	if localPart(to) == gone {
		return &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "nobody of that name"}
	}
	e.to = append(e.to, to)
	return nil
}

func (e *envelope) Mail(from string, _ *smtp.MailOptions) error { e.from = from; return nil }
func (e *envelope) Reset()                                      { e.from, e.to = "", nil }
func (e *envelope) Logout() error                               { return nil }

func (e *envelope) Data(r io.Reader) error {
	whole, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	m, err := netmail.ReadMessage(bytes.NewReader(whole))
	if err != nil {
		return &smtp.SMTPError{Code: 554, Message: "the message cannot be read"}
	}
	body, err := io.ReadAll(m.Body)
	if err != nil {
		return err
	}
	subject, err := (&mimeWords).DecodeHeader(m.Header.Get("Subject"))
	if err != nil {
		subject = m.Header.Get("Subject")
	}
	text, err := decodeBody(m.Header.Get("Content-Transfer-Encoding"), body)
	if err != nil {
		return &smtp.SMTPError{Code: 554, Message: "the body cannot be read"}
	}
	sender := e.from
	if written, err := netmail.ParseAddress(m.Header.Get("From")); err == nil {
		sender = written.Address
	}
	ctx := context.Background()
	now, err := e.o.now(ctx, e.o.pool)
	if err != nil {
		return err
	}
	return e.o.tx(ctx, func(tx pgx.Tx) error {
		for _, to := range e.to {
			id := strings.Trim(m.Header.Get("Message-ID"), "<>") + " " + to
			if localPart(to) == returned {
				back := arrival{
					Kind: "mail", Place: strings.ToLower(e.from), Sender: daemon, Title: "A letter could not be delivered", Body: m.Header.Get("Message-ID") + "\n" + to,
				}
				if err := back.keep(ctx, tx, "back "+id, now); err != nil {
					return err
				}
				continue
			}
			a := arrival{
				Kind: "mail", Place: strings.ToLower(to), Sender: sender, Title: subject, Body: strings.TrimSpace(strings.ReplaceAll(text, "\r\n", "\n")),
			}
			if err := a.keep(ctx, tx, id, now); err != nil {
				return err
			}
			if utf8.Valid(whole) && !bytes.ContainsRune(whole, 0) {
				if _, err := tx.Exec(ctx, "update arrival set raw = $2 where id = $1", id, string(whole)); err != nil {
					return err
				}
			}
			for i := range directories {
				if d := &directories[i]; d.staff != "" && d.staff == a.Place {
					r := request{Request: (&http.Request{}).WithContext(ctx), tx: tx, now: now}
					if err := takeLetter(r, d, id, sender, a.Body); err != nil {
						return err
					}
				}
			}
		}
		return nil
	})
}
