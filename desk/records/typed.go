package records

import (
	"errors"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
	"uvent/core/fact/hours/said"
	"uvent/core/fact/prose"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/problem"
)

// TypedHours are hours as they are being typed or drawn, and where.
type TypedHours struct {
	Text    string            // opening_hours
	Drawn   [][]hours.Sitting // the usual week, Monday first; nil when it was typed
	Lay     *hours.Special    // special dates to lay over it
	Drop    *Span             // dates of which nothing is to be said by name
	Country string
	Region  string
	Zone    string // IANA; empty for the region's
}

// Span is a stretch of dates, both ends included.
type Span struct {
	From calendar.Date `json:"from"`
	To   calendar.Date `json:"to"`
}

// check says what is wrong with a span that somebody gave.
func (s Span) check() error {
	switch days := s.To.Number() - s.From.Number(); {
	case s.From.Year < 1900 || s.To.Year > 2999:
		return &problem.Problem{Kind: problem.Invalid, Detail: "Give both dates, between 1900 and 2999."}
	case days < 0:
		return &problem.Problem{Kind: problem.Invalid, Detail: "The last date comes before the first."}
	case days > 366:
		return &problem.Problem{Kind: problem.Invalid, Detail: "Special dates span a year at most; change the usual hours instead."}
	}
	return nil
}

// Hours is what hours come to.
type Hours struct {
	Text             string // in normal form; as it was typed when it cannot be read
	Words            string
	Week             hours.Week
	MinutesPerWeek   int
	Errors, Warnings []hours.Error
	Specials         []hours.Special
	Holidays         []hours.Holiday // public holidays of the next twelve months, and what becomes of each
	Zone             string          // empty when it is not known; what follows is then not told
	OpenNow          bool
	NextChange       *time.Time
	CallFrom, CallTo *time.Time // the next stretch in which a call with a code is answered
	Fits             []HoursFit // what each directory can do with them
	HolidaysKnown    bool       // there is a calendar of public holidays for the place
	Said             *Said      // of a text that is no opening_hours, and was read as people write hours
}

// Said is how hours were read that people have written.
type Said struct {
	Sure     bool     `json:"sure"`
	Readings []string `json:"readings"` // each that was a choice
}

// HoursFit is what a directory can do with hours.
type HoursFit struct {
	Book rulebook.Rulebook
	fit.Item
}

// callMinutes is how long a shop must be open for a call with a code.
const callMinutes = 10

// ReadHours reads hours. Of a drawn week the text keeps what it says besides:
// dates, seasons and public holidays.
func (d *Desk) ReadHours(q TypedHours) (Hours, error) {
	out := Hours{Text: q.Text, HolidaysKnown: calendar.KnownIn(q.Country, q.Region)}
	var schedule hours.Schedule
	if q.Text != "" {
		read, warnings, err := hours.Parse(q.Text)
		var wrong hours.Errors
		if written := said.Read(q.Text, said.In{Country: q.Country}); err != nil && written.Read && len(written.Left) == 0 {
			read, warnings, wrong = written.Schedule, nil, nil
			out.Said, err = &Said{written.Sure, append([]string{}, written.Readings...)}, nil
		}
		if errors.As(err, &wrong) && q.Drawn == nil {
			for _, e := range wrong {
				out.Errors = append(out.Errors, *e)
			}
			return out, nil
		}
		schedule, out.Warnings = read, warnings
	}
	if q.Drawn != nil {
		week, err := drawnWeek(q.Drawn)
		if err != nil {
			return out, err
		}
		schedule, out.Warnings = schedule.WithWeek(week), nil
	}
	if q.Lay != nil {
		if err := errors.Join(Span{q.Lay.From, q.Lay.To}.check(), checkSittings(q.Lay.Sittings)); err != nil {
			return out, err
		}
		schedule = schedule.WithSpecial(*q.Lay)
	}
	if q.Drop != nil {
		if err := q.Drop.check(); err != nil {
			return out, err
		}
		schedule = schedule.WithoutSpecial(q.Drop.From, q.Drop.To)
	}
	out.Specials = schedule.Specials()
	out.Text, out.Words, out.Week = schedule.String(), schedule.Words(), schedule.Week()
	out.MinutesPerWeek = out.Week.Minutes()
	place := fit.Read(record.Record{Hours: out.Text, Zone: q.Zone, Address: address.Address{Country: q.Country, Region: q.Region}}, nil, d.clock.Now())
	for _, b := range d.shelf.Books() {
		if i, taken := place.Hours(&b); taken && out.Text != "" {
			out.Fits = append(out.Fits, HoursFit{b, i})
		}
	}
	name := q.Zone
	if name == "" {
		name = address.Zone(q.Country, q.Region, "")
	}
	zone, err := time.LoadLocation(name)
	if name == "" || err != nil || out.Text == "" {
		return out, nil
	}
	now := d.clock.Now()
	holidays := calendar.HolidaysOf(q.Country, q.Region)
	local := schedule.In(zone, holidays)
	out.Holidays = schedule.Holidays(calendar.DateIn(now, zone), holidays)
	out.Zone, out.OpenNow = name, local.Open(now)
	if next, ok := local.Next(now); ok {
		out.NextChange = &next
	}
	if from, to, ok := local.Stretch(now, callMinutes); ok {
		out.CallFrom, out.CallTo = &from, &to
	}
	return out, nil
}

func drawnWeek(drawn [][]hours.Sitting) (w hours.Week, err error) {
	if len(drawn) != len(w) {
		return w, &problem.Problem{Kind: problem.Invalid, Detail: "A week has seven days, Monday first."}
	}
	for i, day := range drawn {
		if err := checkSittings(day); err != nil {
			return w, err
		}
		w[i] = append(w[i], day...)
	}
	return w, nil
}

func checkSittings(day []hours.Sitting) error {
	for _, s := range day {
		if s.Start < 0 || s.Start >= hours.DayMinutes || s.End <= s.Start || s.End > 2*hours.DayMinutes {
			return &problem.Problem{Kind: problem.Invalid, Detail: "A sitting starts between 0 and 1439 and ends after it, by 2880."}
		}
	}
	return nil
}

// ReadPhone reads a number as it is typed in a country.
func (d *Desk) ReadPhone(text, country string) contact.Phone { return contact.ReadPhone(text, country) }

// CheckProse finds what is to be mended in a business's own words.
func (d *Desk) CheckProse(text string) []prose.Finding { return prose.Check(text) }
