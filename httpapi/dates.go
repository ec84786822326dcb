package httpapi

import (
	"context"
	"strings"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/desk/boards"
	"uvent/desk/records"
	"uvent/httpapi/api"
)

// GetSpecialDates lists the dates of a scope.
func (s *Server) GetSpecialDates(ctx context.Context, in api.GetSpecialDatesRequestObject) (api.GetSpecialDatesResponseObject, error) {
	list, err := s.Desk.Boards.ShownDates(ctx, within(ctx, in.Params.Client, in.Params.Location))
	if err != nil {
		return nil, err
	}
	out := api.GetSpecialDates200JSONResponse{}
	for _, d := range list {
		row := api.SpecialDate{
			From:        dateOf(d.From),
			To:          dateOf(d.To),
			Name:        strings.Join(d.Names, ", "),
			Places:      []api.PlaceOnDate{},
			Directories: []api.DirectoryOnDate{},
		}
		for _, p := range d.Places {
			row.Places = append(
				row.Places,
				api.PlaceOnDate{Location: p.Location, Label: p.Label, ClientName: p.Client, Decided: p.Decided, Words: hours.SittingsWords(p.Sittings)},
			)
		}
		for _, o := range d.Directories {
			row.Directories = append(row.Directories, s.onDate(o))
			row.People += float32(o.People)
		}
		out = append(out, row)
	}
	return out, nil
}

func (s *Server) onDate(o boards.DirectoryOnDate) api.DirectoryOnDate {
	out := api.DirectoryOnDate{
		Directory: o.Book.ID, DirectoryName: o.Book.Name, Weight: o.Book.Weight, Worked: o.Book.Worked.Words(), Pages: o.Pages, Agree: o.Agree(),
		Differ: o.Differ, Sent: o.Sent, Cannot: o.Cannot, Late: o.Late, People: float32(o.People), Window: window(o.Window, *o.Book, s.Desk.Now(), nil),
	}
	if o.LastDay != nil {
		out.LastDay = new(dateOf(*o.LastDay))
	}
	return out
}

// SendDates gives some directories what holds on dates.
func (s *Server) SendDates(ctx context.Context, in api.SendDatesRequestObject) (api.SendDatesResponseObject, error) {
	span := records.Span{From: calendar.DateOf(in.Body.From.Time), To: calendar.DateOf(in.Body.To.Time)}
	id, err := s.Desk.Rounds.SendDates(ctx, person(ctx).Actor(), within(ctx, in.Body.Client, in.Body.Location), span, in.Body.Directories)
	if err != nil {
		return nil, err
	}
	out, err := s.round(ctx, id)
	return api.SendDates201JSONResponse(out), err
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
