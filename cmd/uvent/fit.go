package main

import (
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/photo"
	"uvent/core/record/jsonld"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

// fitQuestion is a record held against a rulebook.
type fitQuestion struct {
	Record   json.RawMessage `json:"record"`   // JSON-LD, in schema.org's words
	Rulebook string          `json:"rulebook"` // its text (YAML), or the id of one that ships
	Now      time.Time       `json:"now"`      // zero: the computer's
	Photos   []struct {
		Group  string `json:"group"`
		Width  int    `json:"width"`
		Height int    `json:"height"`
	} `json:"photos"`
}

func (q fitQuestion) read() (*fit.Subject, *rulebook.Rulebook, error) {
	r, err := jsonld.Read(q.Record, record.Record{Kind: record.Premises})
	if err != nil {
		return nil, nil, fmt.Errorf("record: %w", err)
	}
	var book rulebook.Rulebook
	if strings.Contains(q.Rulebook, "\n") {
		var problems []rulebook.Problem
		if book, problems = rulebook.Parse("rulebook", []byte(q.Rulebook)); problems != nil {
			return nil, nil, problems[0]
		}
	} else if book, err = rulebooks.Read(q.Rulebook); err != nil {
		return nil, nil, fmt.Errorf("rulebook: %q is neither a rulebook's text nor the id of one that ships", q.Rulebook)
	}
	if q.Now.IsZero() {
		q.Now = time.Now()
	}
	var photos []fit.Photo
	for _, p := range q.Photos {
		photos = append(photos, fit.Photo{Group: p.Group, Size: photo.Size{Width: p.Width, Height: p.Height}, Focus: photo.Middle})
	}
	return fit.Read(r, photos, q.Now), &book, nil
}

type fitItem struct {
	Key      string       `json:"key"`
	Title    string       `json:"title"`
	State    fit.State    `json:"state"`
	Says     string       `json:"says"`
	Required bool         `json:"required"`
	Weight   int          `json:"weight"`
	Minutes  int          `json:"minutes"`
	Mark     compare.Mark `json:"mark"`
	Lost     []string     `json:"lost"`
	Cost     fitCost      `json:"cost"`
}

type fitCost struct {
	OpenWhileShut int             `json:"open_while_shut"` // minutes a week
	ShutWhileOpen int             `json:"shut_while_open"` // minutes a week
	Days          []calendar.Date `json:"days"`
	People        float64         `json:"people"` // a week
}

type fitGain struct {
	Key     string  `json:"key"`
	Percent float64 `json:"percent"`
	Minutes int     `json:"minutes"`
}

// fit answers what is missing, broken or lost, and how complete a listing can be.
func (q fitQuestion) fit() (any, error) {
	s, book, err := q.read()
	if err != nil {
		return nil, err
	}
	f := fit.Of(s, book)
	out := struct {
		Directory string    `json:"directory"`
		Not       string    `json:"not"`
		Percent   float64   `json:"percent"`
		Next      *fitGain  `json:"next"`
		Items     []fitItem `json:"items"`
	}{Directory: book.ID, Not: f.Not, Percent: f.Percent, Items: []fitItem{}}
	if g, ok := f.Next(); ok {
		out.Next = &fitGain{g.Key, g.Percent, g.Minutes}
	}
	for _, i := range f.Items {
		out.Items = append(out.Items, fitItem{
			i.Key, i.Title, i.State, i.Says, i.Required, i.Weight, i.Minutes, i.Mark, append([]string{}, i.Lost...),
			fitCost{i.Cost.OpenWhileShut, i.Cost.ShutWhileOpen, append([]calendar.Date{}, i.Cost.Days...), i.Cost.People},
		})
	}
	return out, nil
}

// compose answers with the exact values to give.
func (q fitQuestion) compose() (any, error) {
	s, book, err := q.read()
	if err != nil {
		return nil, err
	}
	out := struct {
		Directory string         `json:"directory"`
		Not       string         `json:"not"`
		Values    fit.Values     `json:"values"`
		Facts     map[string]any `json:"facts"`
	}{Directory: book.ID, Not: book.MayList(s.Record), Values: fit.Values{}, Facts: map[string]any{}}
	if out.Not == "" {
		out.Values = fit.Of(s, book).Values()
		out.Facts = out.Values.Facts()
	}
	return out, nil
}
