package httpapi

import (
	"context"
	"time"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/reckon/differences"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/sightings"
	"uvent/httpapi/api"
)

// GetDifferences lists where pages of a scope do not mean what the record says.
func (s *Server) GetDifferences(ctx context.Context, in api.GetDifferencesRequestObject) (api.GetDifferencesResponseObject, error) {
	standing := boards.StandingOpen
	if in.Params.Standing != nil {
		standing = string(*in.Params.Standing)
	}
	list, err := s.Desk.Boards.Differences(ctx, within(ctx, in.Params.Client, in.Params.Location), boards.DifferenceFilter{
		Standings: []string{standing}, Directory: text(in.Params.Directory), Fact: text(in.Params.Fact), Search: text(in.Params.Search), Most: number(in.Params.Most),
	})
	if err != nil {
		return nil, err
	}
	out := api.GetDifferences200JSONResponse{
		Open: list.Open, Pages: list.Pages, People: float32(list.People), Agree: float32(list.Agree), Rows: []api.Difference{}, More: list.More,
	}
	out.Parts = make([]struct {
		Address       int    `json:"address"`
		Directory     string `json:"directory"`
		DirectoryName string `json:"directory_name"`
		Name          int    `json:"name"`
		Pages         int    `json:"pages"`
		Phone         int    `json:"phone"`
		Weight        int    `json:"weight"`
	}, len(list.Parts))
	for i, p := range list.Parts {
		one := &out.Parts[i]
		one.Directory, one.DirectoryName, one.Weight, one.Pages = p.Book.ID, p.Book.Name, p.Book.Weight, p.Pages
		one.Name, one.Address, one.Phone = p.Name, p.Address, p.Phone
	}
	for _, r := range list.Rows {
		if r.Book != nil {
			out.Rows = append(out.Rows, s.difference(r))
		}
	}
	return out, nil
}

func (s *Server) difference(r boards.DifferenceRow) api.Difference {
	k := r.Kept
	out := api.Difference{
		Location:      r.Location,
		Label:         r.Label,
		Client:        r.Client,
		ClientName:    r.ClientName,
		Directory:     r.Directory,
		DirectoryName: r.Book.Name,
		Fact:          k.Fact,
		Title:         k.Title,
		Mark:          k.Mark,
		Record:        k.Record,
		Seen:          k.Seen,
		Says:          k.Says,
		Cannot:        k.Cannot,
		People:        float32(k.People),
		Once:          float32(k.Once),
		Reckoned: unlessEmpty(
			k.Reckoned,
		),
		Days:       []openapi_types.Date{},
		SinceAfter: k.SinceAfter,
		Since:      k.Since,
		Source:     k.Source,
		SourceName: s.sourceName(k.Source),
		Unseen:     k.Unseen,
		Parent:     k.Parent,
		Worked:     r.Book.Worked.Words(),
		Standing:   api.DifferenceStanding(k.Standing), Held: k.Control == string(verification.Held),
		Right: window(r.Window, *r.Book, s.Desk.Now(), nil),
	}
	if k.Parent != "" {
		out.ParentName = unlessEmpty(s.sourceName(k.Parent))
	}
	day := func(t time.Time) openapi_types.Date { return dateOf(calendar.DateOf(t)) }
	for _, d := range k.Days {
		out.Days = append(out.Days, day(d.Time))
	}
	if k.Follows.Valid {
		out.Follows = new(day(k.Follows.Time))
	}
	if k.Overwritten.Valid {
		out.Overwritten = new(day(k.Overwritten.Time))
	}
	return out
}

func (s *Server) sourceName(id string) string {
	if id == differences.Ourselves {
		return "Ourselves"
	}
	return s.Desk.Shelf.DirectoryName(id)
}

func differing(in []api.Differing) (out []sightings.Differing) {
	for _, d := range in {
		out = append(out, sightings.Differing{Place: ledger.Place{Location: d.Location, Directory: d.Directory}, Fact: d.Fact})
	}
	return out
}

// AcceptDifferences accepts differences as they are.
func (s *Server) AcceptDifferences(ctx context.Context, in api.AcceptDifferencesRequestObject) (api.AcceptDifferencesResponseObject, error) {
	var until *calendar.Date
	if in.Body.Until != nil {
		until = new(calendar.DateOf(in.Body.Until.Time))
	}
	err := s.Desk.Sightings.Accept(ctx, person(ctx).Actor(), differing(in.Body.Differences), in.Body.Why, until)
	return api.AcceptDifferences204Response{}, err
}

// TakeUpDifferences takes differences up again that were accepted.
func (s *Server) TakeUpDifferences(ctx context.Context, in api.TakeUpDifferencesRequestObject) (api.TakeUpDifferencesResponseObject, error) {
	return api.TakeUpDifferences204Response{}, s.Desk.Sightings.TakeUp(ctx, person(ctx).Actor(), differing(in.Body.Differences))
}

// TellSighting keeps what somebody saw on a page.
func (s *Server) TellSighting(ctx context.Context, in api.TellSightingRequestObject) (api.TellSightingResponseObject, error) {
	t := sightings.Telling{Source: verification.Source(in.Body.Source), Text: text(in.Body.Text)}
	if in.Body.Facts != nil {
		t.Facts = *in.Body.Facts
	}
	return api.TellSighting204Response{}, s.Desk.Sightings.Tell(ctx, person(ctx).Actor(), ledger.Place{Location: in.Location, Directory: in.Directory}, t)
}
