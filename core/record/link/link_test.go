package link

import (
	"net/url"
	"testing"

	"uvent/core/record/record"
)

func TestTagged(t *testing.T) {
	tags := record.Tags{On: true, Medium: "listing", Campaign: "minnow-bay"}
	for in, want := range map[string]string{
		"https://a.example":                          "https://a.example?utm_source=fernlook&utm_medium=listing&utm_campaign=minnow-bay",
		"https://a.example/p?x=1#top":                "https://a.example/p?x=1&utm_source=fernlook&utm_medium=listing&utm_campaign=minnow-bay#top",
		"https://a.example/?utm_source=card&b=2":     "https://a.example/?utm_source=card&b=2&utm_medium=listing&utm_campaign=minnow-bay",
		"https://a.example/?bad=%zz":                 "https://a.example/?bad=%zz",
		"":                                           "",
		"https://a.example/?q=a%20b&empty":           "https://a.example/?q=a%20b&empty&utm_source=fernlook&utm_medium=listing&utm_campaign=minnow-bay",
		"https://a.example/%C3%A9t%C3%A9?utm_medium": "https://a.example/%C3%A9t%C3%A9?utm_medium&utm_source=fernlook&utm_campaign=minnow-bay",
	} {
		got := Tagged(in, "fernlook", tags)
		if got != want {
			t.Errorf("%s becomes %s", in, got)
		}
		if again := Tagged(got, "fernlook", tags); again != got {
			t.Errorf("tagged twice: %s", again)
		}
	}
	if got := Tagged("https://a.example", "fernlook", record.Tags{Medium: "listing"}); got != "https://a.example" {
		t.Errorf("tags that are off give %s", got)
	}
	if got := Slug(" SCW-03 Minnow Bay! "); got != "scw-03-minnow-bay" {
		t.Errorf("the slug is %q", got)
	}
}

// Whatever the address: a page that could be read stays the same page.
func FuzzTagged(f *testing.F) {
	f.Add("https://a.example/p?x=1#top", "b c")
	f.Add("https://a.example?utm_source=&", "&=")
	f.Fuzz(func(t *testing.T, address, campaign string) {
		got := Tagged(address, "fernlook", record.Tags{On: true, Medium: "listing", Campaign: campaign})
		before, err := url.Parse(address)
		if err != nil || address == "" {
			return
		}
		values, err := url.ParseQuery(before.RawQuery)
		if err != nil {
			return
		}
		after, err := url.Parse(got)
		if err != nil || after.Host != before.Host || after.Path != before.Path || after.Fragment != before.Fragment {
			t.Fatalf("%q becomes %q, %v", address, got, err)
		}
		for key := range values {
			if after.Query().Get(key) != values.Get(key) || len(after.Query()[key]) != len(values[key]) {
				t.Fatalf("%q loses %q: %q", address, key, got)
			}
		}
	})
}
