package rulebook

import (
	"fmt"
	"strings"
	"uvent/core/fact/prose"

	"uvent/core/record/record"
)

// Saying is a part of a rulebook in sentences.
type Saying struct {
	About string
	Says  []string
}

// Sayings writes the rulebook for people. name is what another directory is called,
// by its id.
func (r Rulebook) Sayings(name func(id string) string) (out []Saying) {
	for _, s := range []Saying{
		{"Who may be listed", r.sayListing()},
		{"How it is worked", r.sayWork()},
		{"What it takes", r.sayFacts()},
		{"Photos", r.sayPhotos()},
		{"Ways to verify", r.sayMethods()},
		{"Until it shows", r.sayPublishing()},
		{"Held by somebody else", r.sayAccess()},
		{"What a change sets off", r.sayEdits()},
		{"When a location closes", r.sayClosing()},
		{"For what it suspends", r.sayRisks()},
		{"What it copies", r.sayCopies(name)},
		{"What can be said there", r.saySpeaks()},
		{"How it counts days", []string{r.sayCalendar()}},
	} {
		if len(s.Says) > 0 {
			out = append(out, s)
		}
	}
	return out
}

func (r Rulebook) sayListing() []string {
	l := r.Listing
	out := []string{"Locations that are " + kindList(l.Kinds) + "."}
	for _, only := range []struct {
		what string
		of   []string
	}{{"In ", l.Countries}, {"In the region ", l.Regions}, {"In the town of ", l.Towns}, {"On its streets: ", l.Streets}, {"Of one trade: ",
		tradeNames(l.Trades)}} {
		if len(only.of) > 0 {
			out = append(out, only.what+oneOf(only.of)+".")
		}
	}
	if len(l.HideAddress) > 0 {
		out = append(out, "The street is not shown for those that are "+kindList(l.HideAddress)+".")
	}
	return out
}

func kindList(kinds []record.Kind) string {
	words := make([]string, len(kinds))
	for i, k := range kinds {
		words[i] = map[record.Kind]string{record.Premises: "premises", record.GoesToCustomers: "going to customers", record.Both: "both"}[k]
	}
	return oneOf(words)
}

func (r Rulebook) sayWork() (out []string) {
	switch r.Worked {
	case Connected:
		out = append(out, "Connected: Uvent asks it through its interface.")
	case ByHand:
		out = append(out, "By hand, on its own pages; a worksheet gives the values in the order of its form.")
	case Written:
		out = append(out, "In writing: its staff enter what is written to "+r.Staff+".")
	case File:
		out = append(out, "By a file that is handed in.")
	case Fed:
		out = append(out, "Not at all: it takes everything from others.")
	case Suggestions:
		out = append(out, "By suggesting changes, with public evidence, that somebody there reviews.")
	}
	a := r.Account
	if a.Personal {
		out = append(out, "A person’s own account stands behind the business’s.")
	}
	if a.EmailConfirmed {
		out = append(out, "The account’s email has to be confirmed first.")
	}
	if a.Attests {
		out = append(out, "Whoever claims or creates a listing attests that they may speak for the business.")
	}
	for _, c := range a.Classes {
		out = append(out, fmt.Sprintf("From %s on: an account of the class %s.", prose.Count(c.From, "location"), c.Name))
	}
	for _, f := range a.First {
		out = append(out, "First: "+f.Says)
	}
	if p := r.PageAddress; p.Begins != "" {
		s := "The page’s address is made from the name: " + p.Begins + "…"
		if p.MostCharacters > 0 {
			s += fmt.Sprintf(", up to %d characters of it", p.MostCharacters)
		}
		out = append(out, sentence(s, p.Note))
	}
	return out
}

// sentence ends a sentence, and has a note follow it.
func sentence(s, note string) string {
	if note == "" {
		return s + "."
	}
	return s + ". " + note
}

func (r Rulebook) sayFacts() (out []string) {
	for _, f := range r.Facts {
		s := f.Title()
		if f.Required {
			s += ", required"
		}
		if f.Most > 0 {
			s += fmt.Sprintf(", up to %d", f.Most)
		}
		if f.MostCharacters > 0 {
			s += fmt.Sprintf(", up to %d characters", f.MostCharacters)
			if f.Most > 0 {
				s += " each"
			}
		}
		if f.Show != "" {
			s += fmt.Sprintf(", shown only where “%s” is ticked", f.Show)
		}
		out = append(out, sentence(s, f.Note))
	}
	for _, t := range r.Texts {
		s := t.Label
		if t.Required {
			s += ", required"
		}
		out = append(out, sentence(fmt.Sprintf("%s, up to %d characters", s, t.MostCharacters), t.Note))
	}
	if r.Areas.Most > 0 {
		out = append(out, fmt.Sprintf("%s of up to %s.", r.Areas.Title(), prose.Count(r.Areas.Most, "town")))
	}
	if _, taken := r.Takes("hours"); taken {
		out = append(out, r.sayHours())
	}
	if _, taken := r.Takes("category"); taken {
		out = append(out, r.sayCategories())
	}
	return out
}

func (r Rulebook) sayHours() string {
	h := r.Hours
	if h.FreeText {
		return "Hours in words, so that all can be said."
	}
	s := fmt.Sprintf("Hours with up to %s a day", prose.Count(h.SittingsPerDay, "sitting"))
	if h.PastMidnight {
		s += ", also past midnight"
	}
	if h.AgreeWith != "" {
		s += "; they must agree with those on " + h.AgreeWith
	}
	return s + "."
}

