package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/spf13/cobra"
)

// settledBy is what a server is told, by flags, by the environment and by a file.
func settledBy(t *testing.T, flags []string, environment map[string]string, file string) (o serving, err error) {
	t.Helper()
	for name, value := range environment {
		t.Setenv(name, value)
	}
	if file != "" {
		at := filepath.Join(t.TempDir(), "uvent.yaml")
		if err := os.WriteFile(at, []byte(file), 0o600); err != nil {
			t.Fatal(err)
		}
		flags = append(flags, "--settings", at)
	}
	c := &cobra.Command{Use: "serve", RunE: func(*cobra.Command, []string) error { return nil }, SilenceUsage: true, SilenceErrors: true}
	o.flags(c)
	settled(c)
	c.SetArgs(flags)
	return o, c.Execute()
}

func TestSettings(t *testing.T) {
	file := "listen: 127.0.0.1:3\naccount: file@agency.example\nproxy: [127.0.0.1, 10.0.0.0/8]\nlog-requests: false\nsmtp: mail.example:25\n"
	environment := map[string]string{
		"UVENT_LISTEN": "127.0.0.1:2", "UVENT_ACCOUNT": "environment@agency.example", "UVENT_PRIVATE_CONNECTORS": "10.1.0.0/16,10.2.0.0/16", "UVENT_UNKNOWN": "x",
	}
	o, err := settledBy(t, []string{"--listen", "127.0.0.1:1"}, environment, file)
	if err != nil {
		t.Fatal(err)
	}
	for what, is := range map[string][2]string{
		"the flag":        {o.listen, "127.0.0.1:1"},
		"the environment": {o.account, "environment@agency.example"},
		"the file":        {o.smtp, "mail.example:25"},
		"its list":        {strings.Join(o.proxies, " "), "127.0.0.1 10.0.0.0/8"},
		"the other list":  {strings.Join(o.private, " "), "10.1.0.0/16 10.2.0.0/16"},
		"nothing":         {o.log, "text"},
	} {
		if is[0] != is[1] {
			t.Errorf("%s says %q, and it is told %q", what, is[1], is[0])
		}
	}
	if o.requests {
		t.Errorf("it is told %+v", o)
	}
}

func TestSettingsThatAreNone(t *testing.T) {
	for file, says := range map[string]string{
		"lisen: x\n":              `there is no setting "lisen"`,
		"listen: [a, b]\n":        "listen: it is one, not a list",
		"log-requests: perhaps\n": "log-requests: ",
		"listen: x\n  bad: [\n":   "uvent.yaml: ",
		"settings: other.yaml\n":  `there is no setting "settings"`,
		"verbose: [true]\n":       "verbose: it is one",
	} {
		_, err := settledBy(t, nil, nil, file)
		if err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%q: %v, want %q", file, err, says)
		}
	}
	if _, err := settledBy(t, []string{"--settings", "/nowhere/uvent.yaml"}, nil, ""); err == nil || !strings.Contains(err.Error(), "/nowhere/uvent.yaml") {
		t.Errorf("a file that is not there: %v", err)
	}
	if _, err := settledBy(
		t,
		nil,
		map[string]string{"UVENT_VERBOSE": "perhaps"},
		"",
	); err == nil ||
		!strings.Contains(err.Error(), "UVENT_VERBOSE in the environment") {
		t.Errorf("a variable that is none: %v", err)
	}
}

// The documentation lists the settings as they are, and the file that ships is read.
func TestSettingsInTheDocs(t *testing.T) {
	var o serving
	c := &cobra.Command{Use: "serve"}
	o.flags(c)
	settled(c)
	docs, err := os.ReadFile("../../docs/operations.md")
	if err != nil || !strings.HasSuffix(string(docs), "\n"+settingsTable(c.Flags())) {
		t.Errorf("docs/operations.md does not end with what uvent serve --help prints: %v", err)
	}
	shipped, err := os.ReadFile("../../deploy/settings.yaml")
	if err != nil {
		t.Fatal(err)
	}
	o, err = settledBy(t, nil, nil, strings.ReplaceAll(string(shipped), "\n# ", "\n")) // with what it leaves out
	if err != nil || o.mailUser != "uvent" || o.health == "" || o.data.url == "" {
		t.Errorf("%v: %+v", err, o)
	}
}
