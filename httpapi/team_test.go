package httpapi_test

import (
	"encoding/csv"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/demo/paint"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
	"uvent/httpapi/api"
)

// A case by the interface: opened, read, argued in vain, given up; each answer is held
// against the contract.
func TestCasesOverHTTP(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	rec := rig.Shop("Minnow Bay")
	rec.Website = "https://pages.example/spokeshave" // its email is on another
	here := r.Add(t, rec)
	listing := "/api/listings/" + here.Location.String() + "/fernlook"
	c.problem(http.StatusConflict, http.MethodPost, listing+"/cases", map[string]string{"says": "It is gone."})
	r.Held(t, here)
	_, err := r.Desk.Files.AddPaper(
		t.Context(),
		r.Who.Actor(),
		ledger.Scope{Location: &here.Location},
		"bill.pdf",
		paint.Letter("Sound County Electric", "Utility bill, November 2026", rec.Name, rec.Address.Street),
	)
	rig.Must(t, err)

	var dangers []api.Danger
	c.want(http.StatusOK, http.MethodGet, "/api/locations/"+here.Location.String()+"/risks", nil, &dangers)
	if len(dangers) != 1 || dangers[0].Worst != "review" || len(dangers[0].Risks) != 1 || dangers[0].Risks[0].Cause != "other_domain" {
		t.Errorf("%+v", dangers)
	}
	var l api.Listing
	c.want(http.StatusOK, http.MethodPost, listing+"/cases", map[string]string{"says": "It does not follow our rules for names."}, &l)
	if l.Row.Case == nil || *l.Row.Case != "1" || len(l.Cases) != 1 || l.Cases[0].CauseTitle == "" {
		t.Fatalf("%+v", l.Cases)
	}
	var one api.Case
	c.want(http.StatusOK, http.MethodGet, listing+"/cases/1", nil, &one)
	if one.Suspects[0].Risk.Cause != "extra_words" || !one.Suspects[0].Pointed || one.Rule == nil || one.Rule.Most != 2 || len(one.Papers) != 1 ||
		one.Draft == "" ||
		one.Steps[0].State != "now" {
		t.Errorf("%+v", one)
	}
	var list api.CaseList
	c.want(http.StatusOK, http.MethodGet, "/api/cases", nil, &list)
	if len(list.Cases) != 1 || list.LostPerDay != 100 || list.Cases[0].Next == nil {
		t.Errorf("%+v", list)
	}
	if p := c.problem(http.StatusUnprocessableEntity, http.MethodPost, listing+"/appeals", map[string]any{"text": "", "papers": []string{}}); p.Fields == nil ||
		(*p.Fields)[0].Path != "text" {
		t.Errorf("%+v", p)
	}
	// Fernlook does not know of it, and says so.
	c.want(
		http.StatusOK,
		http.MethodPost,
		listing+"/appeals",
		map[string]any{"text": "Please look again.", "papers": []string{one.Papers[0].Paper.Id.String()}},
		&l,
	)
	if !strings.Contains(l.Trouble, "not suspended") {
		t.Errorf("%q", l.Trouble)
	}
	c.want(http.StatusNoContent, http.MethodDelete, listing+"/cases/1?why=A+mistake", nil, nil)
	c.problem(http.StatusNotFound, http.MethodDelete, listing+"/cases/1", nil)
	c.want(http.StatusOK, http.MethodGet, "/api/cases?location="+here.Location.String(), nil, &list)
	if len(list.Took) != 1 || list.Took[0].GivenUp != 1 || list.Cases[0].Facts.Says != "A mistake" {
		t.Errorf("%+v", list)
	}
	c.want(http.StatusOK, http.MethodGet, "/api/notices", nil, nil)
	c.problem(http.StatusNotFound, http.MethodPut, "/api/notices/none", map[string]any{"put_aside": true})
	c.problem(http.StatusUnprocessableEntity, http.MethodPut, "/api/notices/none", map[string]any{})
}

