package httpapi

import (
	"bytes"
	"context"

	"uvent/core/rule/fit"
	"uvent/desk/ledger"
	"uvent/httpapi/api"
)

// mostOwnBytes bounds a file of values of listings' own.
const mostOwnBytes = 4 << 20

// GetOwnValues lists what a listing is given otherwise than its record says.
func (s *Server) GetOwnValues(ctx context.Context, in api.GetOwnValuesRequestObject) (api.GetOwnValuesResponseObject, error) {
	out, err := s.ownValues(ctx, ledger.Place{Location: in.Location, Directory: in.Directory})
	return api.GetOwnValues200JSONResponse(out), err
}

// TryOwnValue says what would become of a value of the listing's own.
func (s *Server) TryOwnValue(ctx context.Context, in api.TryOwnValueRequestObject) (api.TryOwnValueResponseObject, error) {
	t, err := s.Desk.Listings.TryOwn(ctx, ledger.Place{Location: in.Location, Directory: in.Directory}, in.Body.Key, in.Body.Text)
	if err != nil {
		return nil, err
	}
	return api.TryOwnValue200JSONResponse{Item: fitItems([]fit.Item{t.Item})[0], Value: composed(t.Item.Value), Agrees: t.Agrees, Agreed: t.Agreed}, nil
}

// SetOwnValue has a listing be given another value than its record says.
func (s *Server) SetOwnValue(ctx context.Context, in api.SetOwnValueRequestObject) (api.SetOwnValueResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.SetOwn(ctx, person(ctx).Actor(), at, in.Key, in.Body.Text, in.Body.Why); err != nil {
		return nil, err
	}
	out, err := s.ownValues(ctx, at)
	return api.SetOwnValue200JSONResponse(out), err
}

// DropOwnValue has a listing be given what its record says again.
func (s *Server) DropOwnValue(ctx context.Context, in api.DropOwnValueRequestObject) (api.DropOwnValueResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.DropOwn(ctx, person(ctx).Actor(), at, in.Key); err != nil {
		return nil, err
	}
	out, err := s.ownValues(ctx, at)
	return api.DropOwnValue200JSONResponse(out), err
}

// HoldOwnValue notes that a value of the listing's own still holds.
func (s *Server) HoldOwnValue(ctx context.Context, in api.HoldOwnValueRequestObject) (api.HoldOwnValueResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.HoldOwn(ctx, person(ctx).Actor(), at, in.Key); err != nil {
		return nil, err
	}
	out, err := s.ownValues(ctx, at)
	return api.HoldOwnValue200JSONResponse(out), err
}

// ExportOwnValues writes the values of a scope's listings as CSV.
func (s *Server) ExportOwnValues(ctx context.Context, in api.ExportOwnValuesRequestObject) (api.ExportOwnValuesResponseObject, error) {
	var b bytes.Buffer
	if err := s.Desk.Listings.OwnCSV(ctx, &b, within(ctx, in.Params.Client, in.Params.Location)); err != nil {
		return nil, err
	}
	return api.ExportOwnValues200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

// ImportOwnValues sets the values that a file names.
func (s *Server) ImportOwnValues(ctx context.Context, in api.ImportOwnValuesRequestObject) (api.ImportOwnValuesResponseObject, error) {
	up, err := readUpload(in.Body, mostOwnBytes)
	if err != nil {
		return nil, err
	}
	n, err := s.Desk.Listings.ReadOwnCSV(ctx, person(ctx).Actor(), within(ctx, nil, nil), up.data)
	return api.ImportOwnValues200JSONResponse{Changed: n}, err
}

func (s *Server) ownValues(ctx context.Context, at ledger.Place) (out api.OwnValues, err error) {
	v, err := s.Desk.Listings.OwnValues(ctx, at)
	if err != nil {
		return out, err
	}
	out = api.OwnValues{Rules: []api.OwnRule{}, Values: []api.OwnValue{}}
	for _, r := range v.Rules {
		out.Rules = append(
			out.Rules,
			api.OwnRule{Key: r.Key, Title: r.Title, Kind: api.OwnRuleKind(r.Kind), Most: r.Most, Choices: append([]string{}, r.Choices...)},
		)
	}
	for _, i := range v.Items {
		out.Values = append(out.Values, ownValue(i))
	}
	out.Photos = make([]struct {
		Id   string `json:"id"`
		Name string `json:"name"`
	}, len(v.Photos))
	for i, p := range v.Photos {
		out.Photos[i].Id, out.Photos[i].Name = p.ID, p.Name()
	}
	return out, nil
}

func ownValue(i fit.Item) api.OwnValue {
	o := i.Own
	return api.OwnValue{Key: i.Key, Title: i.Title, Text: o.Text, Why: o.Why, By: o.By, At: o.At, Record: o.Record, Asks: o.Asks}
}
