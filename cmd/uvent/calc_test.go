package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"reflect"
	"strings"
	"testing"

	"uvent/core/fact/photo"
	"uvent/demo/paint"
	"uvent/rulebooks"
)

func TestCalc(t *testing.T) {
	for _, c := range []struct{ name, in, out string }{
		{"hours", `{"opening_hours":"mo-fr 9:00-12:00,13:00-17:00; PH off","zone":"America/Los_Angeles","country":"US","region":"WA",
			"at":["2026-11-24T09:12:00-08:00","2026-11-24T12:30:00-08:00","2026-11-26T10:00:00-08:00","2026-11-27T18:00:00Z"]}`,
			`{"normal":"Mo-Fr 09:00-12:00,13:00-17:00; PH off","open":[true,false,false,false],
			"next_change":["2026-11-24T12:00:00-08:00","2026-11-24T13:00:00-08:00","2026-11-30T09:00:00-08:00","2026-11-30T09:00:00-08:00"],"minutes_per_week":2100,"errors":[]}`},
		// The Friday after Thanksgiving is no public holiday in Oregon, as it is in Washington.
		{"hours", `{"opening_hours":"Mo-Fr 09:00-17:00; PH off","zone":"America/Los_Angeles","country":"US","region":"OR","at":["2026-11-27T18:00:00Z"]}`,
			`{"normal":"Mo-Fr 09:00-17:00; PH off","open":[true],"next_change":["2026-11-27T17:00:00-08:00"],"minutes_per_week":2400,"errors":[]}`},
		{"hours", `{"opening_hours":"24/7","zone":"America/Vancouver","country":"CA","region":"BC","at":["2026-11-24T09:12:00-08:00"]}`,
			`{"normal":"24/7","open":[true],"next_change":[null],"minutes_per_week":10080,"errors":[]}`},
		// The night on which the clocks go forward has no half past two; that on which they go back has two.
		{"hours", `{"opening_hours":"Mo-Su 01:00-02:30","zone":"America/Los_Angeles","country":"US","region":"WA","at":["2026-03-08T09:30:00Z","2026-11-01T08:30:00Z","2026-11-01T09:30:00Z"]}`,
			`{"normal":"Mo-Su 01:00-02:30","open":[true,true,true],"next_change":["2026-03-08T03:00:00-07:00","2026-11-01T02:30:00-08:00","2026-11-01T02:30:00-08:00"],"minutes_per_week":630,"errors":[]}`},
		{"hours", `{"opening_hours":"Mo 9-5; Tu sunrise-sunset","zone":"America/Los_Angeles","country":"US","region":"WA","at":[]}`,
			`{"normal":"","open":[],"next_change":[],"minutes_per_week":0,"errors":[{"column":4,"message":"\"9\" is no time; write hours and minutes, as in 09:00"},
			{"column":12,"message":"sunrise is not supported; give a time"}]}`},
		{"window", `{"min":6,"max":12,"unit":"business_days","from":"2026-11-24T09:12:00-08:00","zone":"America/Los_Angeles","country":"US","region":"WA","now":"2026-11-24T09:12:00-08:00"}`,
			`{"earliest":"2026-12-04","latest":"2026-12-14","state":"before"}`},
		{"window", `{"min":6,"max":12,"unit":"business_days","from":"2026-11-24T09:12:00-08:00","zone":"America/Los_Angeles","country":"US","region":"","now":"2026-12-11T23:59:00-08:00"}`,
			`{"earliest":"2026-12-03","latest":"2026-12-11","state":"due"}`},
		{"window", `{"min":0,"max":30,"unit":"days","from":"2026-11-24T09:12:00-08:00","zone":"America/Los_Angeles","country":"US","region":"WA","now":"2026-12-25T00:00:00-08:00"}`,
			`{"earliest":"2026-11-24","latest":"2026-12-24","state":"late"}`},
		{"window", `{"min":1,"max":1,"unit":"business_days","from":"2026-11-24T17:30:00-08:00","zone":"America/Los_Angeles","country":"US","region":"","cut_off_hour":17,"now":"2026-11-27T12:00:00-08:00"}`,
			`{"earliest":"2026-11-27","latest":"2026-11-27","state":"due"}`},
		{"differences", `{"record":{"name":"Tern Cycles","phone":"(360) 555-0142","opening_hours":"Mo-Fr 09:00-12:00,13:00-18:00","special_dates":[{"from":"2026-12-24","to":"2026-12-26","hours":""}]},
			"seen":{"name":"TERN CYCLES","phone":"+13605550124","opening_hours":"Mon-Fri 9am-6pm","photos":["https://a.example/1.jpg"]},"country":"US","region":"WA","zone":"America/Los_Angeles","now":"2026-11-24T09:12:00-08:00"}`,
			`{"lines":[{"fact":"name","record":"Tern Cycles","seen":"TERN CYCLES","mark":"≈","says":"","cost":{"open_while_shut_minutes":0,"shut_while_open_minutes":0,"wrong_days":0}},
			{"fact":"phone","record":"(360) 555-0142","seen":"(360) 555-0124","mark":"≠","says":"Two digits are swapped. Calls to that number reach somebody else.","cost":{"open_while_shut_minutes":0,"shut_while_open_minutes":0,"wrong_days":0}},
			{"fact":"hours","record":"Mon–Fri 9–12, 13–18","seen":"Mon–Fri 9–18","mark":"≠","says":"5 hours a week shown open while shut.","cost":{"open_while_shut_minutes":300,"shut_while_open_minutes":0,"wrong_days":0}},
			{"fact":"special_dates","record":"Thu 24 Dec–Sat 26 Dec closed","seen":"as usual","mark":"≠","says":"Wrong on 2 days of the next twelve months: Thu 24 Dec, Fri 25 Dec.","cost":{"open_while_shut_minutes":0,"shut_while_open_minutes":0,"wrong_days":2}}]}`},
		// Holidays by their rule are those of the place that is named.
		{"differences", `{"record":{"opening_hours":"Mo-Fr 09:00-18:00; PH off"},"seen":{"opening_hours":"Mo-Fr 09:00-18:00"},"country":"CA","region":"BC","zone":"America/Vancouver","now":"2027-06-20T12:00:00Z"}`,
			`{"lines":[{"fact":"hours","record":"Mon–Fri 9–18","seen":"Mon–Fri 9–18","mark":"=","says":"","cost":{"open_while_shut_minutes":0,"shut_while_open_minutes":0,"wrong_days":0}},
			{"fact":"special_dates","record":"Thu 1 Jul closed; Mon 2 Aug closed; Mon 6 Sep closed; Thu 30 Sep closed; Mon 11 Oct closed; Thu 11 Nov closed; Mon 21 Feb 2028 closed; Fri 14 Apr 2028 closed; Mon 22 May 2028 closed","seen":"as usual","mark":"≠",
			"says":"Wrong on 9 days of the next twelve months: Thu 1 Jul, Mon 2 Aug, Mon 6 Sep, and 6 more.","cost":{"open_while_shut_minutes":0,"shut_while_open_minutes":0,"wrong_days":9}}]}`},
		{"phone", `{"phone":"(360) 555-0142","country":"US"}`, `{"e164":"+13605550142","national":"(360) 555-0142","kind":"landline_or_mobile","valid":true,"reason":""}`},
		{"phone", `{"phone":"+1 250 555 0117","country":""}`, `{"e164":"+12505550117","national":"(250) 555-0117","kind":"landline_or_mobile","valid":true,"reason":""}`},
		{"phone", `{"phone":"555-01","country":"US"}`, `{"e164":"+155501","national":"55501","kind":"other","valid":false,"reason":"it has too few digits"}`},
		{"phone", `{"phone":"none","country":"US"}`, `{"e164":"","national":"","kind":"other","valid":false,"reason":"it cannot be read as a phone number"}`},
	} {
		var out bytes.Buffer
		if err := calc(c.name, strings.NewReader(c.in), &out); err != nil {
			t.Errorf("%s: %v", c.in, err)
			continue
		}
		var got, want any
		if err := json.Unmarshal(out.Bytes(), &got); err != nil {
			t.Fatal(err)
		}
		if err := json.Unmarshal([]byte(c.out), &want); err != nil {
			t.Fatal(err)
		}
		if !reflect.DeepEqual(got, want) {
			t.Errorf("%s\ngives %s\nwant  %s", c.in, out.String(), c.out)
		}
	}
}

