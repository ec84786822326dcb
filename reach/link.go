package reach

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"
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

// mostSteps is how many redirections are followed.
const mostSteps = 5

// CheckLink asks a web address and says whether it answers. Names that end in
// .example, which cannot exist (RFC 2606), are asked of the outside where there
// is one, and of nobody else; of all others, only those with a public address are asked.
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
		case errors.Is(err, errNowhere):
			return no("%s is a name that leads nowhere.", host(at))
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
	asked := address
	if r.outside != "" && strings.HasSuffix(strings.ToLower(u.Hostname()), ".example") {
		asked = r.outside + "/web/" + u.Hostname() + u.EscapedPath()
	} else if r.isOutside(u) { // itself only by way of its names
		return 0, "", errPrivate
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, asked, nil)
	if err != nil {
		return 0, "", err
	}
	resp, err := r.links.Do(req)
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
