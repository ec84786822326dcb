package main

import (
	"bytes"
	"encoding/json"
	"os"
	"strings"
	"testing"
)

func TestCalcFitAndCompose(t *testing.T) {
	shop := `{"@context": "https://schema.org", "@type": "LocalBusiness", "name": "Spokeshave Cycle Works", "telephone": "+13605550142", "url": "https://spokeshave.example/minnow-bay",
		"address": {"@type": "PostalAddress", "streetAddress": "18 Tern Street", "addressLocality": "Minnow Bay", "addressRegion": "WA", "postalCode": "98990", "addressCountry": "US"},
		"additionalType": "Bicycle repair", "openingHoursSpecification": [
		{"@type": "OpeningHoursSpecification", "dayOfWeek": ["Tuesday", "Wednesday", "Thursday", "Friday"], "opens": "09:00", "closes": "12:00"},
		{"@type": "OpeningHoursSpecification", "dayOfWeek": ["Tuesday", "Wednesday", "Thursday", "Friday"], "opens": "13:00", "closes": "18:00"}]}`
	text, err := os.ReadFile("../../rulebooks/murmurhall.yaml")
	if err != nil {
		t.Fatal(err)
	}
	ask := func(name, rules string, more string) (out map[string]any, failed error) {
		t.Helper()
		quoted, err := json.Marshal(rules)
		if err != nil {
			t.Fatal(err)
		}
		var b bytes.Buffer
		if failed = calc(name, strings.NewReader(`{"record": `+shop+`, "rulebook": `+string(quoted)+more+`}`), &b); failed != nil {
			return nil, failed
		}
		if err := json.Unmarshal(b.Bytes(), &out); err != nil {
			t.Fatal(err)
		}
		return out, nil
	}
	out, err := ask("fit", string(text), `, "photos": [{"group": "logo", "width": 900, "height": 900}]`)
	if err != nil {
		t.Fatal(err)
	}
	states := map[string]string{}
	for _, i := range out["items"].([]any) {
		item := i.(map[string]any)
		states[item["key"].(string)] = item["state"].(string)
	}
	if out["directory"] != "murmurhall" || states["name"] != "good" || states["hours"] != "changed" || states["text.story"] != "missing" ||
		states["photos.logo"] != "good" ||
		states["photos.cover"] != "missing" {
		t.Errorf("%v", out)
	}
	if out, err = ask("compose", "murmurhall", ""); err != nil {
		t.Fatal(err)
	}
	if facts := out["facts"].(map[string]any); facts["name"] != "Spokeshave Cycle Works" || facts["hours"] != "Tu-Fr 09:00-18:00" ||
		facts["locality"] != "Minnow Bay" {
		t.Errorf("%v", facts)
	}
	for rules, says := range map[string]string{"nowhere": "neither a rulebook's text nor the id", "id: x\nname: y\n": "is missing; add it"} {
		if _, err := ask("fit", rules, ""); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%q: %v", rules, err)
		}
	}
	if err := calc("fit", strings.NewReader(`{"record": 4, "rulebook": "fernlook"}`), &bytes.Buffer{}); err == nil || !strings.Contains(err.Error(), "record") {
		t.Errorf("%v", err)
	}
}
