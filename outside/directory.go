package outside

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"math/big"
	"net/http"
	"slices"
	"strings"
	"time"
	"unicode"

	"github.com/jackc/pgx/v5"

	"uvent/core/fact/calendar"
)

type listing struct {
	Ref        string     `json:"ref"`
	Page       string     `json:"page"` // path of its public page
	Facts      Facts      `json:"facts"`
	Holder     string     `json:"holder"` // "you", "another", or empty
	VerifiedAt *time.Time `json:"verified_at"`
	PublicAt   *time.Time `json:"public_at"`
	holder     string
	Suspended  *suspension `json:"-"`
	Told       string      `json:"suspended,omitempty"` // what is said of its suspension
	Withdrawn  bool        `json:"withdrawn"`
	State      string      `json:"state"` // what it is marked with; empty: open
	rank       rank        // what the account may do
	lateDays   int
	known      bool // it was there before anybody created it
}

func (o *Outside) directoryRoutes(mux *http.ServeMux, d *directory) {
	at := func(pattern string, handle func(d *directory, r request) (reply, error)) {
		method, path, _ := strings.Cut(pattern, " ")
		mux.HandleFunc(method+" /"+d.slug+"/api"+path, o.interfaceOf(d, func(r request) (reply, error) { return handle(d, r) }))
	}
	if d.pages {
		o.formRoutes(mux, d)
	}
	mux.HandleFunc("GET /"+d.slug+"/place/{slug}", func(w http.ResponseWriter, r *http.Request) { o.page(w, r, d) })
	if !d.connected {
		return
	}
	at("POST /search", search)
	at("POST /listings", create)
	at("GET /listings/{ref}", read)
	at("PUT /listings/{ref}", change)
	at("POST /listings/{ref}/visibility", setVisibility)
	at("POST /listings/{ref}/state", setState)
	at("POST /listings/{ref}/claim", claim)
	at("GET /listings/{ref}/offers", offers)
	at("POST /listings/{ref}/verifications", verify)
	at("POST /verifications/{id}/code", enter)
	at("GET /verifications/{id}", standing)
	at("POST /copies", copyListing)
	at("POST /listings/{ref}/photos", givePhoto)
	at("POST /listings/{ref}/posts", speak)
	at("GET /listings/{ref}/posts", spoken)
	at("GET /listings/{ref}/reviews", opinions)
	at("POST /listings/{ref}/suggestions", suggest)
	at("POST /listings/{ref}/people", setRole)
	at("GET /listings/{ref}/people", people)
	at("POST /listings/{ref}/access", askAccess)
	at("POST /listings/{ref}/duplicates", reportDuplicate)
	at("POST /listings/{ref}/appeals", appealing)
	at("GET /requests/{id}", requestStanding)
	at("POST /requests/{id}/escalate", escalate)
	mux.HandleFunc("GET /"+d.slug+"/photo/{ref}/{place}/{id}", o.photoFile)
}

func scan(row pgx.Row, d *directory, account string) (l listing, err error) {
	var slug string
	err = row.Scan(&l.Ref, &slug, &l.Facts, &l.holder, &l.VerifiedAt, &l.PublicAt, &l.lateDays, &l.known, &l.Suspended, &l.Withdrawn, &l.State)
	if l.Suspended != nil {
		l.Told = l.Suspended.Says
	}
	l.Page = "/" + d.slug + "/place/" + slug
	switch l.holder {
	case "":
	case account:
		l.Holder = "you"
	default:
		l.Holder = "another"
	}
	return l, err
}

const listingColumns = "ref, slug, facts, holder, verified_at, public_at, late_days, known, suspended, withdrawn, state"

func find(d *directory, r request, ref string) (listing, reply, error) {
	l, err := scan(r.tx.QueryRow(r.Context(), "select "+listingColumns+" from listing where directory = $1 and ref = $2 for update", d.slug, ref), d, r.account)
	if errors.Is(err, pgx.ErrNoRows) {
		return l, no(http.StatusNotFound, "no_listing", "We have no such listing."), nil
	}
	if err == nil {
		l.rank, err = rankOf(d, r, l)
	}
	return l, reply{}, err
}

