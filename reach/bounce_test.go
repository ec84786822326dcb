package reach

import (
	"strings"
	"testing"
	"unicode/utf8"
)

// report is a delivery status notification as RFC 3464 has it in its appendix, with other names.
func report(kind, action, diagnosis, of string) string {
	return strings.ReplaceAll(`From: Mail Delivery Subsystem <MAILER-DAEMON@post.example>
To: listings@agency.example
Subject: Returned mail
MIME-Version: 1.0
Content-Type: `+kind+`; report-type=delivery-status; boundary="the edge"

This is a MIME message.
--the edge
Content-Type: text/plain; charset=utf-8

The letter did not arrive.
--the edge
Content-Type: message/delivery-status

Reporting-MTA: dns; post.example

Final-Recipient: rfc822; other@spokeshave.example
Action: relayed
Status: 2.0.0

Final-Recipient: rfc822; dov@spokeshave.example
Action: `+action+`
Status: 5.1.1
`+diagnosis+`
--the edge
Content-Type: message/rfc822

From: Ines Roake <ines@agency.example>
`+of+`
Subject: A code by post

Hello
--the edge--
`, "\n", "\r\n")
}

func TestBounces(t *testing.T) {
	const ours, diagnosis = "Message-ID: <7d1c-44@agency.example>", "Diagnostic-Code: smtp; 550 5.1.1 nobody of that name\n"
	for name, c := range map[string]struct {
		message string
		want    *Bounce
	}{
		"one":              {report("multipart/report", "failed", diagnosis, ours), &Bounce{"7d1c-44", "550 5.1.1 nobody of that name"}},
		"without its why":  {report("multipart/report", "Failed", "", ours), &Bounce{"7d1c-44", "It came back: 5.1.1."}},
		"it is late":       {report("multipart/report", "delayed", diagnosis, ours), nil},
		"of no letter":     {report("multipart/report", "failed", diagnosis, "X: y"), nil},
		"of another shape": {report("multipart/mixed", "failed", diagnosis, ours), nil},
		"no report":        {"From: dov@spokeshave.example\r\nSubject: Hello\r\n\r\nHello\r\n", nil},
		"nothing":          {"", nil},
	} {
		got := bounced(c.message)
		if got == nil != (c.want == nil) || got != nil && *got != *c.want {
			t.Errorf("%s: %+v, want %+v", name, got, c.want)
		}
	}
}

// Whatever comes is no bounce, or one that can be told.
func FuzzBounced(f *testing.F) {
	f.Add(report("multipart/report", "failed", "Diagnostic-Code: smtp; 550", "Message-ID: <a@b>"))
	f.Add("Content-Type: multipart/report; report-type=delivery-status; boundary=\"\"\r\n\r\n--\r\n")
	f.Fuzz(func(t *testing.T, message string) {
		if b := bounced(message); b != nil && (b.Of == "" || !utf8.ValidString(b.Says) || strings.Contains(b.Says, "\n") || len([]rune(b.Says)) > mostSaid+1) {
			t.Errorf("%+v", b)
		}
	})
}
