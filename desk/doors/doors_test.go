package doors_test

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"uvent/desk/doors"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/e2e/rig"
	"uvent/outside/visit"
	"uvent/reach"
)

// of is the door of a directory.
func of(t *testing.T, r *rig.Rig, directory string) doors.Door {
	t.Helper()
	list, err := r.Desk.Doors.Doors(t.Context())
	rig.Must(t, err)
	for _, d := range list {
		if d.Directory == directory {
			return d
		}
	}
	t.Fatalf("there is no door of %s", directory)
	return doors.Door{}
}

func TestOneThatDoesNotAnswerIsLeftAlone(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	book, err := r.Desk.Shelf.Book("fernlook")
	rig.Must(t, err)
	address := r.Reach.Address(book.Connector.URL) + "/search"
	alone := func() time.Duration {
		t.Helper()
		_, err := r.Desk.Doors.Enter(ctx, address)
		var nothing *reach.Unanswered
		if err != nil && (!errors.Is(err, reach.ErrLeftAlone) || !errors.As(err, &nothing)) {
			t.Fatal(err)
		}
		if nothing == nil {
			return 0
		}
		return nothing.After
	}
	left := func(err error) { r.Desk.Doors.Left(ctx, reach.Entry{Directory: "fernlook"}, time.Second, err) }
	silence := &reach.Unanswered{Why: errors.New("a page of a gateway")}
	for i := range 5 {
		if wait := alone(); wait != 0 {
			t.Fatalf("after %d it is left alone for %s", i, wait)
		}
		left(silence)
	}
	if wait := alone(); wait < 20*time.Second || wait > 40*time.Second {
		t.Errorf("after five it is left alone for %s", wait)
	}
	if d := of(t, r, "fernlook"); d.Silent == 0 || d.Alone == 0 || d.Answered || !strings.Contains(d.Says, "a page of a gateway") {
		t.Errorf("it stands as %+v", d)
	}

	// Of those who wait one asks, and the others do when that was answered.
	rig.Must(t, r.Desk.Doors.TryNow(ctx, "fernlook"))
	var in atomic.Int32
	var wait sync.WaitGroup
	for range 12 {
		wait.Go(func() {
			if _, err := r.Desk.Doors.Enter(ctx, address); err == nil {
				in.Add(1)
			}
		})
	}
	if wait.Wait(); in.Load() != 1 {
		t.Errorf("%d asked at once", in.Load())
	}
	left(&reach.Refusal{Status: 422, Code: "no"}) // a no is an answer
	if d := of(t, r, "fernlook"); alone() != 0 || d.Silent != 0 || !d.Answered || d.Says != "" {
		t.Errorf("it has answered, and stands as %+v", d)
	}

	// It says for how long it wants to be left alone.
	left(&reach.Unanswered{Why: errors.New("it answers 429"), Status: 429, After: time.Hour})
	if wait := alone(); wait < 59*time.Minute || wait > 61*time.Minute {
		t.Errorf("it asked for an hour, and is left alone for %s", wait)
	}
	rig.Refused(t, r.Desk.Doors.TryNow(ctx, "nowhere"), problem.NotFound, "no directory")
}

// What waits for a directory is asked when that answers again, each once.
func TestWhatWaitedIsAsked(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{FailPercent: 100}))
	var places []ledger.Place
	for i := range 8 {
		at := r.Add(t, rig.Shop(fmt.Sprintf("Shop %d", i)))
		_, err := r.Desk.Listings.Search(ctx, r.Who.Actor(), at)
		rig.Must(t, err)
		places = append(places, at)
	}
	r.Eventually(t, func() bool { return of(t, r, "fernlook").Alone > 0 })
	rows, next, err := r.Desk.Doors.Waiting(ctx, "fernlook", "")
	if err != nil || len(rows) != 8 || next != "" || rows[0].Label != "Shop 0" || rows[0].Kind != "search_asked" {
		t.Errorf("there wait %+v, %q, %v", rows, next, err)
	}
	if _, _, err := r.Desk.Doors.Waiting(ctx, "fernlook", "no key"); err == nil {
		t.Error("a key that is none is taken")
	}
	r.Eventually(t, func() bool { // each says so, once
		n := 0
		for _, at := range places {
			if strings.Contains(r.State(t, at).Trouble, "does not answer. Uvent keeps asking") {
				n++
			}
		}
		return n == len(places)
	})
	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{}))
	rig.Must(t, r.Desk.Doors.TryNow(ctx, "fernlook"))
	for _, at := range places {
		r.Eventually(t, func() bool { s := r.State(t, at); return s.Busy == "" && s.SearchedAt != nil && s.Trouble == "" })
	}
	var told int
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from event where kind = 'call_unanswered'").Scan(&told))
	if d := of(t, r, "fernlook"); told != 8 || d.Waiting != 0 || d.Silent != 0 {
		t.Errorf("%d were told, and it stands as %+v", told, d)
	}
}

