package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"time"

	"github.com/spf13/cobra"

	"uvent/core/fact/calendar"
	"uvent/core/fact/contact"
	"uvent/core/fact/geo"
	"uvent/core/fact/hours"
)

func calcCommand() *cobra.Command {
	c := &cobra.Command{Use: "calc", Short: "Compute one thing: JSON on standard input, JSON on standard output; see docs/calc.md"}
	for name, about := range map[string]string{"hours": "Read opening hours and evaluate them",
		"said-hours": "Read hours as people write them", "window": "Lay a wait on a directory's calendar",
		"phone": "Read a phone number", "reach": "List the towns within a travel time by road",
		"fit": "Hold a record against a rulebook", "compose": "Make the values that a directory is given", "ways": "List the ways to verify a location on a " +
			"directory",
		"differences": "Hold a record against what a page shows, and say what it costs",
		"forecast":    "Say when listings will be public", "risk": "Say what a record or a change of it may set off", "match": "Tell whether two " +
			"descriptions are of one business"} {
		c.AddCommand(&cobra.Command{
			Use: name, Short: about, Args: cobra.NoArgs,
			RunE: func(c *cobra.Command, _ []string) error { return calc(name, c.InOrStdin(), c.OutOrStdout()) },
		})
	}
	c.AddCommand(calcPhotoCommand(), calcSheetCommand(), calcPageCommand())
	return c
}

// calc does one calculation. What cannot be read is an error that names the field.
func calc(name string, in io.Reader, out io.Writer) error {
	d := json.NewDecoder(in)
	d.DisallowUnknownFields()
	var result any
	var err error
	switch name {
	case "hours":
		var q hoursQuestion
		if err = d.Decode(&q); err == nil {
			result, err = q.answer()
		}
	case "window":
		var q windowQuestion
		if err = d.Decode(&q); err == nil {
			result, err = q.answer()
		}
	case "reach":
		var q reachQuestion
		if err = d.Decode(&q); err == nil {
			result, err = q.answer()
		}
	case "fit", "compose":
		var q fitQuestion
		if err = d.Decode(&q); err == nil {
			result, err = map[string]func() (any, error){"fit": q.fit, "compose": q.compose}[name]()
		}
	case "match":
		var q matchQuestion
		if err = d.Decode(&q); err == nil {
			result, err = q.answer()
		}
	case "ways":
		var q waysQuestion
		if err = d.Decode(&q); err == nil {
			result, err = q.answer()
		}
	case "risk":
		var q riskQuestion
		if err = d.Decode(&q); err == nil {
			result, err = q.answer()
		}
	case "forecast":
		var q forecastQuestion
		if err = d.Decode(&q); err == nil {
			result, err = q.answer()
		}
	case "differences":
		var q differencesQuestion
		if err = d.Decode(&q); err == nil {
			result, err = q.answer()
		}
	case "said-hours":
		var q saidHoursQuestion
		if err = d.Decode(&q); err == nil {
			result = q.answer()
		}
	case "phone":
		var q struct{ Phone, Country string }
		if err = d.Decode(&q); err == nil {
			result = contact.ReadPhone(q.Phone, q.Country)
		}
	}
	if err != nil {
		return fmt.Errorf("calc %s: %w", name, err)
	}
	e := json.NewEncoder(out)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	return e.Encode(result)
}

// place is where a calculation takes place.
type place struct {
	Zone    string `json:"zone"`
	Country string `json:"country"`
	Region  string `json:"region"`
}

func (p place) read() (*time.Location, calendar.Holidays, error) {
	zone, err := time.LoadLocation(p.Zone)
	if err != nil || p.Zone == "" || p.Zone == "Local" {
		return nil, calendar.Holidays{}, fmt.Errorf("zone: %q is no time zone; write it as America/Los_Angeles", p.Zone)
	}
	if p.Country != "" && !calendar.Known(p.Country) {
		return nil, calendar.Holidays{}, fmt.Errorf("country: the public holidays of %q are not known; US and CA are", p.Country)
	}
	return zone, calendar.HolidaysOf(p.Country, p.Region), nil
}

type hoursQuestion struct {
	OpeningHours string `json:"opening_hours"`
	place
	At []time.Time `json:"at"`
}

