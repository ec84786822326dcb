package main

import (
	"crypto/ed25519"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"uvent/desk/clockwork"
	"uvent/desk/ledger"
)

func logCommand() *cobra.Command {
	var data database
	var heads string
	verify := &cobra.Command{
		Use:   "verify",
		Short: "Go along the log's chain of hashes, and name what was changed, is gone or was put in",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return data.with(c.Context(), func(a *app) error {
				if heads != "" {
					if err := verifyHeads(c, a, data, heads); err != nil {
						return err
					}
				}
				events, faults, err := a.desk.Ledger.VerifyLog(c.Context())
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
			})
		},
	}
	data.flags(verify)
	data.keyFlag(verify)
	verify.Flags().StringVar(&heads, "head", "", "file of heads that went out, a line each, to hold the log against")
	c := &cobra.Command{Use: "log", Short: "What was done"}
	c.AddCommand(verify, replayCommand())
	return c
}

// verifyHeads holds the log against heads that went out.
func verifyHeads(c *cobra.Command, a *app, data database, file string) error {
	text, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	key, err := data.key()
	if err != nil {
		return err
	}
	agree, faults, err := a.desk.Ledger.VerifyHeads(c.Context(), string(text), key.Signer(clockwork.ForHeads).Public().(ed25519.PublicKey))
	if err != nil {
		return err
	}
	for _, f := range faults {
		fmt.Fprintf(c.OutOrStdout(), "%s: %s\n", file, f)
	}
	if len(faults) > 0 {
		return ledger.ErrLogBroken
	}
	fmt.Fprintf(c.OutOrStdout(), "%d heads, and the log agrees with each.\n", agree)
	return nil
}

func replayCommand() *cobra.Command {
	var data database
	var check bool
	c := &cobra.Command{
		Use:   "replay",
		Short: "Derive each listing anew from what happened to it, and keep it so where it is kept otherwise",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return data.with(c.Context(), func(a *app) error {
				done, err := a.desk.Ledger.Replay(c.Context(), !check)
				if err != nil {
					return err
				}
				out := c.OutOrStdout()
				for _, d := range done.Differ {
					fmt.Fprintf(out, "%s on %s\n  is kept as     %s\n  its events say %s\n", d.Location, d.Directory, d.Kept, d.Replayed)
				}
				fmt.Fprintf(out, "%d listings, %d events", done.Listings, done.Events)
				if done.Assumed > 0 {
					fmt.Fprintf(out, " (of %d the version of the rulebook is assumed)", done.Assumed)
				}
				switch n := len(done.Differ); {
				case n == 0:
					fmt.Fprintln(out, ": nothing differs.")
				case check:
					return fmt.Errorf("%d listings are kept otherwise than their events lead to", n)
				default:
					fmt.Fprintf(out, ": %d were kept otherwise, and are mended.\n", n)
				}
				return nil
			})
		},
	}
	data.flags(c)
	c.Flags().BoolVar(&check, "check", false, "only tell what differs")
	return c
}
