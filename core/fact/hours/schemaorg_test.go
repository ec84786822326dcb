package hours

import (
	"encoding/json"
	"strings"
	"testing"
)

func TestSpecificationsComeBack(t *testing.T) {
	for text, lost := range map[string]string{
		"Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00": "",
		"24/7":                              "",
		"Fr,Sa 18:00-02:00; Su 12:00-24:00": "",
		"Mo-Fr 09:00-17:00; 2026 Nov 26 off; 2026 Dec 24-26 10:00-12:00,13:00-15:00": "",
		"Mo-Fr 09:00-17:00; 2026 Dec 31 20:00-03:00":                                 "",
		"Mo-Fr 09:00-17:00; PH off":                                                  "public holidays",
		"Mo-Fr 09:00-17:00; Jun-Aug 08:00-20:00":                                     "season",
		`Mo-Fr 09:00-17:00; Sa "by appointment"`:                                     "by appointment",
		"Sa 10:00-36:00":                                                             "runs on for a day",
	} {
		s := parsed(t, text)
		week, dates, said := s.Specifications()
		if lost == "" {
			if back := FromSpecifications(append(week, dates...)); back.String() != s.String() || said != nil {
				t.Errorf("%s comes back as %s, lost %v", text, back, said)
			}
		} else if !strings.Contains(strings.Join(said, "; "), lost) {
			t.Errorf("%s: lost %v, want %q", text, said, lost)
		}
	}
}

// Others write one without a list, and several weekdays in one.
func TestSpecificationsAsOthersWriteThem(t *testing.T) {
	for in, want := range map[string]string{
		`[{"dayOfWeek": ["Tuesday", "https://schema.org/Friday"], "opens": "09:00", "closes": "12:00"}]`:                                   "Tu,Fr 09:00-12:00",
		`{"dayOfWeek": "Monday", "opens": "09:00", "closes": "12:00"}`:                                                                     "Mo 09:00-12:00",
		`[{"dayOfWeek": ["Saturday"], "opens": "22:00", "closes": "02:00"}, {"dayOfWeek": "Sunday", "opens": "10:00", "closes": "12:00"}]`: "Sa 22:00-02:00; Su 10:00-12:00",
	} {
		var list Specifications
		if err := json.Unmarshal([]byte(in), &list); err != nil {
			t.Errorf("%s: %v", in, err)
		} else if got := FromSpecifications(list).String(); got != want {
			t.Errorf("%s is read as %s, want %s", in, got, want)
		}
	}
	for _, in := range []string{`4`, `[4]`, `[{"dayOfWeek": 4}]`, `[{"dayOfWeek": ["Monday"], "opens": 9}]`} {
		var list Specifications
		if err := json.Unmarshal([]byte(in), &list); err == nil {
			t.Errorf("%s is read as %+v", in, list)
		}
	}
}
