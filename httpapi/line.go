package httpapi

import (
	"net"
	"net/http"
	"time"

	"golang.org/x/net/netutil"
)

// What a connection may take, whatever is asked for on it.
const (
	mostConnections = 1000
	headerPatience  = 10 * time.Second
	idlePatience    = 2 * time.Minute
	writePatience   = 30 * time.Second // for one piece of an answer to be taken
	mostHeader      = 32 << 10         // bytes
)

// Listen serves a handler's answers on a listener, each connection bounded in what it may take. It is the server that
// http.Server is, not yet serving.
func Listen(l net.Listener, h http.Handler) (*http.Server, net.Listener) {
	return &http.Server{
		Handler:           patient(h),
		ReadHeaderTimeout: headerPatience,
		IdleTimeout:       idlePatience,
		MaxHeaderBytes:    mostHeader,
	}, netutil.LimitListener(l, mostConnections)
}

// patient lets each piece of an answer be taken for a while, and no longer.
func patient(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		p := pieces{w, http.NewResponseController(w)}
		next.ServeHTTP(p, r)
		p.begin() // what is left to be sent
	})
}

// pieces is an answer that is sent piece by piece.
type pieces struct {
	http.ResponseWriter
	line *http.ResponseController
}

func (p pieces) begin() { _ = p.line.SetWriteDeadline(time.Now().Add(writePatience)) } // a line that has none waits as it does

// Write sends a piece.
func (p pieces) Write(b []byte) (int, error) {
	p.begin()
	return p.ResponseWriter.Write(b)
}

// Flush sends what is written.
func (p pieces) Flush() {
	p.begin()
	_ = p.line.Flush() // a line that is gone is noticed by the next piece
}

// Unwrap is the answer itself.
func (p pieces) Unwrap() http.ResponseWriter { return p.ResponseWriter }
