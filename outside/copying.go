package outside

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// copyListing makes a listing out of one on another directory, as far as it carries.
func copyListing(d *directory, r request) (reply, error) {
	var in struct {
		From  string `json:"from"` // the other directory
		Page  string `json:"page"` // the listing's page there
		Facts Facts  `json:"facts"`
	}
	if !r.read(&in) {
		return no(http.StatusBadRequest, "bad_request", "Say from where, and which page."), nil
	}
	i := slices.IndexFunc(d.copies, func(c copying) bool { return c.onRequest && c.from == in.From })
	if i < 0 {
		return no(http.StatusConflict, "not_offered", "We do not copy from there."), nil
	}
	if why := d.lacks(in.Facts, false); why != "" {
		return no(http.StatusUnprocessableEntity, "missing", why), nil
	}
	theirs, err := scan(r.tx.QueryRow(r.Context(), "select "+listingColumns+" from listing where directory = $1 and slug = $2 and verified_at is not null",
		in.From, in.Page[strings.LastIndexByte(in.Page, '/')+1:]), directoryAt(in.From), r.account)
	if errors.Is(err, pgx.ErrNoRows) || err == nil && theirs.Holder != "you" {
		return no(http.StatusConflict, "not_yours", "There is no verified listing of your account at that page."), nil
	}
	if err != nil {
		return reply{}, err
	}
	f, err := d.copies[i].carry(Facts{LegalName: in.Facts.LegalName, Registration: in.Facts.Registration}, theirs.Facts)
	if err != nil {
		return reply{}, err
	}
	l, err := addListing(r.Context(), r.tx, d, f, r.account, 0, false)
	l.Holder = "you"
	return reply{http.StatusCreated, l}, err
}

// carry lays over a listing's facts those of another that come along.
func (c copying) carry(ours, theirs Facts) (Facts, error) {
	from, err := asMap(theirs)
	if err != nil {
		return ours, err
	}
	to, err := asMap(ours)
	if err != nil {
		return ours, err
	}
	for key, value := range from {
		if (len(c.carries) == 0 || slices.Contains(c.carries, key)) && !slices.Contains(c.omits, key) && !empty(value) {
			to[key] = value
		}
	}
	data, err := json.Marshal(to)
	if err != nil {
		return ours, err
	}
	var out Facts
	return out, json.Unmarshal(data, &out)
}

func empty(v any) bool { return v == nil || v == "" || v == 0.0 || v == false }

func asMap(f Facts) (out map[string]any, err error) {
	data, err := json.Marshal(f)
	if err != nil {
		return nil, err
	}
	return out, json.Unmarshal(data, &out)
}

// feed puts off what the directories that copy from one take over of a listing, to
// days of their own.
func feed(ctx context.Context, tx pgx.Tx, from *directory, l listing, now time.Time) error {
	for i := range directories {
		d := &directories[i]
		for _, c := range d.copies {
			if c.from != from.slug || c.onRequest {
				continue
			}
			day := somewhereIn(d.place.Window(c.window, now), d, l.Ref+d.slug)
			if err := schedule(
				ctx,
				tx,
				"feed "+d.slug+" "+l.Ref+" "+now.Format(time.RFC3339),
				day.At(4*60, d.place.Zone),
				"feed",
				fed{d.slug, from.slug, l.Ref},
			); err != nil {
				return err
			}
		}
	}
	return nil
}

// fed is a listing that a directory takes over from another.
type fed struct{ To, From, Ref string }

// take takes the listing over as it is by now: into the one that has the phone, or the
// name and the street, or as a new one.
func (f fed) take(ctx context.Context, tx pgx.Tx, at time.Time) error {
	d, from := directoryAt(f.To), directoryAt(f.From)
	theirs, err := scan(tx.QueryRow(ctx, "select "+listingColumns+" from listing where ref = $1", f.Ref), from, "")
	if err != nil {
		return err
	}
	i := slices.IndexFunc(d.copies, func(c copying) bool { return c.from == f.From })
	rows, err := tx.Query(ctx, "select "+listingColumns+" from listing where directory = $1 order by ref", d.slug)
	if err != nil {
		return err
	}
	all, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (listing, error) { return scan(row, d, "") })
	if err != nil {
		return err
	}
	for _, l := range all {
		if l.Facts.Phone != theirs.Facts.Phone && (slug(l.Facts.Name) != slug(theirs.Facts.Name) || slug(l.Facts.Street) != slug(theirs.Facts.Street)) {
			continue
		}
		if l.Facts.KeepOwn {
			return nil
		}
		merged, err := d.copies[i].carry(l.Facts, theirs.Facts)
		if err == nil {
			_, err = tx.Exec(ctx, "update listing set facts = $2 where ref = $1", l.Ref, merged)
		}
		return err
	}
	merged, err := d.copies[i].carry(Facts{Country: theirs.Facts.Country, Locality: theirs.Facts.Locality}, theirs.Facts)
	if err != nil {
		return err
	}
	l, err := addListing(ctx, tx, d, merged, "", 0, true)
	if err == nil {
		_, err = tx.Exec(ctx, "update listing set public_at = $2 where ref = $1", l.Ref, at)
	}
	return err
}
