package main

import (
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"uvent/core/rule/rulebook"
)

func rulebookCommand() *cobra.Command {
	c := &cobra.Command{Use: "rulebook", Short: "Work on directories' rulebooks; see docs/rulebook.md"}
	var explain bool
	check := &cobra.Command{
		Use: "check FILE...", Short: "Check rulebooks, and say what each comes to in sentences", Args: cobra.MinimumNArgs(1),
		RunE: func(c *cobra.Command, files []string) error { return checkRulebooks(files, explain, c.OutOrStdout()) },
	}
	check.Flags().BoolVar(&explain, "explain", false, "say, too, what becomes of a few made-up locations there, fact by fact")
	c.AddCommand(check)
	c.AddCommand(&cobra.Command{
		Use: "schema", Short: "Print the JSON Schema of rulebooks, for an editor that checks as you type", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			_, err := c.OutOrStdout().Write(rulebook.Schema())
			return err
		},
	})
	return c
}

// checkRulebooks reads each file; a mistake is told with its file, line and path.
func checkRulebooks(files []string, explain bool, out io.Writer) error {
	bad, ids := 0, map[string]string{}
	for _, file := range files {
		data, err := os.ReadFile(file)
		if err != nil {
			return err
		}
		b, problems := rulebook.Parse(file, data)
		if other, taken := ids[b.ID]; problems == nil && taken {
			problems = []rulebook.Problem{
				{File: file, Line: 1, Path: "id", Message: fmt.Sprintf("%q is the id of %s already; give this directory its own", b.ID, other)},
			}
		}
		if problems != nil {
			bad++
			for _, p := range problems {
				fmt.Fprintln(out, p.Error())
			}
			continue
		}
		ids[b.ID] = file
		fmt.Fprintf(out, "%s: good\n\n%s, %s, weight %d. %s\n", file, b.Name, b.Kind, b.Weight, b.Summary)
		for _, s := range b.Sayings(func(id string) string { return id }) {
			fmt.Fprintf(out, "\n%s\n", s.About)
			for _, line := range s.Says {
				fmt.Fprintf(out, "  %s\n", line)
			}
		}
		if explain {
			explainRulebook(&b, out)
		}
		fmt.Fprintln(out)
	}
	switch {
	case bad == 1:
		return errors.New("one rulebook has mistakes; they stand above")
	case bad > 1:
		return fmt.Errorf("%d rulebooks have mistakes; they stand above", bad)
	}
	return nil
}
