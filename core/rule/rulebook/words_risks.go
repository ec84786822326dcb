package rulebook

import (
	"fmt"
	"strings"
	"uvent/core/fact/prose"

	"uvent/core/fact/calendar"
	"uvent/core/record/paper"
)

func (r Rulebook) saySpeaks() (out []string) {
	s := r.Speaks
	say := func(yes bool, format string, a ...any) {
		if yes {
			out = append(out, fmt.Sprintf(format, a...))
		}
	}
	say(s.PostsPerMonth > 0, "%s a month.", prose.Count(s.PostsPerMonth, "post"))
	say(s.PostRadius > 0, "A post reaches people within %s at most.", prose.Count(s.PostRadius, "kilometre"))
	say(s.EventsMostDays > 0, "Events that end within %s.", prose.Count(s.EventsMostDays, "day"))
	say(s.OffersMost > 0, "Offers of up to %d per cent.", s.OffersMost)
	say(len(s.Buttons) > 0, "One button, of %s.", oneOf(s.Buttons))
	say(s.ReviewsToRead, "Reviews can be read there.")
	say(s.AnswersByVoice, "It answers voice questions.")
	return out
}

// causeTitles are the causes of Risks, for people.
var causeTitles = map[string]string{
	"extra_words":      "words in the name that are not on the sign",
	"town_in_name":     "the town in the name",
	"name_and_address": "name and address changed at once",
	"second_edit":      "a second change before the last is settled",
	"shared_address":   "an address that another business has",
	"post_office_box":  "a post-office box or a mailing agent as the address",
	"street_shown":     "a street that is shown though nobody can come there",
	"shared_phone":     "a phone that is used elsewhere",
	"far_category":     "a category far from the business’s own words",
	"round_the_clock":  "hours round the clock",
	"other_domain":     "a website on another domain",
}

// CauseTitle is a cause of a Risk, for people.
func CauseTitle(cause string) string { return causeTitles[cause] }

func (r Rulebook) sayRisks() (out []string) {
	for _, k := range r.Risks {
		s := strings.ToUpper(causeTitles[k.Cause][:1]) + causeTitles[k.Cause][1:]
		out = append(
			out,
			fmt.Sprintf(
				"%s: %s, %s.",
				s,
				map[SetsOff]string{OffReview: "a review", OffVerification: "a new verification", OffRefusal: "a refusal", OffSuspension: "a suspension"}[k.SetsOff],
				prose.Chance(k.Weight),
			),
		)
	}
	if a := r.Appeal; a.Most > 0 {
		out = append(out, fmt.Sprintf("Appeals: %s, %s, %d in all.", a.How, Span(a.Window), a.Most))
		if a.Chance > 0 {
			out = append(out, fmt.Sprintf("Without a paper an appeal is granted %s.", prose.Chance(a.Chance)))
		}
		for _, e := range a.Evidence {
			whatever := "whatever the cause"
			if len(e.Causes) > 0 {
				titles := make([]string, len(e.Causes))
				for i, cause := range e.Causes {
					titles[i] = CauseTitle(cause)
				}
				whatever = "where the cause is " + oneOf(titles)
			}
			out = append(out, fmt.Sprintf("With the %s %s, %s.", strings.ToLower(paper.Title(e.Paper)), prose.Chance(e.Chance), whatever))
		}
	}
	return out
}

// FieldTitle is what the directory's form calls one of its Fields.
func (r Rulebook) FieldTitle(key string) string {
	if f, ok := r.Takes(key); ok {
		return f.Title()
	}
	for _, t := range r.Texts {
		if t.Key() == key {
			return t.Label
		}
	}
	for _, p := range r.Photos {
		if p.Key() == key {
			return p.Label
		}
	}
	if key == AreasKey {
		return r.Areas.Title()
	}
	return key
}

var methodTitles = map[MethodName]string{
	Postcard: "Postcard",
	Call:     "Call",
	Text:     "Text",
	Email:    "Email",
	Papers:   "Papers",
	Video:    "Video",
	Card:     "Card payment",
	Instant:  "At once, for an account that is known",
	StaffSay: "Their staff",
}

func (r Rulebook) sayMethods() (out []string) {
	switch {
	case r.Worked == Fed:
		return nil
	case len(r.Methods) == 0:
		return []string{"None: whoever adds a listing is believed."}
	}
	for _, m := range r.Methods {
		s := methodTitles[m.Method] + ": "
		if m.AtOnce() {
			s += "at once"
		} else {
			s += "in " + Span(m.Window)
		}
		if m.Code.Digits > 0 {
			s += fmt.Sprintf("; a code of %d digits that works for %s, %s", m.Code.Digits, m.Code.Words(), prose.Count(m.Code.Tries, "try"))
		}
		if len(m.Papers) > 0 {
			s += "; " + oneOf(paperNames(m.Papers))
		}
		if m.Film.MostSeconds > 0 {
			s += fmt.Sprintf("; one take of up to %s that shows %s", prose.Count(m.Film.MostSeconds, "second"), strings.Join(m.Film.Shown(), "; "))
		}
		if m.Charge.Amount > 0 {
			s += "; " + m.Charge.Words() + " is charged to a card in the business’s name"
			if m.Charge.PaidBack {
				s += " and paid back"
			}
		}
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
			s += "; another after " + Code{WorksDays: a.AfterDays, WorksMinutes: a.AfterMinutes}.Words()
		}
		if m.Again.Most > 0 {
			s += fmt.Sprintf(", %d in all", m.Again.Most)
		}
		out = append(out, sentence(s, m.Note))
	}
	switch {
	case len(r.Methods) < 2:
	case r.Together:
		out = append(out, "Tries run beside each other: asking in another way ends none of them.")
	default:
		out = append(out, "One try at a time: asking again ends the one that is under way.")
	}
	return out
}

func paperNames(ids []string) []string {
	out := make([]string, len(ids))
	for i, id := range ids {
		out[i] = strings.ToLower(paper.Title(id))
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

// Words is how long the code works, and from when where that is not from asking: "20 minutes from its arrival".
func (c Code) Words() string {
	out := prose.Count(c.WorksMinutes, "minute")
	if c.WorksDays > 0 {
		out = prose.Count(c.WorksDays, "day")
	}
	if c.WorksFrom == FromArrival {
		out += " from its arrival"
	}
	return out
}
