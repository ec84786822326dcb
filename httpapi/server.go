// Package httpapi serves Uvent over HTTP: the interface that openapi.yaml
// describes, and the front end's files.
package httpapi

import (
	"context"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"uvent/desk/clockwork"
	"uvent/desk/people"
	"uvent/httpapi/api"
)

// Options of a server.
type Options struct {
	Desk     *clockwork.Desk
	Sessions scs.Store
	Files    fs.FS // the built front end
	Accounts []api.DemoAccount
	Outside  string // address of the stand-ins' page; empty for none
	Log      *slog.Logger
}

// Server answers requests.
type Server struct {
	Options
	sessions *scs.SessionManager
	ending   <-chan struct{} // the server ends
	owners   pace
	open     map[string]bool // operations that need no session: "GET /api/sign-in"

	operations map[string]string // operationIds, likewise
}

const sessionCookie = "uvent_session"

// New makes the handler. Changes are passed on until the context ends.
func New(ctx context.Context, o Options) (http.Handler, error) {
	s := &Server{Options: o, sessions: scs.New(), ending: ctx.Done(), open: map[string]bool{}, operations: map[string]string{}}
	s.sessions.Store = o.Sessions
	s.sessions.HashTokenInStore = true
	s.sessions.Lifetime = 14 * 24 * time.Hour
	s.sessions.Cookie.Name = sessionCookie
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
	spec, err := api.GetSpec()
	if err != nil {
		return nil, err
	}
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			s.operations[method+" "+ginPath(path)] = strings.ToLower(op.OperationID[:1]) + op.OperationID[1:] // the generator writes it with a capital
			if op.Security != nil && len(*op.Security) == 0 {
				s.open[method+" "+ginPath(path)] = true
			}
		}
	}

	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.ContextWithFallback = true
	r.MaxMultipartMemory = 8 << 20
	r.Use(gin.CustomRecoveryWithWriter(nil, func(c *gin.Context, cause any) {
		o.Log.Error("a request broke", "path", c.Request.URL.Path, "cause", cause)
		writeProblem(c, http.StatusInternalServerError, faultDetail, nil)
	}), s.guard)
	strict := api.NewStrictHandlerWithOptions(s, []api.StrictMiddlewareFunc{accepted}, api.StrictGinServerOptions{
		RequestErrorHandlerFunc:  func(c *gin.Context, err error) { writeProblem(c, http.StatusBadRequest, badRequest(err), nil) },
		HandlerErrorFunc:         s.fail,
		ResponseErrorHandlerFunc: s.fail,
	})
	api.RegisterHandlersWithOptions(r, strict, api.GinServerOptions{ErrorHandler: func(c *gin.Context, err error, status int) {
		writeProblem(c, status, badRequest(err), nil)
	}})
	r.NoRoute(s.files)
	return secured(fromHere(r)), nil
}

// fromHere is the one place where requests that another site made a browser
// send are refused: those that would change something.
func fromHere(next http.Handler) http.Handler {
	p := http.NewCrossOriginProtection()
	p.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		sendProblem(w, http.StatusForbidden, "This request came from another site, and is not done.", nil)
	}))
	return p.Handler(next)
}

// ginPath writes an OpenAPI path as Gin does.
func ginPath(path string) string {
	return strings.NewReplacer("{", ":", "}", "").Replace(path)
}

// secured sets the headers that keep a page to its own scripts and frames.
func secured(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set(
			"Content-Security-Policy",
			"default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
		)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		next.ServeHTTP(w, r)
	})
}

// guard is the one place where it is decided who may ask for what: without a
// session, only what the contract leaves open.
func (s *Server) guard(c *gin.Context) {
	if !strings.HasPrefix(c.Request.URL.Path, "/api/") {
		return
	}
	c.Header("Cache-Control", "no-store")
	if strings.HasPrefix(c.Request.URL.Path, ownersPath) && !s.owners.allow(c.Request) {
		writeProblem(c, http.StatusTooManyRequests, "That was a lot at once. Wait a minute, then try again.", nil)
		c.Abort()
		return
	}
	token := ""
	if cookie, err := c.Request.Cookie(sessionCookie); err == nil {
		token = cookie.Value
	}
	ctx, err := s.sessions.Load(c.Request.Context(), token)
	if err != nil {
		s.fail(c, err)
		c.Abort()
		return
	}
	c.Request = c.Request.WithContext(ctx)
	if s.open[c.Request.Method+" "+c.FullPath()] {
		return
	}
	person, err := s.whoAsks(c.Request)
	if err != nil {
		writeProblem(c, http.StatusUnauthorized, "Sign in first.", nil)
		c.Abort()
		return
	}
	if !s.allowed(c, person) {
		c.Abort()
		return
	}
	c.Request = c.Request.WithContext(context.WithValue(ctx, personKey{}, person))
}

// whoAsks is the person whose session or key comes with a request.
func (s *Server) whoAsks(r *http.Request) (people.Person, error) {
	if key, ok := strings.CutPrefix(r.Header.Get("Authorization"), "Bearer "); ok {
		return s.Desk.People.WithKey(r.Context(), strings.TrimSpace(key))
	}
	id, err := uuid.Parse(s.sessions.GetString(r.Context(), "person"))
	if err != nil {
		return people.Person{}, err
	}
	return s.Desk.People.Person(r.Context(), id)
}

type personKey struct{}

// person is who asks; guard has put it there.
func person(ctx context.Context) people.Person {
	p, _ := ctx.Value(personKey{}).(people.Person)
	return p
}

// files serves the front end: its files as they are, and its page for every
// address that it routes itself.
func (s *Server) files(c *gin.Context) {
	path := strings.TrimPrefix(c.Request.URL.Path, "/")
	if strings.HasPrefix(path, "api/") {
		writeProblem(c, http.StatusNotFound, "There is nothing at this address.", nil)
		return
	}
	if c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
		writeProblem(c, http.StatusMethodNotAllowed, "This address can only be read.", nil)
		return
	}
	info, err := fs.Stat(s.Files, path)
	there := path != "" && err == nil && !info.IsDir()
	if strings.HasPrefix(path, "assets/") && !there {
		writeProblem(c, http.StatusNotFound, "There is no such file.", nil)
		return
	}
	if !there {
		c.Header("Cache-Control", "no-cache")
		http.ServeFileFS(c.Writer, c.Request, s.Files, "index.html")
		return
	}
	if strings.HasPrefix(path, "assets/") { // named by their content
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
	}
	http.ServeFileFS(c.Writer, c.Request, s.Files, path)
}
