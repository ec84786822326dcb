package reach

import (
	"context"
	"net/http"
	"net/url"
	"time"
)

// Saying is a post, an event or an offer.
type Saying struct {
	Kind    string `json:"kind"` // post, event or offer
	Title   string `json:"title"`
	Text    string `json:"text"`
	Button  string `json:"button"`
	Link    string `json:"link"`
	Radius  int    `json:"radius_kilometres"`
	Percent int    `json:"percent"`
	Until   string `json:"until"` // RFC 3339's full-date; empty for none
}

// Heard is what became of a saying.
type Heard struct {
	ID     string `json:"id"`
	Left   int    `json:"left"`   // posts, this calendar month
	People int    `json:"people"` // who live within the radius
}

// Spoken is what was said through a listing.
type Spoken struct {
	Left  int      `json:"left"`
	Posts []Saying `json:"posts"` // the newest first
}

// Opinion is what a visitor wrote.
type Opinion struct {
	At    time.Time `json:"at"`
	By    string    `json:"by"`
	Stars int       `json:"stars"` // 1 to 5
	Text  string    `json:"text"`
}

// Role is what another account may do for a listing of ours.
type Role struct {
	Account string `json:"account"`
	Role    string `json:"role"`
}

func (r *Reach) listingURL(connector, ref, more string) string {
	return r.resolve(connector) + "/listings/" + url.PathEscape(ref) + more
}

// Say says something through a listing.
func (r *Reach) Say(ctx context.Context, connector, key, ref string, s Saying) (out Heard, err error) {
	err = r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/posts"), key, s, &out)
	return out, err
}

// Spoken tells what was said through a listing, and how many posts are left this month.
func (r *Reach) Spoken(ctx context.Context, connector, ref string) (out Spoken, err error) {
	err = r.Ask(ctx, http.MethodGet, r.listingURL(connector, ref, "/posts"), "", nil, &out)
	return out, err
}

// Opinions are what visitors wrote, the newest first.
func (r *Reach) Opinions(ctx context.Context, connector, ref string) ([]Opinion, error) {
	var out struct{ Reviews []Opinion }
	err := r.Ask(ctx, http.MethodGet, r.listingURL(connector, ref, "/reviews"), "", nil, &out)
	return out.Reviews, err
}

// Roles tell which other accounts may do what for a listing.
func (r *Reach) Roles(ctx context.Context, connector, ref string) ([]Role, error) {
	var out struct{ Roles []Role }
	err := r.Ask(ctx, http.MethodGet, r.listingURL(connector, ref, "/people"), "", nil, &out)
	return out.Roles, err
}

// SetRole gives another account a role for a listing of ours.
func (r *Reach) SetRole(ctx context.Context, connector, key, ref string, role Role) error {
	var out struct{}
	return r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/people"), key, role, &out)
}

// Suggest asks a directory that changes its panels itself to change facts, with the
// address of a public page that shows them.
func (r *Reach) Suggest(ctx context.Context, connector, key, ref string, values map[string]any, evidence string) (out Review, err error) {
	err = r.Ask(ctx, http.MethodPost, r.listingURL(connector, ref, "/suggestions"), key, map[string]any{"facts": values, "evidence": evidence}, &out)
	return out, err
}