func TestCalcSaysWhatIsWrong(t *testing.T) {
	window := func(part string) string {
		return `{"min":6,"max":12,"unit":"business_days","from":"2026-11-24T09:12:00-08:00","zone":"America/Los_Angeles","country":"US","region":"WA","now":"2026-11-24T09:12:00-08:00"` + part + `}`
	}
	for _, c := range [][3]string{
		{"hours", `{`, "unexpected EOF"}, {"hours", `{"openinghours":"24/7"}`, `unknown field "openinghours"`}, {"hours", `{"opening_hours":"24/7"}`, "zone: "},
		{"hours", `{"opening_hours":"24/7","zone":"UTC","country":"XX"}`, "country: "}, {"hours", `{"opening_hours":"24/7","zone":"UTC","at":["noon"]}`, "noon"},
		{"reach", `{"network":[]}`, "network: "}, {"reach", `{"network":{"type":"FeatureCollection"}}`, "no road"},
		{"window", window(`,"unit":"weeks"`), "unit: "}, {"window", window(`,"max":2`), "max: 2 is less than min"}, {"window", window(`,"min":-1`), "min: "},
		{"window", window(`,"zone":"Pacific"`), "zone: "}, {"window", window(`,"cut_off_hour":24`), "cut_off_hour: "}, {"window", `{"min":1,"max":2,"unit":"days","zone":"UTC"}`, "from: "},
		{"window", `{"min":1,"max":2,"unit":"days","zone":"UTC","from":"2026-11-24T09:12:00Z"}`, "now: "},
	} {
		if err := calc(c[0], strings.NewReader(c[1]), &bytes.Buffer{}); err == nil || !strings.Contains(err.Error(), c[2]) {
			t.Errorf("%s %s: %v, want %q", c[0], c[1], err, c[2])
		}
	}
}

