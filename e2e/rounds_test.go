//go:build proofs

package e2e

import (
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"uvent/e2e/proof"
	"uvent/outside/visit"
)

// Three hundred listings are verified at once while the outside fails a fifth of what it is
// asked; the program is killed twice on the way. Nothing is lost, and nothing asked twice.
func TestARoundOfThreeHundredIsKilledTwice(t *testing.T) {
	t.Parallel()
	many := proof.Size(t, 300)
	k := newKilled(t)
	var csv strings.Builder
	csv.WriteString("client,label,name,street,locality,region,country,phone,phone_can,category,opening_hours\n")
	for i := range many {
		fmt.Fprintf(&csv, "Client %d,Shop %03d,Workshop %03d,%d Quay,Port %d,WA,US,+1360555%04d,voice text,Bicycle repair,24/7\n", i/50, i, i, i+1, i, 1000+i)
	}
	var in struct{ ID string }
	want := func(status int, err error) {
		t.Helper()
		if err != nil || status >= 300 {
			t.Fatalf("%d, %v", status, err)
		}
	}
	want(k.upload(csv.String(), &in))
	want(k.ask("POST", "/api/imports/"+in.ID+"/apply", nil, nil))
	type item struct {
		Location  string `json:"location"`
		Directory string `json:"directory"`
		Method    string `json:"method,omitempty"`
	}
	propose := func(what string) (items []item) {
		t.Helper()
		var all []item
		want(k.ask("GET", "/api/round-proposals?what="+what, nil, &all))
		for _, i := range all {
			if i.Directory == "fernlook" {
				items = append(items, i)
			}
		}
		return items
	}
	type round struct {
		ID    string
		Lines []struct{ State, Says string }
	}
	start := func(what string, items []item) (r round) {
		t.Helper()
		want(k.ask("POST", "/api/rounds", map[string]any{"what": what, "items": items}, &r))
		return r
	}
	count := func(id string) (out map[string]int) {
		var r round
		out = map[string]int{}
		if status, err := k.ask("GET", "/api/rounds/"+id, nil, &r); err != nil || status != http.StatusOK {
			return out
		}
		for _, l := range r.Lines {
			out[l.State]++
		}
		return out
	}
	finish := func(id string) map[string]int {
		t.Helper()
		for range 1800 {
			if c := count(id); len(c) > 0 && c["waiting"]+c["asked"] == 0 {
				return c
			}
			time.Sleep(100 * time.Millisecond)
		}
		t.Fatalf("it never ends: %v", count(id))
		return nil
	}
	searched := finish(start("search", propose("search")).ID)
	if searched["done"] != many {
		t.Fatalf("searched: %v", searched)
	}
	var ids []string
	rows, err := k.store.Pool.Query(t.Context(), "select id::text from location order by label")
	if err != nil {
		t.Fatal(err)
	}
	for rows.Next() {
		var id string
		if err := rows.Scan(&id); err != nil {
			t.Fatal(err)
		}
		ids = append(ids, id)
	}
	for _, id := range ids {
		want(k.ask("POST", "/api/listings/"+id+"/fernlook/create", nil, nil))
	}
	if err := k.world.Misbehave(t.Context(), visit.Faults{FailPercent: 20}); err != nil {
		t.Fatal(err)
	}
	items := propose("verify")
	if len(items) != many {
		t.Fatalf("%d can be verified", len(items))
	}
	r := start("verify", items)
	for _, done := range []int{many / 5, many * 3 / 5} { // shown on the way, and killed there
		for range 900 {
			if c := count(r.ID); c["done"] >= done {
				break
			}
			time.Sleep(20 * time.Millisecond)
		}
		k.kill()
		k.start()
	}
	if c := finish(r.ID); c["done"] != many {
		t.Errorf("it ends with %v", c)
	}
	for what, wanted := range map[string]int{
		"select count(*)::text from outside.listing":                                                           many,
		"select count(*)::text from outside.verification":                                                      many,
		"select count(distinct ref)::text from outside.verification":                                           many,
		"select count(*)::text from event where kind in ('code_asked', 'review_asked')":                        many,
		"select count(*)::text from listing where verification in ('code_on_its_way', 'code_at_hand')":         many,
		"select count(*)::text from event where kind in ('code_refused', 'code_ask_refused', 'call_given_up')": 0,
	} {
		if got := k.one(t, what); got != fmt.Sprint(wanted) {
			t.Errorf("%s: %s, want %d", what, got, wanted)
		}
	}
}
