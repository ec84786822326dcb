package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"path/filepath"
	"runtime/debug"
	"runtime/metrics"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"uvent/desk/clockwork"
	"uvent/httpapi"
	"uvent/httpapi/api"
	"uvent/reach"
	"uvent/rulebooks"
	"uvent/sealing"
	"uvent/store"
	"uvent/web"
)

func serveCommand() *cobra.Command {
	var o serving
	c := &cobra.Command{
		Use:   "serve",
		Short: "Serve Uvent",
		Args:  cobra.NoArgs,
		RunE:  func(c *cobra.Command, _ []string) error { return o.run(c.Context(), c.OutOrStdout()) },
	}
	o.flags(c)
	return c
}

// serving is what a server is told by its flags.
type serving struct {
	data                                           database
	listen, address, outside, account, smtp, books string
	heads, headsTo, health                         string
	mailUser, mailPassword, mailName               string
	proxies, private                               []string
	verbose                                        bool
}

func (o *serving) flags(c *cobra.Command) {
	o.data.flags(c)
	o.data.keyFlag(c)
	f := c.Flags()
	f.StringVar(&o.listen, "listen", "127.0.0.1:7300", "address to serve on")
	f.StringVar(
		&o.address,
		"address",
		"",
		"where owners reach this server from outside, such as https://uvent.agency.example; else the address that is listened on",
	)
	f.StringSliceVar(
		&o.proxies,
		"proxy",
		nil,
		"address or range of a proxy before this server, such as 127.0.0.1; what it says of where a request comes from (X-Forwarded-For) is believed",
	)
	f.StringVar(&o.health, "health", "", "address such as 127.0.0.1:7310 at which /healthz and /readyz are answered; else nowhere")
	f.StringVar(&o.heads, "log-heads", "", "file to which the signed head of the log is added once a day; else \"log-heads\" in the folder of --data")
	f.StringVar(&o.headsTo, "log-heads-to", "", "email to which it is written too")
	f.StringSliceVar(
		&o.private,
		"private-connectors",
		nil,
		"ranges such as 10.1.0.0/16 that are not public in which directories' own interfaces may be; else only public addresses are asked",
	)
	f.StringVar(&o.outside, "outside", "", "address of the stand-ins, such as http://127.0.0.1:7301; the clock is then theirs")
	f.StringVar(&o.account, "account", "listings@agency.example", "the account that directories know us by")
	rulebooksFlag(c, &o.books)
	f.StringVar(&o.smtp, "smtp", "", "mail server for letters to owners, as host:port")
	f.StringVar(&o.mailUser, "smtp-user", "", "who we are to the mail server, where it asks; it is then talked to over TLS alone")
	f.StringVar(&o.mailPassword, "smtp-password-file", "", "file whose first line is the password for that")
	f.StringVar(&o.mailName, "smtp-name", "", "name with which the mail server is greeted; else this machine's")
	f.BoolVarP(&o.verbose, "verbose", "v", false, "log more")
}

// run serves until the context ends.
func (o *serving) run(ctx context.Context, out io.Writer) error {
	log := logger(o.verbose)
	ranges, err := prefixes(o.private)
	if err != nil {
		return err
	}
	post, err := o.mailServer()
	if err != nil {
		return err
	}
	key, err := o.data.key()
	if err != nil {
		return err
	}
	at, err := o.data.start(ctx, log)
	if err != nil {
		return err
	}
	defer at.stop()
	s, err := o.data.connect(ctx, at)
	if err != nil {
		return err
	}
	defer s.Close()
	r := reach.New(o.outside, o.account).WithMail(post).WithPrivate(ranges)
	var clock reach.Clock = reach.RealClock{}
	if o.outside != "" {
		if clock, err = r.Follow(ctx); err != nil {
			return fmt.Errorf("the outside at %s: %w", o.outside, err)
		}
	}
	heads := clockwork.Heads{Append: appendTo(cmp.Or(o.heads, filepath.Join(o.data.dir, "log-heads"))), Letter: o.headsTo}
	app, err := newApp(s, r, clock, key, heads, log)
	if err != nil {
		return err
	}
	app.proxies = o.proxies
	if err := app.more(ctx, o.books); err != nil {
		return err
	}
	if o.health != "" {
		if _, err := health(ctx, o.health, s); err != nil {
			return err
		}
	}
	l, err := net.Listen("tcp", o.listen)
	if err != nil {
		return err
	}
	address := cmp.Or(strings.TrimSuffix(o.address, "/"), "http://"+l.Addr().String())
	app.desk.People.ServeAt(address)
	withdraw, err := o.data.announce(at, address)
	if err != nil {
		return err
	}
	defer withdraw()
	fmt.Fprintf(out, "Uvent is at http://%s\n", l.Addr())
	return app.serve(ctx, l)
}