func TestCalcReach(t *testing.T) {
	var out bytes.Buffer
	err := calc("reach", strings.NewReader(`{"pin":{"latitude":48.1,"longitude":-125},"minutes":20,"network":{"type":"FeatureCollection","features":[
		{"geometry":{"type":"LineString","coordinates":[[-125,48],[-125,49]]},"properties":{"speed_kmh":60}},
		{"geometry":{"type":"Point","coordinates":[-125,48]},"properties":{"name":"South","population":100}},
		{"geometry":{"type":"Point","coordinates":[-125,49]},"properties":{"name":"North","population":900}}]}}`), &out)
	if err != nil {
		t.Fatal(err)
	}
	var a reachAnswer
	if err := json.Unmarshal(out.Bytes(), &a); err != nil {
		t.Fatal(err)
	}
	if len(a.Towns) != 1 || a.Towns[0] != (reachedTown{"South", 100, 11.1}) || a.Outline.Type != "MultiPolygon" || len(a.Outline.Coordinates) != 1 {
		t.Fatalf("%s", out.String())
	}
	ring := a.Outline.Coordinates[0][0]
	north := 0.0
	for _, p := range ring {
		north = max(north, p[1])
	}
	// Twenty kilometres up the road, and the margin.
	if ring[0] != ring[len(ring)-1] || north < 48.28 || north > 48.3 {
		t.Errorf("the outline reaches to %g: %v", north, ring)
	}
}

func TestCalcPhoto(t *testing.T) {
	books, err := rulebooks.All()
	if err != nil {
		t.Fatal(err)
	}
	front, err := photo.Encode(paint.Front(1200, 800, "Spokeshave Cycle Works", "18", paint.Bicycles, 1), photo.JPEG)
	if err != nil {
		t.Fatal(err)
	}
	ask := func(data []byte, group string, focus photo.Focus) (a photoAnswer) {
		t.Helper()
		var out bytes.Buffer
		if err := calcPhoto(data, group, focus, books, &out); err != nil {
			t.Fatal(err)
		}
		if err := json.Unmarshal(out.Bytes(), &a); err != nil {
			t.Fatal(err)
		}
		return a
	}
	a := ask(front, "cover", photo.Middle)
	if a.Format != photo.JPEG || a.Width != 1200 || a.Refused != "" || a.Blurred || len(a.Hash) != 16 || len(a.Crops) != 9 ||
		a.Crops[0].Window != [4]int{0, 63, 1200, 738} ||
		len(a.Crops[0].Faults) != 0 {
		t.Errorf("%+v", a)
	}
	if a = ask(front, "logo", photo.Focus{X: 0, Y: .4, W: 1, H: .2}); len(a.Crops) != 8 || len(a.Crops[0].Faults) != 1 {
		t.Errorf("%+v", a)
	}
	if a = ask([]byte("text"), "cover", photo.Middle); !strings.Contains(a.Refused, "no picture") || len(a.Crops) != 0 {
		t.Errorf("%+v", a)
	}
	if err := calcPhoto(front, "cover", photo.Focus{X: 2}, books, &bytes.Buffer{}); err == nil {
		t.Error("a focus outside is taken")
	}
}

