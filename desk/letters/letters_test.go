package letters_test

import (
	"net"
	"strings"
	"testing"

	"github.com/emersion/go-smtp"

	"uvent/desk/boards"
	"uvent/desk/people"
	"uvent/e2e/rig"
	"uvent/reach"
)

// shut is a mail server that knows nobody.
type shut struct{ smtp.Session }

func (shut) Reset()                               {}
func (shut) Logout() error                        { return nil }
func (shut) Mail(string, *smtp.MailOptions) error { return nil }
func (shut) Rcpt(string, *smtp.RcptOptions) error {
	return &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "nobody of that name"}
}

// A letter that the mail server will never take stands in the log, with its word, and is not sent again.
func TestALetterThatIsRefused(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	rig.Must(t, err)
	server := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return shut{}, nil }))
	server.Domain = "post.example"
	go server.Serve(l)
	t.Cleanup(func() { server.Close() })
	r.Reach.WithMail(reach.MailServer{Address: l.Addr().String()})
	_, _, err = r.Desk.People.Invite(ctx, r.Who, "gone@agency.example", people.Bounds{Role: people.Helper})
	rig.Must(t, err)
	kind := "letter_refused"
	refused := func() []boards.LogLine {
		lines, err := r.Desk.Boards.Log(ctx, boards.LogFilter{Kind: &kind, Most: 10})
		rig.Must(t, err)
		return lines
	}
	r.Eventually(t, func() bool { return len(refused()) == 1 })
	if says := refused()[0].Says; !strings.Contains(says, "gone@agency.example") || !strings.Contains(says, "nobody of that name") {
		t.Errorf("it says %q", says)
	}
}
