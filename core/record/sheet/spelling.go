package sheet

import (
	"strings"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

// KeepSpelling leaves names and addresses as a record has them where a file says the same in other letters or
// with abbreviations: that is no change. A text in capitals or small letters throughout gives way to one that is
// written properly.
func KeepSpelling(now, was record.Record) record.Record {
	keep := func(now *string, was string) {
		if *now != was && address.Spell(*now) == address.Spell(was) && (proper(was) || !proper(*now)) {
			*now = was
		}
	}
	keep(&now.Label, was.Label)
	keep(&now.Name, was.Name)
	keep(&now.LegalName, was.LegalName)
	for _, a := range []struct{ now, was *address.Address }{{&now.Address, &was.Address}, {&now.Mailing.Address, &was.Mailing.Address}} {
		keep(&a.now.Street, a.was.Street)
		keep(&a.now.Unit, a.was.Unit)
		keep(&a.now.Locality, a.was.Locality)
		if strings.EqualFold(strings.ReplaceAll(a.now.PostalCode, " ", ""), strings.ReplaceAll(a.was.PostalCode, " ", "")) && a.was.PostalCode != "" {
			a.now.PostalCode = a.was.PostalCode
		}
	}
	return now
}

func proper(s string) bool { return s != strings.ToUpper(s) && s != strings.ToLower(s) }
