package httpapi

import (
	"context"

	"uvent/core/fact/calendar"
	"uvent/core/rule/rulebook"
	"uvent/desk/letters"
	"uvent/httpapi/api"
)

func letterOf(l letters.Letter) api.Letter {
	return api.Letter{To: l.To, Subject: l.Subject, Body: l.Body}
}

// GetIntake says what is still missing of a location.
func (s *Server) GetIntake(ctx context.Context, in api.GetIntakeRequestObject) (api.GetIntakeResponseObject, error) {
	i, err := s.Desk.Records.Intake(ctx, person(ctx).Actor(), in.Location)
	if err != nil {
		return nil, err
	}
	out := api.GetIntake200JSONResponse{Missing: []api.Want{}, Ways: []api.DirectoryWays{}, Letter: letterOf(i.Letter)}
	for _, w := range i.Missing {
		row := api.Want{
			Id:      w.ID,
			Title:   w.Title,
			From:    api.WantFrom(w.From),
			Part:    w.Part,
			Blocks:  append([]string{}, w.Blocks...),
			Opens:   w.Opens,
			Ask:     w.Ask,
			Minutes: w.Takes.Minutes,
		}
		if by := dateOf(w.By); w.By != (calendar.Date{}) {
			takes := rulebook.Span(w.Takes.Wait)
			row.By, row.Takes = &by, &takes
		}
		if fee := dateOf(w.Fee); w.Fee != (calendar.Date{}) {
			takes := rulebook.Span(w.Takes.Fee)
			row.ForAFee, row.FeeTakes = &fee, &takes
		}
		out.Missing = append(out.Missing, row)
	}
	for _, b := range s.Desk.Shelf.Books() {
		if ways, listed := i.Ways[b.ID]; listed {
			out.Ways = append(out.Ways, api.DirectoryWays{Directory: b.ID, Name: b.Name, Ways: waysOf(ways, b, s.Desk.Now())})
		}
	}
	if i.Sent != nil {
		out.Sent = &api.SentLetter{At: i.Sent.At, Actor: i.Sent.Actor, To: i.Sent.To}
	}
	return out, nil
}

// WriteIntakeLetter writes the letter to an owner.
func (s *Server) WriteIntakeLetter(ctx context.Context, in api.WriteIntakeLetterRequestObject) (api.WriteIntakeLetterResponseObject, error) {
	l, err := s.Desk.Records.IntakeLetter(ctx, person(ctx).Actor(), in.Location, append([]string{}, in.Body.Wants...))
	if err != nil {
		return nil, err
	}
	return api.WriteIntakeLetter200JSONResponse(letterOf(l)), nil
}

// AskOwner sends it.
func (s *Server) AskOwner(ctx context.Context, in api.AskOwnerRequestObject) (api.AskOwnerResponseObject, error) {
	if err := s.Desk.Records.AskOwner(ctx, person(ctx), in.Location, in.Body.Wants); err != nil {
		return nil, err
	}
	return api.AskOwner204Response{}, nil
}
