package main

import (
	"bufio"
	"fmt"
	"io"

	"github.com/spf13/cobra"

	"uvent/desk/people"
	"uvent/desk/problem"
)

func personCommand() *cobra.Command {
	var data database
	var p people.Person
	add := &cobra.Command{
		Use:   "add",
		Short: "Let somebody sign in; the password is the first line of standard input",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			ctx := c.Context()
			line, err := bufio.NewReader(c.InOrStdin()).ReadString('\n')
			if err != nil && err != io.EOF {
				return err
			}
			return data.with(ctx, func(a *app) error {
				added, err := a.desk.People.AddPerson(ctx, p, trimLine(line))
				if err != nil {
					return inFull(err)
				}
				fmt.Fprintf(c.OutOrStdout(), "%s may sign in as %s.\n", added.Name, added.Email)
				return nil
			})
		},
	}
	data.flags(add)
	add.Flags().StringVar(&p.Email, "email", "", "email to sign in with")
	add.Flags().StringVar(&p.Name, "name", "", "first and last name")
	add.Flags().StringVar(&p.Zone, "zone", "America/Los_Angeles", "time zone (IANA)")
	c := &cobra.Command{Use: "person", Short: "People who may sign in"}
	c.AddCommand(add)
	return c
}

func trimLine(s string) string {
	for len(s) > 0 && (s[len(s)-1] == '\n' || s[len(s)-1] == '\r') {
		s = s[:len(s)-1]
	}
	return s
}

// inFull adds to a problem what is wrong with each field.
func inFull(err error) error {
	if p, ok := err.(*problem.Problem); ok {
		for _, f := range p.Fields {
			err = fmt.Errorf("%w\n  %s: %s", err, f.Path, f.Message)
		}
	}
	return err
}
