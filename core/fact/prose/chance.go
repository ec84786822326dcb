package prose

import (
	"fmt"
	"math"
	"strings"
)

// Chance writes a chance, 0 to 1, as people say one: "about 9 in 10", "about 1 in 4", "nearly always". It is the
// fraction with the smallest denominator that is near enough; nobody has reckoned it to the hundredth.
func Chance(p float64) string {
	switch {
	case p >= 1:
		return "always"
	case p > 0.97:
		return "nearly always"
	case p <= 0:
		return "never"
	case p < 0.03:
		return "hardly ever"
	}
	for _, by := range []struct{ of, near float64 }{{2, .013}, {3, .013}, {4, .013}, {5, .013}, {10, .035}} {
		n := math.Round(p * by.of)
		if n > 0 && n < by.of && math.Abs(n/by.of-p) <= by.near {
			return fmt.Sprintf("about %.0f in %.0f", n, by.of)
		}
	}
	return fmt.Sprintf("about %.0f in 20", max(1, min(19, math.Round(20*p))))
}

// Count writes a number with what there is so many of: "1 photo", "3 photos", "2 tries", "5 days".
func Count(n int, unit string) string {
	switch {
	case n == 1:
		return "1 " + unit
	case strings.HasSuffix(unit, "y") && !strings.HasSuffix(unit, "ay"):
		return fmt.Sprintf("%d %sies", n, strings.TrimSuffix(unit, "y"))
	}
	return fmt.Sprintf("%d %ss", n, unit)
}

// Times says the same of something that happens over and over: "about 9 times in 10", "about once in 5".
func Times(p float64) string {
	return strings.NewReplacer(" 1 in ", " once in ", " in ", " times in ").Replace(Chance(p))
}
