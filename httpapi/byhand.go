package httpapi

import (
	"context"

	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/httpapi/api"
)

func (s *Server) worksheet(ctx context.Context, at ledger.Place) (api.Worksheet, error) {
	w, err := s.Desk.Listings.Worksheet(ctx, person(ctx).Actor(), at)
	if err != nil {
		return api.Worksheet{}, err
	}
	out := api.Worksheet{
		DirectoryName: w.Book.Name,
		Label:         w.Label,
		Worked:        string(w.Book.Worked),
		Page:          w.Page,
		At:            w.At,
		GivenAt:       w.GivenAt,
		Lines:         make([]api.WorksheetLine, len(w.Lines)),
		Missing:       fitItems(w.Missing),
	}
	for i, l := range w.Lines {
		out.Lines[i] = api.WorksheetLine{Value: composed(l.Value), Given: l.Given, Before: l.Before, New: l.New}
	}
	if l := w.Letter; l != nil {
		out.Letter = &struct {
			Body    string `json:"body"`
			Subject string `json:"subject"`
			To      string `json:"to"`
		}{l.Body, l.Subject, l.To}
	}
	return out, nil
}

// GetWorksheet lays out the values to bring to a directory by hand.
func (s *Server) GetWorksheet(ctx context.Context, in api.GetWorksheetRequestObject) (api.GetWorksheetResponseObject, error) {
	out, err := s.worksheet(ctx, ledger.Place{Location: in.Location, Directory: in.Directory})
	return api.GetWorksheet200JSONResponse(out), err
}

// TickValues notes which values were given.
func (s *Server) TickValues(ctx context.Context, in api.TickValuesRequestObject) (api.TickValuesResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	ticks := listings.Ticks{Window: in.Body.Window, Number: in.Body.Number, Page: in.Body.Page}
	for _, v := range in.Body.Values {
		ticks.Values = append(ticks.Values, listings.Tick{Key: v.Key, Text: v.Text, Given: v.Given})
	}
	if err := s.Desk.Listings.TickValues(ctx, person(ctx).Actor(), at, ticks); err != nil {
		return nil, err
	}
	out, err := s.worksheet(ctx, at)
	return api.TickValues200JSONResponse(out), err
}

func text(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

// Give records that the values were brought to a directory.
func (s *Server) Give(ctx context.Context, in api.GiveRequestObject) (api.GiveResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.Give(ctx, person(ctx).Actor(), at, text(in.Body.Page), text(in.Body.Letter)); err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.Give200JSONResponse(out), err
}

// Found records what a person found.
func (s *Server) Found(ctx context.Context, in api.FoundRequestObject) (api.FoundResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.Found(ctx, person(ctx).Actor(), at, listings.FoundThere(in.Body.What), text(in.Body.Page), text(in.Body.HeldBy)); err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.Found200JSONResponse(out), err
}

// Answered records what a directory answered to a person.
func (s *Server) Answered(ctx context.Context, in api.AnsweredRequestObject) (api.AnsweredResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.Answered(ctx, person(ctx).Actor(), at, listings.AnswerThere(in.Body.What), text(in.Body.Page), text(in.Body.Says)); err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.Answered200JSONResponse(out), err
}

// CopyListing has a directory copy our listing from another.
func (s *Server) CopyListing(ctx context.Context, in api.CopyListingRequestObject) (api.CopyListingResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.CopyFrom(ctx, person(ctx).Actor(), at, in.Body.From))
	return api.CopyListing200JSONResponse(out), err
}

// GivePhotos gives a directory the photos that fit there.
func (s *Server) GivePhotos(ctx context.Context, in api.GivePhotosRequestObject) (api.GivePhotosResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.GivePhotos(ctx, person(ctx).Actor(), at))
	return api.GivePhotos200JSONResponse(out), err
}
