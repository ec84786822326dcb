package compare

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
	"uvent/core/record/link"
	"uvent/core/record/record"
)

// listed compares two lists, whose parts are the same when they are by a form of them. The directory takes the first of
// ours up to most, 0 for all.
func listed(ours, theirs []string, most int, form func(string) string) Line {
	l := Line{Record: strings.Join(ours, ", "), Seen: strings.Join(theirs, ", ")}
	if len(ours) == 0 || len(theirs) == 0 {
		return l
	}
	given := ours
	if most > 0 && len(given) > most {
		given = given[:most]
		l.Cannot = fmt.Sprintf("It takes %d of them.", most)
	}
	holds := func(list []string, one string) bool {
		return slices.ContainsFunc(list, func(o string) bool { return form(o) == form(one) })
	}
	var lacks, more []string
	for _, o := range given {
		if !holds(theirs, o) {
			lacks = append(lacks, o)
		}
	}
	for _, o := range theirs {
		if !holds(ours, o) {
			more = append(more, o)
		}
	}
	switch {
	case len(lacks) == 0 && len(more) == 0 && slices.Equal(ours, theirs):
		l.Mark, l.Cannot = Equal, ""
	case len(lacks) == 0 && len(more) == 0:
		l.Mark = Alike
	default:
		l.Mark, l.Cannot = Unequal, ""
		l.Wrong = min(1, float64(len(lacks)+len(more))/float64(len(given)))
		var parts []string
		if lacks != nil {
			parts = append(parts, "Missing there: "+strings.Join(lacks, ", ")+".")
		}
		if more != nil {
			parts = append(parts, "Not in the record: "+strings.Join(more, ", ")+".")
		}
		l.Says = strings.Join(parts, " ")
	}
	return l
}

// many compares a fact of several texts.
func many(of func(in) (ours, theirs []string)) func(in) Line {
	return func(i in) Line {
		ours, theirs := of(i)
		return listed(ours, theirs, i.rule.Most, address.Fold)
	}
}

func areas(i in) Line {
	var ours []string
	for _, t := range i.record.Area.Towns {
		ours = append(ours, t.Name)
	}
	return listed(ours, i.seen.Areas, i.book.Areas.Most, address.Fold)
}

// attributes compares yes and no by what the directory calls each; where it is not known what it calls them, by ours.
func attributes(i in) Line {
	said := map[string]bool{}
	for name, is := range i.seen.Attributes {
		said[address.Fold(name)] = is
	}
	var ours, theirs, lacks, wrong []string
	yes := map[bool]string{true: "yes", false: "no"}
	for _, a := range category.AllAttributes() {
		is, told := i.record.Attributes[a.ID]
		label := i.book.Attributes.Map[a.ID]
		if len(i.book.Attributes.Map) == 0 {
			label = a.Name
		}
		if !told || label == "" {
			continue
		}
		ours = append(ours, label+": "+yes[is])
		seen, shown := said[address.Fold(label)]
		if !shown {
			seen, shown = said[address.Fold(a.ID)]
		}
		switch {
		case shown && seen != is:
			wrong = append(wrong, label)
		case !shown && is: // a no is seldom shown
			lacks = append(lacks, label)
		}
	}
	for _, name := range slices.Sorted(maps.Keys(i.seen.Attributes)) {
		theirs = append(theirs, name+": "+yes[i.seen.Attributes[name]])
	}
	l := Line{Record: strings.Join(ours, ", "), Seen: strings.Join(theirs, ", ")}
	switch {
	case len(ours) == 0 || len(theirs) == 0:
	case wrong != nil || lacks != nil:
		l.Mark, l.Wrong = Unequal, float64(len(wrong)+len(lacks))/float64(len(ours))
		if wrong != nil {
			l.Says = "The other way there: " + strings.Join(wrong, ", ") + ". "
		}
		if lacks != nil {
			l.Says += "Missing there: " + strings.Join(lacks, ", ") + "."
		}
		l.Says = strings.TrimSpace(l.Says)
	case slices.Equal(ours, theirs):
		l.Mark = Equal
	default:
		l.Mark = Alike
	}
	return l
}