// Each directory is entered with what was given for it, which nobody is told again.
func TestCredentials(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	r.Reach.WithPrivate([]netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")})
	var mu sync.Mutex
	var entered []string // Authorization of what was asked
	tokens, refused := 0, false
	mux := http.NewServeMux()
	mux.HandleFunc("POST /api/search", func(w http.ResponseWriter, req *http.Request) {
		mu.Lock()
		defer mu.Unlock()
		entered = append(entered, req.Header.Get("Authorization"))
		if refused {
			refused = false
			w.WriteHeader(http.StatusUnauthorized)
			return
		}
		fmt.Fprint(w, `{"listings": []}`)
	})
	mux.HandleFunc("POST /token", func(w http.ResponseWriter, req *http.Request) {
		mu.Lock()
		defer mu.Unlock()
		id, secret, _ := req.BasicAuth()
		w.Header().Set("Content-Type", "application/json")
		if id != "agency" || secret != "curlew-secret" || req.FormValue("scope") != "listings photos" && req.FormValue("refresh_token") == "" {
			w.WriteHeader(http.StatusBadRequest)
			fmt.Fprint(w, `{"error": "invalid_client", "error_description": "curlew-secret"}`)
			return
		}
		tokens++
		next := ""
		if given := req.FormValue("refresh_token"); given != "" {
			next = fmt.Sprintf(`, "refresh_token": "%s+"`, given)
		}
		fmt.Fprintf(w, `{"access_token": "access-%d", "token_type": "bearer", "expires_in": 3600%s}`, tokens, next)
	})
	server := httptest.NewServer(mux)
	defer server.Close()
	fernlook, err := r.Desk.Shelf.Book("fernlook")
	rig.Must(t, err)
	text := func(url string) string {
		return strings.NewReplacer("id: fernlook", "id: pierbook", "name: Fernlook", "name: Pierbook", fernlook.Connector.URL, url).Replace(fernlook.Source)
	}
	_, err = r.Desk.SaveRulebook(ctx, r.Who, "", text(server.URL+"/api"))
	rig.Must(t, err)
	who := r.Who.Actor()
	at := rig.On(r.Add(t, rig.Shop("Minnow Bay")), "pierbook")
	asks := func(want ...string) {
		t.Helper()
		mu.Lock()
		entered = nil
		mu.Unlock()
		_, err := r.Desk.Listings.Search(ctx, who, at)
		rig.Must(t, err)
		r.Eventually(t, func() bool { return r.State(t, at).Busy == "" })
		mu.Lock()
		defer mu.Unlock()
		if fmt.Sprint(entered) != fmt.Sprint(want) {
			t.Errorf("it was entered with %q, want %q", entered, want)
		}
	}
	set := func(m doors.Manner, s doors.Secrets) {
		t.Helper()
		rig.Must(t, r.Desk.Doors.SetCredential(ctx, who, "pierbook", m, s))
	}
	asks("") // nobody is told of our account but the stand-ins

	set(doors.Bearer, doors.Secrets{Token: "curlew-token"})
	asks("Bearer curlew-token")
	set(doors.Basic, doors.Secrets{User: "agency", Password: "curlew"})
	asks("Basic YWdlbmN5OmN1cmxldw==")

	oauth := doors.Secrets{TokenURL: server.URL + "/token", ClientID: "agency", ClientSecret: "curlew-secret", Scopes: []string{"listings", "photos"}}
	set(doors.OAuth2, oauth)
	asks("Bearer access-1")
	asks("Bearer access-1") // it is kept
	if d := of(t, r, "pierbook"); d.Entered == nil || d.Entered.Manner != doors.OAuth2 || !d.Entered.Ends || d.Entered.EndsIn < 50*time.Minute || d.StandIn {
		t.Errorf("it stands as %+v", d)
	}
	mu.Lock()
	refused = true // it ended early
	mu.Unlock()
	asks("Bearer access-1", "Bearer access-2")
	oauth.Refresh = "curlew-refresh"
	set(doors.OAuth2, oauth)
	asks("Bearer access-3")
	_, err = r.Store.Pool.Exec(ctx, "update credential set expires = now() + interval '30 seconds'") // it is renewed before
	rig.Must(t, err)
	asks("Bearer access-4")

	// No secret is kept in clear, nor told in what goes wrong.
	set(doors.OAuth2, doors.Secrets{TokenURL: server.URL + "/token", ClientID: "other", ClientSecret: "curlew-secret"})
	_, err = r.Desk.Listings.Search(ctx, who, at)
	rig.Must(t, err)
	r.Eventually(t, func() bool { return strings.Contains(of(t, r, "pierbook").Says, "no token is given: invalid_client") })
	rig.Must(t, r.Desk.Ledger.StopAsking(ctx, who, at))
	var kept string
	rig.Must(t, r.Store.Pool.QueryRow(
		ctx,
		"select (select string_agg(c::text, '') from credential c) || (select string_agg(e::text, '') from event e) || (select string_agg(d::text, '') from door d)",
	).Scan(&kept))
	if strings.Contains(kept, "curlew") || strings.Contains(kept, "access-") {
		t.Errorf("a secret is kept: %s", kept)
	}

	// What was given for one address goes to no other.
	set(doors.Bearer, doors.Secrets{Token: "curlew-token"})
	other := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { t.Error("the other address was asked") }))
	defer other.Close()
	_, err = r.Desk.SaveRulebook(ctx, r.Who, "pierbook", text(other.URL+"/api"))
	rig.Must(t, err)
	_, err = r.Desk.Listings.Search(ctx, who, at)
	rig.Must(t, err)
	r.Eventually(t, func() bool { return strings.Contains(of(t, r, "pierbook").Says, "was for another address") })
	if d := of(t, r, "pierbook"); !d.Entered.Moved {
		t.Errorf("it stands as %+v", d)
	}
	rig.Must(t, r.Desk.Ledger.StopAsking(ctx, who, at))
	rig.Must(t, r.Desk.Doors.DropCredential(ctx, who, "pierbook"))
	rig.Refused(t, r.Desk.Doors.DropCredential(ctx, who, "pierbook"), problem.NotFound, "Nothing is kept")
}

