package fit

import (
	"strings"
	"testing"

	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

func TestTexts(t *testing.T) {
	book := rulebook.Rulebook{
		Listing: rulebook.Listing{Kinds: []record.Kind{record.Premises}},
		Texts: []rulebook.Prose{
			{Text: "medium", Label: "Description", MostCharacters: 40},
			{Text: "short", Label: "Line", MostCharacters: 40},
			{Text: "story", Label: "Story", MostCharacters: 400},
		},
	}
	r := record.Record{
		Kind:  record.Premises,
		Words: record.Words{Short: "A workshop by the ferry.", Medium: "We mend bicycles on Tern Street. We close for lunch."},
	}
	v := Of(Read(r, nil, now), &book).Values()
	if len(v) != 2 || v[0].Text != "We mend bicycles on Tern Street." ||
		v[0].Says[0] != "The description is cut from 52 characters to 32, after “bicycles on Tern Street.”." ||
		v[1].Text != r.Words.Short ||
		v[1].Says != nil {
		t.Errorf("%+v", v)
	}
	r.Words.Medium = strings.Repeat("x", 41)
	if f := Of(Read(r, nil, now), &book); f.Items[0].State != Broken || f.Items[0].Says != "No word of the description fits into its 40 characters." {
		t.Errorf("%+v", f.Items)
	}
	if v := Of(Read(r, nil, now), &book).Values(); len(v) != 1 || v[0].Key != "text.short" {
		t.Errorf("%+v", v)
	}
}

// Where there is no field for towns, the longest text names them, as many as fit.
func TestTownsAreNamedInTheText(t *testing.T) {
	book := rulebook.Rulebook{
		Listing: rulebook.Listing{Kinds: []record.Kind{record.GoesToCustomers}},
		Texts:   []rulebook.Prose{{Text: "tagline", Label: "Slogan", MostCharacters: 200}, {Text: "medium", Label: "Description", MostCharacters: 120}},
	}
	r := record.Record{
		Kind:  record.GoesToCustomers,
		Words: record.Words{Tagline: "Soot, and nothing but.", Medium: "Ida sweeps chimneys. She clears gutters, too. She comes on time."},
	}
	for _, name := range []string{"Port Sable", "Alder Landing", "Quillcote", "Minnow Bay"} {
		r.Area.Towns = append(r.Area.Towns, record.Town{Name: name})
	}
	v := Of(Read(r, nil, now), &book).Values()
	if want := "Ida sweeps chimneys. She clears gutters, too. She comes on time. Serving Port Sable, Alder Landing and Quillcote."; v[1].Text != want ||
		v[0].Text != r.Words.Tagline ||
		!strings.Contains(v[1].Says[0], "named at the end") {
		t.Errorf("%+v", v)
	}
	book.Areas.Most = 2
	v = Of(Read(r, nil, now), &book).Values()
	if towns, _ := v.Find("areas"); v[1].Text != r.Words.Medium || towns.Text != "Port Sable, Alder Landing" ||
		!strings.Contains(towns.Says[0], "2 of the 4 towns go") {
		t.Errorf("%+v", v)
	}
}
