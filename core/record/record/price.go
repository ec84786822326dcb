package record

import (
	"regexp"
	"strings"
)

var (
	amount   = regexp.MustCompile(`^(\D*?)\s*(\d[\d., '\x{a0}]*\d|\d)\s*(\D*)$`)
	decimals = regexp.MustCompile(`^(.*)[.,](\d{1,2})$`)
	money    = regexp.MustCompile(`(?i)(US|C|CA)?[$€£¥]|\b(USD|CAD|EUR|GBP)\b`)
)

// readPrice reads an amount as people write it, "$1,250.50" or "from 12,50 €",
// into 1250.50 and the words beside it. One that cannot be read comes back as it is.
func readPrice(text string) (number, beside string) {
	m := amount.FindStringSubmatch(text)
	if m == nil {
		return text, ""
	}
	whole, cents := m[2], ""
	if d := decimals.FindStringSubmatch(whole); d != nil {
		whole, cents = d[1], d[2]
	}
	number = strings.NewReplacer(".", "", ",", "", " ", "", "'", "", "\u00a0", "").Replace(whole)
	if cents != "" {
		number += "." + cents
	}
	return number, strings.Join(strings.Fields(money.ReplaceAllString(m[1]+" "+m[3], " ")), " ")
}
