package outside

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// cause is a reason for which a directory suspends a listing.
type cause struct {
	says  string // as much as it tells
	holds func(before, after Facts, settling bool) bool
	lasts bool // it is there until the facts are mended
}

var (
	boxPattern   = regexp.MustCompile(`(?i)\b(p\.? ?o\.? box|post office box|mailbox|suite pmb|pmb)\b`)
	extraPattern = regexp.MustCompile(`(?i)\b(best|cheap|cheapest|24/7|near me|no\. ?1|#1|open late)\b|[|•]`)
)

var causes = map[string]cause{
	"extra_words": {"It does not follow our rules for names.", func(_, f Facts, _ bool) bool {
		return extraPattern.MatchString(f.Name) || f.Locality != "" && strings.HasSuffix(f.Name, " "+f.Locality)
	}, true},
	"post_office_box": {"The address is not a place of business.", func(_, f Facts, _ bool) bool { return boxPattern.MatchString(f.Street) }, true},
	"round_the_clock": {"The hours could not be confirmed.", func(was, f Facts, _ bool) bool { return f.Hours == "24/7" && was.Hours != "24/7" }, false},
	"name_and_address": {
		"We could not tell that this is still the same business.",
		func(was, f Facts, _ bool) bool { return was.Name != "" && was.Name != f.Name && was.Street != f.Street },
		false,
	},
	"second_edit": {"Too much was changed in a short time.", func(_, _ Facts, settling bool) bool { return settling }, false},
	"unsaid":      {"It does not follow our guidelines.", func(was, _ Facts, _ bool) bool { return was.Name != "" }, false},
}

// suspension is why a listing does not show.
type suspension struct {
	Cause string    `json:"cause"`
	Says  string    `json:"says"`
	At    time.Time `json:"at"`
	Final bool      `json:"final"` // no appeal will be granted
}

// lookInto suspends a listing whose facts, or whose change, the directory minds.
func (d *directory) lookInto(r request, l listing, before, after Facts, settling bool) error {
	if l.Suspended != nil {
		return nil
	}
	for id, of100 := range d.suspends {
		c := causes[id]
		luck := int(sha256.Sum256([]byte(l.Ref + id + after.Name + after.Street))[3]) * 100 / 256
		if luck < of100 && c.holds(before, after, settling) {
			return suspend(r.Context(), r.tx, d, l, suspension{Cause: id, Says: c.says, At: r.now})
		}
	}
	return nil
}

// suspend takes a listing out of public view and tells its holder.
func suspend(ctx context.Context, tx pgx.Tx, d *directory, l listing, s suspension) error {
	if _, err := tx.Exec(ctx, "update listing set suspended = $2 where ref = $1", l.Ref, s); err != nil {
		return err
	}
	says := fmt.Sprintf("This listing is suspended and no longer shows. %s", s.Says)
	if d.mostAppeals > 0 {
		says += fmt.Sprintf("\nYou may appeal, %d times in all, and say what you have mended.", d.mostAppeals)
	}
	return tellAccount(ctx, tx, d, l, l.holder, fmt.Sprint("suspended ", l.Ref, s.At.UnixMicro()), "Your listing is suspended", says, s.At)
}

// toSuspend is a suspension that comes at a time of its own.
type toSuspend struct {
	Ref   string     `json:"ref"`
	Thing suspension `json:"suspension"`
}

func suspendNow(_ *Outside, ctx context.Context, tx pgx.Tx, h happening) error {
	var in toSuspend
	if err := json.Unmarshal(h.data, &in); err != nil {
		return err
	}
	var slug string
	if err := tx.QueryRow(ctx, "select directory from listing where ref = $1", in.Ref).Scan(&slug); err != nil {
		return err
	}
	d := directoryAt(slug)
	l, err := scan(tx.QueryRow(ctx, "select "+listingColumns+" from listing where ref = $1 for update", in.Ref), d, "")
	if err != nil || l.Suspended != nil {
		return err
	}
	return suspend(ctx, tx, d, l, in.Thing)
}

