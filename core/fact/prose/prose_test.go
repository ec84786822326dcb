package prose

import (
	"strings"
	"testing"
	"unicode/utf8"
)

func TestFindings(t *testing.T) {
	for _, c := range []struct{ text, place, says string }{
		{"Call us on (360) 555-0142 today.", "(360) 555-0142", "phone number"},
		{"Write to shop@spokeshave.example for a date.", "shop@spokeshave.example", "email address"},
		{"See https://spokeshave.example/shop for more.", "https://spokeshave.example/shop", "web address"},
		{"Find it on spokeshave.com any day.", "spokeshave.com", "web address"},
		{"We repair bicycles. BEST PRICES here.", "BEST PRICES", "shouting"},
		{"GUARANTEED by us.", "GUARANTEED", "shouting"},
		{"Come in today!", "!", "exclamation mark"},
		{"Come in today!!!", "!!!", "exclamation mark"},
		{"We mend the the wheel.", "the", "stands twice"},
		{"Bicycle repair, bicycle sale, bicycle hire, bicycle parts and bicycle tours.", "bicycle", "stands 5 times"},
		{"We mend wheels.Bring yours.", "s.Bring", "punctuation"},
		{"Wir öffnen früh ,immer.", "h ,", "punctuation"},
	} {
		found := Check(c.text)
		if len(found) != 1 || !strings.Contains(found[0].Says, c.says) {
			t.Errorf("%q: %+v, want %q", c.text, found, c.says)
			continue
		}
		if got := string([]rune(c.text)[found[0].Start:found[0].End]); got != c.place {
			t.Errorf("%q: it points at %q, want %q", c.text, got, c.place)
		}
	}
}

func TestPlainWordsAreLeftAlone(t *testing.T) {
	for _, text := range []string{
		"", "We have mended bicycles on Tern Street since 1987, for commuters and for children.",
		"Open from 9:00 to 18:00; 3.5 km from the ferry. BMX and MTB welcome, e.g. for a tune-up.",
		"A family of four runs the shop. The shop mends what you ride, and lends you a bicycle meanwhile. Ask Dov what he would do; he had had a good teacher's eye.",
		"Zürich, Łódź, 東京.",
	} {
		for _, f := range Check(text) {
			if !strings.Contains(f.Says, "had") {
				t.Errorf("%q: %+v", text, f)
			}
		}
	}
}

func FuzzCheck(f *testing.F) {
	for _, s := range []string{"Call (360) 555-0142!!", "THE THE the the", "a@b.example www.x.example", "\xff\xfe", "é é é é"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		last := 0
		for _, found := range Check(text) {
			if found.Start < last || found.End <= found.Start || found.End > utf8.RuneCountInString(text) || found.Says == "" {
				t.Fatalf("%q: %+v", text, found)
			}
			last = found.End
		}
	})
}

// Words that any text repeats are no stuffing, whoever it tells of.
func TestTellingOfSomebodyIsNoStuffing(t *testing.T) {
	if found := Check("She opened her shop with her sister, her aunt and her two dogs; he has his own, and his dog knows him."); len(found) != 0 {
		t.Errorf("%+v", found)
	}
}
