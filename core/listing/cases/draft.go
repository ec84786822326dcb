package cases

import (
	"fmt"
	"strings"

	"uvent/core/fact/calendar"
	"uvent/core/fact/prose"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/risk"
)

// Said is what an appeal is drafted from.
type Said struct {
	Record   record.Record
	Case     verification.Case
	Suspects []risk.Suspect
	Mended   []string       // what has been changed since, as sentences
	Shows    []string       // the papers that show the business at its address, in words
	Papers   []string       // the others that go with it
	Since    *calendar.Date // when it was verified
	Most     int            // characters; 0: no limit
}

// Draft is the first text of an appeal: what the business is and where, what they wrote,
// what was changed or how it came about, and what the papers show. It says nothing that is
// not in the facts. It keeps within the limit, cut at a sentence.
func Draft(s Said) string {
	r := s.Record
	var parts []string
	say := func(format string, a ...any) { parts = append(parts, fmt.Sprintf(format, a...)) }
	say("Please look again at our listing of %s, %s.", r.Name, r.Address.Line())
	if s.Case.Notice != "" {
		say("You wrote: “%s”", firstLine(s.Case.Notice))
	}
	if s.Since != nil {
		say("The listing was verified on %s; it is the same business at the same place.", verification.Day(*s.Since))
	}
	if len(s.Mended) > 0 {
		say("We have changed since: %s.", strings.Join(s.Mended, "; "))
	} else if len(s.Suspects) > 0 && !s.Suspects[0].Standing {
		say("We think that this came about by our own edits: %s These were corrections of one and the same business.", s.Suspects[0].Says)
	}
	if r.LegalName != "" && r.LegalName != r.Name {
		say("Its legal name is %s.", strings.TrimSuffix(r.LegalName, "."))
	}
	if len(s.Papers) > 0 {
		say("Attached: %s.", strings.Join(s.Papers, ", "))
	}
	for _, p := range s.Shows {
		say("Attached: %s, which shows the name at this address.", p)
	}
	if again := len(s.Case.Appeals); again > 0 {
		say("To our last appeal you answered: “%s”", firstLine(s.Case.Appeals[again-1].Says))
	}
	text := strings.Join(parts, "\n")
	if s.Most > 0 {
		text, _ = prose.Cut(text, s.Most)
	}
	return text
}

// firstLine is what a notice says first; what follows is about appeals.
func firstLine(text string) string {
	line, _, _ := strings.Cut(text, "\n")
	return line
}
