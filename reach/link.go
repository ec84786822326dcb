package reach

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"strings"
	"syscall"
	"time"
)

// LinkAnswer is whether a web address answers.
type LinkAnswer struct {
	Address string
	Good    bool
	Says    string // in words: answers, is not there, leads elsewhere
}

// linkPatience is how long an address may take to answer.
const linkPatience = 8 * time.Second

// errPrivate means that an address leads into a private network.
var errPrivate = errors.New("it leads into a private network, where nothing is asked for")

// openClient asks addresses that people gave, and so refuses to connect to
// anything but public addresses, wherever a name or a redirection leads.
func openClient() *http.Client {
	dialer := &net.Dialer{Timeout: linkPatience, Control: func(_, address string, _ syscall.RawConn) error {
		at, err := netip.ParseAddrPort(address)
		if err != nil || !public(at.Addr().Unmap()) {
			return errPrivate
		}
		return nil
	}}
	return &http.Client{
		Timeout:       linkPatience,
		Transport:     &http.Transport{DialContext: dialer.DialContext, DisableKeepAlives: true, Proxy: nil},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }, // each step is decided by CheckLink
	}
}

// shared are ranges that are no private ones by name but lead nowhere public:
// carriers' own (RFC 6598), reserved (RFC 1112), and IPv6 that wraps IPv4 (RFC 6052).
var shared = []netip.Prefix{
	netip.MustParsePrefix("100.64.0.0/10"),
	netip.MustParsePrefix("240.0.0.0/4"),
	netip.MustParsePrefix("0.0.0.0/8"),
	netip.MustParsePrefix("64:ff9b::/96"),
}

func public(a netip.Addr) bool {
	for _, p := range shared {
		if p.Contains(a) {
			return false
		}
	}
	return a.IsGlobalUnicast() && !a.IsPrivate() && !a.IsLoopback() && !a.IsLinkLocalUnicast()
}

// mostSteps is how many redirections are followed.
const mostSteps = 5

// CheckLink asks a web address and says whether it answers. Names that end in
// .example, which cannot exist (RFC 2606), are asked of the outside where there
// is one; of all others, only those with a public address are asked.
func (r *Reach) CheckLink(ctx context.Context, address string) LinkAnswer {
	no := func(format string, a ...any) LinkAnswer {
		return LinkAnswer{Address: address, Says: fmt.Sprintf(format, a...)}
	}
	at := address
	for range mostSteps {
		status, leads, err := r.step(ctx, at)
		switch {
		case errors.Is(err, errPrivate):
			return no("It leads into a private network, where nothing is asked for.")
		case err != nil:
			return no("%s does not answer.", host(at))
		case status >= 300 && status < 400 && leads != "":
			at = leads
			continue
		case status == http.StatusNotFound || status == http.StatusGone:
			return no("There is no page at this address (%d).", status)
		case status >= 400:
			return no("It answers with an error (%d).", status)
		case host(at) != host(address):
			return LinkAnswer{address, true, "It answers, and leads to " + host(at) + "."}
		}
		return LinkAnswer{address, true, "It answers."}
	}
	return no("It leads on and on, more than %d times.", mostSteps)
}

func host(address string) string {
	u, err := url.Parse(address)
	if err != nil {
		return address
	}
	return u.Hostname()
}

// step asks one address, and tells where it leads.
func (r *Reach) step(ctx context.Context, address string) (status int, leads string, err error) {
	u, err := url.Parse(address)
	if err != nil || u.Scheme != "http" && u.Scheme != "https" {
		return 0, "", fmt.Errorf("%q is no web address", address)
	}
	client, asked := r.open, address
	if r.outside != "" && strings.HasSuffix(strings.ToLower(u.Hostname()), ".example") {
		client, asked = r.http, r.outside+"/web/"+u.Hostname()+u.EscapedPath()
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, asked, nil)
	if err != nil {
		return 0, "", err
	}
	ctxClient := *client
	ctxClient.CheckRedirect = r.open.CheckRedirect
	resp, err := ctxClient.Do(req)
	if err != nil {
		return 0, "", err
	}
	resp.Body.Close()
	if to := resp.Header.Get("Location"); to != "" {
		if ref, err := u.Parse(to); err == nil {
			leads = ref.String()
		}
	}
	return resp.StatusCode, leads, nil
}
