package desk

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/store/db"
)

// sealLock keeps two servers from sealing at once.
const sealLock = 7_315_002

// seal adds to the chain the events before which none can still come. Each hash is the
// SHA-256 of the hash before it and the event.
func (d *Desk) seal(ctx context.Context) error {
	for {
		n := 0
		err := d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
			var free bool
			if err := tx.QueryRow(ctx, "select pg_try_advisory_xact_lock($1)", sealLock).Scan(&free); err != nil || !free {
				return err
			}
			last, err := q.LastSeal(ctx)
			if ignoreNoRows(err) != nil {
				return err
			}
			rows, err := q.Unsealed(ctx)
			if err != nil {
				return err
			}
			hash := last.Hash
			for _, r := range rows {
				hash = chained(hash, r.Said)
				if err := q.AddSeal(ctx, db.AddSealParams{EventID: r.ID, Hash: hash}); err != nil {
					return err
				}
			}
			n = len(rows)
			return nil
		})
		if err != nil || n == 0 {
			return err
		}
	}
}

func chained(before []byte, said string) []byte {
	h := sha256.New()
	h.Write(before)
	h.Write([]byte(said))
	return h.Sum(nil)
}

// LogFault is where the log is not what it was.
type LogFault struct {
	Event int64
	Says  string
}

// VerifyLog goes along the chain and tells how many events it holds, and where it breaks:
// an event that was changed or is gone, a seal that was, an event that was never sealed.
func (d *Desk) VerifyLog(ctx context.Context) (events int, faults []LogFault, err error) {
	var position int64
	var before []byte
	for {
		rows, err := d.store.Sealed(ctx, position)
		if err != nil {
			return events, faults, err
		}
		for _, r := range rows {
			if r.Position != position+1 {
				faults = append(faults, LogFault{r.EventID, fmt.Sprintf("the seals %d to %d are gone", position+1, r.Position-1)})
			}
			switch {
			case !r.There:
				faults = append(faults, LogFault{r.EventID, "it is gone"})
			case !bytes.Equal(chained(before, r.Said), r.Hash):
				faults = append(faults, LogFault{r.EventID, "it, or its seal, was changed"})
			}
			position, before = r.Position, r.Hash
			events++
		}
		if len(rows) == 0 {
			break
		}
	}
	loose, err := d.store.NeverSealed(ctx)
	for _, id := range loose {
		faults = append(faults, LogFault{id, "it was added beside the chain, and never sealed"})
	}
	return events, faults, err
}

// LogFilter is what of the log is asked for; what is empty is not asked about.
type LogFilter struct {
	Scope
	Before *int64 // events before this one
	Actor  *string
	Kind   *string
	Most   int
}

// LogLine is one thing that was done.
type LogLine struct {
	db.LogRow
	Says      string
	Directory string // its name; empty for none
}

// MostLog is how many lines are told at once.
const MostLog = 500

// Log tells what was done, the newest first.
func (d *Desk) Log(ctx context.Context, f LogFilter) ([]LogLine, error) {
	if f.Most <= 0 || f.Most > MostLog {
		f.Most = MostLog
	}
	rows, err := d.store.Log(ctx, db.LogParams{Before: f.Before, ClientID: f.Client, LocationID: f.Location, Actor: f.Actor, Kind: f.Kind, Most: int32(f.Most)})
	if err != nil {
		return nil, err
	}
	out := make([]LogLine, len(rows))
	for i, r := range rows {
		out[i] = LogLine{LogRow: r, Says: d.logSays(r)}
		if r.DirectoryID != nil {
			out[i].Directory = d.DirectoryName(*r.DirectoryID)
		}
	}
	return out, nil
}

// LogKinds are the kinds of things that were ever done.
func (d *Desk) LogKinds(ctx context.Context) ([]string, error) { return d.store.LogKinds(ctx) }

// logSays says an event in words.
func (d *Desk) logSays(r db.LogRow) string {
	if r.DirectoryID != nil {
		book, err := d.Book(*r.DirectoryID)
		if err != nil {
			book = rulebook.Rulebook{Name: *r.DirectoryID}
		}
		e := verification.Event{}
		if json.Unmarshal(r.Data, &e) == nil {
			e.Kind = verification.Kind(r.Kind)
			if says := Describe(e, book); says != "" {
				return says
			}
		}
	}
	var data map[string]any
	what := strings.ReplaceAll(r.Kind, "_", " ")
	what = strings.ToUpper(what[:1]) + what[1:]
	if json.Unmarshal(r.Data, &data) != nil {
		return what + "."
	}
	var parts []string
	for key, value := range data {
		switch v := value.(type) {
		case string:
			if _, err := uuid.Parse(v); v != "" && err != nil && len(v) < 80 {
				parts = append(parts, strings.ReplaceAll(key, "_", " ")+" "+v)
			}
		case float64, bool:
			parts = append(parts, fmt.Sprint(strings.ReplaceAll(key, "_", " "), " ", v))
		}
	}
	slices.Sort(parts)
	if len(parts) == 0 {
		return what + "."
	}
	return what + ": " + strings.Join(parts, ", ") + "."
}

// ErrLogBroken means that the log is not what it was.
var ErrLogBroken = errors.New("the log is not what it was")
