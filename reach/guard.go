package reach

import (
	"context"
	"errors"
	"net"
	"net/http"
	"net/netip"
	"strings"
	"sync/atomic"
	"syscall"
	"time"
)

// guard is the one dialer for all that goes out over HTTP. It connects to public addresses, whatever names and redirections
// lead to; and beyond them only where whoever runs the server said so when it was started.
type guard struct {
	outside string         // host:port of the stand-ins; empty for none
	private []netip.Prefix // ranges in which connectors may be
	let     atomic.Int64   // how many connections it let through
}

// errPrivate means that an address leads into a private network, errNowhere that it cannot lead anywhere.
var (
	errPrivate = errors.New("it leads into a private network, where nothing is asked for")
	errNowhere = errors.New("it is a name that leads nowhere")
)

// closed are ranges that are no private ones by what package netip says, and lead nowhere public all the same: those of the
// IANA's special-purpose registries (RFC 6890), and IPv6 that wraps IPv4 and so leads anywhere.
var closed = func() (out []netip.Prefix) {
	for _, p := range strings.Fields(`0.0.0.0/8 100.64.0.0/10 192.0.0.0/24 192.0.2.0/24 192.88.99.0/24 198.18.0.0/15 198.51.100.0/24 203.0.113.0/24
		240.0.0.0/4 ::/96 64:ff9b::/96 64:ff9b:1::/48 100::/64 2001::/23 2001:db8::/32 2002::/16 3fff::/20 5f00::/16 fec0::/10`) {
		out = append(out, netip.MustParsePrefix(p))
	}
	return out
}()

func public(a netip.Addr) bool {
	return a.IsGlobalUnicast() && !a.IsPrivate() && !a.IsLoopback() && !a.IsLinkLocalUnicast() && !within(a, closed)
}

func within(a netip.Addr, ranges []netip.Prefix) bool {
	for _, p := range ranges {
		if p.Contains(a) {
			return true
		}
	}
	return false
}

// nowhere reports whether a name is one that cannot exist (RFC 2606, RFC 6761).
func nowhere(host string) bool {
	for _, end := range []string{"example", "example.com", "example.net", "example.org", "invalid", "test", "onion"} {
		if host == end || strings.HasSuffix(host, "."+end) {
			return true
		}
	}
	return false
}

// control decides on an address when it is about to be connected to, after all names were resolved.
func (g *guard) control(_, address string, _ syscall.RawConn) error {
	at, err := netip.ParseAddrPort(address)
	if err != nil {
		return errPrivate
	}
	if a := at.Addr().Unmap().WithZone(""); !public(a) && !within(a, g.private) {
		return errPrivate
	}
	g.let.Add(1)
	return nil
}

func (g *guard) dial(ctx context.Context, network, address string) (net.Conn, error) {
	if g.outside != "" && address == g.outside {
		return (&net.Dialer{Timeout: patience}).DialContext(ctx, network, address)
	}
	host, _, err := net.SplitHostPort(address)
	if err != nil {
		return nil, err
	}
	switch name := strings.ToLower(strings.TrimSuffix(host, ".")); {
	case name == "localhost" || strings.HasSuffix(name, ".localhost"): // RFC 6761
		return nil, errPrivate
	case nowhere(name):
		return nil, errNowhere
	}
	return (&net.Dialer{Timeout: linkPatience, Control: g.control}).DialContext(ctx, network, address)
}

// client asks through the guard, and follows no redirection by itself: whoever asks decides about each.
func (g *guard) client(wait time.Duration) *http.Client {
	return &http.Client{
		Timeout:       wait,
		Transport:     &http.Transport{DialContext: g.dial, Proxy: nil, MaxIdleConnsPerHost: 8, IdleConnTimeout: time.Minute, TLSHandshakeTimeout: patience},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
}
