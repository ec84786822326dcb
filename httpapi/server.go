// Package httpapi serves Uvent over HTTP: the interface that openapi.yaml
// describes, and the front end's files.
package httpapi

import (
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"uvent/desk/clockwork"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

// Options of a server.
type Options struct {
	Desk     *clockwork.Desk
	Sessions scs.Store
	Files    fs.FS // the built front end
	Accounts []api.DemoAccount
	Outside  string   // address of the stand-ins' page; empty for none
	Proxies  []string // addresses or ranges whose word is taken for where a request comes from (X-Forwarded-For)
	Log      *slog.Logger
	Access   *slog.Logger // is told of each request; nil: nobody is
	Heard    func(Heard)  // likewise
}

// Server answers requests.
type Server struct {
	Options
	sessions *scs.SessionManager
	ending   <-chan struct{} // the server ends
	guesses  pace            // at what is open to whoever knows a secret
	streams  streams
	contract contract
	outages  outages
}

// New makes the handler. Changes are passed on until the context ends.
func New(ctx context.Context, o Options) (http.Handler, error) {
	k, err := readContract()
	if err != nil {
		return nil, err
	}
	s := &Server{Options: o, ending: ctx.Done(), contract: k}
	s.keepSessions()

	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.ContextWithFallback = true
	r.RedirectTrailingSlash = false // an id that is empty is not there, and is not all of them
	r.MaxMultipartMemory = 8 << 20
	if err := r.SetTrustedProxies(o.Proxies); err != nil {
		return nil, err
	}
	r.Use(s.heard, gin.CustomRecoveryWithWriter(nil, func(c *gin.Context, cause any) {
		o.Log.Error("a request broke", "request", requestOf(c.Request.Context()), "route", c.FullPath(), "cause", cause)
		fault(c)
	}), s.gate, s.guard, s.checked, s.reached, s.shelved, s.once)
	strict := api.NewStrictHandlerWithOptions(s, []api.StrictMiddlewareFunc{accepted}, api.StrictGinServerOptions{
		RequestErrorHandlerFunc:  func(c *gin.Context, err error) { writeProblem(c, http.StatusBadRequest, badRequest(err), nil) },
		HandlerErrorFunc:         s.fail,
		ResponseErrorHandlerFunc: s.fail,
	})
	api.RegisterHandlersWithOptions(r, strict, api.GinServerOptions{ErrorHandler: func(c *gin.Context, err error, status int) {
		writeProblem(c, status, badRequest(err), nil)
	}})
	r.NoRoute(s.files)
	return s.secured(fromHere(r)), nil
}

// fromHere is the one place where requests that another site made a browser
// send are refused: those that would change something.
func fromHere(next http.Handler) http.Handler {
	p := http.NewCrossOriginProtection()
	p.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		sendProblem(w, problemOf(http.StatusForbidden, "This request came from another site, and is not done.", nil))
	}))
	return p.Handler(next)
}

// shut are what no page of ours asks a browser for (https://www.w3.org/TR/permissions-policy/).
const shut = "accelerometer=(), camera=(), display-capture=(), geolocation=(), gyroscope=(), magnetometer=(), microphone=(), midi=(), payment=(), usb=()"

// secured sets the headers that keep a page to its own scripts, styles and frames, and its browser to TLS.
func (s *Server) secured(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set(
			"Content-Security-Policy",
			"default-src 'self'; media-src 'self' blob:; img-src 'self' data:; object-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
		)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Permissions-Policy", shut)
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		if s.overTLS() {
			h.Set("Strict-Transport-Security", "max-age=31536000") // RFC 6797
		}
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
	op := s.contract.of(c)
	if op != nil && op.open && op.id != "getSignIn" && op.id != "signIn" && !s.guesses.allow(address(c)) { // those who sign in are held back by people
		c.Header("Retry-After", "60")
		writeProblem(c, http.StatusTooManyRequests, "That was a lot at once. Wait a minute, then try again.", nil)
		c.Abort()
		return
	}
	token, _ := c.Cookie(s.sessions.Cookie.Name) // those who never signed in have none
	ctx, err := s.sessions.Load(c.Request.Context(), token)
	if err != nil {
		s.fail(c, err)
		c.Abort()
		return
	}
	c.Request = c.Request.WithContext(ctx)
	if op != nil && op.open {
		c.Set(begunKey, true)
		return
	}
	person, err := s.whoAsks(c.Request)
	var refused *problem.Problem
	switch {
	case errors.As(err, &refused):
		writeProblem(c, http.StatusUnauthorized, "Sign in first.", nil)
	case err != nil:
		s.fail(c, err)
	}
	if err != nil {
		c.Abort()
		return
	}
	if !s.allowed(c, person) {
		c.Abort()
		return
	}
	if person.Key == "" {
		if err := s.touch(c); err != nil {
			s.fail(c, err)
			c.Abort()
			return
		}
	}
	c.Request = c.Request.WithContext(context.WithValue(ctx, personKey{}, person))
	c.Set(begunKey, true)
}

// whoAsks is the person whose session or key comes with a request.
func (s *Server) whoAsks(r *http.Request) (people.Person, error) {
	if key, ok := strings.CutPrefix(r.Header.Get("Authorization"), "Bearer "); ok {
		return s.Desk.People.WithKey(r.Context(), strings.TrimSpace(key))
	}
	id, err := uuid.Parse(s.sessions.GetString(r.Context(), "person"))
	if err != nil {
		return people.Person{}, &problem.Problem{Kind: problem.NotFound, Detail: "Nobody is signed in."}
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
