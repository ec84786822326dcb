package zone_test

import (
	"math"
	"testing"

	"uvent/core/fact/zone"
)

func TestWhichZoneAPositionIsIn(t *testing.T) {
	for _, c := range []struct {
		latitude, longitude float64
		want                string
	}{
		{43.6, -116.2, "America/Boise"},
		{47.7, -116.8, "America/Los_Angeles"}, // the north of the same state
		{52.5, 13.4, "Europe/Berlin"},
		{28.1, -15.4, "Atlantic/Canary"},
		{0, -150, ""}, // at sea
		{90, 180, ""},
		{math.NaN(), -116.2, ""}, // half a pin
	} {
		if got := zone.At(c.latitude, c.longitude); got != c.want {
			t.Errorf("%v, %v: %q, want %q", c.latitude, c.longitude, got, c.want)
		}
	}
}
