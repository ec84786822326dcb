package main

import (
	"uvent/core/fact/hours/said"
)

type saidHoursQuestion struct {
	Text      string   `json:"text"`
	Country   string   `json:"country"`
	Languages []string `json:"languages"`
}

type saidHoursAnswer struct {
	OpeningHours string      `json:"opening_hours"` // empty: nothing could be read
	Sure         bool        `json:"sure"`
	Readings     []string    `json:"readings"`
	Left         []said.Left `json:"left"`
}

func (q saidHoursQuestion) answer() saidHoursAnswer {
	r := said.Read(q.Text, said.In{Country: q.Country, Languages: q.Languages})
	a := saidHoursAnswer{Sure: r.Sure, Readings: append([]string{}, r.Readings...), Left: append([]said.Left{}, r.Left...)}
	if r.Read {
		a.OpeningHours = r.Schedule.String()
	}
	return a
}
