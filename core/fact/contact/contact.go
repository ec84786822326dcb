// Package contact reads phones and email addresses and tells what they can do
// for a business: whether a phone is in E.164, whether an email lies on the
// website's domain.
package contact

import (
	"net/mail"
	"net/url"
	"regexp"
	"strings"

	"github.com/nyaruka/phonenumbers"
	"golang.org/x/net/publicsuffix"
)

// Phone is what a phone number turned out to be.
type Phone struct {
	E164     string `json:"e164"`     // +13605550142, ITU-T E.164; empty when it cannot be read
	National string `json:"national"` // (360) 555-0142
	Kind     string `json:"kind"`     // landline, mobile, landline_or_mobile, toll_free, other
	Valid    bool   `json:"valid"`
	Reason   string `json:"reason"` // why it is not valid; empty when it is
}

var kinds = map[phonenumbers.PhoneNumberType]string{
	phonenumbers.FIXED_LINE:           "landline",
	phonenumbers.MOBILE:               "mobile",
	phonenumbers.FIXED_LINE_OR_MOBILE: "landline_or_mobile",
	phonenumbers.TOLL_FREE:            "toll_free",
}

// ReadPhone reads a number as people of a country (ISO 3166-1 alpha-2) write
// it, or in E.164.
func ReadPhone(text, country string) Phone {
	n, kind, reason := read(text, country)
	p := Phone{Kind: "other", Valid: reason == "", Reason: reason}
	if n == nil {
		return p
	}
	p.E164, p.National = phonenumbers.Format(n, phonenumbers.E164), phonenumbers.Format(n, phonenumbers.NATIONAL)
	if k, ok := kinds[kind]; ok {
		p.Kind = k
	}
	return p
}

// E164 writes a number, as ReadPhone reads it, in E.164, or says why it is none.
func E164(text, country string) (e164, reason string) {
	n, _, reason := read(text, country)
	if reason != "" {
		return "", reason
	}
	return phonenumbers.Format(n, phonenumbers.E164), ""
}

// read is the number and its kind, or why it is not valid; the number is nil
// when it cannot be read at all.
func read(text, country string) (*phonenumbers.PhoneNumber, phonenumbers.PhoneNumberType, string) {
	if strings.TrimSpace(text) == "" {
		return nil, phonenumbers.UNKNOWN, "no number is given"
	}
	n, err := phonenumbers.Parse(text, strings.ToUpper(country))
	switch {
	case err == phonenumbers.ErrInvalidCountryCode:
		return nil, phonenumbers.UNKNOWN, "its country is not known; start it with + and the country code"
	case err != nil:
		return nil, phonenumbers.UNKNOWN, "it cannot be read as a phone number"
	}
	kind := phonenumbers.GetNumberType(n) // unknown where no such number is given out
	switch {
	case n.GetExtension() != "":
		return n, kind, "it has an extension; directories take numbers without one"
	case kind == phonenumbers.UNKNOWN && examples.MatchString(phonenumbers.Format(n, phonenumbers.E164)):
		return n, kind, ""
	case kind == phonenumbers.UNKNOWN:
		return n, kind, lengthReason(n)
	}
	return n, kind, ""
}

// examples are numbers that are set aside for plays and examples (Ofcom, Arcep, ComReg): they are well
// formed, and the list of the numbers that are given out does not have them.
var examples = regexp.MustCompile(`^\+(44(1632960|7700900)\d{3}|3363998\d{4}|353209\d{6})$`)

func lengthReason(n *phonenumbers.PhoneNumber) string {
	switch phonenumbers.IsPossibleNumberWithReason(n) {
	case phonenumbers.TOO_SHORT:
		return "it has too few digits"
	case phonenumbers.TOO_LONG:
		return "it has too many digits"
	}
	return "no such number is given out in its country"
}

// National writes an E.164 number as its own country does, and anything else
// as it is.
func National(e164 string) string {
	if n, err := phonenumbers.Parse(e164, "ZZ"); err == nil {
		return phonenumbers.Format(n, phonenumbers.NATIONAL)
	}
	return e164
}

// Email reports what is wrong with an email address (RFC 5321's Mailbox, with
// a domain that has a dot); an empty text means nothing.
func Email(text string) string {
	a, err := mail.ParseAddress(text)
	if err != nil || a.Address != text {
		return "it is not an email address; write it as name@example.com"
	}
	if _, domain, _ := strings.Cut(text, "@"); !strings.Contains(domain, ".") {
		return "the part after @ has no dot; write it as name@example.com"
	}
	return ""
}

// Website reports what is wrong with a web address: it must be http or https
// with a host that has a dot (RFC 3986).
func Website(text string) string {
	u, err := url.Parse(text)
	switch {
	case err != nil || u.Scheme != "http" && u.Scheme != "https":
		return "it does not start with https:// or http://"
	case !strings.Contains(u.Hostname(), "."):
		return "it has no host such as www.example.com"
	case u.User != nil:
		return "it holds a user name; take that out"
	}
	return ""
}

// SameDomain reports whether an email lies on a website's domain: the part
// anyone can register, so that mail at shop.example answers for www.shop.example.
func SameDomain(email, website string) bool {
	u, err := url.Parse(website)
	if err != nil {
		return false
	}
	_, at, found := strings.Cut(strings.ToLower(email), "@")
	return found && registered(at) != "" && registered(at) == registered(strings.ToLower(u.Hostname()))
}

func registered(host string) string {
	d, err := publicsuffix.EffectiveTLDPlusOne(host)
	if err != nil {
		return ""
	}
	return d
}

// Country is the country (ISO 3166-1 alpha-2) of a number that begins with its country's code; empty where
// that is not told.
func Country(phone string) string {
	n, err := phonenumbers.Parse(phone, "ZZ")
	if err != nil {
		return ""
	}
	if region := phonenumbers.GetRegionCodeForNumber(n); len(region) == 2 && region != "ZZ" {
		return region
	}
	return ""
}

// International writes an E.164 number with spaces, for people of any country: +44 1632 960114. Anything else is as
// it is.
func International(e164 string) string {
	if n, err := phonenumbers.Parse(e164, "ZZ"); err == nil {
		return phonenumbers.Format(n, phonenumbers.INTERNATIONAL)
	}
	return e164
}
