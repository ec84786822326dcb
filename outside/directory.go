package outside

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
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
	if err := tx.QueryRow(ctx, "select count(*) from listing where directory = $1 and (slug = $2 or slug like $2 || '-%')", d.slug, page).Scan(
		&others,
	); err != nil {
		return listing{}, err
	}
	if others > 0 {
		page += fmt.Sprintf("-%d", others+1)
	}
	// Told by the page, so that the same world comes out the same each time.
	sum := sha256.Sum256([]byte(d.slug + "/" + page))
	ref := hex.EncodeToString(sum[:6])
	return scan(
		tx.QueryRow(
			ctx,
			"insert into listing (ref, directory, slug, facts, holder, late_days, known, withdrawn) values ($1, $2, $3, $4, $5, $6, $7, $8) returning "+listingColumns,
			ref,
			d.slug,
			page,
			f,
			holder,
			lateDays,
			known,
			d.withdrawn && !known,
		),
		d,
		holder,
	)
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
