package main

import (
	"cmp"
	"context"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"uvent/desk/clockwork"
	"uvent/reach"
	"uvent/sealing"
	"uvent/store"
	"uvent/store/cluster"
)

// database is where Uvent keeps its data: the server that DATABASE_URL names,
// or one of our own in a folder.
type database struct {
	url     string // empty: DATABASE_URL, else our own
	dir     string
	keyFile string // empty: in that folder
}

func (d *database) flags(c *cobra.Command) {
	c.Flags().StringVar(&d.dir, "data", defaultData(), "folder of our own PostgreSQL; not used when DATABASE_URL names a server")
}

func (d *database) keyFlag(c *cobra.Command) {
	c.Flags().StringVar(
		&d.keyFile,
		"key",
		"",
		"file of the key that seals second factors and makes the secrets of letters; made where it is not there. "+
			"Else it is \"key\" in the folder of --data. Servers on one database have the same",
	)
}

// key is the server's key, which is not kept in the database.
func (d *database) key() (sealing.Key, error) {
	return sealing.Load(cmp.Or(d.keyFile, filepath.Join(d.dir, "key")))
}

// defaultData is beside the program's caller, except for root: PostgreSQL then
// runs as another user, who may not enter where root works.
func defaultData() string {
	if os.Getuid() == 0 {
		return "/var/lib/uvent"
	}
	return ".uvent"
}

// server is the database server that a program leans on.
type server struct {
	url    string // of the owner of its database
	ours   bool   // it is one of our own, in the folder
	joined bool   // another program runs it
	stop   func() // ends it where this program has started it
}

// start makes sure that the server runs: where another program runs it in the folder already, that one is joined.
func (d *database) start(ctx context.Context, log *slog.Logger) (server, error) {
	if url := cmp.Or(d.url, os.Getenv("DATABASE_URL")); url != "" {
		return server{url: url, stop: func() {}}, nil
	}
	c, err := cluster.Start(ctx, cluster.Options{Dir: d.dir, Log: log})
	if err != nil {
		return server{}, err
	}
	return server{url: c.URL("postgres"), ours: true, joined: c.Joined(), stop: c.Stop}, nil
}

// open starts or joins the server, brings the schema up to date and connects, for a command that is soon done.
func (d *database) open(ctx context.Context) (s *store.Store, stop func(), err error) {
	at, err := d.start(ctx, logger(false))
	if err != nil {
		return nil, nil, err
	}
	if s, err = migrated(ctx, at.url); err != nil {
		at.stop()
		return nil, nil, err
	}
	return s, func() { s.Close(); at.stop() }, nil
}

// migrated brings the schema up to date, and connects.
func migrated(ctx context.Context, url string) (*store.Store, error) {
	s, err := store.Open(ctx, url)
	if err != nil {
		return nil, err
	}
	if err := s.Migrate(ctx); err != nil {
		s.Close()
		return nil, err
	}
	return s, nil
}

// connect brings the schema up to date as the owner, and connects as the application, for a program that serves: on a server
// of our own by a login that owns nothing, else as whoever DATABASE_URL says.
func (d *database) connect(ctx context.Context, at server) (*store.Store, error) {
	owner, err := migrated(ctx, at.url)
	if err != nil || !at.ours {
		return owner, err
	}
	defer owner.Close()
	key, err := d.key()
	if err != nil {
		return nil, err
	}
	password := key.Token("database", "uvent_app")
	if at.joined { // whoever runs it has signed in with it, where they have the same key
		url, err := owner.LoginURL(password)
		if err != nil {
			return nil, err
		}
		s, err := store.Open(ctx, url)
		if err != nil {
			return nil, fmt.Errorf("another Uvent runs on %s with another key; give both the same file by --key: %w", d.dir, err)
		}
		return s, nil
	}
	if err := owner.Login(ctx, password); err != nil {
		return nil, err
	}
	url, err := owner.LoginURL(password)
	if err != nil {
		return nil, err
	}
	return store.Open(ctx, url)
}

// addressFile says, in the folder, where whoever runs its database serves.
func (d *database) addressFile() string { return filepath.Join(d.dir, "address") }

// announce says where this program serves, to whoever joins it, until it is withdrawn.
func (d *database) announce(at server, address string) (withdraw func(), err error) {
	if !at.ours || at.joined {
		return func() {}, nil
	}
	if err := os.WriteFile(d.addressFile(), []byte(address+"\n"), 0o644); err != nil {
		return nil, err
	}
	return func() { _ = os.Remove(d.addressFile()) }, nil
}

// announced is where whoever runs the database serves, in words.
func (d *database) announced() string {
	said, err := os.ReadFile(d.addressFile())
	if err != nil {
		return "on the folder " + d.dir
	}
	return "at " + strings.TrimSpace(string(said))
}

func migrateCommand() *cobra.Command {
	var data database
	c := &cobra.Command{
		Use:   "migrate",
		Short: "Bring the database's schema up to date",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			_, stop, err := data.open(c.Context())
			if err == nil {
				stop()
			}
			return err
		},
	}
	data.flags(c)
	return c
}

// with does something with a desk on the database, which reaches nothing outside.
func (d *database) with(ctx context.Context, do func(*app) error) error {
	s, stop, err := d.open(ctx)
	if err != nil {
		return err
	}
	defer stop()
	a, err := idle(s)
	if err != nil {
		return err
	}
	return do(a)
}

// idle is a desk on a database that reaches nothing outside, serves nobody, and seals nothing.
func idle(s *store.Store) (*app, error) {
	return newApp(clockwork.Parts{Store: s, Reach: reach.New("", ""), Clock: reach.RealClock{}, Key: sealing.New(), Log: logger(false)})
}
