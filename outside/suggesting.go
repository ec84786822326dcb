package outside

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"reflect"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// suggestion is a change to a panel that the directory has made by itself.
type suggestion struct {
	Facts    map[string]any `json:"facts"`    // by keys of Facts
	Evidence string         `json:"evidence"` // the address of a public page
}

// suggest takes a suggestion up. Whoever has claimed the panel may suggest.
func suggest(d *directory, r request) (reply, error) {
	if !d.suggested {
		return no(http.StatusConflict, "not_offered", "Change it yourself."), nil
	}
	l, refused, err := allowed(d, r, editor)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var in suggestion
	u, bad := (*url.URL)(nil), errors.New("")
	if r.read(&in) {
		u, bad = url.Parse(in.Evidence)
	}
	switch {
	case len(in.Facts) == 0:
		return no(http.StatusUnprocessableEntity, "missing", "Say which fact should be another."), nil
	case !areKeys(in.Facts):
		return no(http.StatusUnprocessableEntity, "missing", "The panel has no such fact."), nil
	case bad != nil || u.Path == "" && u.Host == "":
		return no(http.StatusUnprocessableEntity, "missing", "Name a public page that shows it."), nil
	}
	return putBefore(r, d, l, "suggestion", d.review, in)
}

// areKeys reports whether there is a fact by each of the names.
func areKeys(facts map[string]any) bool {
	t := reflect.TypeFor[Facts]()
	known := map[string]bool{}
	for i := range t.NumField() {
		key, _, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
		known[key] = true
	}
	for key := range facts {
		if !known[key] {
			return false
		}
	}
	return true
}

// decideSuggestion believes the business's own website, and a public page that shows the
// value.
func decideSuggestion(ctx context.Context, tx pgx.Tx, d *directory, l listing, a asked, _ time.Time) (verdict, error) {
	var in suggestion
	if err := json.Unmarshal(a.Data, &in); err != nil {
		return verdict{}, err
	}
	shown, err := shows(ctx, tx, l, in)
	if err != nil {
		return verdict{}, err
	}
	if !shown {
		return verdict{state: "refused", says: "The page that you named does not show it.", mail: true}, nil
	}
	after, err := l.Facts.with(in.Facts)
	if err != nil {
		return verdict{state: "refused", says: "We could not read the value.", mail: true}, nil
	}
	_, err = tx.Exec(ctx, "update listing set facts = $2 where ref = $1", l.Ref, after)
	return verdict{state: "accepted", says: "Thank you. The panel will show what you suggested.", mail: true}, err
}

// shows reports whether the evidence shows all that is suggested.
func shows(ctx context.Context, tx pgx.Tx, l listing, in suggestion) (bool, error) {
	u, err := url.Parse(in.Evidence)
	if err != nil {
		return false, nil
	}
	own, err := url.Parse(l.Facts.Website)
	if err == nil && own.Host != "" && strings.TrimPrefix(u.Host, "www.") == strings.TrimPrefix(own.Host, "www.") {
		return true, nil
	}
	parts := strings.Split(strings.Trim(u.Path, "/"), "/")
	if len(parts) != 3 || parts[1] != "place" {
		return false, nil
	}
	var facts Facts
	err = tx.QueryRow(
		ctx,
		"select facts from listing where directory = $1 and slug = $2 and public_at is not null and suspended is null and not withdrawn",
		parts[0],
		parts[2],
	).Scan(&facts)
	if errors.Is(err, pgx.ErrNoRows) {
		return false, nil
	}
	shown := facts.asMap()
	for key, value := range in.Facts {
		if fmt.Sprint(shown[key]) != fmt.Sprint(value) {
			return false, err
		}
	}
	return true, err
}
