package httpapi_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"uvent/e2e/rig"
	"uvent/httpapi/api"
)

func TestAnOwnerIsAskedForWhatIsMissing(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	place := r.Add(t, rig.Shop("Minnow Bay"))
	at := "/api/locations/" + place.Location.String() + "/intake"
	var in api.Intake
	c.want(200, "GET", at, nil, &in)
	titles := ""
	for _, w := range in.Missing {
		titles += w.Id + " "
	}
	if !strings.HasPrefix(titles, "registration licence utility_bill ") || in.Missing[0].ForAFee == nil || in.Missing[0].Part != "identity" || len(in.Ways) != 1 ||
		len(in.Ways[0].Ways) < 3 ||
		in.Sent != nil {
		t.Errorf("%s: %+v", titles, in)
	}
	wants := api.Wants{Wants: []string{"registration", "logo"}}
	var letter api.Letter
	c.want(200, "POST", at+"/letter", wants, &letter)
	if !strings.Contains(letter.Body, "1. The company’s registration number.") || !strings.Contains(letter.Body, "2. Your logo") ||
		strings.Contains(letter.Body, "3. ") {
		t.Errorf("%s", letter.Body)
	}
	if p := c.problem(409, "POST", at+"/ask", wants); !strings.Contains(p.Detail, "no owner’s email yet") {
		t.Errorf("%+v", p)
	}
	l, err := r.Desk.Ledger.Location(t.Context(), place.Location)
	rig.Must(t, err)
	c.want(
		200,
		"PUT",
		"/api/clients/"+l.ClientID.String()+"?version=1",
		api.ClientFacts{Name: "Spokeshave Cycle Works", OwnerName: "Dov Marsh", OwnerEmail: "dov@spokeshave.example"},
		nil,
	)
	c.problem(422, "POST", at+"/ask", api.Wants{Wants: []string{}})
	c.want(204, "POST", at+"/ask", wants, nil)
	ctx, cancel := context.WithTimeout(t.Context(), 60*time.Second)
	defer cancel()
	for {
		list, err := r.World.Arrivals(ctx, "dov@spokeshave.example")
		rig.Must(t, err)
		if len(list) == 1 {
			if a := list[0]; a.Title != "What we still need for Spokeshave Cycle Works, Minnow Bay" || !strings.Contains(a.Body, "Hello Dov,") {
				t.Errorf("%+v", a)
			}
			break
		}
		time.Sleep(20 * time.Millisecond)
	}
	if c.want(200, "GET", at, nil, &in); in.Sent == nil || in.Sent.To != "dov@spokeshave.example" || in.Sent.Actor != "Ines Roake" {
		t.Errorf("%+v", in.Sent)
	}
	c.problem(404, "GET", strings.Replace(at, place.Location.String(), l.ClientID.String(), 1), nil)
}