// The command reads files; what it cannot read it names.
func TestCalcPhotoCommand(t *testing.T) {
	dir := t.TempDir()
	file := filepath.Join(dir, "logo.png")
	data, err := photo.Encode(paint.Logo(400, 400, "Nettlewick Yarns", paint.Yarn, 1), photo.PNG)
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(file, data, 0o600); err != nil {
		t.Fatal(err)
	}
	run := func(args ...string) (string, error) {
		var out bytes.Buffer
		c := calcPhotoCommand()
		c.SetOut(&out)
		c.SetErr(&out)
		c.SetArgs(args)
		err := c.Execute()
		return out.String(), err
	}
	if out, err := run(file, "--group", "logo", "--rulebook", "../../rulebooks/fernlook.yaml"); err != nil || !strings.Contains(out, `"circle": true`) ||
		!strings.Contains(out, `"format": "png"`) {
		t.Errorf("%s, %v", out, err)
	}
	bad := filepath.Join(dir, "bad.yaml")
	if err := os.WriteFile(bad, []byte("id: Bad\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, args := range [][]string{{filepath.Join(dir, "none.png")}, {file, "--rulebook", bad}, {file, "--rulebook", filepath.Join(dir, "none.yaml")}, {}} {
		if out, err := run(args...); err == nil {
			t.Errorf("%q gives %s", args, out)
		}
	}
}

func TestCalcSays(t *testing.T) {
	shop := `"record": {"@context": "https://schema.org", "@type": "LocalBusiness", "name": "Spokeshave", "telephone": "+13605550142", "address": {"@type": "PostalAddress", "streetAddress": "18 Tern Street", "addressLocality": "Minnow Bay", "addressRegion": "WA", "addressCountry": "US"}}`
	wait := `{"now": "2026-11-24T09:12:00-08:00", "zone": "America/Los_Angeles", "country": "US", "region": "WA", "runs": 100, "listings": [{"weight": 1, "steps": [{"name": "a card", "min": 3, "max": 3, "unit": "business_days"`
	for _, c := range []struct{ name, in, want string }{
		{"ways", `{` + shop + `, "rulebook": "lanefolk", "now": "2026-11-24T09:12:00-08:00", "past": {"postcard": {"won": 4, "lost": 0}}}`, `"chance": 0.9,`},
		{"ways", `{` + shop + `, "rulebook": "lanefolk", "now": "2026-11-24T09:12:00-08:00", "past": {"postcard": {"won": -4}}}`, `past.postcard: write {"won": 0, "lost": 0}`},
		{"ways", `{` + shop + `, "rulebook": "lanefolk"}`, "now: write the moment"},
		{"risk", `{` + shop + `, "rulebook": "fernlook", "changed": ["name", "address", "phone"]}`, `"worst": "suspension"`},
		{"risk", `{` + shop + `, "rulebook": "fernlook", "changed": ["name"], "before": ["hours"]}`, `"cause": "second_edit"`},
		{"risk", `{` + shop + `, "rulebook": "fernlook", "before": ["shoes"]}`, `before.0: Fernlook takes no "shoes"`},
		{"forecast", wait + `}]}]}`, `"sure": "2026-12-01"`},
		{"forecast", wait + `, "chance": 2}]}]}`, "listings.0.steps.0.chance, maybe: write them from 0 to 1"},
		{"forecast", wait + `}]}, {}]}`, "listings.1.weight: 0 is not above 0"},
		{"forecast", `{"zone": "Mars"}`, `zone: "Mars" is no time zone`},
		{"match", `{"a": {"name": "Nettlewick Yarns", "locality": "Port Sable", "phone": "(360) 555-0109", "country": "US"}, "b": {"name": "Nettlewick Yarn Inc", "locality": "Port Sable", "phone": "360 555 0109", "country": "US"}}`, `"verdict": "same"`},
		{"match", `{"a": {"name": "Nettlewick Yarns", "lat": 48.1, "lng": -122.6}, "b": {"name": "Quay Wash", "lat": 48.9, "lng": -122.6}}`, `"verdict": "different"`},
		{"match", `{"a": {"name": "Nettlewick Yarns", "phone": "12", "country": "US"}, "b": {}}`, `calc match: a.phone: "12": `},
		{"match", `{"a": {}, "b": {"lat": 1}}`, "calc match: b.lat, lng: give both or neither"},
		{"match", `{"a": {"nom": "x"}}`, "unknown field"},
	} {
		var out strings.Builder
		err := calc(c.name, strings.NewReader(c.in), &out)
		if got := out.String() + fmt.Sprint(err); !strings.Contains(got, c.want) {
			t.Errorf("%s %s: %s", c.name, c.in, got)
		}
	}
}

// What cannot be compared is told by where it stands.
func TestCalcDifferencesSaysWhatIsWrong(t *testing.T) {
	for want, in := range map[string]string{
		"now: a time is wanted": `{"record":{},"seen":{},"zone":"America/Los_Angeles"}`,
		"no time zone":          `{"record":{},"seen":{},"zone":"Pacific","now":"2026-11-24T09:12:00-08:00"}`,
		"record: phone":         `{"record":{"phone":7},"seen":{},"zone":"America/Los_Angeles","now":"2026-11-24T09:12:00-08:00"}`,
		"record: \"fax\"":       `{"record":{"fax":"7"},"seen":{},"zone":"America/Los_Angeles","now":"2026-11-24T09:12:00-08:00"}`,
		"seen: \"fax\"":         `{"record":{},"seen":{"fax":"7"},"zone":"America/Los_Angeles","now":"2026-11-24T09:12:00-08:00"}`,
		"opening_hours":         `{"record":{"opening_hours":"when the light is on"},"seen":{},"zone":"America/Los_Angeles","now":"2026-11-24T09:12:00-08:00"}`,
		"to comes before from":  `{"record":{"special_dates":[{"from":"2026-12-26","to":"2026-12-24","hours":""}]},"seen":{},"zone":"America/Los_Angeles","now":"2026-11-24T09:12:00-08:00"}`,
		"special_dates: 0":      `{"record":{},"seen":{"special_dates":[{"from":"2026-12-26","to":"2026-12-26","hours":"late"}]},"zone":"America/Los_Angeles","now":"2026-11-24T09:12:00-08:00"}`,
	} {
		if err := calc("differences", strings.NewReader(in), &bytes.Buffer{}); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v, want %q", in, err, want)
		}
	}
}

