package httpapi

import (
	"context"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/rounds"
	"uvent/httpapi/api"
)

// ProposeRound lists what a round would do.
func (s *Server) ProposeRound(ctx context.Context, in api.ProposeRoundRequestObject) (api.ProposeRoundResponseObject, error) {
	list, err := s.Desk.Boards.ProposeRound(ctx, within(ctx, in.Params.Client, in.Params.Location), rounds.RoundOf(in.Params.What))
	out := api.ProposeRound200JSONResponse{}
	for _, p := range list {
		says := p.Way.Says
		if p.Says != "" {
			says = p.Says
		}
		out = append(
			out,
			api.ProposedItem{
				Location:      p.Place.Location,
				Label:         p.Location.Label,
				ClientName:    p.Client.Name,
				Directory:     p.Book.ID,
				DirectoryName: p.Book.Name,
				Weight:        p.Book.Weight,
				Method:        string(p.Way.Method),
				Title:         p.Way.Title,
				Says:          says,
				Days:          p.Way.Days,
				Why:           p.Why,
			},
		)
	}
	return out, err
}

// GetUndecided lists searches to decide on.
func (s *Server) GetUndecided(ctx context.Context, in api.GetUndecidedRequestObject) (api.GetUndecidedResponseObject, error) {
	list, err := s.Desk.Boards.ToDecide(ctx, within(ctx, in.Params.Client, in.Params.Location))
	out := api.GetUndecided200JSONResponse{}
	for _, u := range list {
		item := api.Undecided{
			Location:      u.Place.Location,
			Label:         u.Location.Label,
			ClientName:    u.Client.Name,
			Name:          u.Location.Record.Name,
			Address:       u.Location.Record.Address.Line(),
			Directory:     u.Book.ID,
			DirectoryName: u.Book.Name,
			Weight:        u.Book.Weight,
			SearchedAt:    *u.State.SearchedAt,
			Others:        u.Others,
			Missing:       u.Missing,
			MakesItself:   u.Book.Worked == rulebook.Suggestions,
		}
		if u.Best != nil {
			best := candidate(*u.Best)
			item.Best = &best
		}
		out = append(out, item)
	}
	return out, err
}

// StartRound begins a round.
func (s *Server) StartRound(ctx context.Context, in api.StartRoundRequestObject) (api.StartRoundResponseObject, error) {
	items := make([]rounds.RoundItem, len(in.Body.Items))
	for i, item := range in.Body.Items {
		items[i] = rounds.RoundItem{
			Place:  ledger.Place{Location: item.Location, Directory: item.Directory},
			Method: rulebook.MethodName(text(item.Method)),
			Facts:  textsOf(item.Facts),
		}
	}
	id, err := s.Desk.Rounds.StartRound(ctx, person(ctx).Actor(), rounds.RoundOf(in.Body.What), items)
	if err != nil {
		return nil, err
	}
	out, err := s.round(ctx, id)
	return api.StartRound201JSONResponse(out), err
}

// GetRound tells how a round stands.
func (s *Server) GetRound(ctx context.Context, in api.GetRoundRequestObject) (api.GetRoundResponseObject, error) {
	out, err := s.round(ctx, in.Round)
	return api.GetRound200JSONResponse(out), err
}

// StopRound ends a round.
func (s *Server) StopRound(ctx context.Context, in api.StopRoundRequestObject) (api.StopRoundResponseObject, error) {
	if err := s.Desk.Rounds.StopRound(ctx, in.Round); err != nil {
		return nil, err
	}
	out, err := s.round(ctx, in.Round)
	return api.StopRound200JSONResponse(out), err
}

func (s *Server) round(ctx context.Context, id uuid.UUID) (api.Round, error) {
	r, err := s.Desk.Rounds.Round(ctx, id)
	out := api.Round{Id: r.ID, What: api.RoundWhat(r.What), MadeBy: r.MadeBy, MadeAt: r.MadeAt, StoppedAt: r.StoppedAt, Lines: []api.RoundLine{}}
	for _, l := range r.Lines {
		out.Lines = append(
			out.Lines,
			api.RoundLine{Location: l.Location, Label: l.Label, ClientName: l.Client, Directory: l.Directory, DirectoryName: l.DirectoryName,
				Title: verification.Title(l.Method), State: api.RoundLineState(l.State), Says: l.Says},
		)
	}
	return out, err
}

func textsOf(list *[]string) []string {
	if list == nil {
		return nil
	}
	return *list
}
