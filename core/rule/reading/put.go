package reading

import (
	"cmp"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/net/html"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/record/sighting"
)

// value is one thing that a page says of a fact.
type value struct {
	text string     // as people read it, or an attribute's
	node *html.Node // in which it stands
}

// put takes what a page says of a fact, by its key in rulebooks, into a sighting. What is said already stays.
func (p page) put(s *sighting.Sighting, key string, values []value) {
	lines := []string{}
	for _, v := range values {
		lines = append(lines, strings.Split(v.text, "\n")...)
	}
	text := oneLine(strings.Join(lines, " "))
	if text == "" && key != "photos" {
		return
	}
	country := cmp.Or(s.Address.Country, p.in.Country)
	f := sighting.Sighting{}
	switch key {
	case "name":
		f.Name = text
	case "address":
		f.Address = p.settled(p.readAddress(strings.Join(addressLines(values), "\n")))
	case "phone":
		f.Phone, f.OtherPhones = numbers(dialled(values), country)
	case "other_phones":
		if main, more := numbers(dialled(values), country); main != "" {
			f.OtherPhones = append([]string{main}, more...)
		}
	case "email":
		f.Email = mailed(values, text)
	case "website", "booking", "ordering", "quote", "menu", "gift_card", "app":
		to := p.linked(values)
		if key == "website" {
			f.Website = to
			break
		}
		f.Links = filled(map[string]string{key: to})
	case "category":
		list := parted(lines)
		f.Category, f.OtherCategories = list[0], list[1:]
	case "other_categories":
		f.OtherCategories = parted(lines)
	case "hours":
		f.Hours = oneLine(strings.Join(lines, "; "))
		if schedule, ok := p.readHours(strings.Join(lines, "\n")); ok {
			f.Hours = schedule.String()
		}
	case "special_dates":
		ours, _ := s.Schedule()
		if s.Hours == "" || ours.Rules != nil {
			s.Hours = withDates(ours, p.dates(lines))
		}
		return
	case "pin":
		if parts := strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ' ' || r == ';' }); len(parts) == 2 {
			f.Pin = pin(parts[0], parts[1])
		}
	case "state":
		f.State = stateOf(text)
	case "attributes":
		f.Attributes = yesAndNo(lines)
	case "socials":
		f.Socials = p.profiles(values)
	case "videos":
		f.Videos = p.links(values)
	case "offerings":
		f.Offerings = offered(lines)
	case "team", "licence", "former_names", "keywords", "specialities", "payments", "areas":
		putList(&f, key, lines)
	case "photos":
		f.Photos = p.pictured(values)
	case "reviews":
		if n, err := strconv.Atoi(firstNumber.FindString(strings.ReplaceAll(text, ",", ""))); err == nil {
			f.Reviews = &n
		}
	default:
		if which, ok := strings.CutPrefix(key, "text."); ok {
			f.Texts = map[string]string{which: strings.Join(clean(lines), "\n")}
			break
		}
		if into := plainText(&f, key); into != nil {
			*into = text
		}
	}
	*s = fill(*s, f)
}

// links are where values lead.
func (p page) links(values []value) (out []string) {
	for _, v := range values {
		if to := p.link(v.text); to != "" {
			out = append(out, to)
		}
	}
	return out
}

// putList takes a list: of what stands a line each, or between commas.
func putList(s *sighting.Sighting, key string, lines []string) {
	if into := map[string]*[]string{"team": &s.Team, "licence": &s.Licence, "former_names": &s.FormerNames}[key]; into != nil {
		*into = clean(lines)
		return
	}
	*map[string]*[]string{"keywords": &s.Keywords, "specialities": &s.Specialities, "payments": &s.Payments, "areas": &s.Areas}[key] = parted(lines)
}

// plainText is where a fact of one text goes; nil for others.
func plainText(s *sighting.Sighting, key string) *string {
	return map[string]*string{
		"legal_name": &s.LegalName, "registration": &s.Registration, "store_code": &s.StoreCode, "opened": &s.Opened, "company_size": &s.CompanySize,
		"company_kind": &s.CompanyKind, "industry": &s.Industry, "founded": &s.Founded, "directions": &s.Directions, "parking": &s.Parking, "button": &s.Button,
	}[key]
}