// A page is read as it is described in docs/calc.md.
func TestCalcPage(t *testing.T) {
	file := filepath.Join(t.TempDir(), "page.html")
	page := `<html><body><h1>Tern Cycles</h1><p>Phone: (360) 555-0142</p><address>18 Tern St, Minnow Bay, WA 98990</address><h2>Holiday hours</h2><p>Dec 24: closed</p><img src="/a.jpg"></body></html>`
	if err := os.WriteFile(file, []byte(page), 0o600); err != nil {
		t.Fatal(err)
	}
	var out bytes.Buffer
	c := calcPageCommand()
	c.SetArgs([]string{file, "--address", "https://lists.example/p/1", "--today", "2026-11-24"})
	c.SetOut(&out)
	if err := c.Execute(); err != nil {
		t.Fatal(err)
	}
	var got, want any
	if err := json.Unmarshal(out.Bytes(), &got); err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(
		[]byte(
			`{"reads":"listing","half":false,"facts":{"name":"Tern Cycles","phone":"+13605550142","street":"18 Tern St","locality":"Minnow Bay","region":"WA","postal_code":"98990","country":"US",
		"special_dates":[{"from":"2026-12-24","to":"2026-12-24","hours":""}],"photos":["https://lists.example/a.jpg"]}}`,
		),
		&want,
	); err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(got, want) {
		t.Errorf("%s", out.String())
	}
}