func (r Rulebook) sayCategories() string {
	s := fmt.Sprintf("%s of its own; %d of ours have a place there", prose.Count(r.Categories.Most, "category"), len(r.Categories.Map))
	if r.Categories.Other != "" {
		s += ", the rest goes under " + r.Categories.Other
	}
	if r.Categories.StaffOnly {
		s += "; only its staff change them"
	}
	return s + "."
}

func (r Rulebook) sayPhotos() (out []string) {
	for _, p := range r.Photos {
		s := fmt.Sprintf("%s: up to %d, cut to %d by %d pixels, from at least %d by %d", p.Label, p.Most, p.Crop.Width, p.Crop.Height, p.Least.Width, p.Least.Height)
		if p.Crop.Circle {
			s += ", shown in a circle"
		}
		formats := make([]string, len(p.Formats))
		for i, f := range p.Formats {
			formats[i] = strings.ToUpper(string(f))
		}
		s += "; " + strings.Join(formats, ", ") + fmt.Sprintf(" of up to %d KB", p.MostKilobytes)
		if p.Tag != "" {
			s += fmt.Sprintf("; counts only when marked as “%s”", p.Tag)
		}
		if p.With != "" {
			s += "; comes together with " + p.With
		}
		out = append(out, sentence(s, p.Note))
	}
	return out
}

func (r Rulebook) sayPublishing() (out []string) {
	if r.Review.Reviewed() {
		out = append(out, sentence("What is given is looked at by its people for "+Span(r.Review.Window), r.Review.Answers))
	}
	if s := r.SecondLook; s.Chance > 0 {
		out = append(out, fmt.Sprintf("Once it is proved, its people take a second look at %s, for %s.", prose.Chance(s.Chance), Span(s.Window)))
	}
	if r.Publishing.Withdrawn {
		out = append(out, "A new listing stays out of public view until somebody shows it there.")
	}
	return append(
		out,
		fmt.Sprintf(
			"Public in %s. Uvent looks every %s until it shows.",
			Span(r.Publishing.Window),
			strings.TrimPrefix(prose.Count(r.Publishing.LookEveryHours, "hour"), "1 "),
		),
	)
}

func (r Rulebook) sayAccess() (out []string) {
	a := r.Access
	if a.Window.Unit != "" {
		out = append(out, "Whoever holds a listing is asked for it, and should answer in "+Span(a.Window)+".")
	}
	if a.Escalate.Unit != "" {
		s := "Where they do not hand it over, its people decide in " + Span(a.Escalate)
		if len(a.Papers) > 0 {
			s += ", by one of these: " + oneOf(paperNames(a.Papers))
		}
		out = append(out, s+".")
	}
	if a.Chance > 0 {
		out = append(out, "Of holders who are asked, "+prose.Chance(a.Chance)+" hand it over.")
	}
	if len(a.Roles) > 0 {
		out = append(out, "Other accounts may have a role: "+oneOf(a.Roles)+".")
	}
	return out
}

func (r Rulebook) sayClosing() (out []string) {
	for _, t := range []struct {
		what string
		turn Turn
	}{{"Closed for a time", r.Closing.ForATime}, {"Closed for good", r.Closing.ForGood}, {"Moved away", r.Closing.Moved}} {
		how := map[TurnBy]string{ByMark: "it is marked so", ByView: "it has no mark for it; the listing is taken out of public view",
			InWord: "its people are told"}[t.turn.By]
		if how == "" {
			continue
		}
		if t.turn.Final {
			how += ", which cannot be taken back"
		}
		out = append(out, sentence(t.what+": "+how, t.turn.Note))
	}
	if moves := map[Another]string{AnotherTown: "Moved to another town", AnotherStreet: "Moved to another house"}[r.Moving.Another]; moves != "" {
		out = append(out, sentence(moves+": the listing stays with the place where it was, and another is wanted", r.Moving.Note))
	}
	return out
}

func (r Rulebook) sayEdits() (out []string) {
	for _, e := range r.Edits {
		titles := make([]string, len(e.Facts))
		for i, f := range e.Facts {
			titles[i] = r.FieldTitle(f)
		}
		s := strings.Join(titles, ", ") + ": "
		switch e.SetsOff {
		case OffReview:
			s += "a review"
		case OffVerification:
			s += "a new verification"
		case OffWriting:
			s += "taken in writing only"
		case OffRefusal:
			s += "refused"
		}
		if e.Window.Unit != "" {
			s += ", " + Span(e.Window)
		}
		out = append(out, s+".")
	}
	return out
}

func (r Rulebook) sayCopies(name func(string) string) (out []string) {
	for _, c := range r.Copies {
		s := "From " + name(c.From)
		if c.OnRequest {
			s += ", once, when it is asked to"
		}
		s += ", " + Span(c.Window)
		if c.Overwrites {
			s += "; it overwrites what was put right there"
		}
		if n := len(c.Omits); n > 0 {
			titles := make([]string, n)
			for i, f := range c.Omits {
				titles[i] = r.FieldTitle(f)
			}
			s += "; it leaves behind: " + strings.Join(titles, ", ")
		}
		out = append(out, sentence(s, c.OptOut))
	}
	return out
}

// Words says what hours a directory can show: "Takes one sitting a day".
func (h Hours) Words() string {
	out := fmt.Sprintf("Takes %d sittings a day", h.SittingsPerDay)
	if h.SittingsPerDay == 1 {
		out = "Takes one sitting a day"
	}
	if !h.PastMidnight {
		out += ", none past midnight"
	}
	return out
}
