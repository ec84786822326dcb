package main

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"strings"

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
			password, err := firstLine(c)
			if err != nil {
				return err
			}
			return data.with(ctx, func(a *app) error {
				added, err := a.desk.People.AddPerson(ctx, p, password)
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
	c.AddCommand(add, resetCommand())
	return c
}

func resetCommand() *cobra.Command {
	var data database
	var email string
	var factors bool
	c := &cobra.Command{
		Use:   "reset",
		Short: "Give somebody another password, the first line of standard input; their second factor too can be taken off",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			password, err := firstLine(c)
			if err != nil {
				return err
			}
			return data.with(c.Context(), func(a *app) error {
				p, err := a.desk.People.ResetHere(c.Context(), email, password, factors)
				if err != nil {
					return inFull(err)
				}
				fmt.Fprintf(c.OutOrStdout(), "%s signs in with the new password.\n", p.Name)
				return nil
			})
		},
	}
	data.flags(c)
	c.Flags().StringVar(&email, "email", "", "email that they sign in with")
	c.Flags().BoolVar(&factors, "without-second-factor", false, "take off the codes of their app, their passkeys and their recovery codes")
	return c
}

// firstLine is the first line of standard input.
func firstLine(c *cobra.Command) (string, error) {
	line, err := bufio.NewReader(c.InOrStdin()).ReadString('\n')
	if errors.Is(err, io.EOF) {
		err = nil
	}
	return strings.TrimRight(line, "\r\n"), err
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
