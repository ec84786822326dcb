package prose

import (
	"strings"
	"testing"
)

func TestNewest(t *testing.T) {
	for name, c := range map[string][2]string{
		"alone":          {"It is 482 913.\r\n\r\nDov", "It is 482 913.\n\nDov"},
		"over a quote":   {"482913\n\nOn Tue, 24 Nov 2026 at 09:12, Ines Roake <ines@x.example> wrote:\n> The code has 6 digits.\n> 111111", "482913"},
		"among quotes":   {"> Has it come?\nYes: 482913\n> By when?\nToday.", "Yes: 482913\nToday."},
		"in French":      {"Le voici.\nLe mar. 24 nov. 2026 à 09:12, Ines Roake a écrit :\n> Bonjour", "Le voici."},
		"forwarded":      {"See below.\n-----Original Message-----\nFrom: x", "See below."},
		"with signature": {"482913\n-- \nDov Marsh\n(360) 555-0142", "482913"},
		"nothing new":    {"> All of it is old.", ""},
		"empty":          {"", ""},
	} {
		if got := Newest(c[0]); got != c[1] {
			t.Errorf("%s: %q, want %q", name, got, c[1])
		}
	}
}

// Whatever is written, nothing that is quoted is taken for new, and nothing is made up.
func FuzzNewest(f *testing.F) {
	f.Add("a\n> b\nOn 1 2 3 4, x wrote:\nc")
	f.Fuzz(func(t *testing.T, body string) {
		for _, line := range strings.Split(Newest(body), "\n") {
			if strings.HasPrefix(strings.TrimSpace(line), ">") || !strings.Contains(body, line) {
				t.Errorf("%q of %q", line, body)
			}
		}
	})
}