// search answers with the listings that share a phone, a word of the name or
// the street with what is asked, in the same town.
func search(d *directory, r request) (reply, error) {
	var in struct{ Name, Phone, Street, Locality string }
	if !r.read(&in) || in.Name == "" && in.Phone == "" && in.Street == "" {
		return no(http.StatusBadRequest, "bad_request", "Give a name, a phone or a street."), nil
	}
	rows, err := r.tx.Query(r.Context(), "select "+listingColumns+" from listing where directory = $1 and not merged order by ref", d.slug)
	if err != nil {
		return reply{}, err
	}
	defer rows.Close()
	found := []listing{}
	for rows.Next() {
		l, err := scan(rows, d, r.account)
		if err != nil {
			return reply{}, err
		}
		near := in.Locality == "" || strings.EqualFold(in.Locality, l.Facts.Locality)
		if in.Phone != "" && in.Phone == l.Facts.Phone || near && (share(in.Name, l.Facts.Name) || in.Street != "" && slug(in.Street) == slug(l.Facts.Street)) {
			found = append(found, l)
		}
	}
	return reply{http.StatusOK, map[string]any{"listings": found}}, rows.Err()
}

// share reports whether two names have a word of four letters or more in common.
func share(a, b string) bool {
	for _, w := range strings.Split(slug(a), "-") {
		for _, v := range strings.Split(slug(b), "-") {
			if len(w) >= 4 && w == v {
				return true
			}
		}
	}
	return false
}

func slug(s string) string {
	return strings.Join(strings.FieldsFunc(strings.ToLower(s), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), "-")
}

func token(bytes int) string {
	b := make([]byte, bytes)
	rand.Read(b)
	return hex.EncodeToString(b)
}

func create(d *directory, r request) (reply, error) {
	var f Facts
	if !r.read(&f) {
		return no(http.StatusBadRequest, "bad_request", "The facts cannot be read."), nil
	}
	if d.noCreating {
		return no(http.StatusConflict, "not_offered", "We make our panels by ourselves."), nil
	}
	if why := d.lacks(f, true); why != "" {
		return no(http.StatusUnprocessableEntity, "missing", why), nil
	}
	if d.noVisits && f.HideStreet {
		return no(http.StatusUnprocessableEntity, "not_listed", "We list places that people can go to."), nil
	}
	if d.pageNames {
		if f.PageName == "" {
			f.PageName = f.Name
		}
		taken, err := isTaken(r.Context(), r.tx, d, f.PageName)
		if err != nil {
			return reply{}, err
		}
		if taken {
			return no(http.StatusConflict, "taken", "The page address "+slug(f.PageName)+" is taken. Choose another."), nil
		}
	}
	if d.attests && f.AttestedBy == "" {
		return no(http.StatusUnprocessableEntity, "not_attested", attest), nil
	}
	if f.Button != "" && !slices.Contains(d.speaks.buttons, f.Button) {
		return no(http.StatusUnprocessableEntity, "no_button", "Our buttons are: "+strings.Join(d.speaks.buttons, ", ")+"."), nil
	}
	l, err := addListing(r.Context(), r.tx, d, f, r.account, 0, false)
	if err != nil {
		return reply{}, err
	}
	l.Holder = "you"
	return reply{http.StatusCreated, l}, d.lookInto(r, l, Facts{}, f, false)
}

// attest is what a directory says to somebody who does not sign.
const attest = "Say who attests that they may speak for the business."

func isTaken(ctx context.Context, tx pgx.Tx, d *directory, name string) (taken bool, err error) {
	err = tx.QueryRow(ctx, "select exists (select from listing where directory = $1 and slug = $2)", d.slug, slug(name)).Scan(&taken)
	return taken, err
}

