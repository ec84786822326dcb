package httpapi

import (
	"context"
	"strings"

	"uvent/core/fact/hours"
	"uvent/desk/records"
	"uvent/httpapi/api"
)

// GetSpecialDates lists the dates of a scope.
func (s *Server) GetSpecialDates(ctx context.Context, in api.GetSpecialDatesRequestObject) (api.GetSpecialDatesResponseObject, error) {
	list, err := s.Desk.Boards.SpecialDates(ctx, within(ctx, in.Params.Client, in.Params.Location))
	if err != nil {
		return nil, err
	}
	out := api.GetSpecialDates200JSONResponse{}
	for _, d := range list {
		row := api.SpecialDate{From: dateOf(d.From), To: dateOf(d.To), Name: strings.Join(d.Names, ", "), Places: []api.PlaceOnDate{}}
		for _, p := range d.Places {
			row.Places = append(
				row.Places,
				api.PlaceOnDate{Location: p.Location, Label: p.Label, ClientName: p.Client, Decided: p.Decided, Words: hours.SittingsWords(p.Sittings)},
			)
		}
		out = append(out, row)
	}
	return out, nil
}

// DecideDates writes what holds on dates.
func (s *Server) DecideDates(ctx context.Context, in api.DecideDatesRequestObject) (api.DecideDatesResponseObject, error) {
	change, saved, err := s.Desk.Records.DecideDates(ctx, person(ctx).Actor(), records.DateDecision{
		Locations: in.Body.Locations, Dates: in.Body.Dates, Usual: in.Body.Usual, Sittings: in.Body.Sittings,
	})
	return api.DecideDates200JSONResponse{Change: change, Saved: saved}, err
}

// UndoChange puts records back.
func (s *Server) UndoChange(ctx context.Context, in api.UndoChangeRequestObject) (api.UndoChangeResponseObject, error) {
	out, err := s.Desk.Records.UndoChange(ctx, person(ctx).Actor(), in.Change)
	return api.UndoChange200JSONResponse{Restored: out.Restored, Left: append([]string{}, out.Left...)}, err
}
