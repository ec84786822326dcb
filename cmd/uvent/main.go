// Command uvent is the whole of Uvent: the server, the stand-ins for the world
// outside, and the demo.
package main

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"os/signal"
	"syscall"

	"github.com/spf13/cobra"

	"uvent/bounded"
)

func main() {
	bounded.Serve()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	err := root().ExecuteContext(ctx)
	bounded.End()
	if err != nil {
		fmt.Fprintln(os.Stderr, "uvent: "+err.Error())
		os.Exit(1)
	}
}

func root() *cobra.Command {
	c := &cobra.Command{Use: "uvent", Short: "Create, claim and verify a business's listings, and keep them right", SilenceUsage: true, SilenceErrors: true}
	c.AddCommand(
		serveCommand(),
		demoCommand(),
		outsideCommand(),
		migrateCommand(),
		personCommand(),
		importCommand(),
		regionCommand(),
		logCommand(),
		backupCommand(),
		restoreCommand(),
		calcCommand(),
		rulebookCommand(),
	)
	return c
}

// logger writes what an operator should see; verbose adds the rest.
func logger(verbose bool) *slog.Logger {
	level := slog.LevelWarn
	if verbose {
		level = slog.LevelInfo
	}
	return slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: level}))
}
