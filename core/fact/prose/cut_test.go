package prose

import (
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/rivo/uniseg"
)

func TestCut(t *testing.T) {
	const text = "We mend bicycles on Tern Street. Leave yours on the way out, and it is ready when the evening boat comes in. We close for lunch."
	for most, want := range map[int]string{
		200: text, 128: text, 127: "We mend bicycles on Tern Street. Leave yours on the way out, and it is ready when the evening boat comes in.",
		60: "We mend bicycles on Tern Street.", 32: "We mend bicycles on Tern Street.", 31: "We mend bicycles on Tern…", 9: "We mend…", 3: "We…", 2: "", 0: "",
	} {
		if got, cut := Cut(text, most); got != want || cut != (most < 128) {
			t.Errorf("to %d: %q, %v", most, got, cut)
		}
	}
	for in, want := range map[string]string{
		"Salt &amp; vinegar":         "Salt…",      // to 10: no half an entity
		"Reparaturgeschäft am Hafen": "",           // not even the first word
		"Well-kept bicycles":         "Well-kept…", // a hyphen keeps a word together
		"Family 👩‍👩‍👧 shop":          "Family…",    // one character of five
		"naïve cafés here":           "naïve…",
	} {
		if got, _ := Cut(in, 10); got != want {
			t.Errorf("%q is cut to %q", in, got)
		}
	}
}

// Whatever the text and the limit: what is left fits, is the text's beginning, and
// parts no word, no entity and no character.
func FuzzCut(f *testing.F) {
	f.Add("We mend. Leave yours &amp; go; 👩‍👩‍👧 naïve cafés.", 20)
	f.Add("e\u0301\u0301 x", 2)
	f.Add("a&#x41;b", 4)
	f.Fuzz(func(t *testing.T, text string, most int) {
		if !utf8.ValidString(text) || len(text) > 2000 || most < 0 {
			return
		}
		got, cut := Cut(text, most)
		if n := utf8.RuneCountInString(got); n > most {
			t.Fatalf("%q has %d characters, %d are taken", got, n, most)
		}
		if !cut {
			if got != text {
				t.Fatalf("%q becomes %q", text, got)
			}
			return
		}
		kept := strings.TrimSuffix(got, ellipsis)
		if !strings.HasPrefix(text, kept) {
			kept = got // the text's own ellipsis
		}
		if !strings.HasPrefix(text, kept) {
			t.Fatalf("%q is not how %q begins", kept, text)
		}
		at := len(kept)
		for _, e := range entity.FindAllStringIndex(text, -1) {
			if e[0] < at && at < e[1] {
				t.Fatalf("%q parts the entity %q", got, text[e[0]:e[1]])
			}
		}
		boundary := map[int]bool{0: true}
		for g, end := uniseg.NewGraphemes(text), 0; g.Next(); {
			end += len(g.Str())
			boundary[end] = true
		}
		if !boundary[at] {
			t.Fatalf("%q parts a character of %q", got, text)
		}
	})
}
