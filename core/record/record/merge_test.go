package record

import (
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"
)

// Whatever two people change: a change that only one made is in what comes of
// it, and a fact that both changed is either the same or told.
func TestMergeLosesNothing(t *testing.T) {
	titles := make([]string, 0, len(edits))
	for title := range edits {
		titles = append(titles, title)
	}
	slices.Sort(titles)
	r := rand.New(rand.NewPCG(5, 5))
	edit := func(base Record, into int) (Record, []string) {
		out := fromTree(tree(base))
		var done []string
		for range into {
			title := titles[r.IntN(len(titles))]
			edits[title](&out)
			done = append(done, title)
		}
		return out, done
	}
	for range 600 {
		base := normal(t, good())
		mine, _ := edit(base, r.IntN(5))
		theirs, _ := edit(base, r.IntN(5))
		got, conflicts := Merge(base, mine, theirs)
		if conflicts != nil {
			t.Fatalf("the same edit of the same fact is no conflict: %+v", conflicts)
		}
		for _, c := range append(Changes(base, mine), Changes(base, theirs)...) {
			if !slices.ContainsFunc(Changes(base, got), func(g Change) bool { return g.Path == c.Path && (g.After == c.After || c.Path == "own") }) {
				t.Fatalf("%s: %q is lost", c.Title, c.After)
			}
		}
		if back, _ := Merge(base, theirs, mine); len(Changes(back, got)) != 0 {
			t.Fatalf("the other way round it is another: %+v", Changes(back, got))
		}
		if same, _ := Merge(base, mine, base); !reflect.DeepEqual(same, mine) {
			t.Fatal("merging with nothing changes something")
		}
	}
	base := normal(t, good())
	mine, theirs := base, base
	mine.Email, theirs.Email, theirs.Website = "mine@a.example", "theirs@a.example", "https://theirs.example"
	got, conflicts := Merge(base, mine, theirs)
	if got.Email != "mine@a.example" || got.Website != "https://theirs.example" || len(conflicts) != 1 ||
		conflicts[0] != (Conflict{"email", "Email", "mine@a.example", "theirs@a.example"}) {
		t.Errorf("%+v, %+v", got, conflicts)
	}
	mine.Own, theirs.Own, base.Own = []string{"name", "email"}, []string{"website"}, []string{"email"}
	if got, _ := Merge(base, mine, theirs); !slices.Equal(got.Own, []string{"name", "website"}) {
		t.Errorf("its own are %q", got.Own)
	}
}
