package outside

import (
	"context"
	"encoding/json"
	"net/http"
	"time"

	"github.com/jackc/pgx/v5"
)

// duplicated is a report that a listing is a second one of the account's own.
type duplicated struct{ Of, Other string } // keys of listings

// reportDuplicate takes up that another listing is of the same business as the account's.
func reportDuplicate(d *directory, r request) (reply, error) {
	l, refused, err := allowed(d, r, manager)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var in duplicated
	if !r.read(&in) || in.Other == "" || in.Other == l.Ref {
		return no(http.StatusUnprocessableEntity, "missing", "Say which other listing it is."), nil
	}
	other, refused, err := find(d, r, in.Other)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	in.Of = l.Ref
	return putBefore(r, d, other, "duplicate", business(2, 6), in)
}

// decideDuplicate merges a listing into the one that it is a second of, where they are
// alike and nobody else holds it.
func decideDuplicate(ctx context.Context, tx pgx.Tx, d *directory, other listing, a asked, _ time.Time) (verdict, error) {
	var in duplicated
	if err := json.Unmarshal(a.Data, &in); err != nil {
		return verdict{}, err
	}
	ours, err := scan(tx.QueryRow(ctx, "select "+listingColumns+" from listing where ref = $1", in.Of), d, a.Account)
	if err != nil {
		return verdict{}, err
	}
	switch alike := other.Facts.Phone != "" && other.Facts.Phone == ours.Facts.Phone || share(other.Facts.Name, ours.Facts.Name); {
	case other.Holder == "another":
		return verdict{state: "refused", says: "Another account holds it. Ask for it first.", mail: true}, nil
	case !alike:
		return verdict{state: "refused", says: "These are two businesses, as far as we can see.", mail: true}, nil
	}
	_, err = tx.Exec(ctx, "update listing set merged = true where ref = $1", other.Ref)
	return verdict{state: "accepted", says: "It is merged into yours.", mail: true}, err
}
