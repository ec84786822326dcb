// Package zone tells the time zone of a position, by the outlines of the zones (timezone-boundary-builder, from
// OpenStreetMap) that ship with tzf.
package zone

import (
	"strings"
	"sync"

	"github.com/ringsaturn/tzf"
)

// outlines take a while to read, and are needed by few.
var outlines = sync.OnceValues(tzf.NewDefaultFinder)

// At is the time zone (IANA) at a position in degrees, WGS 84; nothing at sea, and where the outlines cannot be read.
// Near an outline it may be the one beside it: the outlines are simplified.
func At(latitude, longitude float64) string {
	finder, err := outlines()
	if err != nil {
		return ""
	}
	name := finder.GetTimezoneName(longitude, latitude)
	if strings.HasPrefix(name, "Etc/") {
		return ""
	}
	return name
}
