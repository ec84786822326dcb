//go:build proofs

package source

import (
	"testing"

	"uvent/e2e/proof"
)

// Sources are named rightly in 95 of 100 cases, in many worlds.
func TestSourcesInManyWorlds(t *testing.T) {
	worlds := proof.Size(t, 200_000)
	right, all := named(worlds, proof.Random(t).Uint64())
	if right*100 < all*95 {
		t.Errorf("%d of %d are named rightly", right, all)
	}
	proof.Count(t, "%d of %d wrong values named by where they came from, in %d worlds", right, all, worlds)
}
