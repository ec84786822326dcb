package httpapi

import (
	"context"
	"fmt"
	"time"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"uvent/core/fact/calendar"
	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

func risks(list []risk.Risk) []api.Risk {
	out := make([]api.Risk, len(list))
	for i, r := range list {
		out[i] = api.Risk{
			Cause:    r.Cause,
			Title:    r.Title,
			Says:     r.Says,
			Mend:     r.Mend,
			Facts:    append([]string{}, r.Facts...),
			Weight:   float32(r.Weight),
			SetsOff:  api.SetsOff(r.SetsOff),
			Standing: r.Standing,
		}
	}
	return out
}

// GetRisks tells what in a record is a risk, by directory.
func (s *Server) GetRisks(ctx context.Context, in api.GetRisksRequestObject) (api.GetRisksResponseObject, error) {
	list, err := s.Desk.Boards.Risks(ctx, in.Location)
	if err != nil {
		return nil, err
	}
	out := make(api.GetRisks200JSONResponse, len(list))
	for i, d := range list {
		out[i] = api.Danger{Directory: d.Book.ID, DirectoryName: d.Book.Name, Risks: risks(d.Risks), Worst: api.SetsOff(d.Worst), Chance: float32(d.Chance)}
	}
	return out, nil
}

// caution is what a change may set off, and the gentlest order.
func caution(c listings.Caution, b *rulebook.Rulebook) api.Caution {
	out := api.Caution{Risks: risks(c.Risks), Chance: float32(c.Chance), Steps: []api.SendStep{}}
	if c.Worst != "" {
		worst := api.SetsOff(c.Worst)
		out.Worst = &worst
	}
	for _, step := range c.Steps {
		one := api.SendStep{Keys: step.Facts, Titles: []string{}}
		for _, k := range step.Facts {
			one.Titles = append(one.Titles, b.FieldTitle(k))
		}
		if step.Meets.SetsOff != "" {
			one.Meets = step.Meets.Meets()
		}
		if one.Chance = float32(step.Chance); step.Worst != "" {
			worst := api.SetsOff(step.Worst)
			one.Worst = &worst
		}
		if step.After != nil {
			after := step.After.Settles()
			one.After = &after
		}
		out.Steps = append(out.Steps, one)
	}
	return out
}

func caseFacts(c verification.Case, now time.Time) api.CaseFacts {
	out := api.CaseFacts{
		Id:         c.ID,
		Kind:       api.CaseKind(c.Kind),
		Title:      cases.Title(c.Kind),
		OpenedAt:   c.OpenedAt,
		By:         c.By,
		Notice:     c.Notice,
		Says:       c.Says,
		CauseTitle: rulebook.CauseTitle(c.Cause),
		ClosedAt:   c.ClosedAt,
	}
	end := now
	if c.ClosedAt != nil {
		outcome := api.CaseFactsOutcome(c.Outcome)
		end, out.Outcome = *c.ClosedAt, &outcome
	}
	out.Days = int(end.Sub(c.OpenedAt).Hours() / 24)
	return out
}

func (s *Server) caseStep(step cases.Step, b *rulebook.Rulebook) api.CaseStep {
	return api.CaseStep{
		Title:  step.Title,
		Says:   step.Says,
		State:  api.CaseStepState(step.State),
		Act:    api.CaseStepAct(step.Act),
		Fact:   step.Fact,
		Window: window(step.Window, *b, s.Desk.Now(), nil),
	}
}

// caseRow is a case as a row of a list.
func (s *Server) caseRow(c boards.CaseRow) api.CaseRow {
	out := api.CaseRow{
		Row:   s.row(boards.Cell{Place: c.Place, Book: c.Book, State: c.State, Location: c.Location, Client: c.Client}),
		Facts: caseFacts(c.Case, s.Desk.Now()),
	}
	if c.Next != nil {
		step := s.caseStep(*c.Next, c.Book)
		out.Next = &step
	}
	for _, o := range c.State.Cases {
		if o.Open() {
			out.OpenOnListing++
		}
	}
	return out
}

// GetCases lists a scope's cases.
func (s *Server) GetCases(ctx context.Context, in api.GetCasesRequestObject) (api.GetCasesResponseObject, error) {
	list, err := s.Desk.Boards.Cases(ctx, within(ctx, in.Params.Client, in.Params.Location))
	if err != nil {
		return nil, err
	}
	out := api.GetCases200JSONResponse{Cases: make([]api.CaseRow, len(list)), Took: []api.CasesTook{}}
	var ended []cases.Ended
	for i, c := range list {
		out.Cases[i] = s.caseRow(c)
		ended = append(ended, cases.Ended{Case: c.Case, Directory: c.Book.Name})
		if v := c.State.Visibility; c.Case.Open() && (v == verification.Suspended || v == verification.Removed) {
			out.LostPerDay += float32(c.Book.Weight)
		}
	}
	for _, t := range cases.TookOf(ended) {
		out.Took = append(
			out.Took,
			api.CasesTook{
				DirectoryName: t.Directory,
				KindTitle:     cases.Title(t.Kind),
				CauseTitle:    rulebook.CauseTitle(t.Cause),
				Won:           t.Won,
				Lost:          t.Lost,
				GivenUp:       t.GivenUp,
				MedianDays:    float32(t.MedianDays),
			},
		)
	}
	return out, nil
}

// GetCase tells everything about one case.
func (s *Server) GetCase(ctx context.Context, in api.GetCaseRequestObject) (api.GetCaseResponseObject, error) {
	v, err := s.Desk.Boards.Case(ctx, ledger.Place{Location: in.Location, Directory: in.Directory}, in.Case)
	if err != nil {
		return nil, err
	}
	row := s.caseRow(v.CaseRow)
	out := api.GetCase200JSONResponse{
		Row:      row.Row,
		Facts:    row.Facts,
		Suspects: []api.Suspect{},
		Unnamed:  float32(v.Unnamed),
		Steps:    []api.CaseStep{},
		Papers:   []api.CaseEvidence{},
		Chance:   float32(v.Hearing.Chance), HeardWon: v.Hearing.Won, HeardLost: v.Hearing.Lost,
		Learnt:  append([]string{}, v.Learnt...),
		Appeals: []api.AppealMade{},
		Draft:   v.Draft,
		Fresh:   v.Fresh,
		Since:   []string{},
		Changed: len(v.Changed),
		Busy:    string(v.State.Busy),
		Trouble: v.State.Trouble,
	}
	for _, x := range v.Causes {
		out.Suspects = append(out.Suspects, api.Suspect{
			Risk: risks([]risk.Risk{x.Risk})[0], Share: float32(x.Share), Evidence: append([]string{}, x.Evidence...), Pointed: x.Pointed,
			Today: api.SuspectToday(x.Today),
		})
	}
	for _, step := range v.Steps {
		out.Steps = append(out.Steps, s.caseStep(step, v.Book))
	}
	for _, p := range v.Papers {
		out.Papers = append(out.Papers, api.CaseEvidence{Paper: comparedPaper(p.Compared, nil), Adds: float32(p.Adds), Proposed: p.Proposed})
	}
	for _, a := range v.Case.Appeals {
		out.Appeals = append(
			out.Appeals,
			api.AppealMade{
				Text:       a.Text,
				Papers:     a.Papers,
				AskedAt:    a.AskedAt,
				AskedBy:    a.AskedBy,
				Window:     *window(&a.Window, *v.Book, s.Desk.Now(), nil),
				AnsweredAt: a.AnsweredAt,
				Granted:    a.Granted,
				Says:       a.Says,
			},
		)
	}
	if a := v.Book.Appeal; a.Most > 0 {
		rule := api.AppealRule{How: a.How, Span: rulebook.Span(a.Window), Most: a.Most, MostCharacters: a.MostCharacters, Papers: []string{}}
		for _, k := range a.Papers {
			rule.Papers = append(rule.Papers, paper.Title(k))
		}
		out.Rule = &rule
	}
	for _, c := range v.Since {
		out.Since = append(out.Since, fmt.Sprintf("%s: “%s” became “%s”.", c.Title, c.Before, c.After))
	}
	return out, nil
}

// OpenCase records that a listing is seen to be suspended.
func (s *Server) OpenCase(ctx context.Context, in api.OpenCaseRequestObject) (api.OpenCaseResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	if err := s.Desk.Listings.SuspendedThere(ctx, person(ctx).Actor(), at, in.Body.Says); err != nil {
		return nil, err
	}
	out, err := s.listing(ctx, at)
	return api.OpenCase200JSONResponse(out), err
}

// DropCase gives a case up.
func (s *Server) DropCase(ctx context.Context, in api.DropCaseRequestObject) (api.DropCaseResponseObject, error) {
	err := s.Desk.Listings.DropCase(ctx, person(ctx).Actor(), ledger.Place{Location: in.Location, Directory: in.Directory}, in.Case, text(in.Params.Why))
	return api.DropCase204Response{}, err
}

// Appeal argues against a suspension.
func (s *Server) Appeal(ctx context.Context, in api.AppealRequestObject) (api.AppealResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.Appeal(ctx, person(ctx).Actor(), at, in.Body.Text, in.Body.Papers))
	return api.Appeal200JSONResponse(out), err
}

