package match

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

// The world of the labelled set: nothing in it is real.
var (
	rareWords = strings.Fields(
		`Nettlewick Spokeshave Mossback Sablecote Saltgrass Corvid Tarnwell Pennywort Brackenridge Oxbow Thistledown Quillon Marrowby Fenwraith Osprelle
		Dunmarrow Lanternhill Copperkettle Bellwether Hazelmere Driftmark Ravenstitch Wickerby Kelpwood Tidewrack Umberlow Gorsefield Larkenby Mistlethwait Pellwater
		Sedgemoor Tamberlane Vellum Whinberry Yarrowgate Ashgrove Birchall Cindermoor Dovetail Elmhurst Foxholm Grislow Hartsease Ivybridge Juniperoot Kestrelle
		Lodestone Millrace Nightjar Otterburn Plumtree Quernstone Rookery Stonecrop Turnstile Underhay Vetchling Wagtail Yellowham Zephyrine`,
	)
	tradeNames = []string{
		"Cycle Works",
		"Bike Repair",
		"Yarns",
		"Chimney & Gutter",
		"Veterinary Clinic",
		"Laundry",
		"Bakery",
		"Dental Care",
		"Hardware",
		"Plumbing",
		"Electric",
		"Florist",
		"Cafe",
		"Books",
		"Pharmacy",
		"Roofing",
		"Auto Repair",
		"Hair Studio",
		"Dry Cleaners",
		"Pet Grooming",
	}
	legalEndings = []string{"LLC", "Inc.", "Ltd.", "PLLC", "Co."}
	townNames    = strings.Split(
		"Port Sable,Quillcote,Minnow Bay,Three Herons,Larkspur Falls,Cinder Point,Fennick,Saltgrass,Alder Landing,Upper Moraine,Tern Flats,Old Ferry,Wrack Harbor,Gull Narrows,Mill Reach",
		",",
	)
	streetNames = strings.Split(
		"Tern,Heronry,Chandlery,Orchard,Glacier,Breakwater,Lantern Hill,Ropewalk,Sawmill,Cannery,Juniper,Osprey,Madrone,Kelp,Ferry,Quarry,Larch,Bulkhead,Pilchard,Cooper,Anchor,Saltbox,Tidal,Beacon",
		",",
	)
	streetKinds = [][]string{
		{"Street", "St", "St.", "Str"},
		{"Road", "Rd", "Rd."},
		{"Avenue", "Ave", "Av"},
		{"Lane", "Ln"},
		{"Boulevard", "Blvd"},
		{"Drive", "Dr"},
		{"Court", "Ct"},
	}
	translated = map[string][2]string{"Street": {"rue", ""}, "Road": {"chemin", ""}, "Avenue": {"avenue", ""}, "Lane": {"ruelle", ""}}
)

// maker makes businesses by chance that can be had again.
type maker struct{ *rand.Rand }

func pick[T any](m maker, of []T) T { return of[m.IntN(len(of))] }

func (m maker) oneIn(n int) bool { return m.IntN(n) == 0 }

func (m maker) phone() string {
	return fmt.Sprintf("+1%s555%04d", pick(m, []string{"360", "250", "425"}), m.IntN(10000))
}

func (m maker) business() (b Business, kind int) {
	first, trade := pick(m, rareWords), pick(m, tradeNames)
	b.Name = first + " " + trade
	if m.oneIn(4) {
		b.Name = first + " & " + pick(m, rareWords) + " " + trade
	}
	if m.oneIn(2) {
		b.LegalName = first + " " + pick(m, []string{"Holdings", "Enterprises", trade, "Group"}) + " " + pick(m, legalEndings)
	}
	town := m.IntN(len(townNames))
	kind = m.IntN(len(streetKinds))
	b.Address = address.Address{
		Street:     fmt.Sprintf("%d %s %s", 10+m.IntN(980), pick(m, streetNames), streetKinds[kind][0]),
		Locality:   townNames[town],
		Region:     "WA",
		PostalCode: fmt.Sprintf("98%03d", 900+town),
		Country:    "US",
	}
	if m.oneIn(4) {
		b.Address.Unit = "Suite " + string(rune('A'+m.IntN(6)))
	}
	b.Phones = []string{m.phone()}
	b.Website = "https://" + strings.ToLower(first+strings.NewReplacer(" ", "", "&", "").Replace(trade)) + ".example"
	b.Pin = &record.Pin{Latitude: 48 + float64(town)*0.11 + m.Float64()*0.02, Longitude: -123 + float64(town%5)*0.13 + m.Float64()*0.02}
	return b, kind
}

