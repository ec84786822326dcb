package reach_test

import (
	"bytes"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"net"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/emersion/go-imap/v2"
	"github.com/emersion/go-imap/v2/imapserver"
	"github.com/emersion/go-imap/v2/imapserver/imapmemserver"

	"uvent/reach"
)

// What comes in a mailbox is read over IMAP, each message once, and nothing in it is marked.
func TestAMailBox(t *testing.T) {
	web := httptest.NewTLSServer(http.NotFoundHandler()) // it has a certificate
	defer web.Close()
	roots := x509.NewCertPool()
	roots.AddCert(web.Certificate())
	memory := imapmemserver.New()
	user := imapmemserver.NewUser("listings", "harbour-lantern-thimble")
	if err := user.Create("INBOX", nil); err != nil {
		t.Fatal(err)
	}
	memory.AddUser(user)
	server := imapserver.New(&imapserver.Options{
		NewSession: func(*imapserver.Conn) (imapserver.Session, *imapserver.GreetingData, error) {
			return memory.NewSession(), nil, nil
		},
		Caps:      imap.CapSet{imap.CapIMAP4rev1: {}, imap.CapIMAP4rev2: {}},
		TLSConfig: &tls.Config{Certificates: web.TLS.Certificates},
	})
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go server.Serve(l)
	defer server.Close()
	comes := func(id, text string) {
		t.Helper()
		message := []byte(
			"From: Fernlook <letters@fernlook.example>\r\nMessage-ID: <" + id + "@fernlook.example>\r\nSubject: " + id + "\r\nContent-Type: text/plain\r\n\r\n" + text + "\r\n",
		)
		if _, err := user.Append("INBOX", literal{bytes.NewReader(message), int64(len(message))}, &imap.AppendOptions{}); err != nil {
			t.Fatal(err)
		}
	}
	for i := range 120 {
		comes(fmt.Sprintf("letter-%d", i), fmt.Sprintf("It is number %d.", i))
	}
	box := reach.MailBox{Address: l.Addr().String(), User: "listings", Password: "harbour-lantern-thimble", Roots: roots}
	fresh := func() *reach.Reach { return reach.New("", "listings@agency.example").WithMailBox(box) }
	r := fresh()
	var after int64
	var read []reach.Letter
	for range 4 { // a part at a time, and then none before a while has passed
		letters, err := r.Mailbox(t.Context(), after)
		if err != nil {
			t.Fatal(err)
		}
		for _, l := range letters {
			if l.Number <= after {
				t.Errorf("%d comes after %d", l.Number, after)
			}
			after = l.Number
		}
		read = append(read, letters...)
	}
	if len(read) != 120 || read[0].ID != "letter-0@fernlook.example" || read[119].Body != "It is number 119." || read[0].From != "letters@fernlook.example" {
		t.Fatalf("%d are read, from %+v to %+v", len(read), read[0], read[len(read)-1])
	}
	comes("one-more", "Hello.")
	for want := range 2 { // another server reads on where the last has left off
		letters, err := fresh().Mailbox(t.Context(), after)
		if err != nil || len(letters) != 1-want {
			t.Fatalf("%+v, %v", letters, err)
		}
		if want == 0 {
			after = letters[0].Number
		}
	}
	var silent *reach.Unanswered
	wrong := box
	wrong.Password = "guessed"
	for name, b := range map[string]reach.MailBox{"a wrong password": wrong, "a certificate that nobody knows": {Address: box.Address, User: box.User, Password: box.Password}} {
		if _, err := reach.New("", "").WithMailBox(b).Mailbox(t.Context(), 0); !errors.As(err, &silent) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// literal is a message of a known size.
type literal struct {
	*bytes.Reader
	size int64
}

func (l literal) Size() int64 { return l.size }
