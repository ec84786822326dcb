// Command uvent is the whole of Uvent: the server, the stand-ins for the world
// outside, and the demo.
package main

import (
	"context"
	"fmt"
	"io"
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
		connectorCommand(),
	)
	return c
}

// logs are written as text or as JSON.
type logs func(*slog.HandlerOptions) slog.Handler

func logsIn(form string, to io.Writer) (logs, error) {
	switch form {
	case "text":
		return func(o *slog.HandlerOptions) slog.Handler { return slog.NewTextHandler(to, o) }, nil
	case "json":
		return func(o *slog.HandlerOptions) slog.Handler { return slog.NewJSONHandler(to, o) }, nil
	}
	return nil, fmt.Errorf("--log %s: choose text or json", form)
}

// upTo writes what an operator should see; verbose adds the rest.
func (l logs) upTo(verbose bool) *slog.Logger {
	level := slog.LevelWarn
	if verbose {
		level = slog.LevelInfo
	}
	return slog.New(l(&slog.HandlerOptions{Level: level}))
}

// logger writes as text, for a command that is soon done.
func logger(verbose bool) *slog.Logger {
	text, _ := logsIn("text", os.Stderr)
	return text.upTo(verbose)
}
