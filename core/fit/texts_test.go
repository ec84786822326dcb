package fit

import (
	"reflect"
	"strings"
	"testing"

	"uvent/core/record"
	"uvent/core/rulebook"
)

func TestTexts(t *testing.T) {
	book := rulebook.Rulebook{Texts: []rulebook.Prose{{Text: "medium", Label: "Description", MostCharacters: 40}, {Text: "short", Label: "Line", MostCharacters: 40}, {Text: "story", Label: "Story", MostCharacters: 400}}}
	r := record.Record{Words: record.Words{Short: "A workshop by the ferry.", Medium: "We mend bicycles on Tern Street. We close for lunch."}}
	want := []TextFit{
		{"Description", "We mend bicycles on Tern Street.", "The description is cut from 52 characters to 32, after “bicycles on Tern Street.”."},
		{"Line", "A workshop by the ferry.", ""},
	}
	if got := Texts(r, book); !reflect.DeepEqual(got, want) {
		t.Errorf("%+v", got)
	}
	r.Words.Medium = strings.Repeat("x", 41) // no word of it fits
	if got := Texts(r, book); got[0].Text != "" || got[0].Says != "No word of the description fits into its 40 characters." {
		t.Errorf("%+v", got[0])
	}
}
