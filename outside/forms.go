package outside

import (
	"encoding/csv"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/jackc/pgx/v5"
)

// formRoutes are the pages on which people work on a directory by hand: looking for a
// listing, adding one, changing it, and proving that they may.
func (o *Outside) formRoutes(mux *http.ServeMux, d *directory) {
	at := func(pattern string, handle func(d *directory, r request) (any, error)) {
		method, path, _ := strings.Cut(pattern, " ")
		mux.HandleFunc(method+" /"+d.slug+path, o.byHand(d, handle))
	}
	at("GET /{$}", formHome)
	mux.Handle("GET /"+d.slug, http.RedirectHandler("/"+d.slug+"/", http.StatusSeeOther))
	if d.files {
		at("POST /file", takeFile)
		return
	}
	if len(d.form) > 0 {
		at("POST /add", formAdd)
		at("POST /mine/{ref}/change", formChange)
	}
	if len(d.form)+len(d.methods) > 0 {
		at("GET /mine/{ref}", formMine)
		at("POST /mine/{ref}/ask", formAsk)
		at("POST /mine/{ref}/code", formCode)
		at("POST /mine/{ref}/show", formShow)
	}
}

// shownForm is what a page for people shows.
type shownForm struct {
	*directory
	Query   string
	Found   []listing
	Listing *listing
	Wrong   string
	Values  map[string]string
	Methods []string
	Paper   string // the method by which a paper is taken; empty for none
	Asked   bool   // a code was sent that can still be entered
	Says    string
}

func (o *Outside) byHand(d *directory, handle func(d *directory, r request) (any, error)) http.HandlerFunc {
	return func(w http.ResponseWriter, hr *http.Request) {
		r := request{Request: hr, account: "by hand"}
		var out any
		err := hr.ParseMultipartForm(4 << 20)
		if errors.Is(err, http.ErrNotMultipart) {
			err = hr.ParseForm()
		}
		if err == nil {
			err = o.tx(hr.Context(), func(tx pgx.Tx) (err error) {
				r.tx = tx
				if r.now, err = o.now(hr.Context(), tx); err != nil {
					return err
				}
				out, err = handle(d, r)
				return err
			})
		}
		if err != nil {
			o.log.Error("a form failed", "path", hr.URL.Path, "error", err)
			http.Error(w, "Something went wrong on our side.", http.StatusInternalServerError)
			return
		}
		if to, ok := out.(string); ok {
			http.Redirect(w, hr, to, http.StatusSeeOther)
			return
		}
		o.render(w, "form.html", out)
	}
}

// Name, Style and Fields are what the page's template asks a directory for.
func (f shownForm) Name() string    { return f.name }
func (f shownForm) Style() any      { return f.look.style() }
func (f shownForm) Base() string    { return "/" + f.slug }
func (f shownForm) Fields() []field { return f.form }
func (f shownForm) Staff() string   { return f.staff }

// Mine reports whether there are pages for those who hold a listing.
func (f shownForm) Mine() bool { return len(f.form)+len(f.methods) > 0 }

// Key and the others are what the page's template asks a field for.
func (f field) Key() string   { return f.key }
func (f field) Label() string { return f.label }
func (f field) Long() bool    { return f.long }
func (f field) Tick() string  { return f.tick }
func (f field) Most() int     { return f.most }
func (f field) Needed() bool  { return f.needed }

func formHome(d *directory, r request) (any, error) {
	out := shownForm{directory: d, Query: r.FormValue("q"), Says: r.FormValue("says")}
	if out.Query == "" {
		return out, nil
	}
	rows, err := r.tx.Query(
		r.Context(),
		"select "+listingColumns+" from listing where directory = $1 and strpos(lower(facts::text), lower($2)) > 0 order by slug limit 20",
		d.slug,
		out.Query,
	)
	if err != nil {
		return nil, err
	}
	out.Found, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (listing, error) { return scan(row, d, r.account) })
	return out, err
}

// filled reads a form; why says what keeps it from being taken.
func (d *directory) filled(r request) (f Facts, why string) {
	f.Country = "US"
	for _, field := range d.form {
		value := strings.TrimSpace(r.PostFormValue(field.key))
		switch {
		case value == "" && field.needed:
			return f, field.label + " is missing."
		case field.most > 0 && len([]rune(value)) > field.most:
			return f, fmt.Sprintf("%s has %d characters; we take %d.", field.label, len([]rune(value)), field.most)
		case field.parts > 0 && strings.Count(value, ",")+1 > field.parts:
			return f, fmt.Sprintf("%s: we take %d.", field.label, field.parts)
		}
		f.set(field.key, value, r.PostFormValue("show "+field.key) != "")
	}
	return f, ""
}