// words compares one of the record's texts. What is cut to the directory's limit is the same, and so is one to which the
// towns of the service area were added at its end.
func words(which string) func(in) Line {
	return func(i in) Line {
		ours := map[string]string{
			"tagline": i.record.Words.Tagline, "short": i.record.Words.Short, "medium": i.record.Words.Medium, "long": i.record.Words.Long,
			"story": i.record.Words.Story,
		}[which]
		theirs := i.seen.Texts[which]
		l := Line{Record: ours, Seen: theirs, Mark: textual(ours, theirs, address.Fold(ours), address.Fold(theirs))}
		if l.Mark != Unequal {
			return l
		}
		shown := theirs
		if n := strings.LastIndex(shown, "Serving "); n > 0 && len(i.record.Area.Towns) > 0 {
			shown = strings.TrimSpace(shown[:n])
		}
		most := 0
		for _, t := range i.book.Texts {
			if t.Text == which {
				most = t.MostCharacters
			}
		}
		switch {
		case address.Fold(shown) == address.Fold(ours):
			l.Mark = Alike
		case begins(ours, shown) && most > 0 && 2*len([]rune(theirs)) >= min(most, len([]rune(ours))):
			l.Mark, l.Cannot = Alike, fmt.Sprintf("It takes %d characters.", most)
		default:
			l.Says, l.Wrong = "It says something else than the record.", 1-alike(ours, theirs)
		}
		return l
	}
}

// alike is the share of words that two texts have in common, 0 to 1.
func alike(a, b string) float64 {
	left := map[string]int{}
	words := strings.Fields(address.Fold(a))
	for _, w := range words {
		left[w]++
	}
	others := strings.Fields(address.Fold(b))
	shared := 0
	for _, w := range others {
		if left[w] > 0 {
			left[w]--
			shared++
		}
	}
	return float64(2*shared) / float64(max(1, len(words)+len(others)))
}

func socials(i in) Line {
	var ours, theirs []string
	for _, s := range i.record.Socials {
		if s.Show {
			ours = append(ours, link.Bare(s.URL))
		}
	}
	for _, s := range i.seen.Socials {
		theirs = append(theirs, link.Bare(s.URL))
	}
	return listed(ours, theirs, i.rule.Most, func(s string) string { return strings.TrimPrefix(strings.ToLower(s), "www.") })
}

func offerings(i in) Line {
	var ours, theirs []string
	prices := map[string]string{}
	for _, s := range i.record.Offerings {
		for _, o := range s.Items {
			ours = append(ours, o.Name)
			prices[address.Fold(o.Name)] = o.Price
		}
	}
	var wrong []string
	for _, o := range i.seen.Offerings {
		theirs = append(theirs, o.Name)
		if price := prices[address.Fold(o.Name)]; price != "" && o.Price != "" && !samePrice(price, o.Price) {
			wrong = append(wrong, fmt.Sprintf("%s at %s, not %s", o.Name, o.Price, price))
		}
	}
	l := listed(ours, theirs, i.rule.Most, address.Fold)
	if wrong != nil {
		l.Mark, l.Cannot, l.Wrong = Unequal, "", min(1, l.Wrong+float64(len(wrong))/float64(len(ours)))
		l.Says = strings.TrimSpace("Another price there: " + strings.Join(wrong, "; ") + ". " + l.Says)
	}
	return l
}

// samePrice reports whether a price that is shown, with its currency and what it is for, is one of ours.
func samePrice(ours, shown string) bool {
	trim := func(s string) string {
		s = strings.ReplaceAll(s, ",", ".")
		if strings.Contains(s, ".") {
			s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
		}
		return s
	}
	for _, word := range strings.FieldsFunc(shown, func(r rune) bool { return r != '.' && r != ',' && (r < '0' || r > '9') }) {
		if trim(word) == trim(ours) {
			return true
		}
	}
	return false
}

func payments(i in) Line {
	var ours []string
	for _, k := range record.PaymentKinds {
		if slices.Contains(i.record.Payments, k.ID) {
			ours = append(ours, k.Name)
		}
	}
	return listed(ours, i.seen.Payments, i.rule.Most, func(s string) string {
		for _, k := range record.PaymentKinds {
			if k.ID == s {
				s = k.Name
			}
		}
		return address.Fold(s)
	})
}

// team compares people by their names; what stands behind them, such as their roles, is not compared.
func team(i in) Line {
	var ours []string
	for _, m := range i.record.Team {
		ours = append(ours, m.Name)
	}
	return listed(ours, i.seen.Team, i.rule.Most, func(s string) string {
		name, _, _ := strings.Cut(s, ",")
		return address.Fold(name)
	})
}

// licences compares licences by their numbers.
func licences(i in) Line {
	var ours []string
	for _, o := range i.record.Licences {
		ours = append(ours, o.Number)
	}
	theirs := make([]string, len(i.seen.Licence))
	for n, t := range i.seen.Licence {
		theirs[n] = t
		for _, o := range ours {
			if o != "" && strings.Contains(address.Fold(t), address.Fold(o)) {
				theirs[n] = o
			}
		}
	}
	return listed(ours, theirs, i.rule.Most, address.Fold)
}
