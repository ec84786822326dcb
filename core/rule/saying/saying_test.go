package saying

import (
	"slices"
	"testing"

	"uvent/core/fact/calendar"
	"uvent/core/rule/rulebook"
)

func TestWhatMayBeSaid(t *testing.T) {
	today := calendar.Date{Year: 2026, Month: 11, Day: 24}
	rules := rulebook.Speaks{PostsPerMonth: 3, PostRadius: 50, EventsMostDays: 21, OffersMost: 30, Buttons: []string{"visit", "call"}}
	for _, c := range []struct {
		name   string
		rules  rulebook.Speaks
		in     Draft
		faults []string // the fields
	}{
		{"a post", rules, Draft{Kind: Post, Title: "Winter hours"}, nil},
		{"without a title", rules, Draft{Kind: Post, Title: "  "}, []string{"title"}},
		{"where nothing is posted", rulebook.Speaks{EventsMostDays: 21}, Draft{Kind: Post, Title: "Winter hours"}, []string{"kind"}},
		{"as far as it goes", rules, Draft{Kind: Post, Title: "Sale", Radius: 50}, nil},
		{"too far", rules, Draft{Kind: Post, Title: "Sale", Radius: 51}, []string{"radius"}},
		{"a radius below nothing", rules, Draft{Kind: Post, Title: "Sale", Radius: -1}, []string{"radius"}},
		{"aimed where nothing is", rulebook.Speaks{PostsPerMonth: 1}, Draft{Kind: Post, Title: "Sale", Radius: 5}, []string{"radius"}},
		{"a button that leads somewhere", rules, Draft{Kind: Post, Title: "Sale", Button: "visit", Link: "https://spokeshave.example"}, nil},
		{"a button that leads nowhere", rules, Draft{Kind: Post, Title: "Sale", Button: "visit"}, []string{"link"}},
		{"a call needs no link", rules, Draft{Kind: Post, Title: "Sale", Button: "call"}, nil},
		{"no such button", rules, Draft{Kind: Post, Title: "Sale", Button: "join", Link: "https://spokeshave.example"}, []string{"button"}},
		{"an event on the last day", rules, Draft{Kind: Event, Title: "Fair", Until: calendar.Date{Year: 2026, Month: 12, Day: 15}}, nil},
		{"an event a day later", rules, Draft{Kind: Event, Title: "Fair", Until: calendar.Date{Year: 2026, Month: 12, Day: 16}}, []string{"until"}},
		{"an event without an end", rules, Draft{Kind: Event, Title: "Fair"}, []string{"until"}},
		{"an event that was", rules, Draft{Kind: Event, Title: "Fair", Until: calendar.Date{Year: 2026, Month: 11, Day: 23}}, []string{"until"}},
		{"an offer at the ceiling", rules, Draft{Kind: Offer, Title: "Tune-up", Percent: 30}, nil},
		{"an offer above it", rules, Draft{Kind: Offer, Title: "Tune-up", Percent: 31}, []string{"percent"}},
		{"an offer of nothing, without a title", rules, Draft{Kind: Offer}, []string{"title", "percent"}},
	} {
		var got []string
		for _, f := range Minds(c.rules, c.in, today) {
			got = append(got, f.Field)
		}
		if !slices.Equal(got, c.faults) {
			t.Errorf("%s: faults of %v, want %v", c.name, got, c.faults)
		}
	}
}
