package rig

import (
	"bytes"
	"net"
	"strconv"
	"testing"

	"github.com/wneessen/go-mail"
)

// Written is a letter to the account's mailbox.
type Written struct {
	From, Text string
	Answers    string // the Message-ID of the letter that it answers; empty: none
	Auto       bool   // a program writes it (RFC 3834)
	Name       string // of the file that comes with it
	File       []byte // nil: none does
}

// Writes has somebody write to the account.
func (r *Rig) Writes(t testing.TB, w Written) {
	t.Helper()
	msg := mail.NewMsg()
	Must(t, msg.From(w.From))
	Must(t, msg.To(Account))
	msg.SetMessageID()
	if w.Auto {
		msg.SetGenHeader("Auto-Submitted", "auto-replied")
	}
	if w.Answers != "" {
		msg.SetGenHeader(mail.HeaderInReplyTo, w.Answers)
	}
	msg.Subject("Re: what you asked for")
	msg.SetBodyString(mail.TypeTextPlain, w.Text)
	if w.File != nil {
		Must(t, msg.AttachReader(w.Name, bytes.NewReader(w.File)))
	}
	host, port, err := net.SplitHostPort(r.Post)
	Must(t, err)
	n, err := strconv.Atoi(port)
	Must(t, err)
	c, err := mail.NewClient(host, mail.WithPort(n), mail.WithTLSPolicy(mail.NoTLS), mail.WithHELO("writer.example"))
	Must(t, err)
	Must(t, c.DialAndSendWithContext(t.Context(), msg))
}