// seen is the business as some directory shows it: spelled another way, with gaps.
func (m maker) seen(b Business, kind int) Business {
	s := b
	s.LegalName, s.Former = "", nil
	if m.oneIn(3) {
		s.Address.Street = strings.Replace(s.Address.Street, streetKinds[kind][0], pick(m, streetKinds[kind]), 1)
	}
	if m.oneIn(6) {
		s.Address.Street = strings.ToUpper(s.Address.Street)
	}
	if s.Address.Unit != "" {
		switch m.IntN(4) {
		case 0:
			s.Address.Unit = ""
		case 1:
			s.Address.Street, s.Address.Unit = s.Address.Street+" Ste "+strings.TrimPrefix(s.Address.Unit, "Suite "), ""
		case 2:
			s.Address.Street, s.Address.Unit = s.Address.Street+" #"+strings.TrimPrefix(s.Address.Unit, "Suite "), ""
		}
	}
	switch m.IntN(8) {
	case 0:
		s.Name += " " + pick(m, legalEndings)
	case 1:
		s.Name = strings.Replace(s.Name, "&", "and", 1)
	case 2:
		s.Name = m.slip(s.Name)
	case 3:
		s.Name = "The " + s.Name
	case 4:
		s.Name += " " + s.Address.Locality
	}
	if m.oneIn(5) {
		s.Phones = nil
	}
	switch m.IntN(5) {
	case 0:
		s.Website = ""
	case 1:
		s.Website = strings.Replace(s.Website, "https://", "http://www.", 1) + "/?utm_source=directory"
	}
	if m.oneIn(3) {
		s.Pin = nil
	} else if b.Pin != nil {
		s.Pin = &record.Pin{Latitude: b.Pin.Latitude + (m.Float64()-0.5)*0.001, Longitude: b.Pin.Longitude + (m.Float64()-0.5)*0.001}
	}
	if m.oneIn(6) {
		s.Address.PostalCode += fmt.Sprintf("-%04d", m.IntN(10000))
	}
	return s
}

// slip misspells a word: two neighbours change places, or a letter goes.
func (m maker) slip(s string) string {
	r := []rune(s)
	i := 1 + m.IntN(max(1, min(len(r)-3, 8)))
	if r[i] == ' ' || r[i+1] == ' ' {
		return s
	}
	if m.oneIn(2) {
		r[i], r[i+1] = r[i+1], r[i]
		return string(r)
	}
	return string(append(r[:i:i], r[i+1:]...))
}

func (m maker) swapped(digits string) string {
	r := []byte(digits)
	for range 20 {
		if i := len(r) - 2 - m.IntN(min(4, len(r)-1)); r[i] != r[i+1] {
			r[i], r[i+1] = r[i+1], r[i]
			break
		}
	}
	return string(r)
}

// near is a pin some metres away.
func (m maker) near(p *record.Pin, least, most float64) *record.Pin {
	far, way := least+m.Float64()*(most-least), m.Float64()*2*math.Pi
	return &record.Pin{Latitude: p.Latitude + far*math.Cos(way)/111_000, Longitude: p.Longitude + far*math.Sin(way)/74_000}
}

// elsewhere moves a business to another street, of the same town or of another one.
func (m maker) elsewhere(b Business, otherTown bool) Business {
	for {
		n, _ := m.business()
		if (n.Address.Locality != b.Address.Locality) == otherTown && n.Address.Street != b.Address.Street {
			b.Address, b.Pin = n.Address, n.Pin
			return b
		}
		if !otherTown {
			n.Address.Locality, n.Address.PostalCode = b.Address.Locality, b.Address.PostalCode
			b.Address, b.Pin = n.Address, nil
			return b
		}
	}
}

