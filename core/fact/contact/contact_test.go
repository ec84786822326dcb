package contact

import (
	"strings"
	"testing"
)

func TestReadPhone(t *testing.T) {
	for _, c := range []struct {
		text, country  string
		e164, national string
		valid          bool
	}{
		{"(360) 555-0142", "US", "+13605550142", "(360) 555-0142", true},
		{"360.555.0142", "us", "+13605550142", "(360) 555-0142", true},
		{"+1 604 555 0133", "US", "+16045550133", "(604) 555-0133", true},
		{"604-555-0133", "CA", "+16045550133", "(604) 555-0133", true},
		{"+44 20 7946 0958", "US", "+442079460958", "020 7946 0958", true},
		{"01632 960114", "GB", "+441632960114", "01632 960114", true}, // set aside for examples
		{"01632 860114", "GB", "+441632860114", "01632 860114", false},
		{"360 555 014", "US", "+1360555014", "360555014", false},
		{"360 555 01422", "US", "+136055501422", "36055501422", false},
		{"(360) 555-0142 ext. 3", "US", "+13605550142", "(360) 555-0142 ext. 3", false},
		{"ask inside", "US", "", "", false},
		{"", "US", "", "", false},
		{"360 555 0142", "", "", "", false},
	} {
		p := ReadPhone(c.text, c.country)
		if p.E164 != c.e164 || p.National != c.national || p.Valid != c.valid || p.Valid == (p.Reason != "") {
			t.Errorf("%q in %q: %+v", c.text, c.country, p)
		}
	}
	if p := ReadPhone("800-555-0100", "US"); p.Kind != "toll_free" {
		t.Errorf("an 800 number is %q", p.Kind)
	}
	if got := National("+13605550142"); got != "(360) 555-0142" {
		t.Errorf("national form %q", got)
	}
}

func TestEmailAndWebsite(t *testing.T) {
	for text, ok := range map[string]bool{
		"shop@spokeshave.example": true, "a.b+c@x.example": true, "shop@localhost": false, "shop": false,
		"Shop <shop@x.example>": false, "a@b@c.example": false, "": false,
	} {
		if (Email(text) == "") != ok {
			t.Errorf("%q: %q", text, Email(text))
		}
	}
	for text, ok := range map[string]bool{
		"https://spokeshave.example/minnow-bay": true, "http://x.example": true, "spokeshave.example": false,
		"ftp://x.example": false, "https://x": false, "https://me:pw@x.example": false, "javascript:alert(1)": false,
	} {
		if (Website(text) == "") != ok {
			t.Errorf("%q: %q", text, Website(text))
		}
	}
}

func TestSameDomain(t *testing.T) {
	for _, c := range []struct {
		email, site string
		want        bool
	}{
		{"shop@spokeshave.example", "https://www.spokeshave.example/minnow-bay", true},
		{"shop@mail.Spokeshave.example", "https://spokeshave.example", true},
		{"shop@other.example", "https://spokeshave.example", false},
		{"shop@co.uk", "https://spokeshave.co.uk", false},
		{"nobody", "https://spokeshave.example", false},
	} {
		if got := SameDomain(c.email, c.site); got != c.want {
			t.Errorf("%s and %s: %v", c.email, c.site, got)
		}
	}
}

// A phone that is valid is read again, from its own E.164, as the same.
func FuzzReadPhone(f *testing.F) {
	f.Add("(360) 555-0142", "US")
	f.Add("+44 1632 960123 ext. 7", "GB")
	f.Add("tel:01-23-45;phone-context=+33", "FR")
	f.Fuzz(func(t *testing.T, text, country string) {
		p := ReadPhone(text, country)
		if !p.Valid {
			if p.Reason == "" {
				t.Errorf("%q in %q is refused without a word", text, country)
			}
			return
		}
		if again := ReadPhone(p.E164, "ZZ"); !again.Valid || again.E164 != p.E164 || again.National != p.National {
			t.Errorf("%q in %q is %+v, and %s is %+v", text, country, p, p.E164, again)
		}
		if e164, reason := E164(text, country); e164 != p.E164 || reason != "" {
			t.Errorf("%q in %q: %q, %q", text, country, e164, reason)
		}
	})
}

// An email address or a web address that is taken is one word on one line, whatever stands in it.
func FuzzEmailAndWebsite(f *testing.F) {
	for _, s := range []string{"hello@nettlewick.example", `"a b"@c.example`, "https://nettlewick.example/old-wharf?x=1", "http://[::1]:80/", "a@b.example\r\nBcc: c@d.example"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		for what, wrong := range map[string]string{"email": Email(text), "website": Website(text)} {
			if wrong == "" && text != "" && strings.ContainsFunc(text, func(r rune) bool { return r < ' ' || r == 0x7f }) {
				t.Errorf("%q is taken as a %s", text, what)
			}
		}
		SameDomain(text, text)
		Country(text)
		International(text)
		National(text)
	})
}
