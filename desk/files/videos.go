package files

import (
	"context"

	"github.com/google/uuid"

	"uvent/bounded"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/film"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// readFilm reads a film's headers in a process of its own.
var readFilm = bounded.Of("read a film", bounded.Usual, film.Read)

// ReadVideo reads a file as a video that proves where a location is. How long it is, and whether it is one take, is read from
// its headers; what it shows is said by whoever filmed it.
func (d *Desk) ReadVideo(ctx context.Context, name string, data []byte, seen film.Seen) (in Incoming, err error) {
	read, err := readFilm(ctx, data)
	if err != nil {
		return in, refusedFile(err)
	}
	for part, at := range seen.At {
		if at < 0 || float64(at) > read.Seconds {
			return in, &problem.Problem{
				Kind:   problem.Invalid,
				Detail: "A time lies outside the video.",
				Fields: []record.Problem{{Path: part, Message: "The video is not so long."}},
			}
		}
	}
	in.data, in.film = data, &film.Shown{Format: read.Format, Seconds: read.Seconds, Takes: read.Takes, Seen: seen}
	in.facts = db.AddPaperParams{Kind: verification.VideoKind, FileName: fileName(name), Format: string(read.Format)}
	return in, nil
}

// AddVideo takes a video in, as ReadVideo reads it.
func (d *Desk) AddVideo(ctx context.Context, actor people.Actor, location uuid.UUID, name string, data []byte, seen film.Seen) (row Paper, err error) {
	o, err := d.owner(ctx, ledger.Scope{Location: &location})
	if err != nil {
		return row, err
	}
	in, err := d.ReadVideo(ctx, name, data, seen)
	if err != nil {
		return row, err
	}
	return d.keep(ctx, actor, o, in)
}

// Video is one as a directory is given it; nil for none.
func (d *Desk) Video(ctx context.Context, id string) (*reach.Video, error) {
	if id == "" {
		return nil, nil
	}
	key, err := uuid.Parse(id)
	if err != nil {
		return nil, err
	}
	row, data, err := d.PaperFile(ctx, key)
	if err != nil {
		return nil, err
	}
	v := &reach.Video{Name: row.FileName, Data: data}
	for _, p := range rulebook.FilmParts {
		if _, seen := row.Film.Seen.At[p.ID]; seen {
			v.Shows = append(v.Shows, p.ID)
		}
	}
	return v, nil
}

// Filming is what a video for a directory must be like, and the one that there is.
type Filming struct {
	Rule   rulebook.Film
	Shots  []film.Shot
	Video  *Paper // the newest; nil for none
	Doubts []string
}

// FilmingFor is nil where the directory takes no video that is sent from here.
func FilmingFor(book rulebook.Rulebook, r record.Record, papers []Paper) *Filming {
	m, ok := book.Way(rulebook.Video)
	if !ok || m.Film.MostSeconds == 0 || book.Worked.People() {
		return nil
	}
	f := &Filming{Rule: m.Film, Shots: film.Shots(r, m.Film)}
	for i := range papers {
		if papers[i].Film.There() {
			f.Video, f.Doubts = &papers[i], papers[i].Film.Doubts(m.Film)
		}
	}
	return f
}
