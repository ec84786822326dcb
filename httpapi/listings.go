package httpapi

import (
	"context"
	"slices"
	"time"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"uvent/core/fact/calendar"
	"uvent/core/fact/contact"
	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/rule/rulebook"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/httpapi/api"
)

// GetListings lists a scope's listings.
func (s *Server) GetListings(ctx context.Context, in api.GetListingsRequestObject) (api.GetListingsResponseObject, error) {
	list := s.Desk.Boards.Cells
	if in.Params.Begun != nil && *in.Params.Begun {
		list = s.Desk.Boards.Begun
	}
	cells, err := list(ctx, within(ctx, in.Params.Client, in.Params.Location))
	return api.GetListings200JSONResponse(s.rows(cells)), err
}

// GetToday lists a scope's tasks.
func (s *Server) GetToday(ctx context.Context, in api.GetTodayRequestObject) (api.GetTodayResponseObject, error) {
	var page boards.TodayPage
	if in.Params.Group != nil {
		page.Group = agenda.Group(*in.Params.Group)
	}
	if in.Params.Past != nil {
		page.Past = *in.Params.Past
	}
	today, err := s.Desk.Boards.Today(ctx, within(ctx, in.Params.Client, in.Params.Location), page)
	out := api.GetToday200JSONResponse{Rows: s.rows(today.Rows)}
	out.Counts = taskCounts(today.Counts)
	return out, err
}

func (s *Server) rows(cells []boards.Cell) []api.ListingRow {
	out := make([]api.ListingRow, len(cells))
	for i, c := range cells {
		out[i] = s.row(c)
	}
	return out
}

func (s *Server) row(c boards.Cell) api.ListingRow {
	now := s.Desk.Now()
	r := api.ListingRow{
		Location:      c.Place.Location,
		Client:        c.Client.ID,
		Directory:     c.Book.ID,
		DirectoryName: c.Book.Name,
		Weight:        c.Book.Weight,
		Label:         c.Location.Label,
		ClientName:    c.Client.Name,
		Kind:          string(c.Location.Record.Kind),
		Zone:          verification.ZoneOf(c.Location.Record, *c.Book).String(),
		NotFor:        c.NotFor,
		Wanted:        c.Fit.Wanted,
		Strand:        strand(c.State),
		Says:          c.State.Words(),
	}
	for _, o := range c.State.Cases {
		if o.Open() {
			r.Case = &o.ID
		}
	}
	if t := c.Task; t != nil {
		r.Task = &api.Task{
			Group:  api.TaskGroup(t.Group),
			Act:    api.TaskAct(t.Act),
			Title:  t.Title,
			Says:   t.Says,
			Loss:   t.Loss,
			Window: window(t.Window, *c.Book, now, t.Until),
			Until:  t.Until,
			Kind:   new(string(t.Kind)),
		}
		if t.Kind == agenda.SuspendedYet && t.Cause != "" {
			r.Case = &t.Cause
		}
		if m := c.Matter; m != nil {
			r.Task.Matter = &api.TaskMatter{Id: m.ID, OpenedAt: m.OpenedAt, MayDecide: t.Kind.MayDecide(), Notes: m.Notes, With: m.With}
			if m.With != nil {
				r.Task.Matter.WithName = &m.WithName
			}
			if m.Last != "" {
				r.Task.Matter.Last = &m.Last
			}
		}
	}
	if a := c.State.Attempt(); a != nil {
		view := attempt(*a, *c.Book, now)
		r.Attempt = &view
	}
	return r
}

func strand(s verification.State) api.Strand {
	return api.Strand{Control: api.StrandControl(s.Control), Verification: api.StrandVerification(s.Verification), Visibility: api.StrandVisibility(s.Visibility)}
}

func dateOf(d calendar.Date) openapi_types.Date { return openapi_types.Date{Time: d.In(time.UTC)} }

func window(w *calendar.Window, b rulebook.Rulebook, now time.Time, until *time.Time) *api.Window {
	if w == nil {
		return nil
	}
	place := b.Calendar.Place()
	return &api.Window{From: w.From, Earliest: dateOf(w.Earliest), Latest: dateOf(w.Latest), State: api.WindowState(place.State(*w, now)), Until: until}
}

