package httpapi

import (
	"context"

	"uvent/httpapi/api"
)

// GetRecordHistory lists when a record was saved.
func (s *Server) GetRecordHistory(ctx context.Context, in api.GetRecordHistoryRequestObject) (api.GetRecordHistoryResponseObject, error) {
	list, err := s.Desk.Records.RecordHistory(ctx, in.Location)
	if err != nil {
		return nil, err
	}
	out := api.GetRecordHistory200JSONResponse{}
	for _, h := range list {
		row := api.Saved{Id: h.ID, At: h.At, Actor: h.Actor, From: h.From, Added: h.Added, Changes: changesOf(h.Changes)}
		out = append(out, row)
	}
	return out, nil
}

// TakeBack undoes one saving.
func (s *Server) TakeBack(ctx context.Context, in api.TakeBackRequestObject) (api.TakeBackResponseObject, error) {
	l, err := s.Desk.Records.TakeBack(ctx, person(ctx).Actor(), in.Location, in.Saved)
	if err != nil {
		return nil, err
	}
	out, err := s.location(ctx, l)
	return api.TakeBack200JSONResponse(out), err
}
