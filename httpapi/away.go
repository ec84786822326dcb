package httpapi

import (
	"context"
	"strings"
	"time"

	"github.com/google/uuid"

	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/httpapi/api"
)

// GetAway lists what is put away.
func (s *Server) GetAway(ctx context.Context, in api.GetAwayRequestObject) (api.GetAwayResponseObject, error) {
	search := ""
	if in.Params.Search != nil {
		search = *in.Params.Search
	}
	var after *records.Gone
	if in.Params.After != nil {
		at, id, _ := strings.Cut(*in.Params.After, "/")
		g := records.Gone{}
		var noTime, noID error
		g.At, noTime = time.Parse(time.RFC3339Nano, at)
		g.ID, noID = uuid.Parse(id)
		if noTime != nil || noID != nil {
			return nil, problem.Fields([]record.Problem{{Path: "after", Message: "it is not what a page said was next"}})
		}
		after = &g
	}
	rows, more, err := s.Desk.Records.Away(ctx, within(ctx, in.Params.Client, nil), search, after)
	if err != nil {
		return nil, err
	}
	out := api.AwayPage{}
	for _, g := range rows {
		out.Rows = append(out.Rows, api.AwayRow{
			Id: g.ID, Client: g.ClientID, ClientName: g.ClientName, Label: g.Label, OfClient: g.OfClient, At: g.At, EraseAt: g.EraseAt, ErasedAt: g.ErasedAt,
		})
	}
	if out.Rows == nil {
		out.Rows = []api.AwayRow{}
	}
	if more {
		last := rows[len(rows)-1]
		out.Next = last.At.Format(time.RFC3339Nano) + "/" + last.ID.String()
	}
	return api.GetAway200JSONResponse(out), nil
}

// GetLocationLeaving tells what putting a location away would mean.
func (s *Server) GetLocationLeaving(ctx context.Context, in api.GetLocationLeavingRequestObject) (api.GetLocationLeavingResponseObject, error) {
	out, err := s.leaving(ctx, ledger.Scope{Location: &in.Location})
	return api.GetLocationLeaving200JSONResponse(out), err
}

// GetClientLeaving tells what putting a client away would mean.
func (s *Server) GetClientLeaving(ctx context.Context, in api.GetClientLeavingRequestObject) (api.GetClientLeavingResponseObject, error) {
	out, err := s.leaving(ctx, ledger.OfClient(in.Client))
	return api.GetClientLeaving200JSONResponse(out), err
}

func (s *Server) leaving(ctx context.Context, scope ledger.Scope) (api.Leaving, error) {
	l, err := s.Desk.Records.Leaves(ctx, scope)
	out := api.Leaving{Locations: l.Locations, Held: []api.HeldThere{}, Begun: l.Begun, EraseDays: l.EraseDays}
	for _, h := range l.Held {
		name := h.Directory
		if book, err := s.Desk.Shelf.Book(h.Directory); err == nil {
			name = book.Name
		}
		out.Held = append(out.Held, api.HeldThere{Directory: h.Directory, Name: name, Count: h.Count})
	}
	return out, err
}

// PutLocationAway takes a location out of all counts and lists.
func (s *Server) PutLocationAway(ctx context.Context, in api.PutLocationAwayRequestObject) (api.PutLocationAwayResponseObject, error) {
	l, err := s.Desk.Records.PutAway(ctx, person(ctx).Actor(), in.Location)
	if err != nil {
		return nil, err
	}
	out, err := s.location(ctx, l)
	return api.PutLocationAway200JSONResponse(out), err
}

// BringLocationBack brings a location back.
func (s *Server) BringLocationBack(ctx context.Context, in api.BringLocationBackRequestObject) (api.BringLocationBackResponseObject, error) {
	l, err := s.Desk.Records.BringBack(ctx, person(ctx).Actor(), in.Location)
	if err != nil {
		return nil, err
	}
	out, err := s.location(ctx, l)
	return api.BringLocationBack200JSONResponse(out), err
}

// PutClientAway takes a client and its locations out of all counts and lists.
func (s *Server) PutClientAway(ctx context.Context, in api.PutClientAwayRequestObject) (api.PutClientAwayResponseObject, error) {
	c, err := s.Desk.Records.PutClientAway(ctx, person(ctx).Actor(), in.Client)
	return api.PutClientAway200JSONResponse(clientRow(c, 0)), err
}

// BringClientBack brings a client back.
func (s *Server) BringClientBack(ctx context.Context, in api.BringClientBackRequestObject) (api.BringClientBackResponseObject, error) {
	c, err := s.Desk.Records.BringClientBack(ctx, person(ctx).Actor(), in.Client)
	return api.BringClientBack200JSONResponse(clientRow(c, 0)), err
}
