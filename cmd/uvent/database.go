package main

import (
	"cmp"
	"context"
	"os"
	"path/filepath"

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

// start makes sure that the server runs, and gives the address of its owner. stop ends it if it is ours.
func (d *database) start(ctx context.Context) (url string, stop func(), err error) {
	if url := os.Getenv("DATABASE_URL"); url != "" {
		return url, func() {}, nil
	}
	c, err := cluster.Start(ctx, cluster.Options{Dir: d.dir})
	if err != nil {
		return "", nil, err
	}
	return c.URL("postgres"), c.Stop, nil
}

// open starts the server, connects and brings the schema up to date.
func (d *database) open(ctx context.Context) (s *store.Store, stop func(), err error) {
	url, stopServer, err := d.start(ctx)
	if err != nil {
		return nil, nil, err
	}
	if s, err = d.connect(ctx, url); err != nil {
		stopServer()
		return nil, nil, err
	}
	return s, func() { s.Close(); stopServer() }, nil
}

// connect brings the schema up to date as the owner, and connects as the application: on a server of our own by a login that
// owns nothing, else as whoever DATABASE_URL says.
func (d *database) connect(ctx context.Context, url string) (*store.Store, error) {
	owner, err := store.Open(ctx, url)
	if err != nil {
		return nil, err
	}
	if err := owner.Migrate(ctx); err != nil {
		owner.Close()
		return nil, err
	}
	if os.Getenv("DATABASE_URL") != "" {
		return owner, nil
	}
	defer owner.Close()
	key, err := d.key()
	if err != nil {
		return nil, err
	}
	if url, err = owner.Login(ctx, key.Token("database", "uvent_app")); err != nil {
		return nil, err
	}
	return store.Open(ctx, url)
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
	a, err := newApp(s, reach.New("", ""), reach.RealClock{}, sealing.New(), clockwork.Heads{}, logger(false)) // it serves nobody, and seals nothing
	if err != nil {
		return err
	}
	return do(a)
}
