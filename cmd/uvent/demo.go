package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"os"
	"os/exec"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"uvent/demo"
	"uvent/desk/clockwork"
	"uvent/httpapi/api"
	"uvent/outside"
	"uvent/reach"
	"uvent/sealing"
	"uvent/store"
)

func demoCommand() *cobra.Command {
	var data database
	var listen, listenOutside, books string
	var fresh, verbose bool
	c := &cobra.Command{
		Use:   "demo",
		Short: "Run PostgreSQL, the outside and Uvent with the demo's world",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return runDemo(c.Context(), data, listen, listenOutside, books, fresh, logger(verbose), c.OutOrStdout())
		},
	}
	data.flags(c)
	c.Flags().StringVar(&listen, "listen", "127.0.0.1:7300", "address to serve on; another port is taken where this one is in use")
	c.Flags().StringVar(&listenOutside, "listen-outside", "127.0.0.1:7301", "address of the outside, likewise")
	rulebooksFlag(c, &books)
	c.Flags().BoolVar(&fresh, "fresh", false, "begin the world anew")
	c.Flags().BoolVarP(&verbose, "verbose", "v", false, "log more")
	return c
}

// The demo's schema says whether its world is whole.
const (
	beingLaid = "demo, being laid"
	unhung    = "demo, its photos being drawn"
	laid      = "demo"
)

func runDemo(ctx context.Context, data database, listen, listenOutside, books string, fresh bool, log *slog.Logger, out io.Writer) (err error) {
	at, err := data.start(ctx, log)
	if err != nil {
		return err
	}
	defer at.stop()
	if at.joined {
		return fmt.Errorf("Uvent runs already %s; end it first, or give this one a folder of its own with --data", data.announced())
	}
	url := at.url
	key, err := data.key()
	if err != nil {
		return err
	}
	label, err := demoLabel(ctx, url, fresh)
	if err != nil {
		return err
	}
	world, smtp, stopWorld, err := startOutside(url, listenOutside)
	if err != nil {
		return err
	}
	defer stopWorld()
	s, err := data.connect(ctx, at)
	if err != nil {
		return err
	}
	defer s.Close()
	r := reach.New(world, demo.Account).WithMail(reach.MailServer{Address: smtp})
	clock, err := r.Follow(ctx)
	if err != nil {
		return err
	}
	if label == beingLaid {
		if err := layDemo(ctx, s, r, clock, key, log); err != nil {
			return err
		}
		if err := store.SetLabel(ctx, url, unhung); err != nil {
			return err
		}
		label = unhung
	}
	app, err := newApp(clockwork.Parts{Store: s, Reach: r, Clock: clock, Key: key, Log: log})
	if err != nil {
		return err
	}
	if err := app.more(ctx, books); err != nil {
		return err
	}
	for _, p := range demo.People {
		app.accounts = append(app.accounts, api.DemoAccount{Name: p.Name, Email: p.Email, Password: demo.Password})
	}
	l, err := listenNear(listen)
	if err != nil {
		return err
	}
	address := named(l.Addr())
	app.desk.People.ServeAt(address)
	withdraw, err := data.announce(at, address)
	if err != nil {
		return err
	}
	defer withdraw()
	fmt.Fprintf(
		out,
		"Uvent is at %s\nThe outside is at %s\nSign in as %s with the password %s. Ctrl-C ends it all.\n",
		address,
		world,
		demo.People[0].Email,
		demo.Password,
	)
	if label == unhung {
		go app.hang(ctx, url)
	}
	return app.serve(ctx, l)
}

// demoLabel says how far the demo's world is laid, in a database that holds nothing else; a world that is to be laid anew is
// taken down.
func demoLabel(ctx context.Context, url string, fresh bool) (string, error) {
	label, exists, err := store.Label(ctx, url)
	switch {
	case err != nil:
		return "", err
	case exists && label != laid && label != beingLaid && label != unhung:
		return "", errors.New("this database holds somebody's data, not a demo; name another with DATABASE_URL")
	case !fresh && (label == laid || label == unhung):
		return label, nil
	}
	return beingLaid, errors.Join(store.Drop(ctx, url), outside.Drop(ctx, url), store.SetLabel(ctx, url, beingLaid))
}

// hang hangs the demo's photos, and then says that its world is whole; where that fails it is gone on with later.
func (a *app) hang(ctx context.Context, url string) {
	const pause = 5 * time.Second
	for {
		err := demo.Hang(ctx, a.desk)
		if err == nil {
			err = store.SetLabel(ctx, url, laid)
		}
		if err == nil {
			return
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(pause):
			a.log.Error("the demo's photos are not all hung yet", "error", err)
		}
	}
}

// named is an address of this machine by its name, which passkeys need.
func named(at net.Addr) string {
	host, port, err := net.SplitHostPort(at.String())
	if ip := net.ParseIP(host); err == nil && ip.IsLoopback() {
		host = "localhost"
	}
	return "http://" + net.JoinHostPort(host, port)
}

// layDemo lays the world with a desk that works only for that.
func layDemo(ctx context.Context, s *store.Store, r *reach.Reach, clock *reach.SharedClock, key sealing.Key, log *slog.Logger) error {
	app, err := newApp(clockwork.Parts{Store: s, Reach: r, Clock: clock, Key: key, Log: log})
	if err != nil {
		return err
	}
	working, cancel := context.WithCancel(ctx)
	ran := make(chan error, 1)
	go func() { ran <- app.desk.Run(working) }()
	err = demo.Lay(ctx, app.desk, r.Outside())
	cancel()
	return errors.Join(err, <-ran)
}

// listenNear listens on an address, or on any free port where it is in use.
func listenNear(address string) (net.Listener, error) {
	l, err := net.Listen("tcp", address)
	if errors.Is(err, syscall.EADDRINUSE) {
		host, _, _ := net.SplitHostPort(address)
		return net.Listen("tcp", net.JoinHostPort(host, "0"))
	}
	return l, err
}

// freeNear is an address that nobody listens on: the one given or, where that is
// in use, any free port beside it.
func freeNear(address string) (string, error) {
	l, err := listenNear(address)
	if err != nil {
		return "", err
	}
	defer l.Close()
	return l.Addr().String(), nil
}

// startOutside starts the stand-ins as a process of their own, which ends with
// this one. It returns their address, and that of their mail server.
func startOutside(databaseURL, listen string) (address, smtp string, stop func(), err error) {
	if listen, err = freeNear(listen); err == nil {
		smtp, err = freeNear("127.0.0.1:0")
	}
	if err != nil {
		return "", "", nil, err
	}
	self, err := os.Executable()
	if err != nil {
		return "", "", nil, err
	}
	cmd := exec.Command(self, "outside", "--listen", listen, "--smtp", smtp, "--start", demo.Begins.Format(time.RFC3339))
	cmd.Env = append(os.Environ(), "DATABASE_URL="+databaseURL)
	cmd.Stderr = os.Stderr
	// Its own group, so that Ctrl-C reaches us first and everything ends in order.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGTERM}
	said, err := cmd.StdoutPipe()
	if err != nil {
		return "", "", nil, err
	}
	if err := cmd.Start(); err != nil {
		return "", "", nil, err
	}
	stop = func() { cmd.Process.Signal(syscall.SIGTERM); cmd.Wait() }
	line, err := bufio.NewReader(said).ReadString('\n')
	if err != nil {
		stop()
		return "", "", nil, fmt.Errorf("the outside did not start: %v", cmd.ProcessState)
	}
	return strings.TrimSpace(line), smtp, stop, nil
}
