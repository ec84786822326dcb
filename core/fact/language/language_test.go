package language

import (
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/calendar"
)

var filled = regexp.MustCompile(`\{\w+\}`)

// Every language says all that English says, with the same things filled in, and nothing besides.
func TestEveryLanguageSaysAll(t *testing.T) {
	english := all[English]
	for l, s := range all {
		if len(s.Days) != 7 || len(s.Months) != 12 || s.Name == "" || len(s.Numbers) != len(english.Numbers) {
			t.Errorf("%s: %+v", l, s)
		}
		for key, text := range s.Texts {
			want, known := english.Texts[key]
			if !known {
				t.Errorf("%s says %s, which English does not", l, key)
			}
			has, wants := filled.FindAllString(text, -1), filled.FindAllString(want, -1)
			slices.Sort(has)
			slices.Sort(wants)
			if !slices.Equal(slices.Compact(has), slices.Compact(wants)) {
				t.Errorf("%s, %s: fills in %v, not %v", l, key, has, wants)
			}
			if text == "" || text != strings.TrimSpace(text) {
				t.Errorf("%s, %s: %q", l, key, text)
			}
		}
		for key := range english.Texts {
			if _, known := s.Texts[key]; !known {
				t.Errorf("%s does not say %s", l, key)
			}
		}
	}
	if langs := All(); langs[0] != English || len(langs) < 2 || !Language("fr").Known() || Language("xx").Known() || Of("xx") != English {
		t.Errorf("%v", langs)
	}
}

// What is said somewhere has a text, and every text is said somewhere: in the computation, or on the page of an owner.
func TestEveryTextIsSaid(t *testing.T) {
	said := map[string]bool{}
	prefixes := map[string]bool{}
	literal := regexp.MustCompile(`"([a-z_]+(?:\.[a-z_]+)*\.?)"`)
	onPage := regexp.MustCompile(`say\(\s*(?:[\w.]+(?: [!=><]+ \w+)? \? )?'(\w+)'(?: : '(\w+)')?`)
	for _, root := range []string{"../../../core", "../../../desk", "../../../web/src/owner"} {
		err := filepath.WalkDir(root, func(path string, d os.DirEntry, err error) error {
			if err != nil || d.IsDir() || strings.HasSuffix(path, "_test.go") {
				return err
			}
			data, err := os.ReadFile(path)
			if err != nil {
				return err
			}
			if strings.HasSuffix(path, ".go") && (strings.Contains(string(data), "fact/language") || strings.Contains(path, "fact/language")) {
				for _, m := range literal.FindAllStringSubmatch(string(data), -1) {
					said[m[1]] = true
					if strings.HasSuffix(m[1], ".") {
						prefixes[m[1]] = true
					}
				}
			}
			for _, m := range onPage.FindAllStringSubmatch(string(data), -1) {
				said["page."+m[1]], said["page."+m[2]] = true, true
			}
			return nil
		})
		if err != nil {
			t.Fatal(err)
		}
	}
	said["page.no_card"], said["page.no_call"] = true, true // by what may be said instead
	built := regexp.MustCompile(`^(shot|equipment|part|kind|minded|claim|code|thing|film|call|paper|video|card|page\.thing)`)
	for _, key := range slices.Sorted(maps.Keys(all[English].Texts)) {
		if strings.HasPrefix(key, "page.") && !built.MatchString(key) && !said[key] {
			t.Errorf("nobody says %s", key)
		}
		if !strings.HasPrefix(key, "page.") && !said[key] && !built.MatchString(key) &&
			!slices.ContainsFunc(slices.Collect(maps.Keys(prefixes)), func(p string) bool { return strings.HasPrefix(key, p) }) {
			t.Errorf("nobody says %s", key)
		}
	}
}

func TestSay(t *testing.T) {
	zone, err := time.LoadLocation("America/Vancouver")
	if err != nil {
		t.Fatal(err)
	}
	now := time.Date(2026, 11, 24, 17, 12, 0, 0, time.UTC)
	for _, c := range []struct {
		in   Language
		got  func(Language) string
		want string
	}{
		{English, func(l Language) string { return l.Day(calendar.Date{Year: 2026, Month: 12, Day: 3}) }, "Thu 3 Dec"},
		{"fr", func(l Language) string { return l.Day(calendar.Date{Year: 2026, Month: 12, Day: 3}) }, "jeu. 3 déc."},
		{English, func(l Language) string { return l.Moment(now.Add(time.Hour), now, zone) }, "today at 10:12"},
		{"fr", func(l Language) string { return l.Moment(now.Add(24*time.Hour), now, zone) }, "demain à 09:12"},
		{English, func(l Language) string { return l.Moment(now.Add(72*time.Hour), now, zone) }, "on Fri 27 Nov at 09:12"},
		{"fr", func(l Language) string { return l.Until(now, zone) }, "mar. 24 nov. à 09:12"},
		{English, func(l Language) string { return l.Number(3) }, "Three"},
		{"fr", func(l Language) string { return l.Number(13) }, "13"},
		{"xx", func(l Language) string { return l.Say("today") }, "today"},
		{English, func(l Language) string { return l.Say("nothing of the kind") }, "nothing of the kind"},
		// What is filled in is not filled in again.
		{English, func(l Language) string { return l.Say("name.or", "name", "{legal}", "legal", "Ltd") }, "“{legal}” or “Ltd”"},
		{"fr", func(l Language) string { return l.Texts("page")["alone"] }, "À vous seul, sans compte."},
	} {
		if got := c.got(c.in); got != c.want {
			t.Errorf("%s: %q, want %q", c.in, got, c.want)
		}
	}
}
