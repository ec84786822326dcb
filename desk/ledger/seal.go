package ledger

import (
	"bytes"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"

	"github.com/jackc/pgx/v5"

	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Seal adds to the chain the events before which none can still come. Each hash is the
// SHA-256 of the hash before it and the event.
func (d *Desk) Seal(ctx context.Context) error {
	for {
		n := 0
		err := d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
			if free, err := store.TryLockSealing(ctx, tx); err != nil || !free {
				return err
			}
			last, err := q.LastSeal(ctx)
			if problem.IgnoreNoRows(err) != nil {
				return err
			}
			rows, err := q.Unsealed(ctx)
			if err != nil {
				return err
			}
			hash := last.Hash
			for i, r := range rows {
				hash = chained(hash, r.Said)
				if err := q.AddSeal(ctx, db.AddSealParams{Position: last.Position + int64(i) + 1, EventID: r.ID, Hash: hash}); err != nil {
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

// ErrLogBroken means that the log is not what it was.
var ErrLogBroken = errors.New("the log is not what it was")
