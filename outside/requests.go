package outside

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/core/fact/calendar"
)

// asked is something that a directory's people, or a listing's holder, are to decide.
type asked struct {
	ID, Ref, Kind, Account string
	Data                   json.RawMessage
}

// verdict is what they say.
type verdict struct {
	state string // accepted, refused or silent
	says  string
	mail  bool // it is also written to the account
	final bool // nothing else is heard on it
}

// deciders decide by what is asked, once its day has come.
var deciders = map[string]func(ctx context.Context, tx pgx.Tx, d *directory, l listing, a asked, now time.Time) (verdict, error){
	"change":     decideChange,
	"suggestion": decideSuggestion,
	"access":     decideAccess,
	"escalation": decideEscalation,
	"appeal":     decideAppeal,
	"duplicate":  decideDuplicate,
}

// putBefore lays something before whoever decides, on one of the window's days.
func putBefore(r request, d *directory, l listing, kind string, window calendar.Rule, data any) (reply, error) {
	b, err := json.Marshal(data)
	if err != nil {
		return reply{}, err
	}
	id := token(8)
	if _, err := r.tx.Exec(
		r.Context(),
		"insert into request (id, ref, kind, account, data, asked_at) values ($1, $2, $3, $4, $5, $6)",
		id,
		l.Ref,
		kind,
		r.account,
		b,
		r.now,
	); err != nil {
		return reply{}, err
	}
	w := d.place.Window(window, r.now)
	err = schedule(r.Context(), r.tx, "request "+id, somewhereIn(w, d, id).At(14*60, d.place.Zone), "request", id)
	return reply{http.StatusCreated, map[string]any{"id": id, "in_review": true, "answer_by": w.Latest.At(18*60, d.place.Zone)}}, err
}

// decideRequest has what is asked decided, and told.
func decideRequest(_ *Outside, ctx context.Context, tx pgx.Tx, h happening) error {
	var id, slug string
	if err := json.Unmarshal(h.data, &id); err != nil {
		return err
	}
	var a asked
	err := tx.QueryRow(
		ctx,
		"select q.id, q.ref, q.kind, q.account, q.data, l.directory from request q join listing l using (ref) where q.id = $1 and q.state = 'in_review' for update "+
			"of q",
		id,
	).
		Scan(&a.ID, &a.Ref, &a.Kind, &a.Account, &a.Data, &slug)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil
	}
	if err != nil {
		return err
	}
	d := directoryAt(slug)
	l, err := scan(tx.QueryRow(ctx, "select "+listingColumns+" from listing where ref = $1 for update", a.Ref), d, a.Account)
	if err != nil {
		return err
	}
	v, err := deciders[a.Kind](ctx, tx, d, l, a, h.at)
	if err != nil {
		return err
	}
	if _, err := tx.Exec(ctx, "update request set state = $2, says = $3, final = $4 where id = $1", a.ID, v.state, v.says, v.final); err != nil || !v.mail {
		return err
	}
	title := map[string]string{"suggestion": "Your suggestion", "access": "Your request for access", "escalation": "Your request for access",
		"appeal": "Your appeal", "duplicate": "Your report of a duplicate"}[a.Kind]
	return tellAccount(ctx, tx, d, l, a.Account, "answered "+a.ID, title, v.says, h.at)
}

// tellAccount writes to an account about a listing.
func tellAccount(ctx context.Context, tx pgx.Tx, d *directory, l listing, account, id, title, says string, at time.Time) error {
	body := fmt.Sprintf("About %s, %s (%s):\n%s\n", l.Facts.Name, l.Facts.Locality, l.Page, says)
	return schedule(
		ctx,
		tx,
		id,
		at,
		"mail",
		arrival{Kind: "mail", Place: account, Sender: "notices@" + d.slug + ".example", Title: title + ": " + l.Facts.Name, Body: body},
	)
}

// requestStanding tells how something that was asked stands.
func requestStanding(d *directory, r request) (reply, error) {
	var state, says string
	var final bool
	err := r.tx.QueryRow(
		r.Context(),
		"select q.state, q.says, q.final from request q join listing l using (ref) where q.id = $1 and l.directory = $2 and q.account = $3",
		r.PathValue("id"),
		d.slug,
		r.account,
	).Scan(&state, &says, &final)
	if errors.Is(err, pgx.ErrNoRows) {
		return no(http.StatusNotFound, "no_request", "There is no such request of yours."), nil
	}
	return reply{http.StatusOK, map[string]any{"state": state, "says": says, "final": final}}, err
}
