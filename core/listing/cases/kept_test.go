package cases_test

import (
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"

	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
)

// A case shows the causes that it was opened with, in their words, beside what has become of each.
func TestCausesAsTheyWere(t *testing.T) {
	suspect := func(cause, says string, standing, words bool) risk.Suspect {
		return risk.Suspect{
			Risk: risk.Risk{Risk: rulebook.Risk{Cause: cause}, Title: cause, Says: says, Facts: []string{"name"}, Standing: standing}, Share: 0.3, Words: words,
			Evidence: []string{says},
		}
	}
	then := []risk.Suspect{
		suspect("extra_words", "The name says “Best”.", true, false), suspect("town_in_name", "The town is in it.", true, false),
		suspect("name_and_address", "Sent together on Mon 2 Nov.", false, false), suspect("unsaid", "Nothing shows it.", true, true),
	}
	c := verification.Case{Kind: verification.CaseSuspended, Causes: cases.Kept(then), Unnamed: 0.1}
	now := []risk.Suspect{suspect("town_in_name", "Another town is in it.", true, false), suspect("shared_phone", "Two have it.", true, false)}
	want := []cases.Today{cases.Gone, cases.Still, cases.Happens, cases.Happens, cases.New}
	all, unnamed := cases.Causes(c, now, 0.7)
	if len(all) != len(want) || unnamed != 0.1 {
		t.Fatalf("%d causes, %g", len(all), unnamed)
	}
	for i, k := range all {
		if k.Today != want[i] {
			t.Errorf("%s is %q, want %q", k.Cause, k.Today, want[i])
		}
		if i < len(then) && (k.Says != then[i].Says || k.Share != then[i].Share || !reflect.DeepEqual(k.Evidence, then[i].Evidence)) {
			t.Errorf("%+v, and was %+v", k.Suspect, then[i])
		}
	}
	if live := cases.Live(all); live[0].Standing || !live[1].Standing {
		t.Errorf("%+v", live)
	}
	c.ClosedAt = &start
	if over, _ := cases.Causes(c, now, 0.7); len(over) != len(then) {
		t.Errorf("once it is over it has %d", len(over))
	}
	if old, unnamed := cases.Causes(verification.Case{}, now, 0.7); len(old) != 2 || unnamed != 0.7 {
		t.Errorf("one that kept none: %+v, %g", old, unnamed)
	}
}

// A hearing begins at the rulebook's word and learns from our own: what was granted makes the same likelier, what was refused
// less likely, and no paper makes it less likely.
func TestWhoWinsAHearing(t *testing.T) {
	b := &rulebook.Rulebook{Appeal: rulebook.Appeal{Chance: 0.4, Evidence: []rulebook.Evidence{
		{Paper: "utility_bill", Causes: []string{"shared_address"}, Chance: 0.8}, {Paper: "registration", Chance: 0.6},
	}}}
	for _, c := range []struct {
		cause string
		kinds []string
		want  float64
	}{
		{"shared_address", nil, 0.4}, {"shared_address", []string{"utility_bill"}, 0.8}, {"extra_words", []string{"utility_bill"}, 0.4},
		{"extra_words", []string{"registration", "utility_bill"}, 0.6}, {"", nil, 0.4},
		{"", []string{"utility_bill"}, 0.6}, {"", []string{"utility_bill", "registration"}, 0.6},
	} {
		if got := cases.Appeals(b).ChanceOf(c.cause, c.kinds, nil); math.Abs(got.Chance-c.want) > 1e-9 || got.Won+got.Lost != 0 {
			t.Errorf("%s with %v: %+v", c.cause, c.kinds, got)
		}
	}
	if got := cases.Appeals(&rulebook.Rulebook{}).ChanceOf("x", nil, nil).Chance; got != 0.4 {
		t.Errorf("of a rulebook that says nothing: %g", got)
	}
	access := cases.Deciders(&rulebook.Rulebook{Access: rulebook.Access{Decided: 0.5, Evidence: []rulebook.Evidence{{Paper: "lease", Chance: 0.8}}}})
	if got := access.InOrder([]string{"registration", "utility_bill", "lease"}, nil); !slices.Equal(got, []string{"lease", "registration", "utility_bill"}) {
		t.Errorf("papers for those who decide: %v", got)
	}
	pages := cases.Suggestions(
		&rulebook.Rulebook{Suggesting: rulebook.Suggesting{Chance: 0.5, Evidence: []rulebook.Evidence{{Page: rulebook.OwnSite, Chance: 0.8}}}},
	)
	refused := slices.Repeat([]cases.Heard{{Kinds: []string{"own_site"}}}, 20)
	if own, any := pages.ChanceOf("", []string{"own_site"}, refused).Chance, pages.ChanceOf("", []string{"page"}, nil).Chance; own >= any || any != 0.5 {
		t.Errorf("a page that never helped: %g, and any: %g", own, any)
	}
	random := rand.New(rand.NewPCG(7, 11))
	causes, kinds := []string{"shared_address", "extra_words"}, []string{"utility_bill", "registration", "licence"}
	for range 500 {
		var past []cases.Heard
		for range random.IntN(9) {
			past = append(past, cases.Heard{Cause: causes[random.IntN(2)], Kinds: kinds[:random.IntN(4)], Granted: random.IntN(2) == 0})
		}
		cause, with := causes[random.IntN(2)], kinds[:random.IntN(4)]
		got := cases.Appeals(b).ChanceOf(cause, with, past)
		if !(got.Chance > 0 && got.Chance < 1) || got.Won+got.Lost > len(past) {
			t.Fatalf("%+v of %+v", got, past)
		}
		more := cases.Appeals(b).ChanceOf(cause, with, append(past, cases.Heard{Cause: cause, Kinds: with, Granted: true}))
		less := cases.Appeals(b).ChanceOf(cause, with, append(past, cases.Heard{Cause: cause, Kinds: with}))
		if more.Chance < got.Chance || less.Chance > got.Chance || more.Won != got.Won+1 || less.Lost != got.Lost+1 {
			t.Fatalf("%+v, after one more won %+v, after one more lost %+v", got, more, less)
		}
		for _, k := range kinds {
			if adds := cases.Appeals(b).Adds(cause, k, with, past); adds < 0 || adds >= 1 {
				t.Fatalf("%s adds %g", k, adds)
			}
		}
	}
}
