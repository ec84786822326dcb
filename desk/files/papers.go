package files

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/bounded"
	"uvent/core/fact/photo"
	"uvent/core/record/paper"
	"uvent/core/record/record"
	"uvent/core/rule/film"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Compared is a paper held against a record.
type Compared struct {
	Paper
	Findings []paper.Finding
}

// CompareAll are the papers of some kinds, each held against the record.
func CompareAll(papers []Paper, kinds []string, r record.Record, now time.Time) (out []Compared) {
	for _, p := range papers {
		if slices.Contains(kinds, p.Kind) {
			out = append(out, Compared{p, paper.Against(SaidOf(p), r, now)})
		}
	}
	return out
}

// Paper is one of a location's papers, or one of its client's for all of them.
type Paper struct {
	ID         uuid.UUID
	ClientID   uuid.UUID
	LocationID *uuid.UUID
	Kind       string
	FileName   string
	Issued     string // dates as 2026-11-24; empty: not said
	Until      string
	Format     string
	Pages      int32
	Bytes      int32
	Words      string // its text, as far as it can be read
	AddedBy    string
	AddedAt    time.Time
	RemovedAt  *time.Time
	Film       film.Shown // of a video
}

// PaperOf is a paper as it is kept.
func PaperOf(row db.Paper) Paper { return Paper(row) }

// Papers lists a location's papers and those of its client for all locations; or
// the client's alone.
func (d *Desk) Papers(ctx context.Context, s ledger.Scope) ([]Paper, error) {
	o, err := d.owner(ctx, s)
	if err != nil {
		return nil, err
	}
	return store.Each(PaperOf)(d.store.Papers(ctx, db.PapersParams{ClientID: o.Client, LocationID: o.Location}))
}

// paperRead is what was read of a paper, and its file as it is kept.
type paperRead struct {
	paper.Paper
	Data []byte
}

// readPaper reads a paper in processes of their own. A picture of a format that nobody takes becomes a JPEG.
func readPaper(ctx context.Context, data []byte) (out paperRead, err error) {
	if out.Format, err = paper.Sniff(data); err != nil {
		return out, err
	}
	if out.Format == paper.PDF {
		out.Data = data
		pages, text, err := readPDF(ctx, data)
		out.Pages, out.Text = pages, paper.Tidy(text)
		return out, err
	}
	return readPicture(ctx, data)
}

var readPicture = bounded.Of("read a paper", bounded.Usual, func(data []byte) (out paperRead, err error) {
	if out.Format, err = paper.Sniff(data); err != nil {
		return out, err
	}
	out.Data, out.Pages = data, 1
	if f := photo.Format(out.Format); f == photo.HEIC || f == photo.AVIF {
		_, img, err := photo.Read(data)
		if err != nil {
			return out, err
		}
		out.Format = paper.Format(photo.JPEG)
		out.Data, err = photo.Encode(img, photo.JPEG)
		return out, err
	}
	return out, nil
})

// Incoming is a paper or a video that was read, and is not kept yet.
type Incoming struct {
	facts db.AddPaperParams
	film  *film.Shown
	data  []byte
}

// Kind is what an incoming paper is, as far as its words tell.
func (in Incoming) Kind() string { return in.facts.Kind }

// ReadPaper reads a file as a paper. The text of a PDF is kept, and its kind guessed from that.
func (d *Desk) ReadPaper(ctx context.Context, name string, data []byte) (in Incoming, err error) {
	read, err := readPaper(ctx, data)
	if err != nil {
		return in, refusedFile(err)
	}
	in.data = read.Data
	in.facts = db.AddPaperParams{Kind: paper.Guess(read.Text), FileName: fileName(name), Format: string(read.Format), Pages: int32(read.Pages), Words: read.Text}
	return in, nil
}

// Keep keeps what was read, in a transaction in which more is done.
func (d *Desk) Keep(ctx context.Context, q *db.Queries, actor people.Actor, o Owner, in Incoming) (row Paper, err error) {
	facts := in.facts
	facts.ID, facts.ClientID, facts.LocationID, facts.Bytes = uuid.New(), o.Client, o.Location, int32(len(in.data))
	facts.AddedBy, facts.AddedAt = actor.Name, d.clock.Now()
	if row, err = store.One(PaperOf)(q.AddPaper(ctx, facts)); err != nil {
		return row, err
	}
	if in.film != nil {
		if row, err = store.One(PaperOf)(q.SaveFilm(ctx, db.SaveFilmParams{ID: row.ID, Film: *in.film})); err != nil {
			return row, err
		}
	}
	if err := q.SaveFile(ctx, db.SaveFileParams{OwnerID: row.ID, What: "original", Data: in.data}); err != nil {
		return row, err
	}
	return row, d.ledger.Note(ctx, q, actor, "paper_added", o.Client, o.Location, map[string]any{"paper": row.ID, "name": row.FileName})
}

