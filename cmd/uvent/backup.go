package main

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"

	"github.com/spf13/cobra"

	"uvent/store"
)

// backupCommand writes everything into one file, and restoreCommand takes it back.
func backupCommand() *cobra.Command {
	var books string
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
			m, err := s.Backup(c.Context(), f, folder)
			if err == nil {
				err = f.Sync()
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
	return c
}

func restoreCommand() *cobra.Command {
	var books string
	c := fileCommand("restore", "Take a backup into an empty database: all of it, or nothing", func(c *cobra.Command, s *store.Store, path string) error {
		f, err := os.Open(path)
		if err != nil {
			return err
		}
		defer f.Close()
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
	c.Flags().StringVar(&books, "rulebooks", "", "folder that takes the rulebooks of a folder, where the backup holds any")
	return c
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