func TestCredentialsThatAreNone(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "lanefolk"), t.Context()
	who := r.Who.Actor()
	for _, bad := range []struct {
		manner  doors.Manner
		secrets doors.Secrets
		says    string
	}{
		{"", doors.Secrets{}, "manner: choose"},
		{doors.Bearer, doors.Secrets{}, "token: it is missing"},
		{doors.Bearer, doors.Secrets{Token: "two words"}, "token: a token has visible characters only"},
		{doors.Basic, doors.Secrets{User: "a:b", Password: "x"}, "user: it cannot have a colon"},
		{doors.OAuth2, doors.Secrets{TokenURL: "http://pierbook.example/token", ClientID: "a", ClientSecret: "b"}, "token_url: write an address with https://"},
		{doors.OAuth2, doors.Secrets{TokenURL: "https://pierbook.example/token", ClientID: "a"}, "client_secret: it is missing"},
	} {
		rig.Refused(t, r.Desk.Doors.SetCredential(ctx, who, "fernlook", bad.manner, bad.secrets), problem.Invalid, bad.says)
	}
	rig.Refused(t, r.Desk.Doors.SetCredential(ctx, who, "lanefolk", doors.Bearer, doors.Secrets{Token: "x"}), problem.Conflict, "has no interface")
}

// River changes many jobs in one statement, and so does whoever tries now: what one holds the other does not wait for.
func TestTryingNowWaitsForNobody(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{FailPercent: 100}))
	at := r.Add(t, rig.Shop("Cooperage"))
	_, err := r.Desk.Listings.Search(ctx, r.Who.Actor(), at)
	rig.Must(t, err)
	const waiting = "select id from river_job where kind = 'call' and state in ('scheduled', 'retryable')"
	var job int64
	r.Eventually(t, func() bool { return r.Store.Pool.QueryRow(ctx, waiting).Scan(&job) == nil })
	held, err := r.Store.Pool.Begin(ctx)
	rig.Must(t, err)
	t.Cleanup(func() { held.Rollback(context.WithoutCancel(ctx)) })
	rig.Must(t, held.QueryRow(ctx, waiting+" for update").Scan(&job))
	soon, stop := context.WithTimeout(ctx, 5*time.Second)
	defer stop()
	rig.Must(t, r.Desk.Doors.TryNow(soon, at.Directory))
}
