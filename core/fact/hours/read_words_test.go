package hours

import "testing"

func TestReadWords(t *testing.T) {
	for text, want := range map[string]string{
		"Tue–Fri 9–12, 13–18; Sat 9–16":              "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00",
		"Mon–Fri 8:30–17\nSat closed":                "Mo-Fr 08:30-17:00; Sa off",
		"round the clock":                            "24/7",
		"Monday to Friday 10 – 17:30":                "Mo-Fr 10:00-17:30",
		"Mon, Wed 9–12":                              "Mo,We 09:00-12:00",
		"every day 6–24":                             "Mo-Su 06:00-24:00",
		"Fri–Sat 18–26; public holidays closed":      "Fr,Sa 18:00-02:00; PH off",
		"whenever the light is on":                   "",
		"":                                           "",
		"Tue–Fri 9–12, and after lunch if you knock": "",
	} {
		s, ok := ReadWords(text)
		if ok != (want != "") || ok && s.String() != want {
			t.Errorf("%q: %q, %v; want %q", text, s.String(), ok, want)
		}
	}
	// What Words writes of a usual week is read back the same.
	for _, text := range []string{"Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00", "24/7", "Mo-Su 06:00-24:00; PH off", "Fr-Mo 22:00-03:30", "Mo-Fr 08:05-08:10"} {
		s, _, err := Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		back, ok := ReadWords(s.Words())
		if !ok || back.Week().Minutes() != s.Week().Minutes() || Compare(back.Week(), s.Week()).OpenWhileShut+Compare(back.Week(), s.Week()).ShutWhileOpen != 0 {
			t.Errorf("%s as %q is read as %q", text, s.Words(), back)
		}
	}
}
