package httpapi

import (
	"context"

	"uvent/httpapi/api"
)

// GetLetters tells what was written to people, and what came of it.
func (s *Server) GetLetters(ctx context.Context, in api.GetLettersRequestObject) (api.GetLettersResponseObject, error) {
	troubled := in.Params.Troubled != nil && *in.Params.Troubled
	list, more, err := s.Desk.Letters.Letters(ctx, in.Params.Before, troubled, within(ctx, in.Params.Client, nil).Clients)
	if err != nil {
		return nil, err
	}
	out := api.GetLetters200JSONResponse{Letters: make([]api.WrittenLetter, len(list))}
	for i, l := range list {
		out.Letters[i] = api.WrittenLetter{
			Id: l.ID, Number: l.Number, To: l.To, Subject: l.Subject, State: api.WrittenLetterState(l.State), Says: l.Says, Tries: l.Tries, At: l.At,
			Aside: l.Aside, ClientName: l.Client, Location: l.Location, Label: unlessEmpty(l.Label),
		}
	}
	if more {
		out.Next = &list[len(list)-1].Number
	}
	return out, nil
}

// SendLetterAgain sends a letter that did not arrive once more.
func (s *Server) SendLetterAgain(ctx context.Context, in api.SendLetterAgainRequestObject) (api.SendLetterAgainResponseObject, error) {
	return api.SendLetterAgain204Response{}, s.Desk.Letters.Again(ctx, person(ctx).Actor(), in.Letter, text(in.Body.To))
}

// PutLetterAside says that a letter that did not arrive needs nothing.
func (s *Server) PutLetterAside(ctx context.Context, in api.PutLetterAsideRequestObject) (api.PutLetterAsideResponseObject, error) {
	return api.PutLetterAside204Response{}, s.Desk.Letters.Aside(ctx, in.Letter, in.Body.Aside)
}
