package httpapi

import (
	"context"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"uvent/core/fact/calendar"
	"uvent/core/rule/fit"
	"uvent/core/rule/saying"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/httpapi/api"
)

// speaks is what can be said through a listing, and by whom.
func speaks(v boards.ListingView) api.Speaks {
	s := v.Book.Speaks
	out := api.Speaks{
		Kinds:             []api.SpeaksKinds{},
		Buttons:           []api.DirectoryButton{},
		PostsPerMonth:     s.PostsPerMonth,
		RadiusKilometres:  s.PostRadius,
		EventsMostDays:    s.EventsMostDays,
		OffersMostPercent: s.OffersMost,
		Reviews:           s.ReviewsToRead,
		Roles:             append([]string{}, v.Book.Access.Roles...),
	}
	for _, k := range saying.Kinds(s) {
		out.Kinds = append(out.Kinds, api.SpeaksKinds(k))
	}
	for _, name := range s.Buttons {
		out.Buttons = append(out.Buttons, api.DirectoryButton{Name: name, LeadsTo: fit.Leads(name, &v.Location.Record)})
	}
	return out
}

// GetSpoken tells what was said through a listing, and who may say more.
func (s *Server) GetSpoken(ctx context.Context, in api.GetSpokenRequestObject) (api.GetSpokenResponseObject, error) {
	spoken, err := s.Desk.Listings.Spoken(ctx, ledger.Place{Location: in.Location, Directory: in.Directory})
	if err != nil {
		return nil, err
	}
	out := api.GetSpoken200JSONResponse{Left: spoken.Left, Posts: []api.Post{}, Reviews: []api.Review{}, Roles: []api.AccountRole{}}
	for _, p := range spoken.Posts {
		one := api.Post{Kind: api.PostKind(p.Kind), Title: p.Title, Text: &p.Text, Button: &p.Button, Link: &p.Link, RadiusKilometres: &p.Radius, Percent: &p.Percent}
		if d, err := calendar.ParseDate(p.Until); err == nil {
			until := dateOf(d)
			one.Until = &until
		}
		out.Posts = append(out.Posts, one)
	}
	for _, o := range spoken.Opinions {
		out.Reviews = append(out.Reviews, api.Review(o))
	}
	for _, r := range spoken.Roles {
		out.Roles = append(out.Roles, api.AccountRole(r))
	}
	return out, nil
}

// Say says something through a listing.
func (s *Server) Say(ctx context.Context, in api.SayRequestObject) (api.SayResponseObject, error) {
	b, at := in.Body, ledger.Place{Location: in.Location, Directory: in.Directory}
	draft := saying.Draft{
		Kind:    saying.Kind(b.Kind),
		Title:   b.Title,
		Text:    text(b.Text),
		Button:  text(b.Button),
		Link:    text(b.Link),
		Radius:  number(b.RadiusKilometres),
		Percent: number(b.Percent),
		Until:   day(b.Until),
	}
	out, err := s.asked(ctx, at)(s.Desk.Listings.Say(ctx, person(ctx).Actor(), at, draft))
	return api.Say200JSONResponse(out), err
}

func number(n *int) int {
	if n == nil {
		return 0
	}
	return *n
}

func day(d *openapi_types.Date) calendar.Date {
	if d == nil {
		return calendar.Date{}
	}
	return calendar.DateOf(d.Time)
}

// SetRole gives another account a role.
func (s *Server) SetRole(ctx context.Context, in api.SetRoleRequestObject) (api.SetRoleResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.SetRole(ctx, person(ctx).Actor(), at, in.Body.Account, in.Body.Role))
	return api.SetRole200JSONResponse(out), err
}

// Suggest suggests what the record says of a fact.
func (s *Server) Suggest(ctx context.Context, in api.SuggestRequestObject) (api.SuggestResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.Suggest(ctx, person(ctx).Actor(), at, in.Body.Fact, in.Body.Evidence))
	return api.Suggest200JSONResponse(out), err
}

// CountPeople counts who live around a location.
func (s *Server) CountPeople(ctx context.Context, in api.CountPeopleRequestObject) (api.CountPeopleResponseObject, error) {
	people, err := s.Desk.Records.PeopleWithin(ctx, in.Location, in.Params.Kilometres)
	return api.CountPeople200JSONResponse{People: people}, err
}
