package risk_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
)

// told writes steps: what is changed, what it sets off, and whether something is settled first.
func told(steps []risk.Step) string {
	var out []string
	for _, s := range steps {
		one := strings.Join(s.Facts, "+") + ":" + string(s.Meets.SetsOff)
		if s.After != nil {
			one += fmt.Sprintf(" after %s", s.After.SetsOff)
		}
		out = append(out, one)
	}
	return strings.Join(out, ", ")
}

func TestStepsOfAChange(t *testing.T) {
	edits := []rulebook.Edit{
		{Facts: []string{"name", "hours"}, SetsOff: rulebook.OffReview},
		{Facts: []string{"address", "phone"}, SetsOff: rulebook.OffVerification},
	}
	names := edits[:1:1]
	addresses := edits[1:]
	settling := &rulebook.Edit{SetsOff: rulebook.OffWriting}
	for _, c := range []struct {
		edits    []rulebook.Edit
		changed  string
		settling *rulebook.Edit
		want     string
	}{
		{nil, "email website", nil, "email+website:"},
		{nil, "name", nil, "name:"},
		{nil, "name email", nil, "name+email:"},
		{nil, "address email", nil, "address+email:"},
		{nil, "address name email", nil, "email:, name:, address:"},
		{names, "name email", nil, "email:, name:review"},
		{addresses, "address email", nil, "email:, address:verification"},
		{edits, "email hours", nil, "email+hours:review"},
		{edits, "phone email", nil, "email:, phone:verification"},
		{edits, "phone hours email name address", nil, "hours+email:review, phone:verification after review, name:review after verification, address:verification after review"},
		{edits, "email phone", settling, "email: after writing, phone:verification"},
	} {
		b := &rulebook.Rulebook{Edits: c.edits}
		if got := told(risk.Order(b, strings.Fields(c.changed), c.settling)); got != c.want {
			t.Errorf("%s: %s, want %s", c.changed, got, c.want)
		}
	}
}

// A category is far only where the business says a fair amount, and none of it speaks of it.
func TestFarFromItsOwnWords(t *testing.T) {
	b := &rulebook.Rulebook{Risks: []rulebook.Risk{{Cause: "far_category", Weight: 0.5}}}
	for words, far := range map[string]bool{
		"one two three four five six seven eight nine ten eleven":                    false, // too little is said
		"one two three four five six seven eight nine ten eleven twelve":             true,
		"one two three four five six seven eight nine ten eleven bakeries":           false,
		"one two three four five six seven eight nine ten eleven twelve breads here": false,
	} {
		s := risk.Subject{}
		s.Record.Category, s.Record.Words.Long = "bakery", words
		if got := len(risk.Find(b, s)) > 0; got != far {
			t.Errorf("%q is far: %v", words, got)
		}
	}
}

// What was sent thirty days before counts, a moment earlier it does not, nor what came after; and
// what the notice names is not told twice.
func TestWhatIsRemembered(t *testing.T) {
	b := &rulebook.Rulebook{
		Risks: []rulebook.Risk{{Cause: "name_and_address", Weight: 0.5, Notice: "identity"}, {Cause: "extra_words", Weight: 0.5, Notice: "name"}},
	}
	at := time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)
	s := risk.Subject{Record: sound()}
	s.Record.Name = "Best Bicycles"
	for _, c := range []struct {
		sent     time.Time
		evidence int
	}{{at.AddDate(0, 0, -30), 2}, {at.AddDate(0, 0, -30).Add(-time.Second), 1}, {at, 2}, {at.Add(time.Second), 1}} {
		both := []risk.Edit{{At: c.sent, By: "Ines", Changed: []string{"name", "address"}}}
		got, _ := risk.Suspects(b, s, both, "", at)
		if (len(got) == 2) != (c.evidence == 2) || len(got[0].Evidence) != c.evidence {
			t.Errorf("sent %v before: %+v", at.Sub(c.sent), got)
		}
	}
	got, unnamed := risk.Suspects(b, s, nil, "The NAME and the identity could not be confirmed.", at)
	if len(got) != 2 || got[0].Cause != "extra_words" || !got[0].Pointed || got[1].Cause != "name_and_address" ||
		got[1].Says != "Nothing in the record or in what was sent shows it." {
		t.Errorf("%+v", got)
	}
	// 6 × 0.5 and 0.5 against the 0.08 of what no rule names.
	if got[0].Share < got[1].Share*5.9 || got[0].Share > got[1].Share*6.1 || unnamed != 0.02 {
		t.Errorf("%v, %v, %v", got[0].Share, got[1].Share, unnamed)
	}
}