var firstNumber = regexp.MustCompile(`\d+`)

func clean(lines []string) (out []string) {
	for _, l := range lines {
		if l = oneLine(l); l != "" {
			out = append(out, l)
		}
	}
	return out
}

// addressLines are those of an address, or of what is marked as one within.
func addressLines(values []value) (out []string) {
	for _, v := range values {
		text := v.text
		if v.node != nil {
			for c := range v.node.Descendants() {
				if element(c, "address") {
					text = textOf(c)
					break
				}
			}
		}
		for _, l := range strings.Split(text, "\n") {
			if l = oneLine(l); l != "" && len(dialledIn(l)) == 0 {
				out = append(out, strings.TrimRight(l, ","))
			}
		}
	}
	return out
}

var numberForm = regexp.MustCompile(`\+?\(?\d[\d ()./-]{5,}\d`)

func dialledIn(text string) []string {
	return slices.DeleteFunc(numberForm.FindAllString(text, -1), func(n string) bool {
		digits := 0
		for _, r := range n {
			if r >= '0' && r <= '9' {
				digits++
			}
		}
		return digits < 7
	})
}

// dialled are the numbers that values dial, or else those that stand in them.
func dialled(values []value) (out []string) {
	for _, v := range values {
		if n, ok := strings.CutPrefix(v.text, "tel:"); ok {
			out = append(out, n)
			continue
		}
		linked := false
		if v.node != nil {
			for _, a := range anchors(v.node) {
				if n, ok := strings.CutPrefix(attribute(a, "href"), "tel:"); ok {
					out, linked = append(out, n), true
				}
			}
		}
		if !linked {
			out = append(out, dialledIn(v.text)...)
		}
	}
	return out
}

// anchors are the links in an element, itself included.
func anchors(n *html.Node) (out []*html.Node) {
	if element(n, "a") {
		out = append(out, n)
	}
	for c := range n.Descendants() {
		if element(c, "a") {
			out = append(out, c)
		}
	}
	return out
}

var mailForm = regexp.MustCompile(`[^\s<>()@,;:]+@[^\s<>()@,;:]+\.[^\s<>()@,;:.]+`)

func mailed(values []value, text string) string {
	for _, v := range values {
		if v.node == nil {
			continue
		}
		for _, a := range anchors(v.node) {
			if to, ok := strings.CutPrefix(attribute(a, "href"), "mailto:"); ok {
				to, _, _ = strings.Cut(to, "?")
				return to
			}
		}
	}
	return mailForm.FindString(text)
}

// linked is where values lead, or the address that they write.
func (p page) linked(values []value) string {
	for _, v := range values {
		if v.node != nil {
			for _, a := range anchors(v.node) {
				if written := p.written(textOf(a)); written != "" { // what people read, where a link leads through the directory
					return written
				}
				if to := p.link(attribute(a, "href")); to != "" && !p.same(to) {
					return to
				}
			}
		}
		if to := p.written(v.text); to != "" {
			return to
		}
	}
	return ""
}

var hostForm = regexp.MustCompile(`^(https?://)?([\pL\d-]+\.)+[\pL]{2,}(/\S*)?$`)

// written is a web address that stands as text.
func (p page) written(text string) string {
	text = strings.TrimSpace(text)
	if !hostForm.MatchString(text) {
		return ""
	}
	if !strings.Contains(text, "://") {
		text = "https://" + text
	}
	return resolve(nil, text)
}

func (p page) profiles(values []value) (out []sighting.Social) {
	add := func(name, to string) {
		if to != "" && !p.same(to) && !slices.ContainsFunc(out, func(s sighting.Social) bool { return s.URL == to }) {
			if hostForm.MatchString(name) {
				name = ""
			}
			out = append(out, sighting.Social{Name: name, URL: to})
		}
	}
	for _, v := range values {
		if v.node == nil {
			add("", p.link(v.text))
			continue
		}
		for _, a := range anchors(v.node) {
			add(oneLine(textOf(a)), p.link(attribute(a, "href")))
		}
	}
	return out
}

