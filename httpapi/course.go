package httpapi

import (
	"context"

	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/rounds"
	"uvent/httpapi/api"
)

// turnOf reads what is to become of some locations.
func turnOf(in api.Turn) rounds.Turn {
	out := rounds.Turn{State: record.State{Kind: record.StateKind(in.State.Kind), To: text(in.State.To)}, Address: in.Address}
	if in.State.Until != nil {
		out.State.Until = calendar.DateOf(in.State.Until.Time).String()
	}
	if in.On != nil {
		on := calendar.DateOf(in.On.Time)
		out.On = &on
	}
	return out
}

func courseSteps(steps []rounds.PlannedStep) []api.CourseStep {
	out := make([]api.CourseStep, len(steps))
	for i, s := range steps {
		out[i] = api.CourseStep{
			Location:      s.Place.Location,
			Label:         s.Label,
			Directory:     s.Book.ID,
			DirectoryName: s.Book.Name,
			Weight:        s.Book.Weight,
			Act:           api.CourseStepAct(s.Act),
			Facts:         []string{},
			On:            dateOf(s.On),
			After:         s.After,
			Says:          s.Says,
			Words:         s.Words,
			Final:         s.Final,
			Verifies:      s.Verifies,
			Busy:          s.Busy,
			Now:           s.Now,
		}
		for _, key := range s.Step.Facts {
			out[i].Facts = append(out[i].Facts, s.Book.FieldTitle(key))
		}
	}
	return out
}

// GetCourse lists what directories are to be told now.
func (s *Server) GetCourse(ctx context.Context, in api.GetCourseRequestObject) (api.GetCourseResponseObject, error) {
	steps, err := s.Desk.Rounds.Course(ctx, within(ctx, in.Params.Client, in.Params.Location))
	return api.GetCourse200JSONResponse(courseSteps(steps)), err
}

// LayOutCourse tells what a change of state would come to.
func (s *Server) LayOutCourse(ctx context.Context, in api.LayOutCourseRequestObject) (api.LayOutCourseResponseObject, error) {
	steps, err := s.Desk.Rounds.LayOut(ctx, in.Body.Locations, turnOf(*in.Body))
	return api.LayOutCourse200JSONResponse(courseSteps(steps)), err
}

// SetCourse closes locations, opens them again or moves them.
func (s *Server) SetCourse(ctx context.Context, in api.SetCourseRequestObject) (api.SetCourseResponseObject, error) {
	out, err := s.Desk.Rounds.SetCourse(ctx, person(ctx).Actor(), in.Body.Locations, turnOf(*in.Body))
	return api.SetCourse201JSONResponse{Batch: out.Batch, Round: out.Round, Changed: out.Changed, Planned: out.Planned}, err
}

// UnsetCourse takes such a change back.
func (s *Server) UnsetCourse(ctx context.Context, in api.UnsetCourseRequestObject) (api.UnsetCourseResponseObject, error) {
	out, err := s.Desk.Rounds.Unset(ctx, person(ctx).Actor(), in.Batch)
	return api.UnsetCourse200JSONResponse{Restored: out.Restored, Left: append([]string{}, out.Left...)}, err
}

// TellDirectory notes that a directory's people were told.
func (s *Server) TellDirectory(ctx context.Context, in api.TellDirectoryRequestObject) (api.TellDirectoryResponseObject, error) {
	return api.TellDirectory204Response{}, s.Desk.Listings.Tell(ctx, person(ctx).Actor(), ledger.Place{Location: in.Location, Directory: in.Directory})
}
