package store

import (
	"archive/zip"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// Manifest says what a backup holds.
type Manifest struct {
	Made      time.Time `json:"made"`
	Migration int64     `json:"migration"` // the newest of the schema that it is of
	Tables    []Table   `json:"tables"`    // each before those that refer to it
	Rulebooks []File    `json:"rulebooks"` // of a folder; those of the database are a table
}

// File is a file beside the tables, under rulebooks/.
type File struct {
	Name   string `json:"name"`
	SHA256 string `json:"sha256"`
}

// Table is one table of a backup: a CSV file as COPY writes it, with a header.
type Table struct {
	Name   string `json:"name"`
	Rows   int64  `json:"rows"`
	SHA256 string `json:"sha256"`
}

// passing are tables of what passes: what was asked with a key, who is signed in and looks at what, what they tried, tasks, which are
// reckoned anew, and what the migrations and the job queue keep for themselves.
var passing = []string{
	"asked_once",
	"goose_db_version",
	"known_browser",
	"password_reset",
	"presence",
	"sessions",
	"task",
	"task_stale",
	"try",
	"river_client",
	"river_client_queue",
	"river_leader",
	"river_migration",
	"river_queue",
}

// ours are columns that are made anew where they are restored.
var ours = map[string][]string{"event": {"tx"}}

// Backup writes all that is kept as one ZIP file: manifest.json and a CSV file for each
// table, of one moment; and the .yaml files of a folder of rulebooks, nil for none. tell is told at every piece that is
// written how far it is.
func (s *Store) Backup(ctx context.Context, to io.Writer, rulebooks fs.FS, tell func(Progress)) (m Manifest, err error) {
	m.Rulebooks = []File{}
	err = pgx.BeginTxFunc(ctx, s.Pool, pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly}, func(tx pgx.Tx) error {
		m.Made = time.Now().UTC()
		if m.Migration, err = migration(ctx, tx); err != nil {
			return err
		}
		tables, err := tablesOf(ctx, tx)
		if err != nil {
			return err
		}
		sizes, err := sizesOf(ctx, tx)
		if err != nil {
			return err
		}
		archive := zip.NewWriter(to)
		told := counting{sizes: sizes, tell: tell, Progress: Progress{Of: len(tables)}}
		for _, name := range tables {
			told.begin(name)
			columns, order, err := columnsOf(ctx, tx, name)
			if err != nil {
				return err
			}
			file, err := archive.Create(name + ".csv")
			if err != nil {
				return err
			}
			sum := sha256.New()
			done, err := tx.Conn().PgConn().CopyTo(
				ctx,
				io.MultiWriter(file, sum, &told),
				fmt.Sprintf("copy (select %s from %s order by %s) to stdout (format csv, header)", columns, quoted(name), order),
			)
			if err != nil {
				return fmt.Errorf("%s: %w", name, err)
			}
			m.Tables = append(m.Tables, Table{name, done.RowsAffected(), hex.EncodeToString(sum.Sum(nil))})
		}
		if rulebooks != nil {
			if err := m.addRulebooks(archive, rulebooks); err != nil {
				return err
			}
		}
		file, err := archive.Create("manifest.json")
		if err != nil {
			return err
		}
		e := json.NewEncoder(file)
		e.SetIndent("", "  ")
		return errors.Join(e.Encode(m), archive.Close())
	})
	return m, err
}

func (m *Manifest) addRulebooks(archive *zip.Writer, rulebooks fs.FS) error {
	names, err := fs.Glob(rulebooks, "*.yaml")
	if err != nil {
		return err
	}
	for _, name := range names {
		data, err := fs.ReadFile(rulebooks, name)
		if err != nil {
			return err
		}
		file, err := archive.Create("rulebooks/" + name)
		if err != nil {
			return err
		}
		if _, err := file.Write(data); err != nil {
			return err
		}
		m.Rulebooks = append(m.Rulebooks, File{name, sumOf(data)})
	}
	return nil
}

func sumOf(data []byte) string {
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:])
}

// Restore takes a backup into an empty database, all of it or nothing; one of an older Uvent is brought up to date. put keeps a
// rulebook of a folder under its name; nil where there is no folder, which will do where the
// backup holds none.
func (s *Store) Restore(ctx context.Context, from io.ReaderAt, size int64, put func(name string, data []byte) error) (m Manifest, err error) {
	archive, m, err := readManifest(from, size)
	if err != nil {
		return m, err
	}
	older, err := s.olderThan(ctx, m.Migration)
	if err != nil {
		return m, err
	}
	if older {
		if err := s.emptied(ctx, m.Migration); err != nil {
			return m, err
		}
	}
	err = s.restore(ctx, archive, m, put)
	if older {
		err = errors.Join(err, s.Migrate(ctx))
	}
	return m, err
}

