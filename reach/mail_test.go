package reach_test

import (
	"context"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-sasl"
	"github.com/emersion/go-smtp"

	"uvent/reach"
)

// inbox keeps what a mail server takes.
type inbox struct{ got chan string }

func (b inbox) NewSession(*smtp.Conn) (smtp.Session, error) { return b, nil }
func (inbox) Reset()                                        {}
func (inbox) Logout() error                                 { return nil }
func (b inbox) Mail(from string, _ *smtp.MailOptions) error { b.got <- "from " + from; return nil }
func (b inbox) Rcpt(to string, _ *smtp.RcptOptions) error {
	switch to {
	case "gone@spokeshave.example":
		return &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "no such box"}
	case "full@spokeshave.example":
		return &smtp.SMTPError{Code: 452, EnhancedCode: smtp.EnhancedCode{4, 2, 2}, Message: "the box is full"}
	}
	b.got <- "to " + to
	return nil
}
func (b inbox) Data(r io.Reader) error {
	text, err := io.ReadAll(r)
	b.got <- string(text)
	return err
}

func TestSend(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	box := inbox{make(chan string, 3)}
	server := smtp.NewServer(smtp.BackendFunc(box.NewSession))
	server.Domain = "post.example"
	go server.Serve(l)
	defer server.Close()
	ctx, cancel := context.WithTimeout(t.Context(), 60*time.Second)
	defer cancel()
	letter := reach.Mail{
		ID:      "7d1c",
		From:    "ines@halyardstreet.example",
		As:      "Ines Roake",
		To:      "dov@spokeshave.example",
		Subject: "What we still need, für Sie",
		Body:    "Hello Dov,\n\n1. Your logo.\n",
	}
	if err := reach.New("", "").WithMail(reach.MailServer{Address: l.Addr().String()}).Send(ctx, letter); err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{"from ines@halyardstreet.example", "to dov@spokeshave.example"} {
		if got := <-box.got; got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
	text := <-box.got
	for _, want := range []string{"Message-ID: <7d1c@halyardstreet.example>", `From: "Ines Roake" <ines@halyardstreet.example>`, "=?UTF-8?q?What_we_still_need,_f=C3=BCr_Sie?=", "1. Your logo."} {
		if !strings.Contains(text, want) {
			t.Errorf("no %q in:\n%s", want, text)
		}
	}

	if err := reach.New("", "").Send(ctx, letter); !errors.Is(err, reach.ErrNoMail) {
		t.Errorf("without a server: %v", err)
	}
	var silent *reach.Unanswered
	if err := reach.New("", "").WithMail(reach.MailServer{Address: "127.0.0.1:1"}).Send(ctx, letter); !errors.As(err, &silent) {
		t.Errorf("a server that is not there: %v", err)
	}
	for _, address := range []string{"nowhere", "127.0.0.1:port"} {
		if err := reach.New("", "").WithMail(reach.MailServer{Address: address}).Send(ctx, letter); err == nil || errors.As(err, &silent) {
			t.Errorf("%s: %v", address, err)
		}
	}
	bad := letter
	bad.To = "dov"
	if err := reach.New("", "").WithMail(reach.MailServer{Address: l.Addr().String()}).Send(ctx, bad); err == nil {
		t.Error("a letter to nobody is sent")
	}
}

// locked is an inbox that takes letters from whoever has the password.
type locked struct{ inbox }

func (locked) AuthMechanisms() []string { return []string{sasl.Plain} }
func (b locked) Auth(string) (sasl.Server, error) {
	return sasl.NewPlainServer(func(_, user, password string) error {
		if user != "uvent" || password != "harbour-lantern-thimble" {
			return smtp.ErrAuthFailed
		}
		return nil
	}), nil
}

// A server that wants a password is given it over TLS alone; what it will never take is told apart from what it may take later.
func TestSendingWithAPassword(t *testing.T) {
	web := httptest.NewTLSServer(http.NotFoundHandler()) // it has a certificate
	defer web.Close()
	roots := x509.NewCertPool()
	roots.AddCert(web.Certificate())
	box := inbox{make(chan string, 30)}
	begin := func(secure *tls.Config) string {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		server := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return locked{box}, nil }))
		server.Domain, server.TLSConfig = "post.example", secure
		go server.Serve(l)
		t.Cleanup(func() { server.Close() })
		return l.Addr().String()
	}
	secure, open := begin(web.TLS), begin(nil)
	ctx, cancel := context.WithTimeout(t.Context(), 60*time.Second)
	defer cancel()
	letter := reach.Mail{ID: "7d1c", From: "ines@halyardstreet.example", As: "Ines", To: "dov@spokeshave.example", Subject: "A word", Body: "Hello.\n"}
	var no *reach.Refusal
	var silent *reach.Unanswered
	for _, c := range []struct {
		what   string
		server reach.MailServer
		to     string
		want   any
	}{
		{"with the password", reach.MailServer{Address: secure, User: "uvent", Password: "harbour-lantern-thimble", Roots: roots}, letter.To, nil},
		{"with another", reach.MailServer{Address: secure, User: "uvent", Password: "x", Roots: roots}, letter.To, &silent},
		{"before anybody’s eyes", reach.MailServer{Address: open, User: "uvent", Password: "harbour-lantern-thimble", Roots: roots}, letter.To, &silent},
		{"to a certificate that nobody knows", reach.MailServer{Address: secure, User: "uvent", Password: "harbour-lantern-thimble"}, letter.To, &silent},
		{"to nobody", reach.MailServer{Address: open}, "gone@spokeshave.example", &no},
		{"to a full box", reach.MailServer{Address: open}, "full@spokeshave.example", &silent},
	} {
		m := letter
		m.To = c.to
		err := reach.New("", "").WithMail(c.server).Send(ctx, m)
		if (err == nil) != (c.want == nil) || c.want != nil && !errors.As(err, c.want) {
			t.Errorf("%s: %v", c.what, err)
		}
	}
}
