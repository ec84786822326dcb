package httpapi

import (
	"bytes"
	"context"
	"mime"

	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/desk/files"
	"uvent/httpapi/api"
)

func paperOf(p files.Paper) api.Paper {
	return api.Paper{
		Id:       p.ID,
		Shared:   p.LocationID == nil,
		Kind:     p.Kind,
		Issued:   p.Issued,
		Until:    p.Until,
		FileName: p.FileName,
		Format:   p.Format,
		Pages:    int(p.Pages),
		Bytes:    int(p.Bytes),
		Words:    p.Words,
		AddedBy:  p.AddedBy,
		AddedAt:  p.AddedAt,
	}
}

// GetPapers lists papers.
func (s *Server) GetPapers(ctx context.Context, in api.GetPapersRequestObject) (api.GetPapersResponseObject, error) {
	list, err := s.Desk.Files.Papers(ctx, within(ctx, in.Params.Client, in.Params.Location))
	if err != nil {
		return nil, err
	}
	out := api.GetPapers200JSONResponse{}
	for _, p := range list {
		out = append(out, paperOf(p))
	}
	return out, nil
}

// AddPaper takes a paper in.
func (s *Server) AddPaper(ctx context.Context, in api.AddPaperRequestObject) (api.AddPaperResponseObject, error) {
	up, err := readUpload(in.Body, paper.MostBytes)
	if err != nil {
		return nil, err
	}
	p, err := s.Desk.Files.AddPaper(ctx, person(ctx).Actor(), within(ctx, in.Params.Client, in.Params.Location), up.name, up.data)
	if err != nil {
		return nil, err
	}
	return api.AddPaper201JSONResponse(paperOf(p)), nil
}

// SavePaper changes what is said of a paper.
func (s *Server) SavePaper(ctx context.Context, in api.SavePaperRequestObject) (api.SavePaperResponseObject, error) {
	p, err := s.Desk.Files.SavePaper(ctx, person(ctx).Actor(), in.Paper, files.PaperFacts{Kind: in.Body.Kind, Issued: in.Body.Issued, Until: in.Body.Until})
	if err != nil {
		return nil, err
	}
	return api.SavePaper200JSONResponse(paperOf(p)), nil
}

// RemovePaper takes a paper out.
func (s *Server) RemovePaper(ctx context.Context, in api.RemovePaperRequestObject) (api.RemovePaperResponseObject, error) {
	if err := s.Desk.Files.RemovePaper(ctx, person(ctx).Actor(), in.Paper, false); err != nil {
		return nil, err
	}
	return api.RemovePaper204Response{}, nil
}

// RestorePaper brings a paper back.
func (s *Server) RestorePaper(ctx context.Context, in api.RestorePaperRequestObject) (api.RestorePaperResponseObject, error) {
	if err := s.Desk.Files.RemovePaper(ctx, person(ctx).Actor(), in.Paper, true); err != nil {
		return nil, err
	}
	return api.RestorePaper204Response{}, nil
}

// GetPaperFile sends a paper's file, to be kept rather than shown: a PDF from
// elsewhere is not opened within our own pages.
func (s *Server) GetPaperFile(ctx context.Context, in api.GetPaperFileRequestObject) (api.GetPaperFileResponseObject, error) {
	p, data, err := s.Desk.Files.PaperFile(ctx, in.Paper)
	if err != nil {
		return nil, err
	}
	as := mime.FormatMediaType("attachment", map[string]string{"filename": p.FileName})
	return api.GetPaperFile200ApplicationoctetStreamResponse{
		Body: bytes.NewReader(data), ContentLength: int64(len(data)), Headers: api.GetPaperFile200ResponseHeaders{ContentDisposition: &as},
	}, nil
}

// comparedPaper is a paper held against a record.
func comparedPaper(p files.Compared, ways []verification.Way) api.ComparedPaper {
	out := api.ComparedPaper{Id: p.ID, Kind: paper.Title(p.Kind), FileName: p.FileName, Words: p.Words}
	for _, w := range ways {
		out.Sent = out.Sent || w.Paper == p.ID.String()
	}
	for _, f := range p.Findings {
		out.Findings = append(out.Findings, api.PaperFinding{Fact: f.Fact, Good: f.Good, Line: f.Line, Mend: f.Mend, Record: f.Record, Says: f.Says})
	}
	return out
}

// MendByPaper puts into a record what a paper says.
func (s *Server) MendByPaper(ctx context.Context, in api.MendByPaperRequestObject) (api.MendByPaperResponseObject, error) {
	_, err := s.Desk.Records.Mend(ctx, person(ctx).Actor(), in.Location, in.Body.Paper, string(in.Body.Fact))
	return api.MendByPaper204Response{}, err
}
