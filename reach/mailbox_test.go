package reach

import (
	"strings"
	"testing"
	"unicode/utf8"
)

func FuzzLetter(f *testing.F) {
	f.Add(
		"From: Fernlook <no-reply@fernlook.example>\r\nSubject: =?utf-8?q?Suspended?=\r\nDate: Tue, 24 Nov 2026 09:12:00 -0800\r\nMessage-ID: <1@fernlook.example>\r\n\r\nIt is suspended.\r\n",
	)
	f.Add("Content-Type: multipart/mixed; boundary=x\r\n\r\n--x\r\n\r\n--x--")
	f.Fuzz(func(t *testing.T, message string) {
		if l := letter(message); strings.ContainsAny(l.From, "\r\n") {
			t.Errorf("it comes from %q", l.From)
		}
		if said := Plain(message); !utf8.ValidString(said) || strings.ContainsAny(said, "\x00\n\u202e") || len([]rune(said)) > mostSaid+1 {
			t.Errorf("%q is told", said)
		}
	})
}
