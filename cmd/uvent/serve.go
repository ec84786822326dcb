package main

import (
	"cmp"
	"context"
	"crypto/tls"
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
	runtimemetrics "runtime/metrics"
	"strings"
	"sync/atomic"
	"time"

	"github.com/spf13/cobra"

	"uvent/desk/clockwork"
	"uvent/httpapi"
	"uvent/httpapi/api"
	"uvent/metrics"
	"uvent/reach"
	"uvent/rulebooks"
	"uvent/store"
	"uvent/web"
)

func serveCommand() *cobra.Command {
	var o serving
	c := &cobra.Command{
		Use:   "serve",
		Short: "Serve Uvent",
		Args:  cobra.NoArgs,
		RunE:  func(c *cobra.Command, _ []string) error { return o.run(c.Context(), c.OutOrStdout(), c.ErrOrStderr()) },
	}
	o.flags(c)
	settled(c)
	return c
}

// serving is what a server is told by its flags.
type serving struct {
	data                                           database
	listen, address, outside, account, smtp, books string
	heads, headsTo, health, log                    string
	cert, certKey                                  string
	mailUser, mailPassword, mailName, mailFrom     string
	box, boxUser, boxPassword                      string
	proxies, private                               []string
	requests, verbose                              bool
	replica                                        string
	drain                                          time.Duration
}

func (o *serving) flags(c *cobra.Command) {
	o.data.flags(c)
	o.data.keyFlag(c)
	f := c.Flags()
	f.StringVar(&o.data.url, "database", "", "address of a PostgreSQL (postgres://…), as DATABASE_URL says it too; else our own in the folder of --data")
	f.StringVar(&o.replica, "replica", "", "address of a standby of that PostgreSQL, from which boards are read; else from itself")
	f.StringVar(&o.cert, "tls-cert", "", "file of the certificate, with the chain, to serve TLS with; it is read anew when it changes")
	f.StringVar(&o.certKey, "tls-key", "", "file of the key to it")
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
	f.StringVar(&o.health, "health", "", "address such as 127.0.0.1:7310 at which /healthz, /readyz and /metrics are answered; else nowhere")
	f.DurationVar(
		&o.drain,
		"drain",
		5*time.Second,
		"where --health is named: for how long it is not ready and takes requests all the same when it ends, so that a proxy sends them elsewhere",
	)
	f.StringVar(&o.log, "log", "text", "how the log is written: text, or json")
	f.BoolVar(&o.requests, "log-requests", true, "log each request")
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
	f.StringVar(&o.mailFrom, "smtp-from", "", "address that letters come from, with answers going to whoever writes; else whoever writes sends")
	f.StringVar(
		&o.box,
		"imap",
		"",
		"mail server whose INBOX is read, as host:port: what directories and owners write to the account, and letters that come back; over TLS alone",
	)
	f.StringVar(&o.boxUser, "imap-user", "", "who we are to it")
	f.StringVar(&o.boxPassword, "imap-password-file", "", "file whose first line is the password for that")
	f.BoolVarP(&o.verbose, "verbose", "v", false, "log more")
}

// run serves until the context ends.
func (o *serving) run(ctx context.Context, out, logTo io.Writer) error {
	logs, err := logsIn(o.log, logTo)
	if err != nil {
		return err
	}
	log := logs.upTo(o.verbose)
	r, err := o.outward()
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
	if o.replica != "" {
		if err := s.WithReplica(ctx, o.replica); err != nil {
			return err
		}
	}
	var clock reach.Clock = reach.RealClock{}
	if o.outside != "" {
		if clock, err = r.Follow(ctx); err != nil {
			return fmt.Errorf("the outside at %s: %w", o.outside, err)
		}
	}
	heads := clockwork.Heads{Append: appendTo(cmp.Or(o.heads, filepath.Join(o.data.dir, "log-heads"))), Letter: o.headsTo}
	counted := metrics.New(s)
	r = r.WithWord(counted.Letter)
	app, err := newApp(clockwork.Parts{Store: s, Reach: r, Clock: clock, Key: key, Heads: heads, Heard: counted.Call, Log: log})
	if err != nil {
		return err
	}
	app.proxies = o.proxies
	if o.requests {
		app.access = logs.upTo(true)
	}
	if app.tls, err = serverTLS(o.cert, o.certKey, log); err != nil {
		return err
	}
	if err := app.more(ctx, o.books); err != nil {
		return err
	}
	if o.health != "" {
		app.heard = func(h httpapi.Heard) { counted.Request(h.Operation, h.Method, h.Status, h.Took) }
		app.drain = o.drain
		_, stop, err := health(o.health, app, counted.Handler())
		if err != nil {
			return err
		}
		defer stop()
	}
	l, err := net.Listen("tcp", o.listen)
	if err != nil {
		return err
	}
	address := here(l.Addr(), app.tls != nil)
	app.desk.People.ServeAt(cmp.Or(strings.TrimSuffix(o.address, "/"), address))
	withdraw, err := o.data.announce(at, app.desk.People.Address())
	if err != nil {
		return err
	}
	defer withdraw()
	fmt.Fprintf(out, "Uvent is at %s\n", address)
	first, err := app.desk.People.InviteFirst(ctx)
	if err != nil {
		return err
	}
	if first != "" {
		fmt.Fprintf(out, "Nobody can sign in yet. The first administrator comes in at %s within a day.\n", first)
	}
	return app.serve(ctx, l)
}

