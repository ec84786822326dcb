package reading

import (
	"cmp"
	"slices"
	"strings"

	"github.com/andybalholm/cascadia"

	"uvent/core/record/sighting"
	"uvent/core/rule/rulebook"
)

// told reads the facts from where the rulebook says that they stand; false where it finds no name so.
func (p page) told() (s sighting.Sighting, ok bool) {
	if p.in.Book == nil {
		return s, false
	}
	p.in.Country = cmp.Or(p.in.Country, p.in.Book.Calendar.Country)
	reads := slices.Clone(p.in.Book.Reads)
	slices.SortStableFunc(reads, func(a, b rulebook.Read) int { return order(a.Fact) - order(b.Fact) })
	for _, r := range reads {
		find, err := cascadia.ParseGroup(r.At)
		if err != nil {
			continue // the rulebook is refused that says so
		}
		var values []value
		for _, n := range cascadia.QueryAll(p.root, find) {
			v := value{textOf(n), n}
			if r.Attribute != "" {
				v = value{attribute(n, r.Attribute), nil}
			}
			if meaning, said := r.Means[strings.TrimSpace(v.text)]; said {
				v = value{meaning, nil}
			}
			if r.Parts != "" {
				v.text = strings.ReplaceAll(v.text, r.Parts, "\n")
			}
			if r.Fact == "photos" && element(n, "img") {
				v = value{attribute(n, "src"), n}
			}
			values = append(values, v)
		}
		if values != nil {
			p.put(&s, r.Fact, values)
			if s.Address.Country != "" {
				p.in.Country, p.in.Region = s.Address.Country, s.Address.Region
			}
		}
	}
	return s, s.Name != ""
}

// order puts where a place is before what is read by it, and its hours before its special dates.
func order(fact string) int {
	switch fact {
	case "address":
		return 0
	case "special_dates":
		return 2
	}
	return 1
}
