package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/reckon/forecast"
	"uvent/core/rule/rulebook"
)

// waysQuestion is a record on a directory, and what is known of verifying there.
type waysQuestion struct {
	Record   json.RawMessage                            `json:"record"`
	Rulebook string                                     `json:"rulebook"`
	Now      time.Time                                  `json:"now"`
	Papers   []string                                   `json:"papers"`
	Past     map[rulebook.MethodName]*verification.Past `json:"past"`
	Offered  []rulebook.MethodName                      `json:"offered"` // left out: it was not asked
}

type wayAnswer struct {
	Method   rulebook.MethodName `json:"method"`
	Open     bool                `json:"open"`
	Says     string              `json:"says"`
	To       string              `json:"to"`
	Earliest *calendar.Date      `json:"earliest"`
	Latest   *calendar.Date      `json:"latest"`
	Chance   float64             `json:"chance"`
	Days     float64             `json:"days"`
	Why      string              `json:"why"`
}

func (q waysQuestion) answer() (any, error) {
	s, book, err := fitQuestion{Record: q.Record, Rulebook: q.Rulebook}.read()
	if err != nil {
		return nil, err
	}
	if q.Now.IsZero() {
		return nil, errors.New("now: write the moment as 2026-11-24T09:12:00-08:00")
	}
	ask := verification.Question{Book: *book, Record: s.Record, State: verification.Start(), Now: q.Now, Past: map[rulebook.MethodName]verification.Past{}}
	for m, p := range q.Past {
		if p == nil || p.Won < 0 || p.Lost < 0 {
			return nil, fmt.Errorf("past.%s: write {\"won\": 0, \"lost\": 0}, counts from 0", m)
		}
		ask.Past[m] = *p
	}
	for _, kind := range q.Papers {
		ask.Papers = append(ask.Papers, verification.Paper{ID: kind, Kind: kind})
	}
	if q.Offered != nil {
		ask.Offered = map[rulebook.MethodName]string{}
		for _, m := range q.Offered {
			ask.Offered[m] = ""
		}
	}
	out := []wayAnswer{}
	for _, w := range verification.Ways(ask) {
		a := wayAnswer{Method: w.Method, Open: w.Open, Says: w.Says, To: w.To, Chance: w.Chance, Days: w.Days, Why: w.Why}
		if w.Window != nil {
			a.Earliest, a.Latest = &w.Window.Earliest, &w.Window.Latest
		}
		out = append(out, a)
	}
	return out, nil
}

// forecastQuestion is listings with what each still waits for.
type forecastQuestion struct {
	Now      time.Time `json:"now"`
	Runs     int       `json:"runs"` // 0: 2,000
	Seed     uint64    `json:"seed"`
	Listings []struct {
		Weight float64    `json:"weight"`
		Needs  []stepSaid `json:"needs"`
		Steps  []stepSaid `json:"steps"`
	} `json:"listings"`
	place
}

type stepSaid struct {
	Name   string        `json:"name"`
	Min    int           `json:"min"`
	Max    int           `json:"max"`
	Unit   calendar.Unit `json:"unit"`
	Began  time.Time     `json:"began"`
	Chance float64       `json:"chance"`
	Silent bool          `json:"silent"`
	Maybe  float64       `json:"maybe"`
	Shared string        `json:"shared"`
}

type spanAnswer struct {
	Likely calendar.Date `json:"likely"`
	Sure   calendar.Date `json:"sure"`
}

type holdAnswer struct {
	Name    string  `json:"name"`
	Listing int     `json:"listing"`
	Waiting int     `json:"waiting"`
	Share   float64 `json:"share"`
}

type dayAnswer struct {
	Date   calendar.Date `json:"date"`
	Low    float64       `json:"low"`
	Likely float64       `json:"likely"`
	High   float64       `json:"high"`
}

// mostRuns is how many runs may be asked for.
const mostRuns = 100_000

func (q forecastQuestion) answer() (any, error) {
	zone, holidays, err := q.read()
	if err != nil {
		return nil, err
	}
	switch {
	case q.Now.IsZero():
		return nil, errors.New("now: write the moment as 2026-11-24T09:12:00-08:00")
	case q.Runs < 0 || q.Runs > mostRuns:
		return nil, fmt.Errorf("runs: %d; 1 to %d can be asked for", q.Runs, mostRuns)
	case q.Runs == 0:
		q.Runs = 2000
	}
	at := calendar.Place{Zone: zone, Holidays: holidays}
	var listings []forecast.Listing
	for i, l := range q.Listings {
		if l.Weight <= 0 {
			return nil, fmt.Errorf("listings.%d.weight: %v is not above 0", i, l.Weight)
		}
		out := forecast.Listing{Weight: l.Weight}
		for _, part := range []struct {
			name string
			in   []stepSaid
			to   *[]forecast.Step
		}{{"needs", l.Needs, &out.Needs}, {"steps", l.Steps, &out.Steps}} {
			for j, s := range part.in {
				path := fmt.Sprintf("listings.%d.%s.%d", i, part.name, j)
				step, err := s.step(at)
				if err != nil {
					return nil, fmt.Errorf("%s.%w", path, err)
				}
				*part.to = append(*part.to, step)
			}
		}
		listings = append(listings, out)
	}
	f := forecast.Run(q.Now, listings, q.Runs, q.Seed)
	answer := struct {
		Half     *spanAnswer  `json:"half"`
		All      *spanAnswer  `json:"all"`
		Listings []spanAnswer `json:"listings"`
		Holds    []holdAnswer `json:"holds"`
		Days     []dayAnswer  `json:"days"`
	}{Listings: []spanAnswer{}, Holds: []holdAnswer{}, Days: []dayAnswer{}}
	if len(listings) > 0 {
		answer.Half, answer.All = &spanAnswer{f.Half.Likely, f.Half.Sure}, &spanAnswer{f.All.Likely, f.All.Sure}
	}
	for _, s := range f.Listings {
		answer.Listings = append(answer.Listings, spanAnswer{s.Likely, s.Sure})
	}
	for _, h := range f.Holds {
		answer.Holds = append(answer.Holds, holdAnswer{h.Name, h.Listing, h.Waiting, h.Share})
	}
	for _, d := range f.Days {
		answer.Days = append(answer.Days, dayAnswer{d.Date, d.Low, d.Likely, d.High})
	}
	return answer, nil
}

func (s stepSaid) step(at calendar.Place) (forecast.Step, error) {
	out := forecast.Step{Name: s.Name, Place: at, Began: s.Began, Chance: s.Chance, Silent: s.Silent, Maybe: s.Maybe, Shared: s.Shared}
	if s.Chance < 0 || s.Chance > 1 || s.Maybe < 0 || s.Maybe > 1 {
		return out, errors.New("chance, maybe: write them from 0 to 1")
	}
	if s.Unit != "" || s.Min != 0 || s.Max != 0 {
		out.Rule = calendar.Rule{Min: s.Min, Max: s.Max, Unit: s.Unit}
		return out, out.Rule.Check()
	}
	return out, nil
}
