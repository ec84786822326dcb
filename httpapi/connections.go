package httpapi

import (
	"context"
	"strings"
	"time"

	"uvent/desk/doors"
	"uvent/httpapi/api"
)

// GetConnections tells how the interfaces of directories answer.
func (s *Server) GetConnections(ctx context.Context, _ api.GetConnectionsRequestObject) (api.GetConnectionsResponseObject, error) {
	list, err := s.Desk.Doors.Doors(ctx)
	out := make(api.GetConnections200JSONResponse, len(list))
	for i, d := range list {
		out[i] = api.Connection{
			Directory: d.Directory, Name: d.Name, StandIn: d.StandIn, Answered: d.Answered, Waiting: d.Waiting,
			SilentFor: lasting(d.Silent), AloneFor: lasting(d.Alone), WaitingFor: lasting(d.Oldest), Says: unlessEmpty(d.Says),
		}
		if d.Answered {
			ago := d.Ago.Seconds()
			out[i].AnsweredAgo = &ago
		}
		if c := d.Entered; c != nil {
			out[i].Credential = &api.Credential{Manner: api.Manner(c.Manner), Moved: c.Moved, SetBy: c.SetBy, SetAt: c.SetAt}
			if c.Ends {
				out[i].Credential.EndsIn = lasting(max(c.EndsIn, 1))
			}
		}
	}
	return out, err
}

// lasting is a duration in seconds; nil for none.
func lasting(d time.Duration) *float64 {
	if d <= 0 {
		return nil
	}
	seconds := d.Seconds()
	return &seconds
}

func unlessEmpty(s string) *string {
	if s == "" {
		return nil
	}
	return &s
}

// GetWaiting tells what a directory is asked and has not answered.
func (s *Server) GetWaiting(ctx context.Context, in api.GetWaitingRequestObject) (api.GetWaitingResponseObject, error) {
	list, next, err := s.Desk.Doors.Waiting(ctx, in.Directory, text(in.Params.After))
	if err != nil {
		return nil, err
	}
	out := api.GetWaiting200JSONResponse{Next: unlessEmpty(next)}
	out.Rows = make([]api.WaitingRow, len(list))
	for i, w := range list {
		out.Rows[i] = api.WaitingRow{
			Location: w.Location, Label: w.Label, ClientName: w.Client, Asked: string(w.Kind), Tries: w.Tries, Waits: w.Waits.Seconds(),
		}
	}
	return out, nil
}

// TryConnection asks a directory at once what waits for it.
func (s *Server) TryConnection(ctx context.Context, in api.TryConnectionRequestObject) (api.TryConnectionResponseObject, error) {
	return api.TryConnection204Response{}, s.Desk.Doors.TryNow(ctx, in.Directory)
}

// SetCredential says with what an interface is entered.
func (s *Server) SetCredential(ctx context.Context, in api.SetCredentialRequestObject) (api.SetCredentialResponseObject, error) {
	b := in.Body
	secrets := doors.Secrets{
		Token: text(b.Token), User: text(b.User), Password: text(b.Password), TokenURL: text(b.TokenUrl), ClientID: text(b.ClientId),
		ClientSecret: text(b.ClientSecret), Scopes: strings.Fields(text(b.Scopes)), Refresh: text(b.Refresh),
	}
	return api.SetCredential204Response{}, s.Desk.Doors.SetCredential(ctx, person(ctx).Actor(), in.Directory, doors.Manner(b.Manner), secrets)
}

// DropCredential has an interface entered with nothing.
func (s *Server) DropCredential(ctx context.Context, in api.DropCredentialRequestObject) (api.DropCredentialResponseObject, error) {
	return api.DropCredential204Response{}, s.Desk.Doors.DropCredential(ctx, person(ctx).Actor(), in.Directory)
}
