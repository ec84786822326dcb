package httpapi

import (
	"context"
	"encoding/json"
	"strings"

	"github.com/google/uuid"

	"uvent/core/reckon/agenda"
	"uvent/core/record/record"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

// foldFilter is which rows of Today a request asks for: ours to move, where it does not say whose.
func foldFilter(scope ledger.Scope, group *api.TaskGroup, directory *string, with *uuid.UUID, search *string) boards.FoldFilter {
	f := boards.FoldFilter{Scope: scope, Group: agenda.Mine, Directory: deref(directory), With: with, Search: strings.TrimSpace(deref(search))}
	if group != nil {
		f.Group = agenda.Group(*group)
	}
	return f
}

// GetFolds lists what is done once.
func (s *Server) GetFolds(ctx context.Context, in api.GetFoldsRequestObject) (api.GetFoldsResponseObject, error) {
	p := in.Params
	var past *boards.FoldKey
	if p.Past != nil {
		past = &boards.FoldKey{}
		if err := json.Unmarshal([]byte(*p.Past), past); err != nil || past.Fold == "" {
			return nil, problem.Fields([]record.Problem{{Path: "past", Message: "it is not what a page said was next"}})
		}
	}
	page, err := s.Desk.Boards.Folds(ctx, foldFilter(within(ctx, p.Client, p.Location), p.Group, p.Directory, p.With, p.Search), past)
	if err != nil {
		return nil, err
	}
	out := api.GetFolds200JSONResponse{Counts: taskCounts(page.Counts), Rows: []api.Fold{}}
	for _, f := range page.Rows {
		out.Rows = append(out.Rows, api.Fold{
			Id:        f.ID,
			Title:     f.Title,
			Count:     f.Count,
			Clients:   f.Clients,
			Locations: f.Locations,
			Minutes:   f.Minutes,
			Loss:      f.Loss,
			Until:     f.Until,
			First:     s.row(f.First),
		})
	}
	if page.Next != nil {
		next, err := json.Marshal(page.Next)
		if err != nil {
			return nil, err
		}
		out.Next = new(string(next))
	}
	return out, nil
}

func taskCounts(n map[agenda.Group]int) api.TaskCounts {
	return api.TaskCounts{Mine: n[agenda.Mine], Owner: n[agenda.Owner], Directory: n[agenda.Directory]}
}

// GetFolded lists the tasks of one row.
func (s *Server) GetFolded(ctx context.Context, in api.GetFoldedRequestObject) (api.GetFoldedResponseObject, error) {
	p, past := in.Params, 0
	if p.Past != nil {
		past = *p.Past
	}
	cells, err := s.Desk.Boards.Folded(ctx, foldFilter(within(ctx, p.Client, p.Location), p.Group, p.Directory, p.With, p.Search), p.Fold, past)
	return api.GetFolded200JSONResponse(s.rows(cells)), err
}

// NoteMatters keeps what somebody says of matters.
func (s *Server) NoteMatters(ctx context.Context, in api.NoteMattersRequestObject) (api.NoteMattersResponseObject, error) {
	return api.NoteMatters204Response{}, s.Desk.Matters.Note(ctx, person(ctx).Actor(), in.Body.Matters, in.Body.Says)
}

// HandMatters hands matters to somebody.
func (s *Server) HandMatters(ctx context.Context, in api.HandMattersRequestObject) (api.HandMattersResponseObject, error) {
	return api.HandMatters204Response{}, s.Desk.Matters.Hand(ctx, person(ctx).Actor(), in.Body.Matters, in.Body.To)
}

// DecideMatters ends matters by a decision.
func (s *Server) DecideMatters(ctx context.Context, in api.DecideMattersRequestObject) (api.DecideMattersResponseObject, error) {
	return api.DecideMatters204Response{}, s.Desk.Matters.Decide(ctx, person(ctx).Actor(), in.Body.Matters, in.Body.Why)
}

// ReopenMatter takes a decision back.
func (s *Server) ReopenMatter(ctx context.Context, in api.ReopenMatterRequestObject) (api.ReopenMatterResponseObject, error) {
	return api.ReopenMatter204Response{}, s.Desk.Matters.Reopen(ctx, person(ctx).Actor(), in.Matter)
}

// PutOffMatters puts matters off.
func (s *Server) PutOffMatters(ctx context.Context, in api.PutOffMattersRequestObject) (api.PutOffMattersResponseObject, error) {
	return api.PutOffMatters204Response{}, s.Desk.Matters.PutOffAll(ctx, person(ctx).Actor(), in.Body.Matters, in.Body.Until, deref(in.Body.Reason))
}

// TakeUpMatters brings matters back.
func (s *Server) TakeUpMatters(ctx context.Context, in api.TakeUpMattersRequestObject) (api.TakeUpMattersResponseObject, error) {
	return api.TakeUpMatters204Response{}, s.Desk.Matters.TakeUpAll(ctx, person(ctx).Actor(), in.Body.Matters)
}

// GetMatters lists what a listing wanted and wants.
func (s *Server) GetMatters(ctx context.Context, in api.GetMattersRequestObject) (api.GetMattersResponseObject, error) {
	list, err := s.Desk.Matters.Of(ctx, ledger.Place{Location: in.Location, Directory: in.Directory})
	if err != nil {
		return nil, err
	}
	out := api.GetMatters200JSONResponse{}
	for _, m := range list {
		one := api.Matter{
			Id:        m.ID,
			Title:     m.Title,
			Kind:      string(m.Kind),
			MayDecide: m.Kind.MayDecide(),
			OpenedAt:  m.OpenedAt,
			EndedAt:   m.EndedAt,
			Notes:     []api.MatterNote{},
		}
		if m.EndedBy != "" {
			one.EndedBy, one.EndedWhy = &m.EndedBy, &m.EndedWhy
		}
		for _, n := range m.Notes {
			one.Notes = append(one.Notes, api.MatterNote{At: n.At, Person: n.Person, Says: n.Says})
		}
		out = append(out, one)
	}
	return out, nil
}

// deref is what an optional word says; empty where it is missing.
func deref(word *string) string {
	if word == nil {
		return ""
	}
	return *word
}
