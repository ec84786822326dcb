package httpapi

import (
	"context"
	"net/http"
	"net/netip"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

const (
	sessionCookie = "uvent_session"
	browserCookie = "uvent_browser" // that somebody has signed in here before

	sessionLasts = 14 * 24 * time.Hour
	sessionIdles = 3 * 24 * time.Hour
	browserLasts = 365 * 24 * time.Hour

	// seenTouched is how exactly it is kept when a session last asked for something.
	seenTouched = 10 * time.Minute
)

// keepSessions are the sessions of those who are signed in, as cookies have them.
func (s *Server) keepSessions() {
	s.sessions = scs.New()
	s.sessions.Store = s.Sessions
	s.sessions.HashTokenInStore = true
	s.sessions.Lifetime = sessionLasts
	s.sessions.IdleTimeout = sessionIdles
	s.sessions.Cookie.Name = s.cookie(sessionCookie)
	s.sessions.Cookie.Secure = s.overTLS()
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
}

// overTLS reports whether people reach this server over TLS, by the address that it was given.
func (s *Server) overTLS() bool { return strings.HasPrefix(s.Desk.People.Address(), "https://") }

// cookie is what a cookie is called. Over TLS the name itself keeps it to this host and to TLS (RFC 6265bis, section 4.1.3.2).
func (s *Server) cookie(name string) string {
	if s.overTLS() {
		return "__Host-" + name
	}
	return name
}

// address is where a request comes from, of IPv6 the network: whoever has one address there has all.
func address(c *gin.Context) string {
	at, err := netip.ParseAddr(c.ClientIP())
	if err != nil {
		return c.ClientIP()
	}
	if at = at.Unmap(); at.Is6() {
		return netip.PrefixFrom(at.WithZone(""), 64).Masked().String()
	}
	return at.String()
}

// begin begins a session of a person, in whose browser it is kept; known is by what the browser is known from then on.
func (s *Server) begin(c *gin.Context, p people.Person, known string) error {
	rc := c.Request.Context()
	if err := s.sessions.RenewToken(rc); err != nil {
		return err
	}
	agent := c.Request.UserAgent()
	began := s.Desk.Now().Format(time.RFC3339)
	for key, value := range map[string]string{"person": p.ID.String(), "agent": agent[:min(len(agent), 200)], "from": c.ClientIP(),
		"began": began, "seen": began, "touched": time.Now().Format(time.RFC3339), "id": uuid.NewString()} {
		s.sessions.Put(rc, key, value)
	}
	s.sessions.Remove(rc, challengeKey)
	http.SetCookie(c.Writer, &http.Cookie{
		Name: s.cookie(browserCookie), Value: known, Path: "/", MaxAge: int(browserLasts.Seconds()),
		HttpOnly: true, Secure: s.overTLS(), SameSite: http.SameSiteLaxMode,
	})
	return s.commit(c)
}

// commit keeps what was put into a session, and sends its cookie.
func (s *Server) commit(c *gin.Context) error {
	rc := c.Request.Context()
	token, expiry, err := s.sessions.Commit(rc)
	if err == nil {
		s.sessions.WriteSessionCookie(rc, c.Writer, token, expiry)
	}
	return err
}

// touch keeps a session that is used from idling out.
func (s *Server) touch(c *gin.Context) error {
	rc := c.Request.Context()
	last, err := time.Parse(time.RFC3339, s.sessions.GetString(rc, "touched"))
	if err == nil && time.Since(last) < seenTouched {
		return nil
	}
	s.sessions.Put(rc, "touched", time.Now().Format(time.RFC3339))
	s.sessions.Put(rc, "seen", s.Desk.Now().Format(time.RFC3339))
	return s.commit(c)
}

func (s *Server) dropCookie(c *gin.Context) {
	s.sessions.WriteSessionCookie(c.Request.Context(), c.Writer, "", time.Time{})
}

// sessionsOf lists where somebody is signed in: the session that asks, then the latest.
func (s *Server) sessionsOf(c *gin.Context, who uuid.UUID) ([]api.SessionSeen, error) {
	out := []api.SessionSeen{}
	this := s.sessions.GetString(c.Request.Context(), "id")
	err := s.eachSession(c, who, func(one context.Context, id string) error {
		began, _ := time.Parse(time.RFC3339, s.sessions.GetString(one, "began"))
		seen, _ := time.Parse(time.RFC3339, s.sessions.GetString(one, "seen"))
		out = append(out, api.SessionSeen{
			Id: id, Agent: s.sessions.GetString(one, "agent"), Address: s.sessions.GetString(one, "from"), Began: began, Seen: seen, This: id == this,
		})
		return nil
	})
	slices.SortStableFunc(out, func(a, b api.SessionSeen) int {
		if a.This != b.This {
			return map[bool]int{true: -1, false: 1}[a.This]
		}
		return b.Began.Compare(a.Began)
	})
	return out, err
}

// endThose ends somebody's sessions that are meant, and tells how many. Those who look at what they change see no more.
func (s *Server) endThose(c *gin.Context, who uuid.UUID, meant func(id string) bool) (n int, err error) {
	err = s.eachSession(c, who, func(one context.Context, id string) error {
		if !meant(id) {
			return nil
		}
		n++
		return s.Sessions.Delete(s.sessions.Token(one)) // as the store has it: hashed
	})
	if err == nil && n > 0 {
		err = s.Desk.People.SessionsEnded(c)
	}
	return n, err
}

// eachSession goes through somebody's sessions.
func (s *Server) eachSession(c *gin.Context, who uuid.UUID, f func(one context.Context, id string) error) error {
	return s.sessions.Iterate(c.Request.Context(), func(one context.Context) error {
		if s.sessions.GetString(one, "person") != who.String() {
			return nil
		}
		return f(one, s.sessions.GetString(one, "id"))
	})
}

func all(string) bool { return true }

// GetSessions lists where one is signed in.
func (s *Server) GetSessions(ctx context.Context, _ api.GetSessionsRequestObject) (api.GetSessionsResponseObject, error) {
	out, err := s.sessionsOf(ctx.(*gin.Context), person(ctx).ID)
	return api.GetSessions200JSONResponse(out), err
}

// EndSession ends one of one's sessions.
func (s *Server) EndSession(ctx context.Context, in api.EndSessionRequestObject) (api.EndSessionResponseObject, error) {
	n, err := s.endThose(ctx.(*gin.Context), person(ctx).ID, func(id string) bool { return id == in.Session })
	if err == nil && n == 0 {
		err = &problem.Problem{Kind: problem.NotFound, Detail: "There is no such session of yours."}
	}
	return api.EndSession204Response{}, err
}

// EndSessions ends all of one's sessions.
func (s *Server) EndSessions(ctx context.Context, _ api.EndSessionsRequestObject) (api.EndSessionsResponseObject, error) {
	c := ctx.(*gin.Context)
	_, err := s.endThose(c, person(ctx).ID, all)
	s.dropCookie(c)
	return api.EndSessions204Response{}, err
}

// GetAccess tells where somebody is signed in, and their keys.
func (s *Server) GetAccess(ctx context.Context, in api.GetAccessRequestObject) (api.GetAccessResponseObject, error) {
	sessions, err := s.sessionsOf(ctx.(*gin.Context), in.Person)
	if err != nil {
		return nil, err
	}
	keys, err := s.Desk.People.Keys(ctx, in.Person)
	return api.GetAccess200JSONResponse{Sessions: sessions, Keys: manyKeys(keys)}, err
}

// EndAccess ends all of somebody's sessions and keys.
func (s *Server) EndAccess(ctx context.Context, in api.EndAccessRequestObject) (api.EndAccessResponseObject, error) {
	if err := s.Desk.People.EndKeys(ctx, person(ctx), in.Person); err != nil {
		return nil, err
	}
	_, err := s.endThose(ctx.(*gin.Context), in.Person, all)
	return api.EndAccess204Response{}, err
}
