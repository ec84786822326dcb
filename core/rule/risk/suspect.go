package risk

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"uvent/core/rule/rulebook"
)

// Edit is a change that was sent.
type Edit struct {
	At      time.Time // in the zone in which days are named
	By      string
	Changed []string  // keys
	Settled time.Time // when it was taken; zero: not yet, or at once with the sending
	Looked  bool      // somebody there looked at it first
}

// Suspect is a cause for which a listing may have been suspended.
type Suspect struct {
	Risk
	Share    float64 // how likely, among all that are suspected, 0 to 1
	Evidence []string
	Pointed  bool // the notice's words point to it
	Words    bool // nothing but those words speaks for it
}

const (
	// recent is how long a change is remembered as a reason.
	recent = 30 * 24 * time.Hour
	// pointed is how much likelier a cause is that the notice's words name.
	pointed = 6
	// unknown is the weight of what no rule names.
	unknown = 0.08
)

// Suspects are the causes for which a listing may have been suspended at a time, the
// likeliest first: what stands in the record, what was changed before, and what the notice
// points to. The shares of all, and of what no rule names, add up to 1.
func Suspects(b *rulebook.Rulebook, s Subject, edits []Edit, notice string, at time.Time) (out []Suspect, unnamed float64) {
	s.Changed, s.Before = nil, nil
	sum := unknown
	add := func(r Risk, evidence ...string) {
		weight := r.Weight
		x := Suspect{Risk: r, Evidence: evidence}
		if r.Notice != "" && strings.Contains(strings.ToLower(notice), strings.ToLower(r.Notice)) {
			weight *= pointed
			x.Pointed = true
			x.Evidence = append(x.Evidence, fmt.Sprintf("They write of it: “%s”.", r.Notice))
		}
		x.Share = weight
		sum += weight
		out = append(out, x)
	}
	for _, r := range Find(b, s) {
		evidence := []string{r.Says}
		for _, e := range edits {
			if at.Sub(e.At) <= recent && !e.At.After(at) && slices.ContainsFunc(r.Facts, func(f string) bool { return slices.Contains(e.Changed, f) }) {
				evidence = append(evidence, fmt.Sprintf("%s was sent by %s on %s.", strings.ToUpper(r.Facts[0][:1])+r.Facts[0][1:], e.By, day(e.At)))
			}
		}
		add(r, evidence...)
	}
	for _, rule := range b.Risks {
		if c := causes[rule.Cause]; c.standing {
			continue
		} else if says := changedSo(rule.Cause, edits, at); len(says) > 0 {
			add(Risk{rule, rulebook.CauseTitle(rule.Cause), says[0], c.facts, c.mend, false, false}, says...)
		}
	}
	// What only the notice points to, and nothing of ours shows.
	for _, rule := range b.Risks {
		known := slices.ContainsFunc(out, func(x Suspect) bool { return x.Cause == rule.Cause })
		if !known && rule.Notice != "" && strings.Contains(strings.ToLower(notice), strings.ToLower(rule.Notice)) {
			c := causes[rule.Cause]
			rule.Weight /= pointed // nothing but their words speaks for it
			const says = "Nothing in the record or in what was sent shows it."
			add(Risk{rule, rulebook.CauseTitle(rule.Cause), says, c.facts, c.mend, c.standing, c.byPaper}, says)
			out[len(out)-1].Words = true
		}
	}
	for i := range out {
		out[i].Share /= sum
	}
	slices.SortStableFunc(out, func(a, b Suspect) int { return cmp.Compare(b.Share, a.Share) })
	return out, math.Round(100*unknown/sum) / 100
}

// changedSo says how changes that were sent before a time are a cause.
func changedSo(cause string, edits []Edit, at time.Time) (out []string) {
	for i, e := range edits {
		if at.Sub(e.At) > recent || e.At.After(at) {
			continue
		}
		switch cause {
		case "name_and_address":
			if slices.Contains(e.Changed, "name") && slices.Contains(e.Changed, "address") {
				out = append(out, fmt.Sprintf("Name and address were sent together by %s on %s.", e.By, day(e.At)))
			}
		case "second_edit":
			if i == 0 {
				continue
			}
			if before := edits[i-1]; before.Looked && (before.Settled.IsZero() || before.Settled.After(e.At)) {
				out = append(out, fmt.Sprintf("On %s %s sent another change while that of %s was not settled.", day(e.At), e.By, day(before.At)))
			}
		}
	}
	return out
}

func day(t time.Time) string { return t.Format("Mon 2 Jan") }
