// Package reach speaks to what lies outside: directories through their
// interfaces and public pages, and the shared clock of a demo.
package reach

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
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
	door    Door         // nil: all are entered with our account
	outside string       // base of the stand-ins, without a closing slash
	account string
	mail    MailServer
	box     *mailBox            // nil: what comes is read with the stand-ins
	word    func(answer string) // is told what came of letters: taken, refused or nothing; nil: nobody is
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

// WithWord is a client that tells what came of letters: taken, refused or nothing.
func (r *Reach) WithWord(word func(answer string)) *Reach {
	out := *r
	out.word = word
	return &out
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
	Why    error
	Status int           // of HTTP, where something answered that was no answer; 0 where nothing did
	After  time.Duration // for which whoever was asked wants to be left alone; 0: it did not say
}

func (u *Unanswered) Error() string { return "no answer: " + u.Why.Error() }
func (u *Unanswered) Unwrap() error { return u.Why }

// ErrLeftAlone is that a directory was not asked, since it has not answered others.
var ErrLeftAlone = errors.New("it does not answer at the moment, and is left alone for a while")

// Door decides how the interfaces of directories are entered, and hears what came of it.
type Door interface {
	// Enter tells with what an address is entered. It refuses where its directory is to be left alone (*Unanswered).
	Enter(ctx context.Context, address string) (Entry, error)
	// Left hears how long an asking took, and what Ask has given.
	Left(ctx context.Context, e Entry, took time.Duration, err error)
}

// Entry is how an interface is entered.
type Entry struct {
	Directory     string // whose it is; empty where it is none's
	Authorization string // of the request (RFC 9110, section 11.6.2); empty for none
}

// WithDoor is a client that asks by a door.
func (r *Reach) WithDoor(d Door) *Reach {
	out := *r
	out.door = d
	return &out
}

// mostBytes bounds what is read of any answer.
const mostBytes = 4 << 20

// Ask sends a request to an address, or to one that is reckoned from the outside's, with an idempotency key (empty for a plain read) and
// decodes the answer. The error is a *Refusal or an *Unanswered.
func (r *Reach) Ask(ctx context.Context, method, address, key string, body, into any) error {
	if r.door == nil {
		return r.ask(ctx, Entry{}, method, address, key, body, into)
	}
	entry, err := r.door.Enter(ctx, r.resolve(address))
	if err != nil {
		return err
	}
	began := time.Now()
	err = r.ask(ctx, entry, method, address, key, body, into)
	r.door.Left(ctx, entry, time.Since(began), err)
	return err
}

func (r *Reach) ask(ctx context.Context, entry Entry, method, address, key string, body, into any) error {
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
	if entry.Authorization == "" && r.isOutside(req.URL) { // where they know us by our account
		entry.Authorization = "Bearer " + r.account
	}
	if entry.Authorization != "" {
		req.Header.Set("Authorization", entry.Authorization)
	}
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
			return &Unanswered{fmt.Errorf("it answers %s", resp.Status), resp.StatusCode, after(resp, time.Now())}
		}
		no.Detail = Plain(cmp.Or(no.Detail, "It answers "+resp.Status+"."))
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

// Plain is what a directory says, as far as it is told: letters, and no marks that turn or hide what stands beside it.
func Plain(said string) string {
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
