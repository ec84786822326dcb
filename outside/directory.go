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
	"strings"
	"time"
	"unicode"

	"github.com/jackc/pgx/v5"

	"uvent/core/calendar"
)

// directory is one stand-in and how it behaves.
type directory struct {
	slug, name string
	place      calendar.Place
	publish    calendar.Rule
	methods    map[string]method
}

// method is a way to verify that a directory offers.
type method struct {
	digits, tries int
	works         time.Duration
	window        calendar.Rule // for what goes by post
}

var pacific = func() *time.Location {
	zone, err := time.LoadLocation("America/Los_Angeles")
	if err != nil {
		panic(err)
	}
	return zone
}()

var directories = []directory{{
	slug: "fernlook", name: "Fernlook",
	place:   calendar.Place{Zone: pacific, Holidays: calendar.HolidaysOf("US", ""), CutOffHour: 17},
	publish: calendar.Rule{Min: 1, Max: 3, Unit: calendar.BusinessDays},
	methods: map[string]method{
		"postcard": {6, 3, 30 * 24 * time.Hour, calendar.Rule{Min: 6, Max: 12, Unit: calendar.BusinessDays}},
		"call":     {6, 3, 30 * time.Minute, calendar.Rule{}},
		"text":     {6, 3, 30 * time.Minute, calendar.Rule{}},
		"email":    {8, 5, 72 * time.Hour, calendar.Rule{}},
	},
}}

// Facts are what a directory knows of a business.
type Facts struct {
	Name       string  `json:"name"`
	Street     string  `json:"street"` // with the unit
	Locality   string  `json:"locality"`
	Region     string  `json:"region"`
	PostalCode string  `json:"postal_code"`
	Country    string  `json:"country"`
	HideStreet bool    `json:"hide_street"`
	Phone      string  `json:"phone"` // E.164
	Website    string  `json:"website"`
	Category   string  `json:"category"`
	Hours      string  `json:"hours"` // opening_hours
	Latitude   float64 `json:"latitude"`
	Longitude  float64 `json:"longitude"`
}

type listing struct {
	Ref        string     `json:"ref"`
	Page       string     `json:"page"` // path of its public page
	Facts      Facts      `json:"facts"`
	Holder     string     `json:"holder"` // "you", "another", or empty
	VerifiedAt *time.Time `json:"verified_at"`
	PublicAt   *time.Time `json:"public_at"`
	holder     string
	lateDays   int
}

func (o *Outside) directoryRoutes(mux *http.ServeMux, d *directory) {
	at := func(pattern string, handle func(d *directory, r request) (reply, error)) {
		method, path, _ := strings.Cut(pattern, " ")
		mux.HandleFunc(method+" /"+d.slug+"/api"+path, o.interfaceOf(func(r request) (reply, error) { return handle(d, r) }))
	}
	at("POST /search", search)
	at("POST /listings", create)
	at("GET /listings/{ref}", read)
	at("POST /listings/{ref}/claim", claim)
	at("GET /listings/{ref}/offers", offers)
	at("POST /listings/{ref}/verifications", verify)
	at("POST /verifications/{id}/code", enter)
	mux.HandleFunc("GET /"+d.slug+"/place/{slug}", func(w http.ResponseWriter, r *http.Request) { o.page(w, r, d) })
}

