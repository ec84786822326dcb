package httpapi

import (
	"bytes"
	"context"
	"encoding/csv"
	"strconv"
	"time"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"uvent/core/record/table"
	"uvent/desk/boards"
	"uvent/httpapi/api"
)

// GetLog tells what was done.
func (s *Server) GetLog(ctx context.Context, in api.GetLogRequestObject) (api.GetLogResponseObject, error) {
	p := in.Params
	f := boards.LogFilter{Scope: within(ctx, p.Client, p.Location), Before: p.Before, Actor: p.Actor, Kind: p.Kind, Text: p.Text, Most: number(p.Most)}
	f.From, f.To = days(p.From, p.To)
	lines, err := s.Desk.Boards.Log(ctx, f)
	if err != nil {
		return nil, err
	}
	kinds, err := s.Desk.Boards.LogKinds(ctx)
	out := api.GetLog200JSONResponse{Lines: logLines(lines), Kinds: []api.LogKind{}}
	for _, k := range kinds {
		out.Kinds = append(out.Kinds, api.LogKind{Id: k.ID, Title: k.Title})
	}
	return out, err
}

// days are the moments from the first day on, and until the last has ended.
func days(first, last *openapi_types.Date) (from, to *time.Time) {
	if first != nil {
		from = &first.Time
	}
	if last != nil {
		to = new(last.AddDate(0, 0, 1))
	}
	return from, to
}

func logLines(lines []boards.LogLine) []api.LogLine {
	out := make([]api.LogLine, len(lines))
	for i, l := range lines {
		out[i] = api.LogLine{
			Id:            l.ID,
			At:            l.At,
			Actor:         l.Actor,
			Kind:          l.Kind,
			Says:          l.Says,
			Client:        l.ClientID,
			Location:      l.LocationID,
			Directory:     l.DirectoryID,
			ClientName:    l.ClientName,
			Label:         l.Label,
			DirectoryName: l.Directory,
			Sealed:        l.Sealed,
		}
	}
	return out
}

// mostExported lines are in one file.
const mostExported = 100_000

// ExportLog writes what was done as CSV.
func (s *Server) ExportLog(ctx context.Context, in api.ExportLogRequestObject) (api.ExportLogResponseObject, error) {
	f := boards.LogFilter{Scope: within(ctx, in.Params.Client, in.Params.Location), Actor: in.Params.Actor, Kind: in.Params.Kind, Text: in.Params.Text}
	f.From, f.To = days(in.Params.From, in.Params.To)
	var file bytes.Buffer
	w := csv.NewWriter(&file)
	w.Write([]string{"number", "at", "who", "what", "client", "location", "directory", "kind", "sealed"})
	for n := 0; n < mostExported; {
		lines, err := s.Desk.Boards.Log(ctx, f)
		if err != nil {
			return nil, err
		}
		for _, l := range lines {
			w.Write(
				[]string{
					strconv.FormatInt(l.ID, 10),
					l.At.Format(time.RFC3339),
					table.Guard(l.Actor),
					table.Guard(l.Says),
					table.Guard(l.ClientName),
					table.Guard(l.Label),
					l.Directory,
					l.Kind,
					strconv.FormatBool(l.Sealed),
				},
			)
			f.Before = &l.ID
		}
		if n += len(lines); len(lines) == 0 {
			break
		}
	}
	w.Flush()
	return api.ExportLog200TextcsvResponse{Body: &file, ContentLength: int64(file.Len())}, w.Error()
}
