package verification

import (
	"strings"
	"testing"
)

func TestCodeIn(t *testing.T) {
	for _, c := range []struct {
		text   string
		digits int
		want   string
	}{
		{"It is 482913.", 6, "482913"}, {"482 913", 6, "482913"}, {"4-8-2-9-1-3", 6, "482913"}, {"482\u00a0913", 6, "482913"},
		{"482913, I repeat: 482 913", 6, "482913"}, {"482913 or 482914", 6, ""}, {"Call (360) 555-0142", 6, ""}, {"Call 555-0142", 6, ""},
		{"12345", 6, ""}, {"1234567", 6, ""}, {"", 6, ""}, {"482913", 0, ""}, {"Suite 12, code 48291", 5, "48291"},
	} {
		if got := CodeIn(c.text, c.digits); got != c.want {
			t.Errorf("%q, %d digits: %q, want %q", c.text, c.digits, got, c.want)
		}
		if c.want != "" && (strings.Contains(WithoutCode(c.text, c.digits), c.want) || CodeIn(WithoutCode(c.text, c.digits), c.digits) != "") {
			t.Errorf("%q still tells it: %q", c.text, WithoutCode(c.text, c.digits))
		}
	}
}
