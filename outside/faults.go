package outside

import (
	"bytes"
	"context"
	"fmt"
	"math/rand/v2"
	"net/http"
	"reflect"
	"strconv"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// Faults make the directories' interfaces misbehave: each share is of a hundred requests.
type Faults struct {
	Only           string `json:"only" says:"the directory that misbehaves, as its address names it; empty: all of them"`
	SlowMS         int    `json:"slow_ms" says:"milliseconds before every answer"`
	FailPercent    int    `json:"fail_percent" says:"do nothing, and answer 503"`
	BusyPercent    int    `json:"busy_percent" says:"do nothing, and answer 429"`
	BusySeconds    int    `json:"busy_seconds" says:"for which those that answer 429 want to be left alone"`
	ExpiredPercent int    `json:"expired_percent" says:"do nothing, and answer 401: the token has expired"`
	PagePercent    int    `json:"page_percent" says:"do nothing, and answer 200 with a page of a gateway"`
	GarbagePercent int    `json:"garbage_percent" says:"are done, and answer 200 with something that is no answer"`
	CutPercent     int    `json:"cut_percent" says:"are done, and the answer breaks off"`
	LosePercent    int    `json:"lose_percent" says:"are done, and the answer is lost"`
	RepeatPercent  int    `json:"repeat_percent" says:"come twice, as lines do that repeat what they carry"`
	LostPost       int    `json:"lost_post" says:"of a hundred postcards never arrive"`
}

// set gives a fault its value, by its name.
func (f *Faults) set(name, value string) error {
	v := reflect.ValueOf(f).Elem()
	for i := range v.NumField() {
		if v.Type().Field(i).Tag.Get("json") != name {
			continue
		}
		if v.Field(i).Kind() == reflect.String {
			v.Field(i).SetString(value)
			return nil
		}
		n, err := strconv.Atoi(value)
		if most := map[bool]int{true: 100, false: 86_400_000}[strings.HasSuffix(name, "_percent") || name == "lost_post"]; err != nil || n < 0 || n > most {
			return fmt.Errorf("%s is a number from 0 to %d, not %q", name, most, value)
		}
		v.Field(i).SetInt(int64(n))
		return nil
	}
	return fmt.Errorf("there is no fault %q", name)
}

// ReadFaults reads faults as somebody orders them: fail_percent=30,busy_percent=10.
func ReadFaults(text string) (f Faults, err error) {
	for _, part := range strings.Split(text, ",") {
		name, value, _ := strings.Cut(strings.TrimSpace(part), "=")
		if err := f.set(name, value); err != nil {
			return f, err
		}
	}
	return f, nil
}

// SetFaults has the interfaces misbehave from now on.
func (o *Outside) SetFaults(ctx context.Context, f Faults) error {
	_, err := o.pool.Exec(ctx, "update setting set value = $1", f)
	return err
}

func (o *Outside) faultRoutes(mux *http.ServeMux) {
	mux.HandleFunc("PUT /faults", lever(o, func(r *http.Request, tx pgx.Tx, in Faults) (any, error) {
		_, err := tx.Exec(r.Context(), "update setting set value = $1", in)
		return in, err
	}))
	mux.HandleFunc("GET /faults", func(w http.ResponseWriter, r *http.Request) {
		f, err := o.faults(r)
		if err != nil {
			refuse(w, http.StatusInternalServerError, "fault", err.Error())
			return
		}
		o.showFaults(w, f, "")
	})
	mux.HandleFunc("POST /faults", func(w http.ResponseWriter, r *http.Request) {
		var f Faults
		err := r.ParseForm()
		for name := range r.PostForm {
			if err == nil {
				err = f.set(name, r.PostForm.Get(name))
			}
		}
		if err == nil {
			err = o.SetFaults(r.Context(), f)
		}
		if err != nil {
			o.showFaults(w, f, err.Error())
			return
		}
		http.Redirect(w, r, "/faults", http.StatusSeeOther)
	})
}

// showFaults is the page on which they are ordered.
func (o *Outside) showFaults(w http.ResponseWriter, f Faults, wrong string) {
	type field struct{ Name, Value, Says string }
	var fields []field
	v := reflect.ValueOf(f)
	for i := range v.NumField() {
		tag := v.Type().Field(i).Tag
		fields = append(fields, field{tag.Get("json"), fmt.Sprint(v.Field(i).Interface()), tag.Get("says")})
	}
	o.render(w, "faults.html", map[string]any{"Fields": fields, "Wrong": wrong})
}

func (o *Outside) faults(r *http.Request) (f Faults, err error) {
	err = o.pool.QueryRow(r.Context(), "select value from setting").Scan(&f)
	return f, err
}

func happens(percent int) bool { return rand.IntN(100) < percent }

// before answers a request to a directory that is not even done; false where it is.
func (f Faults) before(w http.ResponseWriter) bool {
	switch {
	case happens(f.FailPercent):
		refuse(w, http.StatusServiceUnavailable, "fault", "Something went wrong on our side.")
	case happens(f.BusyPercent):
		w.Header().Set("Retry-After", strconv.Itoa(f.BusySeconds))
		refuse(w, http.StatusTooManyRequests, "busy", "That was a lot at once.")
	case happens(f.ExpiredPercent):
		w.Header().Set("WWW-Authenticate", `Bearer error="invalid_token"`)
		refuse(w, http.StatusUnauthorized, "expired", "The token has expired.")
	case happens(f.PagePercent):
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		fmt.Fprint(w, "<!doctype html><title>One moment</title><p>We are looking into who you are.</p>")
	default:
		return false
	}
	return true
}

// after spoils the answer to a request that was done; false where it leaves it as it is.
func (f Faults) after(w http.ResponseWriter, body []byte) bool {
	switch {
	case happens(f.LosePercent):
		panic(http.ErrAbortHandler) // drops the connection
	case happens(f.CutPercent):
		w.Header().Set("Content-Type", "application/json")
		w.Header().Set("Content-Length", strconv.Itoa(len(body)))
		_, _ = w.Write(body[:len(body)/2])
		panic(http.ErrAbortHandler)
	case happens(f.GarbagePercent):
		w.Header().Set("Content-Type", "application/json")
		spoilt := [][]byte{[]byte("{}"), []byte("null"), []byte(`{"ref": 7}`), bytes.ReplaceAll(body, []byte(`"`), []byte(`'`))}
		_, _ = w.Write(spoilt[rand.IntN(len(spoilt))])
	default:
		return false
	}
	return true
}

// of is what of the faults a directory has.
func (f Faults) of(d *directory) Faults {
	if f.Only != "" && f.Only != d.slug {
		return Faults{}
	}
	return f
}

// wait is how long an answer takes.
func (f Faults) wait() { time.Sleep(time.Duration(f.SlowMS) * time.Millisecond) }
