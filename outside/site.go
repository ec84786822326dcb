package outside

import (
	"errors"
	"net/http"
	"strings"

	"github.com/jackc/pgx/v5"
)

// Site is a page of the world's websites that does not answer as it should.
type Site struct {
	Address string `json:"address"` // host and path: nettlewick.example/gift
	Status  int    `json:"status"`
	Leads   string `json:"leads"` // the full address that it sends a visitor to; empty: nowhere
}

// siteRoutes stand in for every website of the world: names that end in
// .example, which cannot exist (RFC 2606).
func (o *Outside) siteRoutes(mux *http.ServeMux) {
	mux.HandleFunc("PUT /sites", lever(o, func(r *http.Request, tx pgx.Tx, in Site) (any, error) {
		_, err := tx.Exec(
			r.Context(),
			"insert into site (address, status, leads) values ($1, $2, $3) on conflict (address) do update set status = $2, leads = $3",
			in.Address,
			in.Status,
			in.Leads,
		)
		return in, err
	}))
	mux.HandleFunc("GET /web/{address...}", func(w http.ResponseWriter, r *http.Request) {
		s := Site{Address: strings.TrimSuffix(r.PathValue("address"), "/"), Status: http.StatusOK}
		err := o.pool.QueryRow(r.Context(), "select status, leads from site where address = $1", s.Address).Scan(&s.Status, &s.Leads)
		if err != nil && !errors.Is(err, pgx.ErrNoRows) {
			refuse(w, http.StatusInternalServerError, "fault", err.Error())
			return
		}
		if s.Leads != "" {
			w.Header().Set("Location", s.Leads)
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		w.WriteHeader(s.Status)
		_ = pages.ExecuteTemplate(w, "site.html", s)
	})
}
