package main

import (
	"fmt"
	"os"
	"slices"
	"strings"

	"github.com/goccy/go-yaml"
	"github.com/spf13/cobra"
	"github.com/spf13/pflag"
)

// settled has each flag of a command that was not given take what the environment says, else what a file does. A flag
// --log-heads is UVENT_LOG_HEADS there, and log-heads in the file; what is listed has commas between, or is a list.
func settled(c *cobra.Command) {
	var file string
	c.Flags().StringVar(&file, "settings", "", "YAML file with more of these, by their names")
	c.PreRunE = func(c *cobra.Command, _ []string) error {
		if err := fromEnvironment(c.Flags()); err != nil {
			return err
		}
		return fromFile(c.Flags(), file)
	}
	c.Long = c.Short + ".\n\nEach setting is a flag, or a variable of the environment, or a line of the file that --settings names; the first that is\n" +
		"given counts."
	c.SetUsageFunc(func(c *cobra.Command) error {
		_, err := fmt.Fprintf(c.OutOrStderr(), "Usage:\n  %s\n\n%s", c.UseLine(), settingsTable(c.Flags()))
		return err
	})
}

func variable(flag string) string {
	return "UVENT_" + strings.ToUpper(strings.ReplaceAll(flag, "-", "_"))
}

// settable are the flags that are settings.
func settable(flags *pflag.FlagSet) (out []*pflag.Flag) {
	flags.VisitAll(func(f *pflag.Flag) {
		if f.Name != "help" {
			out = append(out, f)
		}
	})
	return out
}

func fromEnvironment(flags *pflag.FlagSet) error {
	for _, f := range settable(flags) {
		said, there := os.LookupEnv(variable(f.Name))
		if f.Changed || !there {
			continue
		}
		if err := flags.Set(f.Name, said); err != nil {
			return fmt.Errorf("%s in the environment: %w", variable(f.Name), err)
		}
	}
	return nil
}

func fromFile(flags *pflag.FlagSet, file string) error {
	if file == "" {
		return nil
	}
	text, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	var said map[string]any
	if err := yaml.Unmarshal(text, &said); err != nil {
		return fmt.Errorf("%s: %s", file, yaml.FormatError(err, false, true))
	}
	known := settable(flags)
	for name, value := range said {
		i := slices.IndexFunc(known, func(f *pflag.Flag) bool { return f.Name == name && name != "settings" })
		if i < 0 {
			return fmt.Errorf("%s: there is no setting %q; uvent serve --help lists them", file, name)
		}
		if known[i].Changed {
			continue
		}
		if err := set(flags, known[i], value); err != nil {
			return fmt.Errorf("%s: %s: %w", file, name, err)
		}
	}
	return nil
}

// set gives a flag what a file says for it.
func set(flags *pflag.FlagSet, f *pflag.Flag, value any) error {
	list, listed := value.([]any)
	if !listed {
		return flags.Set(f.Name, fmt.Sprint(value))
	}
	all, takes := f.Value.(pflag.SliceValue)
	if !takes {
		return fmt.Errorf("it is one, not a list")
	}
	texts := make([]string, len(list))
	for i, one := range list {
		texts[i] = fmt.Sprint(one)
	}
	f.Changed = true
	return all.Replace(texts)
}

// settingsTable lists the settings as Markdown.
func settingsTable(flags *pflag.FlagSet) string {
	var out strings.Builder
	out.WriteString("| Flag, and name in the file | In the environment | If it is not said | What it is |\n| --- | --- | --- | --- |\n")
	for _, f := range settable(flags) {
		standard := f.DefValue
		if standard == "" || standard == "[]" || standard == "false" {
			standard = "–"
		}
		if f.Name == "data" { // depends on who asks
			standard = ".uvent, or /var/lib/uvent for root"
		}
		_, usage := pflag.UnquoteUsage(f)
		fmt.Fprintf(&out, "| --%s | %s | %s | %s |\n", f.Name, variable(f.Name), standard, usage)
	}
	return out.String()
}
