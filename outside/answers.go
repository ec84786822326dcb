package outside

import (
	"bytes"
	"encoding/json"
	"hash/fnv"
	"io"
	"net/http"
	"time"

	"github.com/jackc/pgx/v5"
)

// problem is an answer that says no, as RFC 9457 has it, with a code that a
// program can read.
type problem struct {
	Status    int    `json:"status"`
	Title     string `json:"title"`
	Detail    string `json:"detail"`
	Code      string `json:"code"`
	HeldBy    string `json:"held_by,omitempty"`
	TriesLeft *int   `json:"tries_left,omitempty"`
}

func write(w http.ResponseWriter, status int, body any) {
	w.Header().Set("Content-Type", "application/json")
	if status >= 400 {
		w.Header().Set("Content-Type", "application/problem+json")
	}
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(body) // whoever asked may be gone
}

func refuse(w http.ResponseWriter, status int, code, detail string) {
	write(w, status, problem{Status: status, Title: http.StatusText(status), Detail: detail, Code: code})
}

// reply is what a request to a directory comes to.
type reply struct {
	status int
	body   any
}

func no(status int, code, detail string) reply {
	return reply{status, problem{Status: status, Title: http.StatusText(status), Detail: detail, Code: code}}
}

// request is a call to a directory's interface.
type request struct {
	*http.Request
	tx      pgx.Tx
	now     time.Time
	account string
	body    []byte
}

// read decodes the body.
func (r request) read(into any) bool { return json.Unmarshal(r.body, into) == nil }

// mostBody bounds what is read of a request, in bytes.
const mostBody = 64 << 20

// interfaceOf wraps a directory's interface: the account, the faults, and one
// transaction a request. A request with an Idempotency-Key that was answered
// before gets that answer and does nothing.
func (o *Outside) interfaceOf(d *directory, handle func(r request) (reply, error)) http.HandlerFunc {
	return func(w http.ResponseWriter, hr *http.Request) {
		faults, err := o.faults(hr)
		if err != nil {
			refuse(w, http.StatusInternalServerError, "fault", err.Error())
			return
		}
		faults = faults.of(d)
		if faults.wait(); faults.before(w) {
			return
		}
		if o.stumbles(d, hr) {
			refuse(w, http.StatusServiceUnavailable, "fault", "Something went wrong on our side.")
			return
		}
		said, err := io.ReadAll(io.LimitReader(hr.Body, mostBody))
		if err != nil {
			return // whoever asks has left
		}
		if happens(faults.RepeatPercent) && hr.Header.Get("Idempotency-Key") != "" {
			hr.Body = io.NopCloser(bytes.NewReader(said))
			if _, _, err := o.serve(hr, handle); err != nil {
				o.log.Error("a request failed", "path", hr.URL.Path, "error", err)
			}
		}
		hr.Body = io.NopCloser(bytes.NewReader(said))
		status, body, err := o.serve(hr, handle)
		if err != nil {
			o.log.Error("a request failed", "path", hr.URL.Path, "error", err)
			refuse(w, http.StatusInternalServerError, "fault", "Something went wrong on our side.")
			return
		}
		if faults.after(w, body) {
			return
		}
		w.Header().Set("Content-Type", "application/json")
		if status >= 400 {
			w.Header().Set("Content-Type", "application/problem+json")
		}
		w.WriteHeader(status)
		w.Write(body)
	}
}

// stumbles reports whether a directory's form fails at this first try of a request: for
// so many of a hundred keys, each time the same. Sent again it is taken up.
func (o *Outside) stumbles(d *directory, r *http.Request) bool {
	key := r.Header.Get("Idempotency-Key")
	if d.fails == 0 || key == "" {
		return false
	}
	h := fnv.New32a()
	h.Write([]byte(key))
	if int(h.Sum32()%100) >= d.fails {
		return false
	}
	_, again := o.stumbled.LoadOrStore(d.slug+" "+key, true)
	return !again
}

func (o *Outside) serve(hr *http.Request, handle func(r request) (reply, error)) (status int, body []byte, err error) {
	ctx := hr.Context()
	account := hr.Header.Get("Authorization")
	if len(account) <= len("Bearer ") {
		b, err := json.Marshal(no(http.StatusUnauthorized, "no_account", "Say whose account this is.").body)
		return http.StatusUnauthorized, b, err
	}
	in := request{Request: hr, account: account[len("Bearer "):]}
	if in.body, err = io.ReadAll(hr.Body); err != nil {
		return 0, nil, err
	}
	key := hr.Header.Get("Idempotency-Key")
	asked := hr.Method + " " + hr.URL.Path + " " + string(bytes.TrimSpace(in.body))
	err = o.tx(ctx, func(tx pgx.Tx) error {
		in.tx = tx
		if key != "" {
			// The lock makes a request wait for another with its key.
			if _, err := tx.Exec(ctx, "select pg_advisory_xact_lock(hashtextextended($1, 0))", key); err != nil {
				return err
			}
			var before string
			switch err := tx.QueryRow(ctx, "select asked, status, body from answer where key = $1", key).Scan(&before, &status, &body); {
			case err == nil && before != asked:
				r := no(http.StatusUnprocessableEntity, "key_reused", "This Idempotency-Key was used for another request.")
				status = r.status
				body, err = json.Marshal(r.body)
				return err
			case err == nil:
				return nil
			case err != pgx.ErrNoRows:
				return err
			}
		}
		if in.now, err = o.now(ctx, tx); err != nil {
			return err
		}
		out, err := handle(in)
		if err != nil {
			return err
		}
		status = out.status
		if body, err = json.Marshal(out.body); err != nil || key == "" {
			return err
		}
		_, err = tx.Exec(ctx, "insert into answer (key, asked, status, body) values ($1, $2, $3, $4)", key, asked, status, body)
		return err
	})
	return status, body, err
}
