package httpapi

import (
	"context"
	"net"

	"github.com/gin-gonic/gin"

	"uvent/desk"
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
	p, err := s.Desk.SignIn(ctx, in.Body.Email, in.Body.Password, host)
	if err != nil {
		return nil, err
	}
	rc := c.Request.Context()
	if err := s.sessions.RenewToken(rc); err != nil {
		return nil, err
	}
	s.sessions.Put(rc, "person", p.ID.String())
	token, expiry, err := s.sessions.Commit(rc)
	if err != nil {
		return nil, err
	}
	s.sessions.WriteSessionCookie(rc, c.Writer, token, expiry)
	return api.SignIn200JSONResponse(s.session(p)), nil
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

func (s *Server) session(p desk.Person) api.Session {
	return api.Session{Name: p.Name, Email: p.Email, Initials: p.Initials, Zone: p.Zone, Demo: s.Desk.Demo(), Now: s.Desk.Now(), Outside: s.Outside}
}

// MoveClock moves a demo's clock.
func (s *Server) MoveClock(ctx context.Context, in api.MoveClockRequestObject) (api.MoveClockResponseObject, error) {
	var m desk.Move
	if by := in.Body.By; by != nil {
		m.Day, m.NextEvent = *by == api.Day, *by == api.NextEvent
	}
	m.To = in.Body.To
	if err := s.Desk.MoveClock(ctx, m); err != nil {
		return nil, err
	}
	return api.MoveClock200JSONResponse{Now: s.Desk.Now()}, nil
}
