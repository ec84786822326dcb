package httpapi

import (
	"context"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"uvent/desk/people"
	"uvent/httpapi/api"
)

// clientNames are what clients are called.
func (s *Server) clientNames(ctx context.Context) (func(*uuid.UUID) string, error) {
	clients, err := s.Desk.Records.Clients(ctx)
	return func(id *uuid.UUID) string {
		for _, c := range clients {
			if id != nil && c.ID == *id {
				return c.Name
			}
		}
		return ""
	}, err
}

func onePerson(p people.Person, of func(*uuid.UUID) string, you uuid.UUID) api.Person {
	return api.Person{
		Id:           p.ID,
		Name:         p.Name,
		Email:        p.Email,
		Initials:     p.Initials,
		Role:         api.PersonRole(p.Role),
		Client:       p.Client,
		ClientName:   of(p.Client),
		Ended:        p.Ended,
		SecondFactor: p.SecondFactor,
		You:          p.ID == you,
	}
}

func oneInvitation(i people.Invitation, of func(*uuid.UUID) string) api.Invitation {
	return api.Invitation{Id: i.ID, Email: i.Email, Role: string(i.Role), ClientName: of(i.ClientID), InvitedBy: i.InvitedBy, At: i.At, Expires: i.Expires}
}

// GetPeople lists everybody, and who is invited.
func (s *Server) GetPeople(ctx context.Context, _ api.GetPeopleRequestObject) (api.GetPeopleResponseObject, error) {
	people, err := s.Desk.People.People(ctx)
	if err != nil {
		return nil, err
	}
	invited, err := s.Desk.People.Invitations(ctx)
	if err != nil {
		return nil, err
	}
	of, err := s.clientNames(ctx)
	out := api.GetPeople200JSONResponse{People: []api.Person{}, Invitations: []api.Invitation{}}
	for _, p := range people {
		out.People = append(out.People, onePerson(p, of, person(ctx).ID))
	}
	for _, i := range invited {
		out.Invitations = append(out.Invitations, oneInvitation(i, of))
	}
	return out, err
}

// SaveRole gives somebody another role.
func (s *Server) SaveRole(ctx context.Context, in api.SaveRoleRequestObject) (api.SaveRoleResponseObject, error) {
	p, err := s.Desk.People.ChangeRole(ctx, person(ctx).Actor(), in.Person, people.Role(in.Body.Role), in.Body.Client)
	if err != nil {
		return nil, err
	}
	of, err := s.clientNames(ctx)
	return api.SaveRole200JSONResponse(onePerson(p, of, person(ctx).ID)), err
}

// TakeOver ends somebody's access.
func (s *Server) TakeOver(ctx context.Context, in api.TakeOverRequestObject) (api.TakeOverResponseObject, error) {
	accounts, drafts, err := s.Desk.People.TakeOver(ctx, person(ctx).Actor(), in.Person, in.Body.To)
	return api.TakeOver200JSONResponse{Accounts: int(accounts), Drafts: int(drafts)}, err
}

// Invite invites somebody.
func (s *Server) Invite(ctx context.Context, in api.InviteRequestObject) (api.InviteResponseObject, error) {
	i, address, err := s.Desk.People.Invite(ctx, person(ctx), in.Body.Email, people.Role(in.Body.Role), in.Body.Client)
	if err != nil {
		return nil, err
	}
	of, err := s.clientNames(ctx)
	out := oneInvitation(i, of)
	out.Address = &address
	return api.Invite201JSONResponse(out), err
}

// Uninvite takes an invitation back.
func (s *Server) Uninvite(ctx context.Context, in api.UninviteRequestObject) (api.UninviteResponseObject, error) {
	return api.Uninvite204Response{}, s.Desk.People.Uninvite(ctx, person(ctx).Actor(), in.Invitation)
}

// GetInvitation tells what a secret invites to.
func (s *Server) GetInvitation(ctx context.Context, in api.GetInvitationRequestObject) (api.GetInvitationResponseObject, error) {
	i, err := s.Desk.People.InvitedWith(ctx, in.Secret)
	return api.GetInvitation200JSONResponse{Email: i.Email, Role: string(i.Role), InvitedBy: i.InvitedBy}, err
}

// Join takes an invitation up.
func (s *Server) Join(ctx context.Context, in api.JoinRequestObject) (api.JoinResponseObject, error) {
	p, err := s.Desk.People.Join(ctx, in.Secret, in.Body.Name, in.Body.Password, in.Body.Zone)
	if err != nil {
		return nil, err
	}
	known, err := s.Desk.People.Known(ctx, p)
	if err != nil {
		return nil, err
	}
	return api.Join200JSONResponse(s.session(p)), s.begin(ctx.(*gin.Context), p, known)
}

func oneKey(k people.Key) api.ApiKey {
	return api.ApiKey{Id: k.ID, Name: k.Name, Scope: api.ApiKeyScope(k.Scope), At: k.At, UsedAt: k.UsedAt, Expires: k.Expires}
}

func manyKeys(list []people.Key) []api.ApiKey {
	out := make([]api.ApiKey, len(list))
	for i, k := range list {
		out[i] = oneKey(k)
	}
	return out
}

// GetKeys lists one's keys.
func (s *Server) GetKeys(ctx context.Context, _ api.GetKeysRequestObject) (api.GetKeysResponseObject, error) {
	list, err := s.Desk.People.Keys(ctx, person(ctx).ID)
	return api.GetKeys200JSONResponse(manyKeys(list)), err
}

// MakeKey makes a key.
func (s *Server) MakeKey(ctx context.Context, in api.MakeKeyRequestObject) (api.MakeKeyResponseObject, error) {
	days := 0
	if in.Body.Days != nil {
		days = *in.Body.Days
	}
	k, secret, err := s.Desk.People.MakeKey(ctx, person(ctx), in.Body.Password, in.Body.Name, string(in.Body.Scope), days)
	return api.MakeKey201JSONResponse{Key: oneKey(k), Secret: secret}, err
}

// EndKey ends a key.
func (s *Server) EndKey(ctx context.Context, in api.EndKeyRequestObject) (api.EndKeyResponseObject, error) {
	return api.EndKey204Response{}, s.Desk.People.EndKey(ctx, person(ctx), in.Key)
}

// ConfirmRecord notes that a record is right.
func (s *Server) ConfirmRecord(ctx context.Context, in api.ConfirmRecordRequestObject) (api.ConfirmRecordResponseObject, error) {
	return api.ConfirmRecord204Response{}, s.Desk.Records.ConfirmRecord(ctx, person(ctx).Actor(), in.Location, in.Body.Version)
}
