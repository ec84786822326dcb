package httpapi

import (
	"context"

	"github.com/google/uuid"

	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

// GetHandover lays out how a client that leaves gets back what is its own.
func (s *Server) GetHandover(ctx context.Context, in api.GetHandoverRequestObject) (api.GetHandoverResponseObject, error) {
	h, err := s.Desk.Boards.Handover(ctx, person(ctx), in.Client)
	if err != nil {
		return nil, err
	}
	people, err := s.Desk.People.People(ctx)
	if err != nil {
		return nil, err
	}
	out := api.GetHandover200JSONResponse{OwnerEmail: h.Client.OwnerEmail, Pages: len(h.Pages), Letter: h.Letter}
	out.Accounts = make([]struct {
		DirectoryName string    `json:"directory_name"`
		Email         string    `json:"email"`
		Holder        string    `json:"holder"`
		Id            uuid.UUID `json:"id"`
	}, len(h.Accounts))
	for i, a := range h.Accounts {
		o := &out.Accounts[i]
		o.Id, o.DirectoryName, o.Email, o.Holder = a.ID, s.Desk.Shelf.DirectoryName(a.DirectoryID), a.Email, a.Holder
	}
	out.People = []struct {
		Email string    `json:"email"`
		Id    uuid.UUID `json:"id"`
		Name  string    `json:"name"`
	}{}
	for _, p := range people {
		if p.Client != nil && *p.Client == in.Client {
			out.People = append(out.People, struct {
				Email string    `json:"email"`
				Id    uuid.UUID `json:"id"`
				Name  string    `json:"name"`
			}{p.Email, p.ID, p.Name})
		}
	}
	out.Listings = make([]struct {
		Busy          bool      `json:"busy"`
		ByProgram     bool      `json:"by_program"`
		Directory     string    `json:"directory"`
		DirectoryName string    `json:"directory_name"`
		Done          bool      `json:"done"`
		Label         string    `json:"label"`
		Location      uuid.UUID `json:"location"`
		Says          string    `json:"says"`
		WhyNot        *string   `json:"why_not,omitempty"`
	}, len(h.Listings))
	for i, l := range h.Listings {
		o := &out.Listings[i]
		o.Location, o.Directory, o.Label, o.DirectoryName = l.Location, l.Directory, l.Label, l.DirectoryName
		o.Says, o.Done, o.Busy, o.ByProgram, o.WhyNot = l.Says, l.Done, l.Busy, l.Role != "", unlessEmpty(l.Not)
	}
	return out, nil
}

// HandBack hands listings of a client back.
func (s *Server) HandBack(ctx context.Context, in api.HandBackRequestObject) (api.HandBackResponseObject, error) {
	places := make([]ledger.Place, len(in.Body.Items))
	for i, p := range in.Body.Items {
		l, err := s.Desk.Ledger.Location(ctx, p.Location)
		if err != nil {
			return nil, err
		}
		if l.ClientID != in.Client {
			return nil, &problem.Problem{Kind: problem.NotFound, Detail: "One of the locations is not this client’s."}
		}
		places[i] = ledger.Place{Location: p.Location, Directory: p.Directory}
	}
	asked, refused, err := s.Desk.Listings.HandBack(ctx, person(ctx).Actor(), places)
	if err != nil {
		return nil, err
	}
	return api.HandBack200JSONResponse{Asked: asked, Refused: refusedOf(places, refused)}, nil
}

// KeepYet notes that a listing is not handed over after all.
func (s *Server) KeepYet(ctx context.Context, in api.KeepYetRequestObject) (api.KeepYetResponseObject, error) {
	at := ledger.Place{Location: in.Location, Directory: in.Directory}
	return api.KeepYet204Response{}, s.Desk.Listings.KeepYet(ctx, person(ctx).Actor(), at)
}

// EndOwnerPages shuts all private pages of a client's owner.
func (s *Server) EndOwnerPages(ctx context.Context, in api.EndOwnerPagesRequestObject) (api.EndOwnerPagesResponseObject, error) {
	ended, err := s.Desk.Owners.EndPages(ctx, person(ctx).Actor(), in.Client)
	return api.EndOwnerPages200JSONResponse{Ended: ended}, err
}
