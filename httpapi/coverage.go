package httpapi

import (
	"context"
	"strings"

	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/httpapi/api"
)

// GetCoverage tells where a page of locations stands on every directory.
func (s *Server) GetCoverage(ctx context.Context, in api.GetCoverageRequestObject) (api.GetCoverageResponseObject, error) {
	p := in.Params
	order, past, most := boards.ByPlace, 0, 100
	if p.Order != nil {
		order = boards.CoverageOrder(*p.Order)
	}
	if p.Past != nil {
		past = *p.Past
	}
	if p.Most != nil {
		most = *p.Most
	}
	c, err := s.Desk.Boards.Coverage(ctx, within(ctx, p.Client, p.Location), order, past, most)
	if err != nil {
		return nil, err
	}
	out := api.Coverage{
		Locations: c.Locations,
		Wanted:    c.Wanted,
		Public:    c.Public,
		UnderWay:  c.UnderWay,
		ToVerify:  c.ToVerify,
		Rows:      make([]api.CoverageRow, len(c.Rows)),
	}
	for i, r := range c.Rows {
		row := api.CoverageRow{
			Location:   r.Location,
			Client:     r.Client,
			ClientName: r.ClientName,
			Label:      r.Label,
			Kind:       r.Kind,
			Wanted:     r.Wanted,
			Public:     r.Public,
			Next:       r.Next,
			Fits:       r.Fits,
			Standings:  make(map[string]api.Standing, len(r.States)),
		}
		for id, s := range r.States {
			row.Standings[id] = api.Standing{Strand: strand(s), Says: s.Words()}
		}
		out.Rows[i] = row
	}
	return api.GetCoverage200JSONResponse(out), nil
}

// Choose decides which listings are wanted.
func (s *Server) Choose(ctx context.Context, in api.ChooseRequestObject) (api.ChooseResponseObject, error) {
	wishes := make([]records.Wish, len(in.Body.Choices))
	for i, c := range in.Body.Choices {
		wishes[i] = records.Wish{Place: ledger.Place{Location: c.Location, Directory: c.Directory}, Wanted: c.Wanted}
	}
	before, err := s.Desk.Records.Choose(ctx, person(ctx).Actor(), wishes)
	out := api.Choices(*in.Body)
	out.Choices = out.Choices[:0:0]
	for i, w := range before {
		c := in.Body.Choices[i]
		c.Wanted = w.Wanted
		out.Choices = append(out.Choices, c)
	}
	return api.Choose200JSONResponse(out), err
}

// GetWorth ranks the directories for a location.
func (s *Server) GetWorth(ctx context.Context, in api.GetWorthRequestObject) (api.GetWorthResponseObject, error) {
	list, err := s.Desk.Records.Worth(ctx, in.Location)
	out := make(api.GetWorth200JSONResponse, len(list))
	for i, w := range list {
		out[i] = api.Worth{
			Directory: w.Directory,
			Name:      w.Book.Name,
			Kind:      w.Book.Kind,
			Worked:    w.Book.Worked.Words(),
			Weight:    w.Book.Weight,
			Not:       w.Not,
			Gain:      w.Gain,
			Minutes:   w.Minutes,
			Adds:      w.Adds,
			Share:     w.Share,
			Pays:      w.Pays,
			FedBy:     w.FedBy,
			Why:       append([]string{}, w.Why...),
			Wanted:    w.Wanted,
			Decided:   w.Decided,
		}
	}
	return out, err
}

// GetFit holds a record against a rulebook.
func (s *Server) GetFit(ctx context.Context, in api.GetFitRequestObject) (api.GetFitResponseObject, error) {
	f, err := s.Desk.Boards.FitOf(ctx, ledger.Place{Location: in.Location, Directory: in.Directory})
	return api.GetFit200JSONResponse(listingFit(f.Location.Label, f.Fit, f.Values)), err
}

// GetPreview lays out what the public would see.
func (s *Server) GetPreview(ctx context.Context, in api.GetPreviewRequestObject) (api.GetPreviewResponseObject, error) {
	p, err := s.Desk.Boards.Preview(ctx, ledger.Place{Location: in.Location, Directory: in.Directory})
	return api.GetPreview200JSONResponse{Not: p.Not, Would: p.Would, Unseen: p.Unseen, Is: p.Is, SeenAt: p.SeenAt}, err
}

func listingFit(label string, f fit.Fit, values fit.Values) api.ListingFit {
	out := api.ListingFit{Label: label, Not: f.Not, Percent: f.Percent, Items: fitItems(f.Items), Values: make([]api.ComposedValue, len(values))}
	for i, v := range values {
		out.Values[i] = composed(v)
	}
	if g, ok := f.Next(); ok {
		out.Next = &struct {
			Minutes int     `json:"minutes"`
			Part    string  `json:"part"`
			Percent float64 `json:"percent"`
			Title   string  `json:"title"`
		}{g.Minutes, g.Part, g.Percent, g.Title}
	}
	return out
}

func fitItems(items []fit.Item) []api.FitItem {
	out := make([]api.FitItem, len(items))
	for i, it := range items {
		out[i] = api.FitItem{
			Key:      it.Key,
			Title:    it.Title,
			Part:     it.Part,
			Weight:   it.Weight,
			Required: it.Required,
			State:    api.FitItemState(it.State),
			Says:     it.Says,
			Minutes:  it.Minutes,
			Mark:     api.FitItemMark(it.Mark),
			Lost:     append([]string{}, it.Lost...),
			Cost: api.FitCost{
				OpenWhileShut: it.Cost.OpenWhileShut, ShutWhileOpen: it.Cost.ShutWhileOpen, Days: len(it.Cost.Days), People: it.Cost.People,
			},
		}
		if it.Own != nil {
			own := ownValue(it)
			out[i].Own = &own
		}
	}
	return out
}

func composed(v fit.Value) api.ComposedValue {
	return api.ComposedValue{Key: v.Key, Label: v.Label, Text: v.Text, From: v.From, Says: append([]string{}, v.Says...), Tick: v.Tick}
}

// GetDirectoryCounts counts listings by directory.
func (s *Server) GetDirectoryCounts(ctx context.Context, in api.GetDirectoryCountsRequestObject) (api.GetDirectoryCountsResponseObject, error) {
	list, err := s.Desk.Boards.DirectoryCounts(ctx, within(ctx, in.Params.Client, in.Params.Location))
	out := make(api.GetDirectoryCounts200JSONResponse, len(list))
	for i, c := range list {
		out[i].Directory, out[i].Wanted, out[i].Held, out[i].Public = c.Directory, c.Wanted, c.Held, c.Public
	}
	return out, err
}

// directoryFit tells in short how a location is held against a directory's rulebook.
func directoryFit(h records.Held) api.DirectoryFit {
	out := api.DirectoryFit{
		Directory: h.Book.ID, Name: h.Book.Name, Not: h.Not, Missing: []string{}, Wrong: []string{}, Lost: []string{}, People: h.Cost().People,
	}
	for _, i := range h.Blocks() {
		out.Missing = append(out.Missing, i.Says)
	}
	var less []string
	for _, i := range h.Items {
		switch {
		case i.Mark == compare.Unequal:
			out.Wrong = append(out.Wrong, i.Says)
		case len(i.Lost) > 0 && i.Part == "words":
			out.Lost = append(out.Lost, i.Says)
		case len(i.Lost) > 0:
			less = append(less, i.Title)
		}
	}
	if less != nil {
		out.Lost = append(out.Lost, "Less goes of: "+strings.Join(less, ", ")+".")
	}
	return out
}
