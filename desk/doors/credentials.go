package doors

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"slices"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// Manner is a way in which an interface is entered.
type Manner string

// The manners: a token that does not change (RFC 6750), a user and a password (RFC 7617), and tokens that are renewed (RFC 6749).
const (
	Bearer Manner = "bearer"
	Basic  Manner = "basic"
	OAuth2 Manner = "oauth2"
)

// Secrets are what somebody says by whom or what an interface is entered. They are never told again.
type Secrets struct {
	Token        string   `json:"token,omitempty"` // of Bearer
	User         string   `json:"user,omitempty"`  // of Basic
	Password     string   `json:"password,omitempty"`
	TokenURL     string   `json:"token_url,omitempty"` // of OAuth2
	ClientID     string   `json:"client_id,omitempty"`
	ClientSecret string   `json:"client_secret,omitempty"`
	Scopes       []string `json:"scopes,omitempty"`
	Refresh      string   `json:"refresh,omitempty"` // empty: it is entered as the client itself
}

// kept is what is sealed: what was said, and the token that is at hand.
type kept struct {
	Secrets
	Authorization string `json:"authorization,omitempty"`
}

// Credential is that an interface is entered with something.
type Credential struct {
	Manner Manner
	Moved  bool          // it was for another address, and is not used
	Ends   bool          // its token does
	EndsIn time.Duration // after which it does; it is renewed before
	SetBy  string
	SetAt  time.Time
}

func (d *Desk) credentials(ctx context.Context) (map[string]*Credential, error) {
	rows, err := d.store.Credentials(ctx)
	out := map[string]*Credential{}
	for _, r := range rows {
		book, err := d.shelf.Book(r.DirectoryID)
		out[r.DirectoryID] = &Credential{
			Manner: Manner(r.Manner), Moved: err == nil && book.Connector.URL != r.Url, Ends: r.Ends,
			EndsIn: time.Duration(r.EndsIn * float64(time.Second)), SetBy: r.SetBy, SetAt: r.SetAt,
		}
	}
	return out, err
}

// wrong says what is wrong with secrets of a manner.
func (d *Desk) wrong(m Manner, s Secrets) (out []record.Problem) {
	missing := func(path, value string) {
		if strings.TrimSpace(value) == "" {
			out = append(out, record.Problem{Path: path, Message: "it is missing"})
		}
	}
	switch m {
	case Bearer:
		missing("token", s.Token)
		if strings.ContainsFunc(s.Token, func(r rune) bool { return r <= ' ' || r > '~' }) {
			out = append(out, record.Problem{Path: "token", Message: "a token has visible characters only, and no blanks"})
		}
	case Basic:
		missing("user", s.User)
		missing("password", s.Password)
		if strings.Contains(s.User, ":") {
			out = append(out, record.Problem{Path: "user", Message: "it cannot have a colon"})
		}
	case OAuth2:
		missing("token_url", s.TokenURL)
		missing("client_id", s.ClientID)
		if s.Refresh == "" {
			missing("client_secret", s.ClientSecret)
		}
		if s.TokenURL != "" && !d.reach.Confidential(s.TokenURL) {
			out = append(out, record.Problem{Path: "token_url", Message: "write an address with https://"})
		}
	default:
		out = append(out, record.Problem{Path: "manner", Message: "choose bearer, basic or oauth2"})
	}
	return out
}

