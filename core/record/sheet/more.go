package sheet

import (
	"fmt"
	"slices"
	"strings"

	"uvent/core/record/record"
)

// setSocials reads profiles, parted by bars: Pierbook https://… (hidden).
func setSocials(r *record.Record, s string) string {
	r.Socials = nil
	for _, part := range strings.Split(s, "|") {
		part, hidden := strings.CutSuffix(strings.TrimSpace(part), "(hidden)")
		at := strings.Index(part, "http")
		if at < 0 {
			return fmt.Sprintf("%q has no address; write Pierbook https://…, parted by |", strings.TrimSpace(part))
		}
		r.Socials = append(r.Socials, record.Social{Name: strings.TrimSpace(part[:at]), URL: strings.TrimSpace(part[at:]), Show: !hidden})
	}
	return ""
}

func getSocials(r record.Record) string {
	var parts []string
	for _, s := range r.Socials {
		part := strings.TrimSpace(s.Name + " " + s.URL)
		if !s.Show {
			part += " (hidden)"
		}
		parts = append(parts, part)
	}
	return strings.Join(parts, " | ")
}

// setTowns reads the towns of a service area by their names. What the record
// knows of those that it has already stays.
func setTowns(r *record.Record, s string) string {
	known := r.Area.Towns
	r.Area.Towns = nil
	for _, name := range strings.Split(s, "|") {
		name = strings.TrimSpace(name)
		town := record.Town{Name: name, ByHand: true}
		if i := slices.IndexFunc(known, func(t record.Town) bool { return strings.EqualFold(t.Name, name) }); i >= 0 {
			town = known[i]
		}
		r.Area.Towns = append(r.Area.Towns, town)
	}
	return ""
}

func getTowns(r record.Record) string {
	names := make([]string, len(r.Area.Towns))
	for i, t := range r.Area.Towns {
		names[i] = t.Name
	}
	return strings.Join(names, " | ")
}
