package boards

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"uvent/core/listing/verification"
)

// Whatever is noted without a listing has words of its own.
func TestEveryNoteHasWords(t *testing.T) {
	files, err := filepath.Glob("../*/*.go")
	if err != nil {
		t.Fatal(err)
	}
	noted := regexp.MustCompile(`\.(?:Note|NoteOn|NoteAbout)\(ctx, [^"\n]*"([a-z_]+)"[,)]`)
	found := 0
	for _, file := range files {
		text, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range noted.FindAllStringSubmatch(string(text), -1) {
			if found++; logWords[m[1]] == "" && !strings.HasSuffix(file, "_test.go") {
				t.Errorf("%s: %q has no words", file, m[1])
			}
		}
	}
	if found < 25 {
		t.Errorf("only %d notes are found", found)
	}
	for kind, want := range map[string][2]string{
		"photo_added":  {`{"name": "front.jpg", "group": "exterior", "photo": "x"}`, "Added the photo “front.jpg” (exterior)."},
		"record_saved": {`{"before": {"email": "a@b.example"}, "after": {"email": "c@b.example"}}`, "Saved the record: email."},
		"snoozed":      {`{"task": "Look", "until": "2026-12-01T09:00:00-08:00", "reason": ""}`, "Put “Look” off until 1 Dec 2026."},
		"joined":       {`[]`, "Joined with  as ."},
	} {
		if got, known := worded(kind, []byte(want[0])); !known || got != want[1] {
			t.Errorf("%s: %q", kind, got)
		}
	}
	if _, known := worded("nonsense", []byte("{}")); known {
		t.Error("nonsense has words")
	}
}

// What is noted beside listings and what happens to them are told apart by their kinds: the log has one word for each.
func TestNoKindIsBothANoteAndAnEvent(t *testing.T) {
	for _, kind := range verification.Kinds() {
		if says, both := logWords[string(kind)]; both {
			t.Errorf("%q happens to a listing, and is noted as %q", kind, says)
		}
	}
}
