package httpapi

import (
	"context"
	"net"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"uvent/desk/clockwork"
	"uvent/desk/people"
	"uvent/httpapi/api"
)

// GetSignIn tells what the sign-in page shows.
func (s *Server) GetSignIn(context.Context, api.GetSignInRequestObject) (api.GetSignInResponseObject, error) {
	return api.GetSignIn200JSONResponse{Accounts: append([]api.DemoAccount{}, s.Accounts...)}, nil
}

// SignIn begins a session.
func (s *Server) SignIn(ctx context.Context, in api.SignInRequestObject) (api.SignInResponseObject, error) {
	c := ctx.(*gin.Context)
	host, _, _ := net.SplitHostPort(c.Request.RemoteAddr)
	p, err := s.Desk.People.SignIn(ctx, in.Body.Email, in.Body.Password, text(in.Body.Code), host)
	if err != nil {
		return nil, err
	}
	if err := s.begin(c, p, host); err != nil {
		return nil, err
	}
	return api.SignIn200JSONResponse(s.session(p)), nil
}

// begin begins a session of a person, in whose browser it is kept.
func (s *Server) begin(c *gin.Context, p people.Person, host string) error {
	rc := c.Request.Context()
	if err := s.sessions.RenewToken(rc); err != nil {
		return err
	}
	agent := c.Request.UserAgent()
	for key, value := range map[string]string{"person": p.ID.String(), "agent": agent[:min(len(agent), 200)], "from": host,
		"began": s.Desk.Now().Format(time.RFC3339), "id": uuid.NewString()} {
		s.sessions.Put(rc, key, value)
	}
	token, expiry, err := s.sessions.Commit(rc)
	if err == nil {
		s.sessions.WriteSessionCookie(rc, c.Writer, token, expiry)
	}
	return err
}

// GetSession tells who is signed in.
func (s *Server) GetSession(ctx context.Context, _ api.GetSessionRequestObject) (api.GetSessionResponseObject, error) {
	return api.GetSession200JSONResponse(s.session(person(ctx))), nil
}

// SignOut ends the session.
func (s *Server) SignOut(ctx context.Context, _ api.SignOutRequestObject) (api.SignOutResponseObject, error) {
	c := ctx.(*gin.Context)
	rc := c.Request.Context()
	if err := s.sessions.Destroy(rc); err != nil {
		return nil, err
	}
	c.SetCookie(sessionCookie, "", -1, "/", "", false, true)
	return api.SignOut204Response{}, nil
}

func (s *Server) session(p people.Person) api.Session {
	out := api.Session{
		Name:         p.Name,
		Email:        p.Email,
		Initials:     p.Initials,
		Zone:         p.Zone,
		Demo:         s.Desk.Demo(),
		Now:          s.Desk.Now(),
		Outside:      s.Outside,
		Role:         api.SessionRole(p.Role),
		SecondFactor: p.SecondFactor,
		DigestMinute: p.Digest,
		May:          []api.SessionMay{},
	}
	for _, n := range []people.Need{people.See, people.Confirm, people.Edit, people.SendOut, people.Administer} {
		if p.May(n) {
			out.May = append(out.May, api.SessionMay(n))
		}
	}
	return out
}

// MoveClock moves a demo's clock.
func (s *Server) MoveClock(ctx context.Context, in api.MoveClockRequestObject) (api.MoveClockResponseObject, error) {
	var m clockwork.Move
	if by := in.Body.By; by != nil {
		m.Day, m.NextEvent = *by == api.Day, *by == api.NextEvent
	}
	m.To = in.Body.To
	if err := s.Desk.MoveClock(ctx, m); err != nil {
		return nil, err
	}
	return api.MoveClock200JSONResponse{Now: s.Desk.Now()}, nil
}