func attempt(a verification.Attempt, b rulebook.Rulebook, now time.Time) api.Attempt {
	out := api.Attempt{
		Id: a.ID, Method: string(a.Method), Title: verification.Title(a.Method), To: a.To, AskedAt: a.AskedAt, AskedBy: a.AskedBy, State: string(a.State),
		Live: a.Live(), UnderWay: a.UnderWay(), Digits: a.Digits, TriesLeft: a.TriesLeft, ArrivedAt: a.ArrivedAt, Entering: a.Entering, Says: a.Says,
	}
	if !a.Expires.IsZero() {
		out.Expires = &a.Expires
		out.Window = window(a.Window, b, now, &a.Expires)
	} else {
		out.Window = window(a.Window, b, now, nil)
	}
	return out
}

func (s *Server) listing(ctx context.Context, at ledger.Place) (api.Listing, error) {
	v, err := s.Desk.Boards.Listing(ctx, at)
	if err != nil {
		return api.Listing{}, err
	}
	st := v.State
	out := api.Listing{
		Row:         s.row(v.Cell),
		Speaks:      speaks(v),
		Caution:     caution(v.Caution, v.Book),
		Cases:       []api.CaseFacts{},
		Withdrawal:  &st.Withdrawal,
		Busy:        string(st.Busy),
		Trouble:     st.Trouble,
		Account:     v.Account,
		HeldSince:   st.HeldSince,
		HeldBy:      st.HeldBy,
		Page:        v.PageURL,
		Worked:      api.ListingWorked(v.Book.Worked),
		Attests:     v.Book.Account.Attests,
		ToShow:      v.Book.Publishing.Withdrawn,
		CopiesFrom:  []api.CopyOffer{},
		PhotosFit:   v.Photos,
		PhotosGiven: st.Photos,
		PhotosAt:    st.PhotosAt,
		GivenAt:     st.GivenAt,
		AnswerBy:    window(st.AnswerBy, *v.Book, s.Desk.Now(), nil),
		SearchedAt:  st.SearchedAt,
		LookedAt:    st.LookedAt,
		SeenAt:      st.SeenAt,
		FromOwner:   fromOwner(st.FromOwner),
		VerifiedAt:  st.VerifiedAt,
		PublicBy:    window(st.PublicBy, *v.Book, s.Desk.Now(), nil),
		Seconds:     []api.SecondListing{},
		OwnerLinks:  []api.OwnerLink{},
		OwnerTasks:  []api.ListingOwnerTasks{},
		OwnerEmail:  v.Client.OwnerEmail,
		Filming:     filming(v.Filming),
		Changed:     []api.ChangedValue{},
		Papers:      []api.ComparedPaper{},
		Facts:       []api.FactLine{},
		Ways:        waysOf(v.Ways, *v.Book, s.Desk.Now()),
		Missing:     append([]string{}, v.Missing...),
		Candidates:  []api.Candidate{},
		Attempts:    []api.Attempt{},
	}
	if text := cases.Chase(v.Location.Record, v.Book, st, v.PageURL, s.Desk.Now()); text != "" {
		out.Chase = &text
	}
	if err := s.tellHearings(ctx, &out, v); err != nil {
		return out, err
	}
	if err := s.tellBeside(ctx, &out, v); err != nil {
		return out, err
	}
	s.tellMoves(&out, v)
	s.tellDoings(&out, v)
	s.tellOrigins(&out, v)
	out.History = historyOf(v)
	for _, f := range v.Facts {
		out.Facts = append(out.Facts, api.FactLine{
			Fact: f.Fact, Title: f.Title, Record: f.Record, Seen: f.Seen, Mark: string(f.Mark), Says: f.Says, Why: f.Why, Cannot: f.Cannot,
			People: float32(f.Cost.People), Once: float32(f.Cost.Once), Reckoned: unlessEmpty(f.Cost.From),
		})
	}
	for _, c := range st.Candidates {
		out.Candidates = append(out.Candidates, candidate(c))
	}
	for _, a := range st.Attempts {
		view, zone := attempt(a, *v.Book, s.Desk.Now()), verification.ZoneOf(v.Location.Record, *v.Book)
		view.Late = unlessEmpty(st.Late(a, s.Desk.Now(), zone))
		if a.Live() && a.Says != "" {
			view.Mistaken = unlessEmpty(st.Mistaken(a, s.Desk.Now(), zone))
		}
		out.Attempts = append(out.Attempts, view)
	}
	return out, nil
}

