package reach

import (
	"context"
	"errors"
	"fmt"
	"net"
	"strconv"

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
}

// ErrNoMail means that no mail server is named.
var ErrNoMail = errors.New("no mail server is named; start Uvent with --smtp HOST:PORT")

// Send hands a message to the mail server (RFC 5321). The error is ErrNoMail or an
// *Unanswered.
func (r *Reach) Send(ctx context.Context, m Mail) error {
	if r.smtp == "" {
		return ErrNoMail
	}
	host, port, err := net.SplitHostPort(r.smtp)
	if err != nil {
		return fmt.Errorf("the mail server's address: %w", err)
	}
	number, err := strconv.Atoi(port)
	if err != nil {
		return fmt.Errorf("the mail server's port: %w", err)
	}
	msg := mail.NewMsg()
	if err := errors.Join(msg.FromFormat(m.As, m.From), msg.To(m.To)); err != nil {
		return err
	}
	msg.SetMessageIDWithValue(m.ID + "@uvent.example")
	msg.Subject(m.Subject)
	msg.SetBodyString(mail.TypeTextPlain, m.Body)
	c, err := mail.NewClient(
		host,
		mail.WithPort(number),
		mail.WithTLSPolicy(mail.TLSOpportunistic),
		mail.WithHELO("uvent.example"),
		mail.WithTimeout(linkPatience),
	)
	if err != nil {
		return err
	}
	if err := c.DialAndSendWithContext(ctx, msg); err != nil {
		return &Unanswered{Why: err}
	}
	return nil
}
