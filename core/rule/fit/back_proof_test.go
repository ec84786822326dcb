//go:build proofs

package fit

import (
	"testing"

	"uvent/e2e/proof"
)

// The same as TestReadingBackGivesTheMarksThatWereSaid, many times.
func TestReadingBackManyTimes(t *testing.T) {
	pairs := proof.Size(t, 100_000)
	readBack(t, pairs, proof.Random(t).Uint64())
	proof.Count(t, "%d pairs of a record and a rulebook read back", pairs)
}