// tellBeside tells where else the location shows, when it shows again, and what its owner has written.
func (s *Server) tellBeside(ctx context.Context, out *api.Listing, v boards.ListingView) error {
	st := v.State
	if f := st.FromStaff; f != nil {
		out.FromStaff = &struct {
			At   time.Time `json:"at"`
			Says string    `json:"says"`
		}{f.At, f.Says}
	}
	if st.BackOn != nil {
		out.BackOn = new(dateOf(*st.BackOn))
	}
	elsewhere, err := s.Desk.Boards.ShownElsewhere(ctx, v.Place)
	if err != nil {
		return err
	}
	if len(elsewhere) > 0 {
		shown := make([]struct {
			Directory string `json:"directory"`
			Name      string `json:"name"`
		}, len(elsewhere))
		for i, b := range elsewhere {
			shown[i].Directory, shown[i].Name = b.ID, b.Name
		}
		out.ShownElsewhere = &shown
	}
	if text, code, err := s.Desk.Owners.Written(ctx, st); err != nil {
		return err
	} else if out.FromOwner != nil {
		out.FromOwner.Letter, out.FromOwner.Code = unlessEmpty(text), unlessEmpty(code)
	}
	return nil
}

// tellDoings tells what is under way on a listing beside its verification.
func (s *Server) tellDoings(out *api.Listing, v boards.ListingView) {
	st := v.State
	for _, c := range st.Seconds() {
		second := api.SecondListing{Candidate: candidate(c)}
		if r := st.Report(c.Ref); r != nil {
			step := api.SecondListingStep(r.Step)
			second.Step, second.Window, second.Says = &step, window(&r.Window, *v.Book, s.Desk.Now(), nil), r.Says
		}
		out.Seconds = append(out.Seconds, second)
	}
	for _, l := range v.Links {
		out.OwnerLinks = append(out.OwnerLinks, ownerLink(l, st, s.Desk.Now()))
	}
	for _, t := range v.OwnerTasks {
		out.OwnerTasks = append(out.OwnerTasks, api.ListingOwnerTasks(t))
	}
	for _, c := range v.Changed {
		out.Changed = append(out.Changed, api.ChangedValue{Key: c.Key, Label: c.Label, Text: c.Text, Before: c.Before, Meets: c.Meets})
	}
	for _, c := range st.Cases {
		out.Cases = append(out.Cases, caseFacts(c, s.Desk.Now()))
	}
	if c := st.Change; c != nil {
		out.Change = &api.ChangeReview{Facts: c.Facts, AskedAt: c.AskedAt, Window: *window(&c.Window, *v.Book, s.Desk.Now(), nil)}
	}
	for _, p := range v.Papers {
		out.Papers = append(out.Papers, comparedPaper(p, v.Ways))
	}
}

// tellOrigins tells where a listing, its page and its values come from.
func (s *Server) tellOrigins(out *api.Listing, v boards.ListingView) {
	st := v.State
	if st.CopiedFrom != "" {
		name := s.Desk.Shelf.DirectoryName(st.CopiedFrom)
		out.CopiedFrom = &name
	}
	if home := s.Desk.Listings.PageOf(*v.Book); home != "" {
		out.Home = &home
	}
	for _, c := range v.Copies {
		out.CopiesFrom = append(out.CopiesFrom, api.CopyOffer{From: c.From.ID, Name: c.From.Name, Not: c.Not, Brought: c.Brought.Labels(), Left: c.Left.Labels()})
	}
	if p := v.Book.PageAddress; p.Begins != "" {
		out.PageNames = &api.PageNames{Begins: p.Begins, Note: p.Note, Most: p.MostCharacters, Proposed: []string{}, Taken: append([]string{}, st.Taken...)}
		for _, name := range p.Propose(v.Location.Record) {
			if !slices.Contains(st.Taken, name) {
				out.PageNames.Proposed = append(out.PageNames.Proposed, name)
			}
		}
	}
}

