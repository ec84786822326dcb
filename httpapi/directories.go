package httpapi

import (
	"bytes"
	"context"
	"github.com/gin-gonic/gin"

	"uvent/core/rule/rulebook"
	"uvent/desk/records"
	"uvent/httpapi/api"
)

// GetDirectories lists the directories.
func (s *Server) GetDirectories(context.Context, api.GetDirectoriesRequestObject) (api.GetDirectoriesResponseObject, error) {
	out := api.GetDirectories200JSONResponse{}
	for _, b := range s.Desk.Shelf.Books() {
		out = append(out, s.directory(b))
	}
	return out, nil
}

func (s *Server) directory(b rulebook.Rulebook) api.Directory {
	d := api.Directory{
		Id:       b.ID,
		Name:     b.Name,
		Kind:     b.Kind,
		Summary:  b.Summary,
		Weight:   b.Weight,
		Worked:   api.DirectoryWorked(b.Worked),
		Page:     s.Desk.Listings.PageOf(b),
		Rulebook: b.Source,
		Account:  s.Desk.Ledger.Account(),
		Limits:   limits(b),
		Says:     s.sayings(b),
		Classes:  []string{},
	}
	for _, c := range b.Account.Classes {
		d.Classes = append(d.Classes, c.Name)
	}
	d.Copies = make([]struct {
		From       string `json:"from"`
		OnRequest  bool   `json:"on_request"`
		Overwrites *bool  `json:"overwrites,omitempty"`
		Says       string `json:"says"`
	}, len(b.Copies))
	for i, c := range b.Copies {
		d.Copies[i].From, d.Copies[i].OnRequest, d.Copies[i].Overwrites, d.Copies[i].Says = c.From, c.OnRequest, &c.Overwrites, rulebook.Span(c.Window)
	}
	return d
}

func (s *Server) sayings(b rulebook.Rulebook) []api.Saying {
	out := []api.Saying{}
	for _, saying := range b.Sayings(s.Desk.Shelf.DirectoryName) {
		out = append(out, api.Saying{About: saying.About, Says: saying.Says})
	}
	return out
}

// AddDirectory adds a directory by its rulebook.
func (s *Server) AddDirectory(ctx context.Context, in api.AddDirectoryRequestObject) (api.AddDirectoryResponseObject, error) {
	b, err := s.Desk.SaveRulebook(ctx, person(ctx), "", in.Body.Text)
	if err != nil {
		return nil, err
	}
	return api.AddDirectory201JSONResponse(s.directory(b)), nil
}

// SaveDirectory puts a new version of a rulebook in force.
func (s *Server) SaveDirectory(ctx context.Context, in api.SaveDirectoryRequestObject) (api.SaveDirectoryResponseObject, error) {
	b, err := s.Desk.SaveRulebook(ctx, person(ctx), in.Directory, in.Body.Text)
	if err != nil {
		return nil, err
	}
	return api.SaveDirectory200JSONResponse(s.directory(b)), nil
}

// GetVersions lists the versions of a rulebook.
func (s *Server) GetVersions(ctx context.Context, in api.GetVersionsRequestObject) (api.GetVersionsResponseObject, error) {
	list, err := s.Desk.Shelf.RulebookVersions(ctx, in.Directory)
	out := make(api.GetVersions200JSONResponse, len(list))
	for i, v := range list {
		out[i] = api.RulebookVersion{Version: v.Version, Text: v.Source, SavedBy: v.SavedBy, SavedAt: v.SavedAt}
	}
	return out, err
}

// GetRulebookProblems tells what is wrong with rulebooks that are not in force.
func (s *Server) GetRulebookProblems(context.Context, api.GetRulebookProblemsRequestObject) (api.GetRulebookProblemsResponseObject, error) {
	return append(api.GetRulebookProblems200JSONResponse{}, s.Desk.Shelf.BadRulebooks()...), nil
}

