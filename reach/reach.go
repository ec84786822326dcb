// Package reach speaks to what lies outside: directories through their
// interfaces and public pages, and the shared clock of a demo.
package reach

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/netip"
	"net/url"
	"strings"
	"time"
	"unicode"
)

// Reach is a client of the outside. It is safe for concurrent use.
type Reach struct {
	guard   *guard
	http    *http.Client // for connectors and their pages
	links   *http.Client // for addresses that people gave, which answer at once or not at all
	outside string       // base of the stand-ins, without a closing slash
	account string
	mail    MailServer
}

// New makes a client. outside is where the stand-ins' server is; account is the
// one that directories know us by.
func New(outside, account string) *Reach {
	outside = strings.TrimSuffix(outside, "/")
	g := &guard{}
	if u, err := url.Parse(outside); err == nil {
		g.outside = u.Host
	}
	return &Reach{guard: g, http: g.client(patience), links: g.client(linkPatience), outside: outside, account: account}
}

// patience is how long a connector may take to answer.
const patience = 15 * time.Second

// WithPrivate names ranges that are not public in which connectors may be all the same.
func (r *Reach) WithPrivate(ranges []netip.Prefix) *Reach {
	r.guard.private = ranges
	return r
}

// isOutside reports whether an address is one of the stand-ins' server.
func (r *Reach) isOutside(u *url.URL) bool { return r.guard.outside != "" && u.Host == r.guard.outside }

// WithMail says which server takes letters.
func (r *Reach) WithMail(s MailServer) *Reach {
	r.mail = s
	return r
}

// Account is the one that directories know us by.
func (r *Reach) Account() string { return r.account }

// Outside is the address of the stand-ins' own page.
func (r *Reach) Outside() string { return r.outside }

// resolve turns outside:/path into the stand-ins' address.
func (r *Reach) resolve(ref string) string {
	if path, ok := strings.CutPrefix(ref, "outside:"); ok {
		return r.outside + path
	}
	return ref
}

// Address is where people find a directory's own pages; empty for none.
func (r *Reach) Address(page string) string { return r.resolve(page) }

// PageURL is the full address of a public page that a connector named, by the
// connector's own address.
func (r *Reach) PageURL(connector, page string) string {
	base, err := url.Parse(r.resolve(connector))
	if err != nil || page == "" {
		return ""
	}
	ref, err := base.Parse(page)
	if err != nil {
		return ""
	}
	return ref.String()
}

// Refusal is a directory's no: asking again the same way would not help.
type Refusal struct {
	Status    int    `json:"status"`
	Code      string `json:"code"`
	Detail    string `json:"detail"`
	HeldBy    string `json:"held_by"`
	TriesLeft *int   `json:"tries_left"`
}

func (r *Refusal) Error() string { return r.Detail }

// Unanswered is a request that got no answer, one that cannot be one, or one that says to try again.
type Unanswered struct {
	Why   error
	After time.Duration // for which whoever was asked wants to be left alone; 0: it did not say
}

func (u *Unanswered) Error() string { return "no answer: " + u.Why.Error() }
func (u *Unanswered) Unwrap() error { return u.Why }

// mostBytes bounds what is read of any answer.
const mostBytes = 4 << 20

// Ask sends a request to an address, or to one that is reckoned from the outside's, with an idempotency key (empty for a plain read) and
// decodes the answer. The error is a *Refusal or an *Unanswered.
func (r *Reach) Ask(ctx context.Context, method, address, key string, body, into any) error {
	var payload io.Reader
	if body != nil {
		b, err := json.Marshal(body)
		if err != nil {
			return err
		}
		payload = bytes.NewReader(b)
	}
	req, err := http.NewRequestWithContext(ctx, method, r.resolve(address), payload)
	if err != nil {
		return err
	}
	req.Header.Set("Authorization", "Bearer "+r.account)
	req.Header.Set("Content-Type", "application/json")
	if key != "" {
		req.Header.Set("Idempotency-Key", key)
	}
	resp, err := r.http.Do(req)
	if err != nil {
		return &Unanswered{Why: err}
	}
	defer resp.Body.Close()
	data, err := io.ReadAll(io.LimitReader(resp.Body, mostBytes))
	if err != nil {
		return &Unanswered{Why: err}
	}
	switch {
	case resp.StatusCode >= 300 && resp.StatusCode < 400:
		return &Unanswered{Why: fmt.Errorf("it leads elsewhere (%s), which is not followed", resp.Status)}
	case resp.StatusCode >= 400:
		no := &Refusal{Status: resp.StatusCode}
		if json.Unmarshal(data, no) != nil {
			no = &Refusal{Status: resp.StatusCode}
		}
		if later(resp, no) {
			return &Unanswered{fmt.Errorf("it answers %s", resp.Status), after(resp, time.Now())}
		}
		no.Detail = plain(cmp.Or(no.Detail, "It answers "+resp.Status+"."))
		return no
	}
	if err := amiss(method, req.URL.EscapedPath(), data); err != nil {
		return &Unanswered{Why: fmt.Errorf("its answer is not as the protocol has it: %w", err)}
	}
	if err := json.Unmarshal(data, into); err != nil {
		return &Unanswered{Why: fmt.Errorf("its answer cannot be read: %w", err)}
	}
	return nil
}

// mostSaid is how many letters of a refusal are told.
const mostSaid = 500

// plain is what a directory says, as far as it is told: letters, and no marks that turn or hide what stands beside it.
func plain(said string) string {
	letters := []rune(strings.Map(func(r rune) rune {
		if r == '\n' || r == '\t' {
			return ' '
		}
		if unicode.IsControl(r) || unicode.Is(unicode.Cf, r) || r == unicode.ReplacementChar {
			return -1
		}
		return r
	}, said))
	if len(letters) > mostSaid {
		return string(letters[:mostSaid]) + "…"
	}
	return string(letters)
}
