package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

func TestRulebookCheck(t *testing.T) {
	shipped, err := filepath.Glob("../../rulebooks/*.yaml")
	if err != nil || len(shipped) == 0 {
		t.Fatal(err)
	}
	data, err := os.ReadFile("../../rulebooks/fernlook.yaml")
	if err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	write := func(name, from, to string) string {
		path := filepath.Join(dir, name)
		if !strings.Contains(string(data), from) {
			t.Fatalf("%q is not in the rulebook", from)
		}
		if err := os.WriteFile(path, []byte(strings.Replace(string(data), from, to, 1)), 0o600); err != nil {
			t.Fatal(err)
		}
		return path
	}
	heavy, twin := write("heavy.yaml", "weight: 100", "weight: 101"), write("twin.yaml", "name: Fernlook", "name: Fernlook too")
	for _, c := range []struct {
		files  []string
		says   []string
		failed string
	}{
		{shipped, []string{"good", "Fernlook, search and map, weight 100.", "Ways to verify\n  Postcard: in 6 to 12 business days"}, ""},
		{append([]string{"--explain"}, shipped...), []string{
			"A shop that says all, with its photos\n  The listing can be ",
			"Takes one sitting a day, none past midnight: 4 hours a week shown open while shut.",
			"Cannot be listed. Waywren does not list this kind of location: ",
			"∅ Booking link: nothing goes. The record has no booking link.",
			"1 of 2 does not go.",
		}, ""},
		{[]string{heavy}, []string{"heavy.yaml:7: weight: "}, "one rulebook has mistakes"},
		{[]string{heavy, heavy}, nil, "2 rulebooks have mistakes"},
		{[]string{"../../rulebooks/fernlook.yaml", twin}, []string{"twin.yaml:1: id: \"fernlook\" is the id of "}, "one rulebook"},
		{[]string{filepath.Join(dir, "none.yaml")}, nil, "no such file"},
	} {
		var out bytes.Buffer
		cmd := rulebookCommand()
		cmd.SetOut(&out)
		cmd.SilenceErrors, cmd.SilenceUsage = true, true
		cmd.SetArgs(append([]string{"check"}, c.files...))
		err := cmd.Execute()
		if (err == nil) != (c.failed == "") || err != nil && !strings.Contains(err.Error(), c.failed) {
			t.Errorf("%q: %v", c.files, err)
		}
		for _, want := range c.says {
			if !strings.Contains(out.String(), want) {
				t.Errorf("%q: no %q in:\n%s", c.files, want, out.String())
			}
		}
	}
}

// The schema that is printed is JSON, and knows the keys of a rulebook.
func TestRulebookSchema(t *testing.T) {
	var out bytes.Buffer
	cmd := rulebookCommand()
	cmd.SetOut(&out)
	cmd.SetArgs([]string{"schema"})
	if err := cmd.Execute(); err != nil {
		t.Fatal(err)
	}
	var schema struct{ Properties map[string]any }
	if err := json.Unmarshal(out.Bytes(), &schema); err != nil || schema.Properties["worked"] == nil {
		t.Errorf("%v: %.80s", err, out.String())
	}
}
