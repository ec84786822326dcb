package outside

import (
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// speaking is what a business can say through its listing.
type speaking struct {
	posts   int      // in a calendar month
	radius  int      // kilometres within which a post is shown, at most; 0: it is not aimed
	events  int      // days until an event ends, at most
	percent int      // that an offer takes off, at most
	buttons []string // of which one is chosen
	reviews bool
}

// saying is a post, an offer or an event.
type saying struct {
	Kind   string `json:"kind"`
	Title  string `json:"title"`
	Text   string `json:"text"`
	Button string `json:"button"`
	Link   string `json:"link"`
	Radius int    `json:"radius_kilometres"`
	Off    int    `json:"percent"`
	Until  string `json:"until"` // a date: 2026-12-24
}

// speak says something through a listing.
func speak(d *directory, r request) (reply, error) {
	l, refused, err := allowed(d, r, editor)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	var in saying
	if !r.read(&in) {
		return no(http.StatusBadRequest, "bad_request", "It cannot be read."), nil
	}
	if why := d.minds(in, r.now); why.status != 0 {
		return why, nil
	}
	left, err := d.postsLeft(r, l)
	if err != nil {
		return reply{}, err
	}
	if in.Kind == "post" {
		if left == 0 {
			return no(http.StatusConflict, "quota", fmt.Sprintf("You have posted %d times this month.", d.speaks.posts)), nil
		}
		left--
	}
	people, err := peopleWithin(r, l, in.Radius)
	if err != nil {
		return reply{}, err
	}
	id := token(8)
	_, err = r.tx.Exec(r.Context(), "insert into said (id, ref, at, body) values ($1, $2, $3, $4)", id, l.Ref, r.now, in)
	return reply{http.StatusCreated, map[string]any{"id": id, "left": left, "people": people}}, err
}

// minds is what keeps something from being said; a reply of status 0 for nothing.
func (d *directory) minds(in saying, now time.Time) reply {
	until, noDate := time.ParseInLocation(time.DateOnly, in.Until, d.place.Zone)
	days := int(math.Ceil(until.Sub(now).Hours() / 24))
	mind := func(code, format string, a ...any) reply {
		return no(http.StatusUnprocessableEntity, code, fmt.Sprintf(format, a...))
	}
	switch offered := map[string]int{"post": d.speaks.posts, "event": d.speaks.events, "offer": d.speaks.percent}; {
	case offered[in.Kind] == 0:
		return no(http.StatusConflict, "not_offered", "This cannot be said here.")
	case strings.TrimSpace(in.Title) == "":
		return mind("missing", "Give it a title.")
	case in.Button != "" && !slices.Contains(d.speaks.buttons, in.Button):
		return mind("no_button", "Our buttons are: %s.", strings.Join(d.speaks.buttons, ", "))
	case in.Radius > 0 && d.speaks.radius == 0:
		return mind("not_offered", "What is said here is not aimed.")
	case in.Radius > d.speaks.radius:
		return mind("too_far", "A post reaches %d km at most.", d.speaks.radius)
	case in.Kind == "event" && (noDate != nil || days < 0):
		return mind("missing", "Say when it ends.")
	case in.Kind == "event" && days > d.speaks.events:
		return mind("too_long", "An event ends within %d days.", d.speaks.events)
	case in.Kind == "offer" && in.Off > d.speaks.percent:
		return mind("too_much", "An offer takes off %d per cent at most.", d.speaks.percent)
	}
	return reply{}
}

// postsLeft is how many posts a listing has left this calendar month.
func (d *directory) postsLeft(r request, l listing) (int, error) {
	local := r.now.In(d.place.Zone)
	month := time.Date(local.Year(), local.Month(), 1, 0, 0, 0, 0, d.place.Zone)
	var made int
	err := r.tx.QueryRow(r.Context(), "select count(*) from said where ref = $1 and body->>'kind' = 'post' and at >= $2", l.Ref, month).Scan(&made)
	return max(0, d.speaks.posts-made), err
}

// peopleWithin counts who lives within some kilometres of a listing's pin, or of its
// town where it has none.
func peopleWithin(r request, l listing, kilometres int) (people int, err error) {
	if kilometres == 0 {
		return 0, nil
	}
	lat, lon := l.Facts.Latitude, l.Facts.Longitude
	if lat == 0 && lon == 0 {
		err := r.tx.QueryRow(r.Context(), "select latitude, longitude from people where town = $1", l.Facts.Locality).Scan(&lat, &lon)
		if err == pgx.ErrNoRows {
			return 0, nil
		}
		if err != nil {
			return 0, err
		}
	}
	// One degree is 111.2 km along a meridian; near enough for a region.
	err = r.tx.QueryRow(r.Context(), `select coalesce(sum(count), 0) from people
		where power((latitude - $1) * 111.2, 2) + power((longitude - $2) * 111.2 * cos(radians($1)), 2) <= power($3, 2)`, lat, lon, float64(kilometres)).Scan(&people)
	return people, err
}

// spoken tells what was said through a listing, and what is left.
func spoken(d *directory, r request) (reply, error) {
	l, refused, err := allowed(d, r, reader)
	if err != nil || refused.status != 0 {
		return refused, err
	}
	list, err := saidOf(r, l.Ref)
	if err != nil {
		return reply{}, err
	}
	left, err := d.postsLeft(r, l)
	return reply{http.StatusOK, map[string]any{"left": left, "posts": list}}, err
}

func saidOf(r request, ref string) ([]saying, error) {
	rows, err := r.tx.Query(r.Context(), "select body from said where ref = $1 order by at desc, id limit 20", ref)
	if err != nil {
		return nil, err
	}
	list, err := pgx.CollectRows(rows, pgx.RowTo[saying])
	if list == nil {
		list = []saying{}
	}
	return list, err
}

// opinion is what a visitor wrote.
type opinion struct {
	At    time.Time `json:"at"`
	By    string    `json:"by"`
	Stars int       `json:"stars"`
	Text  string    `json:"text"`
}

func opinions(d *directory, r request) (reply, error) {
	if !d.speaks.reviews {
		return no(http.StatusConflict, "not_offered", "Nobody reviews here."), nil
	}
	l, refused, err := find(d, r, r.PathValue("ref"))
	if err != nil || refused.status != 0 {
		return refused, err
	}
	list, err := opinionsOf(r, l.Ref)
	return reply{http.StatusOK, map[string]any{"reviews": list}}, err
}

func opinionsOf(r request, ref string) ([]opinion, error) {
	rows, err := r.tx.Query(r.Context(), "select at, who, stars, body from opinion where ref = $1 order by at desc limit 50", ref)
	if err != nil {
		return nil, err
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[opinion])
	if list == nil {
		list = []opinion{}
	}
	return list, err
}
