package match

import (
	"math/rand/v2"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

// some picks one of several texts, or leaves it out now and then.
func some(r *rand.Rand, texts ...string) string {
	if r.IntN(4) == 0 {
		return ""
	}
	return texts[r.IntN(len(texts))]
}

// anyBusiness is a business with some of its facts known.
func anyBusiness(r *rand.Rand) Business {
	b := Business{
		Name: some(r, "Spokeshave Cycle Works", "Spokeshave Cycles LLC", "Nettlewick Yarns", "Gull & Spoke", "The Shop"),
		Address: address.Address{
			Street:     some(r, "18 Tern Street", "18 Tern St, Suite B", "9 Old Wharf", "2 Mill Lane"),
			Locality:   some(r, "Minnow Bay", "Port Sable"),
			PostalCode: some(r, "98990", "98991-1234"),
		},
		Website: some(r, "https://spokeshave.example", "http://www.spokeshave.example/minnow-bay?utm_source=x", "https://nettlewick.example"),
	}
	if p := some(r, "+13605550142", "+13605550124"); p != "" {
		b.Phones = []string{p}
	}
	if r.IntN(2) == 0 {
		b.Pin = &record.Pin{Latitude: 48 + r.Float64(), Longitude: -125 + r.Float64()}
	}
	return b
}

func TestLaws(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for range 4000 {
		a, b := anyBusiness(r), anyBusiness(r)
		got, turned := Compare(a, b), Compare(b, a)
		if got.Score < 0 || got.Score > 1 || len(got.Reasons) == 0 || got.Verdict == "" {
			t.Fatalf("%+v and %+v: %+v", a, b, got)
		}
		if got.Score != turned.Score || got.Verdict != turned.Verdict {
			t.Fatalf("%+v and %+v: %v one way, %v the other", a, b, got.Score, turned.Score)
		}
		for _, reason := range got.Reasons {
			if !strings.HasSuffix(reason, ".") || strings.Contains(reason, "%!") || strings.Contains(reason, "“”") {
				t.Fatalf("no sentence: %q", reason)
			}
		}
		// A business is never unlike itself, and what is left out speaks neither way.
		if self := Compare(a, a); a.Name != "" && self.Verdict != SameBusiness && self.Verdict != Probably {
			t.Fatalf("%+v is unlike itself: %+v", a, self)
		}
		less := b
		less.Website = ""
		if a.Website == "" && Compare(a, b).Score != Compare(a, less).Score {
			t.Fatalf("a site that only one side has counts: %+v, %+v", a, b)
		}
	}
}
