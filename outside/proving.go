package outside

import (
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"math/big"
	"net/http"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"
)

func offers(d *directory, r request) (reply, error) {
	l, refused, err := allowed(d, r, manager)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	out := []string{}
	for m := range d.methods {
		if d.offered(l, m) {
			out = append(out, m)
		}
	}
	slices.Sort(out)
	return reply{http.StatusOK, map[string]any{"methods": out}}, nil
}

// offered says whether a listing gets a method: post always, the others not
// for every listing, as if the directory trusted some more than others.
func (d *directory) offered(l listing, method string) bool {
	m := d.methods[method]
	switch {
	case m.onlyKnown: // by whether the directory had the listing before anybody created it
		return l.known
	case m.onlyNew:
		return !l.known
	}
	return m.always || sha256.Sum256([]byte(l.Ref + method))[0] > 25
}

func verify(d *directory, r request) (reply, error) {
	l, refused, err := allowed(d, r, manager)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var in struct {
		Method, To, Contact string
		Paper               *evidence
		Video               *video
	}
	known := false
	var m method
	if r.read(&in) {
		m, known = d.methods[in.Method]
	}
	switch {
	case l.VerifiedAt != nil:
		return no(http.StatusConflict, "already_verified", "This listing is verified already."), nil
	case !known || !d.offered(l, in.Method):
		return no(http.StatusConflict, "not_offered", "We do not offer this way for this listing today."), nil
	case m.digits == 0:
		return decideLater(r, d, l, in.Method, in.Paper, in.Video)
	case in.To == "":
		return no(http.StatusUnprocessableEntity, "missing", "Say where the code should go."), nil
	}
	sent, err := sendCode(r, d, l, in.Method, in.To, in.Contact)
	return reply{http.StatusCreated, sent}, err
}

// sentCode is a code that was sent, and its terms.
type sentCode struct {
	ID      string    `json:"id"`
	Digits  int       `json:"digits"`
	Tries   int       `json:"tries"`
	Expires time.Time `json:"expires"`
}

// sendCode makes a code, in place of any that was sent before, and sends it on its way.
func sendCode(r request, d *directory, l listing, how, to, contact string) (sentCode, error) {
	ctx, m := r.Context(), d.methods[how]
	if err := d.replaces(r, l, how); err != nil {
		return sentCode{}, err
	}
	most := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(m.digits)), nil)
	n, err := rand.Int(rand.Reader, most)
	if err != nil {
		return sentCode{}, err
	}
	out, code := sentCode{token(8), m.digits, m.tries, r.now.Add(m.works)}, fmt.Sprintf("%0*d", m.digits, n)
	if _, err := r.tx.Exec(ctx, "insert into verification (id, ref, method, code, asked_at, expires, tries_left) values ($1, $2, $3, $4, $5, $6, $7)",
		out.ID, l.Ref, how, code, r.now, out.Expires, m.tries); err != nil {
		return out, err
	}
	return out, deliver(r, d, l, m, how, to, contact, out.ID, code)
}

// replaces ends what was asked for before: all of it, or where a directory lets several run beside each other what the same
// way has sent.
func (d *directory) replaces(r request, l listing, how string) error {
	_, err := r.tx.Exec(
		r.Context(), "update verification set ended = 'replaced' where ref = $1 and ended in ('', 'in_review') and (method = $2 or not $3)", l.Ref, how, d.together,
	)
	return err
}

// enter takes a code. Every answer that is no says how many tries are left.
func enter(d *directory, r request) (reply, error) {
	var in struct{ Code string }
	if !r.read(&in) || in.Code == "" {
		return no(http.StatusBadRequest, "bad_request", "Give the code."), nil
	}
	return takeCode(d, r, r.PathValue("id"), in.Code)
}

func takeCode(d *directory, r request, id, given string) (reply, error) {
	ctx := r.Context()
	var ref, code, ended string
	var expires time.Time
	var tries int
	err := r.tx.QueryRow(ctx, "select ref, code, ended, expires, tries_left from verification where id = $1 for update", id).Scan(
		&ref,
		&code,
		&ended,
		&expires,
		&tries,
	)
	if errors.Is(err, pgx.ErrNoRows) {
		return no(http.StatusNotFound, "no_verification", "We did not send this code."), nil
	}
	if err != nil {
		return reply{}, err
	}
	l, refused, err := find(d, r, ref)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	refuse := func(why, detail string) (reply, error) {
		return reply{http.StatusConflict, problem{Status: http.StatusConflict, Title: "Refused", Code: why, Detail: detail, TriesLeft: &tries}}, nil
	}
	switch {
	case l.rank < manager:
		return no(http.StatusForbidden, "not_yours", "Claim the listing first."), nil
	case l.VerifiedAt != nil:
		return refuse("already_verified", "This listing is verified already.")
	case ended == "replaced":
		return refuse("replaced", "A newer code was sent; this one works no more.")
	case ended == "in_review":
		return refuse("in_review", "The code was right; our people are looking into it.")
	case ended == "bounced":
		return refuse("bounced", "The email with this code came back.")
	case ended == "used_up":
		return refuse("used_up", "No tries are left for this code.")
	case !r.now.Before(expires):
		return refuse("expired", "This code has stopped working.")
	case given != code:
		tries--
		if tries == 0 {
			ended = "used_up"
		}
		if _, err := r.tx.Exec(ctx, "update verification set tries_left = $2, ended = $3 where id = $1", id, tries, ended); err != nil {
			return reply{}, err
		}
		var other bool
		if err := r.tx.QueryRow(
			ctx,
			"select exists (select from verification v join listing l using (ref) where v.code = $1 and v.ref <> $2 and l.directory = $3 and v.ended = '')",
			given,
			ref,
			d.slug,
		).Scan(&other); err != nil {
			return reply{}, err
		}
		if other {
			return refuse("other_listing", "This code was sent for another listing.")
		}
		return refuse("wrong_code", "This is not the code that we sent.")
	}
	if int(sha256.Sum256([]byte(l.Ref + "second look"))[0])*100/256 < d.secondLook {
		return review(r, d, l, id, business(2, 6), decision{ID: id, Ref: l.Ref, Accepted: true})
	}
	if _, err := r.tx.Exec(ctx, "update verification set ended = 'accepted' where id = $1", id); err != nil {
		return reply{}, err
	}
	return reply{http.StatusOK, map[string]any{"verified_at": r.now}}, believe(ctx, r.tx, d, l, r.now)
}
