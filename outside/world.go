package outside

import (
	"embed"
	"encoding/json"
	"html/template"
	"net/http"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"
)

//go:embed pages/*.html
var pageFiles embed.FS

var pages = template.Must(template.New("").Funcs(template.FuncMap{
	"when": func(t time.Time) string { return t.In(pacific).Format("Mon 2 Jan 15:04") },
}).ParseFS(pageFiles, "pages/*.html"))

// worldRoutes serve the page on which a person sees what reached the letter
// boxes, phones and inboxes, and the few levers that shape the world.
func (o *Outside) worldRoutes(mux *http.ServeMux) {
	mux.HandleFunc("GET /{$}", o.home)
	mux.HandleFunc("GET /arrivals", func(w http.ResponseWriter, r *http.Request) {
		list, err := o.arrivals(r, r.URL.Query().Get("at"))
		if err != nil {
			refuse(w, http.StatusInternalServerError, "fault", err.Error())
			return
		}
		write(w, http.StatusOK, list)
	})
	mux.HandleFunc("GET /mailboxes/{address}", o.mailbox)
	mux.HandleFunc("GET /count", func(w http.ResponseWriter, r *http.Request) {
		var out struct {
			Listings int `json:"listings"`
			Codes    int `json:"codes"`
		}
		err := o.pool.QueryRow(r.Context(), "select (select count(*) from listing), (select count(*) from verification)").Scan(&out.Listings, &out.Codes)
		if err != nil {
			refuse(w, http.StatusInternalServerError, "fault", err.Error())
			return
		}
		write(w, http.StatusOK, out)
	})
	mux.HandleFunc("PUT /phones", lever(o, func(r *http.Request, tx pgx.Tx, in Phone) (any, error) {
		_, err := tx.Exec(
			r.Context(),
			"insert into phone (number, landline, hours, zone) values ($1, $2, $3, $4) on conflict (number) do update set landline = $2, hours = $3, zone = $4",
			in.Number,
			in.Landline,
			in.Hours,
			in.Zone,
		)
		return in, err
	}))
	mux.HandleFunc("POST /listings", lever(o, func(r *http.Request, tx pgx.Tx, in Placed) (any, error) {
		i := slices.IndexFunc(directories, func(d directory) bool { return d.slug == in.Directory })
		if i < 0 {
			return nil, errUnknownDirectory
		}
		return addListing(r.Context(), tx, &directories[i], in.Facts, in.Holder, in.LateDays, true)
	}))
	mux.HandleFunc("PUT /nowhere", lever(o, func(r *http.Request, tx pgx.Tx, in struct{ Address string }) (any, error) {
		_, err := tx.Exec(r.Context(), "insert into nowhere (address) values (lower($1)) on conflict do nothing", in.Address)
		return in, err
	}))
	mux.HandleFunc("PUT /people", lever(o, setPeople))
	o.faultRoutes(mux)
	o.listingLevers(mux)
}

func setPeople(r *http.Request, tx pgx.Tx, in []Town) (any, error) {
	for _, t := range in {
		if _, err := tx.Exec(
			r.Context(),
			"insert into people (town, latitude, longitude, count) values ($1, $2, $3, $4) on conflict (town) do update set latitude = $2, longitude = $3, count = $4",
			t.Town,
			t.Latitude,
			t.Longitude,
			t.People,
		); err != nil {
			return nil, err
		}
	}
	return len(in), nil
}

// listingLevers shape single listings.
func (o *Outside) listingLevers(mux *http.ServeMux) {
	mux.HandleFunc("POST /listings/{ref}/reviews", lever(o, func(r *http.Request, tx pgx.Tx, in opinion) (any, error) {
		_, err := tx.Exec(
			r.Context(),
			"insert into opinion (ref, at, who, stars, body) values ($1, $2, $3, $4, $5)",
			r.PathValue("ref"),
			in.At,
			in.By,
			in.Stars,
			in.Text,
		)
		return in, err
	}))
	mux.HandleFunc("PUT /listings/{ref}/suspended", lever(o, func(r *http.Request, tx pgx.Tx, in suspension) (any, error) {
		now, err := o.now(r.Context(), tx)
		if err != nil {
			return nil, err
		}
		in.Says = causes[in.Cause].says
		later := in.At.After(now)
		if !later {
			in.At = now
		}
		data, err := json.Marshal(toSuspend{r.PathValue("ref"), in})
		if err != nil {
			return nil, err
		}
		if !later {
			return in, suspendNow(o, r.Context(), tx, happening{data: data})
		}
		return in, schedule(r.Context(), tx, "suspend "+r.PathValue("ref")+in.At.String(), in.At, "suspend", json.RawMessage(data))
	}))
	mux.HandleFunc("PUT /listings/{ref}/late", lever(o, func(r *http.Request, tx pgx.Tx, in struct {
		Days int `json:"days"`
	}) (any, error) {
		_, err := tx.Exec(r.Context(), "update listing set late_days = $2 where ref = $1", r.PathValue("ref"), in.Days)
		return in, err
	}))
}