// set takes one field in as a person wrote it.
func (f *Facts) set(key, value string, tick bool) {
	split := func(at string) (out []string) {
		for _, part := range strings.FieldsFunc(value, func(r rune) bool { return strings.ContainsRune(at, r) }) {
			if part = strings.TrimSpace(part); part != "" {
				out = append(out, part)
			}
		}
		return out
	}
	list := func() []string { return split(",\n") }
	switch key {
	case "name":
		f.Name = value
	case "category":
		f.Category = value
	case "phone":
		f.Phone = phoneText(value)
	case "email":
		f.Email = value
	case "website":
		f.Website = value
	case "hours":
		f.Hours = value
	case "keep":
		f.KeepOwn = tick
	case "booking":
		f.Booking = value
	case "gift_card":
		f.GiftCard = value
	case "licence":
		f.Licence = list()
	case "areas":
		f.Areas = list()
	case "keywords":
		f.Keywords = list()
	case "specialities":
		f.Specialities = list()
	case "team":
		f.Team = split("\n") // a name and what it is stand on one line
	case "videos":
		f.Videos = list()
	case "address":
		f.address(value)
	case "socials":
		for _, url := range list() {
			f.Socials = append(f.Socials, Social{URL: url, Show: tick})
		}
	case "offerings":
		section := Section{Title: "Prices"}
		for _, line := range strings.Split(value, "\n") {
			if name, price, found := strings.Cut(strings.TrimSpace(line), ": "); found {
				section.Items = append(section.Items, Item{Name: name, Price: price})
			}
		}
		if section.Items != nil {
			f.Offerings = []Section{section}
		}
	default:
		if which, ok := strings.CutPrefix(key, "text."); ok && value != "" {
			if f.Texts == nil {
				f.Texts = map[string]string{}
			}
			f.Texts[which] = value
		}
	}
}

// address parts an address on one line: street and unit, town, region and postal code.
func (f *Facts) address(line string) {
	parts := strings.Split(line, ", ")
	if n := len(parts); n >= 2 {
		f.Region, f.PostalCode, _ = strings.Cut(parts[n-1], " ")
		f.Locality = parts[n-2]
		f.Street = strings.Join(parts[:n-2], ", ")
		return
	}
	f.Street = line
}

// phoneText writes a number of the world as E.164.
func phoneText(value string) string {
	digits := strings.Map(func(r rune) rune {
		if r < '0' || r > '9' {
			return -1
		}
		return r
	}, value)
	switch {
	case len(digits) == 10:
		return "+1" + digits
	case len(digits) == 11 && digits[0] == '1':
		return "+" + digits
	}
	return value
}

func (d *directory) values(r request) map[string]string {
	out := map[string]string{}
	for _, f := range d.form {
		out[f.key] = r.PostFormValue(f.key)
	}
	return out
}

func formAdd(d *directory, r request) (any, error) {
	f, why := d.filled(r)
	if why != "" {
		return shownForm{directory: d, Wrong: why, Values: d.values(r)}, nil
	}
	l, err := addListing(r.Context(), r.tx, d, f, r.account, 0, false)
	if err == nil && d.atOnce {
		err = believe(r.Context(), r.tx, d, l, r.now)
	}
	return "/" + d.slug + "/mine/" + l.Ref, err
}

func formMine(d *directory, r request) (any, error) {
	l, refused, err := find(d, r, r.PathValue("ref"))
	if err != nil || refused.status != 0 {
		return "/" + d.slug + "/", err
	}
	out := shownForm{directory: d, Listing: &l, Says: r.FormValue("says"), Wrong: r.FormValue("wrong")}
	for name, m := range d.methods {
		if m.digits > 0 {
			out.Methods = append(out.Methods, name)
		} else {
			out.Paper = name
		}
	}
	slices.Sort(out.Methods)
	err = r.tx.QueryRow(r.Context(), "select exists (select from verification where ref = $1 and ended = '' and expires > $2)", l.Ref, r.now).Scan(&out.Asked)
	return out, err
}

func formChange(d *directory, r request) (any, error) {
	l, refused, err := find(d, r, r.PathValue("ref"))
	if err != nil || refused.status != 0 {
		return "/" + d.slug + "/", err
	}
	f, why := d.filled(r)
	if why != "" {
		return shownForm{directory: d, Listing: &l, Wrong: why, Values: d.values(r)}, nil
	}
	_, err = r.tx.Exec(r.Context(), "update listing set facts = $2, holder = $3 where ref = $1", l.Ref, f, r.account)
	return "/" + d.slug + "/mine/" + l.Ref + "?says=Changed.", err
}

