package httpapi

import (
	"bytes"
	"context"

	"github.com/google/uuid"

	"uvent/core/record/record"
	"uvent/core/record/table"
	"uvent/desk/imports"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

func importOf(i imports.Import) api.Import {
	encodings := []string{}
	for _, e := range i.Encodings {
		encodings = append(encodings, string(e))
	}
	return api.Import{
		Id: i.ID, Client: i.Client, FileName: i.FileName, State: api.ImportState(i.State), Trouble: i.Trouble, Done: i.Done, Rows: i.Rows,
		Encoding: string(i.Encoding), Encodings: encodings, Delimiter: i.Delimiter, Header: i.Header, Columns: i.Columns, Samples: i.Samples,
		Skipped: i.Skipped, Counts: i.Counts, Clients: i.Clients, Edits: i.Edits, Last: i.Last,
	}
}

// GetImports lists files.
func (s *Server) GetImports(ctx context.Context, in api.GetImportsRequestObject) (api.GetImportsResponseObject, error) {
	list, err := s.Desk.Imports.Imports(ctx, in.Params.Client, in.Params.Behind)
	if err != nil {
		return nil, err
	}
	out := api.GetImports200JSONResponse{}
	for _, i := range list {
		out = append(out, api.ImportLine{
			Id: i.ID, Client: i.Client, FileName: i.FileName, State: api.ImportState(i.State), Trouble: i.Trouble, Rows: i.Rows, Done: i.Done,
			Counts: i.Counts, CreatedAt: i.CreatedAt, Person: i.Person,
		})
	}
	return out, nil
}

// StartImport keeps a file.
func (s *Server) StartImport(ctx context.Context, in api.StartImportRequestObject) (api.StartImportResponseObject, error) {
	up, err := readUpload(in.Body, table.MostBytes)
	if err != nil {
		return nil, err
	}
	var client *uuid.UUID
	if text, given := up.fields["client"]; given {
		id, err := uuid.Parse(text)
		if err != nil {
			return nil, &problem.Problem{
				Kind:   problem.Invalid,
				Detail: "That is no client.",
				Fields: []record.Problem{{Path: "client", Message: "it is no id of a client"}},
			}
		}
		client = &id
	}
	i, err := s.Desk.Imports.Start(ctx, person(ctx), client, up.name, up.data)
	if err != nil {
		return nil, err
	}
	return api.StartImport201JSONResponse(importOf(i)), nil
}

// GetImport tells how far a file is.
func (s *Server) GetImport(ctx context.Context, in api.GetImportRequestObject) (api.GetImportResponseObject, error) {
	i, err := s.Desk.Imports.Import(ctx, in.Import)
	return api.GetImport200JSONResponse(importOf(i)), err
}

// GetImportRows is a page of a file's rows.
func (s *Server) GetImportRows(ctx context.Context, in api.GetImportRowsRequestObject) (api.GetImportRowsResponseObject, error) {
	page := imports.RowPage{}
	if in.Params.Show != nil {
		page.Show = imports.Show(*in.Params.Show)
	}
	if in.Params.Search != nil {
		page.Search = *in.Params.Search
	}
	if in.Params.Behind != nil {
		page.Behind = *in.Params.Behind
	}
	rows, next, err := s.Desk.Imports.Rows(ctx, in.Import, page)
	if err != nil {
		return nil, err
	}
	out := api.ImportPage{Rows: []api.ImportRow{}, Next: next}
	for _, r := range rows {
		row := api.ImportRow{
			Line: r.Line, Standing: api.ImportRowStanding(r.Standing), Without: r.Without, Guess: r.Guess, In: r.In, Location: r.Location, Client: r.Client,
			Says: r.Says, Readings: r.Readings, Problems: r.Problems, Verdict: api.ImportRowVerdict(r.Verdict), Reasons: r.Reasons, Of: r.Of,
		}
		if o := r.Ours; o != nil {
			row.Ours = &api.ImportOurs{Location: o.Location, Client: o.Client, Label: o.Label, Says: o.Says, Alike: o.Alike}
		}
		out.Rows = append(out.Rows, row)
	}
	return api.GetImportRows200JSONResponse(out), nil
}

// GetImportAlike lists cells that say the same.
func (s *Server) GetImportAlike(ctx context.Context, in api.GetImportAlikeRequestObject) (api.GetImportAlikeResponseObject, error) {
	list, err := s.Desk.Imports.Alike(ctx, in.Import)
	if err != nil {
		return nil, err
	}
	out := api.GetImportAlike200JSONResponse{}
	for _, a := range list {
		out = append(out, api.Alike{Key: a.Key, Column: a.Column, Says: a.Says, Read: a.Read, Sure: a.Sure, Why: a.Why, Waits: a.Waits, Cells: a.Cells, Line: a.Line})
	}
	return out, nil
}

// EditImport says something of a file.
func (s *Server) EditImport(ctx context.Context, in api.EditImportRequestObject) (api.EditImportResponseObject, error) {
	i, err := s.Desk.Imports.Edit(ctx, person(ctx).Actor(), in.Import, *in.Body)
	return api.EditImport200JSONResponse(importOf(i)), err
}

// UndoImportEdit takes back what was said last.
func (s *Server) UndoImportEdit(ctx context.Context, in api.UndoImportEditRequestObject) (api.UndoImportEditResponseObject, error) {
	i, err := s.Desk.Imports.Undo(ctx, in.Import)
	return api.UndoImportEdit200JSONResponse(importOf(i)), err
}

// ApplyImport brings the rows in that can come in.
func (s *Server) ApplyImport(ctx context.Context, in api.ApplyImportRequestObject) (api.ApplyImportResponseObject, error) {
	i, err := s.Desk.Imports.BringIn(ctx, person(ctx).Actor(), in.Import)
	return api.ApplyImport200JSONResponse(importOf(i)), err
}

// TakeImportBack takes a whole file back.
func (s *Server) TakeImportBack(ctx context.Context, in api.TakeImportBackRequestObject) (api.TakeImportBackResponseObject, error) {
	i, err := s.Desk.Imports.TakeBack(ctx, person(ctx).Actor(), in.Import)
	return api.TakeImportBack200JSONResponse(importOf(i)), err
}

// GetImportRest writes the rows that are left, as CSV.
func (s *Server) GetImportRest(ctx context.Context, in api.GetImportRestRequestObject) (api.GetImportRestResponseObject, error) {
	var b bytes.Buffer
	if err := s.Desk.Imports.WriteRest(ctx, in.Import, "", &b); err != nil {
		return nil, err
	}
	return api.GetImportRest200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

// GetImportRestSpreadsheet writes the rows that are left, as XLSX.
func (s *Server) GetImportRestSpreadsheet(
	ctx context.Context,
	in api.GetImportRestSpreadsheetRequestObject,
) (api.GetImportRestSpreadsheetResponseObject, error) {
	var b bytes.Buffer
	if err := s.Desk.Imports.WriteRest(ctx, in.Import, table.XLSX, &b); err != nil {
		return nil, err
	}
	return api.GetImportRestSpreadsheet200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

// GetRemarks lists what could not come in of a location.
func (s *Server) GetRemarks(ctx context.Context, in api.GetRemarksRequestObject) (api.GetRemarksResponseObject, error) {
	list, err := s.Desk.Imports.Remarks(ctx, in.Location)
	if err != nil {
		return nil, err
	}
	out := api.GetRemarks200JSONResponse{}
	for _, r := range list {
		out = append(out, api.Remark{Id: r.ID, Key: r.Key, Column: r.Column, Says: r.Says, Why: r.Why, File: r.File})
	}
	return out, nil
}

// DropRemark puts a remark away.
func (s *Server) DropRemark(ctx context.Context, in api.DropRemarkRequestObject) (api.DropRemarkResponseObject, error) {
	return api.DropRemark204Response{}, s.Desk.Imports.DropRemark(ctx, in.Location, in.Remark)
}
