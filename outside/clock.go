package outside

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"time"

	"github.com/jackc/pgx/v5"
)

// now is the world's time.
func (o *Outside) now(ctx context.Context, q querier) (time.Time, error) {
	var ahead int64
	err := q.QueryRow(ctx, "select ahead from clock").Scan(&ahead)
	return time.Now().Add(time.Duration(ahead) * time.Microsecond).Truncate(time.Microsecond), err
}

// markEvery is how often it is noted that the clock still runs, and so how far
// a clock may be put on after a crash.
const markEvery = time.Second

// resumeClock lets a demo's clock go on from where it stood when the outside
// ended; it never goes back.
func resumeClock(ctx context.Context, tx pgx.Tx, now time.Time) error {
	var seen time.Time
	err := tx.QueryRow(ctx, "select seen from clock where demo").Scan(&seen)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil
	}
	if err == nil {
		_, err = tx.Exec(ctx, "update clock set ahead = $1", seen.Add(2*markEvery).Sub(now).Microseconds())
	}
	return err
}

// markClock notes that the clock runs.
func (o *Outside) markClock(ctx context.Context) error {
	now, err := o.now(ctx, o.pool)
	if err == nil {
		_, err = o.pool.Exec(ctx, "update clock set seen = $1 where seen < $2", now, now.Add(-markEvery))
	}
	return err
}

// Now is the world's time.
func (o *Outside) Now(ctx context.Context) (time.Time, error) { return o.now(ctx, o.pool) }

type querier interface {
	QueryRow(ctx context.Context, sql string, args ...any) pgx.Row
}

func (o *Outside) clockRoutes(mux *http.ServeMux) {
	mux.HandleFunc("GET /clock", func(w http.ResponseWriter, r *http.Request) {
		o.answerClock(w, r)
	})
	mux.HandleFunc("POST /clock", func(w http.ResponseWriter, r *http.Request) {
		var in struct{ To time.Time }
		if err := json.NewDecoder(r.Body).Decode(&in); err != nil {
			refuse(w, http.StatusBadRequest, "bad_request", "The body is {\"to\": a time in RFC 3339}.")
			return
		}
		if err := o.moveTo(r.Context(), in.To); err != nil {
			refuse(w, http.StatusInternalServerError, "fault", err.Error())
			return
		}
		o.answerClock(w, r)
	})
}

// answerClock tells the time and when something falls due next.
func (o *Outside) answerClock(w http.ResponseWriter, r *http.Request) {
	now, err := o.now(r.Context(), o.pool)
	var next *time.Time
	if err == nil {
		err = o.pool.QueryRow(r.Context(), "select min(at) from due").Scan(&next)
	}
	if err != nil {
		refuse(w, http.StatusInternalServerError, "fault", err.Error())
		return
	}
	write(w, http.StatusOK, map[string]any{"now": now, "next": next})
}

// moveTo sets the clock forward and does, at its own time and in order, what
// falls due on the way. The clock never goes back.
func (o *Outside) moveTo(ctx context.Context, to time.Time) error {
	_, err := o.pool.Exec(ctx, "update clock set ahead = greatest(ahead, $1), seen = greatest(seen, $2)", time.Until(to).Microseconds(), to)
	if err != nil {
		return err
	}
	return o.catchUp(ctx)
}

// catchUp does what is due by now, the earliest first.
func (o *Outside) catchUp(ctx context.Context) error {
	o.moving.Lock()
	defer o.moving.Unlock()
	for {
		now, err := o.now(ctx, o.pool)
		if err != nil {
			return err
		}
		done, err := o.doNext(ctx, now)
		if err != nil || !done {
			return err
		}
	}
}

// doNext does the earliest thing due; false when there is none.
func (o *Outside) doNext(ctx context.Context, now time.Time) (done bool, err error) {
	err = o.tx(ctx, func(tx pgx.Tx) error {
		var id, what string
		var at time.Time
		var data []byte
		err := tx.QueryRow(
			ctx,
			"delete from due where id = (select id from due where at <= $1 order by at, id limit 1 for update skip locked) returning id, at, what, data",
			now,
		).
			Scan(&id, &at, &what, &data)
		if errors.Is(err, pgx.ErrNoRows) {
			return nil
		}
		if err != nil {
			return err
		}
		done = true
		return o.happen(ctx, tx, happening{id, at, what, data})
	})
	return done, err
}

