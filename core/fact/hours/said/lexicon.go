package said

import (
	_ "embed"
	"fmt"
	"strings"
	"time"

	"uvent/core/fact/hours"
)

// kind is what a word or a phrase means in hours.
type kind uint8

const (
	unknown     kind = iota
	day              // a weekday
	initial          // a letter that may be one of several weekdays
	days             // several: weekdays, daily
	looseDays        // several, but which is meant differs from place to place: werktags
	holiday          // public holidays
	closed           //
	always           // round the clock
	appointment      // by appointment
	noon             //
	midnight         //
	am               //
	pm               //
	hourMark         // says that a number is an hour of twenty-four: Uhr, h
	to               // from one to the other
	and              //
	except           //
	rest             // the days that nothing else is said of: otherwise
	lunch            // a break: what follows is shut
	open             // an end that nobody knows: till late
	filler           // means nothing here
	month            //
)

// sense is what a word means, with its days or its month.
type sense struct {
	kind  kind
	days  hours.DaySet
	month time.Month
}

const (
	monday hours.DaySet = 1 << iota
	tuesday
	wednesday
	thursday
	friday
	saturday
	sunday
	workdays = monday | tuesday | wednesday | thursday | friday
	weekend  = saturday | sunday
	everyDay = workdays | weekend
)

// language is how hours are said in one: its words and phrases, folded, by the words of a phrase
// with a space between.
type language struct {
	code    string // BCP 47
	name    string
	senses  map[string]sense
	longest int // words of the longest phrase
}

//go:embed words.txt
var text string

// languages are those that are read, in the order in which they are tried.
var languages = func() []*language {
	all, err := lexicon(text)
	if err != nil {
		panic(err) // it ships with this code
	}
	return all
}()

// meanings are the keys of words.txt but for weekdays and months.
var meanings = map[string]sense{
	"weekdays": {
		kind: days,
		days: workdays,
	},
	"weekend":          {kind: days, days: weekend},
	"every day":        {kind: days, days: everyDay},
	"loosely weekdays": {kind: looseDays, days: workdays},
	"holiday": {
		kind: holiday,
	},
	"closed":      {kind: closed},
	"always":      {kind: always},
	"appointment": {kind: appointment},
	"noon":        {kind: noon},
	"midnight":    {kind: midnight},
	"am": {
		kind: am,
	},
	"pm":       {kind: pm},
	"hour":     {kind: hourMark},
	"to":       {kind: to},
	"and":      {kind: and},
	"except":   {kind: except},
	"rest":     {kind: rest},
	"lunch":    {kind: lunch},
	"open end": {kind: open},
	"nothing":  {kind: filler},
}

// meant is what a key of words.txt means; false where it is none.
func meant(key string) (sense, bool) {
	if s, ok := meanings[key]; ok {
		return s, true
	}
	names, letter := strings.CutPrefix(key, "letter ")
	s := sense{kind: day}
	if letter {
		s.kind = initial
	}
	for _, name := range strings.Fields(names) {
		known := false
		for d := range time.Saturday + 1 {
			if strings.EqualFold(d.String(), name) {
				s.days, known = s.days|1<<((d+6)%7), true
			}
		}
		for m := time.January; m <= time.December && !known; m++ {
			if strings.EqualFold(m.String(), name) {
				s, known = sense{kind: month, month: m}, true
			}
		}
		if !known {
			return s, false
		}
	}
	return s, s.days != 0 || s.month != 0
}

// lexicon reads words.txt. No phrase may mean two things in one language.
func lexicon(text string) (all []*language, err error) {
	for i, line := range strings.Split(text, "\n") {
		if line == "" || line[0] == '#' {
			continue
		}
		key, rest, _ := strings.Cut(line, ": ")
		if code, ok := strings.CutPrefix(key, "= "); ok {
			all = append(all, &language{code: code, name: rest, senses: map[string]sense{}})
			continue
		}
		s, known := meant(key)
		if !known || len(all) == 0 {
			return nil, fmt.Errorf("line %d: %q is no meaning", i+1, key)
		}
		l := all[len(all)-1]
		for _, phrase := range strings.Split(rest, ", ") {
			if _, twice := l.senses[phrase]; twice || phrase != fold(strings.TrimSpace(phrase)) {
				return nil, fmt.Errorf("line %d: %q is listed twice, or not folded", i+1, phrase)
			}
			l.senses[phrase] = s
			l.longest = max(l.longest, len(strings.Fields(phrase)))
		}
	}
	return all, nil
}

// habits are the languages of countries, ISO 3166-1, and whether people there count hours by twelve.
var habits = map[string]struct {
	languages string
	twelve    bool
}{
	"US": {
		"en es",
		true,
	},
	"CA": {"en fr", true},
	"GB": {"en", true},
	"IE": {"en", true},
	"AU": {"en", true},
	"NZ": {"en", true},
	"IN": {"en", true},
	"ZA": {"en", true},
	"PH": {
		"en",
		true,
	},
	"SG": {"en", true},
	"MX": {"es", true},
	"CO": {"es", true},
	"VE": {"es", true},
	"PE": {"es", true},
	"DO": {"es", true},
	"PR": {"es en", true},
	"DE": {
		"de",
		false,
	},
	"AT": {"de", false},
	"CH": {"de fr", false},
	"LI": {"de", false},
	"LU": {"fr de", false},
	"FR": {"fr", false},
	"BE": {"fr", false},
	"MC": {"fr", false},
	"ES": {"es", false},
	"AR": {"es", false},
	"CL": {"es", false},
	"UY": {"es", false},
}
