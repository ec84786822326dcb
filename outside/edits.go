package outside

import (
	"context"
	"encoding/json"
	"net/http"
	"reflect"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/core/fact/calendar"
)

// edit is what a change of some facts meets.
type edit struct {
	keys   []string // of Facts
	sets   string   // review, verification, writing or refusal
	window calendar.Rule
}

// editOf is what a change of one fact meets; none: it is taken at once.
func (d *directory) editOf(key string) edit {
	i := slices.IndexFunc(d.edits, func(e edit) bool { return slices.Contains(e.keys, key) })
	if i < 0 {
		return edit{}
	}
	return d.edits[i]
}

var noWays = map[string]string{"writing": "This is only changed in writing.", "refusal": "This is not changed any more."}

// edited is how a change was met, fact by fact.
type edited struct {
	Taken       []string          `json:"taken"`
	Reviewed    []string          `json:"reviewed"` // taken once somebody there has looked
	Refused     map[string]string `json:"refused"`
	ID          string            `json:"id,omitempty"` // of the review
	AnswerBy    *time.Time        `json:"answer_by,omitempty"`
	VerifyAgain bool              `json:"verify_again"`
}

// change takes facts in place of those that are there. What is not named stays.
func change(d *directory, r request) (reply, error) {
	if d.suggested {
		return no(http.StatusConflict, "not_offered", "Suggest the change, with public evidence for it."), nil
	}
	l, refused, err := allowed(d, r, editor)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var given map[string]any
	if !r.read(&given) {
		return no(http.StatusBadRequest, "bad_request", "The facts cannot be read."), nil
	}
	has := l.Facts.asMap()
	now, later := map[string]any{}, map[string]any{}
	out := edited{Taken: []string{}, Reviewed: []string{}, Refused: map[string]string{}}
	window := calendar.Rule{}
	for key, value := range given {
		if same(has[key], value) || key == "photos" || key == "attested_by" {
			continue
		}
		switch e := d.editOf(key); e.sets {
		case "review":
			later[key], window = value, e.window
			out.Reviewed = append(out.Reviewed, key)
		case "writing", "refusal":
			out.Refused[key] = noWays[e.sets]
		default:
			now[key] = value
			out.Taken = append(out.Taken, key)
			out.VerifyAgain = out.VerifyAgain || e.sets == "verification" && l.VerifiedAt != nil
		}
	}
	after, err := l.Facts.with(now)
	if err != nil {
		return no(http.StatusBadRequest, "bad_request", "The facts cannot be read: "+err.Error()), nil
	}
	var settling bool
	if err := r.tx.QueryRow(r.Context(), "select exists (select from request where ref = $1 and kind = 'change' and state = 'in_review')", l.Ref).Scan(
		&settling,
	); err != nil {
		return reply{}, err
	}
	if _, err := r.tx.Exec(
		r.Context(),
		"update listing set facts = $2, verified_at = case when $3 then null else verified_at end where ref = $1",
		l.Ref,
		after,
		out.VerifyAgain,
	); err != nil {
		return reply{}, err
	}
	if len(later) > 0 {
		answer, err := putBefore(r, d, l, "change", window, later)
		if err != nil {
			return reply{}, err
		}
		said := answer.body.(map[string]any)
		by := said["answer_by"].(time.Time)
		out.ID, out.AnswerBy = said["id"].(string), &by
	}
	slices.Sort(out.Taken)
	slices.Sort(out.Reviewed)
	wished, err := after.with(later)
	if err == nil && len(now)+len(later) > 0 {
		err = d.lookInto(r, l, l.Facts, wished, settling)
	}
	return reply{http.StatusOK, out}, err
}

// asMap are facts by their keys.
func (f Facts) asMap() (out map[string]any) {
	b, err := json.Marshal(f)
	if err == nil {
		err = json.Unmarshal(b, &out)
	}
	if err != nil {
		panic(err) // facts are plain
	}
	return out
}

// with are facts in which some are others. What an object names takes the place of the
// whole object that was there.
func (f Facts) with(other map[string]any) (Facts, error) {
	all := f.asMap()
	for key, value := range other {
		all[key] = value
	}
	b, err := json.Marshal(all)
	var out Facts
	if err == nil {
		err = json.Unmarshal(b, &out)
	}
	return out, err
}

// same reports whether two values say the same; nothing and an empty one do.
func same(a, b any) bool {
	empty := func(v any) bool {
		rv := reflect.ValueOf(v)
		return !rv.IsValid() || rv.IsZero() || (rv.Kind() == reflect.Slice || rv.Kind() == reflect.Map) && rv.Len() == 0
	}
	return reflect.DeepEqual(a, b) || empty(a) && empty(b)
}

// decideChange takes a change in once it was looked at, unless the name says more than
// a name.
func decideChange(ctx context.Context, tx pgx.Tx, d *directory, l listing, a asked, _ time.Time) (verdict, error) {
	var wished map[string]any
	if err := json.Unmarshal(a.Data, &wished); err != nil {
		return verdict{}, err
	}
	after, err := l.Facts.with(wished)
	if err != nil {
		return verdict{}, err
	}
	if causes["extra_words"].holds(l.Facts, after, false) {
		return verdict{state: "refused", says: "The name must be the one on the sign, and nothing more.", mail: true}, nil
	}
	_, err = tx.Exec(ctx, "update listing set facts = $2 where ref = $1", l.Ref, after)
	return verdict{state: "accepted"}, err
}