// here is where it is reached on this machine.
func here(l net.Addr, overTLS bool) string {
	if overTLS {
		return "https://" + l.String()
	}
	return "http://" + l.String()
}

// outward is how it reaches what lies outside.
func (o *serving) outward() (*reach.Reach, error) {
	ranges, err := prefixes(o.private)
	if err != nil {
		return nil, err
	}
	post, err := o.mailServer()
	if err != nil {
		return nil, err
	}
	box, err := o.mailBox()
	if err != nil {
		return nil, err
	}
	return reach.New(o.outside, o.account).WithMail(post).WithPrivate(ranges).WithMailBox(box), nil
}

// mailServer is the server that takes our letters.
func (o *serving) mailServer() (reach.MailServer, error) {
	s := reach.MailServer{Address: o.smtp, User: o.mailUser, Name: o.mailName, From: o.mailFrom}
	if s.Name == "" {
		s.Name, _ = os.Hostname() // where it cannot be had, another stands in for it
	}
	if (o.mailUser == "") != (o.mailPassword == "") {
		return s, errors.New("--smtp-user and --smtp-password-file go together")
	}
	var err error
	s.Password, err = firstLineOf(o.mailPassword)
	return s, err
}

// mailBox is where letters to us come.
func (o *serving) mailBox() (b reach.MailBox, err error) {
	b = reach.MailBox{Address: o.box, User: o.boxUser}
	if (o.box == "") != (o.boxUser == "") || (o.box == "") != (o.boxPassword == "") {
		return b, errors.New("--imap, --imap-user and --imap-password-file go together")
	}
	b.Password, err = firstLineOf(o.boxPassword)
	return b, err
}

// firstLineOf is the first line of a file; empty where none is named.
func firstLineOf(file string) (string, error) {
	if file == "" {
		return "", nil
	}
	said, err := os.ReadFile(file)
	line, _, _ := strings.Cut(string(said), "\n")
	return strings.TrimRight(line, "\r"), err
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
	access   *slog.Logger        // nil: requests are not logged
	heard    func(httpapi.Heard) // nil: nobody counts them
	tls      *tls.Config         // nil: a proxy before it serves TLS, or nobody
	drain    time.Duration       // for which requests are still taken when it ends
	ends     atomic.Bool         // it is not ready any more
}

// newApp makes it. The rulebooks that ship are those of the stand-ins, which are there where the outside is.
func newApp(p clockwork.Parts) (_ *app, err error) {
	if p.Reach.Outside() != "" {
		if p.Books, err = rulebooks.All(); err != nil {
			return nil, err
		}
	}
	d, err := clockwork.New(p)
	return &app{store: p.Store, reach: p.Reach, desk: d, log: p.Log}, err
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

// How long what is under way may take when a server ends.
const lastPatience = 20 * time.Second

// serve answers requests and does what falls due until the context ends, and returns when all of it has stopped: nothing new
// is begun in the background then, but requests are answered for as long as whoever stands before this server may still send
// some, and those that are under way to their end.
func (a *app) serve(ctx context.Context, l net.Listener) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	asking, cut := context.WithCancel(context.WithoutCancel(ctx))
	defer cut()
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
			Access:   a.access,
			Heard:    a.heard,
		},
	)
	if err != nil {
		return err
	}
	server, l := httpapi.Listen(l, handler)
	server.BaseContext = func(net.Listener) context.Context { return asking }
	go giveBack(ctx)
	worked := make(chan error, 1)
	go func() { worked <- a.desk.Run(ctx) }()
	served := make(chan error, 1)
	go func() {
		if server.TLSConfig = a.tls; a.tls != nil {
			served <- server.ServeTLS(l, "", "")
			return
		}
		served <- server.Serve(l)
	}()
	select {
	case <-ctx.Done():
		a.ends.Store(true)
		time.Sleep(a.drain)
	case err = <-served:
		cancel()
	}
	last, done := context.WithTimeout(asking, lastPatience)
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
	kept := []runtimemetrics.Sample{{Name: "/memory/classes/heap/free:bytes"}}
	for {
		select {
		case <-ctx.Done():
			return
		case <-look.C:
		}
		if runtimemetrics.Read(kept); kept[0].Value.Uint64() > mostKept {
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