// GetLooseNotices lists letters that belong to no listing yet.
func (s *Server) GetLooseNotices(ctx context.Context, _ api.GetLooseNoticesRequestObject) (api.GetLooseNoticesResponseObject, error) {
	list, err := s.Desk.Letters.LooseNotices(ctx)
	if err != nil {
		return nil, err
	}
	out := make(api.GetLooseNotices200JSONResponse, len(list))
	for i, n := range list {
		out[i] = api.Notice{
			Id:            n.ID,
			At:            n.At,
			Directory:     text(n.DirectoryID),
			DirectoryName: s.Desk.Shelf.DirectoryName(text(n.DirectoryID)),
			Subject:       n.Subject,
			Body:          n.Body,
		}
	}
	return out, nil
}

// SortNotice says what a letter is about, or that it needs nothing.
func (s *Server) SortNotice(ctx context.Context, in api.SortNoticeRequestObject) (api.SortNoticeResponseObject, error) {
	var err error
	switch {
	case in.Body.Location != nil:
		err = s.Desk.Listings.AssignNotice(ctx, person(ctx).Actor(), in.Notice, *in.Body.Location)
	case in.Body.PutAside != nil:
		err = s.Desk.Letters.PutNoticeAside(ctx, in.Notice, *in.Body.PutAside)
	default:
		err = &problem.Problem{Kind: problem.Invalid, Detail: "Say which location it is about, or put_aside."}
	}
	return api.SortNotice204Response{}, err
}