// appealing takes up what a holder says against a suspension.
func appealing(d *directory, r request) (reply, error) {
	l, refused, err := allowed(d, r, manager)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var in appeal
	if !r.read(&in) || strings.TrimSpace(in.Text) == "" {
		return no(http.StatusUnprocessableEntity, "missing", "Say why."), nil
	}
	var count, waiting int
	if l.Suspended != nil {
		err = r.tx.QueryRow(
			r.Context(),
			"select count(*), count(*) filter (where state = 'in_review') from request where ref = $1 and kind = 'appeal' and asked_at >= $2",
			l.Ref,
			l.Suspended.At,
		).Scan(&count, &waiting)
	}
	switch {
	case err != nil:
		return reply{}, err
	case d.mostAppeals == 0:
		return no(http.StatusConflict, "not_offered", "We hear no appeals."), nil
	case l.Suspended == nil:
		return no(http.StatusConflict, "not_suspended", "This listing is not suspended."), nil
	case waiting > 0:
		return no(http.StatusConflict, "in_review", "An appeal is before our people; wait for their answer."), nil
	case count >= d.mostAppeals:
		return no(http.StatusConflict, "no_appeals_left", "We have heard all that we hear on this."), nil
	}
	return putBefore(r, d, l, "appeal", d.appeals, in)
}

// appeal is what is said against a suspension, and the papers with it.
type appeal struct {
	Text   string
	Papers []evidence
}

// decideAppeal hears an appeal on its merits: the fault must be mended, and a paper
// must show the business where it is.
func decideAppeal(ctx context.Context, tx pgx.Tx, d *directory, l listing, a asked, now time.Time) (verdict, error) {
	var in appeal
	if err := json.Unmarshal(a.Data, &in); err != nil {
		return verdict{}, err
	}
	s := l.Suspended
	if s == nil {
		return verdict{state: "accepted", says: "The listing is not suspended any more.", mail: true}, nil
	}
	doubt := "Send a paper that shows the business at its address."
	for _, p := range in.Papers {
		if doubt = l.Facts.doubts(p); doubt == "" {
			break
		}
	}
	c := causes[s.Cause]
	switch {
	case s.Final:
		return verdict{state: "refused", says: "We have looked at it again. Our decision stands, and it is final.", mail: true, final: true}, nil
	case c.lasts && c.holds(Facts{}, l.Facts, false):
		return verdict{state: "refused", says: "What we minded is still there. " + c.says, mail: true}, nil
	case doubt != "":
		return verdict{state: "refused", says: doubt, mail: true}, nil
	}
	_, err := tx.Exec(ctx, "update listing set suspended = null where ref = $1", l.Ref)
	return verdict{state: "accepted", says: "The listing shows again.", mail: true}, err
}

// setState marks a listing of a location that has closed or moved away, or takes the mark
// back where it can be.
func setState(d *directory, r request) (reply, error) {
	l, refused, err := allowed(d, r, manager)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var in struct{ State string }
	if !r.read(&in) || in.State == "" {
		return no(http.StatusBadRequest, "bad_request", "Say how it is: open, closed_for_a_time, closed_for_good or moved."), nil
	}
	_, known := d.marks[in.State]
	switch {
	case in.State == "open":
		in.State = ""
	case !known:
		return no(http.StatusConflict, "not_offered", "We have no such mark."), nil
	}
	if d.marks[l.State] && in.State != l.State {
		return no(http.StatusConflict, "final", "This listing was closed for good, and stays so."), nil
	}
	_, err = r.tx.Exec(r.Context(), "update listing set state = $2 where ref = $1", l.Ref, in.State)
	return reply{http.StatusOK, map[string]any{}}, err
}

// setVisibility takes a listing out of public view, or brings it back.
func setVisibility(d *directory, r request) (reply, error) {
	l, refused, err := allowed(d, r, manager)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var in struct{ Withdrawn *bool }
	if !r.read(&in) || in.Withdrawn == nil {
		return no(http.StatusBadRequest, "bad_request", "Say whether it is withdrawn."), nil
	}
	_, err = r.tx.Exec(r.Context(), "update listing set withdrawn = $2 where ref = $1", l.Ref, *in.Withdrawn)
	return reply{http.StatusOK, map[string]any{}}, err
}
