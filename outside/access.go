package outside

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"net/http"
	"time"

	"github.com/jackc/pgx/v5"
)

// rank is how much an account may do for a listing; each may do all that those before
// it may.
type rank int

const (
	stranger rank = iota
	reader        // sees it as its people do
	editor        // changes facts and photos, and speaks
	manager       // verifies and appeals
	owner         // says who else may
)

var ranks = map[string]rank{"reader": reader, "editor": editor, "manager": manager}

// rankOf is what an account may do for a listing.
func rankOf(d *directory, r request, l listing) (rank, error) {
	if l.Holder == "you" {
		return owner, nil
	}
	if !d.roles {
		return stranger, nil
	}
	var name string
	err := r.tx.QueryRow(r.Context(), "select role from role where ref = $1 and account = $2", l.Ref, r.account).Scan(&name)
	if errors.Is(err, pgx.ErrNoRows) {
		return stranger, nil
	}
	return ranks[name], err
}

// allowed finds a listing for which the account may do as much as a rank.
func allowed(d *directory, r request, least rank) (listing, reply, error) {
	l, refused, err := find(d, r, r.PathValue("ref"))
	if err != nil || refused.status != 0 {
		return l, refused, err
	}
	switch {
	case l.rank == stranger:
		refused = no(http.StatusForbidden, "not_yours", "Claim the listing first.")
	case l.rank < least:
		refused = no(http.StatusForbidden, "not_allowed", "Your role for this listing does not go so far.")
	}
	return l, refused, nil
}

// setRole says what another account may do for a listing.
func setRole(d *directory, r request) (reply, error) {
	if !d.roles {
		return no(http.StatusConflict, "not_offered", "We know one holder of a listing, and no roles."), nil
	}
	l, refused, err := allowed(d, r, owner)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var in struct{ Account, Role string }
	if !r.read(&in) || in.Account == "" || ranks[in.Role] == stranger {
		return no(http.StatusUnprocessableEntity, "missing", "Name an account and a role: reader, editor or manager."), nil
	}
	_, err = r.tx.Exec(
		r.Context(),
		"insert into role (ref, account, role) values ($1, $2, $3) on conflict (ref, account) do update set role = $3",
		l.Ref,
		in.Account,
		in.Role,
	)
	return reply{http.StatusOK, map[string]any{}}, err
}

// withRole is an account that may do something for a listing that another holds.
type withRole struct {
	Account string `json:"account"`
	Role    string `json:"role"`
}

// people tells which other accounts may do what.
func people(d *directory, r request) (reply, error) {
	l, refused, err := allowed(d, r, manager)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	rows, err := r.tx.Query(r.Context(), "select account, role from role where ref = $1 order by account", l.Ref)
	if err != nil {
		return reply{}, err
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[withRole])
	return reply{http.StatusOK, map[string]any{"roles": append([]withRole{}, list...)}}, err
}

// askAccess asks the holder of a listing to hand it over.
func askAccess(d *directory, r request) (reply, error) {
	l, refused, err := find(d, r, r.PathValue("ref"))
	if err != nil || refused.status != 0 {
		return refused, err
	}
	if l.Holder != "another" {
		return no(http.StatusConflict, "not_held", "Nobody else holds this listing; claim it."), nil
	}
	var waiting bool
	if err := r.tx.QueryRow(
		r.Context(),
		"select exists (select from request where ref = $1 and kind in ('access', 'escalation') and state = 'in_review')",
		l.Ref,
	).Scan(&waiting); err != nil {
		return reply{}, err
	}
	if waiting {
		return no(http.StatusConflict, "in_review", "Its holder has been asked; wait for the answer."), nil
	}
	return putBefore(r, d, l, "access", d.access, struct{}{})
}

// decideAccess is how a holder takes it: some hand over, some say no, many never answer.
func decideAccess(ctx context.Context, tx pgx.Tx, d *directory, l listing, a asked, _ time.Time) (verdict, error) {
	switch luck := sha256.Sum256([]byte(l.Ref + "access"))[4]; {
	case luck < 80:
		return verdict{state: "accepted", says: "The holder has handed the listing over to you.", mail: true}, handOver(ctx, tx, l, a.Account)
	case luck < 120:
		return verdict{state: "refused", says: "The holder says no. You may put it before our people, with a paper.", mail: true}, nil
	}
	return verdict{state: "silent", says: "The holder has not answered. You may put it before our people, with a paper.", mail: true}, nil
}

func handOver(ctx context.Context, tx pgx.Tx, l listing, account string) error {
	_, err := tx.Exec(ctx, "update listing set holder = $2 where ref = $1", l.Ref, account)
	return err
}

// escalate puts a request that its holder did not grant before the directory's people.
func escalate(d *directory, r request) (reply, error) {
	var in struct{ Paper *evidence }
	if !r.read(&in) || in.Paper == nil {
		return no(http.StatusUnprocessableEntity, "missing", "Send a paper."), nil
	}
	var ref, state string
	err := r.tx.QueryRow(r.Context(), "select ref, state from request where id = $1 and account = $2 and kind = 'access'", r.PathValue("id"), r.account).Scan(
		&ref,
		&state,
	)
	switch {
	case errors.Is(err, pgx.ErrNoRows):
		return no(http.StatusNotFound, "no_request", "There is no such request of yours."), nil
	case err != nil:
		return reply{}, err
	case state != "refused" && state != "silent":
		return no(http.StatusConflict, "in_review", "Wait for the holder’s answer first."), nil
	}
	l, refused, err := find(d, r, ref)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	return putBefore(r, d, l, "escalation", business(2, 5), in.Paper)
}

// decideEscalation goes by the paper.
func decideEscalation(ctx context.Context, tx pgx.Tx, d *directory, l listing, a asked, _ time.Time) (verdict, error) {
	var paper evidence
	if err := json.Unmarshal(a.Data, &paper); err != nil {
		return verdict{}, err
	}
	if why := l.Facts.doubts(paper); why != "" {
		return verdict{state: "refused", says: why, mail: true}, nil
	}
	return verdict{state: "accepted", says: "The listing is yours now.", mail: true}, handOver(ctx, tx, l, a.Account)
}
