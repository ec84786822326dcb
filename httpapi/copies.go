package httpapi

import (
	"context"

	"uvent/httpapi/api"
)

// GetCopies writes a record in the open formats.
func (s *Server) GetCopies(ctx context.Context, in api.GetCopiesRequestObject) (api.GetCopiesResponseObject, error) {
	list, err := s.Desk.Records.Copies(ctx, in.Location, in.Params.Whole != nil && *in.Params.Whole)
	if err != nil {
		return nil, err
	}
	out := api.GetCopies200JSONResponse{}
	for _, c := range list {
		out = append(
			out,
			api.Copy{
				Format:    c.Format,
				Title:     c.Title,
				About:     c.About,
				MediaType: c.MediaType,
				Extension: c.Extension,
				Text:      c.Text,
				Lost:      append([]string{}, c.Lost...),
				KeptBack:  append([]string{}, c.KeptBack...),
			},
		)
	}
	return out, nil
}

// ReadCopy reads a document over a record.
func (s *Server) ReadCopy(ctx context.Context, in api.ReadCopyRequestObject) (api.ReadCopyResponseObject, error) {
	r, err := s.Desk.Records.ReadCopy(ctx, in.Location, in.Format, in.Body.Text)
	return api.ReadCopy200JSONResponse(r), err
}
