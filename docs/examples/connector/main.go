// Command connector is a small connector over a CSV file: a directory that keeps its listings in a spreadsheet can be connected
// to Uvent with it. It keeps the protocol of docs/connector.md as far as uvent connector check asks; verification is left to people.
//
//	connector listings.csv TOKEN 127.0.0.1:8080
package main

import (
	"crypto/rand"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log"
	"net/http"
	"os"
	"slices"
	"strings"
	"sync"
	"time"
)

var columns = []string{"ref", "withdrawn", "name", "street", "locality", "region", "postal_code", "country", "phone", "website", "category", "hours"}

type directory struct {
	mu    sync.Mutex
	file  string
	token string
	rows  []map[string]string
	given map[string][2]string // by Idempotency-Key: what was asked, and what was answered
}

func open(file, token string) (*directory, error) {
	d := &directory{file: file, token: token, given: map[string][2]string{}}
	f, err := os.Open(file)
	if os.IsNotExist(err) {
		return d, nil
	}
	if err != nil {
		return nil, err
	}
	defer f.Close()
	lines, err := csv.NewReader(f).ReadAll()
	for i, line := range lines {
		row := map[string]string{}
		for j, column := range lines[0] {
			row[column] = line[j]
		}
		if i > 0 {
			d.rows = append(d.rows, row)
		}
	}
	return d, err
}

// save writes the file anew beside the old one, and then puts it in its place.
func (d *directory) save() error {
	f, err := os.Create(d.file + ".new")
	if err != nil {
		return err
	}
	lines := [][]string{columns}
	for _, row := range d.rows {
		line := make([]string, len(columns))
		for i, column := range columns {
			line[i] = row[column]
		}
		lines = append(lines, line)
	}
	if err := errors.Join(csv.NewWriter(f).WriteAll(lines), f.Close()); err != nil {
		return err
	}
	return os.Rename(f.Name(), d.file)
}

type answer struct {
	status int
	body   any
}

func no(status int, code, detail string) answer {
	return answer{status, map[string]any{"status": status, "code": code, "detail": detail}}
}

func told(row map[string]string) map[string]any {
	facts := map[string]string{}
	for _, column := range columns[2:] {
		facts[column] = row[column]
	}
	return map[string]any{"ref": row["ref"], "page": "/listings/" + row["ref"], "holder": "you", "withdrawn": row["withdrawn"] == "yes", "facts": facts}
}

func (d *directory) find(ref string) map[string]string {
	if i := slices.IndexFunc(d.rows, func(row map[string]string) bool { return row["ref"] == ref }); i >= 0 {
		return d.rows[i]
	}
	return nil
}

// known puts what a column takes into a row, and tells which facts those were, and why not the others.
func known(row map[string]string, facts map[string]any) (taken []string, refused map[string]string) {
	taken, refused = []string{}, map[string]string{}
	for fact, value := range facts {
		if text, is := value.(string); is && slices.Contains(columns[2:], fact) {
			row[fact], taken = text, append(taken, fact)
		} else {
			refused[fact] = "This is not kept here."
		}
	}
	return taken, refused
}

func (d *directory) handle(r *http.Request, body map[string]any) answer {
	parts := strings.Split(strings.Trim(r.URL.Path, "/"), "/")
	switch what := r.Method + " " + parts[0]; {
	case what == "POST search" && len(parts) == 1:
		found := []any{}
		for _, row := range d.rows {
			if name, _ := body["name"].(string); row["phone"] != "" && row["phone"] == body["phone"] || strings.EqualFold(row["name"], name) {
				found = append(found, told(row))
			}
		}
		return answer{200, map[string]any{"listings": found}}
	case what == "POST listings" && len(parts) == 1:
		row := map[string]string{"ref": rand.Text()}
		known(row, body)
		for _, fact := range []string{"name", "street", "locality"} {
			if row[fact] == "" {
				return no(422, "missing", "Say its "+fact+".")
			}
		}
		d.rows = append(d.rows, row)
		return answer{201, told(row)}
	}
	if parts[0] != "listings" || len(parts) < 2 || d.find(parts[1]) == nil {
		return no(404, "no_listing", "There is no such listing.")
	}
	row := d.find(parts[1])
	switch what := r.Method + " " + strings.Join(parts[2:], "/"); what {
	case "GET ":
		return answer{200, told(row)}
	case "PUT ":
		taken, refused := known(row, body)
		return answer{200, map[string]any{"taken": taken, "reviewed": []string{}, "refused": refused, "verify_again": false}}
	case "POST claim":
		return answer{200, told(row)}
	case "GET offers":
		return answer{200, map[string]any{"methods": []string{}}}
	case "POST visibility":
		row["withdrawn"] = map[bool]string{true: "yes", false: "no"}[body["withdrawn"] == true]
		return answer{200, map[string]any{}}
	}
	return no(404, "not_offered", "This is not done here.")
}

// ServeHTTP answers a request; one whose key was answered before, with that answer.
func (d *directory) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	d.mu.Lock()
	defer d.mu.Unlock()
	data, err := io.ReadAll(io.LimitReader(r.Body, 1<<20))
	key, asked := r.Header.Get("Idempotency-Key"), r.Method+" "+r.URL.Path+" "+string(data)
	var body map[string]any
	var a answer
	before, answered := d.given[key]
	switch {
	case r.Header.Get("Authorization") != "Bearer "+d.token:
		a = no(401, "no_account", "This is not a token of ours.")
	case answered && before[0] != asked:
		a = no(422, "key_reused", "Another request went by this key.")
	case answered:
		fmt.Fprint(w, before[1])
		return
	case err != nil || len(data) > 0 && json.Unmarshal(data, &body) != nil:
		a = no(400, "bad_request", "The request cannot be read.")
	default:
		if a = d.handle(r, body); a.status < 300 && r.Method != http.MethodGet && d.save() != nil {
			a = no(503, "fault", "The file could not be written.")
		}
	}
	said, _ := json.Marshal(a.body)
	if key != "" && a.status < 300 {
		d.given[key] = [2]string{asked, string(said)}
	}
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(a.status)
	w.Write(said)
}

func main() {
	if len(os.Args) != 4 {
		log.Fatal("connector FILE TOKEN ADDRESS")
	}
	d, err := open(os.Args[1], os.Args[2])
	if err != nil {
		log.Fatal(err)
	}
	log.Fatal((&http.Server{Addr: os.Args[3], Handler: d, ReadHeaderTimeout: 5 * time.Second}).ListenAndServe())
}
