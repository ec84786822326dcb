package paper

import (
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/language"
	"uvent/core/record/record"
)

var today = time.Date(2026, time.November, 24, 17, 0, 0, 0, time.UTC)

func clinic() record.Record {
	return record.Record{
		Name:      "Sablecote Veterinary",
		LegalName: "Sablecote Animal Health PLLC",
		Address:   address.Address{Street: "15 Orchard Street", Locality: "Quillcote", Region: "WA", PostalCode: "98992", Country: "US"},
	}
}

func TestAgainst(t *testing.T) {
	bill := "Sound County Electric\nUtility bill, October 2026\nSablecote Animal Health PLLC\n15 Orchard St, Suite 2\nQuillcote, WA 98992\nAmount due 184.20"
	suite := func(r *record.Record) { r.Address.Unit = "Suite 2" }
	for _, c := range []struct {
		name   string
		said   Said
		change func(*record.Record)
		faults string // facts
		says   string
		mend   string
	}{
		{"a suite that the record lacks", Said{Kind: "utility_bill", Text: bill}, nil, "unit", "It names Suite 2, and the record names no unit.", "Suite 2"},
		{"the same suite", Said{Kind: "utility_bill", Text: bill}, suite, "", "", ""},
		{"another suite", Said{Kind: "utility_bill", Text: bill}, func(r *record.Record) { r.Address.Unit = "Suite 4" }, "unit", "It names Suite 2, and the record Suite 4.", "Suite 2"},
		{"a suite that the paper lacks", Said{Kind: "utility_bill", Text: strings.Replace(bill, ", Suite 2", "", 1)}, suite, "unit", "The record names Suite 2, and the paper does not.", "–"},
		{"another address", Said{Kind: "utility_bill", Text: strings.Replace(bill, "15 Orchard", "51 Orchard", 1)}, suite, "address", "“51 Orchard St, Suite 2”", ""},
		{"no address", Said{Kind: "utility_bill", Text: "Utility bill, October 2026\nSablecote Veterinary"}, nil, "address", "It shows no address.", ""},
		{"another name", Said{Kind: "utility_bill", Text: strings.Replace(bill, "Animal Health", "Holdings", 1)}, suite, "name", "It is made out to “Sablecote Holdings PLLC”.", "Sablecote Holdings PLLC"},
		{"a stranger", Said{Kind: "utility_bill", Text: strings.Replace(bill, "Sablecote Animal Health PLLC", "B. Ottley", 1)}, suite, "name", "neither the trading name nor the legal name", ""},
		{"the trading name", Said{Kind: "utility_bill", Text: strings.Replace(bill, "Animal Health PLLC", "Veterinary", 1)}, suite, "", "", ""},
		{"too old", Said{Kind: "utility_bill", Text: strings.Replace(bill, "October", "July", 1)}, suite, "date", "It is of 31 July 2026; a bill must not be older", ""},
		{"old by what was said", Said{Kind: "utility_bill", Text: bill, Issued: "2026-05-01"}, suite, "date", "1 May 2026", ""},
		{"no date", Said{Kind: "utility_bill", Text: strings.Replace(bill, ", October 2026", "", 1)}, suite, "date", "No date can be read", ""},
		{"a date to come", Said{Kind: "utility_bill", Text: strings.Replace(bill, "October 2026", "3 March 2027", 1)}, suite, "date", "still to come", ""},
		{"of this month", Said{Kind: "utility_bill", Text: strings.Replace(bill, "October", "November", 1)}, suite, "", "", ""},
		{"of next month", Said{Kind: "utility_bill", Text: strings.Replace(bill, "October", "December", 1)}, suite, "date", "still to come", ""},
		{"another kind", Said{Kind: "lease", Text: bill}, suite, "kind", "another kind, utility bill", ""},
		{"a licence shows no address", Said{Kind: "licence", Text: "Licence\nSablecote Animal Health PLLC", Until: "2026-12-31"}, nil, "", "", ""},
		{"a licence that has ended", Said{Kind: "licence", Text: "Licence\nSablecote Animal Health PLLC", Until: "2026-10-31"}, nil, "date", "It held until 31 October 2026.", ""},
		{"a picture", Said{Kind: "licence"}, nil, "text", "it is a picture", ""},
	} {
		r := clinic()
		if c.change != nil {
			c.change(&r)
		}
		all := Against(c.said, r, today)
		facts, says, mend := "", "", ""
		for _, f := range Faults(all) {
			facts, says, mend = strings.TrimSpace(facts+" "+f.Fact), says+f.Says, mend+f.Mend
			if f.Line >= 0 && strings.Split(c.said.Text, "\n")[f.Line] != f.Paper {
				t.Errorf("%s: line %d is not %q", c.name, f.Line, f.Paper)
			}
		}
		if facts != c.faults || !strings.Contains(says, c.says) || mend != c.mend {
			t.Errorf("%s: %q %q, mend %q; want %q %q %q", c.name, facts, says, mend, c.faults, c.says, c.mend)
		}
	}
}

// Whoever sent a paper is told nothing of a record, which they have never seen.
func TestOwnersAreToldOfNoRecord(t *testing.T) {
	r := record.Record{Name: "Spokeshave Cycle Works", Address: address.Address{Street: "18 Tern Street", Locality: "Minnow Bay"}}
	with := r
	with.Address.Unit = "Suite 4"
	now := time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)
	said := map[string]bool{}
	for _, lines := range []string{
		"Utility bill\nSpokeshave Cycle Works\n18 Tern Street, Suite B", "Utility bill\nSpokeshave Cycle Works\n18 Tern Street",
		"Utility bill, October 2020\nSpokeshave Holdings\n81 Tern Street", "nothing at all",
	} {
		for _, r := range []record.Record{r, with} {
			for _, f := range Faults(Against(Said{Kind: "utility_bill", Text: lines}, r, now)) {
				said[f.ToOwner(language.English)] = true
				if strings.Contains(f.ToOwner(language.English), "record") {
					t.Errorf("%s: %q", f.Fact, f.ToOwner(language.English))
				}
			}
		}
	}
	if len(said) < 8 {
		t.Errorf("%d things are said: %v", len(said), said)
	}
}
