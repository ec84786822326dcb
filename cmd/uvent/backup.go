package main

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"time"

	"filippo.io/age"
	"github.com/spf13/cobra"

	"uvent/desk/ledger"
	"uvent/store"
	"uvent/store/cluster"
)

// backupCommand writes everything into one file, and restoreCommand takes it back.
func backupCommand() *cobra.Command {
	var books string
	var to []string
	c := fileCommand(
		"backup",
		"Write all that is kept, photos and rulebooks with it, into one new file",
		func(c *cobra.Command, s *store.Store, path string) error {
			f, err := os.OpenFile(path, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600) // it holds what is private
			if err != nil {
				return err
			}
			var folder fs.FS
			if books != "" {
				folder = os.DirFS(books)
			}
			out, err := sealedFor(f, to)
			var m store.Manifest
			if err == nil {
				m, err = s.Backup(c.Context(), out, folder, told(c.ErrOrStderr(), path, time.Now))
			}
			if err == nil {
				err = errors.Join(out.Close(), f.Sync())
			}
			if err = errors.Join(err, f.Close()); err != nil {
				os.Remove(path)
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s holds %s.\n", path, counted(m))
			return nil
		},
	)
	c.Flags().StringVar(&books, "rulebooks", "", "the folder of more rulebooks that the server is given, to be kept too")
	c.Flags().StringSliceVar(&to, "to", nil, "public key (age1...) of whoever alone may read it, made by age-keygen; more than one may be named")
	return c
}

func restoreCommand() *cobra.Command {
	var books, identity string
	var check bool
	c := fileCommand("restore", "Take a backup into an empty database: all of it, or nothing", func(c *cobra.Command, s *store.Store, path string) error {
		f, done, err := opened(path, identity)
		if err != nil {
			return fmt.Errorf("%s: %w", path, err)
		}
		defer done()
		info, err := f.Stat()
		if err != nil {
			return err
		}
		var put func(name string, data []byte) error
		var kept []string
		if books != "" {
			put = func(name string, data []byte) error {
				to := filepath.Join(books, name)
				if err := keepNew(to, data); err != nil {
					return err
				}
				kept = append(kept, to)
				return nil
			}
		}
		m, err := s.Restore(c.Context(), f, info.Size(), put)
		if err != nil {
			for _, file := range kept { // all of it or nothing
				os.Remove(file)
			}
			return fmt.Errorf("%s: %w", path, err)
		}
		fmt.Fprintf(c.OutOrStdout(), "Restored %s, as of %s.\n", counted(m), m.Made.Format("2006-01-02 15:04 UTC"))
		return nil
	})
	into := c.RunE
	c.RunE = func(c *cobra.Command, args []string) error {
		if check {
			return drill(c, args[0], identity)
		}
		return into(c, args)
	}
	c.Flags().BoolVar(&check, "check", false, "only try it: into a database that is gone when it is done, where the log's chain and every listing are looked at")
	c.Flags().StringVar(&books, "rulebooks", "", "folder that takes the rulebooks of a folder, where the backup holds any")
	c.Flags().StringVar(&identity, "identity", "", "file of the private key (AGE-SECRET-KEY-1...) of a backup that was made for one")
	return c
}

// drill takes a backup into a PostgreSQL of its own, and tells whether it is whole. Nothing of it is left.
func drill(c *cobra.Command, path, identity string) error {
	ctx := c.Context()
	f, done, err := opened(path, identity)
	if err != nil {
		return err
	}
	defer done()
	info, err := f.Stat()
	if err != nil {
		return err
	}
	dir, err := os.MkdirTemp("", "uvent-drill-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	server, err := cluster.Start(ctx, cluster.Options{Dir: dir, Throwaway: true})
	if err != nil {
		return err
	}
	defer server.Stop()
	s, err := migrated(ctx, server.URL("postgres"))
	if err != nil {
		return err
	}
	defer s.Close()
	nowhere := func(string, []byte) error { return nil }
	m, err := s.Restore(ctx, f, info.Size(), nowhere)
	if err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	a, err := idle(s)
	if err != nil {
		return err
	}
	events, faults, err := a.desk.Ledger.VerifyLog(ctx)
	if err != nil {
		return err
	}
	for _, f := range faults {
		fmt.Fprintf(c.OutOrStdout(), "event %d: %s\n", f.Event, f.Says)
	}
	if len(faults) > 0 {
		return ledger.ErrLogBroken
	}
	replayed, err := a.desk.Ledger.Replay(ctx, false)
	if err != nil {
		return err
	}
	if n := len(replayed.Differ); n > 0 {
		return fmt.Errorf("%d listings are kept otherwise than their events lead to; see uvent log replay --check where it was made", n)
	}
	fmt.Fprintf(c.OutOrStdout(), "%s can be restored: %s, as of %s. The log has %d events, each as it was; of %d listings nothing differs.\n",
		path, counted(m), m.Made.Format("2006-01-02 15:04 UTC"), events, replayed.Listings)
	return nil
}

// sealedFor writes what only those with a key to it can read (https://age-encryption.org/v1); as it is, where none are named.
func sealedFor(f *os.File, to []string) (io.WriteCloser, error) {
	if len(to) == 0 {
		return plainly{f}, nil
	}
	var all []age.Recipient
	for _, key := range to {
		r, err := age.ParseX25519Recipient(key)
		if err != nil {
			return nil, fmt.Errorf("--to %s: it is no public key that begins with age1: %w", key, err)
		}
		all = append(all, r)
	}
	return age.Encrypt(f, all...)
}

// plainly is a file that others close.
type plainly struct{ io.Writer }

// Close does nothing.
func (plainly) Close() error { return nil }

// opened opens a backup. One that is sealed is opened with a key into a file that is gone when it is done.
func opened(path, identity string) (f *os.File, done func(), err error) {
	if f, err = os.Open(path); err != nil || identity == "" {
		return f, func() { f.Close() }, err
	}
	defer f.Close()
	keys, err := os.Open(identity)
	if err != nil {
		return nil, nil, err
	}
	defer keys.Close()
	all, err := age.ParseIdentities(keys)
	if err != nil {
		return nil, nil, fmt.Errorf("--identity %s: %w", identity, err)
	}
	from, err := age.Decrypt(f, all...)
	if err != nil {
		return nil, nil, err
	}
	clear, err := os.CreateTemp("", "uvent-restore-")
	if err != nil {
		return nil, nil, err
	}
	done = func() { clear.Close() }
	if err := os.Remove(clear.Name()); err != nil { // it is there as long as it is open
		done()
		return nil, nil, err
	}
	if _, err := io.Copy(clear, from); err != nil {
		done()
		return nil, nil, err
	}
	return clear, done, nil
}

// keepNew writes a file that is not there yet.
func keepNew(path string, data []byte) error {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o644)
	if err != nil {
		return err
	}
	_, err = f.Write(data)
	return errors.Join(err, f.Close())
}

func fileCommand(name, about string, do func(c *cobra.Command, s *store.Store, path string) error) *cobra.Command {
	var data database
	c := &cobra.Command{Use: name + " FILE", Short: about, Args: cobra.ExactArgs(1), RunE: func(c *cobra.Command, args []string) error {
		s, stop, err := data.open(c.Context())
		if err != nil {
			return err
		}
		defer stop()
		return do(c, s, args[0])
	}}
	data.flags(c)
	return c
}

// told says now and then how far a backup is; one that is soon done says nothing.
func told(to io.Writer, path string, now func() time.Time) func(store.Progress) {
	const pause = 5 * time.Second
	last := now()
	return func(p store.Progress) {
		if now().Sub(last) < pause {
			return
		}
		last = now()
		fmt.Fprintf(to, "%s: %.0f %%, %s (%d of %d tables), %.0f MB before they are compressed\n", path, 100*p.Share, p.Table, p.Tables+1, p.Of, float64(p.Bytes)/1e6)
	}
}

func counted(m store.Manifest) string {
	rows := int64(0)
	for _, t := range m.Tables {
		rows += t.Rows
	}
	if n := len(m.Rulebooks); n > 0 {
		return fmt.Sprintf("%d rows of %d tables, and %d rulebooks", rows, len(m.Tables), n)
	}
	return fmt.Sprintf("%d rows of %d tables", rows, len(m.Tables))
}
