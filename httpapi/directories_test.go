package httpapi_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"

	"uvent/e2e/rig"
	"uvent/httpapi/api"
)

// Coverage, fit and choices over HTTP, each answer held against the contract.
func TestFitOverHTTP(t *testing.T) {
	r := rig.Start(t, "fernlook", "murmurhall", "sound-chamber", "old-wharf-merchants")
	c := signedIn(t, r)
	at := r.Add(t, rig.Shop("Minnow Bay"))
	location := at.Location.String()
	var cover struct {
		Locations, Wanted, Public int
		Rows                      []struct {
			Label     string
			Wanted    []string
			Fits      map[string]api.Fitted
			Standings map[string]api.Standing
			Next      api.Lack
		}
	}
	c.want(http.StatusOK, "GET", "/api/coverage?order=gain&most=5", nil, &cover)
	if cover.Locations != 1 || cover.Wanted != 3 || len(cover.Rows[0].Fits) != 4 || cover.Rows[0].Fits["old-wharf-merchants"].Not == nil ||
		cover.Rows[0].Next.Minutes == 0 ||
		len(cover.Rows[0].Standings) != 0 {
		t.Errorf("%+v", cover)
	}
	c.problem(http.StatusBadRequest, "GET", "/api/coverage?order=luck", nil)

	var fit api.ListingFit
	c.want(http.StatusOK, "GET", "/api/listings/"+location+"/murmurhall/fit", nil, &fit)
	if fit.Percent <= 0 || fit.Next == nil || len(fit.Items) < 10 || fit.Values[0].Text != "Spokeshave Cycle Works" {
		t.Errorf("%+v", fit)
	}
	c.want(http.StatusOK, "GET", "/api/listings/"+location+"/old-wharf-merchants/fit", nil, &fit)
	if fit.Not == "" || len(fit.Values) != 0 {
		t.Errorf("%+v", fit)
	}
	c.problem(http.StatusNotFound, "GET", "/api/listings/"+location+"/nowhere/fit", nil)

	var counts []struct {
		Directory            string
		Wanted, Held, Public int
	}
	c.want(http.StatusOK, "GET", "/api/directory-counts", nil, &counts)
	if len(counts) != 3 || counts[0].Wanted != 1 || counts[0].Held != 0 {
		t.Errorf("%+v", counts)
	}
	var rows []api.ListingRow
	c.want(http.StatusOK, "GET", "/api/listings", nil, &rows)
	if len(rows) != 4 {
		t.Errorf("%d rows", len(rows))
	}
	r.Held(t, at)
	c.want(http.StatusOK, "GET", "/api/listings?begun=true", nil, &rows)
	if len(rows) != 1 || rows[0].Directory != "fernlook" || !rows[0].Wanted {
		t.Errorf("%+v", rows)
	}
	var held struct {
		ToVerify int `json:"to_verify"`
	}
	if c.want(http.StatusOK, "GET", "/api/coverage?most=1", nil, &held); held.ToVerify != 1 {
		t.Errorf("%+v", held)
	}

	var worth []api.Worth
	c.want(http.StatusOK, "GET", "/api/locations/"+location+"/worth", nil, &worth)
	if len(worth) != 4 || !worth[0].Pays || worth[0].Share <= 0 || len(worth[0].Why) == 0 || worth[3].Not == "" {
		t.Errorf("%+v", worth)
	}
	var before api.Choices
	choice := map[string]any{"choices": []map[string]any{{"location": location, "directory": "murmurhall", "wanted": false}}}
	c.want(http.StatusOK, "POST", "/api/choices", choice, &before)
	if len(before.Choices) != 1 || before.Choices[0].Wanted != nil {
		t.Errorf("%+v", before)
	}
	c.want(http.StatusOK, "GET", "/api/coverage", nil, &cover)
	if cover.Wanted != 2 {
		t.Errorf("it is still wanted: %+v", cover)
	}
	c.want(http.StatusOK, "POST", "/api/choices", before, nil) // as it came, it takes it back
	c.want(http.StatusOK, "GET", "/api/coverage", nil, &cover)
	if cover.Wanted != 3 {
		t.Errorf("it was not taken back: %+v", cover)
	}
}

