package match

import (
	"math"
	"reflect"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

// What each fact says for one business (above 0) or against it (below 0), and in which words.
func TestWhatAFactSays(t *testing.T) {
	at := func(street, unit, town string) Business {
		return Business{Address: address.Address{Street: street, Unit: unit, Locality: town}}
	}
	calls := func(phones ...string) Business { return Business{Phones: phones} }
	site := func(url string) Business { return Business{Website: url} }
	north := func(metres float64) Business {
		return Business{Pin: &record.Pin{Latitude: 48 + metres/111_195, Longitude: -122}}
	}
	for _, c := range []struct {
		judge        func(a, b Business) (evidence, bool)
		ours, theirs Business
		sign         float64
		moved        bool
		says         string
	}{
		{places, at("18 Tern Street", "", "Fennick"), at("18 Tern St", "", "Fennick"), 1, false, "The address is the same"},
		{places, at("18 Tern Street", "", "Fennick"), at("18 Tern Street", "", "Port Sable"), -1, true, "The street is of the same name, in another town"},
		{places, at("18 Tern Street", "", "Fennick"), at("9 Hill Road", "", "Port Sable"), -1, true, "It is in another town, Port Sable."},
		{places, at("18 Tern Street", "", "Fennick"), at("", "", "Port Sable"), -1, true, "It is in another town, Port Sable."},
		{places, at("18 Tern Street", "", "Fennick"), at("", "", "Fennick"), 1, false, "one of the two shows no street"},
		{places, at("18 Tern Street", "", "Fennick"), at("81 Tern Street", "", "Fennick"), 1, false, "two digits that changed places, or one"},
		{places, at("18 Tern Street", "", "Fennick"), at("18 Turn Street", "", "Fennick"), 1, false, "but for the spelling of the street"},
		{places, at("18 Tern Street", "", "Fennick"), at("940 Tern Street", "", "Fennick"), -1, true, "on the same street at another number"},
		{places, at("18 Tern Street", "", "Fennick"), at("9 Hill Road", "", "Fennick"), -1, true, "in the same town at another address"},
		{places, at("18 Tern Street", "Suite 2", "Fennick"), at("18 Tern Street", "Suite 9", "Fennick"), 1, false, "in another unit"},
		{places, at("18 Tern Street", "Suite 2", "Fennick"), at("18 Tern Street", "", "Fennick"), 1, false, "only one of the two names a unit"},
		{phones, calls("+13605550142"), calls("+13605550177", "+13605550142"), 1, false, "The phone is the same, (360) 555-0142."},
		{phones, calls("+13605550142"), calls("+13605550124"), 1, false, "two that changed places: (360) 555-0124."},
		{phones, calls("+13605550142"), calls("+13605559999"), -1, false, "The phone is another, (360) 555-9999."},
		{sites, site("https://x.example"), site("https://y.example"), -1, false, "The website is another, y.example."},
		{sites, site("https://x.example/a"), site("https://x.example/a/"), 1, false, "the same page, x.example/a."},
		{sites, site("https://x.example"), site("https://www.x.example/"), 1, false, "The website is the same, x.example."},
		{sites, site("https://x.example"), site("https://x.example/a"), 1, false, "on the same host"},
		{sites, site("https://x.example/a"), site("https://x.example/b"), -1, false, "another page of the same host, x.example/b."},
		{positions, north(0), north(100), 1, false, "The pin is 100 m from ours."},
		{positions, north(0), north(1400), -1, false, "The pin is 1400 m from ours."},
		{positions, north(0), north(4000), -1, false, "The pin is 4.0 km from ours."},
		{positions, north(0), north(20_000), -1, false, "The pin is 20.0 km from ours."},
	} {
		e, known := c.judge(c.ours, c.theirs)
		if !known || e.weight*c.sign <= 0 || e.moved != c.moved || !strings.Contains(e.reason, c.says) {
			t.Errorf("%+v, %v; want %v, moved %v, %q", e, known, c.sign, c.moved, c.says)
		}
	}
	for _, judge := range []func(a, b Business) (evidence, bool){places, phones, sites, positions} {
		if e, known := judge(ours(), Business{}); known {
			t.Errorf("of nothing it is said %+v", e)
		}
	}
	// The farther the pins, the more it speaks against.
	before := math.Inf(1)
	for _, m := range []float64{100, 1400, 4000, 20_000} {
		if e, _ := positions(north(0), north(m)); e.weight >= before {
			t.Errorf("%v m says %v, and nearer said %v", m, e.weight, before)
		} else {
			before = e.weight
		}
	}
}

func TestWordsOfNames(t *testing.T) {
	for _, c := range []struct {
		x, y string
		want float64
	}{
		{"wharf", "wharf", 1}, {"wharf", "wherf", 0.85}, {"yarn", "yarm", 0}, {"yarns", "yarms", 0.85}, {"spokes", "spokeshave", 0.7}, {"spokeshave", "spokes", 0.7},
		{"spok", "spokeshave", 0.7}, {"spokeshave", "spok", 0.7}, {"spo", "spokeshave", 0}, {"spokeshave", "spo", 0}, {"wharf", "mossback", 0},
	} {
		if got := wordLikeness(c.x, c.y); got != c.want {
			t.Errorf("%s and %s: %v, want %v", c.x, c.y, got, c.want)
		}
	}
	for name, want := range map[string][]string{
		"Marsh Bikes, LLC": {"marsh", "bike"}, "Gas & Glass": {"gas", "and", "glass"}, "Vet Svcs of Quay Ctr.": {"veterinary", "service", "of", "quay", "center"}, "Yes": {"yes"},
	} {
		if got := nameWords(name); !reflect.DeepEqual(got, want) {
			t.Errorf("%s: %v, want %v", name, got, want)
		}
	}
	if got := joined([]string{"spoke", "shave", "cycle"}, []string{"spokeshave"}); !reflect.DeepEqual(got, []string{"spokeshave", "cycle"}) {
		t.Errorf("joined to %v", got)
	}
	// The town tells least, then what many are called, a single letter, and a trade; a name of its own most.
	w := weigher(Business{Address: address.Address{Locality: "Fennick", Street: "18 Tern Street"}}, Business{})
	var weights []float64
	for _, word := range []string{"fennick", "shop", "bicycle", "spokeshave"} {
		weights = append(weights, w(word))
	}
	if !(weights[0] < weights[1] && weights[1] < weights[2] && weights[2] < weights[3]) || w("tern") != w("fennick") || w("x") != w("shop") ||
		w("xy") != w("spokeshave") {
		t.Errorf("%v", weights)
	}
}

func TestHowAlikeNamesAre(t *testing.T) {
	w := weigher(Business{}, Business{})
	for _, c := range []struct {
		a, b     string
		from, to float64
	}{
		{"Nettlewick Yarns", "Nettlewick Yarns", 1, 1}, {"Nettlewick Yarns", "Netlewick Yarns", 0.85, 0.95}, {"Nettle Wick", "Nettlewick", 1, 1},
		{"Nettlewick", "Corvid", 0, 0}, {"", "", 0, 0}, {"Nettlewick", "Nettlewick Corvid", 0.5, 0.5},
		// Of different trades: less alike than where only one of them says what it does.
		{"Nettlewick Bicycles", "Nettlewick Dentist", 0.3, 0.4}, {"Nettlewick Bicycles", "Nettlewick", 0.7, 0.8}, {"Nettlewick", "Nettlewick Dentist", 0.7, 0.8},
	} {
		if got := w.likeness(c.a, c.b); got < c.from || got > c.to {
			t.Errorf("%s and %s: %.3f, want %v to %v", c.a, c.b, got, c.from, c.to)
		}
	}
	before := math.Inf(1)
	for _, like := range []float64{0.95, 0.7, 0.5, 0.3, 0.29} {
		got := nameWeight(like)
		if got >= before || (like >= 0.5) != (got > 0) || nameWeight(like+0.04) != got && like > 0.29 {
			t.Errorf("names that are %v alike say %v, and %v before", like, got, before)
		}
		before = got
	}
	// The best of all names counts; of two legal names less than of what is on the sign.
	for _, c := range []struct {
		a, b Business
		says string
	}{
		{Business{Name: "Heron Bikes", LegalName: "Marsh Trading"}, Business{Name: "Marsh Trading"}, "It goes by the legal name"},
		{Business{Name: "Heron Bikes"}, Business{Name: "Quill", LegalName: "Heron Bikes"}, "Its legal name is our name"},
		{Business{Name: "Heron Bikes", LegalName: "Marsh Trading"}, Business{Name: "Quill", LegalName: "Marsh Trading"}, "The legal name is the same"},
		{Business{Name: "Heron Bikes", Former: []string{"Wool Loft"}}, Business{Name: "Wool Loft"}, "It goes by a former name"},
		{Business{Name: "Heron Bikes"}, Business{Name: "Wool Loft", Former: []string{"Heron Bikes"}}, "Its former name is our name"},
		{Business{Name: "Heron Bikes"}, Business{Name: "Corvid Dental"}, "The name is another: “Corvid Dental”, not “Heron Bikes”."},
		{Business{Name: "Heron Bikes"}, Business{Name: "Heron Bike"}, "The name is the same"},
		{Business{Name: "Heron Quill"}, Business{Name: "Heron Quil"}, "The name is much the same"},
		{Business{Name: "Heron Quill"}, Business{Name: "Heron"}, "The name is much the same"},
	} {
		if e, known := names(c.a, c.b, weigher(c.a, c.b)); !known || !strings.HasPrefix(e.reason, c.says) {
			t.Errorf("%+v, want %q", e, c.says)
		}
	}
}

// What an index finds: the likeliest first, of equals the first; by site, by telling words, and not
// by what too many share.
func TestWhatTheIndexFinds(t *testing.T) {
	same := ours()
	far := Business{Name: "Quill", Website: "https://nettlewick.example/port-sable"}
	x := NewIndex([]Business{far, same, same, {Name: "Yarns", Address: same.Address, Phones: same.Phones}})
	found := x.Find(ours())
	if len(found) < 3 || found[0].At != 1 || found[1].At != 2 || found[0].Score < found[2].Score {
		t.Errorf("%+v", found)
	}
	if got := NewIndex([]Business{far}).near(Business{Name: "Another", Website: "http://www.nettlewick.example/port-sable/"}); len(got) != 1 {
		t.Errorf("by the site it is looked at: %v", got)
	}
	if got := NewIndex([]Business{{Name: "Corvid Nettlewick"}}).near(Business{Name: "Nettlewick of the Corvid"}); len(got) != 1 {
		t.Errorf("by two words it is looked at: %v", got)
	}
	if got := NewIndex([]Business{{Name: "The Shop"}}).near(Business{Name: "The Shop"}); len(got) != 0 {
		t.Errorf("by words that tell nothing it is looked at: %v", got)
	}
	crowd := func(n int) *Index {
		all := make([]Business, n)
		for i := range all {
			all[i] = Business{Phones: []string{"+13605550142"}}
		}
		return NewIndex(all)
	}
	one := Business{Phones: []string{"+13605550142"}}
	if got := len(crowd(mostShared).near(one)); got != mostShared {
		t.Errorf("%d of %d are looked at", got, mostShared)
	}
	if got := len(crowd(mostShared + 1).near(one)); got != 0 {
		t.Errorf("%d are looked at for what too many share", got)
	}
}
