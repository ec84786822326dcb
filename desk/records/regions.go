package records

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/bounded"
	"uvent/core/fact/extract"
	"uvent/core/fact/geo"
	"uvent/core/record/record"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Region is a stretch of country whose coast, roads and towns are known.
type Region struct {
	ID      uuid.UUID
	Name    string
	Towns   int32
	Roads   int32
	State   string // reading, ready or failed
	Trouble string // why it failed, in words
	Unknown int32  // towns of which it is not said how many live there
}

// States of a region.
const (
	RegionReading = "reading"
	RegionReady   = "ready"
	RegionFailed  = "failed"
)

// Limits of a region's files, in bytes.
const (
	mostRegionBytes  = 8 << 20
	MostExtractBytes = 128 << 20 // brought in on the screen; from the shell there is none
	mostMadeBytes    = 64 << 20
)

// Regions lists the regions by name.
func (d *Desk) Regions(ctx context.Context) ([]Region, error) {
	return store.Each(func(row db.RegionsRow) Region { return Region(row) })(d.store.Regions(ctx))
}

func regionWrong(path, message string) error {
	return problem.Fields([]record.Problem{{Path: path, Message: message}})
}

func regionName(name string) (string, error) {
	if name = strings.TrimSpace(name); name == "" || len(name) > 100 {
		return name, regionWrong("name", "give the region a name of up to 100 letters")
	}
	return name, nil
}

// AddRegion brings a region in from a GeoJSON FeatureCollection: points are towns
// (name, population), lines with speed_kmh are roads, the rest is drawn.
func (d *Desk) AddRegion(ctx context.Context, actor people.Actor, name, text string) (r Region, err error) {
	if name, err = regionName(name); err != nil {
		return r, err
	}
	if len(text) > mostRegionBytes {
		return r, regionWrong("text", "the file is larger than 8 MB; simplify its lines")
	}
	n, err := geo.Read([]byte(text))
	if err != nil {
		return r, regionWrong("text", err.Error())
	}
	if len(n.Towns) == 0 {
		return r, regionWrong("text", "it holds no towns: points with a name and a population")
	}
	r = Region{ID: uuid.New(), Name: name, Towns: int32(len(n.Towns)), Roads: int32(n.Roads()), State: RegionReady}
	return r, d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error { return d.keepRegion(ctx, q, actor, r, text) })
}

func (d *Desk) keepRegion(ctx context.Context, q *db.Queries, actor people.Actor, r Region, text string) error {
	if err := q.AddRegion(
		ctx,
		db.AddRegionParams{ID: r.ID, Name: r.Name, Geojson: text, Towns: r.Towns, Roads: r.Roads, State: r.State, Unknown: r.Unknown},
	); err != nil {
		return problem.Taken(err)
	}
	if err := store.Notify(ctx, q, store.Change{Regions: true}); err != nil {
		return err
	}
	return d.ledger.NoteAbout(ctx, q, actor, "region_added", map[string]any{"name": r.Name, "towns": r.Towns, "roads": r.Roads})
}

// AddMade brings in what was made of an extract.
func (d *Desk) AddMade(ctx context.Context, actor people.Actor, name string, m extract.Made) (r Region, err error) {
	if name, err = regionName(name); err != nil {
		return r, err
	}
	if err := tooLarge(m); err != nil {
		return r, err
	}
	r = Region{ID: uuid.New(), Name: name, Towns: int32(m.Towns), Roads: int32(m.Roads), Unknown: int32(m.Unknown), State: RegionReady}
	return r, d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error { return d.keepRegion(ctx, q, actor, r, string(m.GeoJSON)) })
}

func tooLarge(m extract.Made) error {
	if len(m.GeoJSON) > mostMadeBytes {
		return extract.Refusal(
			fmt.Sprintf("Its roads come to %d MB; up to %d MB are kept. Take an extract of a smaller region.", len(m.GeoJSON)>>20, mostMadeBytes>>20),
		)
	}
	return nil
}

// AddExtract keeps an extract of OpenStreetMap, of which a region is made in the background.
func (d *Desk) AddExtract(ctx context.Context, actor people.Actor, name string, data []byte) (r Region, err error) {
	if name, err = regionName(name); err != nil {
		return r, err
	}
	r = Region{ID: uuid.New(), Name: name, State: RegionReading}
	return r, d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		if err := d.keepRegion(ctx, q, actor, r, ""); err != nil {
			return err
		}
		if err := q.SaveFile(ctx, db.SaveFileParams{OwnerID: r.ID, What: "extract", Data: data}); err != nil {
			return err
		}
		_, err := d.jobs.InsertTx(ctx, tx, RegionJob{ID: r.ID}, nil)
		return err
	})
}

// RegionJob makes a region of its extract.
type RegionJob struct {
	ID uuid.UUID `json:"id"`
}

// Kind names the job.
func (RegionJob) Kind() string { return "read_region" }

type regionWorker struct {
	river.WorkerDefaults[RegionJob]
	desk *Desk
}

// Timeout is how long an extract may take.
func (*regionWorker) Timeout(*river.Job[RegionJob]) time.Duration { return 20 * time.Minute }

// made is done in a process of its own.
var made = bounded.Of("read an extract", bounded.Limits{Time: 15 * time.Minute, Memory: 3 << 30, Long: true}, func(data []byte) (extract.Made, error) {
	m, err := extract.Read(context.Background(), bytes.NewReader(data), int64(len(data)), nil)
	if err == nil {
		err = tooLarge(m)
	}
	return m, err
})

func init() { bounded.Refusals(extract.Refusal("")) }

// Work makes the region. Killed in between, it begins again.
func (w *regionWorker) Work(ctx context.Context, job *river.Job[RegionJob]) error {
	d, id := w.desk, job.Args.ID
	data, err := d.store.File(ctx, db.FileParams{OwnerID: id, What: "extract"})
	if err != nil {
		return problem.IgnoreNoRows(err) // it was taken out meanwhile, or is made
	}
	m, err := made(ctx, data)
	var no extract.Refusal
	switch {
	case errors.As(err, &no):
	case errors.Is(err, bounded.ErrBounds):
		no = "Reading it takes more memory or time than is there. Take an extract of a smaller region, or bring it in from the shell: uvent region add FILE."
	case err != nil:
		return err
	}
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := q.LockRegion(ctx, id)
		if err != nil || row.State != RegionReading {
			return problem.IgnoreNoRows(err)
		}
		if no != "" {
			err = q.SetRegionFailed(ctx, db.SetRegionFailedParams{ID: id, Trouble: string(no)})
		} else {
			err = q.SetRegionMade(ctx, db.SetRegionMadeParams{
				ID: id, Geojson: string(m.GeoJSON), Towns: int32(m.Towns), Roads: int32(m.Roads), Unknown: int32(m.Unknown),
			})
		}
		if err == nil {
			err = q.DropFiles(ctx, id)
		}
		return errors.Join(err, store.Notify(ctx, q, store.Change{Regions: true}))
	})
}

// DropRegion takes a region out. Service areas that were reckoned with it stay.
func (d *Desk) DropRegion(ctx context.Context, actor people.Actor, id uuid.UUID) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		name, err := q.DropRegion(ctx, id)
		if err != nil {
			return problem.OrNotFound(err, "There is no such region.")
		}
		if err := errors.Join(q.DropFiles(ctx, id), store.Notify(ctx, q, store.Change{Regions: true})); err != nil {
			return err
		}
		return d.ledger.NoteAbout(ctx, q, actor, "region_dropped", map[string]string{"name": name})
	})
}
