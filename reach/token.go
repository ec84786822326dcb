package reach

import (
	"context"
	"errors"
	"fmt"
	"net/netip"
	"net/url"
	"time"

	"golang.org/x/oauth2"
	"golang.org/x/oauth2/clientcredentials"
)

// Grant is what an access token is had for (RFC 6749): where there is a refresh token (section 6), else as the client itself
// (section 4.4).
type Grant struct {
	TokenURL     string
	ClientID     string
	ClientSecret string
	Scopes       []string
	Refresh      string // the refresh token
}

// Token is what a grant gave.
type Token struct {
	Authorization string    // as a request says it
	Refresh       string    // that takes the place of the one before
	Expires       time.Time // by real time; zero: it was not said
}

// Token asks for an access token. The error is an *Unanswered, and tells no secret.
func (r *Reach) Token(ctx context.Context, g Grant) (Token, error) {
	ctx = context.WithValue(ctx, oauth2.HTTPClient, r.http)
	var source oauth2.TokenSource
	if g.Refresh != "" {
		of := oauth2.Config{ClientID: g.ClientID, ClientSecret: g.ClientSecret, Endpoint: oauth2.Endpoint{TokenURL: r.resolve(g.TokenURL)}}
		source = of.TokenSource(ctx, &oauth2.Token{RefreshToken: g.Refresh})
	} else {
		of := clientcredentials.Config{ClientID: g.ClientID, ClientSecret: g.ClientSecret, TokenURL: r.resolve(g.TokenURL), Scopes: g.Scopes}
		source = of.TokenSource(ctx)
	}
	t, err := source.Token()
	var said *oauth2.RetrieveError
	switch {
	case errors.As(err, &said) && said.ErrorCode != "":
		return Token{}, &Unanswered{Why: fmt.Errorf("no token is given: %s", Plain(said.ErrorCode)), Status: said.Response.StatusCode}
	case errors.As(err, &said):
		return Token{}, &Unanswered{Why: fmt.Errorf("no token is given: it answers %s", said.Response.Status), Status: said.Response.StatusCode}
	case err != nil:
		return Token{}, &Unanswered{Why: fmt.Errorf("no token is given: %w", err)}
	}
	return Token{Authorization: t.Type() + " " + t.AccessToken, Refresh: t.RefreshToken, Expires: t.Expiry}, nil
}

// Confidential reports whether a secret may be sent to an address: over TLS, or where nobody else listens.
func (r *Reach) Confidential(address string) bool {
	u, err := url.Parse(r.resolve(address))
	if err != nil || u.Host == "" {
		return false
	}
	if u.Scheme == "https" || r.isOutside(u) {
		return true
	}
	at, err := netip.ParseAddr(u.Hostname())
	return err == nil && u.Scheme == "http" && within(at, r.guard.private)
}