func scan(row pgx.Row, d *directory, account string) (l listing, err error) {
	var slug string
	err = row.Scan(&l.Ref, &slug, &l.Facts, &l.holder, &l.VerifiedAt, &l.PublicAt, &l.lateDays)
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

const listingColumns = "ref, slug, facts, holder, verified_at, public_at, late_days"

func find(d *directory, r request, ref string) (listing, reply, error) {
	l, err := scan(r.tx.QueryRow(r.Context(), "select "+listingColumns+" from listing where directory = $1 and ref = $2 for update", d.slug, ref), d, r.account)
	if errors.Is(err, pgx.ErrNoRows) {
		return l, no(http.StatusNotFound, "no_listing", "We have no such listing."), nil
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
	rows, err := r.tx.Query(r.Context(), "select "+listingColumns+" from listing where directory = $1 order by ref", d.slug)
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
	for what, value := range map[string]string{"name": f.Name, "street": f.Street, "locality": f.Locality, "category": f.Category} {
		if value == "" {
			return no(http.StatusUnprocessableEntity, "missing", "We need the "+what+"."), nil
		}
	}
	l, err := addListing(r.Context(), r.tx, d, f, r.account, 0)
	l.Holder = "you"
	return reply{http.StatusCreated, l}, err
}

func addListing(ctx context.Context, tx pgx.Tx, d *directory, f Facts, holder string, lateDays int) (listing, error) {
	page := slug(f.Name + " " + f.Locality)
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
	return scan(tx.QueryRow(ctx, "insert into listing (ref, directory, slug, facts, holder, late_days) values ($1, $2, $3, $4, $5, $6) returning "+listingColumns,
		ref, d.slug, page, f, holder, lateDays), d, holder)
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
	_, err = r.tx.Exec(r.Context(), "update listing set holder = $2 where ref = $1", l.Ref, r.account)
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
	l, refused, err := find(d, r, r.PathValue("ref"))
	if err != nil || refused.status != 0 {
		return refused, err
	}
	if l.Holder != "you" {
		return no(http.StatusForbidden, "not_yours", "Claim the listing first."), nil
	}
	out := []string{}
	for m := range d.methods {
		if l.offered(m) {
			out = append(out, m)
		}
	}
	return reply{http.StatusOK, map[string]any{"methods": out}}, nil
}

// offered says whether a listing gets a method: post always, the others not
// for every listing, as if the directory trusted some more than others.
func (l listing) offered(method string) bool {
	return method == "postcard" || sha256.Sum256([]byte(l.Ref + method))[0] > 25
}

func verify(d *directory, r request) (reply, error) {
	l, refused, err := find(d, r, r.PathValue("ref"))
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var in struct{ Method, To, Contact string }
	m, known := method{}, false
	if r.read(&in) {
		m, known = d.methods[in.Method]
	}
	switch {
	case l.Holder != "you":
		return no(http.StatusForbidden, "not_yours", "Claim the listing first."), nil
	case l.VerifiedAt != nil:
		return no(http.StatusConflict, "already_verified", "This listing is verified already."), nil
	case !known || !l.offered(in.Method):
		return no(http.StatusConflict, "not_offered", "We do not offer this way for this listing today."), nil
	case in.To == "":
		return no(http.StatusUnprocessableEntity, "missing", "Say where the code should go."), nil
	}
	ctx := r.Context()
	if _, err := r.tx.Exec(ctx, "update verification set ended = 'replaced' where ref = $1 and ended = ''", l.Ref); err != nil {
		return reply{}, err
	}
	most := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(m.digits)), nil)
	n, err := rand.Int(rand.Reader, most)
	if err != nil {
		return reply{}, err
	}
	id, code := token(8), fmt.Sprintf("%0*d", m.digits, n)
	expires := r.now.Add(m.works)
	if _, err := r.tx.Exec(ctx, "insert into verification (id, ref, method, code, asked_at, expires, tries_left) values ($1, $2, $3, $4, $5, $6, $7)",
		id, l.Ref, in.Method, code, r.now, expires, m.tries); err != nil {
		return reply{}, err
	}
	if err := deliver(r, d, l, m, in.Method, in.To, in.Contact, id, code); err != nil {
		return reply{}, err
	}
	return reply{http.StatusCreated, map[string]any{"id": id, "digits": m.digits, "tries": m.tries, "expires": expires}}, nil
}

// enter takes a code. Every answer that is no says how many tries are left.
func enter(d *directory, r request) (reply, error) {
	var in struct{ Code string }
	if !r.read(&in) || in.Code == "" {
		return no(http.StatusBadRequest, "bad_request", "Give the code."), nil
	}
	ctx := r.Context()
	var ref, code, ended string
	var expires time.Time
	var tries int
	err := r.tx.QueryRow(ctx, "select ref, code, ended, expires, tries_left from verification where id = $1 for update", r.PathValue("id")).Scan(&ref, &code, &ended, &expires, &tries)
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
	case l.Holder != "you":
		return no(http.StatusForbidden, "not_yours", "Claim the listing first."), nil
	case l.VerifiedAt != nil:
		return refuse("already_verified", "This listing is verified already.")
	case ended == "replaced":
		return refuse("replaced", "A newer code was sent; this one works no more.")
	case ended == "used_up":
		return refuse("used_up", "No tries are left for this code.")
	case !r.now.Before(expires):
		return refuse("expired", "This code has stopped working.")
	case in.Code != code:
		tries--
		if tries == 0 {
			ended = "used_up"
		}
		if _, err := r.tx.Exec(ctx, "update verification set tries_left = $2, ended = $3 where id = $1", r.PathValue("id"), tries, ended); err != nil {
			return reply{}, err
		}
		var other bool
		if err := r.tx.QueryRow(ctx, "select exists (select from verification v join listing l using (ref) where v.code = $1 and v.ref <> $2 and l.directory = $3 and v.ended = '')", in.Code, ref, d.slug).Scan(&other); err != nil {
			return reply{}, err
		}
		if other {
			return refuse("other_listing", "This code was sent for another listing.")
		}
		return refuse("wrong_code", "This is not the code that we sent.")
	}
	if _, err := r.tx.Exec(ctx, "update verification set ended = 'accepted' where id = $1", r.PathValue("id")); err != nil {
		return reply{}, err
	}
	if _, err := r.tx.Exec(ctx, "update listing set verified_at = $2 where ref = $1", ref, r.now); err != nil {
		return reply{}, err
	}
	return reply{http.StatusOK, map[string]any{"verified_at": r.now}}, schedule(ctx, r.tx, "publish "+ref, publishTime(d, l, r.now), "publish", ref)
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