// olderThan reports whether a backup is of an older schema than an empty database's. One of a newer is refused, and so is a
// database that is not empty.
func (s *Store) olderThan(ctx context.Context, of int64) (older bool, err error) {
	err = pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		now, err := migration(ctx, tx)
		if err != nil {
			return err
		}
		if of > now {
			return fmt.Errorf("it was made by a newer Uvent, whose schema is %d, and this one's is %d; restore it with that one", of, now)
		}
		older = of < now
		var full bool
		if err := tx.QueryRow(ctx, "select exists (select from person) or exists (select from event) or exists (select from client)").Scan(&full); err != nil {
			return err
		}
		if full {
			return errors.New("the database is not empty; nothing was restored")
		}
		return nil
	})
	return older, err
}

func (s *Store) restore(ctx context.Context, archive *zip.Reader, m Manifest, put func(name string, data []byte) error) error {
	return pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		known, err := tablesOf(ctx, tx)
		if err != nil {
			return err
		}
		for _, t := range m.Tables {
			if !slices.Contains(known, t.Name) {
				return fmt.Errorf("there is no table %q here", t.Name)
			}
			if err := restoreTable(ctx, tx, archive, t); err != nil {
				return fmt.Errorf("%s.csv: %w", t.Name, err)
			}
		}
		if len(m.Rulebooks) > 0 && put == nil {
			return fmt.Errorf("it holds %d rulebooks of a folder; name a folder for them with --rulebooks", len(m.Rulebooks))
		}
		return restoreRulebooks(archive, m, put)
	})
}

// readManifest opens a backup, and says what it holds.
func readManifest(from io.ReaderAt, size int64) (archive *zip.Reader, m Manifest, err error) {
	if archive, err = zip.NewReader(from, size); err != nil {
		return nil, m, fmt.Errorf("it is no backup: %w", err)
	}
	text, err := readEntry(archive, "manifest.json", mostManifest)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, m, errors.New("it is no backup: it has no manifest.json")
	}
	if err == nil {
		err = json.Unmarshal(text, &m)
	}
	if err != nil {
		return nil, m, fmt.Errorf("manifest.json cannot be read: %w", err)
	}
	return archive, m, nil
}

// restoreRulebooks hands on the rulebooks of a folder.
func restoreRulebooks(archive *zip.Reader, m Manifest, put func(name string, data []byte) error) error {
	for _, f := range m.Rulebooks {
		if !rulebookName.MatchString(f.Name) {
			return fmt.Errorf("a rulebook is not called %q; such a file is not written", f.Name)
		}
		data, err := readEntry(archive, "rulebooks/"+f.Name, mostRulebook)
		if err == nil && sumOf(data) != f.SHA256 {
			err = errors.New("it is not what the manifest says")
		}
		if err == nil {
			err = put(f.Name, data)
		}
		if err != nil {
			return fmt.Errorf("rulebooks/%s: %w", f.Name, err)
		}
	}
	return nil
}

// What a backup may hold beside its tables, in bytes, and how much more than it is in the file a part of it may come to:
// what is packed tighter than any data of ours is made to fill a disk.
const (
	mostManifest = 4 << 20
	mostRulebook = 256 << 10
	mostTimes    = 100
	fewBytes     = 64 << 20
)

var rulebookName = regexp.MustCompile(`^[A-Za-z0-9][A-Za-z0-9._-]*\.yaml$`)

// entry opens a part of a backup, which comes to so many bytes at most.
func entry(archive *zip.Reader, name string, most uint64) (io.ReadCloser, error) {
	for _, f := range archive.File {
		if f.Name != name {
			continue
		}
		if f.UncompressedSize64 > most {
			return nil, fmt.Errorf("it would come to %d MB, which is more than such a part has", f.UncompressedSize64>>20)
		}
		return f.Open()
	}
	return nil, fs.ErrNotExist
}

func readEntry(archive *zip.Reader, name string, most uint64) ([]byte, error) {
	file, err := entry(archive, name, most)
	if err != nil {
		return nil, err
	}
	defer file.Close()
	return io.ReadAll(io.LimitReader(file, int64(most)))
}

