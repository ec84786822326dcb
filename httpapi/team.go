package httpapi

import (
	"context"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"uvent/desk/people"
	"uvent/httpapi/api"
)

// clientNames are what clients are called.
type clientNames map[uuid.UUID]string

func (s *Server) clientNames(ctx context.Context) (clientNames, error) {
	clients, err := s.Desk.Records.Clients(ctx)
	out := clientNames{}
	for _, c := range clients {
		out[c.ID] = c.Name
	}
	return out, err
}

func (n clientNames) of(id *uuid.UUID) string {
	if id == nil {
		return ""
	}
	return n[*id]
}

// limits are the clients for which alone somebody works, as far as whoever asks sees them.
func (n clientNames) limits(who people.Person, ids []uuid.UUID) *[]api.ClientName {
	if ids == nil {
		return nil
	}
	out := []api.ClientName{}
	for _, id := range ids {
		if n[id] != "" && who.Sees(id) {
			out = append(out, api.ClientName{Id: id, Name: n[id]})
		}
	}
	slices.SortFunc(out, func(a, b api.ClientName) int { return strings.Compare(a.Name, b.Name) })
	return &out
}

func onePerson(p people.Person, names clientNames, you people.Person) api.Person {
	return api.Person{
		Id:           p.ID,
		Name:         p.Name,
		Email:        p.Email,
		Initials:     p.Initials,
		Role:         api.PersonRole(p.Role),
		Client:       p.Client,
		ClientName:   names.of(p.Client),
		Clients:      names.limits(you, p.Bounds().Clients),
		Ended:        p.Ended,
		SecondFactor: p.SecondFactor,
		You:          p.ID == you.ID,
	}
}

func oneInvitation(i people.Invitation, names clientNames, you people.Person) api.Invitation {
	return api.Invitation{
		Id: i.ID, Email: i.Email, Role: string(i.Role), ClientName: names.of(i.ClientID), Clients: names.limits(you, i.Clients),
		InvitedBy: i.InvitedBy, At: i.At, Expires: i.Expires,
	}
}

func boundsOf(role string, client *uuid.UUID, clients *[]uuid.UUID) people.Bounds {
	b := people.Bounds{Role: people.Role(role), Client: client}
	if clients != nil {
		b.Clients = append([]uuid.UUID{}, *clients...)
	}
	return b
}

// GetPeople lists everybody, and who is invited: for those who see some clients alone, without the people of others.
func (s *Server) GetPeople(ctx context.Context, _ api.GetPeopleRequestObject) (api.GetPeopleResponseObject, error) {
	people, err := s.Desk.People.People(ctx)
	if err != nil {
		return nil, err
	}
	invited, err := s.Desk.People.Invitations(ctx)
	if err != nil {
		return nil, err
	}
	names, err := s.clientNames(ctx)
	you := person(ctx)
	out := api.GetPeople200JSONResponse{People: []api.Person{}, Invitations: []api.Invitation{}}
	for _, p := range people {
		if p.Client == nil || you.Sees(*p.Client) {
			out.People = append(out.People, onePerson(p, names, you))
		}
	}
	for _, i := range invited {
		if i.ClientID == nil || you.Sees(*i.ClientID) {
			out.Invitations = append(out.Invitations, oneInvitation(i, names, you))
		}
	}
	return out, err
}

// SaveRole gives somebody another role, or other clients.
func (s *Server) SaveRole(ctx context.Context, in api.SaveRoleRequestObject) (api.SaveRoleResponseObject, error) {
	p, err := s.Desk.People.ChangeRole(ctx, person(ctx).Actor(), in.Person, boundsOf(string(in.Body.Role), in.Body.Client, in.Body.Clients))
	if err != nil {
		return nil, err
	}
	names, err := s.clientNames(ctx)
	return api.SaveRole200JSONResponse(onePerson(p, names, person(ctx))), err
}

// TakeOver ends somebody's access.
func (s *Server) TakeOver(ctx context.Context, in api.TakeOverRequestObject) (api.TakeOverResponseObject, error) {
	accounts, drafts, err := s.Desk.People.TakeOver(ctx, person(ctx).Actor(), in.Person, in.Body.To)
	return api.TakeOver200JSONResponse{Accounts: int(accounts), Drafts: int(drafts)}, err
}

// Invite invites somebody.
func (s *Server) Invite(ctx context.Context, in api.InviteRequestObject) (api.InviteResponseObject, error) {
	i, address, err := s.Desk.People.Invite(ctx, person(ctx), in.Body.Email, boundsOf(string(in.Body.Role), in.Body.Client, in.Body.Clients))
	if err != nil {
		return nil, err
	}
	names, err := s.clientNames(ctx)
	out := oneInvitation(i, names, person(ctx))
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
	p, err := s.Desk.People.Join(ctx, in.Secret, people.Newcomer{Email: text(in.Body.Email), Name: in.Body.Name, Password: in.Body.Password, Zone: in.Body.Zone})
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
