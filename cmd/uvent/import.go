package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"github.com/google/uuid"
	"github.com/spf13/cobra"

	"uvent/core/record/bring"
	"uvent/desk/imports"
	"uvent/desk/people"
	"uvent/desk/records"
)

func importCommand() *cobra.Command {
	var data database
	var client, as string
	dry := false
	c := &cobra.Command{
		Use:   "import FILE",
		Short: "Bring a file of locations in: the rows that need nothing, or nothing but a look; see docs/csv.md",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			ctx := c.Context()
			file, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			return data.with(ctx, func(a *app) error {
				name := filepath.Base(args[0])
				f, err := a.desk.Imports.Foresee(ctx, client, file)
				if err != nil {
					return err
				}
				say(c.OutOrStdout(), name, client, f)
				if dry {
					return nil
				}
				return inFull(a.bringIn(ctx, c.OutOrStdout(), name, client, as, file))
			})
		},
	}
	data.flags(c)
	c.Flags().StringVar(&client, "client", "", "client of the rows that name none; it is added where there is none of that name")
	c.Flags().StringVar(&as, "as", "", "email of the person who brings it in")
	c.Flags().BoolVar(&dry, "dry-run", false, "say what it would do, and do nothing")
	return c
}

// say tells what a file would do, and names each row that is not simply new or the same.
func say(out io.Writer, name, client string, f imports.Foreseen) {
	by := map[bring.Standing]int{}
	without, guesses := 0, 0
	for _, r := range f.Rows {
		by[r.Standing]++
		if r.Without() {
			without++
		}
		if r.Guess {
			guesses++
		}
	}
	fmt.Fprintf(out, "%s: %d rows, read as %s.\n", name, len(f.Rows), f.Table.Encoding)
	if client != "" && !f.Client {
		fmt.Fprintf(out, "The client %s would be added.\n", client)
	}
	fmt.Fprintf(out, "%d new, %d changed, %d unchanged, %d said twice, %d to decide, %d wait; %d without a cell, %d with a guess.\n",
		by[bring.New], by[bring.Changed], by[bring.Unchanged], by[bring.Twice], by[bring.Decide], by[bring.Waits], without, guesses)
	for _, s := range f.Table.Skipped {
		fmt.Fprintf(out, "line %d: left out: %s\n", s.Line, s.Says)
	}
	for _, r := range f.Rows {
		if r.Standing == bring.Decide {
			fmt.Fprintf(out, "line %d: to decide: %s\n", r.Line, strings.Join(r.Reasons, " "))
		}
		for _, p := range r.Problems {
			does := "waits"
			if p.Left {
				does = "comes in without it"
			}
			fmt.Fprintf(out, "line %d: %s: %s: %q: %s\n", r.Line, does, p.Column, p.Value, p.Reason)
		}
		for _, g := range r.Readings {
			if !g.Sure && r.Standing.ComesIn() {
				fmt.Fprintf(out, "line %d: a guess: %s: %q read as %s\n", r.Line, g.Column, g.From, g.To)
			}
		}
	}
}

// bringIn brings a file in, in somebody's name.
func (a *app) bringIn(ctx context.Context, out io.Writer, name, client, as string, file []byte) error {
	if as == "" {
		return errors.New("say who brings it in with --as EMAIL, or only look with --dry-run")
	}
	who, err := a.desk.People.ByEmail(ctx, as)
	if err != nil {
		return err
	}
	if !who.May(people.Edit) {
		return fmt.Errorf("%s may not change records", as)
	}
	id, err := a.clientOf(ctx, who, client)
	if err != nil {
		return err
	}
	in, err := a.desk.Imports.Start(ctx, who, id, name, file)
	if err != nil {
		return err
	}
	if in, err = a.desk.Imports.Finish(ctx, who.Actor(), in.ID); err != nil {
		return err
	}
	if in, err = a.desk.Imports.BringIn(ctx, who.Actor(), in.ID); err != nil {
		return err
	}
	if in, err = a.desk.Imports.Finish(ctx, who.Actor(), in.ID); err != nil {
		return err
	}
	fmt.Fprintf(out, "%d are in. What is left, and taking it back: /record/import/%s\n", in.Counts.In, in.ID)
	return nil
}

// clientOf is the client of a name, added where there is none; nil for no name.
func (a *app) clientOf(ctx context.Context, who people.Person, name string) (*uuid.UUID, error) {
	if name == "" {
		return nil, nil
	}
	all, err := a.desk.Records.Clients(ctx)
	if err != nil {
		return nil, err
	}
	for _, c := range all {
		if strings.EqualFold(c.Name, name) {
			return &c.ID, nil
		}
	}
	c, err := a.desk.Records.AddClient(ctx, who.Actor(), records.ClientFacts{Name: name})
	return &c.ID, err
}