// SetCredential says by what a directory's interface is entered from now on.
func (d *Desk) SetCredential(ctx context.Context, who people.Actor, directory string, m Manner, s Secrets) error {
	book, err := d.shelf.Book(directory)
	switch {
	case err != nil:
		return err
	case book.Connector.URL == "":
		return problem.Conflictf("%s has no interface that could be entered.", book.Name)
	case !d.reach.Confidential(book.Connector.URL):
		return problem.Conflictf(
			"The interface of %s is not reached over TLS: whoever listens would learn the secret. Write its address with https:// in the rulebook.",
			book.Name,
		)
	}
	if wrong := d.wrong(m, s); wrong != nil {
		return problem.Fields(wrong)
	}
	sealed, err := d.seal(directory, kept{Secrets: s})
	if err != nil {
		return err
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if err := q.SetCredential(ctx, db.SetCredentialParams{
			DirectoryID: directory, Url: book.Connector.URL, Manner: string(m), Sealed: sealed, SetBy: who.Name, SetAt: d.clock.Now(),
		}); err != nil {
			return err
		}
		return d.note(ctx, q, who, "credential_set", map[string]string{"directory": directory, "manner": string(m)})
	})
	if err != nil {
		return err
	}
	return d.TryNow(ctx, directory)
}

// DropCredential has a directory's interface entered with nothing.
func (d *Desk) DropCredential(ctx context.Context, who people.Actor, directory string) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		n, err := q.DropCredential(ctx, directory)
		if err == nil && n == 0 {
			return &problem.Problem{Kind: problem.NotFound, Detail: "Nothing is kept with which it would be entered."}
		}
		if err != nil {
			return err
		}
		return d.note(ctx, q, who, "credential_dropped", map[string]string{"directory": directory})
	})
}

const purpose = "credential"

func (d *Desk) seal(directory string, k kept) ([]byte, error) {
	plain, err := json.Marshal(k)
	if err != nil {
		return nil, err
	}
	return d.key.Seal(purpose, directory, plain), nil
}

func (d *Desk) open(row db.Credential) (k kept, err error) {
	plain, err := d.key.Open(purpose, row.DirectoryID, row.Sealed)
	if err != nil {
		return k, errors.New("what it is entered with cannot be read by this server's key; give it again")
	}
	return k, json.Unmarshal(plain, &k)
}

// ahead is how long before its end a token is renewed.
const ahead = time.Minute

// authorization is what a directory's interface is entered with; empty for nothing.
func (d *Desk) authorization(ctx context.Context, directory, url string) (string, error) {
	row, err := d.store.CredentialForUse(ctx, directory)
	if err != nil {
		return "", problem.IgnoreNoRows(err)
	}
	if row.Url != url {
		return "", errors.New("its interface has moved, and what it is entered with was for another address; give it again")
	}
	k, err := d.open(row)
	if err != nil {
		return "", err
	}
	switch Manner(row.Manner) {
	case Bearer:
		return "Bearer " + k.Token, nil
	case Basic:
		return "Basic " + base64.StdEncoding.EncodeToString([]byte(k.User+":"+k.Password)), nil
	}
	if fresh(row, k) {
		return k.Authorization, nil
	}
	return d.renewed(ctx, directory)
}

func fresh(row db.Credential, k kept) bool {
	return k.Authorization != "" && (row.Expires == nil || time.Until(*row.Expires) > ahead)
}

// renewed is a new token. Of several who want one at once, one asks for it.
func (d *Desk) renewed(ctx context.Context, directory string) (authorization string, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := q.CredentialForChange(ctx, directory)
		if err != nil {
			return err
		}
		k, err := d.open(row)
		if err != nil {
			return err
		}
		if authorization = k.Authorization; fresh(row, k) {
			return nil // another has just asked
		}
		t, err := d.reach.Token(ctx, reach.Grant{
			TokenURL: k.TokenURL, ClientID: k.ClientID, ClientSecret: k.ClientSecret, Scopes: slices.Clone(k.Scopes), Refresh: k.Refresh,
		})
		if err != nil {
			return err
		}
		authorization, k.Authorization = t.Authorization, t.Authorization
		if t.Refresh != "" {
			k.Refresh = t.Refresh
		}
		var expires *time.Time
		if !t.Expires.IsZero() {
			expires = &t.Expires
		}
		sealed, err := d.seal(directory, k)
		if err != nil {
			return err
		}
		return q.RenewCredential(ctx, db.RenewCredentialParams{DirectoryID: directory, Sealed: sealed, Expires: expires})
	})
	return authorization, err
}
