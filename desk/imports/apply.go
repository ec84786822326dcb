package imports

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/record/bring"
	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/store"
	"uvent/store/db"
)

// atOnce is how many rows come in while somebody waits, and inPart how many in one transaction.
const (
	atOnce = 400
	inPart = 250
)

// BringIn brings the rows in that can come in and are not in yet: few at once, many in the background, part by part.
func (d *Desk) BringIn(ctx context.Context, actor people.Actor, id uuid.UUID) (Import, error) {
	now := false
	err := d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		row, err := q.LockImport(ctx, id)
		if err != nil {
			return problem.OrNotFound(err, "There is no such import.")
		}
		switch State(row.State) {
		case Ready, In:
		case Bringing:
			return nil
		default:
			return problem.Conflictf("This file is being worked on; wait until that is done.")
		}
		later := d.takesLong(row)
		if !later {
			if err := d.check(ctx, q, row, nil); err != nil { // others have worked meanwhile
				return err
			}
		}
		n, err := q.CountImportToCome(ctx, id)
		if err != nil || n == 0 && row.State == string(In) {
			return err
		}
		if err := q.SetImportState(ctx, db.SetImportStateParams{ID: id, State: string(Bringing)}); err != nil {
			return err
		}
		now = n <= atOnce && !later
		// Also when it is done at once: whoever is killed meanwhile does not leave it half-way.
		_, err = d.jobs.InsertTx(ctx, tx, BringJob{ID: id, Actor: actor, Check: later}, nil)
		return err
	})
	if err == nil && now {
		err = d.bringAll(ctx, actor, id)
	}
	if err != nil {
		return Import{}, err
	}
	return d.Import(ctx, id)
}

// BringJob brings the rows of a large file in.
type BringJob struct {
	ID    uuid.UUID    `json:"id"`
	Actor people.Actor `json:"actor"`
	Check bool         `json:"check"` // what is left is worked out anew first, which takes long
}

// Kind names the job.
func (BringJob) Kind() string { return "bring_in" }

type bringWorker struct {
	river.WorkerDefaults[BringJob]
	desk *Desk
}

// Timeout is how long a file may take.
func (*bringWorker) Timeout(*river.Job[BringJob]) time.Duration { return 15 * time.Minute }

// Work goes on where it was.
func (w *bringWorker) Work(ctx context.Context, job *river.Job[BringJob]) error {
	if job.Args.Check {
		err := w.desk.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
			row, err := q.LockImport(ctx, job.Args.ID)
			if err != nil || row.State != string(Bringing) {
				return problem.IgnoreNoRows(err)
			}
			return w.desk.check(ctx, q, row, nil)
		})
		if err != nil {
			return err
		}
	}
	return w.desk.bringAll(ctx, job.Args.Actor, job.Args.ID)
}

// bringAll brings rows in, part by part, until none is left. When what is there has changed meanwhile, what is left
// is worked out anew, and somebody looks at it again.
func (d *Desk) bringAll(ctx context.Context, actor people.Actor, id uuid.UUID) error {
	for done := false; !done; {
		err := d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) (err error) {
			row, err := q.LockImport(ctx, id)
			if err != nil || row.State != string(Bringing) {
				done = true
				return problem.IgnoreNoRows(err)
			}
			done, err = d.bringPart(ctx, q, actor, row)
			return err
		})
		if err == nil {
			continue
		}
		says, meanwhile := changedMeanwhile(err)
		if !meanwhile {
			return err
		}
		return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
			row, err := q.LockImport(ctx, id)
			if err != nil {
				return problem.IgnoreNoRows(err)
			}
			if err := d.check(ctx, q, row, nil); err != nil {
				return err
			}
			state := Ready
			if row.AppliedAt != nil {
				state = In
			}
			if err := q.SetImportState(ctx, db.SetImportStateParams{ID: id, State: string(state), Trouble: says}); err != nil {
				return err
			}
			return store.Notify(ctx, q, store.Change{})
		})
	}
	return nil
}

// changedMeanwhile says what somebody else did so that a part could not come in; false when it was something else.
func changedMeanwhile(err error) (says string, ok bool) {
	var no *problem.Problem
	if errors.As(problem.Taken(err), &no) && no.Kind == problem.Conflict || errors.As(problem.Taken(err), &no) && no.Kind == problem.Invalid {
		return "Somebody changed the same locations meanwhile (" + strings.TrimSuffix(no.Detail, ".") + "). Look at what is left, and bring it in.", true
	}
	return "", false
}

// bringPart brings some rows in; done when none is left.
func (d *Desk) bringPart(ctx context.Context, q *db.Queries, actor people.Actor, row db.Import) (done bool, err error) {
	part, err := q.ImportChecksToCome(ctx, db.ImportChecksToComeParams{ImportID: row.ID, Most: inPart})
	if err != nil {
		return false, err
	}
	now := d.clock.Now()
	if len(part) == 0 {
		if err := q.FinishImport(ctx, db.FinishImportParams{ID: row.ID, AppliedAt: &now}); err != nil {
			return false, err
		}
		return true, store.Notify(ctx, q, store.Change{})
	}
	p := &writing{q: q, actor: actor, now: now, file: row, clients: map[string]uuid.UUID{}}
	if err := p.knowClients(ctx); err != nil {
		return false, err
	}
	for _, c := range part {
		if err := p.row(ctx, c); err != nil {
			return false, err
		}
	}
	if err := p.flush(ctx); err != nil {
		return false, err
	}
	in, err := q.CountImportIn(ctx, row.ID)
	if err != nil {
		return false, err
	}
	if err := q.SetImportDone(ctx, db.SetImportDoneParams{ID: row.ID, Done: in}); err != nil {
		return false, err
	}
	return false, store.Notify(ctx, q, store.Change{})
}

