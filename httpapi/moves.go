package httpapi

import (
	"time"

	"uvent/core/listing/course"
	"uvent/desk/boards"
	"uvent/httpapi/api"
)

// tellMoves tells of a listing whose location is another now for its directory, and of those that were left.
func (s *Server) tellMoves(out *api.Listing, v boards.ListingView) {
	st := v.State
	day := course.Day(v.Book, s.Desk.Now())
	steps := course.Steps(v.Location.Record, day, day, []course.Listing{{Book: v.Book, State: st}})
	if st.Elsewhere(v.Location.Record, *v.Book) && len(steps) > 0 { // a directory that takes all from others asks for none
		next := steps[0]
		out.Elsewhere = &struct {
			Ready bool   `json:"ready"`
			Says  string `json:"says"`
			Stood string `json:"stood"`
		}{next.Act == course.Leave, next.Says, st.Stands.Line()}
	}
	if len(v.Left) == 0 {
		return
	}
	left := make([]struct {
		At    time.Time `json:"at"`
		Page  string    `json:"page"`
		Ref   string    `json:"ref"`
		Stood string    `json:"stood"`
	}, len(v.Left))
	for i, l := range v.Left {
		left[i].At, left[i].Ref, left[i].Stood, left[i].Page = l.At, l.Was.Ref, l.Stood().Line(), l.PageURL
	}
	out.Left = &left
}
