//go:build proofs

package e2e

import (
	"net/http"
	"os"
	"strings"
	"testing"

	"uvent/e2e/proof"
	"uvent/e2e/rig"
)

// Two months go by in the demo, a day at a time, and what is kept of every listing is what all that
// happened to it leads to, to the byte.
func TestTwoMonthsOfTheDemoReplay(t *testing.T) {
	t.Parallel()
	binary := program(t)
	data, err := os.MkdirTemp("", "uvent-replay-")
	rig.Must(t, err)
	t.Cleanup(func() { os.RemoveAll(data) })
	d := startDemo(t, binary, data)
	days := proof.Size(t, 61)
	for range days {
		resp, err := d.http.Post(d.base+"/api/clock/moves", "application/json", strings.NewReader(`{"by":"day"}`))
		rig.Must(t, err)
		resp.Body.Close()
		if resp.StatusCode != http.StatusOK {
			t.Fatalf("moving the clock answers %s", resp.Status)
		}
	}
	d.end()
	proof.Count(t, "%d days of the demo: %s", days, replayed(t, binary, data))
}
