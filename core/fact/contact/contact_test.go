package contact

import "testing"

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