func TestByHandOverHTTP(t *testing.T) {
	r := rig.Start(t, "fernlook", "sound-chamber", "brasswire")
	c := signedIn(t, r)
	rec := rig.Shop("Minnow Bay")
	rec.Words.Keywords = []string{"bicycles"}
	at := "/api/listings/" + r.Add(t, rec).Location.String()
	var l api.Listing
	c.want(http.StatusOK, "GET", at+"/sound-chamber", nil, &l)
	if l.Worked != "by_hand" || l.Home == nil || !strings.HasSuffix(*l.Home, "/sound-chamber") {
		t.Errorf("%+v", l)
	}
	c.want(http.StatusOK, "POST", at+"/sound-chamber/found", map[string]string{"what": "nothing"}, &l)
	if l.SearchedAt == nil {
		t.Errorf("%+v", l)
	}
	c.problem(http.StatusUnprocessableEntity, "POST", at+"/sound-chamber/found", map[string]string{"what": "gold"})
	var w api.Worksheet
	c.want(http.StatusOK, "GET", at+"/sound-chamber/worksheet", nil, &w)
	first := w.Lines[0].Value
	c.want(
		http.StatusOK,
		"POST",
		at+"/sound-chamber/worksheet/ticks",
		map[string]any{
			"window": uuid.New(),
			"number": 1,
			"values": []any{map[string]any{"key": first.Key, "text": first.Text, "given": true}},
			"page":   "sound.example/shop",
		},
		&w,
	)
	if !w.Lines[0].Given || w.At != "https://sound.example/shop" {
		t.Errorf("%+v", w)
	}
	c.want(http.StatusOK, "POST", at+"/sound-chamber/given", map[string]string{"page": "sound.example/shop"}, &l)
	if l.Row.Strand.Control != "held" || l.Row.Strand.Verification != "verified" || l.GivenAt == nil {
		t.Errorf("%+v", l.Row.Strand)
	}
	c.want(http.StatusOK, "POST", at+"/sound-chamber/answers", map[string]string{"what": "public"}, &l)
	if l.Row.Strand.Visibility != "public" {
		t.Errorf("%+v", l.Row.Strand)
	}
	c.problem(http.StatusConflict, "POST", at+"/sound-chamber/photos", nil)
	c.problem(http.StatusConflict, "POST", at+"/sound-chamber/copy", map[string]string{"from": "fernlook"})
	c.problem(http.StatusConflict, "POST", at+"/sound-chamber/status", nil)

	c.want(http.StatusOK, "POST", at+"/brasswire/found", map[string]string{"what": "free", "page": "brasswire.example/x"}, nil)
	c.want(http.StatusOK, "GET", at+"/brasswire/worksheet", nil, &w)
	if w.Letter == nil || w.Letter.To != "listings@brasswire.example" {
		t.Fatalf("%+v", w)
	}
	c.want(http.StatusOK, "POST", at+"/brasswire/given", map[string]string{"letter": w.Letter.Body}, &l)
	if l.AnswerBy == nil || l.Row.Strand.Control != "asked" {
		t.Errorf("%+v", l.Row.Strand)
	}
}

func TestDirectoriesOverHTTP(t *testing.T) {
	r := rig.Start(t, "fernlook", "plotline")
	c := signedIn(t, r)
	at := r.Add(t, rig.Shop("Minnow Bay"))
	var list []api.Directory
	c.want(http.StatusOK, "GET", "/api/directories", nil, &list)
	if len(list) != 2 || list[0].Worked != "connected" || list[1].Worked != "file" {
		t.Fatalf("%d directories", len(list))
	}
	source := list[0].Rulebook
	var check api.RulebookCheck
	c.want(http.StatusOK, "POST", "/api/rulebook-checks", map[string]any{"text": strings.Replace(source, "weight: 100", "weight: x", 1)}, &check)
	if len(check.Problems) != 1 || check.Problems[0].Line == 0 || check.Problems[0].Path != "weight" {
		t.Errorf("%+v", check.Problems)
	}
	c.want(http.StatusOK, "POST", "/api/rulebook-checks", map[string]any{"text": source, "location": at.Location}, &check)
	if check.Trial == nil || check.Before == nil || *check.Before != check.Trial.Percent || check.New || len(check.Says) == 0 {
		t.Errorf("%+v", check)
	}
	c.problem(http.StatusUnprocessableEntity, "PUT", "/api/directories/fernlook", map[string]string{"text": "id: fernlook"})
	c.problem(http.StatusNotFound, "PUT", "/api/directories/nowhere", map[string]string{"text": source})
	c.want(http.StatusOK, "PUT", "/api/directories/fernlook", map[string]string{"text": strings.Replace(source, "weight: 100", "weight: 90", 1)}, nil)
	var versions []api.RulebookVersion
	c.want(http.StatusOK, "GET", "/api/directories/fernlook/versions", nil, &versions)
	if len(versions) != 2 || versions[1].Version != 0 || versions[1].Text != source {
		t.Errorf("%d versions", len(versions))
	}
	var added api.Directory
	c.want(
		http.StatusCreated,
		"POST",
		"/api/directories",
		map[string]string{"text": strings.NewReplacer("id: fernlook", "id: pierbook", "name: Fernlook", "name: Pierbook").Replace(source)},
		&added,
	)
	if added.Id != "pierbook" {
		t.Errorf("%+v", added)
	}
	var bad []string
	c.want(http.StatusOK, "GET", "/api/rulebook-problems", nil, &bad)
	if len(bad) != 0 {
		t.Errorf("%q", bad)
	}

	file := c.want(http.StatusOK, "GET", "/api/directories/plotline/file.csv", nil, nil)
	if !strings.HasPrefix(string(file), "store_code,name,street,") {
		t.Errorf("%s", file)
	}
	c.problem(http.StatusConflict, "POST", "/api/directories/plotline/handed-in", nil) // no store code yet

	var account api.Account
	facts := map[string]any{
		"directory": "fernlook",
		"email":     "a@agency.example",
		"holder":    "Ines",
		"class":     "",
		"confirmed": false,
		"personal":  false,
		"note":      "",
		"gone":      false,
	}
	c.want(http.StatusCreated, "POST", "/api/accounts", facts, &account)
	if len(account.Warnings) != 1 {
		t.Errorf("%+v", account)
	}
	facts["confirmed"] = true
	c.want(http.StatusOK, "PUT", "/api/accounts/"+account.Id.String(), facts, &account)
	if len(account.Warnings) != 0 || !account.Confirmed {
		t.Errorf("%+v", account)
	}
	c.want(http.StatusNoContent, "DELETE", "/api/accounts/"+account.Id.String(), nil, nil)
	var accounts []api.Account
	c.want(http.StatusOK, "GET", "/api/accounts", nil, &accounts)
	if len(accounts) != 0 {
		t.Errorf("%+v", accounts)
	}
}
