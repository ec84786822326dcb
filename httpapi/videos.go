package httpapi

import (
	"context"
	"fmt"
	"mime/multipart"
	"strconv"

	"uvent/core/record/record"
	"uvent/core/rule/film"
	"uvent/core/rule/rulebook"
	"uvent/desk/files"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

// readVideo reads a form with a video and what it shows, at which second.
func readVideo(body *multipart.Reader) (up upload, seen film.Seen, err error) {
	if up, err = readUpload(body, film.MostBytes); err != nil {
		return up, seen, err
	}
	seen = film.Seen{At: map[string]int{}, Private: up.fields["private"] == "yes"}
	for _, p := range rulebook.FilmParts {
		text := up.fields[p.ID]
		if text == "" {
			continue
		}
		at, err := strconv.Atoi(text)
		if err != nil {
			message := fmt.Sprintf("%q is no second. Write it as a number.", text)
			return up, seen, &problem.Problem{Kind: problem.Invalid, Detail: message, Fields: []record.Problem{{Path: p.ID, Message: message}}}
		}
		seen.At[p.ID] = at
	}
	return up, seen, nil
}

// AddVideo takes a video in.
func (s *Server) AddVideo(ctx context.Context, in api.AddVideoRequestObject) (api.AddVideoResponseObject, error) {
	up, seen, err := readVideo(in.Body)
	if err != nil {
		return nil, err
	}
	p, err := s.Desk.Files.AddVideo(ctx, person(ctx).Actor(), in.Location, up.name, up.data, seen)
	return api.AddVideo201JSONResponse(paperOf(p)), err
}

// SendOwnerVideo takes in a video that an owner sends.
func (s *Server) SendOwnerVideo(ctx context.Context, in api.SendOwnerVideoRequestObject) (api.SendOwnerVideoResponseObject, error) {
	up, seen, err := readVideo(in.Body)
	if err != nil {
		return nil, err
	}
	if err := s.Desk.Owners.OwnerVideo(ctx, through(in.Secret, in.Thing, in.Params.In), up.name, up.data, seen); err != nil {
		return nil, err
	}
	out, err := s.ownerPage(ctx, in.Secret, spoken(in.Params.In))
	return api.SendOwnerVideo201JSONResponse(out), err
}

func filming(f *files.Filming) *api.Filming {
	if f == nil {
		return nil
	}
	out := &api.Filming{MostSeconds: f.Rule.MostSeconds, Parts: []api.FilmingParts{}, Shots: shots(f.Shots), Doubts: append([]string{}, f.Doubts...)}
	for _, p := range f.Rule.Shows {
		out.Parts = append(out.Parts, api.FilmingParts(p))
	}
	if f.Video != nil {
		out.FileName, out.Seconds = &f.Video.FileName, &f.Video.Film.Seconds
	}
	return out
}

func shots(list []film.Shot) []api.Shot {
	out := []api.Shot{}
	for _, s := range list {
		out = append(out, api.Shot{Part: s.Part, Title: s.Title, How: s.How})
	}
	return out
}