// WithdrawListing takes a listing out of public view.
func (s *Server) WithdrawListing(ctx context.Context, in api.WithdrawListingRequestObject) (api.WithdrawListingResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.Withdraw(ctx, person(ctx).Actor(), at, in.Body.Why, dayOf(in.Body.Back)))
	return api.WithdrawListing200JSONResponse(out), err
}

// dayOf is a date that may not be said.
func dayOf(d *openapi_types.Date) *calendar.Date {
	if d == nil {
		return nil
	}
	return new(day(d))
}

// WithdrawMany takes listings of ours out of public view.
func (s *Server) WithdrawMany(ctx context.Context, in api.WithdrawManyRequestObject) (api.WithdrawManyResponseObject, error) {
	places := make([]ledger.Place, len(in.Body.Items))
	for i, p := range in.Body.Items {
		places[i] = ledger.Place{Location: p.Location, Directory: p.Directory}
	}
	asked, refused, err := s.Desk.Listings.WithdrawMany(ctx, person(ctx).Actor(), places, in.Body.Why, dayOf(in.Body.Back))
	if err != nil {
		return nil, err
	}
	return api.WithdrawMany200JSONResponse{Asked: asked, Refused: refusedOf(places, refused)}, nil
}

// refusedOf are those of some places at which something cannot be, in their order.
func refusedOf(places []ledger.Place, refused map[ledger.Place]string) []api.RefusedOfMany {
	out := []api.RefusedOfMany{}
	for _, p := range places {
		if says, no := refused[p]; no {
			out = append(out, api.RefusedOfMany{Location: p.Location, Directory: p.Directory, Says: says})
		}
	}
	return out
}

// BringListingBack has it show again.
func (s *Server) BringListingBack(ctx context.Context, in api.BringListingBackRequestObject) (api.BringListingBackResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.asked(ctx, at)(s.Desk.Listings.BringBack(ctx, person(ctx).Actor(), at))
	return api.BringListingBack200JSONResponse(out), err
}
