//go:build proofs

package e2e

import (
	"fmt"
	"testing"
	"time"

	"uvent/e2e/proof"
	"uvent/e2e/rig"
)

// An import of thousands that is killed twice on its way in comes out whole, each row once; it is taken back as
// one, killed on the way as well.
func TestAnImportOfThousandsIsKilledTwice(t *testing.T) {
	t.Parallel()
	many := max(600, proof.Size(t, 5000))
	k := newKilled(t)
	var in struct {
		ID, State  string
		Done, Rows int
		Counts     struct{ In int }
	}
	at := func() string { return "/api/imports/" + in.ID }
	look := func() {
		if status, err := k.ask("GET", at(), nil, &in); err != nil || status != 200 {
			t.Fatalf("%d, %v", status, err)
		}
	}
	until := func(what string, so func() bool) {
		t.Helper()
		for range 6000 {
			if look(); so() {
				return
			}
			time.Sleep(20 * time.Millisecond)
		}
		t.Fatalf("%s does not come: %+v", what, in)
	}
	state := func(s string) func() bool { return func() bool { return in.State == s } }
	again := func() { k.kill(); k.start() }
	want := func(status int, err error) {
		t.Helper()
		if err != nil || status >= 300 {
			t.Fatalf("%d, %v", status, err)
		}
	}
	want(k.upload(string(rig.ManyRows(many)), &in))
	again() // while it is read
	until("it is read", state("ready"))
	want(k.ask("POST", at()+"/apply", nil, nil))
	for _, part := range []int{many / 5, many * 3 / 5} {
		until("progress", func() bool { return in.Done >= part || in.State == "in" })
		if in.State == "in" {
			t.Logf("it was in before it could be killed at %d", part)
		}
		again()
	}
	until("it is in", state("in"))
	whole := map[string]int{
		"select count(*)::text from location":                                                  many,
		"select count(distinct (client_id, label))::text from location":                        many,
		"select count(*)::text from event where kind = 'location_added'":                       many,
		"select count(distinct location_id)::text from event where kind = 'location_added'":    many,
		"select count(*)::text from client":                                                    (many + 49) / 50,
		"select count(*)::text from event where kind = 'client_added'":                         (many + 49) / 50,
		"select count(*)::text from import_check where in_at is null or location_id is null":   0,
		"select count(*)::text from import_check c join location l on l.id = c.location_id":    many,
		"select count(*)::text from location where record->>'label' <> label":                  0,
		"select count(*)::text from river_job where kind = 'bring_in' and state = 'discarded'": 0,
	}
	check := func(all map[string]int) {
		t.Helper()
		for what, wanted := range all {
			if got := k.one(t, what); got != fmt.Sprint(wanted) {
				t.Errorf("%s: %s, want %d", what, got, wanted)
			}
		}
	}
	check(whole)
	want(k.ask("POST", at()+"/take-back", nil, nil))
	time.Sleep(300 * time.Millisecond)
	again()
	until("it is taken back", func() bool { return in.State == "ready" && in.Counts.In == 0 })
	check(map[string]int{
		"select count(*)::text from location": 0, "select count(*)::text from client": 0,
		"select count(*)::text from event where kind = 'location_removed'": many,
		"select count(*)::text from event where kind = 'client_removed'":   (many + 49) / 50,
	})
	proof.Count(t, "%d rows came in whole, killed while read, twice on the way in, and on the way back", many)
}
