package outside

import (
	"context"
	"crypto/sha256"
	"errors"
	"net/http"
	"regexp"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/core/fact/calendar"
)

// evidence is a paper that was sent to prove something.
type evidence struct {
	Kind, Name, Text string
	LegalName        string `json:"legal_name"` // the business's name by law, as the account says it
}

// decision is what a directory's people will say of a verification.
type decision struct {
	ID, Ref, Says string
	Accepted      bool
}

// decideLater takes a request up that is decided on by people: at once where the method
// has no window.
func decideLater(r request, d *directory, l listing, how string, paper *evidence, film *video) (reply, error) {
	ctx, m := r.Context(), d.methods[how]
	c := decision{ID: token(8), Ref: l.Ref, Accepted: true}
	switch how {
	case "papers":
		if paper == nil {
			return no(http.StatusUnprocessableEntity, "missing", "Send a paper."), nil
		}
		c.Says = l.Facts.doubts(*paper)
		c.Accepted = c.Says == ""
	case "video":
		if film == nil {
			return no(http.StatusUnprocessableEntity, "missing", "Send the video."), nil
		}
		c.Says = film.doubts()
		c.Accepted = c.Says == ""
	case "staff":
		if sha256.Sum256([]byte(l.Ref + "staff"))[0] > 200 {
			c.Accepted, c.Says = false, "We could not find out whether the account may speak for this business."
		}
	}
	if err := d.replaces(r, l, how); err != nil {
		return reply{}, err
	}
	if _, err := r.tx.Exec(
		ctx,
		"insert into verification (id, ref, method, code, asked_at, expires, tries_left, ended) values ($1, $2, $3, '', $4, $4, 0, 'in_review')",
		c.ID,
		l.Ref,
		how,
		r.now,
	); err != nil {
		return reply{}, err
	}
	if m.window.Unit == "" {
		return reply{http.StatusCreated, map[string]any{"id": c.ID, "verified_at": r.now}}, c.tell(ctx, r.tx, r.now)
	}
	out, err := review(r, d, l, c.ID, m.window, c)
	out.status = http.StatusCreated
	return out, err
}

// review puts a verification before the directory's people, who decide on one of the
// window's days.
func review(r request, d *directory, l listing, id string, window calendar.Rule, c decision) (reply, error) {
	w := d.place.Window(window, r.now)
	if _, err := r.tx.Exec(r.Context(), "update verification set ended = 'in_review' where id = $1", id); err != nil {
		return reply{}, err
	}
	err := schedule(r.Context(), r.tx, "decide "+id, somewhereIn(w, d, id).At(15*60, d.place.Zone), "decide", c)
	return reply{http.StatusOK, map[string]any{"id": id, "in_review": true, "answer_by": w.Latest.At(18*60, d.place.Zone)}}, err
}

// tell decides.
func (c decision) tell(ctx context.Context, tx pgx.Tx, now time.Time) error {
	ended := "refused"
	if c.Accepted {
		ended = "accepted"
	}
	done, err := tx.Exec(ctx, "update verification set ended = $2, says = $3 where id = $1 and ended = 'in_review'", c.ID, ended, c.Says)
	if err != nil || done.RowsAffected() == 0 || !c.Accepted {
		return err
	}
	var directory string
	if err := tx.QueryRow(ctx, "select directory from listing where ref = $1", c.Ref).Scan(&directory); err != nil {
		return err
	}
	d := directoryAt(directory)
	l, err := scan(tx.QueryRow(ctx, "select "+listingColumns+" from listing where ref = $1", c.Ref), d, "")
	if err != nil {
		return err
	}
	return believe(ctx, tx, d, l, now)
}

// standing tells how a verification stands.
func standing(d *directory, r request) (reply, error) {
	var ended, says string
	err := r.tx.QueryRow(
		r.Context(),
		"select v.ended, v.says from verification v join listing l using (ref) where v.id = $1 and l.directory = $2 and l.holder = $3",
		r.PathValue("id"),
		d.slug,
		r.account,
	).Scan(&ended, &says)
	if errors.Is(err, pgx.ErrNoRows) {
		return no(http.StatusNotFound, "no_verification", "There is no such verification of yours."), nil
	}
	if ended == "" {
		ended = "sent"
	}
	return reply{http.StatusOK, map[string]any{"state": ended, "says": says}}, err
}

var unitPattern = regexp.MustCompile(`(?i)\b(?:suite|ste\.?|unit|apt\.?|apartment)\s*#?\s*([\w-]+)`)

// unitOf is the unit that a text names; empty for none.
func unitOf(text string) string {
	if m := unitPattern.FindStringSubmatch(text); m != nil {
		return strings.ToLower(m[1])
	}
	return ""
}

// bears reports whether a text has a name in it; one that is not known it has not.
func bears(text, name string) bool { return name != "" && strings.Contains(text, slug(name)) }

// doubts says what is wrong with a paper; nothing when it proves the listing: it must
// name the business, as the public or as the law knows it, and its street.
func (f Facts) doubts(p evidence) string {
	text := slug(p.Text)
	street, _, _ := strings.Cut(f.Street, ",")
	switch {
	case text == "":
		return "Nothing can be read on the paper."
	case !strings.Contains(text, slug(f.Name)) && !bears(text, f.LegalName) && !bears(text, p.LegalName):
		return "The paper names another business."
	case p.Kind == "licence" || p.Kind == "registration":
	case !strings.Contains(text, slug(street)):
		return "The paper shows another address."
	case unitOf(p.Text) != unitOf(f.Street):
		return "The paper shows another suite."
	}
	return ""
}