func formAsk(d *directory, r request) (any, error) {
	back := "/" + d.slug + "/mine/" + r.PathValue("ref")
	l, refused, err := find(d, r, r.PathValue("ref"))
	method := r.PostFormValue("method")
	if _, known := d.methods[method]; err != nil || refused.status != 0 || !known || l.VerifiedAt != nil {
		return back, err
	}
	if d.methods[method].digits == 0 {
		_, err := decideLater(r, d, l, method, &evidence{Kind: "phone_bill", Name: "by hand", Text: r.PostFormValue("paper")}, nil)
		return back + "?says=Our+people+will+look+at+it.", err
	}
	to := map[string]string{"postcard": l.Facts.Street + ", " + l.Facts.Locality, "call": l.Facts.Phone, "text": l.Facts.Phone, "email": l.Facts.Email}[method]
	if given := r.PostFormValue("email"); method == "email" && given != "" {
		to = given
	}
	if to == "" {
		return back + "?wrong=There+is+nowhere+to+send+it.+Give+an+email.", nil
	}
	_, err = sendCode(r, d, l, method, to, r.PostFormValue("contact"))
	return back + "?says=A+code+is+on+its+way.", err
}

func formCode(d *directory, r request) (any, error) {
	back := "/" + d.slug + "/mine/" + r.PathValue("ref")
	var id string
	err := r.tx.QueryRow(r.Context(), "select id from verification where ref = $1 order by asked_at desc limit 1", r.PathValue("ref")).Scan(&id)
	if errors.Is(err, pgx.ErrNoRows) {
		return back, nil
	}
	if err != nil {
		return nil, err
	}
	answer, err := takeCode(d, r, id, strings.TrimSpace(r.PostFormValue("code")))
	if p, no := answer.body.(problem); no {
		return back + "?wrong=" + strings.ReplaceAll(p.Detail, " ", "+"), err
	}
	return back + "?says=Verified.", err
}

// formShow brings a listing into public view.
func formShow(d *directory, r request) (any, error) {
	_, err := r.tx.Exec(r.Context(), "update listing set withdrawn = false where directory = $1 and ref = $2", d.slug, r.PathValue("ref"))
	return "/" + d.slug + "/mine/" + r.PathValue("ref") + "?says=It+shows+once+it+is+verified.", err
}

// takeFile takes a file of locations (CSV, RFC 4180) and feeds it to whoever copies
// from here: columns store_code, name, street, locality, region, postal_code,
// country, phone, website, category, hours, latitude, longitude.
func takeFile(d *directory, r request) (any, error) {
	out := shownForm{directory: d}
	file, _, err := r.FormFile("file")
	if err != nil {
		out.Wrong = "Choose a file."
		return out, nil
	}
	defer file.Close()
	rows, err := csv.NewReader(file).ReadAll()
	if err != nil || len(rows) < 2 {
		out.Wrong = "The file cannot be read as CSV with a first line of columns."
		return out, nil
	}
	column := map[string]int{}
	for i, name := range rows[0] {
		column[strings.TrimPrefix(name, "\ufeff")] = i
	}
	for _, need := range []string{"store_code", "name", "street", "locality", "phone"} {
		if _, ok := column[need]; !ok {
			out.Wrong = "The column " + need + " is missing."
			return out, nil
		}
	}
	for _, row := range rows[1:] {
		if err := d.takeRow(r, func(name string) string {
			if i, ok := column[name]; ok {
				return row[i]
			}
			return ""
		}); err != nil {
			return nil, err
		}
	}
	out.Says = fmt.Sprintf("%d locations were taken in.", len(rows)-1)
	return out, nil
}

func (d *directory) takeRow(r request, at func(string) string) error {
	f := Facts{
		Name: at("name"), Street: at("street"), Locality: at("locality"), Region: at("region"), PostalCode: at("postal_code"), Country: at("country"),
		Phone: phoneText(at("phone")), Website: at("website"), Category: at("category"), Hours: at("hours"), Registration: at("store_code"),
	}
	f.Latitude, _ = strconv.ParseFloat(at("latitude"), 64)
	f.Longitude, _ = strconv.ParseFloat(at("longitude"), 64)
	l, err := scan(
		r.tx.QueryRow(r.Context(), "select "+listingColumns+" from listing where directory = $1 and facts->>'registration' = $2", d.slug, f.Registration),
		d,
		r.account,
	)
	switch {
	case errors.Is(err, pgx.ErrNoRows):
		if l, err = addListing(r.Context(), r.tx, d, f, r.account, 0, false); err == nil {
			err = believe(r.Context(), r.tx, d, l, r.now)
		}
	case err == nil:
		_, err = r.tx.Exec(r.Context(), "update listing set facts = $2 where ref = $1", l.Ref, f)
	}
	if err != nil {
		return err
	}
	return feed(r.Context(), r.tx, d, l, r.now)
}