// yesAndNo reads "Wi-Fi: yes", "No parking" or "Delivers".
func yesAndNo(lines []string) map[string]bool {
	out := map[string]bool{}
	for _, l := range parted(lines) {
		name, says, told := strings.Cut(l, ":")
		is := true
		if says = address.Fold(says); told && slices.Contains([]string{"no", "nein", "non", "false"}, says) {
			is = false
		}
		if rest, no := strings.CutPrefix(strings.ToLower(name), "no "); no && !told {
			name, is = rest, false
		}
		out[oneLine(name)] = is
	}
	return out
}

// priceForm is a name and its price: behind a colon, a tab or dots; or, without these, one that has a currency or cents.
var priceForm = regexp.MustCompile(`^(.+?)(?:\s*(?:[\t…]|\.{2,})\s*|:\s+)((?:from |ab |about )?[$€£]? ?\d[\d.,]*.{0,40})$`)

var barePrice = regexp.MustCompile(`^(.+?)\s+((?:from |ab )?(?:[$€£] ?\d[\d.,]*|\d+[.,]\d{2}|\d[\d.,]* ?(?:[$€£]|[A-Z]{3}\b)).{0,30})$`)

// priced parts a line into a name and a price; false where it has none.
func priced(line string) (name, price string, ok bool) {
	for _, form := range []*regexp.Regexp{priceForm, barePrice} {
		if m := form.FindStringSubmatch(line); m != nil {
			return oneLine(m[1]), oneLine(m[2]), true
		}
	}
	return "", "", false
}

// offered reads lines such as "Tune-up: 65 USD"; one without a price is the title of a section where prices follow.
func offered(lines []string) (out []sighting.Offering) {
	section := ""
	for i, l := range lines {
		l = strings.TrimSpace(l)
		name, price, ok := priced(l)
		follows := false
		if i+1 < len(lines) {
			_, _, follows = priced(strings.TrimSpace(lines[i+1]))
		}
		switch {
		case ok:
			out = append(out, sighting.Offering{Section: section, Name: name, Price: price})
		case l != "" && follows:
			section = oneLine(l)
		case l != "":
			out = append(out, sighting.Offering{Section: section, Name: oneLine(l)})
		}
	}
	return out
}

func (p page) pictured(values []value) (out []sighting.Photo) {
	for _, v := range values {
		at := v.text
		place := ""
		if v.node != nil && element(v.node, "img") {
			at, place = attribute(v.node, "src"), attribute(v.node, "data-place")
		}
		if to := p.link(at); to != "" && !slices.ContainsFunc(out, func(o sighting.Photo) bool { return o.URL == to }) {
			out = append(out, sighting.Photo{URL: to, Place: place})
		}
	}
	return out
}

// stateWords are how pages say that a place does no business, folded, in English, French, German and Spanish.
var stateWords = []struct {
	state   record.StateKind
	phrases []string
}{
	{record.Moved, []string{"has moved", "moved away", "has moved away", "we have moved", "a demenage", "umgezogen", "se ha mudado", "se ha trasladado"}},
	{record.ClosedForGood, []string{
		"permanently closed", "closed permanently", "closed for good", "out of business", "no longer in business", "ferme definitivement", "definitivement ferme",
		"dauerhaft geschlossen", "cerrado permanentemente", "cerrado definitivamente",
	}},
	{record.ClosedForATime, []string{
		"temporarily closed", "closed temporarily", "closed for a time", "temporairement ferme", "ferme temporairement", "vorubergehend geschlossen",
		"cerrado temporalmente",
	}},
	{record.OpeningSoon, []string{"opening soon", "coming soon", "ouvre bientot", "eroffnet bald", "proxima apertura"}},
	{record.Open, []string{"open", "operational"}},
}

// stateOf is the state that a text says; empty for none.
func stateOf(text string) record.StateKind {
	folded := address.Fold(text)
	for _, s := range stateWords {
		if anyOf(folded, s.phrases) {
			return s.state
		}
	}
	return record.StateKind("")
}

// weekOf joins what lines say of single weekdays.
func (p page) weekOf(lines []string) (string, bool) {
	if len(lines) == 0 {
		return "", false
	}
	s, ok := p.readHours(strings.Join(lines, "\n"))
	return s.String(), ok
}
