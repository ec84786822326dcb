//go:build proofs

package looking

import (
	"testing"

	"uvent/e2e/proof"
)

// The schedule saves a quarter of the wrong days against weekly looks, on average over worlds of two years.
func TestTheScheduleInManyWorlds(t *testing.T) {
	worlds := proof.Size(t, 80)
	if mean := printSaved(t, worlds, 800, 730); mean < 0.25 {
		t.Errorf("it saves only %.1f %%", 100*mean)
	}
	proof.Count(t, "%d worlds of 800 pages looked at for two years", worlds)
}