// writing is rows on their way into the database.
type writing struct {
	q         *db.Queries
	actor     people.Actor
	now       time.Time
	file      db.Import
	clients   map[string]uuid.UUID // by folded name
	added     []db.CopyClientsParams
	locations []db.CopyLocationsParams
	events    []db.CopyEventsParams
	remarks   []db.CopyRemarksParams
	lines     []int32
	ids       []uuid.UUID
}

func (w *writing) knowClients(ctx context.Context) error {
	clients, err := store.Each(ledger.ClientOf)(w.q.Clients(ctx))
	for _, c := range clients {
		w.clients[strings.ToLower(c.Name)] = c.ID
	}
	return err
}

func (w *writing) event(kind string, client uuid.UUID, location *uuid.UUID, says any) error {
	data, err := json.Marshal(says)
	w.events = append(w.events, db.CopyEventsParams{
		At: w.now, Actor: w.actor.Name, ActorID: w.actor.Key(), ClientID: &client, LocationID: location, Kind: kind, Data: data,
	})
	return err
}

// client is a client by its name, added where there is none.
func (w *writing) client(name string) (uuid.UUID, error) {
	if id, there := w.clients[strings.ToLower(name)]; there {
		return id, nil
	}
	id := uuid.New()
	w.clients[strings.ToLower(name)] = id
	w.added = append(w.added, db.CopyClientsParams{ID: id, Name: name})
	return id, w.event("client_added", id, nil, records.ClientFacts{Name: name})
}

func (w *writing) row(ctx context.Context, c db.ImportCheck) error {
	var r checked
	if err := json.Unmarshal(c.Row, &r); err != nil {
		return err
	}
	client, err := w.client(r.Client)
	if err != nil {
		return err
	}
	change, kind := records.RecordChange{After: r.Record, From: w.file.FileName, Batch: w.file.ID.String()}, "location_added"
	id := uuid.New()
	if c.Standing == string(bring.Changed) {
		id, kind, change.Before = *r.Kept, "record_saved", r.Before
		save := db.SaveLocationParams{ID: id, Label: r.Record.Label, StoreCode: r.Record.StoreCode, Record: r.Record, Version: r.Version}
		if _, err := w.q.SaveLocation(ctx, save); err != nil {
			if errors.Is(err, pgx.ErrNoRows) {
				return problem.Conflictf("%s was saved", r.Before.Label)
			}
			return err
		}
	} else {
		w.locations = append(w.locations, db.CopyLocationsParams{ID: id, ClientID: client, Label: r.Record.Label, StoreCode: r.Record.StoreCode, Record: r.Record})
	}
	says := sheet.Facts(r.Record)
	for _, p := range r.Problems {
		w.remarks = append(w.remarks, db.CopyRemarksParams{
			ID: uuid.New(), LocationID: id, ImportID: &w.file.ID, Fact: p.Key, Heading: p.Column, Said: p.Value, Why: p.Reason, Was: says[p.Key], At: w.now,
		})
	}
	for _, g := range r.Readings {
		if g.Lost == "" {
			continue
		}
		w.remarks = append(w.remarks, db.CopyRemarksParams{
			ID: uuid.New(), LocationID: id, ImportID: &w.file.ID, Fact: g.Key, Heading: g.Column, Said: g.From, Was: says[g.Key], At: w.now,
			Why: fmt.Sprintf("“%s” in it has no place in the record", g.Lost),
		})
	}
	w.lines, w.ids = append(w.lines, c.Line), append(w.ids, id)
	return w.event(kind, client, &id, change)
}

// flush writes what was gathered, in the order in which one needs the other.
func (w *writing) flush(ctx context.Context) error {
	if _, err := w.q.CopyClients(ctx, w.added); err != nil {
		return err
	}
	ids := make([]uuid.UUID, len(w.added))
	for i, c := range w.added {
		ids[i] = c.ID
	}
	if err := w.q.AddImportClients(ctx, db.AddImportClientsParams{ID: w.file.ID, Ids: ids}); err != nil {
		return err
	}
	if _, err := w.q.CopyLocations(ctx, w.locations); err != nil {
		return err
	}
	if _, err := w.q.CopyRemarks(ctx, w.remarks); err != nil {
		return err
	}
	if _, err := w.q.CopyEvents(ctx, w.events); err != nil {
		return err
	}
	return w.q.SetImportCheckIn(ctx, db.SetImportCheckInParams{ImportID: w.file.ID, At: w.now, Lines: w.lines, Locations: w.ids})
}

// named lists a few names, and how many more there are.
func named(all []string) string {
	const few = 4
	if len(all) <= few {
		return strings.Join(all, ", ")
	}
	return fmt.Sprintf("%s and %d more", strings.Join(all[:few], ", "), len(all)-few)
}

// before is the record that a location had.
func (c checked) before() record.Record {
	if c.Before == nil {
		return record.Record{}
	}
	return *c.Before
}