// People, sessions, keys, feeds and the log by the interface.
func TestTheTeamOverHTTP(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	here := r.Add(t, rig.Shop("Minnow Bay"))
	var invited api.Invitation
	c.want(http.StatusCreated, http.MethodPost, "/api/invitations", map[string]any{"email": "hob@agency.example", "role": "helper"}, &invited)
	secret := (*invited.Address)[strings.LastIndexByte(*invited.Address, '/')+1:]
	other := newClient(t, c.base)
	other.want(http.StatusOK, http.MethodGet, "/api/joining/"+secret, nil, nil)
	if p := other.problem(
		http.StatusUnprocessableEntity,
		http.MethodPost,
		"/api/joining/"+secret,
		map[string]string{"name": " ", "password": "x", "zone": "Mars"},
	); len(*p.Fields) != 3 {
		t.Errorf("%+v", p.Fields)
	}
	var session api.Session
	other.want(
		http.StatusOK,
		http.MethodPost,
		"/api/joining/"+secret,
		map[string]string{"name": "Hob Wren", "password": rig.Password, "zone": "America/Los_Angeles"},
		&session,
	)
	if session.Role != "helper" || len(session.May) != 3 {
		t.Errorf("%+v", session)
	}
	other.problem(http.StatusNotFound, http.MethodGet, "/api/joining/"+secret, nil)
	if p := other.problem(http.StatusForbidden, http.MethodPost, "/api/listings/"+here.Location.String()+"/fernlook/search", nil); !strings.Contains(
		p.Detail,
		"A helper may not",
	) {
		t.Errorf("%+v", p)
	}
	var people api.PeopleList
	c.want(http.StatusOK, http.MethodGet, "/api/people", nil, &people)
	if len(people.People) != 2 || len(people.Invitations) != 0 {
		t.Fatalf("%+v", people)
	}
	hob := people.People[0]
	c.want(http.StatusOK, http.MethodPut, "/api/people/"+hob.Id.String(), map[string]string{"role": "specialist"}, nil)
	other.want(http.StatusOK, http.MethodGet, "/api/session", nil, &session)
	if session.Role != "specialist" {
		t.Errorf("the new role counts from the next sign-in only: %+v", session)
	}

	// A session that is ended is over, and only one's own are seen.
	third := newClient(t, c.base)
	third.want(http.StatusOK, http.MethodPost, "/api/session", map[string]string{"email": "hob@agency.example", "password": rig.Password}, nil)
	var sessions []api.SessionSeen
	other.want(http.StatusOK, http.MethodGet, "/api/sessions", nil, &sessions)
	if len(sessions) != 2 {
		t.Fatalf("%+v", sessions)
	}
	for _, s := range sessions {
		if !s.This {
			other.want(http.StatusNoContent, http.MethodDelete, "/api/sessions/"+s.Id, nil, nil)
		}
	}
	third.want(http.StatusUnauthorized, http.MethodGet, "/api/session", nil, nil)
	c.problem(http.StatusNotFound, http.MethodDelete, "/api/sessions/"+sessions[0].Id, nil)

	var made struct {
		Key    api.ApiKey
		Secret string
	}
	c.want(http.StatusCreated, http.MethodPost, "/api/keys", map[string]string{"name": "Export", "scope": "see", "password": rig.Password}, &made)
	c.want(http.StatusOK, http.MethodGet, "/api/keys", nil, nil)
	c.want(http.StatusNoContent, http.MethodDelete, "/api/keys/"+made.Key.Id.String(), nil, nil)
	c.problem(http.StatusNotFound, http.MethodDelete, "/api/keys/"+made.Key.Id.String(), nil)

	var feed struct {
		Feed    api.Feed
		Address string
	}
	c.want(http.StatusCreated, http.MethodPost, "/api/feeds", map[string]any{"location": here.Location}, &feed)
	if feed.Feed.Name != "Minnow Bay" {
		t.Errorf("%+v", feed)
	}
	c.want(http.StatusNoContent, http.MethodDelete, "/api/feeds/"+feed.Feed.Id.String(), nil, nil)
	c.want(http.StatusNoContent, http.MethodPut, "/api/digest", map[string]int{"minute": 450}, nil)
	c.problem(http.StatusUnprocessableEntity, http.MethodPut, "/api/digest", map[string]int{"minute": 1440})
	c.want(
		http.StatusNoContent,
		http.MethodPut,
		"/api/listings/"+here.Location.String()+"/fernlook/snooze",
		map[string]any{"act": "search", "until": r.Desk.Now().Add(48 * time.Hour), "reason": "Later."},
		nil,
	)
	var rest struct{ Snoozed []api.Snoozed }
	c.want(http.StatusOK, http.MethodGet, "/api/today/rest", nil, &rest)
	if len(rest.Snoozed) != 1 || rest.Snoozed[0].Label != "Minnow Bay" {
		t.Errorf("%+v", rest)
	}
	c.problem(http.StatusConflict, http.MethodPost, "/api/locations/"+here.Location.String()+"/confirmation", map[string]int{"version": 7})
	c.want(http.StatusNoContent, http.MethodPost, "/api/locations/"+here.Location.String()+"/confirmation", map[string]int{"version": 1}, nil)

	var log struct{ Lines []api.LogLine }
	c.want(http.StatusOK, http.MethodGet, "/api/log?most=3", nil, &log)
	if len(log.Lines) != 3 || log.Lines[0].Kind != "record_confirmed" {
		t.Errorf("%+v", log.Lines)
	}
	rows, err := csv.NewReader(strings.NewReader(string(c.want(http.StatusOK, http.MethodGet, "/api/log.csv?actor=hob", nil, nil)))).ReadAll()
	if err != nil || len(rows) != 2 || rows[1][2] != "Hob Wren" || rows[1][7] != "joined" {
		t.Errorf("%v, %v", rows, err)
	}
	c.want(http.StatusOK, http.MethodPost, "/api/people/"+hob.Id.String()+"/takeover", map[string]any{"to": r.Who.ID}, nil)
	other.want(http.StatusUnauthorized, http.MethodGet, "/api/session", nil, nil)
	c.problem(http.StatusNotFound, http.MethodPost, "/api/people/"+uuid.NewString()+"/takeover", map[string]any{"to": r.Who.ID})
	c.want(http.StatusOK, http.MethodGet, "/api/openapi.json", nil, nil)
}
