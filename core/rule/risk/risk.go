// Package risk tells what in a record, or in a change of it, is likely to get a listing
// suspended, refused or verified anew, in which order to change things so that it does
// not, and for what a listing that was suspended has been.
package risk

import (
	"cmp"
	"fmt"
	"math"
	"net/url"
	"regexp"
	"slices"
	"strings"

	"uvent/core/fact/category"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// Subject is what is held against a directory's risks.
type Subject struct {
	Record   record.Record
	Changed  []string // keys of the facts that are about to be changed
	Before   []string // keys of those that were changed before, and are not settled yet
	Adjacent []string // other clients at the same address
	Phones   []string // other locations with the same phone, that are not of the same client
	Sites    []string // hosts of the client's websites and emails
}

// Risk is one that holds.
type Risk struct {
	rulebook.Risk
	Title    string
	Says     string   // what of the record or the change it is, in a sentence
	Facts    []string // keys of the facts concerned
	Mend     string   // what to do about it
	Standing bool     // it is in the record, not only in this change
	ByPaper  bool     // a paper answers it; the record need not change
}

// cause is how a risk is found. says is empty where it does not hold.
type cause struct {
	facts    []string
	standing bool
	says     func(s Subject, b *rulebook.Rulebook) string
	mend     string
	byPaper  bool
}

var (
	boxPattern   = regexp.MustCompile(`(?i)\b(p\.? ?o\.? ?box|post office box|mailbox|pmb|general delivery|mail drop)\b`)
	extraPattern = regexp.MustCompile(
		`(?i)\b(best|cheap|cheapest|affordable|top rated|number one|no\. ?1|near me|open late|24 ?/ ?7|free quotes?|call now|licensed and insured)\b|#1\b|[|•★~]`,
	)
	wordPattern = regexp.MustCompile(`[\p{L}]{3,}`)
)

var causes = map[string]cause{
	"extra_words": {
		facts:    []string{"name"},
		standing: true,
		mend:     "Give the name as it stands on the sign, and nothing more.",
		says: func(s Subject, _ *rulebook.Rulebook) string {
			if extra := extraPattern.FindString(s.Record.Name); extra != "" {
				return fmt.Sprintf("The name “%s” says “%s”, which is not a name.", s.Record.Name, extra)
			}
			return ""
		},
	},
	"town_in_name": {
		facts:    []string{"name"},
		standing: true,
		mend:     "Leave the town out of the name, unless it stands on the sign.",
		says: func(s Subject, _ *rulebook.Rulebook) string {
			if strings.HasPrefix(strings.ToLower(s.Record.LegalName), strings.ToLower(s.Record.Name)) {
				return "" // it is what the business is called by law
			}
			town := strings.ToLower(s.Record.Address.Locality)
			if name := strings.ToLower(s.Record.Name); town != "" && (strings.HasSuffix(name, " "+town) || strings.HasPrefix(name, town+" ")) {
				return fmt.Sprintf("The name “%s” has the town in it.", s.Record.Name)
			}
			return ""
		},
	},
	"name_and_address": {
		facts: []string{"name", "address"},
		mend:  "Change one of them, wait until it is settled, then the other.",
		says: func(s Subject, _ *rulebook.Rulebook) string {
			all := append(slices.Clone(s.Changed), s.Before...)
			if slices.Contains(all, "name") && slices.Contains(all, "address") && len(s.Changed) > 0 {
				return "Name and address are changed at once: it could be another business."
			}
			return ""
		},
	},
	"second_edit": {mend: "Wait until the last change is settled.", says: func(s Subject, _ *rulebook.Rulebook) string {
		if len(s.Before) > 0 && len(s.Changed) > 0 {
			return "The last change is not settled yet."
		}
		return ""
	}},
	"shared_address": {
		facts:    []string{"address"},
		standing: true,
		mend:     "Give the suite or unit that is this business’s own.",
		says: func(s Subject, _ *rulebook.Rulebook) string {
			if len(s.Adjacent) > 0 {
				return fmt.Sprintf("%s has the same address, and neither says a suite that tells them apart.", strings.Join(s.Adjacent, ", "))
			}
			return ""
		},
	},
	"post_office_box": {
		facts:    []string{"address"},
		standing: true,
		mend:     "Give the street where people work; keep the box as the mailing address.",
		says: func(s Subject, _ *rulebook.Rulebook) string {
			if a := s.Record.Address; boxPattern.MatchString(a.Street) || boxPattern.MatchString(a.Unit) {
				return fmt.Sprintf("“%s” is a post-office box or a mailing agent, not a place of business.", strings.TrimSpace(a.Street+" "+a.Unit))
			}
			return ""
		},
	},
	"street_shown": {
		facts:    []string{"address"},
		standing: true,
		mend:     "See that its page there names no street; it is given none.",
		says: func(s Subject, b *rulebook.Rulebook) string {
			if s.Record.Kind == record.GoesToCustomers && s.Record.Address.Street != "" && !b.HidesAddress(s.Record) {
				return fmt.Sprintf("It only goes to its customers, and %s shows the street of those of whom it has one.", b.Name)
			}
			return ""
		},
	},
	"shared_phone": {facts: []string{"phone"}, standing: true, mend: "Give a phone of this location’s own.", says: func(s Subject, _ *rulebook.Rulebook) string {
		if len(s.Phones) > 0 {
			return fmt.Sprintf("Its phone is also that of %s.", strings.Join(s.Phones, ", "))
		}
		return ""
	}},
	"far_category": {
		facts:    []string{"category"},
		standing: true,
		mend:     "Choose the category that the business’s own words name, or say in the description what it does.",
		says: func(s Subject, _ *rulebook.Rulebook) string {
			if far(s.Record) {
				return fmt.Sprintf("Nothing in the business’s own words speaks of “%s”.", category.Name(s.Record.Category))
			}
			return ""
		},
	},
	"round_the_clock": {
		facts:    []string{"hours"},
		standing: true,
		byPaper:  true,
		mend:     "Have a paper or a photo of the sign at hand that shows the hours.",
		says: func(s Subject, _ *rulebook.Rulebook) string {
			if strings.TrimSpace(s.Record.Hours) == "24/7" {
				return "It claims to be open round the clock."
			}
			return ""
		},
	},
	"other_domain": {
		facts:    []string{"website"},
		standing: true,
		mend:     "Give the page on the business’s own site.",
		says: func(s Subject, _ *rulebook.Rulebook) string {
			host := Host(s.Record.Website)
			if host == "" || len(s.Sites) == 0 || slices.Contains(s.Sites, host) {
				return ""
			}
			return fmt.Sprintf("The website is on %s; the business’s own is %s.", host, s.Sites[0])
		},
	},
}

// far reports whether a record says a fair amount in words, none of them one of its
// category's.
func far(r record.Record) bool {
	i := slices.IndexFunc(category.All(), func(c category.Category) bool { return c.ID == r.Category })
	said := strings.ToLower(
		strings.Join(
			append(append([]string{r.Name, r.Words.Tagline, r.Words.Short, r.Words.Medium, r.Words.Long, r.Words.Story}, r.Words.Keywords...), r.Words.Specialities...),
			" ",
		),
	)
	if i < 0 || len(strings.Fields(said)) < 12 {
		return false
	}
	c := category.All()[i]
	for _, w := range wordPattern.FindAllString(strings.ToLower(c.Name+" "+strings.Join(c.Words, " ")), -1) {
		if strings.Contains(said, w[:min(len(w), max(4, len(w)-2))]) { // so that endings do not matter
			return false
		}
	}
	return true
}

// Host is the host of a web address without www, in small letters; empty for none.
func Host(address string) string {
	u, err := url.Parse(address)
	if err != nil {
		return ""
	}
	return strings.TrimPrefix(strings.ToLower(u.Hostname()), "www.")
}

// Find lists a directory's risks that hold, the likeliest first. One that stands in the
// record counts for a change only where that touches the facts concerned, or where
// nothing is changed.
func Find(b *rulebook.Rulebook, s Subject) (out []Risk) {
	for _, r := range b.Risks {
		c := causes[r.Cause]
		touched := len(s.Changed) == 0 || !c.standing || slices.ContainsFunc(c.facts, func(f string) bool { return slices.Contains(s.Changed, f) })
		if says := c.says(s, b); says != "" && touched {
			out = append(out, Risk{r, rulebook.CauseTitle(r.Cause), says, c.facts, c.mend, c.standing, c.byPaper})
		}
	}
	slices.SortStableFunc(out, func(a, b Risk) int { return cmp.Compare(b.Weight, a.Weight) })
	return out
}

// severity orders what can be set off.
var severity = map[rulebook.SetsOff]int{rulebook.OffReview: 1, rulebook.OffRefusal: 2, rulebook.OffVerification: 3, rulebook.OffSuspension: 4}

// Expect is the worst that some risks set off, and how likely it is that one of them
// does. It is empty where there is no risk.
func Expect(risks []Risk) (worst rulebook.SetsOff, chance float64) {
	for _, r := range risks {
		if severity[r.SetsOff] > severity[worst] {
			worst = r.SetsOff
		}
	}
	spared := 1.0
	for _, r := range risks {
		if r.SetsOff == worst {
			spared *= 1 - r.Weight
		}
	}
	return worst, math.Round(100*(1-spared)) / 100
}