// Town is where people live.
type Town struct {
	Town      string  `json:"town"`
	Latitude  float64 `json:"latitude"`
	Longitude float64 `json:"longitude"`
	People    int     `json:"people"`
}

// Phone is what the world knows of a number.
type Phone struct {
	Number   string `json:"number"` // E.164
	Landline bool   `json:"landline"`
	Hours    string `json:"hours"` // when somebody picks up; empty for always
	Zone     string `json:"zone"`
}

// Placed is a listing that is there before anybody asks for it.
type Placed struct {
	Directory string `json:"directory"`
	Facts     Facts  `json:"facts"`
	Holder    string `json:"holder"`    // an account, or empty
	LateDays  int    `json:"late_days"` // published so many days after the window
}

type worldError string

func (e worldError) Error() string { return string(e) }

const errUnknownDirectory = worldError("there is no such directory")

func lever[T any](o *Outside, pull func(r *http.Request, tx pgx.Tx, in T) (any, error)) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		var in T
		if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, 1<<20)).Decode(&in); err != nil {
			refuse(w, http.StatusBadRequest, "bad_request", err.Error())
			return
		}
		var out any
		err := o.tx(r.Context(), func(tx pgx.Tx) (err error) { out, err = pull(r, tx, in); return err })
		if err != nil {
			refuse(w, http.StatusUnprocessableEntity, "refused", err.Error())
			return
		}
		write(w, http.StatusOK, out)
	}
}

// Arrival is something that reached a letter box, a phone or an inbox.
type Arrival struct {
	At     time.Time `json:"at"`
	Kind   string    `json:"kind"`
	Place  string    `json:"place"`
	Sender string    `json:"sender"`
	Title  string    `json:"title"`
	Body   string    `json:"body"`
}

// arrivals lists what reached a place, or any place whose name holds the
// text, newest first.
func (o *Outside) arrivals(r *http.Request, at string) ([]Arrival, error) {
	rows, err := o.pool.Query(
		r.Context(),
		"select at, kind, place, sender, title, body from arrival where strpos(lower(place || ' ' || body), lower($1)) > 0 order by at desc, id limit 300",
		at,
	)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[Arrival])
}

func (o *Outside) home(w http.ResponseWriter, r *http.Request) {
	at := r.URL.Query().Get("at")
	list, err := o.arrivals(r, at)
	now, nowErr := o.now(r.Context(), o.pool)
	if err == nil {
		err = nowErr
	}
	var public []publicListing
	if err == nil {
		public, err = o.public(r)
	}
	if err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	of := func(kinds ...string) (out []Arrival) {
		for _, a := range list {
			if slices.Contains(kinds, a.Kind) {
				out = append(out, a)
			}
		}
		return out
	}
	o.render(w, "home.html", map[string]any{
		"Now": now, "At": at, "Public": public,
		"Letters": of("letter"), "Phones": of("call", "missed_call", "text", "lost_text"), "Mail": of("mail"),
	})
}

type publicListing struct{ Directory, Name, Town, Page string }

func (o *Outside) public(r *http.Request) ([]publicListing, error) {
	rows, err := o.pool.Query(
		r.Context(),
		"select directory, facts->>'name', facts->>'locality', '/' || directory || '/place/' || slug from listing where public_at is not null and suspended is "+
			"null and not withdrawn and not merged order by 1, 2, 3 limit 500",
	)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[publicListing])
}

func (o *Outside) render(w http.ResponseWriter, name string, data any) {
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	if err := pages.ExecuteTemplate(w, name, data); err != nil {
		o.log.Error("a page could not be written", "page", name, "error", err)
	}
}
