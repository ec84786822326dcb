package httpapi

import (
	"context"

	"github.com/gin-gonic/gin"

	"uvent/desk/clockwork"
	"uvent/desk/people"
	"uvent/httpapi/api"
)

// GetSignIn tells what the sign-in page shows.
func (s *Server) GetSignIn(ctx context.Context, _ api.GetSignInRequestObject) (api.GetSignInResponseObject, error) {
	nobody, err := s.Desk.People.NobodyYet(ctx)
	return api.GetSignIn200JSONResponse{
		Accounts: append([]api.DemoAccount{}, s.Accounts...), Passkeys: s.Desk.People.PasskeysWork(), Nobody: nobody,
	}, err
}

// SignIn begins a session.
func (s *Server) SignIn(ctx context.Context, in api.SignInRequestObject) (api.SignInResponseObject, error) {
	c := ctx.(*gin.Context)
	browser, _ := c.Cookie(s.cookie(browserCookie)) // one that never signed in has none
	p, known, err := s.Desk.People.SignIn(ctx, people.Credentials{
		Email: in.Body.Email, Password: in.Body.Password, Code: text(in.Body.Code), Browser: browser, Address: address(c),
	})
	if err != nil {
		s.Log.Warn("a sign-in was refused", "from", address(c), "why", err)
		return nil, err
	}
	return api.SignIn200JSONResponse(s.session(p)), s.begin(c, p, known)
}

// GetSession tells who is signed in.
func (s *Server) GetSession(ctx context.Context, _ api.GetSessionRequestObject) (api.GetSessionResponseObject, error) {
	return api.GetSession200JSONResponse(s.session(person(ctx))), nil
}

// SignOut ends the session.
func (s *Server) SignOut(ctx context.Context, _ api.SignOutRequestObject) (api.SignOutResponseObject, error) {
	c := ctx.(*gin.Context)
	if err := s.sessions.Destroy(c.Request.Context()); err != nil {
		return nil, err
	}
	s.dropCookie(c)
	return api.SignOut204Response{}, s.Desk.People.SessionsEnded(ctx)
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
		Limited:      p.Limited(),
		SecondFactor: p.SecondFactor,
		Codes:        p.Codes,
		MustFactor:   p.MustFactor,
		Passkeys:     s.Desk.People.PasskeysWork(),
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