func restoreTable(ctx context.Context, tx pgx.Tx, archive *zip.Reader, t Table) error {
	most := uint64(fewBytes)
	for _, f := range archive.File {
		if f.Name == t.Name+".csv" {
			most = max(most, mostTimes*f.CompressedSize64)
		}
	}
	file, err := entry(archive, t.Name+".csv", most)
	if err != nil {
		return err
	}
	defer file.Close()
	columns, _, err := columnsOf(ctx, tx, t.Name)
	if err != nil {
		return err
	}
	sum := sha256.New()
	done, err := tx.Conn().PgConn().CopyFrom(
		ctx,
		io.TeeReader(io.LimitReader(file, int64(most)), sum),
		fmt.Sprintf("copy %s (%s) from stdin (format csv, header match)", quoted(t.Name), columns),
	)
	if err != nil {
		return err
	}
	if got := hex.EncodeToString(sum.Sum(nil)); got != t.SHA256 || done.RowsAffected() != t.Rows {
		return fmt.Errorf("it is not what the manifest says: %d rows with the sum %s", done.RowsAffected(), got)
	}
	// What is counted on goes on after the highest that there is.
	_, err = tx.Exec(ctx, `do $$ declare c record; begin
		for c in select a.attname, pg_get_serial_sequence(`+literal(t.Name)+`,
			a.attname) as counts from pg_attribute a where a.attrelid = `+literal(quoted(t.Name))+`::regclass and a.attnum > 0 and not a.attisdropped
		loop
			if c.counts is not null then
				execute format('select setval(%L, coalesce((select max(%I) from %I), 0) + 1, false)', c.counts, c.attname, `+literal(t.Name)+`);
			end if;
		end loop;
	end $$`)
	return err
}

func migration(ctx context.Context, tx pgx.Tx) (n int64, err error) {
	err = tx.QueryRow(ctx, "select max(version_id) from goose_db_version where is_applied").Scan(&n)
	return n, err
}

// tablesOf are the tables that are kept, each after those that it refers to.
func tablesOf(ctx context.Context, tx pgx.Tx) ([]string, error) {
	rows, err := tx.Query(ctx, "select tablename from pg_tables where schemaname = $1 and not tablename = any($2) order by tablename", schema, passing)
	if err != nil {
		return nil, err
	}
	names, err := pgx.CollectRows(rows, pgx.RowTo[string])
	if err != nil {
		return nil, err
	}
	rows, err = tx.Query(ctx, `select c.conrelid::regclass::text, c.confrelid::regclass::text from pg_constraint c join pg_namespace n on n.oid = c.connamespace
		where c.contype = 'f' and n.nspname = $1 and c.conrelid <> c.confrelid`, schema)
	if err != nil {
		return nil, err
	}
	refers := map[string][]string{}
	var one, other string
	if _, err := pgx.ForEachRow(rows, []any{&one, &other}, func() error {
		one, other := strings.Trim(one, `"`), strings.Trim(other, `"`)
		refers[one] = append(refers[one], other)
		return nil
	}); err != nil {
		return nil, err
	}
	var out []string
	var put func(name string)
	put = func(name string) {
		if slices.Contains(out, name) {
			return
		}
		for _, before := range refers[name] {
			put(before)
		}
		if slices.Contains(names, name) {
			out = append(out, name)
		}
	}
	for _, name := range names {
		put(name)
	}
	return out, nil
}

// columnsOf are a table's columns that are kept, and those of its key.
func columnsOf(ctx context.Context, tx pgx.Tx, table string) (columns, key string, err error) {
	rows, err := tx.Query(
		ctx,
		`select a.attname, coalesce(a.attnum = any(k.conkey), false) from pg_attribute a left join pg_constraint k on k.conrelid = a.attrelid and k.contype = 'p'
		where a.attrelid = $1::text::regclass and a.attnum > 0 and not a.attisdropped and a.attgenerated = '' and not a.attname = any($2) order by a.attnum`,
		quoted(table),
		append([]string{}, ours[table]...),
	)
	if err != nil {
		return "", "", err
	}
	var all, keys []string
	var name string
	var isKey bool
	_, err = pgx.ForEachRow(rows, []any{&name, &isKey}, func() error {
		all = append(all, quoted(name))
		if isKey {
			keys = append(keys, quoted(name))
		}
		return nil
	})
	if len(keys) == 0 {
		keys = all
	}
	return strings.Join(all, ", "), strings.Join(keys, ", "), err
}

func quoted(name string) string { return pgx.Identifier{name}.Sanitize() }

func literal(text string) string { return "'" + strings.ReplaceAll(text, "'", "''") + "'" }
