package calendar

import (
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/rickar/cal/v2"
	"github.com/rickar/cal/v2/ca"
	"github.com/rickar/cal/v2/us"
)

// Holiday is a public holiday of one year.
type Holiday struct {
	Name string
	// Date is the day itself, on which shops decide whether to open.
	Date Date
	// Observed is the day offices and post take off instead, when Date falls
	// on a weekend; otherwise it is Date.
	Observed Date
}

// Holidays are the public holidays of a country or of one of its regions. The
// zero value has none. It is safe for concurrent use.
type Holidays struct {
	rules []*cal.Holiday
	years *sync.Map // int -> yearOf
}

type yearOf struct {
	list     []Holiday
	actual   map[Date]bool
	observed map[Date]bool
}

// regions says how a region's public holidays depart from its country's list.
// Sources: Revised Code of Washington 1.16.050; Oregon Revised Statutes
// 187.010; the Employment Standards Act of British Columbia, section 1.
var regions = map[string]struct {
	drop, add []*cal.Holiday
}{
	"US-WA": {drop: []*cal.Holiday{us.ColumbusDay}, add: []*cal.Holiday{nativeAmericanHeritageDay}},
	"US-OR": {drop: []*cal.Holiday{us.ColumbusDay}},
	"CA-BC": {drop: []*cal.Holiday{ca.EasterMonday, ca.BoxingDay, ca.CivicDay}, add: []*cal.Holiday{familyDay, britishColumbiaDay}},
}

var nativeAmericanHeritageDay = us.DayAfterThanksgivingDay.Clone(&cal.Holiday{Name: "Native American Heritage Day", StartYear: 2014})

var familyDay = &cal.Holiday{
	Name: "Family Day", Type: cal.ObservancePublic, StartYear: 2019,
	Month: time.February, Weekday: time.Monday, Offset: 3, Func: cal.CalcWeekdayOffset,
}

var britishColumbiaDay = &cal.Holiday{
	Name: "British Columbia Day", Type: cal.ObservancePublic,
	Month: time.August, Weekday: time.Monday, Offset: 1, Func: cal.CalcWeekdayOffset,
}

// Known reports whether the holidays of a country (ISO 3166-1 alpha-2) are known, or of some of its regions.
func Known(country string) bool { return slices.Contains(Countries(), strings.ToUpper(country)) }

var made sync.Map // "US-WA" -> Holidays

// HolidaysOf returns the public holidays of a country (ISO 3166-1 alpha-2) and
// region (the part after the hyphen in ISO 3166-2; empty for the whole
// country). A region that is not listed has its country's; a country that is
// not known has none, which Known tells apart.
func HolidaysOf(country, region string) Holidays {
	key := strings.ToUpper(country + "-" + region)
	if h, ok := made.Load(key); ok {
		return h.(Holidays)
	}
	rules := slices.Clone(national[strings.ToUpper(country)])
	if own := regional[key]; own != nil {
		rules = slices.Clone(own)
	}
	rules = slices.DeleteFunc(rules, func(h *cal.Holiday) bool { return h.Type == cal.ObservanceOther || h.Type == cal.ObservanceReligious })
	if r, ok := regions[key]; ok {
		rules = slices.DeleteFunc(rules, func(h *cal.Holiday) bool { return slices.Contains(r.drop, h) })
		rules = append(rules, r.add...)
	}
	h, _ := made.LoadOrStore(key, Holidays{rules: rules, years: new(sync.Map)})
	return h.(Holidays)
}

func (h Holidays) year(y int) yearOf {
	if h.years == nil {
		return yearOf{}
	}
	if v, ok := h.years.Load(y); ok {
		return v.(yearOf)
	}
	v := yearOf{actual: map[Date]bool{}, observed: map[Date]bool{}}
	for _, rule := range h.rules {
		actual, observed := rule.Calc(y)
		if actual.IsZero() {
			continue
		}
		day := Holiday{Name: rule.Name, Date: DateOf(actual), Observed: DateOf(observed)}
		v.list = append(v.list, day)
		v.actual[day.Date] = true
		v.observed[day.Observed] = true
	}
	slices.SortFunc(v.list, func(a, b Holiday) int { return a.Date.Compare(b.Date) })
	h.years.Store(y, v)
	return v
}

// In lists a year's holidays by date.
func (h Holidays) In(year int) []Holiday { return slices.Clone(h.year(year).list) }

// On reports whether the date itself is a public holiday: the PH of opening hours.
func (h Holidays) On(d Date) bool {
	if h.years == nil {
		return false
	}
	return h.year(d.Year).actual[d]
}

// Business reports whether offices and post work on the date: no weekend, no
// public holiday and none observed. New Year's Day may be observed in the year
// before its own.
func (h Holidays) Business(d Date) bool {
	if w := d.Weekday(); w == time.Saturday || w == time.Sunday {
		return false
	}
	if h.years == nil {
		return true
	}
	this := h.year(d.Year)
	if this.actual[d] || this.observed[d] {
		return false
	}
	return d.Month != time.December || d.Day < 30 || !h.year(d.Year + 1).observed[d]
}

// AddBusiness is the n-th business day after d; with n = 0 it is d itself, or
// the next business day when d is none.
func (h Holidays) AddBusiness(d Date, n int) Date {
	for !h.Business(d) && n == 0 {
		d = d.Add(1)
	}
	for n > 0 {
		d = d.Add(1)
		if h.Business(d) {
			n--
		}
	}
	return d
}
