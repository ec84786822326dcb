package outside

import (
	"fmt"
	"html/template"
	"maps"
	"net/http"
	"slices"
	"strings"

	"github.com/jackc/pgx/v5"

	"uvent/core/fact/hours"
)

// look is how a directory's pages look, and in which form a program finds the facts.
type look struct {
	font, ink, paper, brand string
	wide                    bool   // facts beside each other
	form                    string // jsonld, microdata or plain
	circle                  bool   // the logo is shown in one
}

// style is a directory's look as CSS.
func (l look) style() template.CSS {
	columns := "110px 1fr"
	if l.wide {
		columns = "1fr 1fr"
	}
	return template.CSS(fmt.Sprintf("body{font:16px/1.5 %s;color:%s;background:%s;max-width:680px;margin:30px auto;padding:0 16px}"+
		".brand{color:%s;font-weight:bold}h1{font-size:26px;margin:0}dl{display:grid;grid-template-columns:%s;gap:6px 12px}dt{opacity:.75}dd{margin:0}"+
		"a{color:inherit}label{display:block;margin:12px 0 "+
		"2px}input,textarea{font:inherit;width:100%%;box-sizing:border-box;padding:6px}input[type=checkbox]{width:auto}"+
		".photos{display:flex;flex-wrap:wrap;gap:8px;margin:12px 0}.photos img{height:96px;border-radius:4px}.photos "+
		"img.round{width:96px;object-fit:cover;border-radius:50%%}"+
		"button{font:inherit;margin-top:16px;padding:8px 18px}.wrong{border-left:4px solid #a02020;padding-left:10px}", l.font, l.ink, l.paper, l.brand, columns))
}

// stateWords is what a page says of a location that is not open.
var stateWords = map[string]string{"closed_for_a_time": "Closed for a time", "closed_for_good": "Closed for good", "moved": "Has moved away"}

// page is a listing's public page.
func (o *Outside) page(w http.ResponseWriter, r *http.Request, d *directory) {
	l, err := scan(
		o.pool.QueryRow(
			r.Context(),
			"select "+listingColumns+" from listing where directory = $1 and slug = $2 and public_at is not null and suspended is null and not withdrawn and not merged",
			d.slug,
			r.PathValue("slug"),
		),
		d,
		"",
	)
	if err == pgx.ErrNoRows {
		w.WriteHeader(http.StatusNotFound)
		o.render(w, "nothing.html", map[string]any{"Directory": d.name, "Style": d.look.style()})
		return
	}
	if err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	f := l.Facts
	if f.HideStreet {
		f.Street, f.PostalCode = "", ""
	}
	week, _, err := hours.Parse(f.Hours)
	lines := strings.Split(week.Words(), "; ")
	if err != nil { // written in words
		lines = strings.Split(f.Hours, "; ")
	}
	data := map[string]any{
		"Directory":  d.name,
		"Facts":      f,
		"Hours":      lines,
		"Style":      d.look.style(),
		"Form":       d.look.form,
		"Texts":      d.shown(f),
		"Mark":       d.slug[:3], // by which its elements are known
		"Socials":    f.shownSocials(d),
		"State":      stateWords[l.State],
		"Attributes": f.shownAttributes(),
		"Pin":        f.shownPin(),
	}
	photos, err := o.shownPhotos(r.Context(), d, l.Ref)
	if err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	data["Photos"], data["Circle"] = photos, d.look.circle
	err = o.tx(r.Context(), func(tx pgx.Tx) (err error) {
		in := request{Request: r, tx: tx}
		if data["Said"], err = saidOf(in, l.Ref); err == nil && d.speaks.reviews {
			data["Opinions"], err = opinionsOf(in, l.Ref)
		}
		return err
	})
	if err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	if d.look.form == "jsonld" {
		data["LD"] = jsonLD(f)
	}
	o.render(w, "place.html", data)
}

// shownText is one of a listing's texts on its page.
type shownText struct{ Which, Text string }

// shown are a listing's words in the order of the directory's fields.
func (d *directory) shown(f Facts) (out []shownText) {
	for _, which := range []string{"tagline", "short", "medium", "long", "story"} {
		if f.Texts[which] != "" {
			out = append(out, shownText{which, f.Texts[which]})
		}
	}
	return out
}

// shownAttributes are its attributes, by name.
func (f Facts) shownAttributes() (out []string) {
	for _, name := range slices.Sorted(maps.Keys(f.Attributes)) {
		out = append(out, name+": "+map[bool]string{true: "yes", false: "no"}[f.Attributes[name]])
	}
	return out
}

// shownPin is its position, where it is known and people are to come.
func (f Facts) shownPin() string {
	if f.HideStreet || f.Latitude == 0 && f.Longitude == 0 {
		return ""
	}
	return fmt.Sprintf("%.6f, %.6f", f.Latitude, f.Longitude)
}

// shownSocials are the profiles that the directory shows: where it has a switch, only
// those for which it was ticked.
func (f Facts) shownSocials(d *directory) (out []Social) {
	for _, s := range f.Socials {
		if s.Show || !d.showSwitch {
			out = append(out, s)
		}
	}
	return out
}

// jsonLD describes a business in schema.org's words
// (https://schema.org/LocalBusiness).
func jsonLD(f Facts) map[string]any {
	address := map[string]any{"@type": "PostalAddress", "addressLocality": f.Locality, "addressRegion": f.Region, "addressCountry": f.Country}
	for key, value := range map[string]string{"streetAddress": f.Street, "postalCode": f.PostalCode} {
		if value != "" {
			address[key] = value
		}
	}
	out := map[string]any{"@context": "https://schema.org", "@type": "LocalBusiness", "name": f.Name, "address": address, "additionalType": f.Category}
	for key, value := range map[string]string{"telephone": f.Phone, "url": f.Website} {
		if value != "" {
			out[key] = value
		}
	}
	if schedule, _, err := hours.Parse(f.Hours); err == nil {
		week, dates, _ := schedule.Specifications()
		if week != nil {
			out["openingHoursSpecification"] = week
		}
		if dates != nil {
			out["specialOpeningHoursSpecification"] = dates
		}
	}
	return out
}
