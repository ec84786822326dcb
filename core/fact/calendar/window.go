package calendar

import (
	"fmt"
	"time"
)

// Unit is what a window is counted in.
type Unit string

const (
	BusinessDays Unit = "business_days"
	Days         Unit = "days"
)

// Rule is a wait as a directory words it: "6 to 12 business days".
type Rule struct {
	Min  int  `json:"min"`  // units until the earliest day; 0 is the day itself
	Max  int  `json:"max"`  // units until the latest day, at least Min
	Unit Unit `json:"unit"` // "business_days" or "days"
}

// Check reports what is wrong with a rule.
func (r Rule) Check() error {
	switch {
	case r.Unit != BusinessDays && r.Unit != Days:
		return fmt.Errorf("unit: %q is not known; write %q or %q", r.Unit, BusinessDays, Days)
	case r.Min < 0 || r.Max < 0:
		return fmt.Errorf("min: a wait of %d to %d %s is negative; count from 0", r.Min, r.Max, r.Unit)
	case r.Max < r.Min:
		return fmt.Errorf("max: %d is less than min, %d", r.Max, r.Min)
	case r.Max > 3650:
		return fmt.Errorf("max: %d is more than ten years of days", r.Max)
	}
	return nil
}

// Place is where a directory keeps its calendar.
type Place struct {
	Zone     *time.Location
	Holidays Holidays
	// CutOffHour is the local hour, 1 to 23, from which a request counts as
	// made on the next business day. 0 means that there is none.
	CutOffHour int
}

// State is where a moment stands to a window.
type State string

const (
	Before State = "before"
	Due    State = "due"
	Late   State = "late"
)

// Window is the stretch of local dates in which something should happen.
type Window struct {
	From     time.Time `json:"from"`
	Earliest Date      `json:"earliest"`
	Latest   Date      `json:"latest"`
}

// Window lays a rule from an instant on the place's calendar. Weekends and
// observed public holidays are no business days. A request on a business day
// after the cut-off hour counts from the next business day. The rule must
// have passed Check.
func (p Place) Window(r Rule, from time.Time) Window {
	local := from.In(p.Zone)
	base := DateOf(local)
	if p.CutOffHour > 0 && local.Hour() >= p.CutOffHour && p.Holidays.Business(base) {
		base = p.Holidays.AddBusiness(base, 1)
	}
	w := Window{From: from}
	if r.Unit == BusinessDays {
		w.Earliest, w.Latest = p.Holidays.AddBusiness(base, r.Min), p.Holidays.AddBusiness(base, r.Max)
	} else {
		w.Earliest, w.Latest = base.Add(r.Min), base.Add(r.Max)
	}
	return w
}

// State at now, by the local date at the place.
func (p Place) State(w Window, now time.Time) State {
	today := DateOf(now.In(p.Zone))
	switch {
	case today.Before(w.Earliest):
		return Before
	case w.Latest.Before(today):
		return Late
	}
	return Due
}

// StartOf is the first instant of the window's earliest day, from which it is due.
func (p Place) StartOf(w Window) time.Time { return w.Earliest.In(p.Zone) }

// EndOf is the first instant after the window's latest day, from which it is late.
func (p Place) EndOf(w Window) time.Time { return w.Latest.Add(1).In(p.Zone) }
