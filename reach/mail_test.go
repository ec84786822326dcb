package reach_test

import (
	"context"
	"errors"
	"io"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-smtp"

	"uvent/reach"
)

// inbox keeps what a mail server takes.
type inbox struct{ got chan string }

func (b inbox) NewSession(*smtp.Conn) (smtp.Session, error) { return b, nil }
func (inbox) Reset()                                        {}
func (inbox) Logout() error                                 { return nil }
func (b inbox) Mail(from string, _ *smtp.MailOptions) error { b.got <- "from " + from; return nil }
func (b inbox) Rcpt(to string, _ *smtp.RcptOptions) error   { b.got <- "to " + to; return nil }
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
	if err := reach.New("", "").WithMail(l.Addr().String()).Send(ctx, letter); err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{"from ines@halyardstreet.example", "to dov@spokeshave.example"} {
		if got := <-box.got; got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
	text := <-box.got
	for _, want := range []string{"Message-ID: <7d1c@uvent.example>", `From: "Ines Roake" <ines@halyardstreet.example>`, "=?UTF-8?q?What_we_still_need,_f=C3=BCr_Sie?=", "1. Your logo."} {
		if !strings.Contains(text, want) {
			t.Errorf("no %q in:\n%s", want, text)
		}
	}

	if err := reach.New("", "").Send(ctx, letter); !errors.Is(err, reach.ErrNoMail) {
		t.Errorf("without a server: %v", err)
	}
	var silent *reach.Unanswered
	if err := reach.New("", "").WithMail("127.0.0.1:1").Send(ctx, letter); !errors.As(err, &silent) {
		t.Errorf("a server that is not there: %v", err)
	}
	for _, address := range []string{"nowhere", "127.0.0.1:port"} {
		if err := reach.New("", "").WithMail(address).Send(ctx, letter); err == nil || errors.As(err, &silent) {
			t.Errorf("%s: %v", address, err)
		}
	}
	bad := letter
	bad.To = "dov"
	if err := reach.New("", "").WithMail(l.Addr().String()).Send(ctx, bad); err == nil {
		t.Error("a letter to nobody is sent")
	}
}
