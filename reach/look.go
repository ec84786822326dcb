package reach

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"
	"time"

	"golang.org/x/net/html"

	"uvent/core/address"
	"uvent/core/calendar"
	"uvent/core/compare"
	"uvent/core/hours"
)

// Look reads a listing's public page. The sighting is nil when the directory
// shows no such page.
func (r *Reach) Look(ctx context.Context, connector, page string) (*compare.Sighting, error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, r.PageURL(connector, page), nil)
	if err != nil {
		return nil, err
	}
	resp, err := r.http.Do(req)
	if err != nil {
		return nil, &Unanswered{err}
	}
	defer resp.Body.Close()
	switch {
	case resp.StatusCode == http.StatusNotFound || resp.StatusCode == http.StatusGone:
		return nil, nil
	case resp.StatusCode != http.StatusOK:
		return nil, &Unanswered{fmt.Errorf("the page answers %s", resp.Status)}
	}
	data, err := io.ReadAll(io.LimitReader(resp.Body, mostBytes))
	if err != nil {
		return nil, &Unanswered{err}
	}
	s, err := ReadPage(data)
	return &s, err
}

// ErrNoFacts means that a page shows no business that could be read.
var ErrNoFacts = errors.New("the page holds no description of a business in JSON-LD")

// ReadPage reads the description of a business in a page's JSON-LD, in
// schema.org's words (https://schema.org/LocalBusiness).
func ReadPage(page []byte) (compare.Sighting, error) {
	z := html.NewTokenizer(bytes.NewReader(page))
	inside := false
	for {
		switch z.Next() {
		case html.ErrorToken:
			return compare.Sighting{}, ErrNoFacts
		case html.StartTagToken:
			t := z.Token()
			inside = false
			if t.Data == "script" {
				for _, a := range t.Attr {
					inside = inside || a.Key == "type" && a.Val == "application/ld+json"
				}
			}
		case html.TextToken:
			if !inside {
				continue
			}
			var b businessLD
			if json.Unmarshal(z.Raw(), &b) == nil && b.Name != "" {
				return b.sighting(), nil
			}
		}
	}
}

// businessLD is the part of LocalBusiness that is read.
type businessLD struct {
	Name      string `json:"name"`
	Telephone string `json:"telephone"`
	Email     string `json:"email"`
	URL       string `json:"url"`
	Category  string `json:"additionalType"`
	Address   struct {
		Street     string `json:"streetAddress"`
		Locality   string `json:"addressLocality"`
		Region     string `json:"addressRegion"`
		PostalCode string `json:"postalCode"`
		Country    string `json:"addressCountry"`
	} `json:"address"`
	Hours []hoursLD `json:"openingHoursSpecification"`
}

// hoursLD is an OpeningHoursSpecification: for a weekday, or for dates.
type hoursLD struct {
	Day     string        `json:"dayOfWeek"`
	Opens   string        `json:"opens"`
	Closes  string        `json:"closes"`
	From    calendar.Date `json:"validFrom"`
	Through calendar.Date `json:"validThrough"`
}

func (b businessLD) sighting() compare.Sighting {
	return compare.Sighting{
		Name: b.Name, Phone: b.Telephone, Email: b.Email, Website: b.URL, Category: b.Category, Hours: openingHours(b.Hours),
		Address: address.Address{Street: b.Address.Street, Locality: b.Address.Locality, Region: b.Address.Region, PostalCode: b.Address.PostalCode, Country: b.Address.Country},
	}
}

// openingHours writes specifications as opening_hours text. One that cannot be
// read is left out. "23:59" closes the day, as schema.org writes it, and equal
// times are a day that is closed.
func openingHours(list []hoursLD) string {
	var week hours.Week
	var dates hours.Schedule
	for _, spec := range list {
		opens, errOpens := time.Parse("15:04", spec.Opens)
		closes, errCloses := time.Parse("15:04", spec.Closes)
		if errOpens != nil || errCloses != nil {
			continue
		}
		s := hours.Sitting{Start: opens.Hour()*60 + opens.Minute(), End: closes.Hour()*60 + closes.Minute()}
		if spec.Closes == "23:59" {
			s.End = hours.DayMinutes
		}
		if s.End < s.Start {
			s.End += hours.DayMinutes
		}
		if spec.From.Year != 0 {
			span := hours.DateSpan{From: monthDay(spec.From), To: monthDay(spec.Through)}
			rule := hours.Rule{Dates: []hours.DateSpan{span}, Sittings: []hours.Sitting{s}}
			if s.Start == s.End {
				rule.Kind, rule.Sittings = hours.Closed, nil
			}
			dates.Rules = append(dates.Rules, rule)
			continue
		}
		for i, name := range []string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"} {
			if strings.HasSuffix(spec.Day, name) && s.Start != s.End {
				week[i] = append(week[i], s)
			}
		}
	}
	return dates.WithWeek(week).String()
}

func monthDay(d calendar.Date) hours.MonthDay {
	return hours.MonthDay{Year: d.Year, Month: d.Month, Day: d.Day}
}
