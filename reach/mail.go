package reach

import (
	"cmp"
	"context"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"net"
	"strconv"
	"strings"

	"github.com/google/uuid"
	"github.com/wneessen/go-mail"
)

// Mail is a message to a person.
type Mail struct {
	ID      string // unique: it becomes the Message-ID, so that one sent twice is kept once
	From    string // an address
	As      string // the sender's name
	To      string
	Subject string
	Body    string
	ReplyTo string // to whom answers go; empty: to whom it is from

	Client, Location *uuid.UUID // whose matter it is; nil: nobody's alone
}

// MailServer is the server that takes letters.
type MailServer struct {
	Address  string // host:port; empty: there is none. On port 465 it is talked to over TLS at once (RFC 8314), else by STARTTLS
	User     string // empty: it takes letters from whoever reaches it, and TLS is used where it offers that
	Password string
	From     string         // the address that letters come from, with answers going to whoever writes; empty: whoever writes sends
	Name     string         // with which it is greeted (RFC 5321, section 4.1.1.1); empty: localhost
	Roots    *x509.CertPool // whose certificates are believed; nil: the system's
}

// ErrNoMail means that no mail server is named.
var ErrNoMail = errors.New("no mail server is named; start Uvent with --smtp HOST:PORT")

// Send hands a message to the mail server (RFC 5321). The error is ErrNoMail, a *Refusal where it will not take this message
// however often it is asked, or an *Unanswered.
func (r *Reach) Send(ctx context.Context, m Mail) error {
	if r.mail.Address == "" {
		return ErrNoMail
	}
	err := r.send(ctx, m)
	if r.word != nil {
		r.word(wordOf(err))
	}
	return err
}

// wordOf is what came of a letter.
func wordOf(err error) string {
	switch no := (*Refusal)(nil); {
	case err == nil:
		return "taken"
	case errors.As(err, &no):
		return "refused"
	}
	return "nothing"
}

func (r *Reach) send(ctx context.Context, m Mail) error {
	msg := mail.NewMsg()
	from := cmp.Or(r.mail.From, m.From)
	if err := errors.Join(msg.FromFormat(m.As, from), msg.To(m.To)); err != nil {
		return err
	}
	if back := cmp.Or(r.mail.From, r.account); back != "" { // where letters come back that do not arrive
		if err := msg.EnvelopeFrom(back); err != nil {
			return err
		}
	}
	if answers := cmp.Or(m.ReplyTo, m.From); answers != from {
		if err := msg.ReplyToFormat(m.As, answers); err != nil {
			return err
		}
	}
	_, domain, _ := strings.Cut(from, "@")
	msg.SetMessageIDWithValue(m.ID + "@" + domain) // the same from whichever of two servers, so that one sent twice is kept once
	msg.Subject(m.Subject)
	msg.SetBodyString(mail.TypeTextPlain, m.Body)
	c, err := r.mail.client()
	if err != nil {
		return err
	}
	err = c.DialAndSendWithContext(ctx, msg)
	var said *mail.SendError
	switch {
	case err == nil:
		return nil
	case errors.As(err, &said) && !said.IsTemp() && said.ErrorCode() >= 500:
		return &Refusal{Status: said.ErrorCode(), Detail: Plain(itsWord(said))}
	}
	return &Unanswered{Why: err}
}

// itsWord is what the server said, from its code on, on one line.
func itsWord(e *mail.SendError) string {
	text := e.Error()
	if i := strings.Index(text, strconv.Itoa(e.ErrorCode())); i >= 0 {
		text = text[i:]
	}
	line, _, _ := strings.Cut(text, ", affected")
	code, words, _ := strings.Cut(line, " ")
	if plainly, err := strconv.Unquote(words); err == nil {
		return code + " " + plainly
	}
	return line
}

// smtps is the port on which TLS is talked at once.
const smtps = 465

func (s MailServer) client() (*mail.Client, error) {
	host, port, err := net.SplitHostPort(s.Address)
	if err != nil {
		return nil, fmt.Errorf("the mail server's address: %w", err)
	}
	number, err := strconv.Atoi(port)
	if err != nil {
		return nil, fmt.Errorf("the mail server's port: %w", err)
	}
	options := []mail.Option{
		mail.WithPort(number), mail.WithHELO(cmp.Or(s.Name, "localhost")), mail.WithTimeout(linkPatience), mail.WithTLSPolicy(mail.TLSOpportunistic),
		mail.WithTLSConfig(&tls.Config{ServerName: host, MinVersion: tls.VersionTLS12, RootCAs: s.Roots}),
	}
	if number == smtps {
		options = append(options, mail.WithSSL())
	}
	if s.User != "" { // a password goes out only where nobody can read it
		options = append(options,
			mail.WithTLSPolicy(mail.TLSMandatory), mail.WithSMTPAuth(mail.SMTPAuthAutoDiscover), mail.WithUsername(s.User), mail.WithPassword(s.Password))
	}
	return mail.NewClient(host, options...)
}
