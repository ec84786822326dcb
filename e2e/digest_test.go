//go:build proofs

package e2e

import (
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"uvent/e2e/browser"
	"uvent/e2e/proof"
	"uvent/e2e/rig"
	"uvent/reach"
)

// Two servers write to somebody every morning, and one of them is killed as the hour comes:
// on each day with news one letter comes, and one only.
func TestOneDigestADayWhicheverServerIsKilled(t *testing.T) {
	t.Parallel()
	k := newKilled(t)
	other, _ := k.serve("127.0.0.1:0")
	t.Cleanup(func() { other.Process.Kill(); other.Wait() })
	clock, err := reach.New(k.world.Base, rig.Account).Follow(t.Context())
	rig.Must(t, err)
	if status, err := k.ask("PUT", "/api/digest", map[string]int{"minute": 7*60 + 30}, nil); err != nil || status >= 300 {
		t.Fatalf("%d, %v", status, err)
	}
	days := func() map[string]int {
		list, err := k.world.Arrivals(t.Context(), "ines@agency.example")
		rig.Must(t, err)
		out := map[string]int{}
		for _, a := range list {
			if strings.HasPrefix(a.Title, "Today in Uvent") {
				out[a.Title]++
			}
		}
		return out
	}
	mornings := proof.Size(t, 6)
	for i := range mornings {
		var in struct{ ID string }
		if status, err := k.upload(
			fmt.Sprintf(
				"client,label,name,street,locality,region,country,phone,category\nClient,Shop %d,Shop %d,%d Quay,Port %d,WA,US,+1360555%04d,Bicycle repair\n",
				i,
				i,
				i+1,
				i,
				1000+i,
			),
			&in,
		); err != nil ||
			status >= 300 {
			t.Fatalf("%d, %v", status, err)
		}
		if status, err := k.ask("POST", "/api/imports/"+in.ID+"/apply", nil, nil); err != nil || status >= http.StatusBadRequest {
			t.Fatalf("%d, %v", status, err)
		}
		_, err := clock.Move(t.Context(), clock.Now().Add(24*time.Hour))
		rig.Must(t, err)
		time.Sleep(time.Duration(i) * 120 * time.Millisecond) // they look every half second
		if i%2 == 0 {
			k.kill()
			k.start()
		} else {
			other.Process.Kill()
			other.Wait()
			other, _ = k.serve("127.0.0.1:0")
		}
		for end := time.Now().Add(browser.Patience); len(days()) < i+1; time.Sleep(20 * time.Millisecond) {
			if time.Now().After(end) {
				t.Fatalf("after %d mornings: %v", i+1, days())
			}
		}
	}
	for day, n := range days() {
		if n != 1 {
			t.Errorf("%q came %d times", day, n)
		}
	}
	if n := len(days()); n != mornings && n != mornings+1 { // the hour of the first day may have been past
		t.Errorf("%d letters", n)
	}
}