// happening is something that falls due.
type happening struct {
	id   string
	at   time.Time
	what string
	data []byte
}

// schedule puts off something until a time. The same id is put off once.
func schedule(ctx context.Context, tx pgx.Tx, id string, at time.Time, what string, data any) error {
	b, err := json.Marshal(data)
	if err != nil {
		return err
	}
	_, err = tx.Exec(ctx, "insert into due (id, at, what, data) values ($1, $2, $3, $4) on conflict do nothing", id, at, what, b)
	return err
}

// happenings are what can fall due.
var happenings = map[string]func(o *Outside, ctx context.Context, tx pgx.Tx, h happening) error{
	"arrive": func(_ *Outside, ctx context.Context, tx pgx.Tx, h happening) error {
		var a arrival
		if err := json.Unmarshal(h.data, &a); err != nil {
			return err
		}
		return a.keep(ctx, tx, h.id, h.at)
	},
	"mail": func(o *Outside, ctx context.Context, _ pgx.Tx, h happening) error {
		var a arrival
		if err := json.Unmarshal(h.data, &a); err != nil {
			return err
		}
		return o.mail.send(ctx, h.id, a)
	},
	"publish": func(_ *Outside, ctx context.Context, tx pgx.Tx, h happening) error {
		var ref string
		if err := json.Unmarshal(h.data, &ref); err != nil {
			return err
		}
		var directory string
		if err := tx.QueryRow(ctx, "update listing set public_at = coalesce(public_at, $2) where ref = $1 returning directory", ref, h.at).Scan(
			&directory,
		); err != nil {
			return err
		}
		d := directoryAt(directory)
		l, err := scan(tx.QueryRow(ctx, "select "+listingColumns+" from listing where ref = $1", ref), d, "")
		if err != nil {
			return err
		}
		return feed(ctx, tx, d, l, h.at)
	},
	"decide": func(_ *Outside, ctx context.Context, tx pgx.Tx, h happening) error {
		var c decision
		if err := json.Unmarshal(h.data, &c); err != nil {
			return err
		}
		return c.tell(ctx, tx, h.at)
	},
	"feed": func(_ *Outside, ctx context.Context, tx pgx.Tx, h happening) error {
		var f fed
		if err := json.Unmarshal(h.data, &f); err != nil {
			return err
		}
		return f.take(ctx, tx, h.at)
	},
	"request": decideRequest,
	"suspend": suspendNow,
	"letter": func(_ *Outside, ctx context.Context, tx pgx.Tx, h happening) error {
		var w written
		if err := json.Unmarshal(h.data, &w); err != nil {
			return err
		}
		r := request{Request: (&http.Request{}).WithContext(ctx), tx: tx, now: h.at}
		back, err := w.answer(r)
		if err != nil {
			return err
		}
		return schedule(ctx, tx, h.id+" answered", h.at, "mail", back)
	},
}

// happen does one thing at its time.
func (o *Outside) happen(ctx context.Context, tx pgx.Tx, h happening) error {
	if do, ok := happenings[h.what]; ok {
		return do(o, ctx, tx, h)
	}
	return errors.New("nothing is known to happen by the name of " + h.what)
}

// arrival is something that reached a letter box, a phone or an inbox.
type arrival struct {
	Kind, Place, Sender, Title, Body string

	Answers string // the Message-ID of the letter that a mail answers; empty: none
}

func (a arrival) keep(ctx context.Context, tx pgx.Tx, id string, at time.Time) error {
	_, err := tx.Exec(ctx, "insert into arrival (id, at, kind, place, sender, title, body) values ($1, $2, $3, $4, $5, $6, $7) on conflict do nothing",
		id, at, a.Kind, a.Place, a.Sender, a.Title, a.Body)
	return err
}
