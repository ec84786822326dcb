package rulebook

import (
	"fmt"
	"strings"

	"uvent/core/calendar"
	"uvent/core/record"
)

// Saying is a part of a rulebook in sentences.
type Saying struct {
	About string
	Says  []string
}

// Sayings writes the rulebook for people.
func (r Rulebook) Sayings() []Saying {
	return []Saying{
		{"Who may be listed", r.sayListing()},
		{"What it takes", r.sayFacts()},
		{"Ways to verify", r.sayMethods()},
		{"Once verified", []string{fmt.Sprintf("Public in %s. Uvent looks every %d hours until it shows.", Span(r.Publishing.Window), r.Publishing.LookEveryHours)}},
		{"How it counts days", []string{r.sayCalendar()}},
	}
}

func (r Rulebook) sayListing() []string {
	out := []string{"Locations that are " + kindList(r.Listing.Kinds) + "."}
	if len(r.Listing.Countries) > 0 {
		out = append(out, "In "+strings.Join(r.Listing.Countries, " and ")+".")
	}
	if len(r.Listing.HideAddress) > 0 {
		out = append(out, "The street is not shown for those that are "+kindList(r.Listing.HideAddress)+".")
	}
	return out
}

func kindList(kinds []record.Kind) string {
	words := make([]string, len(kinds))
	for i, k := range kinds {
		words[i] = map[record.Kind]string{record.Premises: "premises", record.GoesToCustomers: "going to customers", record.Both: "both"}[k]
	}
	if len(words) < 2 {
		return strings.Join(words, "")
	}
	return strings.Join(words[:len(words)-1], ", ") + " or " + words[len(words)-1]
}

func (r Rulebook) sayFacts() (out []string) {
	for _, f := range r.Facts {
		s := strings.ToUpper(f.Fact[:1]) + f.Fact[1:]
		if f.Required {
			s += ", required"
		}
		if f.MostCharacters > 0 {
			s += fmt.Sprintf(", up to %d characters", f.MostCharacters)
		}
		if f.Note != "" {
			s += ". " + f.Note
		} else {
			s += "."
		}
		out = append(out, s)
	}
	hours := fmt.Sprintf("Hours with up to %s a day", count(r.Hours.SittingsPerDay, "sitting"))
	if r.Hours.PastMidnight {
		hours += ", also past midnight"
	}
	out = append(out, r.sayMore()...)
	return append(out, hours+".", fmt.Sprintf("%s of its own, of which %d answer to ours.", count(r.Categories.Most, "category"), len(r.Categories.Map)))
}

func (r Rulebook) sayMethods() (out []string) {
	for _, m := range r.Methods {
		s := strings.ToUpper(string(m.Method)[:1]) + string(m.Method)[1:] + ": "
		if m.AtOnce() {
			s += "at once"
		} else {
			s += "in " + Span(m.Window)
		}
		s += fmt.Sprintf("; a code of %d digits that works for %s, %s", m.Code.Digits, works(m.Code), count(m.Code.Tries, "try"))
		if m.Needs.EmailOnDomain {
			s += "; the email must be on the website's domain"
		}
		if m.Needs.OpenMinutes > 0 {
			s += fmt.Sprintf("; only while the shop is open for %d more minutes", m.Needs.OpenMinutes)
		}
		if len(m.Kinds) > 0 {
			s += "; for " + kindList(m.Kinds)
		}
		if a := m.Again; a.After() > 0 {
			s += "; another after " + works(Code{WorksDays: a.AfterDays, WorksMinutes: a.AfterMinutes})
		}
		if m.Again.Most > 0 {
			s += fmt.Sprintf(", %d in all", m.Again.Most)
		}
		out = append(out, s+".")
	}
	return out
}

func (r Rulebook) sayCalendar() string {
	where := r.Calendar.Country
	if r.Calendar.Region != "" {
		where += "-" + r.Calendar.Region
	}
	s := fmt.Sprintf("By the public holidays of %s, in the time zone %s.", where, r.Calendar.Zone)
	if h := r.Calendar.CutOffHour; h > 0 {
		s += fmt.Sprintf(" What is asked from %d:00 on counts from the next business day.", h)
	}
	return s
}

// Span writes a wait: "6 to 12 business days".
func Span(w calendar.Rule) string {
	unit := strings.ReplaceAll(string(w.Unit), "_", " ")
	switch {
	case w.Min == w.Max && w.Max == 1:
		return "1 " + strings.TrimSuffix(unit, "s")
	case w.Min == w.Max:
		return fmt.Sprintf("%d %s", w.Max, unit)
	case w.Min == 0:
		return fmt.Sprintf("up to %d %s", w.Max, unit)
	}
	return fmt.Sprintf("%d to %d %s", w.Min, w.Max, unit)
}

func works(c Code) string {
	if c.WorksDays > 0 {
		return count(c.WorksDays, "day")
	}
	return count(c.WorksMinutes, "minute")
}

func count(n int, unit string) string {
	switch {
	case n == 1:
		return "1 " + unit
	case strings.HasSuffix(unit, "y") && !strings.HasSuffix(unit, "ay"):
		return fmt.Sprintf("%d %sies", n, strings.TrimSuffix(unit, "y"))
	}
	return fmt.Sprintf("%d %ss", n, unit)
}