// CheckRulebook checks a rulebook's text.
func (s *Server) CheckRulebook(ctx context.Context, in api.CheckRulebookRequestObject) (api.CheckRulebookResponseObject, error) {
	c, err := s.Desk.Boards.CheckRulebook(ctx, in.Body.Text, in.Body.Location)
	if err != nil {
		return nil, err
	}
	out := api.CheckRulebook200JSONResponse{Problems: []api.RulebookProblem{}, Says: []api.Saying{}, New: c.New, Id: c.Book.ID, Name: c.Book.Name}
	for _, p := range c.Problems {
		out.Problems = append(out.Problems, api.RulebookProblem{Line: p.Line, Path: p.Path, Message: p.Message})
	}
	if c.Problems == nil {
		out.Says = s.sayings(c.Book)
	}
	if t := c.Trial; t != nil {
		f := listingFit(t.Location.Label, t.Fit, t.Values)
		out.Trial = &f
		if t.Before != nil {
			out.Before = &t.Before.Percent
		}
	}
	return out, nil
}

// GetHandInFile writes the file to hand in to a directory.
func (s *Server) GetHandInFile(ctx context.Context, in api.GetHandInFileRequestObject) (api.GetHandInFileResponseObject, error) {
	var b bytes.Buffer
	_, err := s.Desk.Listings.HandInFile(ctx, within(ctx, in.Params.Client, in.Params.Location), in.Directory, &b)
	return api.GetHandInFile200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, err
}

// HandedIn records that the file was handed in.
func (s *Server) HandedIn(ctx context.Context, in api.HandedInRequestObject) (api.HandedInResponseObject, error) {
	n, err := s.Desk.Listings.HandedIn(ctx, person(ctx).Actor(), within(ctx, in.Params.Client, in.Params.Location), in.Directory)
	return api.HandedIn200JSONResponse{Locations: n}, err
}

// GetAccounts lists the accounts.
func (s *Server) GetAccounts(ctx context.Context, _ api.GetAccountsRequestObject) (api.GetAccountsResponseObject, error) {
	list, err := s.Desk.Records.Accounts(ctx)
	out := make(api.GetAccounts200JSONResponse, len(list))
	for i, a := range list {
		out[i] = account(a)
	}
	return out, err
}

func account(a records.Account) api.Account {
	return api.Account{
		Id:        a.ID,
		Directory: a.DirectoryID,
		Email:     a.Email,
		Holder:    a.Holder,
		Person:    a.PersonID,
		Class:     a.Class,
		Confirmed: a.Confirmed,
		Personal:  a.Personal,
		Note:      a.Note,
		Gone:      a.Gone,
		ChangedBy: a.ChangedBy,
		ChangedAt: a.ChangedAt,
		Warnings:  append([]string{}, a.Warnings...),
	}
}

func accountFacts(f api.AccountFacts) records.AccountFacts {
	return records.AccountFacts{
		Directory: f.Directory,
		Email:     f.Email,
		Holder:    f.Holder,
		Person:    f.Person,
		Class:     f.Class,
		Confirmed: f.Confirmed,
		Personal:  f.Personal,
		Note:      f.Note,
		Gone:      f.Gone,
	}
}

// AddAccount adds an account.
func (s *Server) AddAccount(ctx context.Context, in api.AddAccountRequestObject) (api.AddAccountResponseObject, error) {
	a, err := s.Desk.Records.SaveAccount(ctx, person(ctx).Actor(), nil, accountFacts(*in.Body))
	if err != nil {
		return nil, err
	}
	return api.AddAccount201JSONResponse(account(a)), nil
}

// SaveAccount changes an account.
func (s *Server) SaveAccount(ctx context.Context, in api.SaveAccountRequestObject) (api.SaveAccountResponseObject, error) {
	a, err := s.Desk.Records.SaveAccount(ctx, person(ctx).Actor(), &in.Account, accountFacts(*in.Body))
	if err != nil {
		return nil, err
	}
	return api.SaveAccount200JSONResponse(account(a)), nil
}

// DropAccount takes an account out.
func (s *Server) DropAccount(ctx context.Context, in api.DropAccountRequestObject) (api.DropAccountResponseObject, error) {
	return api.DropAccount204Response{}, s.Desk.Records.DropAccount(ctx, in.Account)
}

// shelved has what is about a directory asked for under its rules as they were last saved, whichever server that was on.
func (s *Server) shelved(c *gin.Context) {
	if c.Param("directory") == "" {
		return
	}
	if err := s.Desk.Shelf.Reshelve(c.Request.Context()); err != nil {
		s.fail(c, err)
		c.Abort()
	}
}
