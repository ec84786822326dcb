package prose

import (
	"fmt"
	"testing"
)

func TestChance(t *testing.T) {
	for p, want := range map[float64]string{
		0: "never", 0.01: "hardly ever", 0.05: "about 1 in 20", 0.1: "about 1 in 10", 0.2: "about 1 in 5", 0.25: "about 1 in 4", 0.29: "about 3 in 10",
		0.33: "about 1 in 3", 0.5: "about 1 in 2", 0.7: "about 7 in 10", 0.75: "about 3 in 4", 0.9: "about 9 in 10", 0.95: "about 19 in 20", 0.99: "nearly always", 1: "always",
	} {
		if got := Chance(p); got != want {
			t.Errorf("%v is %q, want %q", p, got, want)
		}
	}
	// What is said is near to what is meant.
	for i := 1; i < 1000; i++ {
		p := float64(i) / 1000
		var n, of float64
		if k, _ := fmt.Sscanf(Chance(p), "about %f in %f", &n, &of); k == 2 && (n/of-p > 0.035 || p-n/of > 0.035) {
			t.Errorf("%v is said to be %s", p, Chance(p))
		}
	}
}

func TestCount(t *testing.T) {
	for n, want := range map[int]string{0: "0 photos", 1: "1 photo", 2: "2 photos"} {
		if got := Count(n, "photo"); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
	if got := Count(2, "try") + ", " + Count(3, "day"); got != "2 tries, 3 days" {
		t.Errorf("%q", got)
	}
}
