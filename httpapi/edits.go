package httpapi

import (
	"context"

	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/httpapi/api"
)

// MergeRecord lays an edit over what the record is now.
func (s *Server) MergeRecord(ctx context.Context, in api.MergeRecordRequestObject) (api.MergeRecordResponseObject, error) {
	m, err := s.Desk.Records.Merge(ctx, in.Location, in.Body.Base, in.Body.Record)
	if err != nil {
		return nil, err
	}
	out := api.MergeRecord200JSONResponse{By: m.By, Record: m.Record, Conflicts: []api.Conflict{}}
	if out.Location, err = s.location(ctx, m.Location); err != nil {
		return nil, err
	}
	for _, c := range m.Conflicts {
		out.Conflicts = append(out.Conflicts, api.Conflict{Path: c.Path, Title: c.Title, Mine: c.Mine, Theirs: c.Theirs})
	}
	return out, nil
}

func changesOf(list []record.Change) []api.RecordChange {
	out := []api.RecordChange{}
	for _, c := range list {
		out = append(out, api.RecordChange{Path: c.Path, Title: c.Title, Before: c.Before, After: c.After})
	}
	return out
}

// GetPlans lists the changes to come.
func (s *Server) GetPlans(ctx context.Context, in api.GetPlansRequestObject) (api.GetPlansResponseObject, error) {
	plans, err := s.Desk.Records.Plans(ctx, in.Location)
	if err != nil {
		return nil, err
	}
	out := api.GetPlans200JSONResponse{}
	for _, p := range plans {
		out = append(out, api.Planned{Id: p.ID, On: dateOf(p.On), Actor: p.Actor, Changes: changesOf(p.Changes), Done: p.Done, Kept: append([]string{}, p.Kept...)})
	}
	return out, nil
}

// PlanChange lets an edit take effect on a date.
func (s *Server) PlanChange(ctx context.Context, in api.PlanChangeRequestObject) (api.PlanChangeResponseObject, error) {
	id, err := s.Desk.Records.PlanChange(ctx, person(ctx).Actor(), in.Location, calendar.DateOf(in.Body.On.Time), in.Body.Edit.Base, in.Body.Edit.Record)
	if err != nil {
		return nil, err
	}
	return api.PlanChange201JSONResponse{Id: id}, nil
}

// DropPlan takes a change that is to come back.
func (s *Server) DropPlan(ctx context.Context, in api.DropPlanRequestObject) (api.DropPlanResponseObject, error) {
	if err := s.Desk.Records.DropPlan(ctx, person(ctx).Actor(), in.Location, in.Plan); err != nil {
		return nil, err
	}
	return api.DropPlan204Response{}, nil
}

// SeeRecord says that a window has a record open, and which others have.
func (s *Server) SeeRecord(ctx context.Context, in api.SeeRecordRequestObject) (api.SeeRecordResponseObject, error) {
	who := person(ctx).Actor()
	others, err := s.Desk.Records.See(ctx, who, in.Location, in.Window, in.Body.Editing)
	if err != nil {
		return nil, err
	}
	out := api.SeeRecord200JSONResponse{}
	for _, p := range others {
		out = append(out, api.Present{Window: p.WindowID, Name: p.Name, You: p.PersonID == who.ID, Editing: p.Editing})
	}
	return out, nil
}

// LeaveRecord says that a window has closed a record.
func (s *Server) LeaveRecord(ctx context.Context, in api.LeaveRecordRequestObject) (api.LeaveRecordResponseObject, error) {
	if err := s.Desk.Records.Leave(ctx, in.Location, in.Window); err != nil {
		return nil, err
	}
	return api.LeaveRecord204Response{}, nil
}

// GetDraft finds what a person was typing.
func (s *Server) GetDraft(ctx context.Context, in api.GetDraftRequestObject) (api.GetDraftResponseObject, error) {
	body, err := s.Desk.Records.Draft(ctx, person(ctx).Actor(), in.Subject)
	if err != nil {
		return nil, err
	}
	return api.GetDraft200JSONResponse{Body: body}, nil
}

// SaveDraft keeps what a person is typing.
func (s *Server) SaveDraft(ctx context.Context, in api.SaveDraftRequestObject) (api.SaveDraftResponseObject, error) {
	if err := s.Desk.Records.SaveDraft(ctx, person(ctx).Actor(), in.Subject, in.Body.Body); err != nil {
		return nil, err
	}
	return api.SaveDraft204Response{}, nil
}

// DropDraft forgets what a person was typing.
func (s *Server) DropDraft(ctx context.Context, in api.DropDraftRequestObject) (api.DropDraftResponseObject, error) {
	if err := s.Desk.Records.DropDraft(ctx, person(ctx).Actor(), in.Subject); err != nil {
		return nil, err
	}
	return api.DropDraft204Response{}, nil
}