// historyOf is what happened to a listing, the newest first; of many looks that saw the same, the
// first and the last.
func historyOf(v boards.ListingView) []api.HistoryLine {
	out := []api.HistoryLine{}
	for i := len(v.History) - 1; i >= 0; i-- {
		e := v.History[i]
		line := api.HistoryLine{At: e.At, Actor: e.Actor, Says: e.Tell(*v.Book)}
		if n := len(out); looked(e) && n > 1 && out[n-1].Says == line.Says && out[n-2].Says == line.Says {
			out[n-1] = line
			continue
		}
		out = append(out, line)
	}
	return out
}

// looked reports whether an event is that a page was looked at.
func looked(e verification.Event) bool {
	switch e.What.(type) {
	case verification.SeenPublic, verification.NotSeen:
		return true
	}
	return false
}

func candidate(c verification.Candidate) api.Candidate {
	return api.Candidate{Ref: c.Ref, Name: c.Shown.Name, Address: c.Shown.Address.Line(), Phone: contact.National(c.Shown.Phone),
		Status: api.CandidateStatus(c.Status), Score: c.Score, Verdict: api.CandidateVerdict(c.Verdict), Reasons: append([]string{}, c.Reasons...)}
}

// GetListing tells everything about one listing.
func (s *Server) GetListing(ctx context.Context, in api.GetListingRequestObject) (api.GetListingResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	out, err := s.listing(ctx, at)
	if err != nil {
		return nil, err
	}
	every, err := s.Desk.Sightings.Every(ctx, at)
	out.Looked = unlessEmpty(every)
	if person(ctx).Client != nil { // who else is found there is not theirs to know
		out.Candidates, out.Seconds = []api.Candidate{}, []api.SecondListing{}
	}
	return api.GetListing200JSONResponse(out), err
}

// limits are what a directory takes of words, areas and photos.
func limits(b rulebook.Rulebook) api.DirectoryLimits {
	out := api.DirectoryLimits{Areas: b.Areas.Most, Texts: []api.TextLimit{}, Photos: []api.PhotoLimit{}}
	for _, t := range b.Texts {
		out.Texts = append(out.Texts, api.TextLimit{Text: t.Text, Label: t.Label, Most: t.MostCharacters})
	}
	for _, p := range b.Photos {
		out.Photos = append(out.Photos, api.PhotoLimit{
			Groups: p.Groups, Label: p.Label, Most: p.Most, Width: p.Crop.Width, Height: p.Crop.Height, Circle: p.Crop.Circle,
			LeastWidth: p.Least.Width, LeastHeight: p.Least.Height, TinyWidth: p.TinyWidth, CaptionMost: p.CaptionMost, AlternativeMost: p.AlternativesMost,
		})
	}
	return out
}

func waysOf(list []verification.Way, b rulebook.Rulebook, now time.Time) []api.Way {
	out := []api.Way{}
	for _, w := range list {
		one := api.Way{
			Method: string(w.Method),
			Title:  w.Title,
			Open:   w.Open,
			Says:   w.Says,
			There:  w.There,
			Doubts: append([]string{}, w.Doubts...),
			Why:    w.Why,
			Charge: unlessEmpty(w.Charge),
		}
		if w.Guard != nil {
			one.Guard = guardOf(*w.Guard, b, now)
		}
		out = append(out, one)
	}
	return out
}

func guardOf(g verification.Guard, b rulebook.Rulebook, now time.Time) *api.Guard {
	out := &api.Guard{Attempt: g.Attempt, Keeps: g.Keeps, Title: g.Title, Window: window(g.Window, b, now, nil)}
	for _, l := range g.Lines {
		out.Lines = append(out.Lines, struct {
			About string `json:"about"`
			Ask   string `json:"ask"`
			Leave string `json:"leave"`
		}{l.About, l.Ask, l.Leave})
	}
	return out
}
