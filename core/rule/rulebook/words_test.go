package rulebook

import (
	"fmt"
	"strings"
	"testing"
)

func TestSayings(t *testing.T) {
	r, problems := Parse("fernlook.yaml", []byte(fernlook(t)))
	if problems != nil {
		t.Fatal(problems)
	}
	text := fmt.Sprint(r.Sayings(itself))
	for _, want := range []string{
		"Locations that are premises, going to customers or both.", "The street is not shown for those that are going to customers.",
		"Name, required, up to 80 characters. The name on the sign", "Hours with up to 4 sittings a day, also past midnight.", "7 categories of its own",
		"Postcard: in 6 to 12 business days; a code of 6 digits that works for 30 days, 3 tries; another after 14 days, 3 in all.",
		"only while the shop is open for 10 more minutes", "Public in 1 to 3 business days. Uvent looks every 12 hours until it shows.",
		"By the public holidays of US, in the time zone America/Los_Angeles. What is asked from 17:00 on counts from the next business day.",
	} {
		if !strings.Contains(text, want) {
			t.Errorf("%q is not said in %s", want, text)
		}
	}
	if strings.Contains(text, "trys") || strings.Contains(text, "categorys") {
		t.Errorf("a plural is wrong in %s", text)
	}
}
