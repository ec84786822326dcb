package main

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"time"

	"github.com/spf13/cobra"

	"uvent/outside"
)

func outsideCommand() *cobra.Command {
	var data database
	var listen, smtp, start, faults string
	c := &cobra.Command{
		Use:   "outside",
		Short: "Serve the stand-ins: directories, post, phones, mailboxes and the clock",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			ctx := c.Context()
			var begins time.Time
			if start != "" {
				var err error
				if begins, err = time.Parse(time.RFC3339, start); err != nil {
					return fmt.Errorf("--start: %q is no time; write it as 2026-11-24T09:12:00-08:00", start)
				}
			}
			at, err := data.start(ctx, logger(false))
			if err != nil {
				return err
			}
			defer at.stop()
			o, err := outside.Open(ctx, at.url, smtp, begins, logger(false))
			if err != nil {
				return err
			}
			defer o.Close()
			if faults != "" {
				f, err := outside.ReadFaults(faults)
				if err == nil {
					err = o.SetFaults(ctx, f)
				}
				if err != nil {
					return fmt.Errorf("--faults: %w", err)
				}
			}
			l, err := net.Listen("tcp", listen)
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "http://%s\n", l.Addr())
			return serveOutside(ctx, o, l)
		},
	}
	data.flags(c)
	c.Flags().StringVar(&listen, "listen", "127.0.0.1:7301", "address to serve on")
	c.Flags().StringVar(&smtp, "smtp", "127.0.0.1:0", "address that the mailboxes take mail on")
	c.Flags().StringVar(&faults, "faults", "", "how the interfaces misbehave, such as fail_percent=30,busy_percent=10,busy_seconds=5; its page /faults lists them")
	c.Flags().StringVar(&start, "start", "", "when the clock of a new world starts (RFC 3339); without it the clock is the real one")
	return c
}

func serveOutside(ctx context.Context, o *outside.Outside, l net.Listener) error {
	server := &http.Server{Handler: o.Handler(), ReadHeaderTimeout: 10 * time.Second}
	ran := make(chan struct{})
	go func() { o.Run(ctx); close(ran) }()
	served := make(chan error, 1)
	go func() { served <- server.Serve(l) }()
	var err error
	select {
	case <-ctx.Done():
		last, done := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
		defer done()
		err = server.Shutdown(last)
	case err = <-served:
		return err
	}
	<-ran
	return ignoreClosed(err)
}