// kindsOfPairs are what makes pairs hard, with how to make one.
var kindsOfPairs = []struct {
	name string
	same bool
	make func(m maker) (a, b Business)
}{
	{"the same", true, func(m maker) (Business, Business) { b, k := m.business(); return b, m.seen(b, k) }},
	{"former name", true, func(m maker) (Business, Business) {
		b, k := m.business()
		o, _ := m.business()
		b.Former = []string{o.Name}
		s := m.seen(b, k)
		s.Name = o.Name
		return b, s
	}},
	{"legal name", true, func(m maker) (Business, Business) {
		b, k := m.business()
		b.LegalName = pick(m, rareWords) + " Holdings LLC"
		s := m.seen(b, k)
		s.Name = b.LegalName
		return b, s
	}},
	{"moved", true, func(m maker) (Business, Business) {
		b, k := m.business()
		s := m.elsewhere(b, false)
		s = m.seen(s, k)
		s.Phones, s.Name = b.Phones, b.Name // otherwise nobody could tell
		return b, s
	}},
	{"swapped digits", true, func(m maker) (Business, Business) {
		b, k := m.business()
		s := m.seen(b, k)
		s.Phones = []string{m.swapped(b.Phones[0])}
		if m.oneIn(2) {
			number, rest, _ := strings.Cut(s.Address.Street, " ")
			s.Address.Street = m.swapped(number) + " " + rest
			s.Phones = b.Phones
		}
		return b, s
	}},
	{"translated street", true, func(m maker) (Business, Business) {
		for {
			b, k := m.business()
			french, ok := translated[streetKinds[k][0]]
			if !ok {
				continue
			}
			s := m.seen(b, k)
			parts := strings.Fields(b.Address.Street)
			s.Address.Street = parts[0] + " " + french[0] + " " + strings.Join(parts[1:len(parts)-1], " ")
			s.Address.Unit = b.Address.Unit
			return b, s
		}
	}},
	{"branch of a chain", false, func(m maker) (Business, Business) {
		b, k := m.business()
		s := m.elsewhere(b, !m.oneIn(4))
		s = m.seen(s, k)
		s.Phones = []string{m.phone()}
		b.Website += "/" + strings.ToLower(b.Address.Locality)
		if s.Website != "" {
			s.Website = strings.TrimSuffix(strings.Split(s.Website, "/?")[0], "/") + "/" + strings.ToLower(strings.ReplaceAll(s.Address.Street, " ", "-"))
		}
		return b, s
	}},
	{"branch, shared phone", false, func(m maker) (Business, Business) {
		b, k := m.business()
		s := m.elsewhere(b, true)
		return b, m.seen(s, k)
	}},
	{"branch with a page of its own, shared phone", false, func(m maker) (Business, Business) {
		b, k := m.business()
		s := m.elsewhere(b, false)
		s.Pin = m.near(b.Pin, 500, 2700)
		s = m.seen(s, k)
		s.Phones = b.Phones
		page := func(of Business) string { return strings.ToLower(strings.ReplaceAll(of.Address.Street, " ", "-")) }
		s.Website, b.Website = b.Website+"/"+page(s), b.Website+"/"+page(b)
		return b, s
	}},
	{"like name, another trade, one street", false, func(m maker) (Business, Business) {
		b, k := m.business()
		first, _, _ := strings.Cut(b.Name, " ")
		trade := pick(m, tradeNames)
		for strings.Contains(b.Name, trade) || strings.Contains(trade, strings.Fields(b.Name)[1]) {
			trade = pick(m, tradeNames)
		}
		o := b
		number, rest, _ := strings.Cut(b.Address.Street, " ")
		at, _ := strconv.Atoi(number)
		o.Address.Street, o.Address.Unit = fmt.Sprintf("%d %s", at+2*(1+m.IntN(20)), rest), ""
		o.Name, o.LegalName, o.Website, o.Phones = first+" "+trade, "", "https://"+strings.ToLower(
			first+strings.ReplaceAll(trade, " ", ""),
		)+".example", []string{
			m.phone(),
		}
		o.Pin = m.near(b.Pin, 20, 140)
		return b, m.seen(o, k)
	}},
	{"one building", false, func(m maker) (Business, Business) {
		b, _ := m.business()
		o, k := m.business()
		o.Address, o.Pin = b.Address, b.Pin
		if b.Address.Unit != "" || m.oneIn(2) {
			b.Address.Unit, o.Address.Unit = "Suite A", "Suite B"
		}
		return b, m.seen(o, k)
	}},
	{"shared phone", false, func(m maker) (Business, Business) {
		b, _ := m.business()
		o, k := m.business()
		o.Phones = b.Phones
		for o.Address.Locality == b.Address.Locality || strings.Fields(o.Name)[0] == strings.Fields(b.Name)[0] {
			o, k = m.business()
			o.Phones = b.Phones
		}
		return b, m.seen(o, k)
	}},
	{"same trade in town", false, func(m maker) (Business, Business) {
		b, _ := m.business()
		for {
			o, k := m.business()
			if strings.Fields(o.Name)[0] != strings.Fields(b.Name)[0] {
				o.Address.Locality, o.Address.PostalCode = b.Address.Locality, b.Address.PostalCode
				return b, m.seen(o, k)
			}
		}
	}},
	{"same word, another trade", false, func(m maker) (Business, Business) {
		b, _ := m.business()
		for {
			o, k := m.business()
			first, _, _ := strings.Cut(b.Name, " ")
			trade := o.Name[strings.LastIndex(o.Name, " ")+1:]
			if strings.Contains(b.Name, trade) || o.Address.Street == b.Address.Street {
				continue
			}
			o.Name, o.Website = first+" "+trade, "https://"+strings.ToLower(first+trade)+".example"
			o.Address.Locality, o.Address.PostalCode = b.Address.Locality, b.Address.PostalCode
			return b, m.seen(o, k)
		}
	}},
}

// generated makes labelled pairs, of each kind alike many.
func generated(seed uint64, n int) (out []pair) {
	m := maker{rand.New(rand.NewPCG(seed, 11))}
	for i := range n {
		k := kindsOfPairs[i%len(kindsOfPairs)]
		a, b := k.make(m)
		p := pair{k.name, k.same, a, b}
		for _, side := range []*Business{&p.a, &p.b} { // as it is written to the file
			*side = businessOf(side.row())
		}
		out = append(out, p)
	}
	return out
}

// many makes businesses to search among.
func many(n int) []Business {
	m := maker{rand.New(rand.NewPCG(9, 9))}
	out := make([]Business, n)
	for i := range out {
		out[i], _ = m.business()
		out[i].Address.Street = fmt.Sprint(m.IntN(90), out[i].Address.Street)
	}
	return out
}