func addListing(ctx context.Context, tx pgx.Tx, d *directory, f Facts, holder string, lateDays int, known bool) (listing, error) {
	page := slug(f.Name + " " + f.Locality)
	if f.PageName != "" {
		page = slug(f.PageName)
	}
	var others int
	if err := tx.QueryRow(ctx, "select count(*) from listing where directory = $1 and (slug = $2 or slug like $2 || '-%')", d.slug, page).Scan(&others); err != nil {
		return listing{}, err
	}
	if others > 0 {
		page += fmt.Sprintf("-%d", others+1)
	}
	// Told by the page, so that the same world comes out the same each time.
	sum := sha256.Sum256([]byte(d.slug + "/" + page))
	ref := hex.EncodeToString(sum[:6])
	return scan(tx.QueryRow(ctx, "insert into listing (ref, directory, slug, facts, holder, late_days, known, withdrawn) values ($1, $2, $3, $4, $5, $6, $7, $8) returning "+listingColumns,
		ref, d.slug, page, f, holder, lateDays, known, d.withdrawn && !known), d, holder)
}

func read(d *directory, r request) (reply, error) {
	l, refused, err := find(d, r, r.PathValue("ref"))
	if err != nil || refused.status != 0 {
		return refused, err
	}
	return reply{http.StatusOK, l}, nil
}

func claim(d *directory, r request) (reply, error) {
	l, refused, err := find(d, r, r.PathValue("ref"))
	if err != nil || refused.status != 0 {
		return refused, err
	}
	if l.Holder == "another" {
		return reply{http.StatusConflict, problem{Status: http.StatusConflict, Title: "Held", Code: "held_by_another", HeldBy: mask(l.holder),
			Detail: "Another account holds this listing."}}, nil
	}
	var given Facts
	if r.read(&given); d.attests && given.AttestedBy == "" {
		return no(http.StatusUnprocessableEntity, "not_attested", attest), nil
	}
	if len(d.wants) > 0 {
		if why := d.lacks(given, false); why != "" {
			return no(http.StatusUnprocessableEntity, "missing", why), nil
		}
		l.Facts.LegalName, l.Facts.Registration = given.LegalName, given.Registration
	}
	_, err = r.tx.Exec(r.Context(), "update listing set holder = $2, facts = $3 where ref = $1", l.Ref, r.account, l.Facts)
	l.Holder = "you"
	return reply{http.StatusOK, l}, err
}

// mask shows enough of an email to recognise it: li…@agency.example.
func mask(email string) string {
	name, domain, _ := strings.Cut(email, "@")
	if len(name) > 2 {
		name = name[:2] + "…"
	}
	return name + "@" + domain
}

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
	if _, err := r.tx.Exec(ctx, "update verification set ended = 'replaced' where ref = $1 and ended = ''", l.Ref); err != nil {
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
	err := r.tx.QueryRow(ctx, "select ref, code, ended, expires, tries_left from verification where id = $1 for update", id).Scan(&ref, &code, &ended, &expires, &tries)
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
		if err := r.tx.QueryRow(ctx, "select exists (select from verification v join listing l using (ref) where v.code = $1 and v.ref <> $2 and l.directory = $3 and v.ended = '')", given, ref, d.slug).Scan(&other); err != nil {
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

// believe takes a listing for verified; the public sees it once it is published.
func believe(ctx context.Context, tx pgx.Tx, d *directory, l listing, now time.Time) error {
	if _, err := tx.Exec(ctx, "update listing set verified_at = $2 where ref = $1", l.Ref, now); err != nil {
		return err
	}
	if d.publish.Max == 0 {
		_, err := tx.Exec(ctx, "update listing set public_at = $2 where ref = $1", l.Ref, now)
		return err
	}
	return schedule(ctx, tx, "publish "+l.Ref, publishTime(d, l, now), "publish", l.Ref)
}

// publishTime is when the public sees a listing verified now: on one of the
// window's days, at ten in the morning, or later where the listing is slow.
func publishTime(d *directory, l listing, now time.Time) time.Time {
	w := d.place.Window(d.publish, now)
	day := somewhereIn(w, d, l.Ref)
	if l.lateDays > 0 {
		day = w.Latest.Add(l.lateDays)
	}
	return day.At(10*60, d.place.Zone)
}

// somewhereIn picks a business day of a window, the same one for the same listing.
func somewhereIn(w calendar.Window, d *directory, ref string) calendar.Date {
	days := w.Latest.Number() - w.Earliest.Number() + 1
	pick := int(sha256.Sum256([]byte(ref))[1]) % days
	day := d.place.Holidays.AddBusiness(w.Earliest.Add(pick), 0)
	if w.Latest.Before(day) {
		return w.Latest
	}
	return day
}
