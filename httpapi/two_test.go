package httpapi_test

import (
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/e2e/rig"
	"uvent/httpapi/api"
)

// Two servers on one database: who signs in at one is signed in at the other, who opens a
// record at one is seen at the other, and what is asked for at both is done once.
func TestTwoServers(t *testing.T) {
	r := rig.Start(t)
	here := r.Add(t, rig.Shop("Minnow Bay"))
	second := r.Second(t)
	one := signedIn(t, r)
	two := newClient(t, second.Serve(t))
	two.http.Jar = one.http.Jar // cookies know no ports
	var session api.Session
	two.want(http.StatusOK, http.MethodGet, "/api/session", nil, &session)
	if session.Name != r.Who.Name {
		t.Errorf("at the other server: %+v", session)
	}

	record := "/api/locations/" + here.Location.String()
	presence := func(c *client, window string) string {
		return string(c.want(http.StatusOK, http.MethodPut, record+"/presence/"+window, map[string]any{"editing": true}, nil))
	}
	presence(one, uuid.NewString())
	if seen := presence(two, uuid.NewString()); !strings.Contains(seen, r.Who.Name) && !strings.Contains(seen, `"you":true`) {
		t.Errorf("the other server sees nobody: %s", seen)
	}

	// Asked for at both at the same time, and worked on by both.
	r.Held(t, here)
	listing := "/api/listings/" + here.Location.String() + "/fernlook"
	var wait sync.WaitGroup
	for _, c := range []*client{one, two, one, two} {
		wait.Go(func() {
			req, err := http.NewRequest(http.MethodPost, c.base+listing+"/codes", strings.NewReader(`{"method":"text"}`))
			if err != nil {
				t.Error(err)
				return
			}
			req.Header.Set("Content-Type", "application/json")
			resp, err := c.http.Do(req)
			if err != nil {
				t.Error(err)
				return
			}
			resp.Body.Close()
		})
	}
	wait.Wait()
	var l api.Listing
	for end := time.Now().Add(60 * time.Second); ; time.Sleep(20 * time.Millisecond) {
		if two.want(http.StatusOK, http.MethodGet, listing, nil, &l); l.Busy == "" || time.Now().After(end) {
			break
		}
	}
	_, codes, err := r.World.Count(t.Context())
	rig.Must(t, err)
	if asked := len(l.Attempts); asked == 0 || codes != asked {
		t.Errorf("%d attempts and %d codes", asked, codes)
	}
	// What is saved of a directory at one counts at the other at once.
	book, err := r.Desk.Shelf.Book("fernlook")
	rig.Must(t, err)
	added := strings.NewReplacer("id: fernlook", "id: pierbook", "name: Fernlook", "name: Pierbook").Replace(book.Source)
	one.want(http.StatusCreated, http.MethodPost, "/api/directories", map[string]string{"text": added}, nil)
	there := "/api/listings/" + here.Location.String() + "/pierbook"
	two.want(http.StatusOK, http.MethodGet, there, nil, &l)
	one.want(
		http.StatusOK,
		http.MethodPut,
		"/api/directories/pierbook",
		map[string]string{"text": strings.Replace(added, "name: Pierbook", "name: Pierleaf", 1)},
		nil,
	)
	if !strings.Contains(string(two.want(http.StatusOK, http.MethodGet, there, nil, nil)), "Pierleaf") {
		t.Error("the other server goes by the rules of before")
	}
	// Signing out at one ends it at the other.
	one.want(http.StatusNoContent, http.MethodDelete, "/api/session", nil, nil)
	two.want(http.StatusUnauthorized, http.MethodGet, "/api/session", nil, nil)
}