// mailServer is the server that takes our letters.
func (o *serving) mailServer() (reach.MailServer, error) {
	s := reach.MailServer{Address: o.smtp, User: o.mailUser, Name: o.mailName}
	if s.Name == "" {
		s.Name, _ = os.Hostname() // where it cannot be had, another stands in for it
	}
	if (o.mailUser == "") != (o.mailPassword == "") {
		return s, errors.New("--smtp-user and --smtp-password-file go together")
	}
	if o.mailPassword != "" {
		said, err := os.ReadFile(o.mailPassword)
		if err != nil {
			return s, err
		}
		s.Password, _, _ = strings.Cut(string(said), "\n")
		s.Password = strings.TrimRight(s.Password, "\r")
	}
	return s, nil
}

// appendTo adds lines to a file, which its owner alone may read.
func appendTo(file string) func(line string) error {
	return func(line string) error {
		f, err := os.OpenFile(file, os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
		if err != nil {
			return err
		}
		_, err = fmt.Fprintln(f, line)
		return errors.Join(err, f.Sync(), f.Close())
	}
}

// prefixes reads ranges of addresses.
func prefixes(texts []string) (out []netip.Prefix, err error) {
	for _, text := range texts {
		p, err := netip.ParsePrefix(text)
		if err != nil {
			return nil, fmt.Errorf("--private-connectors %s: write a range such as 10.1.0.0/16", text)
		}
		out = append(out, p)
	}
	return out, nil
}

// app is Uvent itself, without the servers that it leans on.
type app struct {
	store    *store.Store
	reach    *reach.Reach
	desk     *clockwork.Desk
	accounts []api.DemoAccount
	proxies  []string
	log      *slog.Logger
}

func newApp(s *store.Store, r *reach.Reach, clock reach.Clock, key sealing.Key, heads clockwork.Heads, log *slog.Logger) (*app, error) {
	books, err := rulebooks.All()
	if err != nil {
		return nil, err
	}
	d, err := clockwork.New(clockwork.Parts{Store: s, Reach: r, Clock: clock, Books: books, Key: key, Heads: heads, Log: log})
	return &app{store: s, reach: r, desk: d, log: log}, err
}

func rulebooksFlag(c *cobra.Command, folder *string) {
	c.Flags().StringVar(folder, "rulebooks", "", "folder of more rulebooks, a .yaml file a directory; read anew whenever one changes")
}

// more adds the rulebooks of a folder; none where it is not named.
func (a *app) more(ctx context.Context, folder string) error {
	if folder == "" {
		return nil
	}
	return a.desk.Shelf.WithBooks(ctx, rulebooks.Folder{FS: os.DirFS(folder)})
}

// serve answers requests and does what falls due until the context ends, and
// returns when all of it has stopped.
func (a *app) serve(ctx context.Context, l net.Listener) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	handler, err := httpapi.New(
		ctx,
		httpapi.Options{
			Desk:     a.desk,
			Sessions: a.store.Sessions(),
			Files:    web.Files(),
			Accounts: a.accounts,
			Outside:  a.reach.Outside(),
			Proxies:  a.proxies,
			Log:      a.log,
		},
	)
	if err != nil {
		return err
	}
	server, l := httpapi.Listen(l, handler)
	server.BaseContext = func(net.Listener) context.Context { return ctx }
	go giveBack(ctx)
	worked := make(chan error, 1)
	go func() { worked <- a.desk.Run(ctx) }()
	served := make(chan error, 1)
	go func() { served <- server.Serve(l) }()
	select {
	case <-ctx.Done():
	case err = <-served:
		cancel()
	}
	last, done := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
	defer done()
	return errors.Join(ignoreClosed(err), ignoreClosed(server.Shutdown(last)), <-worked)
}

// What of its memory a server keeps though nothing is in it, in bytes, and how often that is looked at.
const (
	mostKept   = 12 << 20
	keptLooked = 15 * time.Second
)

// giveBack gives the system memory back that was taken for something large, such as a file that came in, until the context
// ends. By itself the runtime would keep it for minutes.
func giveBack(ctx context.Context) {
	look := time.NewTicker(keptLooked)
	defer look.Stop()
	kept := []metrics.Sample{{Name: "/memory/classes/heap/free:bytes"}}
	for {
		select {
		case <-ctx.Done():
			return
		case <-look.C:
		}
		if metrics.Read(kept); kept[0].Value.Uint64() > mostKept {
			debug.FreeOSMemory()
		}
	}
}

func ignoreClosed(err error) error {
	if errors.Is(err, http.ErrServerClosed) || errors.Is(err, context.DeadlineExceeded) {
		return nil
	}
	return err
}
