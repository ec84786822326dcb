package record

import (
	"slices"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
)

// publicMonths is how far ahead public holidays are told as dates.
const publicMonths = 18

// KeptBack names what of the record its public form does not tell.
func (r Record) KeptBack() (out []string) {
	for _, f := range []struct {
		said bool
		what string
	}{
		{r.Kind == GoesToCustomers && (r.Address.Street != "" || r.Pin != nil), "street and pin"},
		{slices.ContainsFunc(r.Team, func(m Member) bool { return m.Email+m.Phone != "" }), "the team’s emails and phones"},
		{!r.Mailing.Address.Empty() || r.Mailing.Contact != "", "where post goes"},
		{len(r.Former) > 0, "former addresses"},
		{slices.ContainsFunc(r.Socials, func(s Social) bool { return !s.Show }), "social profiles that are not to be shown"},
	} {
		if f.said {
			out = append(out, f.what)
		}
	}
	return out
}

// Public is the record as anybody may see it. Of a location that goes to customers it says neither
// street nor pin, nor anything by which those could be found; of the team no private email or phone;
// of the firm nothing; and where post goes and what we call things stays with us. What it says of
// public holidays is said of their dates, since few who read it know them.
func (r Record) Public(now time.Time) Record {
	r.Label, r.Mailing, r.Former, r.Tags, r.Company, r.Own = "", Mailing{}, nil, Tags{}, Company{Domains: []string{}}, nil
	r.Team = slices.Clone(r.Team)
	for i := range r.Team {
		r.Team[i].Email, r.Team[i].Phone = "", ""
	}
	r.Socials = slices.DeleteFunc(slices.Clone(r.Socials), func(s Social) bool { return !s.Show })
	if schedule, _, err := hours.Parse(r.Hours); err == nil {
		today := r.Today(now)
		until := calendar.DateOf(today.In(time.UTC).AddDate(0, publicMonths, 0))
		r.Hours = schedule.Ahead(today).HolidaysDated(today, until, calendar.HolidaysOf(r.Address.Country, r.Address.Region)).String()
	}
	if r.Kind == GoesToCustomers {
		if zone, known := r.Location(); known {
			r.Zone = zone.String() // it could follow from the pin
		}
		a := r.Address
		r.Address, r.Pin = address.Address{Locality: a.Locality, Region: a.Region, Country: a.Country}, nil
		r.Directions, r.Parking, r.State.To = "", "", ""
		r.Area.Minutes = 0
		r.Area.Towns = slices.Clone(r.Area.Towns)
		for i := range r.Area.Towns {
			r.Area.Towns[i].Minutes = 0 // travel times to three towns tell where they begin
		}
	}
	return r
}
