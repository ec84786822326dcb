package verification

import (
	"strings"
	"testing"

	"uvent/core/rule/rulebook"
)

// What a directory's staff answer is read where they say it plainly, and a page only where it may be theirs.
func TestWhatTheirStaffAnswer(t *testing.T) {
	book := rulebook.Rulebook{
		Name: "Pierbook", Staff: "desk@pierbook.example", Page: "https://pages.pierbook.example/mine",
		Notices: rulebook.Notices{TakenIn: "we have entered", Refused: "we could not read"},
	}
	for _, c := range []struct {
		body, page string
		says       StaffSays
	}{
		{"Dear colleague,\nWe have entered Spokeshave as you wrote. It will be at /pierbook/place/spokeshave.\nThe desk", "/pierbook/place/spokeshave", TheyTookIt},
		{"we have entered it: <https://www.pierbook.example/p/7>", "https://www.pierbook.example/p/7", TheyTookIt},
		{"We have entered it, see https://pages.pierbook.example/p/7!", "https://pages.pierbook.example/p/7", TheyTookIt},
		{"We have entered it. Look at https://pierbook.example.harm.example/p/7", "", TheyTookIt},
		{"We have entered it. Look at https://notpierbook.example/p/7 and javascript:alert(1) and //pierbook.example/x", "", TheyTookIt},
		{"We have entered it and/or will.", "", TheyTookIt},
		{"We could not read your letter.", "", TheyRefused},
		{"We have entered nothing, as we could not read it.", "", ""},
		{"Could you send us the hours?", "", ""},
		{"Which town?\n\n> we have entered it", "", ""},
		{"Which town?\n\nOn Tue 24 Nov 2026 Ines wrote:\nIs it true that we have entered it", "", ""},
		{"", "", ""},
		{strings.Repeat("we have ", 1000), "", ""},
	} {
		if says, page := AnswerIn(book, c.body); says != c.says || page != c.page {
			t.Errorf("%q: %q at %q, want %q at %q", c.body, says, page, c.says, c.page)
		}
	}
	if says, page := AnswerIn(rulebook.Rulebook{}, "we have entered it at /p"); says != "" || page != "" {
		t.Errorf("of a directory whose words nobody knows: %q, %q", says, page)
	}
}

func FuzzAnswerIn(f *testing.F) {
	book := rulebook.Rulebook{Staff: "desk@pierbook.example", Notices: rulebook.Notices{TakenIn: "have entered", Refused: "could not"}}
	f.Add("We have entered it at https://pierbook.example/p.")
	f.Add("> have entered\n-- \n/x")
	f.Fuzz(func(t *testing.T, body string) {
		says, page := AnswerIn(book, body)
		if page != "" && (says != TheyTookIt || !strings.Contains(body, page) || strings.ContainsAny(page, " \n\"'<>")) {
			t.Errorf("%q: %q at %q", body, says, page)
		}
	})
}
