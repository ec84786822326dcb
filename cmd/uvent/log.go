package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"uvent/desk/ledger"
	"uvent/reach"
)

func logCommand() *cobra.Command {
	var data database
	verify := &cobra.Command{
		Use:   "verify",
		Short: "Go along the log's chain of hashes, and name what was changed, is gone or was put in",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			s, stop, err := data.open(c.Context())
			if err != nil {
				return err
			}
			defer stop()
			app, err := newApp(s, reach.New("", ""), reach.RealClock{}, logger(false))
			if err != nil {
				return err
			}
			events, faults, err := app.desk.Ledger.VerifyLog(c.Context())
			if err != nil {
				return err
			}
			for _, f := range faults {
				fmt.Fprintf(c.OutOrStdout(), "event %d: %s\n", f.Event, f.Says)
			}
			if len(faults) > 0 {
				return ledger.ErrLogBroken
			}
			fmt.Fprintf(c.OutOrStdout(), "%d events, and each is as it was.\n", events)
			return nil
		},
	}
	data.flags(verify)
	c := &cobra.Command{Use: "log", Short: "What was done"}
	c.AddCommand(verify)
	return c
}
