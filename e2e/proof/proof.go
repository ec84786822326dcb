// Package proof sizes the proofs: tests that try a thing many times, or for long, and that a run of
// the tests cannot afford. They are built with the tag proofs (make proofs). PROOFS is their size in
// per cent of the whole; what is drawn follows from the seed in PROOFS_SEED, which each tells.
package proof

import (
	"math/rand/v2"
	"os"
	"strconv"
	"testing"
)

// Size is how many of all there are are tried: at least one.
func Size(t testing.TB, all int) int {
	t.Helper()
	return max(1, all*number(t, "PROOFS", 100)/100)
}

// Random draws what a proof draws, by the run's seed.
func Random(t testing.TB) *rand.Rand {
	t.Helper()
	seed := uint64(number(t, "PROOFS_SEED", 1))
	t.Logf("PROOFS_SEED=%d", seed)
	return rand.New(rand.NewPCG(seed, seed))
}

// Some are as many of all as the run's size asks for, drawn by its seed.
func Some[T any](t testing.TB, all []T) []T {
	t.Helper()
	some := make([]T, 0, len(all))
	for _, i := range Random(t).Perm(len(all))[:Size(t, len(all))] {
		some = append(some, all[i])
	}
	return some
}

// Count tells what a proof came to.
func Count(t testing.TB, format string, a ...any) {
	t.Helper()
	t.Logf("proof: "+format, a...)
}

func number(t testing.TB, name string, otherwise int) int {
	t.Helper()
	text := os.Getenv(name)
	if text == "" {
		return otherwise
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 1 {
		t.Fatalf("%s is %q, and must be a number from 1 on", name, text)
	}
	return n
}
