package address

import (
	"slices"
	"strings"
	"unicode"
)

// Nearness is how two streets that are not the same relate.
type Nearness uint8

const (
	Far        Nearness = iota
	SameStreet          // at another number
	NearNumber          // the number differs by one digit, or by two that changed places
	NearStreet          // the same number, and the street's name differs by a slip or its kind
)

// Near tells how two streets relate that Compare finds different.
func Near(a, b Address) Nearness {
	lineA, _ := Split(a.Street)
	lineB, _ := Split(b.Street)
	numberA, streetA := numbered(lineA)
	numberB, streetB := numbered(lineB)
	switch sameStreet := likeStreet(streetA, streetB); {
	case streetA == "" || streetB == "" || !sameStreet:
		return Far
	case numberA == numberB:
		return NearStreet
	case streetA == streetB && (len(numberA) == len(numberB) && len(numberA) >= 2 && OneSlip(numberA, numberB)):
		return NearNumber
	}
	return SameStreet
}

// numbered takes the number off a street line, wherever it stands: "18 tern street" and
// "rue tern 18".
func numbered(line string) (number, street string) {
	words := strings.Fields(line)
	i := slices.IndexFunc(words, func(w string) bool {
		return unicode.IsDigit(rune(w[0])) && !strings.HasSuffix(w, "th") && !strings.HasSuffix(w, "rd")
	})
	if i < 0 {
		return "", line
	}
	return words[i], strings.Join(slices.Delete(slices.Clone(words), i, i+1), " ")
}

// kinds are the words that say what sort of street it is, in the languages in which
// streets around here are written.
var kinds = map[string]bool{
	"street":    true,
	"avenue":    true,
	"road":      true,
	"boulevard": true,
	"drive":     true,
	"lane":      true,
	"court":     true,
	"place":     true,
	"square":    true,
	"way":       true,
	"terrace":   true,
	"trail":     true,
	"circle":    true,
	"alley":     true,
	"rue":       true,
	"chemin":    true,
	"calle":     true,
	"avenida":   true,
	"camino":    true,
	"de":        true,
	"du":        true,
	"la":        true,
	"le":        true,
	"des":       true,
	"of":        true,
	"the":       true,
	"north":     true,
	"south":     true,
	"east":      true,
	"west":      true,
}

// bare is a street's own name: what is left without the words for its kind.
func bare(street string) string {
	words := slices.DeleteFunc(strings.Fields(street), func(w string) bool { return kinds[w] })
	return strings.Join(words, " ")
}

func likeStreet(a, b string) bool {
	if a == b {
		return true
	}
	x, y := bare(a), bare(b)
	return x != "" && (x == y || min(len(x), len(y)) >= 4 && OneSlip(x, y))
}

// OneSlip reports whether two words differ by one letter that is another, missing or
// too many, or by two neighbours that changed places.
func OneSlip(x, y string) bool {
	a, b := []rune(x), []rune(y)
	if len(a) > len(b) {
		a, b = b, a
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	switch len(b) - len(a) {
	case 0:
		return i == len(a) || slices.Equal(a[i+1:], b[i+1:]) || i+1 < len(a) && a[i] == b[i+1] && a[i+1] == b[i] && slices.Equal(a[i+2:], b[i+2:])
	case 1:
		return slices.Equal(a[i:], b[i+1:])
	}
	return false
}

// HasUnit reports whether an address names a unit.
func HasUnit(a Address) bool { return units(a) }

// Parts are a street line's number and own name, and the unit, all spelled out.
func Parts(a Address) (number, street, unit string) {
	line, unit := Split(a.Street)
	number, street = numbered(line)
	return number, bare(street), unit
}
