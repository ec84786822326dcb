package outside

import (
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// written is a letter to a directory's people, which they take up days later.
type written struct{ Directory, From, Body, ID string }

// answer does what the letter says, as far as it can be read: lines such as
// "Telephone: (360) 555-0142" under a heading; and writes back.
func (w written) answer(r request) (arrival, error) {
	d := directoryAt(w.Directory)
	back := arrival{Kind: "mail", Place: w.From, Sender: d.staff, Title: "Your letter to " + d.name, Answers: w.ID}
	f := Facts{Country: "US"}
	last := ""
	values := map[string]string{}
	for _, line := range strings.Split(w.Body, "\n") {
		label, value, found := strings.Cut(line, ": ")
		if key, known := letterKeys[strings.ToLower(strings.TrimSpace(label))]; found && known {
			last, values[key] = key, strings.TrimSpace(value)
		} else if strings.HasPrefix(line, "  ") && last != "" {
			values[last] = strings.TrimSpace(values[last] + "\n" + strings.TrimSpace(line))
		} else {
			last = ""
		}
	}
	for key, value := range values {
		f.set(key, value, true)
	}
	if f.Name == "" || f.Locality == "" {
		back.Body = "We could not read a name and an address in what you wrote. Please write each on a line of its own."
		return back, nil
	}
	l, err := scan(
		r.tx.QueryRow(
			r.Context(),
			"select "+listingColumns+" from listing where directory = $1 and facts->>'name' = $2 and facts->>'locality' = $3",
			d.slug,
			f.Name,
			f.Locality,
		),
		d,
		"by hand",
	)
	switch {
	case errors.Is(err, pgx.ErrNoRows):
		if l, err = addListing(r.Context(), r.tx, d, f, "by hand", 0, false); err == nil && d.atOnce {
			err = believe(r.Context(), r.tx, d, l, r.now)
		}
	case err == nil:
		_, err = r.tx.Exec(r.Context(), "update listing set facts = $2 where ref = $1", l.Ref, f)
	}
	back.Body = fmt.Sprintf("Dear colleague,\nwe have entered %s, %s as you wrote. It will be at %s.\n", f.Name, f.Locality, l.Page)
	if err == nil && !d.atOnce && l.VerifiedAt == nil {
		back.Body += fmt.Sprintf("Before it shows, please confirm that it is yours: have a code sent to you at /%s/mine/%s, and enter it there.\n", d.slug, l.Ref)
	}
	back.Body += "The desk of " + d.name
	return back, err
}

// letterKeys are the words under which people write a fact.
var letterKeys = map[string]string{
	"name":                    "name",
	"listed as":               "name",
	"title":                   "name",
	"shop":                    "name",
	"address":                 "address",
	"phone":                   "phone",
	"telephone":               "phone",
	"category":                "category",
	"heading":                 "category",
	"website":                 "website",
	"hours":                   "hours",
	"hours as printed":        "hours",
	"line under the name":     "text.tagline",
	"slogan under the title":  "text.tagline",
	"what to find here":       "text.medium",
	"line":                    "text.short",
	"keywords":                "keywords",
	"team":                    "team",
	"a film":                  "videos",
	"a button for booking":    "booking",
	"a button for gift cards": "gift_card",
}

// takeLetter puts off what a directory's people do about a letter.
func takeLetter(r request, d *directory, id, from, body string) error {
	day := somewhereIn(d.place.Window(d.review, r.now), d, id)
	message, _, _ := strings.Cut(id, " ") // the id of what came is that of the message and whom it came to
	return schedule(r.Context(), r.tx, "letter "+id, day.At(11*60, d.place.Zone).Add(time.Minute), "letter", written{d.slug, from, body, message})
}