type hoursAnswer struct {
	Normal         string        `json:"normal"`
	Open           []bool        `json:"open"`
	NextChange     []*time.Time  `json:"next_change"` // null: it never changes
	MinutesPerWeek int           `json:"minutes_per_week"`
	Errors         []hours.Error `json:"errors"`
}

func (q hoursQuestion) answer() (hoursAnswer, error) {
	a := hoursAnswer{Open: []bool{}, NextChange: []*time.Time{}, Errors: []hours.Error{}}
	zone, holidays, err := q.read()
	if err != nil {
		return a, err
	}
	schedule, _, err := hours.Parse(q.OpeningHours)
	var wrong hours.Errors
	if errors.As(err, &wrong) {
		for _, e := range wrong {
			a.Errors = append(a.Errors, *e)
		}
		return a, nil
	}
	a.Normal, a.MinutesPerWeek = schedule.String(), schedule.Week().Minutes()
	local := schedule.In(zone, holidays)
	for _, t := range q.At {
		a.Open = append(a.Open, local.Open(t))
		var change *time.Time
		if next, ok := local.Next(t); ok {
			change = &next
		}
		a.NextChange = append(a.NextChange, change)
	}
	return a, nil
}

type windowQuestion struct {
	calendar.Rule
	From time.Time `json:"from"`
	place
	CutOffHour int       `json:"cut_off_hour"`
	Now        time.Time `json:"now"`
}

type windowAnswer struct {
	Earliest calendar.Date  `json:"earliest"`
	Latest   calendar.Date  `json:"latest"`
	State    calendar.State `json:"state"`
}

func (q windowQuestion) answer() (windowAnswer, error) {
	if err := q.Rule.Check(); err != nil {
		return windowAnswer{}, err
	}
	switch {
	case q.From.IsZero():
		return windowAnswer{}, errors.New("from: a time is wanted, as in 2026-11-24T09:12:00-08:00")
	case q.Now.IsZero():
		return windowAnswer{}, errors.New("now: a time is wanted, as in 2026-11-24T09:12:00-08:00")
	case q.CutOffHour < 0 || q.CutOffHour > 23:
		return windowAnswer{}, fmt.Errorf("cut_off_hour: %d is no hour of a day; 0 means none", q.CutOffHour)
	}
	zone, holidays, err := q.read()
	if err != nil {
		return windowAnswer{}, err
	}
	p := calendar.Place{Zone: zone, Holidays: holidays, CutOffHour: q.CutOffHour}
	w := p.Window(q.Rule, q.From)
	return windowAnswer{w.Earliest, w.Latest, p.State(w, q.Now)}, nil
}

type reachQuestion struct {
	Pin struct {
		Latitude  float64 `json:"latitude"`
		Longitude float64 `json:"longitude"`
	} `json:"pin"`
	Minutes float64         `json:"minutes"`
	Network json.RawMessage `json:"network"`
}

type reachAnswer struct {
	Towns   []reachedTown `json:"towns"`
	Outline outline       `json:"outline"`
}

// outline is a GeoJSON geometry (RFC 7946).
type outline struct {
	Type        string           `json:"type"`
	Coordinates [][][][2]float64 `json:"coordinates"`
}

type reachedTown struct {
	Name       string  `json:"name"`
	Population int     `json:"population"`
	Minutes    float64 `json:"minutes"`
}

func (q reachQuestion) answer() (reachAnswer, error) {
	a := reachAnswer{Towns: []reachedTown{}, Outline: outline{"MultiPolygon", [][][][2]float64{}}}
	n, err := geo.Read(q.Network)
	if err != nil {
		return a, fmt.Errorf("network: %w", err)
	}
	pin := geo.Point{Longitude: q.Pin.Longitude, Latitude: q.Pin.Latitude}
	towns, err := n.Within(pin, q.Minutes)
	if err != nil {
		return a, err
	}
	for _, t := range towns {
		a.Towns = append(a.Towns, reachedTown{t.Name, t.Population, math.Round(10*t.Minutes) / 10})
	}
	rings, err := n.Outline(pin, q.Minutes)
	for _, ring := range rings {
		var line [][2]float64
		for _, p := range ring {
			line = append(line, [2]float64{p.Longitude, p.Latitude})
		}
		a.Outline.Coordinates = append(a.Outline.Coordinates, [][][2]float64{line})
	}
	return a, err
}
