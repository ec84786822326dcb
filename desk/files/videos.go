package files

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"uvent/bounded"
	"uvent/core/fact/language"
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

// ofFilm is what looking at a video may take.
var ofFilm = bounded.Limits{Time: 40 * time.Second, Memory: 2 << 30}

// The programs that look at videos, of Debian's package ffmpeg.
const (
	ffprobe = "/usr/bin/ffprobe"
	ffmpeg  = "/usr/bin/ffmpeg"
)

// readFilm measures a video.
func readFilm(ctx context.Context, data []byte) (out film.Film, err error) {
	format, err := film.Sniff(data)
	if err != nil {
		return out, err
	}
	probed, _, err := bounded.Command(ctx, ofFilm, data, ffprobe, format.Probe()...)
	if err != nil {
		return out, refusedFilm(err)
	}
	looked, _, err := bounded.Command(ctx, ofFilm, data, ffmpeg, format.Look()...)
	if err != nil {
		return out, refusedFilm(err)
	}
	return film.Read(format, probed, looked)
}

// refusedFilm says in words why a video cannot be looked at.
func refusedFilm(err error) error {
	var failed *bounded.Failed
	switch {
	case errors.Is(err, bounded.ErrBounds):
		return film.Refusal(fmt.Sprintf("The video takes more than %d seconds to be looked at. Film it shorter, or in a lower quality.", int(ofFilm.Time.Seconds())))
	case errors.As(err, &failed) && failed.Code == 127:
		return problem.Conflictf("Videos cannot be looked at here: Debian's package ffmpeg is not installed. Whoever runs Uvent can install it.")
	case errors.As(err, &failed):
		return film.Broken
	}
	return err
}

// ReadVideo reads a file as a video that proves where a location is. How long it is, how
// bright, and whether it is one take, is measured; what it shows is said by whoever filmed it.
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
	in.data, in.film = data, &film.Shown{Film: read, Seen: seen}
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

// FilmingFor is nil where the directory takes no video that is sent from here. It is told in a language.
func FilmingFor(book rulebook.Rulebook, r record.Record, papers []Paper, in language.Language) *Filming {
	m, ok := book.Way(rulebook.Video)
	if !ok || m.Film.MostSeconds == 0 || book.Worked.People() {
		return nil
	}
	f := &Filming{Rule: m.Film, Shots: film.Shots(r, m.Film, in)}
	for i := range papers {
		if papers[i].Film.There() {
			f.Video, f.Doubts = &papers[i], papers[i].Film.Doubts(m.Film, in)
		}
	}
	return f
}