// keep is Keep in a transaction of its own.
func (d *Desk) keep(ctx context.Context, actor people.Actor, o Owner, in Incoming) (row Paper, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error { row, err = d.Keep(ctx, q, actor, o, in); return err })
	return row, err
}

// AddPaper takes a file in as a paper, as ReadPaper reads it.
func (d *Desk) AddPaper(ctx context.Context, actor people.Actor, s ledger.Scope, name string, data []byte) (row Paper, err error) {
	o, err := d.owner(ctx, s)
	if err != nil {
		return row, err
	}
	in, err := d.ReadPaper(ctx, name, data)
	if err != nil {
		return row, err
	}
	return d.keep(ctx, actor, o, in)
}

// PaperFacts are what people say of a paper.
type PaperFacts struct {
	Kind, Issued, Until string // dates: 2026-11-24; empty: not said
}

// SavePaper changes what is said of a paper.
func (d *Desk) SavePaper(ctx context.Context, actor people.Actor, id uuid.UUID, f PaperFacts) (row Paper, err error) {
	var wrong []record.Problem
	if !slices.ContainsFunc(paper.Kinds, func(k struct{ ID, Name string }) bool { return k.ID == f.Kind }) {
		wrong = append(wrong, record.Problem{Path: "kind", Message: fmt.Sprintf("%q is no kind of paper", f.Kind)})
	}
	for _, date := range [][2]string{{"issued", f.Issued}, {"until", f.Until}} {
		if _, err := time.Parse(time.DateOnly, date[1]); err != nil && date[1] != "" {
			wrong = append(wrong, record.Problem{Path: date[0], Message: fmt.Sprintf("%q is not a date; write it as 2026-12-31", date[1])})
		}
	}
	if wrong != nil {
		return row, problem.Fields(wrong)
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		before, err := store.One(PaperOf)(q.LockPaper(ctx, id))
		if err == nil && before.RemovedAt != nil {
			err = pgx.ErrNoRows
		}
		if err != nil {
			return problem.OrNotFound(err, "There is no such paper.")
		}
		if row, err = store.One(PaperOf)(q.SavePaper(ctx, db.SavePaperParams{ID: id, Kind: f.Kind, Issued: f.Issued, Until: f.Until})); err != nil {
			return err
		}
		return d.ledger.Note(
			ctx,
			q,
			actor,
			"paper_saved",
			row.ClientID,
			row.LocationID,
			map[string]any{"paper": id, "before": PaperFacts{before.Kind, before.Issued, before.Until}, "after": f},
		)
	})
	return row, err
}

// RemovePaper takes a paper out, or brings one back that was.
func (d *Desk) RemovePaper(ctx context.Context, actor people.Actor, id uuid.UUID, back bool) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := store.One(PaperOf)(q.LockPaper(ctx, id))
		if err != nil {
			return problem.OrNotFound(err, "There is no such paper.")
		}
		if (row.RemovedAt == nil) == back {
			return nil // it is so already
		}
		now, kind := d.clock.Now(), "paper_removed"
		at := &now
		if back {
			at, kind = nil, "paper_restored"
		}
		if _, err := q.RemovePaper(ctx, db.RemovePaperParams{ID: id, RemovedAt: at}); err != nil {
			return err
		}
		return d.ledger.Note(ctx, q, actor, kind, row.ClientID, row.LocationID, map[string]any{"paper": id, "name": row.FileName})
	})
}

// PaperFile is a paper and its file.
func (d *Desk) PaperFile(ctx context.Context, id uuid.UUID) (Paper, []byte, error) {
	row, err := store.One(PaperOf)(d.store.PaperByID(ctx, id))
	if err != nil {
		return row, nil, problem.OrNotFound(err, "There is no such paper.")
	}
	data, err := d.store.File(ctx, db.FileParams{OwnerID: id, What: "original"})
	return row, data, err
}
